"""Getting about and getting at things: steps onto decks, what passes a hatch, reaching in.

Limits: docs/trade-rules.md, “People”.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

from stirrup.core.afloat.ground import Footing
from stirrup.core.contract.gives import Hole
from stirrup.core.findings import Finding, Quantity, declare, plain
from stirrup.core.fit.body import REACH
from stirrup.core.plan.model import LoadCase, Person
from stirrup.core.plan.placed import Placed

declare(
    "layout",
    {"OPENING": "what passes an opening", "REACH-IN": "reaching in", "STEP": "the step up"},
    acceptable=True,
    pace="behind",
)

STEP_M = 0.30
ARM_M, ADULT_M, HAND_M = (0.38, 0.38), (0.45, 0.60), (0.10, 0.15)
BESIDE_M = 0.7  # somebody who kneels this near to a hatch works in it


def steps(things: Iterable[Placed], footing: Footing) -> list[Finding]:
    """The step up onto each floor from what is beyond its ends; a bench is sat on, no step leads to it."""
    out = []
    for thing, floor in ((t, f) for t in things if not t.built.stays for f in t.built.floors):
        if floor.region.is_empty or (thing.built.seats and not floor.broad):
            continue
        y = floor.region.centroid.y if not floor.broad else 0.0
        x0, _, x1, _ = floor.region.bounds
        beside = [(floor.top_at(x), footing.at(x + by, y)) for x, by in ((x0, -0.15), (x1, 0.15))]
        rises = [top - g.height_m for top, g in beside if g is not None and g.height_m < top]
        if not rises:
            continue
        rise = min(rises)
        fits = rise <= STEP_M
        out.append(
            Finding(
                "STEP",
                "fine" if fits else "look",
                thing.id,
                "One step up" if fits else "High step",
                "It is {rise} up from what is beside it; {most} is the most for one step.",
                {"rise": Quantity(rise, "m"), "most": Quantity(STEP_M, "m")},
                "" if fits else "Place a step or a lower deck before it.",
            )
        )
    return out


def lets_through(hole: Hole, need: tuple[float, float]) -> bool:
    """Whether a clear opening is as large as what goes through, either way round [m]."""
    sides = sorted((hole.length, hole.width))
    return sides[0] >= min(need) - 1e-9 and sides[1] >= max(need) - 1e-9


def openings(things: Iterable[Placed]) -> list[Finding]:
    """What passes each hatch: a hand, an arm with its shoulder, an adult."""
    out = []
    for hatch, hole in ((t, h) for t in things for h in t.built.holes):
        sizes = (("an adult", ADULT_M), ("an arm and shoulder", ARM_M), ("a hand", HAND_M))
        passes = [who for who, need in sizes if lets_through(hole, need)]
        values = {"a": Quantity(hole.length, "m"), "b": Quantity(hole.width, "m")}
        if passes:
            out.append(
                Finding(
                    "OPENING",
                    "fine",
                    hatch.id,
                    f"Passes {passes[0]}",
                    f"{{a}} by {{b}} clear lets {passes[0]} through.",
                    values,
                )
            )
        else:
            values |= {"c": Quantity(HAND_M[0], "m"), "d": Quantity(HAND_M[1], "m")}
            out.append(
                Finding(
                    "OPENING",
                    "look",
                    hatch.id,
                    "Not even a hand goes in",
                    "{a} by {b} clear; a hand needs {c} by {d}.",
                    values,
                    "Make it larger.",
                )
            )
    return out


def _hole_of(things: Iterable[Placed], person: Person) -> tuple[Placed, Hole] | None:
    """The opening that somebody kneels at: the nearest one within arm's length."""
    near = [
        (math.hypot(h.x - person.at[0], h.y - person.at[1]), (t, h)) for t in things for h in t.built.holes
    ]
    return min((n for n in near if n[0] <= BESIDE_M), key=lambda n: n[0], default=(0.0, None))[1]


def reaching_in(things: Sequence[Placed], footing: Footing, cases: Sequence[LoadCase]) -> list[Finding]:
    """Whether somebody who kneels at a hatch reaches the bottom under it."""
    out = []
    for case in cases:
        for person in case.crew:
            found = _hole_of(things, person) if person.posture == "kneeling" else None
            if found is None:
                continue
            hatch, hole = found
            bottom = footing.bottom_m(hole.x, hole.y)
            if bottom is None:
                continue
            deep, reach = person.at[2] - bottom, REACH * person.stature
            fits = deep <= reach
            values = {"deep": Quantity(deep, "m"), "reach": Quantity(reach, "m")}
            who = plain(person.name or case.name)
            out.append(
                Finding(
                    "REACH-IN",
                    "fine" if fits else "look",
                    hatch.id,
                    "Reaches the bottom" if fits else "Cannot reach the bottom",
                    f"{who}: kneeling at it, the bottom is {{deep}} down; the grip reaches {{reach}}.",
                    values,
                    ""
                    if fits
                    else "Put what is needed on a shelf, or make the hatch large enough to climb in.",
                )
            )
    return out
