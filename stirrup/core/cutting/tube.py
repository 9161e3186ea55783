"""A round tube that is cut to fit others at its ends, unrolled: a paper to wrap round it.

The tube's axis runs along D = (sin a, 0, cos a) from a main tube whose axis is z and whose radius is R,
`off` beside it. Its surface at angle p is at t D + r (cos p U + sin p V), with U = (-cos a, 0, sin a) and
V = (0, 1, 0); on the main tube x² + y² = R², so

    t(p) = (sqrt(R² - (off + r sin p)²) + r cos p cos a) / sin a.

Against a flat face R falls away: t(p) = r cos p / tan a. Source: intersection of two cylinders, any text on
descriptive geometry; the paper lies on the outside.
"""

from __future__ import annotations

import math
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Polygon

from stirrup.core.document import Point2
from stirrup.core.errors import CoreError
from stirrup.core.record import dataclass
from stirrup.core.units import Units, write_length

Array = NDArray[np.float64]
Meets = Literal["a round tube", "a flat face", "nothing: square"]
MEETS: tuple[Meets, ...] = get_args(Meets)
STEPS = 144  # round the tube: every 2.5 degrees
LEAST_DEG, MOST_DEG = 15.0, 165.0
LEAST_M, MOST_M = 0.006, 0.3
MOST_LONG_M = 12.0
HANDS = 12  # ordinates that are told, to mark by hand


@dataclass(frozen=True)
class TubeEnd:
    """What an end meets: the angle between both axes (or to the face) [deg], across that tube, how far its
    axis passes beside this one's [m]."""

    meets: Meets = "a round tube"
    angle_deg: float = 90.0
    across: float = 0.0
    off: float = 0.0


@dataclass(frozen=True)
class Tube:
    """A tube: across outside [m], from one meeting of axes to the other [m], its ends, and how far the last
    is turned about its axis against the first [deg]."""

    across: float
    long: float
    first: TubeEnd
    last: TubeEnd
    twist_deg: float = 0.0


@dataclass(frozen=True)
class Unrolled:
    """The development of a tube [m]: round it along x, along it y, its least y at 0; outline; how far along
    it either end is at places round it, every 30°; the stick it takes; where the meeting of axes lies on
    y."""

    outline: Polygon
    first: tuple[float, ...]
    last: tuple[float, ...]
    stick: float
    zero: float

    @property
    def round_m(self) -> float:
        """Once round the tube."""
        return float(self.outline.bounds[2])


def end_line(across: float, end: TubeEnd, angles: Array, units: Units, place: str) -> Array:
    """How far from the meeting of axes the tube begins at angles round it [m]. Raises CoreError where it is
    not met all round."""
    r = across / 2
    if end.meets == "nothing: square":
        return np.zeros_like(angles)
    if not LEAST_DEG <= end.angle_deg <= MOST_DEG:
        raise CoreError(
            f"read {end.angle_deg:g}°; accepted: {LEAST_DEG:g} to {MOST_DEG:g}°", f"{place}-angle"
        )
    a = math.radians(end.angle_deg)
    lean = r * np.cos(angles) * math.cos(a)
    if end.meets == "a flat face":
        return np.asarray(lean / math.sin(a))
    main = end.across / 2
    side = end.off + r * np.sin(angles)
    if np.abs(side).max() > main + 1e-9:
        raise CoreError(
            f"it reaches {write_length(float(np.abs(side).max()), units)} beside the other tube's axis, "
            f"whose radius is {write_length(main, units)}; accepted: a tube that is met all round",
            f"{place}-across",
        )
    return np.asarray((np.sqrt(np.maximum(main**2 - side**2, 0.0)) + lean) / math.sin(a))


def unrolled(tube: Tube, units: Units) -> Unrolled:
    """The tube's development. Raises CoreError with the field that is wrong."""
    if not LEAST_M <= tube.across <= MOST_M:
        raise CoreError(f"read {write_length(tube.across, units)}; accepted: "
                        f"{write_length(LEAST_M, units)} to "
                        f"{write_length(MOST_M, units)}", "across")  # fmt: skip
    if not 0 < tube.long <= MOST_LONG_M:
        raise CoreError(f"read {write_length(tube.long, units)}; accepted: up to "
                        f"{write_length(MOST_LONG_M, units)}", "long")  # fmt: skip
    angles = np.linspace(0.0, 2 * math.pi, STEPS + 1)
    low = end_line(tube.across, tube.first, angles, units, "first")
    # the far end is seen from its own side: what turns to the left there turns to the right here
    turned = angles - math.radians(tube.twist_deg)
    high = tube.long - end_line(tube.across, tube.last, -turned, units, "last")
    if float((high - low).min()) <= 0:
        raise CoreError(f"both cuts meet: it is too short by "
                        f"{write_length(float((low - high).max()), units)}",
                        "long")  # fmt: skip
    zero = float(low.min())
    along = angles * tube.across / 2
    lower = list(zip(along.tolist(), (low - zero).tolist(), strict=True))
    upper = list(zip(along.tolist(), (high - zero).tolist(), strict=True))
    every = STEPS // HANDS
    return Unrolled(
        Polygon([*lower, *reversed(upper)]), tuple((low - zero)[:-1:every].tolist()),
        tuple((high - zero)[:-1:every].tolist()), float(high.max() - zero), -zero,
    )  # fmt: skip


def wrap_lines(u: Unrolled) -> list[tuple[Point2, Point2]]:
    """Lines along the tube at its four quarters, to be laid on lines on the tube [m]."""
    high = float(u.outline.bounds[3])
    return [((k * u.round_m / 4, 0.0), (k * u.round_m / 4, high)) for k in range(1, 4)]
