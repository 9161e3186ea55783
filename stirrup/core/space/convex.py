"""Convex bodies in one another's way, by the directions in which they can be parted.

Two convex bodies are apart when a plane stands between them, and of all planes only those along a face
of either, or along an edge of each, need be tried (the facets of the Minkowski difference; any text on
convex polytopes). Each body finds its faces and edges once, so that a pair costs a few products.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

Array = NDArray[np.float64]
SAME = 1e-9  # directions that differ by less are one
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


def _once(directions: Array) -> Array:
    """Unit directions, each once whichever way it points."""
    lengths = np.linalg.norm(directions, axis=1)
    unit = directions[lengths > SAME] / lengths[lengths > SAME, None]
    first = np.take_along_axis(unit, (np.abs(unit) > SAME).argmax(axis=1)[:, None], axis=1)
    unit = unit * np.where(first < 0, -1.0, 1.0)
    _, kept = np.unique(np.round(unit / SAME), axis=0, return_index=True)
    return np.asarray(unit[kept])


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
    normals, corners = hull.equations[:, :3], hull.simplices
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


@dataclass(frozen=True)
class Shared:
    """How far two bodies reach into one another along each plane's normal [m], (k,) each: `forth` is what
    the first must go back along it to be clear, `back` what it must go on. Not above zero: apart."""

    normals: Array
    forth: Array
    back: Array

    @property
    def parts(self) -> tuple[Array, Array, Array]:
        """Normals, forth and back."""
        return self.normals, self.forth, self.back

    @property
    def depth(self) -> float:
        """The least of all [m]."""
        return float(min(self.forth.min(initial=np.inf), self.back.min(initial=np.inf)))

    def exits(self) -> tuple[list[float], list[float]]:
        """How far the first must go along x, y and z to be clear, and how far against each [m]."""
        steep = np.abs(self.normals) > SKEW
        along = np.where(steep, np.abs(self.normals), np.nan)
        with_it = self.normals > 0
        forth, back = self.forth[:, None] / along, self.back[:, None] / along
        up, down = np.where(with_it, back, forth), np.where(with_it, forth, back)
        return np.nanmin(up, axis=0).tolist(), np.nanmin(down, axis=0).tolist()


def _seen_along(a: Convex, b: Convex, normals: Array) -> Shared:
    of_a, of_b = a.points @ normals.T, b.points @ normals.T
    return Shared(normals, of_a.max(axis=0) - of_b.min(axis=0), of_b.max(axis=0) - of_a.min(axis=0))


def shared(a: Convex, b: Convex, touch: float) -> Shared | None:
    """What two convex bodies have in common, seen along every plane that can part them; None when they
    share no more than a touch [m]."""
    found = _seen_along(a, b, np.concatenate([a.faces, b.faces]))
    if found.depth <= touch:
        return None
    if a.upright and b.upright:  # their edges give no plane that no face gives
        return found
    more = _seen_along(a, b, _across(a.edges, b.edges))
    if more.depth <= touch:
        return None
    return Shared(*map(np.concatenate, zip(found.parts, more.parts, strict=True)))
