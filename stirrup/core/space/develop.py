"""A ruled strip between two lines laid flat: what a sheet must be cut to so that it bends into it."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from stirrup.core.record import dataclass

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Flat:
    """Both edges of a strip laid flat, (n, 2) each, the first ruling upright at the origin.

    twist: how far at worst the diagonal that was not unfolded is off its length in space; a strip that can
    be laid flat has none [m].
    """

    lower: Array
    upper: Array
    twist: float


def unrolled(lower: Array, upper: Array) -> Flat:
    """Lays the strip between two lines of as many points (n, 3) flat, triangle by triangle.

    Every edge, every ruling and one diagonal of each cell keep their lengths. Source: triangulation, as
    platers do it. n at least 2; neighbours must differ.
    """
    a, b = [np.zeros(2)], [np.array([0.0, _far(lower[0], upper[0])])]
    twist = 0.0
    for k in range(1, len(lower)):
        # on from the upper end of the last ruling to the next lower point, then to the next upper one
        a.append(_third(a[-1], b[-1], _far(lower[k - 1], lower[k]), _far(upper[k - 1], lower[k])))
        b.append(_third(a[-1], b[-1], _far(lower[k], upper[k]), _far(upper[k - 1], upper[k])))
        other = float(np.linalg.norm(b[-1] - a[-2]))
        twist = max(twist, abs(other - _far(lower[k - 1], upper[k])))
    return Flat(np.array(a), np.array(b), twist)


def _far(p: Array, q: Array) -> float:
    return math.dist(p, q)


def _third(p: Array, q: Array, from_p: float, from_q: float) -> Array:
    """The corner to the right of the way from p to q that lies so far from both."""
    base = q - p
    long = float(np.linalg.norm(base))
    along = (from_p**2 - from_q**2 + long**2) / (2 * long)
    aside = max(from_p**2 - along**2, 0.0) ** 0.5
    u = base / long
    return np.asarray(p + along * u + aside * np.array([u[1], -u[0]]))


def area_and_centre(lower: Array, upper: Array) -> tuple[float, Array]:
    """Area and centre of the strip between two lines of as many points (n, 3), by its triangles [m2],
    (3,) [m]."""
    a, b = lower, upper
    corners = np.concatenate([np.stack([a[:-1], b[:-1], a[1:]], 1), np.stack([b[:-1], b[1:], a[1:]], 1)])
    twice = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    areas = np.linalg.norm(twice, axis=1) / 2
    return float(areas.sum()), np.average(corners.mean(axis=1), axis=0, weights=areas)
