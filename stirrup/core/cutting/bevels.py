"""Bevels: how far the saw is tilted along an edge so that it lies against the skin of the boat."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from stirrup.core.cutting.marking_out import MarkedOut
from stirrup.core.document import Point2
from stirrup.core.hull.mesh import TOP, Solid
from stirrup.core.parts.model import Panel, Ring

REACH_M = 0.012  # an edge that has no skin so near is not fitted to it
HAIR = 1e-9
LEAST_GAP_M = 0.0015  # that a square edge leaves on one face: less is no reason to tilt a saw
SAW_DEG = 45.0  # further no saw tilts
STEADY_DEG = 2.0  # an edge whose bevel changes by more is told at both of its ends
MOST_SHARE = 0.8  # of an edge that must lie at the skin
STEEP = 0.2  # cosine between an edge's way out and the skin's: less is no end but lies along it

Array = NDArray[np.float64]


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
    found = []
    for start, end in zip(places, (*places[1:], places[0]), strict=True):
        edge = ring[start : end + 1] if end > start else (*ring[start:], *ring[: end + 1])
        tilts = _tilts(panel, [(u + u0, v + v0) for u, v in edge], inside)
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


def _tilts(panel: Panel, edge: Sequence[Point2], inside: Solid) -> Array | None:
    """Tilt at each chord of an edge [rad], positive where the face that is seen is the smaller one; None
    where it does not lie at the skin."""
    along, across = np.array(panel.frame.along), np.array(panel.frame.across)
    facing = np.cross(along, across)
    lengths, tilts = list[float](), list[float | None]()
    for (a, b), (c, d) in pairwise(edge):
        length = math.hypot(c - a, d - b)
        if length < 1e-6:
            continue
        # outward of a ring that runs against the clock
        way = ((d - b) * along - (c - a) * across) / length
        at = np.array(panel.frame.at((a + c) / 2, (b + d) / 2))
        lengths.append(length)
        tilts.append(tilt_at_skin(inside, at, way, facing, panel.sheet.thickness / 2))
    met = sum(n for n, t in zip(lengths, tilts, strict=True) if t is not None)
    if not lengths or met < MOST_SHARE * sum(lengths):
        return None
    return np.array([t for t in tilts if t is not None])


def skin_met(inside: Solid, at: Array, way: Array) -> tuple[float, Array] | None:
    """How far the skin is from a point of an edge going outward, or a little behind it [m], and its normal;
    of several the nearest (Möller and Trumbore 1997). None where nothing ends the way out."""
    a, b, c = (inside.corners[:, k] for k in range(3))
    first, second = b - a, c - a
    across = np.cross(way, second)
    with np.errstate(divide="ignore", invalid="ignore"):
        part = 1.0 / np.einsum("ij,ij->i", first, across)
        gap = at - a
        u = np.einsum("ij,ij->i", gap, across) * part
        lift = np.cross(gap, first)
        v = lift @ way * part
        far = np.abs(np.einsum("ij,ij->i", second, lift) * part)
        there = (u >= -HAIR) & (v >= -HAIR) & (u + v <= 1 + HAIR)
    normals = inside.normals2 / np.maximum(np.linalg.norm(inside.normals2, axis=1, keepdims=True), 1e-300)
    # nothing to lie against where she is open at the top, nor along what the edge runs along
    hit = there & (inside.groups != TOP) & (normals @ way > STEEP)
    if not hit.any():
        return None
    nearest = int(np.flatnonzero(hit)[np.argmin(far[hit])])
    return float(far[nearest]), normals[nearest]


def tilt_at_skin(inside: Solid, at: Array, way: Array, facing: Array, half_m: float) -> float | None:
    """The tilt at a point of the edge [rad], where one face of the panel reaches the skin; facing: the
    panel's normal; half_m: half its thickness."""
    met = skin_met(inside, at, way)
    if met is None:
        return None
    far, normal = met
    tilt = math.atan2(float(normal @ facing), float(normal @ way))
    # the outline is that of the middle of the thickness: one of its faces is nearer
    return tilt if far - half_m * abs(math.tan(tilt)) <= REACH_M else None


def counter_clockwise(ring: Ring) -> Ring:
    """The ring against the clock."""
    area = sum(a * d - c * b for (a, b), (c, d) in zip(ring, (*ring[1:], ring[0]), strict=True))
    return ring if area > 0 else ring[::-1]


def _nearest(ring: Ring, corner: Point2) -> int:
    return min(range(len(ring)), key=lambda k: math.dist(ring[k], corner))
