"""A zone of the hull's skin: which strips, cut to lengths and heights; its area, middle, and edges."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from stirrup.core.hull.mesh import AFT, PAD, HullSurface, Solid, group_of
from stirrup.core.record import dataclass

Array = NDArray[np.float64]
Part = Literal["bottom", "sides", "transom"]
WELD_M = 1e-7  # corners nearer than this are one
LEAST_M2 = 1e-12


@dataclass(frozen=True)
class Zone:
    """Triangles of a zone, (n, 3, 3) [m]."""

    corners: Array

    @property
    def areas(self) -> Array:
        """Of its triangles, (n,) [m2]."""
        a, b, c = self.corners[:, 0], self.corners[:, 1], self.corners[:, 2]
        return np.asarray(np.linalg.norm(np.cross(b - a, c - a), axis=1) / 2)

    @property
    def area_m2(self) -> float:
        """By its triangles."""
        return float(self.areas.sum())

    @property
    def middle(self) -> tuple[float, float, float]:
        """Centre of its area [m]. Not for an empty one."""
        x, y, z = np.average(self.corners.mean(axis=1), axis=0, weights=self.areas)
        return (float(x), float(y), float(z))

    @property
    def around_m(self) -> float:
        """Length of its edges: sides of triangles that no other one shares [m]."""
        near = np.round(self.corners.reshape(-1, 3) / WELD_M)
        points, number = np.unique(near, axis=0, return_inverse=True)
        ids = number.reshape(-1, 3)
        sides = np.sort(np.concatenate([ids[:, [0, 1]], ids[:, [1, 2]], ids[:, [2, 0]]]), axis=1)
        sides = sides[sides[:, 0] != sides[:, 1]]
        found, count = np.unique(sides, axis=0, return_counts=True)
        a, b = points[found[count == 1]].transpose(1, 0, 2) * WELD_M
        return float(np.linalg.norm(a - b, axis=1).sum())

    def across(self, x: float) -> tuple[Array, Array] | None:
        """Least and greatest y and z of its cut at x, (2,) each [m]; None where it is not."""
        off = self.corners[:, :, 0] - x
        points = []
        for i, j in ((0, 1), (1, 2), (2, 0)):
            p, q = off[:, i], off[:, j]
            met = ((p <= 0) & (q >= 0)) | ((p >= 0) & (q <= 0))
            run = np.where(np.abs(q - p) > 1e-12, q - p, 1.0)
            share = np.where(np.abs(q - p) > 1e-12, -p / run, 0.0)[met, None]
            points.append(self.corners[met, i] + share * (self.corners[met, j] - self.corners[met, i]))
        found = np.concatenate(points)
        if not len(found):
            return None
        return np.asarray(found.min(axis=0)[1:]), np.asarray(found.max(axis=0)[1:])


def _cut(corners: Array, axis: int, value: float, above: bool) -> Array:
    """What of some triangles lies on one side of a plane.

    A triangle with one corner inside gives one, with two inside two. Source: clipping of a convex polygon
    by a half-space.
    """
    inside = (corners[:, :, axis] >= value) if above else (corners[:, :, axis] <= value)
    count = inside.sum(axis=1)
    out = [corners[count == 3]]
    for some in (1, 2):
        those, flags = corners[count == some], inside[count == some]
        if not len(those):
            continue
        # turned so that the corner that is alone on its side comes first
        lone = flags.argmax(axis=1) if some == 1 else (~flags).argmax(axis=1)
        rows = np.arange(len(those))
        a, b, c = (those[rows, (lone + k) % 3] for k in range(3))
        to_b = (value - a[:, axis]) / (b[:, axis] - a[:, axis])
        to_c = (value - a[:, axis]) / (c[:, axis] - a[:, axis])
        p, q = a + to_b[:, None] * (b - a), a + to_c[:, None] * (c - a)
        if some == 1:
            out.append(np.stack([a, p, q], axis=1))
        else:
            out += [np.stack([p, b, c], axis=1), np.stack([p, c, q], axis=1)]
    return np.concatenate(out)


def strips_of(surface: HullSurface, part: Part) -> tuple[int, ...]:
    """Strips that are bottom, or sides: whether their faces look more down than outboard, by area."""
    solid, out = surface.outside, []
    for strip in range(surface.strips):
        mine = np.isin(solid.groups, [group_of(0, strip), group_of(1, strip)])
        _, y, z = np.abs(solid.normals2[mine]).sum(axis=0)
        if (z > y) == (part == "bottom"):
            out.append(strip)
    return tuple(out)


def _groups(surface: HullSurface, part: Part, sides: Sequence[int]) -> list[int]:
    if part == "transom":
        return [AFT]
    mine = [group_of(side, strip) for side in sides for strip in strips_of(surface, part)]
    return [*mine, PAD] if part == "bottom" else mine


def zone(
    surface: HullSurface, solid: Solid, part: Part, sides: Sequence[int],
    x: tuple[float, float], z: tuple[float, float],
) -> Zone:  # fmt: skip
    """A zone of the outside or the inside. sides: 0 port, 1 starboard; of a transom always both; x, z: from
    where to where [m]; of a transom only z counts."""
    there = solid.corners[np.isin(solid.groups, _groups(surface, part, sides))]
    planes = [(2, z[0], True), (2, z[1], False)]
    if part != "transom":
        planes += [(0, x[0], True), (0, x[1], False)]
        planes += [(1, 0.0, side == 0) for side in sides if len(sides) == 1]
    for axis, value, above in planes:
        there = _cut(there, axis, value, above)
    # a corner that lies on a plane leaves slivers, whose sides would hide the edge
    return Zone(there[Zone(there).areas > LEAST_M2])
