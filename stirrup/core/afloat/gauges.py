"""What a report says of one floating position, in components: compiled, since every case asks for all of
it. The formulas are those of report.py; each stands once, written so that it is quick on arrays, too.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from stirrup.core.afloat.balance import downhill, up_derivatives
from stirrup.core.loops import compiled

Array = NDArray[np.float64]
ON_AXIS_M = 0.02  # what lies nearer to the axis she heels about stays where it is


@compiled()
def heights(points: Array, n: Array, d: float) -> Array:
    """Heights over the water plane n·r = d of points (k, 3), (k,) [m]."""
    above: Array = points[:, 0] * n[0] + points[:, 1] * n[1] + points[:, 2] * n[2] - d
    return above


@compiled()
def _cross(a: Array, b: Array) -> Array:
    return np.array([a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]])


@compiled()
def _level(n: Array, axis: int) -> Array:
    """Unit vector along a boat axis as it lies in the water plane (3,)."""
    size = math.sqrt(1.0 - n[axis] * n[axis])
    e: Array = -n * n[axis] / size
    e[axis] = size
    return e


@compiled()
def righting_moment(
    density: float, area: float, first: Array, second: Array, q: Array, n: Array, axis: int
) -> float:
    """Moment for each radian about a boat axis on the water plane over g, the other angle held [kg·m].

    Turning by φ moves n along n' = e × n, with n'' = -n; displacement fixed takes the sinkage out:
    K = K_φφ - K_dφ² / K_dd.
    """
    turn = _cross(_level(n, axis), n)
    stiff, coupling = 0.0, 0.0
    for a in range(3):
        coupling -= density * first[a] * turn[a]
        stiff -= q[a] * n[a]
        for b in range(3):
            stiff += density * turn[a] * second[a, b] * turn[b]
    return stiff - coupling**2 / (density * area)


@compiled()
def plane_size(edge_from: Array, edge_to: Array, n: Array) -> tuple[float, float]:
    """Length and beam of the cut water plane, along and across her in the plane [m], by the segments of its
    edge (k, 3) each."""
    along = _level(n, 0)
    across = _cross(n, along)
    size = np.empty(2)
    for k in range(2):
        way = along if k == 0 else across
        a, b = heights(edge_from, way, 0.0), heights(edge_to, way, 0.0)
        size[k] = max(a.max(), b.max()) - min(a.min(), b.min())
    return size[0], size[1]


@compiled()
def first_wet(points: Array, n: Array, d: float, middle: Array) -> tuple[int, float, float]:
    """Of points (k, 3) the one that comes down to the water at the least heel: its number, the heel [rad],
    and how far it lies to port of the axis through the plane's middle [m]; number -1 where none does."""
    across = _level(n, 1)
    aside = heights(points, across, across[0] * middle[0] + across[1] * middle[1] + across[2] * middle[2])
    heel = np.where(np.abs(aside) > ON_AXIS_M, np.arctan2(heights(points, n, d), np.abs(aside)), np.inf)
    k = int(np.argmin(heel))
    return (k if heel[k] < np.inf else -1), heel[k], aside[k]


@compiled()
def spreads(trim: float, heel: float, stiffness: Array, covariance: Array, lowest: Array) -> Array:
    """1 sigma of trim, list [rad] and of the freeboard at a point (3,) [m]; (3,).

    The ledger's covariance (4, 4) of (Σm, Σm r) through the exact stiffness: δu = -K⁻¹ δR with
    δR = (-δm, n_i·δM).
    """
    one, _ = up_derivatives(trim, heel)
    answer = np.zeros((3, 4))
    for j in range(4):
        residual = np.zeros(3)
        if j == 0:
            residual[0] = -1.0
        else:
            residual[1], residual[2] = one[0, j - 1], one[1, j - 1]
        _, answer[:, j] = downhill(stiffness, residual)
    ways = np.zeros((3, 3))
    ways[0, 1] = ways[1, 2] = 1.0
    ways[2, 0] = -1.0
    for a in range(3):
        ways[2, 1] += one[0, a] * lowest[a]
        ways[2, 2] += one[1, a] * lowest[a]
    sigma = np.zeros(3)
    for k in range(3):
        by = np.zeros(4)
        for j in range(4):
            for i in range(3):
                by[j] += ways[k, i] * answer[i, j]
        for j in range(4):
            for i in range(4):
                sigma[k] += by[j] * covariance[j, i] * by[i]
    return np.sqrt(np.maximum(sigma, 0.0))
