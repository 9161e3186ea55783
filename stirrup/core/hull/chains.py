"""Where a plane cuts a mesh: the cut edges of its triangles, chained into loops."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from stirrup.core.loops import compiled

Array = NDArray[np.float64]
Ints = NDArray[np.int64]
SHORT_M = 1e-9  # a step of a loop that is no longer is none


def _by_dictionary(triangles: Ints, height: Array) -> tuple[Ints, Ints]:
    """The same without a compiler."""
    starts, ends = _cut_edges(triangles, height >= 0, len(height))
    following: dict[int, list[int]] = {}
    for start, end in zip(starts, ends, strict=True):
        following.setdefault(start, []).append(end)
    edges: list[int] = []
    begins = [0]
    while following:
        first = at = next(iter(following))
        edges.append(first)
        while (options := following.get(at)) is not None:
            was, at = at, options.pop()
            if not options:
                del following[was]
            edges.append(at)
            if at == first:
                break
        begins.append(len(edges))
    return np.array(edges, dtype=np.int64), np.array(begins, dtype=np.int64)


def _cut_edges(triangles: Ints, above: NDArray[np.bool_], count: int) -> tuple[list[int], list[int]]:
    """Of each triangle that is cut, the edge at which the cut comes in and the one at which it leaves."""
    sides = above[triangles]
    cut = sides.any(axis=1) & ~sides.all(axis=1)
    p, up = triangles[cut], sides[cut]
    q, down = np.roll(p, -1, axis=1), ~np.roll(up, -1, axis=1)
    edge = np.minimum(p, q) * count + np.maximum(p, q)
    # up to down is where it comes in, down to up where it leaves: one each of three
    return (edge * (up & down)).sum(axis=1).tolist(), (edge * ~(up | down)).sum(axis=1).tolist()


@compiled(_by_dictionary)
def chained(triangles: Ints, height: Array) -> tuple[Ints, Ints]:
    """Edges that a plane cuts, loop after loop, and where each loop begins and the last one ends.

    triangles: (T, 3); height: (V,) of each vertex above the plane, 0 counts as above. An edge is told by
    one number: its lower vertex times the count of vertices, and the other one. A closed loop has its
    first edge again at its end.
    """
    count = len(height)
    starts = np.empty(len(triangles), np.int64)
    ends = np.empty(len(triangles), np.int64)
    n = 0
    for t in range(len(triangles)):
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        up_a, up_b, up_c = height[a] >= 0, height[b] >= 0, height[c] >= 0
        if up_a == up_b and up_b == up_c:
            continue
        for p, q, up_p, up_q in ((a, b, up_a, up_b), (b, c, up_b, up_c), (c, a, up_c, up_a)):
            if up_p != up_q:
                edge = min(p, q) * count + max(p, q)
                if up_p:
                    starts[n] = edge
                else:
                    ends[n] = edge
        n += 1
    order = np.argsort(starts[:n], kind="mergesort")
    known = starts[:n][order]
    # of the triangles whose cut comes in at one edge, the last one is taken first; `group` tells where
    # those of an edge begin in the order, `left` how many are still there
    group = np.empty(n, np.int64)
    left = np.zeros(n, np.int64)
    for k in range(n):
        group[k] = group[k - 1] if k and known[k] == known[k - 1] else k
        left[group[k]] += 1
    of = np.empty(n, np.int64)
    for k in range(n):
        of[order[k]] = group[k]
    edges = np.empty(2 * n, np.int64)
    begins = np.empty(n + 1, np.int64)
    begins[0] = 0
    loops = written = 0
    for t in range(n):
        while left[of[t]]:
            first, at = starts[t], of[t]
            edges[written] = first
            written += 1
            while left[at]:
                left[at] -= 1
                edge = ends[order[at + left[at]]]
                edges[written] = edge
                written += 1
                if edge == first:
                    break
                at = np.searchsorted(known, edge)
                if at == n or known[at] != edge:
                    break
            loops += 1
            begins[loops] = written
    return edges[:written], begins[: loops + 1]


def _by_array(vertices: Array, height: Array, edges: Ints) -> Array:
    """The same without a compiler."""
    i, j = np.divmod(edges, len(vertices))
    share = height[i] / (height[i] - height[j])
    points = vertices[i] + share[:, None] * (vertices[j] - vertices[i])
    step = np.linalg.norm(np.diff(points, axis=0), axis=1)
    return np.asarray(points[np.concatenate([[True], step > SHORT_M])])


@compiled(_by_array)
def points_of(vertices: Array, height: Array, edges: Ints) -> Array:
    """Where the plane cuts these edges, (n, 3) [m], less those that lie where the one before them does."""
    count = len(vertices)
    points = np.empty((len(edges), 3))
    n = 0
    x0 = y0 = z0 = 0.0
    for k in range(len(edges)):
        i, j = edges[k] // count, edges[k] % count
        share = height[i] / (height[i] - height[j])
        x = vertices[i, 0] + share * (vertices[j, 0] - vertices[i, 0])
        y = vertices[i, 1] + share * (vertices[j, 1] - vertices[i, 1])
        z = vertices[i, 2] + share * (vertices[j, 2] - vertices[i, 2])
        if k == 0 or np.sqrt((x - x0) ** 2 + (y - y0) ** 2 + (z - z0) ** 2) > SHORT_M:
            points[n, 0], points[n, 1], points[n, 2] = x, y, z
            n += 1
        x0, y0, z0 = x, y, z
    return points[:n]
