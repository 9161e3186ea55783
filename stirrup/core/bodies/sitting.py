"""Room for whoever sits on a thing. Sizes are working values."""

from __future__ import annotations

import math

from shapely.geometry import Point as FlatPoint

from stirrup.core.bodies.item import ItemBase
from stirrup.core.bodies.pictures import Line, Picture
from stirrup.core.contract.kind import Placing
from stirrup.core.document import Point2, Size
from stirrup.core.space.room import ahead, axes, sector
from stirrup.core.space.shapes import Prism, Shape

FOOT_ROOM_M = 0.30  # ahead of a seat's cushion
FOOT_ROOM_WIDE_M = 0.40
FOOT_HIGH_M = 0.25  # room for the feet and shins over the floor
TURN_STEPS = 6  # of a quarter turn
CUSHION = 0.48  # of the height of a seat on its pedestal: from here up it turns
BEHIND_WHEEL_M = 0.53  # from a console's aft side to the middle of a seat: working value

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
SEAT = Picture((_BACK,), _SIDE, _ACROSS)


def feet_ahead(c: ItemBase, size: Size) -> Prism:
    """Where the feet go ahead of a seat, over what it stands on."""
    (along, across, up), (x, y, z) = size, c.mass.centre
    low = z - up / 2
    wide = min(across, FOOT_ROOM_WIDE_M)
    return ahead((x, y), c.turn, along / 2, along / 2 + FOOT_ROOM_M, wide, low + 0.02, low + FOOT_HIGH_M)


def turning(c: ItemBase, size: Size, cushion: float = CUSHION) -> list[tuple[str, Shape]]:
    """What a seat on a pedestal sweeps: a circle about its corners from the cushion up, the sector of its
    back, where the feet go; each with what it is for. cushion: its share of the height."""
    (along, across, up), (x, y, z) = size, c.mass.centre
    low, top = z - up / 2, z + up / 2
    # corners of the drawn circle stand outside of the one that the seat's corners sweep
    around = math.hypot(along, across) / 2 / math.cos(math.pi / (4 * TURN_STEPS))
    turned = FlatPoint(x, y).buffer(around, quad_segs=TURN_STEPS)
    rooms: list[tuple[str, Shape]] = [("turns on its pedestal", Prism(turned, low + cushion * up, top))]
    back = (1 - cushion) * up
    if back > along:
        # hinged at the cushion's aft edge it comes down over it, and farther ahead than it reaches
        ahead_, port = axes(c.turn)
        hinge = (x - ahead_[0] * along / 2, y - ahead_[1] * along / 2, low + cushion * up)
        rooms.append(("back folds down", sector(hinge, port, ahead_, across / 2, back, 0.0, 90.0)))
    return [*rooms, ("feet go ahead of it", feet_ahead(c, size))]


def behind_wheel(placing: Placing, size: Size) -> Point2 | None:
    """Where a first seat goes: behind the wheel, a second one beside it on the other side; None where there
    is none to steer at, or no room at either."""
    helms = placing.built("helm")
    if not helms or (helm := helms[0][1].helms[0]).top_m <= helm.low_m:
        return None
    x = round(helm.aft_m - BEHIND_WHEEL_M, 3)
    free = [y for y in (helm.at[1], -helm.at[1]) if placing.free((x, y), size)]
    return (x, free[0]) if free else None
