"""The plane of symmetry of a scan that stands nearly upright."""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

Array = NDArray[np.float64]

ROUNDS = 25
KEPT = 0.8  # share of the nearest pairs that count: what stands on one side only does not
SETTLED = 1e-7


def _step(points: Array, normals: Array, tree: scipy.spatial.KDTree) -> Array:
    """Small plane y = a + b x + c z in which the points mirror best, to first order.

    Point to plane: a point mirrored in it is (x + 2yb, -y + 2(a + bx + cz), z + 2yc); it should
    lie in the surface at the nearest point of the scan.
    """
    mirrored = points * np.array([1.0, -1.0, 1.0])
    away, nearest = (np.asarray(v) for v in tree.query(mirrored))
    keep = away <= np.quantile(away, KEPT)
    p, n = points[keep], normals[nearest[keep]]
    off = ((mirrored[keep] - points[nearest[keep]]) * n).sum(axis=1)
    x, y, z = p.T
    columns = np.column_stack([
        2 * n[:, 1],
        2 * (y * n[:, 0] + x * n[:, 1]),
        2 * (z * n[:, 1] + y * n[:, 2]),
    ])  # fmt: skip
    return np.asarray(np.linalg.lstsq(columns, -off, rcond=None)[0])


def onto_middle(points: Array, normals: Array) -> tuple[Array, Array]:
    """Rotation (3, 3) and shift (3,) that bring the plane of symmetry to y = 0:
    p' = R (p - shift).

    points, normals (n, 3), evenly over the surface [m], port and starboard standing to within
    some 15° and a tenth of the beam. Registration of the points with their mirror image by
    point-to-plane least squares, the farthest fifth left out.
    """
    turn, shift = np.eye(3), np.zeros(3)
    for _ in range(ROUNDS):
        p, n = (points - shift) @ turn.T, normals @ turn.T
        a, b, c = _step(p, n, scipy.spatial.KDTree(p))
        across = np.array([-b, 1.0, -c]) / np.sqrt(1 + b * b + c * c)
        along = np.array([1.0, 0.0, 0.0]) - across[0] * across
        along /= np.linalg.norm(along)
        small = np.array([along, across, np.cross(along, across)])
        shift = shift + turn.T @ np.array([0.0, a, 0.0])
        turn = small @ turn
        if max(abs(a), abs(b), abs(c)) < SETTLED:
            break
    return turn, shift
