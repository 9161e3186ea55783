"""The three verbs of the hull: section(x), waterplane(z), buttock(y).

Everybody who needs hull geometry asks here; nobody else walks the mesh.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import MultiPolygon, Polygon
from shapely.ops import unary_union

from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import Solid

Array = NDArray[np.float64]


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
    """Chain the cut edges of all triangles into closed loops."""
    starts, ends = _cut_edges(solid, height >= 0)
    following: dict[int, list[int]] = {}
    for start, end in zip(starts, ends, strict=True):
        following.setdefault(start, []).append(end)
    chains: list[list[int]] = []
    while following:
        first = at = next(iter(following))
        chain = [first]
        while (options := following.get(at)) is not None:
            at = options.pop()
            if not options:
                del following[chain[-1]]
            chain.append(at)
            if at == first:
                break
        chains.append(chain)
    loops = []
    for chain in chains:
        if fair and len(kept := [e for e in chain if e not in solid.cut_across]) > 3:
            chain = kept if kept[0] == kept[-1] else [*kept, kept[0]]
        i, j = np.divmod(np.array(chain), len(solid.vertices))
        share = height[i] / (height[i] - height[j])
        points = solid.vertices[i] + share[:, None] * (solid.vertices[j] - solid.vertices[i])
        step = np.linalg.norm(np.diff(points, axis=0), axis=1)
        points = points[np.concatenate([[True], step > 1e-9])]
        if len(points) > 3:
            loops.append(points)
    return loops


def _cut_edges(solid: Solid, above: NDArray[np.bool_]) -> tuple[list[int], list[int]]:
    """Of each triangle that is cut, the edge at which the cut comes in and the one at which it leaves.

    An edge is told by one number: its lower vertex times the count of vertices, and the other one.
    """
    sides = above[solid.triangles]
    cut = sides.any(axis=1) & ~sides.all(axis=1)
    p, up = solid.triangles[cut], sides[cut]
    q, down = np.roll(p, -1, axis=1), ~np.roll(up, -1, axis=1)
    edge = np.minimum(p, q) * len(solid.vertices) + np.maximum(p, q)
    # up to down is where it comes in, down to up where it leaves: one each of three
    return (edge * (up & down)).sum(axis=1).tolist(), (edge * ~(up | down)).sum(axis=1).tolist()


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
