"""What is left standing on the edges of a panel that lie against the hull: it is cut outside of its line,
offered up, scribed off the boat and trimmed.

A moulded hull is never quite as it was measured, one of folded sheet nearly. Handbook of the trade,
“Panels”: 10 mm on edges that meet a moulded hull, none on folded sheet, none on other edges.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray
from shapely import LineString, Polygon, unary_union
from shapely.geometry.base import BaseGeometry

from stirrup.core.cutting.bevels import REACH_M, STEEP, counter_clockwise, skin_of, tilts_at_skin
from stirrup.core.document import Point2
from stirrup.core.hull.mesh import Solid
from stirrup.core.parts.model import Panel, Ring

MOULDED_M = 0.010
DUST_M = 0.00005
SHORT_M = 1e-6

Array = NDArray[np.float64]
Chain = list[Point2]


def left_standing(panel: Panel, allowed_m: float, inside: Solid) -> Ring:
    """The outline that a panel is cut to [m]: its own, and outside of it along every edge that lies at the
    skin. inside: the inner face of the skin. Folded panels are cut as they are."""
    if allowed_m <= 0.0 or panel.bends or panel.role == "bent":
        return panel.outline
    ring = counter_clockwise(panel.outline)
    at_skin = chords_at_skin(panel, ring, inside)
    strips = [_strip(*run, allowed_m) for run in _chains(ring, at_skin)]
    if not strips:
        return panel.outline
    whole = unary_union([Polygon(ring), *strips]).simplify(DUST_M)
    if not isinstance(whole, Polygon):
        whole = max(whole.geoms, key=lambda g: g.area)
    return tuple((float(x), float(y)) for x, y in whole.exterior.coords[:-1])


def chords_at_skin(panel: Panel, ring: Ring, inside: Solid) -> NDArray[np.bool_]:
    """Of each chord of a ring that runs against the clock whether it lies at the skin, by its middle."""
    corners = np.array(ring)
    chords = np.roll(corners, -1, axis=0) - corners
    lengths = np.hypot(chords[:, 0], chords[:, 1])
    along, across = np.array(panel.frame.along), np.array(panel.frame.across)
    unit = chords / np.maximum(lengths, SHORT_M)[:, None]
    ways = unit[:, 1:] * along - unit[:, :1] * across
    middles = corners + chords / 2
    at = np.array(panel.frame.at(0.0, 0.0)) + middles[:, :1] * along + middles[:, 1:] * across
    facing, half = np.cross(along, across), panel.sheet.thickness / 2
    # an edge that is fitted to the skin is no further off than this, however steep that is
    reach = REACH_M + half / STEEP
    skin = skin_of(inside, (at.min(axis=0) - reach, at.max(axis=0) + reach))
    met = ~np.isnan(tilts_at_skin(skin, at, ways, facing, half))
    return np.asarray(met & (lengths > SHORT_M))


def _chains(ring: Ring, at_skin: NDArray[np.bool_]) -> Iterator[tuple[Chain, Point2, Point2]]:
    """Corners of each run of chords at the skin, with the corner before it and the one behind it."""
    n = len(ring)
    if at_skin.all():
        yield [*ring, ring[0]], ring[-1], ring[1]
        return
    for k in range(n):
        if at_skin[k] and not at_skin[k - 1]:
            end = k
            while at_skin[end % n]:
                end += 1
            yield [ring[j % n] for j in range(k, end + 1)], ring[k - 1], ring[(end + 1) % n]


def _strip(chain: Chain, before: Point2, behind: Point2, wide: float) -> BaseGeometry:
    """Along a chain, to the right of it, as wide as asked; its ends lie on the lines of edges beside."""
    first, last = (np.array(p) for p in (chain[0], chain[-1]))
    if chain[0] == chain[-1]:
        return LineString(chain).buffer(-wide, single_sided=True, join_style="mitre")
    starts, ends = _unit(first - np.array(chain[1])), _unit(last - np.array(chain[-2]))
    longer = [tuple(first + 2 * wide * starts), *chain, tuple(last + 2 * wide * ends)]
    strip = LineString(longer).buffer(-wide, single_sided=True, join_style="mitre")
    # the edges beside are straight on: what is beyond their lines is not left standing
    for corner, other in ((first, np.array(before)), (last, np.array(behind))):
        strip = strip.intersection(_half_plane(corner, _unit(corner - other), chain, wide))
    return strip


def _unit(way: Array) -> Array:
    return np.asarray(way / max(float(np.hypot(*way)), SHORT_M))


def _half_plane(corner: Array, way: Array, chain: Chain, wide: float) -> Polygon:
    """The side of a line through a corner that the chain lies on, as far as matters."""
    size = 4 * wide + float(np.max(np.ptp(np.array(chain), axis=0))) * 2
    side = np.array([-way[1], way[0]])
    middle = np.mean(np.array(chain), axis=0) - corner
    if side @ middle < 0:
        side = -side
    ends = corner - size * way, corner + size * way
    spots = (*ends, ends[1] + size * side, ends[0] + size * side)
    return Polygon([tuple(p) for p in spots])
