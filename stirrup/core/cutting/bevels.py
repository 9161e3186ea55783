"""Bevels: how far the saw is tilted along an edge so that it lies against the skin of the boat."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial

import numpy as np
from numpy.typing import NDArray

from stirrup.core.cutting.marking_out import MarkedOut
from stirrup.core.document import Point2
from stirrup.core.hull.mesh import TOP, Solid
from stirrup.core.loops import compiled
from stirrup.core.memo import ByIdentity
from stirrup.core.parts.model import Panel, Ring
from stirrup.core.record import dataclass

REACH_M = 0.012  # an edge that has no skin so near is not fitted to it
HAIR = 1e-9
LEAST_GAP_M = 0.0015  # that a square edge leaves on one face: less is no reason to tilt a saw
SAW_DEG = 45.0  # further no saw tilts
STEADY_DEG = 2.0  # an edge whose bevel changes by more is told at both of its ends
MOST_SHARE = 0.8  # of an edge that must lie at the skin
STEEP = 0.2  # cosine between an edge's way out and the skin's: less is no end but lies along it

REACHES = ByIdentity(20)
Array = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Bevel:
    """An edge from one corner to the next (by their numbers), the tilt of the saw at either of them
    [deg], which face is the larger one, and by how much at most [m]."""

    one: int
    other: int
    tilts_deg: tuple[float, float]
    seen_larger: bool
    larger_m: float

    @property
    def too_flat(self) -> bool:
        """Whether it is more than a saw tilts somewhere."""
        return max(self.tilts_deg) > SAW_DEG

    @property
    def steady(self) -> bool:
        """Whether one setting does for all of it."""
        return abs(self.tilts_deg[0] - self.tilts_deg[1]) <= STEADY_DEG


def bevels(panel: Panel, out: MarkedOut, inside: Solid) -> tuple[Bevel, ...]:
    """The edges of a panel that a saw is tilted for. inside: the inner face of the boat's skin.

    Where the edge goes on outward, in the panel's plane, it meets the skin; with n the skin's outward
    normal there, u the way out and p the panel's normal towards who sees it, the edge lies in the skin
    when it is tilted by atan2(n·p, n·u) from square (the part of n in the plane of u and p).
    """
    if panel.bends or len(out.corners) < 2:
        return ()
    u0, v0, _, _ = panel.polygon.bounds
    ring = counter_clockwise(tuple((u - u0, v - v0) for u, v in panel.outline))
    places = sorted(_nearest(ring, c) for c in out.corners)
    numbers = {_nearest(ring, c): k for k, c in enumerate(out.corners, start=1)}
    found, skin = [], skin_of(inside)
    for start, end in zip(places, (*places[1:], places[0]), strict=True):
        edge = ring[start : end + 1] if end > start else (*ring[start:], *ring[: end + 1])
        tilts = _tilts(panel, [(u + u0, v + v0) for u, v in edge], skin)
        if tilts is not None:
            found.append(_bevel(panel, numbers[start], numbers[end], tilts))
    return tuple(b for b in found if b is not None)


def _bevel(panel: Panel, one: int, other: int, tilts: Array) -> Bevel | None:
    largest = float(tilts[np.argmax(np.abs(tilts))])
    larger = panel.sheet.thickness * abs(math.tan(largest))
    if larger < LEAST_GAP_M:
        return None
    first, last = (abs(math.degrees(float(t))) for t in (tilts[0], tilts[-1]))
    return Bevel(one, other, (first, last), largest < 0, larger)


def _tilts(panel: Panel, edge: Sequence[Point2], skin: Skin) -> Array | None:
    """Tilt at each chord of an edge [rad], positive where the face that is seen is the smaller one; None
    where it does not lie at the skin."""
    along, across = np.array(panel.frame.along), np.array(panel.frame.across)
    corners = np.array(edge)
    chords = np.diff(corners, axis=0)
    lengths = np.hypot(chords[:, 0], chords[:, 1])
    whole = lengths >= 1e-6
    chords, lengths, corners = chords[whole], lengths[whole], corners[:-1][whole]
    if not len(chords):
        return None
    # outward of a ring that runs against the clock
    ways = (chords[:, 1:] * along - chords[:, :1] * across) / lengths[:, None]
    middles = corners + chords / 2
    at = np.array(panel.frame.origin) + middles[:, :1] * along + middles[:, 1:] * across
    tilts = tilts_at_skin(skin, at, ways, np.cross(along, across), panel.sheet.thickness / 2)
    met = ~np.isnan(tilts)
    return tilts[met] if lengths[met].sum() >= MOST_SHARE * lengths.sum() else None


@dataclass(frozen=True)
class Skin:
    """What an edge can lie against: triangles by their corners (n, 3, 3), and their normals (n, 3)."""

    corners: Array
    normals: Array


def _reaches(inside: Solid) -> tuple[Array, Array]:
    """Least and greatest corner of the box around every triangle, (n, 3) each [m]."""
    return inside.corners.min(axis=1), inside.corners.max(axis=1)


def skin_of(inside: Solid, near: tuple[Array, Array] | None = None) -> Skin:
    """The inner face of the skin, but not where she is open at the top; near: only what reaches into a box
    between two corners."""
    there = inside.groups != TOP
    if near is not None:
        low, high = REACHES.get(inside, None, partial(_reaches, inside))
        there = there & np.all((low <= near[1]) & (high >= near[0]), axis=1)
    normals = inside.normals2[there]
    lengths = np.linalg.norm(normals, axis=1, keepdims=True)
    return Skin(inside.corners[there], normals / np.maximum(lengths, 1e-300))


def tilts_at_skin(skin: Skin, at: Array, ways: Array, facing: Array, half_m: float) -> Array:
    """The tilt at points of the edge (m, 3) [rad], where one face of the panel reaches the skin; NaN where
    none does. ways: outward there, in the panel's plane; facing: the panel's normal; half_m: half its
    thickness.

    Of several triangles that are met going outward, or a little behind, the nearest one counts (Möller and
    Trumbore 1997). There is nothing to lie against along what the edge runs along.
    """
    which, far = met_going(skin.corners, skin.normals, at, ways)
    out = np.full(len(at), np.nan)
    for m in np.flatnonzero(which >= 0).tolist():
        normal = skin.normals[which[m]]
        tilt = math.atan2(float(normal @ facing), float(normal @ ways[m]))
        # the outline is that of the middle of the thickness: one of its faces is nearer
        if far[m] - half_m * abs(math.tan(tilt)) <= REACH_M:
            out[m] = tilt
    return out


def _met_by_arrays(corners: Array, normals: Array, at: Array, ways: Array) -> tuple[Ints, Array]:
    which, nearest = np.full(len(at), -1), np.full(len(at), np.inf)
    if not len(corners):
        return which, nearest
    a, b, c = (corners[:, k] for k in range(3))
    first, second = b - a, c - a
    across = np.cross(ways[:, None], second)
    with np.errstate(divide="ignore", invalid="ignore"):
        part = 1.0 / np.einsum("ij,mij->mi", first, across)
        gap = at[:, None] - a
        u = np.einsum("mij,mij->mi", gap, across) * part
        lift = np.cross(gap, first)
        v = np.einsum("mij,mj->mi", lift, ways) * part
        far = np.abs(np.einsum("ij,mij->mi", second, lift) * part)
        there = (u >= -HAIR) & (v >= -HAIR) & (u + v <= 1 + HAIR)
    hit = there & (ways @ normals.T > STEEP)
    far = np.where(hit, far, np.inf)
    found = far.argmin(axis=1)
    nearest = far[np.arange(len(at)), found]
    return np.where(np.isfinite(nearest), found, -1), nearest


@compiled(_met_by_arrays)
def met_going(corners: Array, normals: Array, at: Array, ways: Array) -> tuple[Ints, Array]:
    """Of triangles (n, 3, 3) the nearest one that each point (m, 3) meets going its way (m, 3), or a little
    behind it, and how far off it is [m]; -1 where there is none. normals: of the triangles (n, 3), of
    length 1."""
    which, nearest = np.full(len(at), -1), np.full(len(at), np.inf)
    for m in range(len(at)):
        wx, wy, wz = ways[m, 0], ways[m, 1], ways[m, 2]
        for t in range(len(corners)):
            if wx * normals[t, 0] + wy * normals[t, 1] + wz * normals[t, 2] <= STEEP:
                continue
            ax, ay, az = corners[t, 0, 0], corners[t, 0, 1], corners[t, 0, 2]
            fx, fy, fz = corners[t, 1, 0] - ax, corners[t, 1, 1] - ay, corners[t, 1, 2] - az
            sx, sy, sz = corners[t, 2, 0] - ax, corners[t, 2, 1] - ay, corners[t, 2, 2] - az
            cx, cy, cz = wy * sz - wz * sy, wz * sx - wx * sz, wx * sy - wy * sx
            whole = fx * cx + fy * cy + fz * cz
            if whole == 0.0:
                continue
            gx, gy, gz = at[m, 0] - ax, at[m, 1] - ay, at[m, 2] - az
            u = (gx * cx + gy * cy + gz * cz) / whole
            lx, ly, lz = gy * fz - gz * fy, gz * fx - gx * fz, gx * fy - gy * fx
            v = (lx * wx + ly * wy + lz * wz) / whole
            if u < -HAIR or v < -HAIR or u + v > 1 + HAIR:
                continue
            far = abs((sx * lx + sy * ly + sz * lz) / whole)
            if far < nearest[m]:
                which[m], nearest[m] = t, far
    return which, nearest


def counter_clockwise(ring: Ring) -> Ring:
    """The ring against the clock."""
    area = sum(a * d - c * b for (a, b), (c, d) in zip(ring, (*ring[1:], ring[0]), strict=True))
    return ring if area > 0 else ring[::-1]


def _nearest(ring: Ring, corner: Point2) -> int:
    return min(range(len(ring)), key=lambda k: math.dist(ring[k], corner))
