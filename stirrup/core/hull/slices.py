"""The three verbs of the hull: section(x), waterplane(z), buttock(y).

Everybody who needs hull geometry asks here; nobody else walks the mesh.
"""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import MultiPolygon, Polygon
from shapely.ops import unary_union

from stirrup.core.errors import CoreError
from stirrup.core.hull.chains import chained, points_of
from stirrup.core.hull.mesh import Solid

Array = NDArray[np.float64]
Ints = NDArray[np.int64]


def slice_axis(solid: Solid, axis: int, at: float, fair: bool = False) -> list[Array]:
    """Closed polylines (first point repeated), shape (n, 3), where coordinate `axis` is `at`.

    axis: 0, 1, 2 for x, y, z; at: [m]. fair: without the points where the plane meets the
    diagonals of four-sided patches: these lie beside the surface that is meant, by several
    millimetres where a patch is twisted. A plane that only touches an end face gives that
    face. Outside the solid the list is empty. Raises CoreError when `at` is not finite.
    """
    if not np.isfinite(at):
        raise CoreError(f"read {at}; accepted: a finite number of metres", "slice")
    low, high = float(solid.low[axis]), float(solid.high[axis])
    size = high - low
    if at < low - 1e-12 * size or at > high + 1e-12 * size:
        return []
    # a vertex in the plane counts as above it; lift the plane off the lowest face
    level = max(at, low + 1e-9 * size)
    height = solid.vertices[:, axis] - min(level, high - 1e-12 * size)
    loops = _loops(solid, height, fair)
    for loop in loops:
        loop[:, axis] = at
    return loops


def _loops(solid: Solid, height: Array, fair: bool = False) -> list[Array]:
    """Where a plane cuts the mesh, by the height of each vertex above it."""
    edges, begins = chained(solid.triangles, height)
    loops = []
    for begin, end in pairwise(begins.tolist()):
        chain = edges[begin:end]
        if fair:
            chain = _fair(solid, chain)
        points = points_of(solid.vertices, height, chain)
        if len(points) > 3:
            loops.append(points)
    return loops


def _fair(solid: Solid, chain: Ints) -> Ints:
    """A loop's edges without the diagonals among them, closed again; all of them where little is left."""
    kept = [e for e in chain.tolist() if e not in solid.cut_across]
    if len(kept) <= 3:
        return chain
    return np.array(kept if kept[0] == kept[-1] else [*kept, kept[0]], dtype=np.int64)


def section(solid: Solid, x_m: float) -> list[Array]:
    """Closed polylines of the section at x [m]."""
    return slice_axis(solid, 0, x_m)


def waterplane(solid: Solid, z_m: float, fair: bool = False) -> list[Array]:
    """Closed polylines of the level plane at height z above the baseline [m]."""
    return slice_axis(solid, 2, z_m, fair)


def buttock(solid: Solid, y_m: float) -> list[Array]:
    """Closed polylines of the fore-and-aft upright plane at y [m], port positive."""
    return slice_axis(solid, 1, y_m)


def region(loops: list[Array], axis: int) -> Polygon | MultiPolygon:
    """Area enclosed by slice loops as a shapely region in the two remaining axes."""
    keep = [i for i in range(3) if i != axis]
    shapes = []
    for loop in loops:
        shape = Polygon(loop[:, keep])
        shape = shape if shape.is_valid else shape.buffer(0)
        if shape.area > 1e-8:
            shapes.append(shape)
    if len(shapes) == 1:
        return shapes[0]
    joined = unary_union(shapes)
    return joined if isinstance(joined, Polygon | MultiPolygon) else Polygon()


def half_width_m(solid: Solid, x_m: float, z_m: float) -> float | None:
    """Greatest half-breadth to port at (x, z) [m], or None outside the hull."""
    best: float | None = None
    for loop in section(solid, x_m):
        low, high = loop[:-1], loop[1:]
        dz = high[:, 2] - low[:, 2]
        hit = (low[:, 2] - z_m) * (high[:, 2] - z_m) <= 0
        for a, b, d in zip(low[hit], high[hit], dz[hit], strict=True):
            y = max(a[1], b[1]) if d == 0 else a[1] + (z_m - a[2]) / d * (b[1] - a[1])
            best = y if best is None else max(best, y)
    return best
