"""The room that using a thing needs: lids swing, seats turn, motors tilt, legs go somewhere.

Sizes are working values, from the handbook of the trade, chapter 3, where it gives them.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache, partial

from shapely import affinity
from shapely.geometry import Point as FlatPoint
from shapely.geometry import Polygon, box

from stirrup.core.arrange.where import footprint
from stirrup.core.document import Point, Point2
from stirrup.core.fit.shapes import Prism, Shape, Swept
from stirrup.core.fittings.contract import Built
from stirrup.core.fittings.hatch import Hatch
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.memo import Pairs
from stirrup.core.plan.model import Item, Plan, Tank

KEPT = Pairs()
LID_OPEN_DEG = 105.0
ARC_STEPS = 7
TURN_STEPS = 6  # of a quarter turn
FOOT_ROOM_M = 0.30  # ahead of a seat's cushion
FOOT_ROOM_WIDE_M = 0.40
FOOT_HIGH_M = 0.25  # room for the feet and shins over the floor
CUSHION = 0.48  # of a seat's height: from here up it turns
WRENCH_M = 0.15  # inside the transom for the motor's bolts
TILT_M = 0.45  # from the tilt pivot to the top of the cowl
TILLER_M = 0.95
TILLER_DEG = 40.0
FILLER_M = 0.06  # over a tank for the hand at filler and gauge


@dataclass(frozen=True)
class Room:
    """Room that a thing needs: whose, `what` it is for, and its shape.

    decks: whether a deck in it is in the way too.
    """

    owner: str
    what: str
    shape: Shape
    decks: bool = True


def _sector(hinge: Point, along: tuple[float, float], out: tuple[float, float], half: float, reach: float,
            start_deg: float, end_deg: float) -> Swept:  # fmt: skip
    """Sector about a level hinge: `along` is its direction in plan, `out` the one of angle 0. Its
    corners stand a little outside of the arc, so that the sides between them do not cut it."""
    step = (end_deg - start_deg) / ARC_STEPS
    outside = reach / math.cos(math.radians(step / 2))
    arc = [(start_deg, reach), *((start_deg + (k + 0.5) * step, outside) for k in range(ARC_STEPS)),
           (end_deg, reach)]  # fmt: skip
    corners: list[Point] = []
    for side in (-half, half):
        x, y, z = hinge[0] + along[0] * side, hinge[1] + along[1] * side, hinge[2]
        corners.append((x, y, z))
        for degrees, radius in arc:
            angle = math.radians(degrees)
            far, up = radius * math.cos(angle), radius * math.sin(angle)
            corners.append((x + out[0] * far, y + out[1] * far, z + up))
    return Swept(tuple(corners))


_HINGE: dict[str, tuple[float, float]] = {
    "aft": (-1.0, 0.0),
    "fore": (1.0, 0.0),
    "port": (0.0, 1.0),
    "starboard": (0.0, -1.0),
}


def hatch_room(hatch: Hatch, built: Built) -> Room | None:
    """What the lid of a hatch sweeps, from closed to a little past upright; None if not built."""
    if built.region.is_empty:
        return None
    return built.kept.get(("room", hatch.hinge), lambda: _lid_room(hatch, built))


def _lid_room(hatch: Hatch, built: Built) -> Room:
    x0, y0, x1, y1 = built.region.bounds
    side = _HINGE[hatch.hinge]
    across = side[0] == 0.0
    reach = (y1 - y0) if across else (x1 - x0)
    half = ((x1 - x0) if across else (y1 - y0)) / 2
    middle = ((x0 + x1) / 2 + side[0] * (x1 - x0) / 2, (y0 + y1) / 2 + side[1] * (y1 - y0) / 2)
    hinge = (middle[0], middle[1], built.top_m + 0.002)
    along = (1.0, 0.0) if across else (0.0, 1.0)
    shape = _sector(hinge, along, (-side[0], -side[1]), half, reach, 0.0, LID_OPEN_DEG)
    return Room(hatch.id, "lid swings", shape)


def _axes(item: Item) -> tuple[tuple[float, float], tuple[float, float]]:
    """Ahead and to port of a thing as it is turned."""
    a = math.radians(item.turn)
    return (math.cos(a), math.sin(a)), (-math.sin(a), math.cos(a))


def _ahead(item: Item, near: float, far: float, wide: float, low: float, high: float) -> Prism:
    """A box ahead of a thing's middle, from `near` to `far`, turned with it [m]."""
    x, y, _ = item.mass.centre
    flat = affinity.rotate(box(x + near, y - wide / 2, x + far, y + wide / 2), item.turn, origin=(x, y))
    return Prism(flat, low, high)


def item_rooms(item: Item, plan: Plan, surface: HullSurface) -> list[Room]:
    """The rooms of one item; none without a size, but for outboards."""
    if item.form == "outboard":
        inner = float(surface.inside.low[0])
        return list(_motor_rooms(item, plan.propulsion.remote_steering, inner))
    if item.size is None or item.form not in ("seat", "bench", "cooler", "locker"):
        return []
    return list(KEPT.get(item, None, partial(_sized_rooms, item)))


def _sized_rooms(item: Item) -> tuple[Room, ...]:
    assert item.size is not None
    (along, across, up), (x, y, z) = item.size, item.mass.centre
    low, top = z - up / 2, z + up / 2
    rooms: list[Room] = []
    if item.form == "seat":
        around = math.hypot(along, across) / 2 / math.cos(math.pi / (4 * TURN_STEPS))
        turning = FlatPoint(x, y).buffer(around, quad_segs=TURN_STEPS)
        rooms.append(Room(item.id, "turns on its pedestal", Prism(turning, low + CUSHION * up, top)))
        back = (1 - CUSHION) * up
        if back > along:
            # hinged at the cushion's aft edge it comes down over it, and farther ahead than it reaches
            ahead, port = _axes(item)
            hinge = (x - ahead[0] * along / 2, y - ahead[1] * along / 2, low + CUSHION * up)
            folding = _sector(hinge, port, ahead, across / 2, back, 0.0, 90.0)
            rooms.append(Room(item.id, "back folds down", folding))
    if item.form in ("seat", "bench"):
        feet = _ahead(item, along / 2, along / 2 + FOOT_ROOM_M, min(across, FOOT_ROOM_WIDE_M), low + 0.02,
                      low + FOOT_HIGH_M)  # fmt: skip
        rooms.append(Room(item.id, "feet go ahead of it", feet))
    if item.form in ("cooler", "locker"):
        ahead, port = _axes(item)
        hinge = (x + ahead[0] * along / 2, y + ahead[1] * along / 2, top + 0.002)
        lid = _sector(hinge, port, (-ahead[0], -ahead[1]), across / 2, along, 0.0, LID_OPEN_DEG)
        rooms.append(Room(item.id, "lid swings", lid))
    return tuple(rooms)


@lru_cache(maxsize=50)
def _motor_rooms(item: Item, steered: bool, inner: float) -> tuple[Room, ...]:
    x, y, z = item.mass.centre
    pivot = (x + 0.12, y, z - 0.05)
    tilt = _sector(pivot, (0.0, 1.0), (1.0, 0.0), 0.19, TILT_M, 15.0, 90.0)
    rooms = [Room(item.id, "tilts up", tilt)]
    bolts = box(inner, y - 0.2, inner + WRENCH_M, y + 0.2)
    rooms.append(Room(item.id, "a wrench reaches its bolts", Prism(bolts, z - 0.30, z - 0.05), decks=False))
    if not steered:
        ends = [math.radians(TILLER_DEG * (k / 4 - 1)) for k in range(9)]
        arc = [(x + 0.1 + TILLER_M * math.cos(a), y + TILLER_M * math.sin(a)) for a in ends]
        rooms.append(
            Room(item.id, "tiller swings", Prism(Polygon([(x + 0.1, y), *arc]), z + 0.02, z + 0.25))
        )
    return tuple(rooms)


@lru_cache(maxsize=200)
def tank_rooms(tank: Tank) -> tuple[Room, ...]:
    """A hand's room over a fuel tank, for filler and gauge."""
    if tank.liquid not in ("petrol", "diesel"):
        return ()
    (along, across, up), (x, y, z) = tank.size, tank.floor_centre
    flat = box(x - along / 2, y - across / 2, x + along / 2, y + across / 2)
    over = Prism(flat, z + up + 0.002, z + up + FILLER_M)
    return (Room(tank.id, "a hand reaches filler and gauge", over),)


def item_prism(item: Item) -> Prism | None:
    """The solid of an item; None without a size."""
    if item.size is None:
        return None
    return _upright(footprint(item), item.mass.centre[2], item.size[2] / 2)


@lru_cache(maxsize=200)
def tank_prism(tank: Tank) -> Prism:
    """The solid of a tank."""
    (along, across, up), (x, y, z) = tank.size, tank.floor_centre
    a, b = along / 2, across / 2
    return Prism(box(x - a, y - b, x + a, y + b), z, z + up)


@lru_cache(maxsize=1000)
def _upright(ring: tuple[Point2, ...], middle: float, half: float) -> Prism:
    return Prism(Polygon(ring), middle - half, middle + half)
