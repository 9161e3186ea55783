"""What a plane cuts off a closed mesh: volume, its moment, and the cut water plane.

All sums use the foot of the plane (the point n·d) as apex, so that the missing cap of the
clipped solid adds nothing (divergence theorem; any text on polyhedral mass properties).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from stirrup.core.hull.mesh import Solid

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
    foot = n * d
    level = solid.vertices @ n - d
    below = level < 0
    t0, t1, t2 = solid.columns
    count = solid.tally(below)
    # six times the volume from the foot of the plane, for every whole triangle
    whole = solid.determinants - solid.normals2 @ foot
    full = np.where(count == 3, whole, 0.0)
    volume6 = float(full.sum())
    moment24 = full @ solid.corner_sums

    part = np.flatnonzero((count == 1) | (count == 2))
    one = count[part] == 1
    i, j, k = t0[part], t1[part], t2[part]
    # turn each triangle so that the corner alone on its side comes first
    second_odd, third_odd = below[j] == one, below[k] == one
    first_odd = below[i] == one
    a = np.where(first_odd, i, np.where(second_odd, j, k))
    b = np.where(first_odd, j, np.where(second_odd, k, i))
    c = np.where(third_odd, j, np.where(first_odd, k, i))
    ha = level[a]
    share_b, share_c = ha / (ha - level[b]), ha / (ha - level[c])
    ra, rb, rc = solid.vertices[a], solid.vertices[b], solid.vertices[c]
    p = ra + share_b[:, None] * (rb - ra)
    q = ra + share_c[:, None] * (rc - ra)
    whole = whole[part]
    sign = np.where(one, 1.0, -1.0)
    tip = sign * whole * share_b * share_c
    rest = np.where(one, 0.0, whole)
    volume6 += float(tip.sum() + rest.sum())
    moment24 = moment24 + tip @ (ra + p + q) + rest @ solid.corner_sums[part] + volume6 * foot

    p0, q0 = p - foot, q - foot
    (px, py, pz), (qx, qy, qz) = p0.T, q0.T
    normal = n[0] * (qy * pz - qz * py) + n[1] * (qz * px - qx * pz) + n[2] * (qx * py - qy * px)
    area = sign / 2 * normal
    total = float(area.sum())
    both = p0 + q0
    first0 = area @ both / 3
    arms = np.concatenate([p0, q0, both])
    second0 = (arms * np.concatenate([area, area, area])[:, None]).T @ arms / 12
    first = first0 + total * foot
    cross = first0[:, None] * foot
    second = second0 + cross + cross.T + total * (foot[:, None] * foot)
    return Cut(volume6 / 6, moment24 / 24, total, first, second, p, q)


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
