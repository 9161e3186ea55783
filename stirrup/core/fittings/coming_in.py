"""What is open over a place, for what comes down into it: inside the hull, past lips and thwarts."""

from __future__ import annotations

import math
from collections.abc import Iterable

from shapely import box
from shapely.geometry import LineString, Polygon
from shapely.geometry import Point as FlatPoint
from shapely.geometry.base import BaseGeometry

from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.fittings.edges import largest
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.hull.slices import region, section

SLACK_M, SPAN_M = 0.001, 20.0
LEVEL_M = 0.02  # from one height to the next that is looked at
UNDER_M = 0.08  # what begins so far under a top is over it still


def inside_at(surface: HullSurface, x: float) -> Polygon:
    """What is inside of the hull at x, (y, z)."""
    return largest(region(section(surface.inside, x), 0))


def opening_at(surface: HullSurface, obstacles: Iterable[Obstacle], x: float, top: float) -> Polygon:
    """What is open at x over something with its top at a height, (y, z); decks are not looked at."""
    room: BaseGeometry = inside_at(surface, x)
    for thing in obstacles:
        x0, _, x1, _ = thing.footprint.bounds
        low, high = thing.over(x)
        if x0 <= x <= x1 and low >= top - UNDER_M and thing.kind != "deck":
            _, y0, _, y1 = thing.beside(x - SLACK_M, x + SLACK_M)
            room = room.difference(box(y0, low, y1, high))
    return largest(room)


def least_over_m(surface: HullSurface, obstacles: Iterable[Obstacle], x: float, top: float,
                 y: float = 0.0) -> float:  # fmt: skip
    """Least breadth of what is open over something at x, about a place across [m]: see `least_open_m`."""
    # a section of the mesh may end a little under the sheer line
    rim = min(surface.sheer_at(x, 1.0)[2], float(inside_at(surface, x).bounds[3]))
    return least_open_m(opening_at(surface, obstacles, x, top), top, rim, y)


def least_open_m(room: Polygon, top: float, sheer: float, y: float = 0.0) -> float:
    """Least breadth of an opening about a place across, from a top up to the sheer [m]; inf where nothing
    is over it, 0 where something lies right over that place."""
    least, count = math.inf, math.ceil(max(sheer - top, 0.0) / LEVEL_M)
    for k in range(count):
        z = top + (sheer - top - 2e-4) * k / max(count - 1, 1) + 1e-4
        cut = room.intersection(LineString([(-SPAN_M, z), (SPAN_M, z)]))
        parts = getattr(cut, "geoms", [cut])
        wide = [g.length for g in parts if not g.is_empty and g.distance(FlatPoint(y, z)) < SLACK_M]
        least = min(least, *wide, math.inf) if wide else 0.0
    return least
