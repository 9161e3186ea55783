"""Things that are moved from where they were found: how far, what that shifts, what is left behind."""

from __future__ import annotations

import math
from typing import Any

from stirrup.core.bodies.existing import Existing
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Input, Quantity, Working, declare, plain
from stirrup.core.plan.model import Item, Plan
from stirrup.core.plan.things import is_gone

declare("layout", {"MOVED": "what a moved thing leaves and shifts"}, acceptable=True, pace="behind")

HOLE_MIN = {"metal": 12.0, "moulded": 20.0}  # to close one, by one person: starting values
REFIT_MIN, KG_MIN = 25.0, 1.0  # undone, carried, set and fastened anew; more for each kg
SAME_M = 0.002
WAYS = (("aft", "forward"), ("to starboard", "to port"), ("down", "up"))


def place_of(thing: Any) -> Point | None:
    """Where a thing stands now, as its `was` is given."""
    if isinstance(thing, Item):
        return thing.mass.centre
    return None if thing.box is None else thing.box.floor_centre


def former_box(thing: Item | Existing) -> tuple[tuple[float, float], ...] | None:
    """Ranges of x, y, z of the box where a moved thing stood, as it was turned about its middle; None for
    what is not moved or has no size [m]."""
    size = thing.size if isinstance(thing, Item) else (None if thing.box is None else thing.box.size)
    if thing.was is None or size is None or is_gone(thing):
        return None
    (x, y, z), a = thing.was.at, math.radians(thing.was.turn)
    long = abs(size[0] * math.cos(a)) + abs(size[1] * math.sin(a))
    wide = abs(size[0] * math.sin(a)) + abs(size[1] * math.cos(a))
    low = z - size[2] / 2 if isinstance(thing, Item) else z
    return ((x - long / 2, x + long / 2), (y - wide / 2, y + wide / 2), (low, low + size[2]))


def weighs_kg(thing: Any) -> float:
    """What it weighs; 0 where nobody said."""
    return float(thing.mass.value if isinstance(thing, Item) else thing.weighs)


def hours_moved(thing: Any, metal: bool) -> float:
    """To undo it, close its holes and set it anew [h]: starting values."""
    holes = thing.was.holes * HOLE_MIN["metal" if metal else "moulded"]
    return (REFIT_MIN + KG_MIN * weighs_kg(thing) + float(holes)) / 60


def relocated(plan: Plan, metal: bool) -> list[Finding]:
    """Of each thing that was found elsewhere."""
    out = []
    every: tuple[Item | Existing, ...] = (*plan.items, *plan.existing)
    for thing in every:
        now = place_of(thing)
        if thing.was is not None and now is not None and not is_gone(thing):
            out.append(_moved(thing, thing.was.at, now, metal))
    return out


def _moved(thing: Any, was: Point, now: Point, metal: bool) -> Finding:
    by = [b - a for a, b in zip(was, now, strict=True)]
    kg, hours = weighs_kg(thing), hours_moved(thing, metal)
    values = {"hours": Quantity(hours, "h"), "holes": Quantity(thing.was.holes, "count"),
              "moment": Quantity(abs(kg * by[0]), "kg m")}  # fmt: skip
    if math.hypot(*by) <= SAME_M:
        return Finding("MOVED", "fine", thing.id, "It still stands where it was found",
                       "Move it to its new place; where it was is kept.", {})  # fmt: skip
    steps = []
    for k, d in enumerate(by):
        if abs(d) > SAME_M:
            values[f"by{k}"] = Quantity(abs(d), "m")
            steps.append(f"{{by{k}}} {WAYS[k][d > 0]}")
    close = "" if not thing.was.holes else (
        " {holes} old holes are " + ("welded shut, or plated over and sealed" if metal else
                                     "tapered on both sides and filled with laminate") + "."
    )  # fmt: skip
    work = Working(
        "hours = (25 min + 1 min x kg + holes x minutes for one) / 60",
        (Input("it weighs", Quantity(kg, "kg")), Input("old holes", Quantity(thing.was.holes, "count")),
         Input("minutes for one hole", Quantity(HOLE_MIN["metal" if metal else "moulded"], ""),
               "starting value")),
        Quantity(hours, "h"), "starting values",
    )  # fmt: skip
    shift = " {moment} of moment along her go with it." if kg and abs(by[0]) > SAME_M else ""
    return Finding("MOVED", "look", thing.id, f"{plain(thing.title)} moves",
                   f"{', '.join(steps)} from where it was found: about {{hours}} of "
                   f"work.{shift}{close}", values,
                   "Look that its wires, hoses and cables reach, and bed its new "
                   "fasteners.", work)  # fmt: skip
