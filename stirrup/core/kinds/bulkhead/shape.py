"""Outline of a bulkhead: inside the hull, over what stands there, with limber hole and way through."""

from __future__ import annotations

from shapely import box
from shapely.geometry import LineString, MultiPolygon, Polygon
from shapely.geometry import Point as FlatPoint
from shapely.geometry.base import BaseGeometry

from stirrup.core.contract.kind import Site
from stirrup.core.document import Point2
from stirrup.core.errors import CoreError
from stirrup.core.fittings.edges import largest
from stirrup.core.hull.slices import region, section
from stirrup.core.kinds.bulkhead.choices import Bulkhead
from stirrup.core.parts.entries import Sheet
from stirrup.core.record import dataclass

ROUND_M = 0.003  # between it and structure that it is cut out round: working value
SCRIBE_M = 0.0002
LOW_M = 0.005  # how much higher than its lowest point still counts as the bottom
LEAST_M2 = 0.01
CABLE_M, CABLE_NEXT_M = 0.040, 0.065  # across, for a grommet; from one to the next; working values
BUTT_M = 0.001  # between two halves
FAR_M = 20.0
TINY_M = 1e-4  # a radius under that is none


@dataclass(frozen=True)
class Shape:
    """A bulkhead across the boat, (y, z): the hull's inside there; its whole, the same with its way through
    closed, its pieces; how long it is bedded on the hull [m]; that way, empty without; what it is notched
    over."""

    c: Bulkhead
    sheet: Sheet
    hull: Polygon
    whole: Polygon | MultiPolygon
    closed: Polygon
    pieces: tuple[Polygon, ...]
    bedded_m: float
    way: Polygon
    over: tuple[str, ...]
    holes: tuple[Point2, ...] = ()  # middles of its cable holes, (y, z)
    hands: tuple[Point2, ...] = ()  # and of its hand holes

    @property
    def sheets(self) -> tuple[Polygon, ...]:
        """What it is of before it is halved: one, or two wings, port first."""
        if isinstance(self.whole, Polygon):
            return (self.whole,)
        return tuple(sorted(self.whole.geoms, key=lambda g: -g.centroid.x))

    @property
    def winged(self) -> bool:
        """Whether nothing ties its two sides."""
        return len(self.sheets) > 1

    @property
    def middle(self) -> float:
        """x of the middle of its thickness [m]."""
        return self.c.x + self.sheet.thickness / 2

    @property
    def rim_m(self) -> float:
        """Least breadth of what is left round its way through [m]."""
        if self.c.open_top and not self.winged:
            # what is left under the opening, over a limber hole too
            y0, low, y1, _ = self.way.bounds
            foot = LineString([(y0, low), (y1, low)])
            return float(self.closed.exterior.distance(foot)) if self.closed.contains(foot) else 0.0
        if self.way.is_empty or not self.closed.contains(self.way):
            return 0.0
        return float(self.closed.exterior.distance(self.way))


def _inside(site: Site, x: float, t: float) -> Polygon:
    """What is inside of the hull over the whole thickness."""
    aft, fore = (largest(region(section(site.surface.inside, at), 0)) for at in (x, x + t))
    return largest(aft.intersection(fore))


def _notched(c: Bulkhead, site: Site, t: float, shape: Polygon) -> tuple[Polygon, tuple[str, ...]]:
    """Less what stands there and stays."""
    left: BaseGeometry = shape
    over: list[str] = []
    for thing in site.obstacles:
        x0, y0, x1, y1 = thing.footprint.bounds
        if x0 < c.x + t and x1 > c.x:
            low, high = thing.over(c.x + t / 2)
            _, y0, _, y1 = thing.beside(c.x, c.x + t)
            notch = box(y0 - ROUND_M, low - ROUND_M, y1 + ROUND_M, high + ROUND_M)
            # what reaches down to the skin is notched to the edge
            foot = shape.bounds[1] if thing.kind == "stringer" else low - ROUND_M
            notch = notch.union(box(y0 - ROUND_M, min(foot, low), y1 + ROUND_M, high + ROUND_M))
            if left.intersects(notch):
                left, over = left.difference(notch), [*over, thing.name]
    return largest(left), tuple(over)


def _limbered(c: Bulkhead, shape: Polygon) -> Polygon:
    """With a limber hole at the middle of its lowest stretch, half as high as it is wide."""
    if not c.limber:
        return shape
    low = shape.bounds[1]
    bottom = shape.intersection(box(-FAR_M, low - 1, FAR_M, low + LOW_M)).bounds
    y = (bottom[0] + bottom[2]) / 2
    left = shape.difference(box(y - c.limber / 2, low - 1, y + c.limber / 2, low + c.limber / 2))
    return left if isinstance(left, Polygon) else shape


def way_through(c: Bulkhead, bottom: float) -> Polygon:
    """Its way through about the centreline, corners rounded."""
    if not c.wide:
        return Polygon()
    low = bottom + c.sill
    if c.open_top:
        low = low if c.sill else bottom - 1.0
        return _rounded(box(-c.wide / 2, low, c.wide / 2, max(c.top, low) + 1.0), c.corner)
    sharp = box(-c.wide / 2, low, c.wide / 2, low + c.high)
    return _rounded(sharp, min(c.corner, c.high / 2 - 1e-6))


def _rounded(sharp: Polygon, radius: float) -> Polygon:
    x0, _, x1, _ = sharp.bounds
    r = min(radius, (x1 - x0) / 2 - 1e-6)
    return largest(sharp.buffer(-r, join_style="mitre").buffer(r, quad_segs=8)) if r > TINY_M else sharp


def hand_holes(c: Bulkhead, bottom: float) -> tuple[Point2, ...]:
    """Middles of its hand holes, one on either side."""
    if not c.hand:
        return ()
    return tuple((hand * c.hand_out, bottom + c.hand_up) for hand in (1.0, -1.0))


def cable_holes(c: Bulkhead, bottom: float) -> tuple[Point2, ...]:
    """Middles of its cable holes: on either side a row upward from the lowest one."""
    rows = [(c.cable_out, bottom + c.cable_up + k * CABLE_NEXT_M) for k in range(c.cables)]
    return tuple((hand * y, z) for y, z in rows for hand in (1.0, -1.0))


def _drilled(shape: BaseGeometry, holes: tuple[Point2, ...], across: float) -> BaseGeometry:
    """With round holes, where they lie in it."""
    for hole in holes:
        shape = shape.difference(FlatPoint(*hole).buffer(across / 2, quad_segs=8))
    return shape


def _of_sheet(shape: BaseGeometry) -> Polygon | MultiPolygon:
    """Its piece, or two wings; crumbs are left out."""
    parts = [
        g for g in getattr(shape, "geoms", [shape]) if isinstance(g, Polygon) and g.area >= LEAST_M2 / 10
    ]
    parts = sorted(parts, key=lambda g: -g.area)[:2]
    if len(parts) == 2 and parts[0].centroid.x * parts[1].centroid.x < 0:
        return MultiPolygon(parts)
    return parts[0] if parts else Polygon()


def lay_out(c: Bulkhead, site: Site) -> Shape:
    """Raises CoreError where there is no room for it."""
    sheet = site.catalogue.sheet(c.skin)
    hull = _inside(site, c.x, sheet.thickness)
    place = f"fittings.{c.id}"
    if hull.is_empty:
        raise CoreError(f"{c.x:.3f} m from the transom there is no inside", f"{place}.x")
    fitted = largest(hull.buffer(-c.gap, join_style="mitre"))
    lower = largest(fitted.intersection(box(-FAR_M, -FAR_M, FAR_M, c.top)))
    if lower.area < LEAST_M2:
        raise CoreError(f"its top at {c.top:.3f} m leaves nothing of it there", f"{place}.top")
    notched, over = _notched(c, site, sheet.thickness, lower)
    shape = _limbered(c, notched)
    way = way_through(c, lower.bounds[1])
    opened = (shape.difference(way) if c.wide else shape).simplify(SCRIBE_M)
    opened = opened if c.open_top else largest(opened)
    holes, hands = cable_holes(c, lower.bounds[1]), hand_holes(c, lower.bounds[1])
    whole = _of_sheet(_drilled(_drilled(opened, holes, CABLE_M), hands, c.hand))
    if whole.is_empty:
        raise CoreError("its way through leaves nothing of it", f"{place}.wide")
    pieces = [whole] if isinstance(whole, Polygon) else sorted(whole.geoms, key=lambda g: -g.centroid.x)
    if c.halves and len(pieces) == 1:
        halves = (box(BUTT_M / 2, -FAR_M, FAR_M, FAR_M), box(-FAR_M, -FAR_M, -BUTT_M / 2, FAR_M))
        pieces = [p for p in (largest(whole.intersection(h)) for h in halves) if p.area > LEAST_M2 / 10]
    along = sum(_along_hull(p, hull, c) for p in getattr(whole, "geoms", [whole]))
    return Shape(c, sheet, hull, whole, shape, tuple(pieces), along, way, over, holes, hands)


def _along_hull(shape: Polygon, hull: Polygon, c: Bulkhead) -> float:
    """Length of its edge that lies along the hull [m]: what is no farther off than the gap and a little."""
    near = hull.exterior.buffer(c.gap + 2 * SCRIBE_M + 1e-4)
    edge = LineString(shape.exterior.coords).intersection(near)
    return float(edge.length)
