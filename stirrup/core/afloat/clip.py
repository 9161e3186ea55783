"""What a plane cuts off a closed mesh: volume, its moment, and the cut water plane.

The sums themselves are in hull/integrals.py.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from stirrup.core.hull.integrals import clipped
from stirrup.core.hull.mesh import Solid
from stirrup.core.record import dataclass

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Cut:
    """Part of a solid on the lower side of the plane n·r = d.

    volume_m3; moment: ∫ r dV (3,) [m4]; area_m2 of the cut plane; first: ∫ r dA (3,) [m3];
    second: ∫ r rᵀ dA (3, 3) [m4]; edge_from, edge_to: (k, 3) the cut's outline in segments [m].
    """

    volume_m3: float
    moment: Array
    area_m2: float
    first: Array
    second: Array
    edge_from: Array
    edge_to: Array


def cut(solid: Solid, n: Array, d: float) -> Cut:
    """Clip `solid` by the plane n·r = d, keeping n·r < d.

    n: unit vector (3,); d: [m]. Exact for the mesh.
    """
    return Cut(*clipped(solid.vertices, solid.triangles, n, d))


def join(solids: list[Solid]) -> Solid:
    """Several separate solids as one, so that one cut serves all."""
    if len(solids) == 1:
        return solids[0]
    offsets = np.cumsum([0] + [len(s.vertices) for s in solids[:-1]])
    return Solid(
        np.concatenate([s.vertices for s in solids]),
        np.concatenate([s.triangles + o for s, o in zip(solids, offsets, strict=True)]),
        np.concatenate([s.groups for s in solids]),
    )


def contains(solid: Solid, point: Array) -> bool:
    """Whether the point lies inside: the solid angle of all triangles is 4π there.

    Source: Van Oosterom and Strackee, The solid angle of a plane triangle, 1983.
    """
    r = solid.corners - point
    length = np.linalg.norm(r, axis=2)
    a, b, c = r[:, 0], r[:, 1], r[:, 2]
    la, lb, lc = length.T
    top = np.einsum("ij,ij->i", a, np.cross(b, c))
    bottom = la * lb * lc + (a * b).sum(1) * lc + (b * c).sum(1) * la + (c * a).sum(1) * lb
    return bool(abs(2 * np.arctan2(top, bottom).sum()) > 2 * np.pi)
