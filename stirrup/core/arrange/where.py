"""Where a thing stands: its extent along the boat's axes and its corners in plan."""

from __future__ import annotations

import math
from dataclasses import dataclass

from stirrup.core.document import Box, Point, Point2
from stirrup.core.errors import CoreError
from stirrup.core.fittings.edges import inside_region
from stirrup.core.fittings.hatch import Hatch
from stirrup.core.fittings.raised_deck import RaisedDeck
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.parts.catalogue import sheet
from stirrup.core.plan.arrangement import AXIS_OF, DATUMS
from stirrup.core.plan.model import Item, Plan

Range = tuple[float, float]


@dataclass(frozen=True)
class Extent:
    """Least and greatest x, y, z of a thing [m]."""

    x: Range
    y: Range
    z: Range

    def edge(self, name: str) -> float:
        """Coordinate of an edge on its own axis [m]. KeyError for a name that is no edge."""
        low, high = (self.x, self.y, self.z)[AXIS_OF[name]]
        if name in ("aft", "starboard", "bottom"):
            return low
        return high if name in ("fore", "port", "top") else (low + high) / 2

    def moved(self, by: Point) -> Extent:
        """The same elsewhere."""
        ranges = zip((self.x, self.y, self.z), by, strict=True)
        x, y, z = ((low + d, high + d) for (low, high), d in ranges)
        return Extent(x, y, z)


def around(extents: list[Extent]) -> Extent:
    """Extent of several things together; there must be at least one."""
    x, y, z = (
        (min(getattr(e, axis)[0] for e in extents), max(getattr(e, axis)[1] for e in extents))
        for axis in "xyz"
    )
    return Extent(x, y, z)


def footprint(item: Item) -> tuple[Point2, ...]:
    """Corners of an item's box in plan, counterclockwise, turned as it stands; () without a size."""
    if item.size is None:
        return ()
    x, y, _ = item.mass.centre
    along, across = item.size[0] / 2, item.size[1] / 2
    c, s = math.cos(math.radians(item.turn)), math.sin(math.radians(item.turn))
    corners = ((-along, -across), (along, -across), (along, across), (-along, across))
    return tuple((x + c * a - s * b, y + s * a + c * b) for a, b in corners)


def _of_item(item: Item) -> Extent:
    x, y, z = item.mass.centre
    ring = footprint(item) or ((x, y),)
    up = item.size[2] / 2 if item.size else 0.0
    return Extent(
        (min(p[0] for p in ring), max(p[0] for p in ring)),
        (min(p[1] for p in ring), max(p[1] for p in ring)),
        (z - up, z + up),
    )


def _of_deck(deck: RaisedDeck, surface: HullSurface) -> Extent:
    under = deck.height - sheet(deck.skin).thickness
    room = inside_region(surface, under)
    if room.is_empty:
        aft = 0.0 if deck.aft is None else deck.aft
        return Extent((aft, aft if deck.fore is None else deck.fore), (0.0, 0.0), (under, deck.height))
    _, y0, _, y1 = room.bounds
    return Extent(deck.ends_m(room), (float(y0), float(y1)), (under, deck.height))


def _of_hatch(hatch: Hatch, plan: Plan) -> Extent:
    deck = plan.fitting(hatch.deck)
    top = deck.height if isinstance(deck, RaisedDeck) else 0.0
    along, across = hatch.clear_length / 2, hatch.clear_width / 2
    return Extent((hatch.x - along, hatch.x + along), (hatch.y - across, hatch.y + across), (top, top))


def extent_of(plan: Plan, surface: HullSurface, id_: str) -> Extent:
    """Extent of a fitting, item, tank, buoyant volume given as a box, or existing structure.

    A deck's reaches across the widest of the hull at its height; a hatch's is its clear
    opening. Raises CoreError when there is no such thing.
    """
    fitting = plan.fitting(id_)
    if isinstance(fitting, RaisedDeck):
        return _of_deck(fitting, surface)
    if isinstance(fitting, Hatch):
        return _of_hatch(fitting, plan)
    for item in plan.items:
        if item.id == id_:
            return _of_item(item)
    for tank in plan.tanks:
        if tank.id == id_:
            (along, across, up), (x, y, z) = tank.size, tank.floor_centre
            return Extent((x - along / 2, x + along / 2), (y - across / 2, y + across / 2), (z, z + up))
    for volume in plan.buoyancy:
        if volume.id == id_ and volume.box is not None:
            return _of_box(volume.box)
    for thing in plan.existing:
        if thing.id == id_:
            return _of_box(thing.box) if thing.box is not None else _of_ring(thing.outline or ())
    raise CoreError(f"there is nothing called “{id_}” to be placed; it may be gone", id_)


def _of_box(box: Box) -> Extent:
    (x0, y0, z0), (x1, y1, z1) = box.low, box.high
    return Extent((x0, x1), (y0, y1), (z0, z1))


def _of_ring(ring: tuple[Point | Point2, ...]) -> Extent:
    """Extent of an outline; one without heights lies at the keel line."""
    x, y = [p[0] for p in ring], [p[1] for p in ring]
    z = [p[2] for p in ring if len(p) == 3] or [0.0]
    return Extent((min(x), max(x)), (min(y), max(y)), (min(z), max(z)))


def level_of(plan: Plan, surface: HullSurface, to: str, to_edge: str | None) -> float:
    """Coordinate of a datum (0) or of an edge of a thing [m]. Raises CoreError."""
    if to in DATUMS:
        return 0.0
    return extent_of(plan, surface, to).edge(to_edge or "aft")
