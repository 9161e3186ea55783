"""The room that using a thing needs: lids swing, seats turn, motors tilt, legs go somewhere."""

from __future__ import annotations

import math

from shapely import affinity, box
from shapely.geometry import Polygon

from stirrup.core.document import Point
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Prism, Shape, Swept

LID_OPEN_DEG = 105.0
ARC_STEPS = 7


@dataclass(frozen=True)
class Room:
    """Room that a thing needs: whose, its name, `what` it is for, and its shape.

    decks: whether a floor or lid in it is in the way too; lids: whether a lid is; hosts: ids of what
    the owner lies in; company: bodies that may reach into it; body: the owner's own, which is lifted
    out for its use where something lies over it.
    """

    owner: str
    what: str
    shape: Shape
    decks: bool = True
    name: str = ""
    lids: bool = True
    hosts: tuple[str, ...] = ()
    company: str = ""
    body: Prism | None = None


def sector(
    hinge: Point, along: tuple[float, float], out: tuple[float, float], half: float, reach: float,
    start_deg: float = 0.0, end_deg: float = LID_OPEN_DEG,
) -> Swept:  # fmt: skip
    """Sector about a level hinge: `along` is its direction in plan, `out` the one of angle 0. Its
    corners stand a little outside of the arc, so that the sides between them do not cut it. All in m."""
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


# direction of each side of a thing that is not turned
TOWARDS: dict[str, tuple[float, float]] = {
    "aft": (-1.0, 0.0),
    "fore": (1.0, 0.0),
    "port": (0.0, 1.0),
    "starboard": (0.0, -1.0),
}


def lid_sweep(region: Polygon, side: str, z_m: float) -> Swept:
    """What a rectangular lid hinged on one side sweeps, from closed to a little past upright.

    region: the lid in plan; z: its upper face [m].
    """
    x0, y0, x1, y1 = region.bounds
    way = TOWARDS[side]
    across = way[0] == 0.0
    reach = (y1 - y0) if across else (x1 - x0)
    half = ((x1 - x0) if across else (y1 - y0)) / 2
    middle = ((x0 + x1) / 2 + way[0] * (x1 - x0) / 2, (y0 + y1) / 2 + way[1] * (y1 - y0) / 2)
    along = (1.0, 0.0) if across else (0.0, 1.0)
    return sector((middle[0], middle[1], z_m + 0.002), along, (-way[0], -way[1]), half, reach)


def axes(turn_deg: float) -> tuple[tuple[float, float], tuple[float, float]]:
    """Ahead and to port of a thing as it is turned."""
    a = math.radians(turn_deg)
    return (math.cos(a), math.sin(a)), (-math.sin(a), math.cos(a))


def ahead(at: tuple[float, float], turn_deg: float, near: float, far: float, wide: float, low: float,
          high: float) -> Prism:  # fmt: skip
    """A box ahead of a thing's middle, from `near` to `far`, turned with it [m]."""
    x, y = at
    flat = affinity.rotate(box(x + near, y - wide / 2, x + far, y + wide / 2), turn_deg, origin=(x, y))
    return Prism(flat, low, high)
