"""The edge that a level panel has along the hull: breadth, path, curvature, flare."""

from __future__ import annotations

import math
from bisect import bisect_left

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from stirrup.core.hull.mesh import HullSurface
from stirrup.core.hull.slices import region, waterplane
from stirrup.core.loops import compiled
from stirrup.core.record import dataclass

Array = NDArray[np.float64]


EMPTY = Polygon()
SCRIBE_M = 0.0001  # points that change an outline by less are left out


def inside_region(surface: HullSurface, z_m: float) -> Polygon:
    """Area inside the skin at height z: the largest piece, empty outside the hull."""

    def find() -> Polygon:
        shape = largest(region(waterplane(surface.inside, z_m, fair=True), 2))
        return largest(shape.simplify(SCRIBE_M))

    return surface.levels.get(z_m, find)


def largest(shape: BaseGeometry) -> Polygon:
    """Largest polygon of a shapely result; empty polygon when there is none."""
    pieces = [g for g in getattr(shape, "geoms", [shape]) if isinstance(g, Polygon)]
    if len(pieces) == 1:
        return pieces[0]
    return max(pieces, key=lambda g: g.area, default=EMPTY)


def _by_arrays(points: Array, marks: Array) -> tuple[Array, Array]:
    a, b = points[:-1], points[1:]
    x = marks[:, None]
    run = b[:, 0] - a[:, 0]
    within = (np.minimum(a[:, 0], b[:, 0]) <= x) & (x <= np.maximum(a[:, 0], b[:, 0]))
    share = np.where(run == 0, 0.0, (x - a[:, 0]) / np.where(run == 0, 1.0, run))
    y = a[:, 1] + share * (b[:, 1] - a[:, 1])
    # an edge that lies along the line counts with both ends
    other = np.where(run == 0, b[:, 1], y)
    low = np.where(within, np.minimum(y, other), np.inf).min(axis=1)
    high = np.where(within, np.maximum(y, other), -np.inf).max(axis=1)
    none = ~within.any(axis=1)
    return np.where(none, np.nan, low), np.where(none, np.nan, high)


@compiled(_by_arrays)
def _breadths(points: Array, marks: Array) -> tuple[Array, Array]:
    """Least and greatest y of a closed ring (n, 2) on each line x, NaN where it does not come."""
    low, high = np.full(len(marks), np.nan), np.full(len(marks), np.nan)
    for m in range(len(marks)):
        x, least, most = marks[m], np.inf, -np.inf
        for k in range(len(points) - 1):
            x0, y0, x1, y1 = points[k, 0], points[k, 1], points[k + 1, 0], points[k + 1, 1]
            if not min(x0, x1) <= x <= max(x0, x1):
                continue
            if x0 == x1:  # an edge that lies along the line counts with both ends
                least, most = min(least, y0, y1), max(most, y0, y1)
            else:
                y = y0 + (x - x0) / (x1 - x0) * (y1 - y0)
                least, most = min(least, y), max(most, y)
        if least <= most:
            low[m], high[m] = least, most
    return low, high


def breadths_at(shape: Polygon, marks: Array) -> tuple[Array, Array]:
    """Least and greatest y of the region's outline on each line x, NaN beside it; (n,) each."""
    if shape.is_empty:
        return np.full(len(marks), np.nan), np.full(len(marks), np.nan)
    return _breadths(shapely.get_coordinates(shape.exterior), np.ascontiguousarray(marks, dtype=float))


def breadth_at(shape: Polygon, x_m: float) -> tuple[float, float] | None:
    """Least and greatest y of the region on the line x, or None beside it."""
    if shape.is_empty:
        return None
    low, high = breadths_at(shape, np.array([x_m]))
    return None if np.isnan(low[0]) else (float(low[0]), float(high[0]))


class Breadths:
    """Least and greatest y of one region on any line x, found by halving instead of by looking at
    every edge: for what asks the same outline many times. Between two corners' x both lie on one
    edge each, since the edges of an outline do not cross.
    """

    def __init__(self, shape: Polygon) -> None:
        points = shapely.get_coordinates(shape.exterior)
        corners = np.unique(points[:, 0])
        low, high = breadths_at(shape, corners)
        self._x: list[float] = corners.tolist()
        self._at: list[tuple[float, float]] = list(zip(low.tolist(), high.tolist(), strict=True))
        self._edges = _edges_between(points, corners)

    def at(self, x: float) -> tuple[float, float] | None:
        """Least and greatest y on the line x [m], or None beside the region."""
        k = bisect_left(self._x, x)
        if k < len(self._x) and self._x[k] == x:
            return self._at[k]
        if not 0 < k < len(self._x):
            return None
        (x0, y0, run0, rise0), (x1, y1, run1, rise1) = self._edges[k - 1]
        return y0 + (x - x0) / run0 * rise0, y1 + (x - x1) / run1 * rise1


def _edges_between(points: Array, corners: Array) -> list[tuple[list[float], list[float]]]:
    """Lowest and highest edge between each two corners' x: a point of it, its run and its rise."""
    if len(corners) < 2:
        return []
    a, b = points[:-1], points[1:]
    run = b[:, 0] - a[:, 0]
    x = ((corners[:-1] + corners[1:]) / 2)[:, None]
    within = (np.minimum(a[:, 0], b[:, 0]) <= x) & (x <= np.maximum(a[:, 0], b[:, 0])) & (run != 0)
    y = a[:, 1] + (x - a[:, 0]) / np.where(run == 0, 1.0, run) * (b[:, 1] - a[:, 1])
    edge = np.column_stack([a, b - a])
    lowest = edge[np.where(within, y, np.inf).argmin(axis=1)]
    highest = edge[np.where(within, y, -np.inf).argmax(axis=1)]
    return list(zip(lowest.tolist(), highest.tolist(), strict=True))


def side_path(shape: Polygon, aft: float, fore: float, side: int) -> Array:
    """Edge of the region between two x, aft to fore, shape (n, 2); side +1 port, -1 starboard."""
    points = shapely.get_coordinates(shape.exterior)[:-1]
    points = points[points[:, 1] * side > 1e-6]
    marks = np.unique(np.round(points[:, 0], 6))
    marks = np.concatenate([[aft], marks[(marks > aft + 1e-4) & (marks < fore - 1e-4)], [fore]])
    low, high = breadths_at(shape, marks)
    path = np.column_stack([marks, high if side > 0 else low])
    return np.asarray(path[~np.isnan(path[:, 1])])


def path_length_m(path: Array) -> float:
    """Length of an open polyline [m]."""
    return float(np.linalg.norm(np.diff(path, axis=0), axis=1).sum())


@dataclass(frozen=True)
class Relief:
    """Relief cuts in the leg of an angle bent along a curve."""

    slots: tuple[float, ...]  # distance from the aft end [m]
    tightest_m: float  # smallest radius; infinite when straight


SAGITTA_M = 0.001  # an angle between two cuts may stand this far off the skin
SAW_CUT_M = 0.003  # a cut this wide closes while bending
LEAST_SLOT_M, MOST_SLOT_M = 0.05, 0.30
STRAIGHT_M = 6.0  # flatter than this a 3 mm leg follows by itself


def slot_interval_m(radius_m: float, leg_m: float) -> float:
    """Distance between relief cuts for a curve of this radius.

    The chord may stand e = 1 mm off the curve: s = sqrt(8 R e). The cut must close by
    s·leg/R, no more than its own width w: s <= w R / leg. Not under 50 mm.
    Source: circle geometry; least interval: docs/trade-rules.md, “Decks”.
    """
    return float(_slot_intervals_m(np.array([radius_m]), leg_m)[0])


def _slot_intervals_m(radii: Array, leg_m: float) -> Array:
    """`slot_interval_m` of many radii, (n,)."""
    wanted = np.minimum(np.sqrt(8 * radii * SAGITTA_M), SAW_CUT_M * radii / leg_m)
    return np.clip(wanted, LEAST_SLOT_M, MOST_SLOT_M)


def relief_slots(path: Array, leg_m: float) -> Relief:
    """Where to cut the leg so that it follows `path` (n, 2) [m]."""
    step = np.linalg.norm(np.diff(path, axis=0), axis=1)
    along = np.concatenate([[0.0], np.cumsum(step)])
    total = float(along[-1])
    if total < 0.3:
        return Relief((), math.inf)
    # curvature over a hand's breadth, so that the mesh's short chords do not count as corners
    marks = np.linspace(0.0, total, max(4, int(total / 0.1)) + 1)
    x, y = np.interp(marks, along, path[:, 0]), np.interp(marks, along, path[:, 1])
    heading = np.unwrap(np.arctan2(np.diff(y), np.diff(x)))
    bend = np.abs(np.diff(heading)) / (total / (len(marks) - 1))
    radius = 1 / np.maximum(bend, 1e-9)
    # as many cuts as the curve asks for, each stretch with its equal share of them: the fewest
    fine = np.linspace(0.0, total, max(50, int(total / 0.005)) + 1)
    bent = np.interp((fine[1:] + fine[:-1]) / 2, marks[1:-1], radius)
    share = np.where(bent < STRAIGHT_M, 1 / _slot_intervals_m(bent, leg_m), 0.0)
    asked = np.concatenate([[0.0], np.cumsum(share * np.diff(fine))])
    stretches = math.ceil(float(asked[-1]) - 1e-9)
    wanted = np.arange(1, stretches) * asked[-1] / max(stretches, 1)
    return Relief(tuple(np.interp(wanted, asked, fine).tolist()), float(radius.min()))


def opening_angles_deg(
    surface: HullSurface, z_m: float, path: Array, rise_m: float = 0.04
) -> tuple[float, float]:
    """Least and greatest angle between a level flange and the hull side below it [deg].

    90 on a plumb side; above 90 where the side flares outward going up. It is that of the angle
    as it stands, square to the side: 90 + atan(Δy cos ψ / rise), ψ the side's angle in plan.
    """
    marks = path[:: max(1, len(path) // 12)]
    side = 1.0 if marks[:, 1].mean() > 0 else -1.0
    low, high = breadths_at(inside_region(surface, z_m - rise_m), marks[:, 0])
    edge = high if side > 0 else -low
    slope = np.gradient(path[:, 1], path[:, 0])[:: max(1, len(path) // 12)]
    square = 1 / np.hypot(1.0, slope)  # cos ψ
    angles = 90 + np.degrees(np.arctan2((side * marks[:, 1] - edge) * square, rise_m))
    angles = angles[~np.isnan(angles)]
    return (float(angles.min()), float(angles.max())) if len(angles) else (90.0, 90.0)
