"""Upright sheets that are cut to the inside of the bottom: notched over what stands there, with limbers."""

from __future__ import annotations

from collections.abc import Iterable

from shapely import box
from shapely.geometry import Polygon

from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.fittings.edges import largest
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.hull.slices import buttock, region, section

FAR_M = 20.0
BED_M = 0.003  # between a sheet and the bottom, for its bed of adhesive: working value
ROUND_M = 0.003  # between a sheet and structure that it is cut out round
LOW_M = 0.005  # how much higher than its lowest point still counts as the bottom of a sheet


def across(surface: HullSurface, x: float, half: float) -> Polygon:
    """What a sheet across the boat may fill, in (y, z): inside the hull at both of its faces, `half` off
    x [m], less its bed."""

    def at(here: float) -> Polygon:
        return largest(region(section(surface.inside, here), 0).buffer(-BED_M, join_style="mitre"))

    def find() -> Polygon:
        return largest(at(x - half).intersection(at(x + half)))

    return surface.levels.get(("bearer", x, half), find)


def along(surface: HullSurface, y: float, half: float) -> Polygon:
    """The same for a sheet along the boat at y, in (x, z)."""

    def at(here: float) -> Polygon:
        return largest(region(buttock(surface.inside, here), 1).buffer(-BED_M, join_style="mitre"))

    def find() -> Polygon:
        return largest(at(y - half).intersection(at(y + half)))

    return surface.levels.get(("sheet along", y, half), find)


def _stands_at(thing: Obstacle, x: float, half: float) -> bool:
    x0, _, x1, _ = thing.footprint.bounds
    return bool(x0 < x + half and x1 > x - half)


def notched(shape: Polygon, things: Iterable[Obstacle], x: float, half: float, under: float) -> Polygon:
    """A sheet across the boat at x, in (y, z), less the stringers and ribs that stand there under a
    height: it is notched over them."""
    left = shape
    for thing in things:
        low, high = thing.over(x)
        if low < under and thing.kind != "lip" and _stands_at(thing, x, half):
            _, y0, _, y1 = thing.beside(x - half, x + half)
            high = min(high, under) + ROUND_M
            left = left.difference(box(y0 - ROUND_M, -FAR_M, y1 + ROUND_M, high))
    return largest(left)


def limbered(shape: Polygon, wide: float) -> Polygon:
    """With a limber hole at the middle of its lowest stretch, half as high as it is wide [m]; without one
    where it would fall in two."""
    if wide <= 0 or shape.is_empty:
        return shape
    low = shape.bounds[1]
    bottom = shape.intersection(box(-FAR_M, low - 1, FAR_M, low + LOW_M)).bounds
    middle = (bottom[0] + bottom[2]) / 2
    hole = box(middle - wide / 2, low - 1, middle + wide / 2, low + wide / 2)
    left = shape.difference(hole)
    pieces = [g for g in getattr(left, "geoms", [left]) if isinstance(g, Polygon)]
    return left if len(pieces) == 1 else shape
