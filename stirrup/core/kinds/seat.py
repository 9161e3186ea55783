"""A seat on a pedestal: it turns, its back folds, feet go ahead of it."""

from __future__ import annotations

import math

from shapely.geometry import Point as FlatPoint

from stirrup.core.bodies.item import ItemBase
from stirrup.core.bodies.item_kind import First, ItemKind
from stirrup.core.bodies.pictures import Line, Picture
from stirrup.core.bodies.sitting import feet_ahead
from stirrup.core.contract.kind import Entry, Placing
from stirrup.core.document import Point, Size
from stirrup.core.space.room import Room, axes, sector
from stirrup.core.space.shapes import Prism

TURN_STEPS = 6  # of a quarter turn
CUSHION = 0.48  # of a seat's height: from here up it turns
BEHIND_WHEEL_M = 0.55  # from a console's aft side to the middle of a seat: working value

_BACK = Line("form-back", ((-0.98, -0.92), (-0.98, 0.92), (-0.72, 0.86), (-0.72, -0.86)))
_SIDE = (
    Line("form-line", ((0.0, 0.0), (0.0, 0.48)), False),
    Line("form-line", ((-0.5, 0.0), (0.5, 0.0)), False),
    Line("form-body", ((-0.95, 0.48), (0.95, 0.48), (0.95, 0.58), (-0.7, 0.60), (-0.8, 1.0), (-1.0, 1.0))),
)
_ACROSS = (
    Line("form-line", ((-0.45, 0.01), (0.45, 0.01)), False),
    Line("form-body", ((-0.10, 0.0), (0.10, 0.0), (0.10, 0.48), (-0.10, 0.48))),
    Line("form-body", ((-0.86, 0.60), (0.86, 0.60), (0.80, 1.0), (-0.80, 1.0))),
    Line("form-body", ((-1.0, 0.48), (1.0, 0.48), (1.0, 0.60), (-1.0, 0.60))),
)


class SeatKind(ItemKind):
    """Swept rooms: a circle about the pedestal from the cushion up, the back's sector, the feet."""

    key, title = "seat", "Seat on a pedestal"
    about = "It turns on its pedestal and needs the circle about its corners; its back folds down."
    entries = (
        Entry("helm seat", "Seat on a pedestal", 2, "goes behind the console, with room for knees and for "
              "turning", "chair pedestal"),
    )  # fmt: skip
    firsts = {"helm seat": First((0.50, 0.50, 0.78), 9.0, "seats", 0.36, -0.35)}
    steered_firsts = ("helm seat",)
    picture = Picture((_BACK,), _SIDE, _ACROSS)
    asked = ("steers",)
    pedestal = seat = lent = bolted = fastened = marked = True

    def first_place(self, entry: str, first: First, placing: Placing) -> tuple[Point, Size, float]:
        helms = placing.built("helm")
        if placing.at is None and helms and (helm := helms[0][1].helms[0]).top_m > helm.low_m:
            x = round(helm.aft_m - BEHIND_WHEEL_M, 3)
            # a second one goes beside the first, on the other side
            free = (y for y in (helm.at[1], -helm.at[1]) if placing.free((x, y), first.size))
            placing.at = (x, next(free, helm.at[1]))
        return super().first_place(entry, first, placing)

    def sized_rooms(self, c: ItemBase, size: Size) -> list[Room]:
        (along, across, up), (x, y, z) = size, c.mass.centre
        low, top = z - up / 2, z + up / 2
        # corners of the drawn circle stand outside of the one that the seat's corners sweep
        around = math.hypot(along, across) / 2 / math.cos(math.pi / (4 * TURN_STEPS))
        turning = FlatPoint(x, y).buffer(around, quad_segs=TURN_STEPS)
        rooms = [self.room(c, "turns on its pedestal", Prism(turning, low + CUSHION * up, top))]
        back = (1 - CUSHION) * up
        if back > along:
            # hinged at the cushion's aft edge it comes down over it, and farther ahead than it reaches
            ahead, port = axes(c.turn)
            hinge = (x - ahead[0] * along / 2, y - ahead[1] * along / 2, low + CUSHION * up)
            folding = sector(hinge, port, ahead, across / 2, back, 0.0, 90.0)
            rooms.append(self.room(c, "back folds down", folding))
        return [*rooms, self.room(c, "feet go ahead of it", feet_ahead(c, size))]


KIND = SeatKind()
