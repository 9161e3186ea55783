"""What can be placed, in working order, each with why it comes where it does and a first size.

Sizes and masses are starting values; the thing itself, measured and weighed, decides.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from shapely.geometry import Polygon

from stirrup.core.afloat.ground import Footing
from stirrup.core.arrange.where import footprint
from stirrup.core.document import MassPoint, Point, Size
from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.parts.catalogue import MATERIALS
from stirrup.core.plan import suggest
from stirrup.core.plan.changes import AddThing
from stirrup.core.plan.model import Form, Item, Plan, Tank

STEP_M = 0.05  # a first place is looked for forward in these steps
TRIES = 40
EVEN_M = 0.12  # the bottom rises this much across a thing that stands on it
STAGES = (
    "What came with her",
    "Decks and hatches",
    "Where people sit and steer",
    "Power and liquids",
    "Gear",
)


@dataclass(frozen=True)
class Placeable:
    """An entry of the palette; `missing` says what has to be there first, or nothing."""

    key: str
    title: str
    stage: str
    reason: str
    words: str = ""  # what it is also called, for finding it
    missing: str = ""


@dataclass(frozen=True)
class _First:
    """First size of an item: form, group, size [m], mass [kg], share of the length, side, low."""

    form: Form
    group: str
    size: Size
    mass_kg: float
    share: float
    y: float = 0.0
    low: bool = False  # stands on the bottom, under a deck if there is one


_ITEMS: dict[str, _First] = {
    "console": _First("console", "console", (0.45, 0.60, 0.90), 24.0, 0.50, -0.35),
    "windscreen": _First("screen", "console", (0.18, 0.56, 0.32), 3.0, 0.50),
    "helm seat": _First("seat", "seats", (0.50, 0.50, 0.78), 9.0, 0.36, -0.35),
    "bench": _First("bench", "seats", (0.45, 1.00, 0.42), 18.0, 0.30),
    "bow motor": _First("bow motor", "motor", (1.10, 0.20, 0.18), 18.0, 0.84, 0.12),
    "battery": _First("battery", "battery", (0.33, 0.18, 0.24), 24.0, 0.08, 0.35, True),
    "cooler": _First("cooler", "gear", (0.38, 0.62, 0.40), 12.0, 0.42),
    "dry box": _First("locker", "gear", (0.45, 0.35, 0.30), 8.0, 0.66, 0.0, True),
    "rod box": _First("locker", "gear", (2.10, 0.28, 0.20), 14.0, 0.30, 0.55),
    "anchor": _First("box", "gear", (0.50, 0.35, 0.20), 9.0, 0.84, 0.0, True),
    "item": _First("box", "gear", (0.40, 0.30, 0.30), 10.0, 0.50),
}
_TANKS: dict[str, tuple[str, Size, float, str]] = {
    "fuel tank": ("fuel", (0.60, 0.50, 0.16), 0.22, "petrol"),
    "livewell": ("livewell", (0.40, 0.60, 0.32), 0.10, "water"),
}

_PALETTE = (
    Placeable(
        "motor",
        "Outboard on the transom",
        STAGES[0],
        "the heaviest thing aft: the rest is balanced against it",
        "engine motor",
    ),
    Placeable(
        "raised_deck",
        "Raised deck",
        STAGES[1],
        "takes its outline from the hull; what stands on it comes after",
        "casting platform bow stern floor sole cockpit",
    ),
    Placeable(
        "hatch",
        "Drop-in hatch",
        STAGES[1],
        "decides where cross members and tracks go, so place it before cutting the deck",
        "lid door opening",
    ),
    Placeable(
        "console",
        "Console",
        STAGES[2],
        "sets the walkway beside it and where the cables run",
        "helm wheel steering dash",
    ),
    Placeable(
        "windscreen",
        "Windscreen",
        STAGES[2],
        "stands on the console: look clearly over it or clearly through it",
        "screen glass shield",
    ),
    Placeable(
        "helm seat",
        "Seat on a pedestal",
        STAGES[2],
        "goes behind the console, with room for knees and for turning",
        "chair pedestal",
    ),
    Placeable("bench", "Bench seat", STAGES[2], "seats two; feet need room ahead of it", "thwart box"),
    Placeable(
        "bow motor",
        "Bow motor",
        STAGES[3],
        "its shaft lies along the deck and swings over the bow, with its weight right forward",
        "trolling electric foot pedal",
    ),
    Placeable(
        "battery",
        "Battery",
        STAGES[3],
        "heavy and low, and it must come out again through a hatch",
        "power box",
    ),
    Placeable(
        "fuel tank",
        "Fuel tank",
        STAGES[3],
        "near the middle of her length, so that burning it off does not change the trim",
        "petrol",
    ),
    Placeable(
        "livewell",
        "Livewell",
        STAGES[3],
        "full it outweighs a person: try it in the load cases",
        "water bait fish",
    ),
    Placeable("cooler", "Cooler", STAGES[4], "its lid needs room to swing", "ice box"),
    Placeable(
        "dry box",
        "Dry box or tackle",
        STAGES[4],
        "under the bow deck it also trims her down forward",
        "locker storage",
    ),
    Placeable(
        "rod box",
        "Rod box",
        STAGES[4],
        "long: look early where it can lie straight",
        "locker rods skis ladder",
    ),
    Placeable("anchor", "Anchor and line", STAGES[4], "right forward and low", "rode rope chain"),
    Placeable(
        "item", "Anything else", STAGES[4], "name it, size it, weigh it", "free thing box toolbox dog"
    ),
)


def palette(plan: Plan) -> tuple[Placeable, ...]:
    """The entries in working order, with what is missing for those that cannot be placed yet."""
    missing = {}
    if not any(f.kind == "raised_deck" for f in plan.fittings):
        missing["hatch"] = "needs a deck to sit in: place a raised deck first"
    if _console(plan, None) is None:
        missing["windscreen"] = NO_CONSOLE
    return tuple(replace(entry, missing=missing.get(entry.key, "")) for entry in _PALETTE)


def _standing_m(footing: Footing, ring: Sequence[tuple[float, float]], low: bool) -> float | None:
    """Height at which a footprint stands clear of what is under it [m]; None outside the boat."""
    middle = (sum(p[0] for p in ring) / len(ring), sum(p[1] for p in ring) / len(ring))
    heights = []
    for x, y in (middle, *ring):
        if low:
            heights.append(footing.bottom_m(x, y))
        else:
            ground = footing.at(x, y)
            heights.append(ground.height_m if ground else None)
    known = [h for h in heights if h is not None]
    return max(known) if known and heights[0] is not None else None


def _ring(x: float, y: float, size: Size) -> tuple[tuple[float, float], ...]:
    a, b = size[0] / 2, size[1] / 2
    return ((x - a, y - b), (x + a, y - b), (x + a, y + b), (x - a, y + b))


def _even(footing: Footing, ring: Sequence[tuple[float, float]]) -> bool:
    """Whether a footprint stands on one level, not half on a deck and half beside it."""
    heights = [g.height_m if (g := footing.at(x, y)) else None for x, y in ring]
    known = [h for h in heights if h is not None]
    return len(known) == len(heights) and max(known) - min(known) < EVEN_M


def _free(plan: Plan, footing: Footing, x: float, y: float, size: Size, low: bool) -> float:
    """The first x at or ahead of `x` where nothing else stands [m]; x itself when there is none.

    low: it lies on the bottom, which need not be even.
    """
    there = [Polygon(f) for i in plan.items if i.stage != "removed" and (f := footprint(i))]
    there += [Polygon(_ring(t.floor_centre[0], t.floor_centre[1], t.size)) for t in plan.tanks]
    for k in range(TRIES):
        ring = _ring(x + k * STEP_M, y, size)
        here = Polygon(ring)
        if (low or _even(footing, ring)) and not any(here.intersects(other) for other in there):
            return x + k * STEP_M
    return x


def _rail_m(surface: HullSurface, x: float) -> float | None:
    """Height of the sheer at x [m], also a little ahead of the stem; None behind the transom."""
    sheer = surface.lines[0][-1]
    if not sheer[0][0] <= x <= sheer[-1][0] + 0.5:
        return None
    return float(np.interp(x, sheer[:, 0], sheer[:, 2]))


def _place(
    plan: Plan, surface: HullSurface, footing: Footing, size: Size, first: tuple[float, float, bool],
    at: tuple[float, float] | None, over_rail: bool = False,
) -> Point:  # fmt: skip
    """Middle of the floor of something new: where it was put, or a first free place."""
    low, high = float(surface.outside.low[0]), float(surface.outside.high[0])
    share, side, deep = first
    if at is None:
        x, y = _free(plan, footing, low + share * (high - low), side, size, deep), side
    else:
        x, y = at
    z = _standing_m(footing, _ring(x, y, size), deep)
    if over_rail and any(footing.at(a, b) is None for a, b in _ring(x, y, size)):
        z = _rail_m(surface, x)
    if z is None and at is not None:
        raise CoreError("there is nothing to stand on there: pick a place inside the boat", "at")
    return (round(x, 3), round(y, 3), round(z if z is not None else 0.1, 3))


NO_CONSOLE = "needs a console to stand on: place one first"


def _console(plan: Plan, at: tuple[float, float] | None) -> Item | None:
    """The console nearest to a place, or the first one; None without a sized one."""
    there = [i for i in plan.items if i.form == "console" and i.stage != "removed" and i.size is not None]
    if at is None:
        return there[0] if there else None
    return min(there, key=lambda i: math.dist(at, (i.mass.centre[0], i.mass.centre[1])), default=None)


def _behind_console(plan: Plan) -> tuple[float, float] | None:
    console = _console(plan, None)
    if console is None or console.size is None:
        return None
    x, y, _ = console.mass.centre
    return (round(x - console.size[0] / 2 - 0.55, 3), y)


def _on_console(plan: Plan, size: Size, at: tuple[float, float] | None) -> tuple[Point, Size, float]:
    """Middle of a screen's foot at the fore edge of a console's top, its size as wide, its turn [deg]."""
    console = _console(plan, at)
    if console is None or console.size is None:
        raise CoreError(NO_CONSOLE, "kind")
    (x, y, z), (along, across, up) = console.mass.centre, console.size
    size = (size[0], round(max(0.1, across - 0.04), 3), size[2])
    ahead, turn = along / 2 - size[0] / 2, math.radians(console.turn)
    foot = (
        round(x + ahead * math.cos(turn), 3),
        round(y + ahead * math.sin(turn), 3),
        round(z + up / 2, 3),
    )
    return foot, size, console.turn


def place(
    plan: Plan,
    surface: HullSurface,
    footing: Footing,
    key: str,
    deck: str = "",
    at: tuple[float, float] | None = None,
) -> AddThing:
    """A palette's entry as a change: at `at` (x, y) [m], or at a first sensible place.

    deck: the deck for a hatch. Raises CoreError for an unknown entry, for a hatch without a
    deck, and for a place outside the boat.
    """
    if key == "raised_deck":
        return suggest.new_deck(plan, surface, None if at is None else at[0])
    if key == "hatch":
        return suggest.new_hatch(plan, deck, surface, at)
    if key == "motor":
        return suggest.new_motor(plan, surface)
    if key in _TANKS:
        return _new_tank(plan, surface, footing, key, at)
    if key not in _ITEMS:
        raise CoreError(f"read “{key}”; accepted: {', '.join(p.key for p in _PALETTE)}", "kind")
    first = _ITEMS[key]
    if key == "helm seat" and at is None:
        at = _behind_console(plan)
    size, turn = first.size, 0.0
    if key == "windscreen":
        (x, y, z), size, turn = _on_console(plan, size, at)
    else:
        usual = (first.share, first.y, first.low)
        # a bow motor lies over the rail where there is no deck under it
        x, y, z = _place(plan, surface, footing, size, usual, at, first.form == "bow motor")
    taken = {i.name for i in plan.items}
    title = "item" if key == "item" else key
    number = next(k for k in range(1, len(taken) + 2) if (title if k == 1 else f"{title} {k}") not in taken)
    mass = MassPoint(value=first.mass_kg, centre=(x, y, round(z + size[2] / 2, 3)), status="guessed")
    item = Item(
        id=suggest.free_id(plan, key.replace(" ", "-")),
        name=title if number == 1 else f"{title} {number}",
        mass=mass,
        group=first.group,
        stage="added",
        form=first.form,
        size=size,
        turn=turn,
    )
    return AddThing(path=("items",), value=item.model_dump(mode="json"))


TANK_WALL_M, TANK_DENSITY = 0.005, MATERIALS["hdpe"].density  # moulded; starting value


def empty_tank_kg(size: Size) -> float:
    """What a moulded box tank weighs empty: area of its six walls x thickness x density [kg]."""
    a, b, c = size
    return round(2 * (a * b + b * c + a * c) * TANK_WALL_M * TANK_DENSITY, 1)


def _new_tank(
    plan: Plan, surface: HullSurface, footing: Footing, key: str, at: tuple[float, float] | None
) -> AddThing:
    stem, size, share, liquid = _TANKS[key]
    x, y, z = _place(plan, surface, footing, size, (share, 0.0, True), at)
    id_ = suggest.free_id(plan, stem)
    data: dict[str, Any] = {"id": id_, "name": f"{key} {id_.rsplit('-', 1)[1]}" if plan.tanks else key,
                            "size": size, "floor_centre": (x, y, z), "liquid": liquid, "owned": False,
                            "empty_mass": empty_tank_kg(size)}  # fmt: skip
    return AddThing(path=("tanks",), value=Tank.model_validate(data).model_dump(mode="json"))
