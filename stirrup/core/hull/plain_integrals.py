"""The volume integrals of integrals.py for whole arrays at once: the same formulas, the same results."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Ints = NDArray[np.int64]


def _triple(a: Array, b: Array, c: Array) -> Array:
    """a·(b x c) of rows (k, 3)."""
    return np.asarray(np.einsum("ki,ki->k", a, np.cross(b, c)))


def whole(vertices: Array, triangles: Ints) -> tuple[float, Array]:
    """Volume [m3] and moment ∫ r dV (3,) [m4] of a closed, outward oriented mesh."""
    a, b, c = (vertices[triangles[:, k]] for k in range(3))
    w = _triple(a, b, c)
    return float(w.sum()) / 6, np.asarray(w @ (a + b + c)) / 24


def clipped(
    vertices: Array, triangles: Ints, n: Array, d: float
) -> tuple[float, Array, float, Array, Array, Array, Array]:
    """Integrals over the part of a closed mesh under the plane n·r = d, as in integrals.py."""
    foot = n * d
    r = vertices - foot
    level = r @ n
    low = level[triangles] < 0
    count = low.sum(axis=1)
    a, b, c = (r[triangles[count == 3, k]] for k in range(3))
    w = _triple(a, b, c)
    volume6, moment = w.sum(), w @ (a + b + c)

    met = (count == 1) | (count == 2)
    alone, corners = count[met] == 1, triangles[met]
    # each triangle is turned so that the corner alone on its side comes first
    first_at = (low[met] == alone[:, None]).argmax(axis=1)
    turned = np.take_along_axis(corners, (first_at[:, None] + np.arange(3)) % 3, axis=1)
    i, j, k = (r[turned[:, m]] for m in range(3))
    li, lj, lk = (level[turned[:, m]] for m in range(3))
    share_j, share_k = li / (li - lj), li / (li - lk)
    p, q = i + share_j[:, None] * (j - i), i + share_k[:, None] * (k - i)
    sign, around = np.where(alone, 1.0, -1.0), _triple(i, j, k)
    tip = sign * around * share_j * share_k
    volume6 += tip.sum() + around[~alone].sum()
    moment = moment + tip @ (i + p + q) + around[~alone] @ (i + j + k)[~alone]

    # the cap runs the other way along these edges
    piece = sign / 2 * (np.cross(q, p) @ n)
    area = float(piece.sum())
    first = piece @ (p + q) / 3
    outer = np.einsum("k,ki,kj->ij", piece, p, p) + np.einsum("k,ki,kj->ij", piece, q, q)
    second = (outer + np.einsum("k,ki,kj->ij", piece, p + q, p + q)) / 12
    volume = float(volume6) / 6
    moment = moment / 24 + volume * foot
    second = second + np.outer(first, foot) + np.outer(foot, first) + area * np.outer(foot, foot)
    return volume, moment, area, first + area * foot, second, p + foot, q + foot
