"""Structure taken from a photo: four marks on it whose places are known, then two corners of each thing.

What is clicked lies in the plane of the marks, the floor, a bulkhead, a side; how far it reaches out of
that is typed. Nothing here knows the lens: a photo bends straight lines near its edges, so marks and things
are best kept in its middle.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal, get_args

from stirrup.core.document import Box, Point2
from stirrup.core.errors import CoreError
from stirrup.core.record import dataclass
from stirrup.core.space.projective import Projective, projective
from stirrup.core.units import Units, write_length

Seen = Literal["from above", "across her", "from the side"]
SEEN: tuple[Seen, ...] = get_args(Seen)
# of each: the axes of its plane, the one that goes out of it
AXES: dict[Seen, tuple[int, int, int]] = {
    "from above": (0, 1, 2),
    "across her": (1, 2, 0),
    "from the side": (0, 2, 1),
}
LEAST_M, FARTHEST_M = 0.003, 40.0
FINE = 1 / 1000  # of the photo: as well as somebody clicks


@dataclass(frozen=True)
class Taped:
    """A rectangle in a plane of the boat that is seen on a photo: how it is seen, its span along both axes
    of the plane [m], and where its corners are on the photo, in shares of its width and height: low low,
    high low, high high, low high."""

    seen: Seen
    a: Point2
    b: Point2
    marks: tuple[Point2, Point2, Point2, Point2]

    @property
    def corners(self) -> tuple[Point2, Point2, Point2, Point2]:
        """Of the rectangle in its plane [m]."""
        (a0, a1), (b0, b1) = self.a, self.b
        return (a0, b0), (a1, b0), (a1, b1), (a0, b1)

    def map(self) -> Projective:
        """From the photo to the plane. Raises CoreError."""
        return projective(self.marks, self.corners)


def box_of(taped: Taped, one: Point2, other: Point2, out: Point2, units: Units) -> Box:
    """A thing of which two opposite corners are clicked, and which reaches from `out[0]` to `out[1]` along
    the axis that goes out of the plane [m]. Raises CoreError where it is too thin, or nowhere near."""
    to = taped.map()
    first, second = to.at(*one), to.at(*other)
    i, j, k = AXES[taped.seen]
    low, high = [0.0] * 3, [0.0] * 3
    for axis, span in ((i, (first[0], second[0])), (j, (first[1], second[1])), (k, out)):
        low[axis], high[axis] = min(span), max(span)
    size = [round(b - a, 3) for a, b in zip(low, high, strict=True)]
    if min(size) < LEAST_M:
        names = ("along her", "across her", "up")
        axis = size.index(min(size))
        raise CoreError(
            f"it is {write_length(size[axis], units)} {names[axis]}; accepted: at least "
            f"{write_length(LEAST_M, units)}: set its two corners, and how far it reaches, further apart",
            "corners",
        )
    if max(map(abs, (*low, *high))) > FARTHEST_M:
        raise CoreError("it lies outside of any boat: look at the four marks again", "marks")
    x, y = ((a + b) / 2 for a, b in zip(low[:2], high[:2], strict=True))
    return Box(size=(size[0], size[1], size[2]), floor_centre=(round(x, 3), round(y, 3), round(low[2], 3)))


def unsure_m(taped: Taped, points: Sequence[Point2]) -> float:
    """How far off the worst of some points may be for a click that is a thousandth of the photo off [m]."""
    to = taped.map()
    return max(to.finest(u, v, FINE) for u, v in points)


def grid(taped: Taped, step: float, most: int = 60) -> list[tuple[Point2, Point2]]:
    """Lines of a net over the rectangle every `step` [m], as they lie on the photo."""
    back = taped.map().back
    (a0, a1), (b0, b1) = (sorted(taped.a), sorted(taped.b))
    lines: list[tuple[Point2, Point2]] = []
    for n in range(min(most, int((a1 - a0) / step + 1e-9)) + 1):
        lines.append((back.at(a0 + n * step, b0), back.at(a0 + n * step, b1)))
    for n in range(min(most, int((b1 - b0) / step + 1e-9)) + 1):
        lines.append((back.at(a0, b0 + n * step), back.at(a1, b0 + n * step)))
    return lines
