"""Volume integrals over closed meshes, compiled: the one inner loop of all floating.

Everything that floats asks for these sums hundreds of times, so the two loops below are
compiled from Python by numba when they are first needed (kept in its cache afterwards) and
run without the interpreter's lock.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from stirrup.core.hull import plain_integrals
from stirrup.core.loops import compiled

Array = NDArray[np.float64]
Ints = NDArray[np.int64]


@compiled(plain_integrals.whole)
def whole(vertices: Array, triangles: Ints) -> tuple[float, Array]:
    """Volume [m3] and moment ∫ r dV (3,) [m4] of a closed, outward oriented mesh.

    Sum over tetrahedra from the origin: V = Σ a·(b x c) / 6, M = Σ a·(b x c) (a + b + c) / 24
    (divergence theorem; any text on polyhedral mass properties).
    """
    volume6 = 0.0
    moment = np.zeros(3)
    for t in range(triangles.shape[0]):
        a, b, c = vertices[triangles[t, 0]], vertices[triangles[t, 1]], vertices[triangles[t, 2]]
        w = (
            a[0] * (b[1] * c[2] - b[2] * c[1])
            + a[1] * (b[2] * c[0] - b[0] * c[2])
            + a[2] * (b[0] * c[1] - b[1] * c[0])
        )
        volume6 += w
        for m in range(3):
            moment[m] += w * (a[m] + b[m] + c[m])
    return volume6 / 6, moment / 24


@compiled(plain_integrals.clipped)
def clipped(
    vertices: Array, triangles: Ints, n: Array, d: float
) -> tuple[float, Array, float, Array, Array, Array, Array]:
    """Integrals over the part of a closed mesh under the plane n·r = d.

    Returns volume [m3], ∫ r dV (3,) [m4], and of the cut plane: area [m2], ∫ r dA (3,) [m3],
    ∫ r rᵀ dA (3, 3) [m4], and its outline as segments from (k, 3) to (k, 3) [m].

    All sums are taken about the foot of the plane, n d: from there the missing cap of the
    clipped solid has no volume. Where the plane crosses a triangle, the corner alone on its
    side spans a smaller triangle of share s_b s_c of the whole one.
    """
    count_v, count_t = vertices.shape[0], triangles.shape[0]
    foot = n * d
    r = np.empty((count_v, 3))
    level = np.empty(count_v)
    for v in range(count_v):
        for m in range(3):
            r[v, m] = vertices[v, m] - foot[m]
        level[v] = n[0] * r[v, 0] + n[1] * r[v, 1] + n[2] * r[v, 2]
    crossing = 0
    for t in range(count_t):
        under = 0
        for m in range(3):
            under += level[triangles[t, m]] < 0
        crossing += under == 1 or under == 2
    start, end = np.empty((crossing, 3)), np.empty((crossing, 3))

    volume6, area = 0.0, 0.0
    moment, first, second = np.zeros(3), np.zeros(3), np.zeros((3, 3))
    p, q = np.empty(3), np.empty(3)
    row = 0
    for t in range(count_t):
        i, j, k = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        ui, uj, uk = level[i] < 0, level[j] < 0, level[k] < 0
        under = int(ui) + int(uj) + int(uk)
        if under == 0:
            continue
        w = (
            r[i, 0] * (r[j, 1] * r[k, 2] - r[j, 2] * r[k, 1])
            + r[i, 1] * (r[j, 2] * r[k, 0] - r[j, 0] * r[k, 2])
            + r[i, 2] * (r[j, 0] * r[k, 1] - r[j, 1] * r[k, 0])
        )
        if under == 3:
            volume6 += w
            for m in range(3):
                moment[m] += w * (r[i, m] + r[j, m] + r[k, m])
            continue
        # turn the triangle so that the corner alone on its side comes first
        alone = under == 1
        if uj == alone and ui != alone:
            i, j, k = j, k, i
        elif uk == alone and ui != alone:
            i, j, k = k, i, j
        share_j = level[i] / (level[i] - level[j])
        share_k = level[i] / (level[i] - level[k])
        tip = w * share_j * share_k
        sign = 1.0 if alone else -1.0
        for m in range(3):
            p[m] = r[i, m] + share_j * (r[j, m] - r[i, m])
            q[m] = r[i, m] + share_k * (r[k, m] - r[i, m])
            moment[m] += sign * tip * (r[i, m] + p[m] + q[m])
            start[row, m], end[row, m] = p[m] + foot[m], q[m] + foot[m]
        row += 1
        volume6 += sign * tip
        if not alone:
            volume6 += w
            for m in range(3):
                moment[m] += w * (r[i, m] + r[j, m] + r[k, m])
        # the cap runs the other way along this edge
        piece = (
            sign
            / 2
            * (
                n[0] * (q[1] * p[2] - q[2] * p[1])
                + n[1] * (q[2] * p[0] - q[0] * p[2])
                + n[2] * (q[0] * p[1] - q[1] * p[0])
            )
        )
        area += piece
        for m in range(3):
            first[m] += piece * (p[m] + q[m]) / 3
            for o in range(m, 3):
                both = (p[m] + q[m]) * (p[o] + q[o])
                second[m, o] += piece * (p[m] * p[o] + q[m] * q[o] + both) / 12
    volume = volume6 / 6
    for m in range(3):
        moment[m] = moment[m] / 24 + volume * foot[m]
    for m in range(3):
        for o in range(m, 3):
            second[m, o] += first[m] * foot[o] + first[o] * foot[m] + area * foot[m] * foot[o]
            second[o, m] = second[m, o]
    for m in range(3):
        first[m] += area * foot[m]
    return volume, moment, area, first, second, start, end
