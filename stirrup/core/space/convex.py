"""Convex bodies in one another's way, by the directions in which they can be parted.

Two convex bodies are apart when a plane stands between them, and of all planes only those along a face
of either, or along an edge of each, need be tried (the facets of the Minkowski difference; any text on
convex polytopes). Each body finds its faces and edges once, so that a pair costs a few products.
"""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

from stirrup.core.loops import compiled
from stirrup.core.record import dataclass

Array = NDArray[np.float64]
SAME = 1e-9  # directions that differ by less are one
LEVEL_M = 1e-9  # a corner this far above a plane lies in it
FEW = 16  # corners of a body whose planes are tried one by one
SKEW = 1e-12  # nobody gets clear of a plane along which he goes
FLAT_M = 1e-6  # a body thinner than this is flat
NONE = np.empty((0, 3))


@dataclass(frozen=True)
class Convex:
    """Corners (n, 3) [m]; unit normals of the faces (f, 3) and unit directions of the edges (e, 3), each
    once whichever way it points; upright: all edges but those along z are level, as a prism's."""

    points: Array
    faces: Array
    edges: Array
    upright: bool = False


def _once_by_arrays(directions: Array) -> Array:
    lengths = np.linalg.norm(directions, axis=1)
    unit = directions[lengths > SAME] / lengths[lengths > SAME, None]
    first = np.take_along_axis(unit, (np.abs(unit) > SAME).argmax(axis=1)[:, None], axis=1)
    unit = unit * np.where(first < 0, -1.0, 1.0)
    _, kept = np.unique(np.round(unit / SAME), axis=0, return_index=True)
    return np.asarray(unit[kept])


@compiled(_once_by_arrays)
def _once(directions: Array) -> Array:
    """Unit directions, each once whichever way it points."""
    out = np.empty_like(directions)
    count = 0
    for k in range(len(directions)):
        x, y, z = directions[k, 0], directions[k, 1], directions[k, 2]
        length = np.sqrt(x * x + y * y + z * z)
        if length <= SAME:
            continue
        first = x if abs(x) > SAME * length else (y if abs(y) > SAME * length else z)
        if first < 0:
            length = -length
        x, y, z = x / length, y / length, z / length
        new = True
        for j in range(count):
            if abs(out[j, 0] - x) < SAME and abs(out[j, 1] - y) < SAME and abs(out[j, 2] - z) < SAME:
                new = False
                break
        if new:
            out[count, 0], out[count, 1], out[count, 2] = x, y, z
            count += 1
    return out[:count]


def _none_found(points: Array) -> tuple[Array, Array]:
    return NONE, NONE


@compiled(_none_found)
def _by_planes(points: Array) -> tuple[Array, Array]:
    """Unit normals of the faces of a body of few corners (n, 3), and the directions of its edges, some of
    both more than once: every plane through three corners with all others on one side of it, and every
    two corners that lie in two such planes. None of either for a body that is flat."""
    n = len(points)
    most = n * (n - 1) * (n - 2) // 6 + 1
    faces, on = np.empty((most, 3)), np.zeros((most, n), dtype=np.bool_)
    count = 0
    for i in range(n):
        for j in range(i + 1, n):
            ax, ay, az = (
                points[j, 0] - points[i, 0],
                points[j, 1] - points[i, 1],
                points[j, 2] - points[i, 2],
            )
            for k in range(j + 1, n):
                bx, by = points[k, 0] - points[i, 0], points[k, 1] - points[i, 1]
                bz = points[k, 2] - points[i, 2]
                x, y, z = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
                length = np.sqrt(x * x + y * y + z * z)
                if length <= SAME:
                    continue
                x, y, z = x / length, y / length, z / length
                low, high = 0.0, 0.0
                for p in range(n):
                    off = x * (points[p, 0] - points[i, 0]) + y * (points[p, 1] - points[i, 1])
                    off += z * (points[p, 2] - points[i, 2])
                    low, high = min(low, off), max(high, off)
                    on[count, p] = abs(off) <= LEVEL_M
                if high - low < FLAT_M:
                    return faces[:0], faces[:0]
                if low >= -LEVEL_M or high <= LEVEL_M:
                    faces[count, 0], faces[count, 1], faces[count, 2] = x, y, z
                    count += 1
    edges = np.empty((n * n, 3))
    found = 0
    for i in range(n):
        for j in range(i + 1, n):
            first = -1
            for k in range(count):
                if not (on[k, i] and on[k, j]):
                    continue
                if first < 0:
                    first = k
                    continue
                along = faces[k, 0] * faces[first, 0] + faces[k, 1] * faces[first, 1]
                along += faces[k, 2] * faces[first, 2]
                if abs(along) < 1 - SAME:
                    for axis in range(3):
                        edges[found, axis] = points[j, axis] - points[i, axis]
                    found += 1
                    break
    return faces[:count], edges[:found]


def upright(ring: Array, low: float, high: float) -> Convex:
    """A prism over a convex ring of corners (n, 2), first point not repeated, between two heights [m]."""
    count = len(ring)
    points = np.empty((2 * count, 3))
    points[:count, :2] = points[count:, :2] = ring
    points[:count, 2], points[count:, 2] = low, high
    run = np.zeros((count + 1, 3))
    run[:count, :2] = np.roll(ring, -1, axis=0) - ring
    run[count, 2] = 1.0
    edges = _once(run)
    faces = np.column_stack([-edges[:, 1], edges[:, 0], edges[:, 2]])
    return Convex(points, faces, edges, True)


def body(points: Array) -> Convex:
    """The convex body of corners (n, 3) [m]; a flat one has one face, a straight one none."""
    if len(points) <= FEW:
        faces, edges = _by_planes(points)
        if len(faces):
            return Convex(points, _once(faces), _once(edges))
    middle = points.mean(axis=0)
    _, sizes, axes = np.linalg.svd(points - middle, full_matrices=False)
    rank = int((sizes > FLAT_M).sum())
    if rank < 2:
        return Convex(points, NONE, axes[:rank])
    if rank == 2:
        seen = (points - middle) @ axes[:2].T
        ring = seen[scipy.spatial.ConvexHull(seen).vertices]
        return Convex(points, axes[2:3], _once((np.roll(ring, -1, axis=0) - ring) @ axes[:2]))
    hull = scipy.spatial.ConvexHull(points)
    normals, corners = np.ascontiguousarray(hull.equations[:, :3]), hull.simplices
    # an edge of a facet lies across from one of its corners; between two facets of one plane is none
    across = np.abs((normals[:, None, :] * normals[hull.neighbors]).sum(axis=2)) < 1 - SAME
    ends = corners[:, [[1, 2], [2, 0], [0, 1]]][across]
    return Convex(points, _once(normals), _once(points[ends[:, 1]] - points[ends[:, 0]]))


def _across(a: Array, b: Array) -> Array:
    """Unit normals of the planes along an edge of each, (k, 3)."""
    (ax, ay, az), (bx, by, bz) = a.T[:, :, None], b.T[:, None, :]
    across = np.array([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx]).reshape(3, -1).T
    lengths = np.sqrt((across * across).sum(axis=1))
    there = lengths > SAME
    return np.asarray(across[there] / lengths[there, None])


def _ways_by_arrays(
    p: Array, q: Array, faces: Array, others: Array, edges: Array, beside: Array, touch: float
) -> Array:
    normals = np.concatenate([faces, others, _across(edges, beside)])
    of_p, of_q = p @ normals.T, q @ normals.T
    forth, back = of_p.max(axis=0) - of_q.min(axis=0), of_q.max(axis=0) - of_p.min(axis=0)
    if min(forth.min(initial=np.inf), back.min(initial=np.inf)) <= touch:
        return NONE
    steep = np.abs(normals) > SKEW
    with np.errstate(divide="ignore"):
        share = np.where(steep, 1.0 / np.abs(normals), np.inf)
    ahead = normals > 0
    up = np.where(ahead, back[:, None], forth[:, None]) * share
    down = np.where(ahead, forth[:, None], back[:, None]) * share
    return np.array([up.min(axis=0, initial=np.inf), down.min(axis=0, initial=np.inf)])


@compiled()
def _reach(p: Array, q: Array, x: float, y: float, z: float) -> tuple[float, float]:
    """How far two bodies of corners p and q reach into one another along a direction [m]: what the first
    must go back along it to be clear, and what it must go on. Not above zero: apart."""
    low, high = np.inf, -np.inf
    for k in range(len(p)):
        at = x * p[k, 0] + y * p[k, 1] + z * p[k, 2]
        low, high = min(low, at), max(high, at)
    other_low, other_high = np.inf, -np.inf
    for k in range(len(q)):
        at = x * q[k, 0] + y * q[k, 1] + z * q[k, 2]
        other_low, other_high = min(other_low, at), max(other_high, at)
    return high - other_low, other_high - low


@compiled()
def _along(out: Array, p: Array, q: Array, n: Array, touch: float) -> bool:
    """Whether a plane of unit normal n parts two bodies; else what gets clear of it is taken over."""
    forth, back = _reach(p, q, n[0], n[1], n[2])
    if min(forth, back) <= touch:
        return True
    for axis in range(3):
        if abs(n[axis]) > SKEW:
            share, ahead = 1.0 / abs(n[axis]), n[axis] > 0
            out[0, axis] = min(out[0, axis], share * (back if ahead else forth))
            out[1, axis] = min(out[1, axis], share * (forth if ahead else back))
    return False


@compiled(_ways_by_arrays)
def _ways(
    p: Array, q: Array, faces: Array, others: Array, edges: Array, beside: Array, touch: float
) -> Array:
    """How far a body of corners p must go along x, y and z to be clear of one of corners q, and how far
    against each, (2, 3) [m]; none (0, 3) where a plane along a face of either, or along an edge of each,
    parts them but for a touch. Infinite along an axis that gets nobody clear."""
    out = np.full((2, 3), np.inf)
    for which in range(2):
        for n in faces if which == 0 else others:
            if _along(out, p, q, n, touch):
                return out[:0]
    n = np.empty(3)
    for e in edges:
        for f in beside:
            n[0], n[1], n[2] = (
                e[1] * f[2] - e[2] * f[1],
                e[2] * f[0] - e[0] * f[2],
                e[0] * f[1] - e[1] * f[0],
            )
            length = np.sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2])
            if length > SAME:
                for axis in range(3):
                    n[axis] = n[axis] / length
                if _along(out, p, q, n, touch):
                    return out[:0]
    return out


def ways_clear(a: Convex, b: Convex, touch: float) -> tuple[list[float], list[float]] | None:
    """How far the first must go along x, y and z to be clear of the second, and how far against each [m];
    None when they share no more than a touch [m]. Infinite along an axis that gets nobody clear."""
    # edges of two prisms give no plane that no face gives
    edges, beside = (NONE, NONE) if a.upright and b.upright else (a.edges, b.edges)
    found = _ways(a.points, b.points, a.faces, b.faces, edges, beside, touch)
    if not len(found):
        return None
    up, down = found.tolist()
    return up, down
