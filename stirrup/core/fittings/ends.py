"""Ends of cross members against a side that flares and runs in: what goes in, and how it is cut.

A member is an angle, flange under the panel, leg down on the side where the hull is wider. Each end
must clear the side angle's leg, the bracket and some play, square to the side, with every corner
of its section, not only on the middle line of its top.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from stirrup.core.document import Point
from stirrup.core.fittings.edges import breadths_at, inside_region
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.parts.catalogue import Stick
from stirrup.core.parts.model import EndCut

Array = NDArray[np.float64]

SQUARE = EndCut(0.0, 0.0)
LEAST_ANGLE_DEG = 3.0  # under this a saw's own error is as large
LEAST_GAIN_M = 0.010  # a square end that stands no further off the side than this stays square


@dataclass(frozen=True)
class End:
    """One end of a member: how far from the middle it reaches on its top's long point and on its
    middle line [m], both along +y for port; the saw's settings; corners of the section there."""

    long: float
    middle: float
    cut: EndCut
    corners: tuple[Point, ...]


@dataclass(frozen=True)
class Sides:
    """Half-breadths inside of the hull at the heights of a member's section, z downward."""

    surface: HullSurface
    under: float  # underside of the panel [m]
    source: Stick
    lap: float  # side angle's leg, bracket and play, square to the side [m]

    def reach(self, sign: float, x: Array, drop: float) -> Array:
        """Half-breadth to a side at stations x, `drop` under the panel [m]; 0 where there is no hull."""
        low, high = breadths_at(inside_region(self.surface, self.under - drop), x)
        found = high if sign > 0 else -low
        return np.asarray(np.maximum(np.nan_to_num(found, nan=0.0), 0.0))

    def end(self, x: float, sign: float) -> End:
        """The end of a member at x towards port (sign +1) or starboard (-1)."""
        a, b, t = self.source.a, self.source.b, self.source.t
        xs = np.array([x - b / 2, x + b / 2])
        top, flange, foot = (self.reach(sign, xs, drop) for drop in (0.0, t, a))
        middle, deep = (float(self.reach(sign, np.array([x]), drop)[0]) for drop in (0.0, a))
        run_in = float(top[1] - top[0]) / b
        flare = (middle - deep) / a if deep > 0 else 0.0
        # square to the side: a plane y = run_in x + flare z has this share of its normal athwart
        lap = self.lap * math.sqrt(1 + run_in**2 + flare**2)
        aft_is_wide = foot[0] >= foot[1]
        leg = np.array([xs[0], xs[0] + t]) if aft_is_wide else np.array([xs[1] - t, xs[1]])
        places = [(float(u), 0.0, float(y)) for u, y in zip(xs, top, strict=True)]
        places += [(float(u), t, float(y)) for u, y in zip(xs, flange, strict=True)]
        places += [(float(u), a, float(y)) for u, y in zip(leg, self.reach(sign, leg, a), strict=True)]
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

        corners = tuple((u, sign * at(u, drop), self.under - drop) for u, drop, _ in places)
        cut = EndCut(abs(mitre), abs(bevel), "aft" if run_in < 0 else "fore") if fitted else SQUARE
        return End(long if fitted else square, at(x, a / 2), cut, corners)

    def inner(self, x: float, y: float, clear: float) -> End:
        """An end at a track beside an opening at y: square, `clear` short of the track's middle line,
        measured from the middle as `end` does towards the side that `y` lies beyond."""
        a, b, t = self.source.a, self.source.b, self.source.t
        places = [(x - b / 2, 0.0), (x + b / 2, 0.0), (x - b / 2, t), (x + b / 2, t), (x - b / 2, a)]
        return End(y - clear, y - clear, SQUARE, tuple((u, y - clear, self.under - d) for u, d in places))


Ends = Callable[[float, float], End]
