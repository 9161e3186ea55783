"""Sub-assemblies: things built outside and dropped in as one, or fitted, taken out together, finished."""

from __future__ import annotations

import math
from collections.abc import Sequence

from stirrup.core.bodies.existing import Existing
from stirrup.core.contract.extent import Extent, around
from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Input, Quantity, Working, declare
from stirrup.core.fittings.coming_in import least_over_m
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.registry import as_obstacle
from stirrup.core.plan.arrangement import Sub
from stirrup.core.plan.model import Item, Plan
from stirrup.core.plan.placed import Placed
from stirrup.core.plan.things import title_of
from stirrup.core.plan.where import extent_of

declare(
    "layout",
    {"SUB-IN": "way in of what is built as one", "SUB-LIFT": "lifting what is built as one"},
    acceptable=True,
    pace="behind",
)

EACH_KG = 25.0  # that one person lifts over a rail: working value
MOST_PEOPLE = 4  # that get round it
STATIONS = 5
PLAY_M = 0.01  # to either side on its way in
WORDS = {
    "built outside": "Build it on the bench over its pattern, then drop it in.",
    "fitted, then taken out": "Fit every part of it in place dry, mark each to the next, take it out as "
    "one, finish it on the bench (paint, cover, wiring), and put it back.",
}


def members(plan: Plan, sub: Sub) -> list[str]:
    """Ids of the things of a sub-assembly."""
    return [t.id for t in plan.arrangement.things if t.group == sub.group]


def _weighs(thing: Placed) -> float:
    choices = thing.choices
    return choices.mass.value if isinstance(choices, Item) else thing.built.mass_kg


def assembled(plan: Plan, things: Sequence[Placed], surface: HullSurface) -> list[Finding]:
    """Of each sub-assembly, whether it comes in as one, and who lifts it."""
    out: list[Finding] = []
    if not plan.arrangement.subs:
        return out
    obstacles = [as_obstacle(t.choices) for t in things if isinstance(t.choices, Existing)]
    by_id = {t.id: t for t in things}
    for sub in plan.arrangement.subs:
        there = [by_id[i] for i in members(plan, sub) if i in by_id]
        if len(there) < 2:
            continue
        try:
            extent = around([extent_of(plan, surface, t.id) for t in there])
            out += [_comes_in(plan, sub, there, extent, surface, obstacles), _lift(sub, there, extent)]
        except CoreError:
            continue  # one of them has no place; it says so itself
    return out


def _comes_in(plan: Plan, sub: Sub, there: list[Placed], extent: Extent, surface: HullSurface,
              obstacles: Sequence[Obstacle]) -> Finding:  # fmt: skip
    """Past the sides over it, at stations along it."""
    (x0, x1), (y0, y1), (z0, z1) = extent.x, extent.y, extent.z
    own = {t.id for t in there}
    others = [o for o in obstacles if o.id not in own]
    least = math.inf
    for k in range(STATIONS):
        x = x0 + (x1 - x0) * (k + 0.5) / STATIONS
        least = min(least, least_over_m(surface, others, x, z1, (y0 + y1) / 2))
    wide = y1 - y0
    values = {"long": Quantity(x1 - x0, "m"), "wide": Quantity(wide, "m"), "high": Quantity(z1 - z0, "m"),
              "least": Quantity(0.0 if least == math.inf else least, "m")}  # fmt: skip
    named = ", ".join(title_of(plan, t.id) for t in there[:4]) + (" and others" if len(there) > 4 else "")
    size = f"{named}: as one {{long}} long, {{wide}} wide and {{high}} high."
    first = there[0].id
    if wide + 2 * PLAY_M <= least:
        over = " Nothing is over it." if least == math.inf else " Over it {least} are open."
        return Finding("SUB-IN", "fine", first, "It comes in as one", f"{size}{over} {WORDS[sub.way]}",
                       values, other=sub.id)  # fmt: skip
    return Finding("SUB-IN", "mend", first, "As one it does not come in", f"{size} Over it {{least}} are "
                                                                          f"open.",
                   values, "Make it of two, or fit its outer parts when it is "
                           "in.", other=sub.id)  # fmt: skip


def _lift(sub: Sub, there: list[Placed], extent: Extent) -> Finding:
    kg = sum(_weighs(t) for t in there)
    people = max(1, math.ceil(kg / EACH_KG - 1e-9))
    values = {
        "kg": Quantity(kg, "kg"),
        "people": Quantity(people, "count"),
        "each": Quantity(EACH_KG, "kg"),
    }
    work = Working(
        "people = mass / 25 kg each, over a rail",
        tuple(Input(t.title, Quantity(_weighs(t), "kg")) for t in there),
        Quantity(people, "count"), "working value",
    )  # fmt: skip
    first = there[0].id
    if people <= MOST_PEOPLE:
        return Finding("SUB-LIFT", "fine", first, "It can be lifted in", "{kg} as one: {people} to lift it "
                       "over her side, {each} each.", values, working=work, other=sub.id)  # fmt: skip
    return Finding("SUB-LIFT", "look", first, "Too heavy to be lifted in by hand",
                   "{kg} as one, {each} each would be {people} people.", values,
                   "A hoist or a loader with straps rated for it, nobody under it; or take what is heavy "
                   "out of it.",
                   work, other=sub.id)  # fmt: skip
