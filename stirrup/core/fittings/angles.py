"""What a straight angle or flat fills where it is set, from its heel and the way its legs go."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from stirrup.core.document import Point
from stirrup.core.parts.entries import Section

Line = tuple[Point, Point]
Bodies = tuple[tuple[Point, ...], ...]
Late = Callable[[], Bodies]  # worked out when somebody asks


def angle_bodies(section: Section, ends: Line, leg: Point, flange: Point) -> Bodies:
    """Two convex bodies of an angle, each by eight corners [m].

    ends: of the line on which its two outer faces meet; leg, flange: unit vectors along which its leg
    (`a`) and its flange (`b`) go from that line. The flange keeps the corner.
    """
    a, b, t = section.a, section.b, section.t
    return (_bar(ends, (leg, t, a), (flange, 0.0, t)), _bar(ends, (leg, 0.0, t), (flange, 0.0, b)))


def bent_flat(section: Section, ends: Line, ways: Line, into: Line) -> Bodies:
    """Two convex bodies of a flat that is bent along a line between two places, half its breadth on
    either side of it; ways: unit vectors from the line along both halves; into: those in which either
    is thick."""
    half, t = section.a / 2, section.t
    pairs = zip(ways, into, strict=True)
    return tuple(_bar(ends, (way, 0.0, half), (thick, 0.0, t)) for way, thick in pairs)


def flat_body(ends: Line, wide: float, thick: float, across: Point, out: Point) -> Bodies:
    """The convex body of a bar with the middle of one face on a line between two places: its breadth along
    one unit vector, its thickness along another [m]."""
    return (_bar(ends, (across, -wide / 2, wide / 2), (out, 0.0, thick)),)


def _bar(
    ends: Line, first: tuple[Point, float, float], second: tuple[Point, float, float]
) -> tuple[Point, ...]:
    """Corners of what reaches along a line, from one distance to another along two directions."""
    (u, u0, u1), (v, v0, v1) = first, second
    along, over = np.array(u), np.array(v)
    rows = [np.array(end) + p * along + q * over for end in ends for p in (u0, u1) for q in (v0, v1)]
    return tuple((float(x), float(y), float(z)) for x, y, z in rows)
