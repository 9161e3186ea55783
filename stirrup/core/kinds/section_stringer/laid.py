"""A section laid on the bottom: its foot, how far that is off straight, how stiff it is."""

from __future__ import annotations

import math
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.fittings.beam import Strip
from stirrup.core.hull.bottom import bottom_m
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.section_stringer.choices import SectionStringer
from stirrup.core.parts.entries import Section
from stirrup.core.record import dataclass

Array = NDArray[np.float64]
STATIONS = 25


def size_of(s: Section) -> tuple[float, float]:
    """How broad it is on the bottom, and how high [m]."""
    return {"flat": (s.t, s.a), "hat": (s.b + 2 * s.b / 3, s.a)}.get(s.shape, (s.b, s.a))


def strips_of(s: Section, e: float) -> list[Strip]:
    """It as it stands on the bottom, by strips from its foot up: webs upright, flanges level."""
    a, b, t = s.a, s.b, s.t
    foot, head = Strip(e, b, 0.0, t), Strip(e, b, a - t, a)
    return {
        "angle": [foot, Strip(e, t, t, a)],
        "channel": [foot, Strip(e, t, t, a - t), head],
        "square tube": [foot, Strip(e, 2 * t, t, a - t), head],
        "hat": [Strip(e, 2 * b / 3, 0.0, t), Strip(e, 2 * t, t, a - t), head],
        "flat": [Strip(e, t, 0.0, a)],
    }.get(s.shape, [Strip(e, b, 0.0, a)])


@dataclass(frozen=True)
class Laid:
    """It on the bottom: points of its foot's middle (n, 3) [m]."""

    c: SectionStringer
    section: Section
    foot: Array

    @cached_property
    def s(self) -> Array:
        """Distance along it from its aft end (n,) [m]."""
        return np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(self.foot, axis=0), axis=1))])

    @property
    def long(self) -> float:
        """All of it, along the bottom [m]."""
        return float(self.s[-1])

    @property
    def wide(self) -> float:
        return size_of(self.section)[0]

    @property
    def high(self) -> float:
        return size_of(self.section)[1]

    @cached_property
    def ahead(self) -> tuple[float, float]:
        """Unit vector along it in plan."""
        dx, dy = (float(v) for v in (self.foot[-1] - self.foot[0])[:2])
        flat = math.hypot(dx, dy)
        return dx / flat, dy / flat

    def at(self, k: int, side: float, up: float) -> Point:
        """A point at a station, so far to port of its middle and over its foot."""
        (cx, cy), (x, y, z) = self.ahead, (float(v) for v in self.foot[k])
        return (x - cy * side, y + cx * side, z + up)

    def middle_at(self, s: float) -> Point:
        """Its middle so far along it from its aft end [m]."""
        x, y, z = (float(np.interp(s, self.s, self.foot[:, k])) for k in range(3))
        return (x, y, z + self.high / 2)

    @cached_property
    def sag(self) -> float:
        """How far the bottom is from a straight line between its ends, at most [m]."""
        flat = np.hypot(self.foot[:, 0] - self.foot[0, 0], self.foot[:, 1] - self.foot[0, 1])
        line = np.interp(flat, flat[[0, -1]], self.foot[[0, -1], 2])
        return float(np.abs(self.foot[:, 2] - line).max())

    @cached_property
    def radius(self) -> float:
        """Least radius that it is bent to, over a quarter of its length; inf where the bottom is
        straight."""
        n, least = (STATIONS - 1) // 4, math.inf
        for k in range(STATIONS - n):
            a, m, b = self.foot[k], self.foot[k + n // 2], self.foot[k + n]
            chord = float(np.linalg.norm(b - a))
            rise = float(np.linalg.norm(m - (a + b) / 2))
            if rise > 1e-5:
                least = min(least, (chord**2 / 4 + rise**2) / (2 * rise))
        return least


def lay(c: SectionStringer, surface: HullSurface, section: Section) -> Laid:
    """Raises CoreError where there is no bottom under it."""
    y0, y1 = c.ends_y
    rows = []
    for share in np.linspace(0.0, 1.0, STATIONS):
        x, y = c.aft + share * (c.fore - c.aft), y0 + share * (y1 - y0)
        z = bottom_m(surface, float(x), float(y))
        if z is None:
            raise CoreError(f"{x:.3f} m from the transom there is no bottom under it",
                            f"fittings.{c.id}.{'aft' if share < 0.5 else 'fore'}")  # fmt: skip
        rows.append((float(x), float(y), z))
    return Laid(c, section, np.array(rows))
