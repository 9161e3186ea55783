"""Ends of cross members against a side that flares and runs in: what goes in, and how it is cut.

A member is an angle, flange under the panel, leg down on one of its edges. Each end must clear the
side angle's leg, the bracket and some play, square to the side, with every corner of its leg. Its
flange lies where the side angle's flange lies, so it is cut back and only the leg goes under.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

from shapely import box
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from stirrup.core.document import Point
from stirrup.core.fittings.edges import Breadths, breadth_at, inside_region, largest
from stirrup.core.fittings.framing import SAME_M
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kept import kept_property
from stirrup.core.parts.entries import Section
from stirrup.core.parts.model import EndCut
from stirrup.core.record import dataclass

Pair = tuple[float, float]

SQUARE = EndCut(0.0, 0.0)
LEAST_ANGLE_DEG = 3.0  # under this a saw's own error is as large
LEAST_GAIN_M = 0.010  # a square end that stands no further off the side than this stays square


@dataclass(frozen=True)
class Joint:
    """What a member meets at an end: a bracket on the other's leg, and play [m]."""

    bracket: float
    play: float

    def against(self, at: float, b: float, t: float, far: float) -> tuple[float, float]:
        """Where a square end stops that comes towards a member whose middle lies at `at`, and how
        far its flange is cut back from there to pass under the other's [m].

        far: +1 when the other's leg is on its far edge, -1 on its near one. b, t: of the other one.
        """
        face = at + (b / 2 - t if far > 0 else -b / 2)
        end = face - self.bracket - self.play
        return end, max(0.0, end - (at - b / 2 - self.play))


Corners = tuple[Point, ...]


@dataclass(frozen=True)
class End:
    """One end of a member: how far from the middle it reaches on its top's long point and on its
    middle line [m], both along +y for port; the saw's settings; how far the flange is cut back;
    corners of leg and flange there, four each."""

    long: float
    middle: float
    cut: EndCut
    cope: float
    leg: Corners
    flange: Corners

    def mirrored(self) -> End:
        """The same end, its corners on the other side of the middle."""
        leg, flange = (tuple((u, -y, z) for u, y, z in c) for c in (self.leg, self.flange))
        return replace(self, leg=leg, flange=flange)


def bodies(one: End, other: End) -> tuple[Corners, ...]:
    """Leg and flange between two ends, port first; no flange where both are cut back to the middle."""
    there = min(p[1] - q[1] for p, q in zip(one.flange, other.flange, strict=True)) > 0
    return ((*one.leg, *other.leg), *(((*one.flange, *other.flange),) if there else ()))


@dataclass(frozen=True)
class Sides:
    """Half-breadths inside of the hull at the heights of a member's section, z downward."""

    surface: HullSurface
    under: float  # underside of the panel [m]
    source: Section
    joint: Joint

    @kept_property
    def _heights(self) -> dict[float, Breadths]:
        """The hull's inside at each height that an end is looked at, by how far under the panel."""
        drops = (0.0, self.source.t, self.source.a)
        return {drop: self._breadths(drop) for drop in drops}

    def _breadths(self, drop: float) -> Breadths:
        z = self.under - drop
        return self.surface.levels.get(
            ("breadths", z), lambda: Breadths(inside_region(self.surface, z))
        )  # fmt: skip

    @staticmethod
    def _half(there: Breadths, sign: float, x: float) -> float:
        found = there.at(x)
        return 0.0 if found is None else max(found[1] if sign > 0 else -found[0], 0.0)

    def reach(self, sign: float, x: float, drop: float) -> float:
        """Half-breadth to a side at x, `drop` under the panel: none, a leg's thickness or its depth
        [m]; 0 where there is no hull."""
        return self._half(self._heights[drop], sign, x)

    @kept_property
    def _between_flanges(self) -> Breadths:
        """What the side angles' flanges leave of the panel's underside."""
        wide = self.source.b + self.joint.play
        return self.surface.levels.get(
            ("between", self.under, wide), lambda: Breadths(between_flanges(self.surface, self.under, wide))
        )  # fmt: skip

    def widens(self, x: float) -> float:
        """-1 where the hull is wider at the aft edge of a member at x, else +1: where its leg goes."""
        a, half = self.source.a, self.source.b / 2
        aft, fore = (self.reach(1.0, u, a) + self.reach(-1.0, u, a) for u in (x - half, x + half))
        return -1.0 if aft >= fore else 1.0

    def _edges(self, x: float, leg: float) -> tuple[Pair, Pair]:
        """Edges of the flange and faces of the leg along the boat, aft first [m]."""
        b, t = self.source.b, self.source.t
        near = x - b / 2 if leg < 0 else x + b / 2 - t
        return (x - b / 2, x + b / 2), (near, near + t)

    def end(self, x: float, sign: float, leg: float) -> End:
        """The end at the hull of a member at x, towards port (sign +1) or starboard (-1); its leg
        on its fore edge (leg +1) or its aft one (-1)."""
        a, t = self.source.a, self.source.t
        xs, legs = self._edges(x, leg)
        aft, fore = (self.reach(sign, u, 0.0) for u in xs)
        middle, deep = self.reach(sign, x, 0.0), self.reach(sign, x, a)
        run_in = (fore - aft) / self.source.b
        flare = (middle - deep) / a if deep > 0 else 0.0
        # square to the side: a plane y = run_in x + flare z has this share of its normal athwart
        lap = (t + self.joint.bracket + self.joint.play) * math.sqrt(1 + run_in**2 + flare**2)
        # the flange is cut back: only the leg comes to the side
        places = [(u, drop, self.reach(sign, u, drop)) for drop in (0.0, t, a) for u in legs]
        limits = [y - lap for _, _, y in places]
        square = min(limits)
        lean = [run_in * (u - x) - flare * drop for u, drop, _ in places]
        plane = min(limit - d for limit, d in zip(limits, lean, strict=True))
        long = plane + max(lean[:2])
        mitre = math.degrees(math.atan(run_in))
        bevel = math.degrees(math.atan(flare * math.cos(math.atan(run_in))))
        fitted = max(abs(mitre), abs(bevel)) > LEAST_ANGLE_DEG and long - square > LEAST_GAIN_M

        def at(u: float, drop: float) -> float:
            return plane + run_in * (u - x) - flare * drop if fitted else square

        free = [self._half(self._between_flanges, sign, u) for u in xs]
        cope = max(at(u, drop) - y for u, y in zip(xs, free, strict=True) for drop in (0.0, t))
        cope = max(cope, 0.0)
        corners = self._corners(xs, legs, lambda u, drop: sign * at(u, drop),
                                lambda u, drop: sign * (at(u, drop) - cope))  # fmt: skip
        longer = "aft" if run_in < 0 else "fore"
        cut = EndCut(abs(mitre), abs(bevel), longer, flare < 0) if fitted else SQUARE
        return End(long if fitted else square, at(x, a / 2), cut, cope, *corners)

    def _corners(
        self, xs: Pair, legs: Pair, leg_y: Callable[..., float], flange_y: Callable[..., float]
    ) -> tuple[Corners, Corners]:
        a, t = self.source.a, self.source.t
        leg = tuple((u, leg_y(u, d), self.under - d) for d in (t, a) for u in legs)
        flange = tuple((u, flange_y(u, d), self.under - d) for d in (0.0, t) for u in xs)
        return leg, flange

    def inner(self, x: float, leg: float, y: float, sign: float, track_leg: float) -> End:
        """An end at a track beside an opening whose middle lies at y, to port (sign +1) of the piece
        or to starboard (-1); track_leg: the track's leg is on its port (+1) or starboard edge."""
        source = self.source
        end, cope = self.joint.against(sign * y, source.b, source.t, sign * track_leg)
        corners = self._corners(*self._edges(x, leg), lambda u, drop: sign * end,
                                lambda u, drop: sign * (end - cope))  # fmt: skip
        return End(end, end, SQUARE, cope, *corners)


def between_flanges(surface: HullSurface, under: float, wide: float) -> Polygon:
    """The hull's inside at the underside of a panel, less a strip `wide` along the sides [m]. Along a
    transom lies no side angle: there it reaches to the end. Kept with the hull's level."""
    return surface.levels.get(("left", under, wide), lambda: _between_flanges(surface, under, wide))


def _between_flanges(surface: HullSurface, under: float, wide: float) -> Polygon:
    room = inside_region(surface, under)
    if room.is_empty:
        return room
    x0, y0, x1, y1 = room.bounds
    whole: BaseGeometry = room
    for end, way in ((x0, -1.0), (x1, 1.0)):
        sides = breadth_at(room, end - way * SAME_M)
        if sides is not None and sides[1] - sides[0] > 2 * wide:
            beyond = sorted((end - way * SAME_M, end + way * 2 * wide))
            whole = whole.union(box(beyond[0], sides[0], beyond[1], sides[1]))
    left = largest(whole).buffer(-wide, join_style="mitre").intersection(box(x0, y0, x1, y1))
    return largest(left)
