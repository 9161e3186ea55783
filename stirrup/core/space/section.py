"""What an upright plane across the boat cuts of a body."""

from __future__ import annotations

import numpy as np
from shapely.geometry import LineString, MultiPoint, Polygon

from stirrup.core.document import Point2
from stirrup.core.space.shapes import Prism, Shape

FAR_M = 60.0
LEAST_M2 = 1e-7


def section_at(shape: Shape, x: float) -> list[tuple[Point2, ...]]:
    """Outlines (y, z) of what the plane at x cuts of a shape [m]; none where it does not meet it.

    Of a convex body: the hull of where the lines between its corners cross the plane.
    """
    if isinstance(shape, Prism):
        cut = shape.footprint.intersection(LineString([(x, -FAR_M), (x, FAR_M)]))
        low, high = shape.over(x)
        lines = [g for g in getattr(cut, "geoms", [cut]) if isinstance(g, LineString) and g.length > 0]
        ends = [(g.bounds[1], g.bounds[3]) for g in lines]
        return [((a, low), (b, low), (b, high), (a, high)) for a, b in ends]
    points = shape.points
    aft, fore = points[points[:, 0] <= x], points[points[:, 0] >= x]
    if not len(aft) or not len(fore):
        return []
    a, b = np.repeat(aft, len(fore), axis=0), np.tile(fore, (len(aft), 1))
    run = b[:, 0] - a[:, 0]
    share = np.where(run > 0, (x - a[:, 0]) / np.where(run > 0, run, 1.0), 0.0)
    at = a[:, 1:] + share[:, None] * (b[:, 1:] - a[:, 1:])
    hull = MultiPoint(at.tolist()).convex_hull
    if not isinstance(hull, Polygon) or hull.area < LEAST_M2:
        return []
    return [tuple((float(y), float(z)) for y, z in hull.exterior.coords[:-1])]
