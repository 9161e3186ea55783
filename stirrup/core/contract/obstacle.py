"""Structure that stays in the boat, as what is built meets it. Lengths in m on the boat's axes."""

from __future__ import annotations

from dataclasses import replace

from shapely import box
from shapely.geometry import Polygon

from stirrup.core.document import Box, Point, Point2
from stirrup.core.kept import kept_property
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Prism

FAR_M = 60.0  # beyond every boat


@dataclass(frozen=True)
class Obstacle:
    """Structure that stays in the boat: plan footprint and height range."""

    id: str
    name: str
    kind: str
    footprint: Polygon
    low: float
    high: float
    rise: float = 0.0  # of its faces for each metre forward, as a Prism has it

    def over(self, x: float) -> tuple[float, float]:
        """Heights of its lower and its upper end at x [m]."""
        return Prism(self.footprint, self.low, self.high, self.rise).over(x)

    def beside(self, x0: float, x1: float) -> tuple[float, float, float, float]:
        """Bounds in plan of what of it stands between two x; of all of it where nothing does [m]."""
        part = self.footprint.intersection(box(x0, -FAR_M, x1, FAR_M))
        b = (self.footprint if part.is_empty else part).bounds
        return (float(b[0]), float(b[1]), float(b[2]), float(b[3]))

    def lean(self, rise: float, ends: Point2) -> Obstacle | None:
        """What of it stands between two x, raised by `rise` for each metre forward of x = 0."""
        part = self.footprint.intersection(box(ends[0], -FAR_M, ends[1], FAR_M))
        if part.is_empty:
            return None
        part = part if isinstance(part, Polygon) else part.convex_hull
        if not isinstance(part, Polygon):
            return None
        # its own heights where it stands, then raised
        low, high = Prism(self.footprint, self.low, self.high, self.rise).between(
            part.bounds[0], part.bounds[2]
        )
        there = Prism(part, low, high, self.rise).lean(rise)
        return replace(self, footprint=part, low=there.low, high=there.high, rise=there.rise)

    @kept_property
    def ring(self) -> tuple[Point2, ...]:
        """Corners of the footprint, for drawing."""
        return tuple((float(x), float(y)) for x, y in self.footprint.exterior.coords[:-1])


ALL_THE_WAY_UP = (-10.0, 10.0)  # heights of an outline that gives none
TALLEST_M = 5.0  # what reaches higher has no height of its own


def obstacle_of(
    id_: str, name: str, kind: str, box: Box | None, outline: tuple[Point | Point2, ...] | None
) -> Obstacle:
    """Footprint and height range of a piece of existing structure (see the build file)."""
    points = (box.low, box.high) if box else (outline or ())
    z = [p[2] for p in points if len(p) == 3] or list(ALL_THE_WAY_UP)
    if box:
        (x0, y0, _), (x1, y1, _) = box.low, box.high
        shape = Polygon([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])
    else:
        ring = Polygon([(p[0], p[1]) for p in points])
        # corners that were typed may cross: what is around all of it then keeps others away
        flat = ring if ring.is_valid else ring.convex_hull
        # an upright outline (a rib) has no area in plan: give it the thickness of a sheet
        shape = flat if flat.area > 1e-5 else flat.convex_hull.buffer(0.002, cap_style="flat")
    return Obstacle(id_, name, kind, shape, min(z), max(z))
