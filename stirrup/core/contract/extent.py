"""Where a thing stands: its extent along the boat's axes, and the names of its edges."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from stirrup.core.document import Box, Point, Point2
from stirrup.core.record import dataclass

Range = tuple[float, float]

Edge = Literal["aft", "fore", "middle along", "port", "starboard", "middle across", "bottom", "top"]
AXIS_OF: dict[str, int] = {
    "aft": 0, "fore": 0, "middle along": 0,
    "port": 1, "starboard": 1, "middle across": 1,
    "bottom": 2, "top": 2,
}  # fmt: skip
# what a distance can be taken from besides things: its axis
DATUMS: dict[str, int] = {"transom": 0, "centreline": 1, "keel line": 2}
LOW_EDGES = ("aft", "starboard", "bottom")


@dataclass(frozen=True)
class Extent:
    """Least and greatest x, y, z of a thing [m]; rise: of its top for each metre forward."""

    x: Range
    y: Range
    z: Range
    rise: float = 0.0

    def top_at(self, x: float) -> float:
        """Height of its top at x [m]."""
        highest = self.x[1] if self.rise > 0 else self.x[0]
        return self.z[1] + self.rise * (x - highest)

    def edge(self, name: str) -> float:
        """Coordinate of an edge on its own axis [m]. KeyError for a name that is no edge."""
        low, high = (self.x, self.y, self.z)[AXIS_OF[name]]
        if name in LOW_EDGES:
            return low
        return high if name in ("fore", "port", "top") else (low + high) / 2

    def moved(self, by: Point) -> Extent:
        """The same elsewhere."""
        ranges = zip((self.x, self.y, self.z), by, strict=True)
        x, y, z = ((low + d, high + d) for (low, high), d in ranges)
        return Extent(x, y, z, self.rise)


def around(extents: Sequence[Extent]) -> Extent:
    """Extent of several things together; there must be at least one."""
    x, y, z = (
        (min(getattr(e, axis)[0] for e in extents), max(getattr(e, axis)[1] for e in extents))
        for axis in "xyz"
    )
    return Extent(x, y, z)


def of_box(box: Box) -> Extent:
    """Extent of a box on the boat's axes."""
    (x0, y0, z0), (x1, y1, z1) = box.low, box.high
    return Extent((x0, x1), (y0, y1), (z0, z1))


def of_ring(ring: Sequence[Point | Point2]) -> Extent:
    """Extent of an outline; one without heights lies at the keel line."""
    x, y = [p[0] for p in ring], [p[1] for p in ring]
    z = [p[2] for p in ring if len(p) == 3] or [0.0]
    return Extent((min(x), max(x)), (min(y), max(y)), (min(z), max(z)))
