"""Where a lining lies on the inside of a side, and what that is laid flat."""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Polygon

from stirrup.core.contract.kind import Site
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.fittings.edges import breadths_at, inside_region
from stirrup.core.fittings.skin import SHEET_MARGIN_M
from stirrup.core.kinds.lining.choices import SHORTEST_M, Lining
from stirrup.core.parts.entries import Section, Sheet
from stirrup.core.record import dataclass
from stirrup.core.space.develop import area_and_centre, unrolled

Array = NDArray[np.float64]
STEP_M = 0.10  # between rulings
PLAY_M = 0.002  # between panels at a joint
BETWEEN = 5  # heights at which the side is held against its rulings


@dataclass(frozen=True)
class Piece:
    """One panel: its rulings on the side, lower and upper ends (n, 3) [m]; both edges laid flat (n, 2); how
    far its other diagonals are off, laid flat."""

    lower: Array
    upper: Array
    flat_lower: Array
    flat_upper: Array
    twist: float

    @property
    def outline(self) -> Polygon:
        """Laid flat."""
        return Polygon([*self.flat_lower.tolist(), *self.flat_upper[::-1].tolist()])


@dataclass(frozen=True)
class LaidOut:
    """Geometry shared by the steps of the build. hand: port +1, starboard -1; off: how far the panels stand
    off the hull [m]; sag: how far the side is off its rulings at worst [m]."""

    choices: Lining
    site: Site
    hand: float
    skin: Sheet | None
    batten: Section | None
    off: float
    pieces: tuple[Piece, ...]
    sag: float

    @property
    def area(self) -> float:
        """Of what is covered [m2]."""
        return sum(float(p.outline.area) for p in self.pieces)

    @property
    def ends(self) -> tuple[float, float]:
        """x of its aft and fore edge [m]."""
        return float(self.pieces[0].lower[0, 0]), float(self.pieces[-1].lower[-1, 0])

    @property
    def middle(self) -> Point:
        """Centre of what is covered, by area [m]."""
        weights, centres = zip(*(centre_of(p) for p in self.pieces), strict=True)
        x, y, z = np.average(np.array(centres), axis=0, weights=np.array(weights))
        return (float(x), float(y), float(z))


def centre_of(piece: Piece) -> tuple[float, Array]:
    """Area and centre of a piece as it lies on the side [m2], (3,) [m]."""
    return area_and_centre(piece.lower, piece.upper)


def _edge(site: Site, xs: Array, z: float, hand: float, place: str) -> Array:
    """Points of the inside of a side at a height, (n, 3). Raises CoreError where there is none."""
    low, high = breadths_at(inside_region(site.surface, z), xs)
    y = high if hand > 0 else low
    if np.isnan(y).any():
        x = float(xs[np.isnan(y)][0])
        raise CoreError(f"there is no side at {x:.3f} m from the transom, {z:.3f} m up", place)
    return np.column_stack([xs, y, np.full(len(xs), z)])


def _piece(site: Site, c: Lining, hand: float, ends: tuple[float, float]) -> Piece:
    count = max(2, math.ceil((ends[1] - ends[0]) / STEP_M) + 1)
    xs = np.linspace(*ends, count)
    lower = _edge(site, xs, c.low, hand, f"fittings.{c.id}.low")
    upper = _edge(site, xs, c.high, hand, f"fittings.{c.id}.high")
    flat = unrolled(lower, upper)
    return Piece(lower, upper, flat.lower, flat.upper, flat.twist)


def _sag_m(site: Site, c: Lining, hand: float, piece: Piece) -> float:
    """How far the side lies off the rulings of a piece, at worst [m]; nothing where it has ended."""
    worst = 0.0
    for share in np.linspace(0, 1, BETWEEN + 2)[1:-1]:
        z = c.low + share * (c.high - c.low)
        low, high = breadths_at(inside_region(site.surface, z), piece.lower[:, 0])
        there = high if hand > 0 else low
        ruled = piece.lower[:, 1] + share * (piece.upper[:, 1] - piece.lower[:, 1])
        off = np.abs(there - ruled)
        worst = max(worst, float(np.nanmax(off)) if not np.isnan(off).all() else 0.0)
    return worst


def lay_out(c: Lining, site: Site) -> LaidOut:
    """Pieces of a lining on its side. Raises CoreError where there is no side."""
    hand = 1.0 if c.side == "port" else -1.0
    panels = c.way == "panels on battens"
    skin = site.catalogue.sheet(c.skin) if panels else None
    batten = site.catalogue.section(c.batten) if panels else None
    low, high = float(site.surface.inside.low[0]), float(site.surface.inside.high[0])
    aft, fore = max(c.aft, low), min(c.fore, high)
    if fore < aft + SHORTEST_M:
        raise CoreError(
            f"from {c.aft:.3f} to {c.fore:.3f} m there is no side to line", f"fittings.{c.id}.aft"
        )
    longest = skin.width - 2 * SHEET_MARGIN_M if skin is not None else math.inf
    whole = _piece(site, c, hand, (aft, fore))
    run = float(np.ptp(whole.outline.exterior.coords.xy[0]))
    count = max(1, math.ceil(run / longest - 1e-9))
    marks, half = np.linspace(aft, fore, count + 1).tolist(), PLAY_M / 2
    pieces = [
        _piece(site, c, hand, (a + half * (k > 0), b - half * (k < count - 1)))
        for k, (a, b) in enumerate(pairwise(marks))
    ]
    off = batten.a if batten is not None else 0.0
    return LaidOut(c, site, hand, skin, batten, off, tuple(pieces), _sag_m(site, c, hand, whole))
