"""How a bulkhead comes to its place: straight down, leaning over, or under a deck that stays."""

from __future__ import annotations

import math

from shapely import affinity
from shapely.geometry import LineString

from stirrup.core.contract.kind import Site
from stirrup.core.findings import Finding, Fix, Quantity, declare
from stirrup.core.fittings.coming_in import SLACK_M, SPAN_M, inside_at, least_over_m, opening_at
from stirrup.core.kinds.bulkhead.shape import Shape
from stirrup.core.space.leaning import leaning

declare("layout", {"BULKHEAD-IN": "way in of a bulkhead"}, acceptable=True)

LIFT_M, STATION_M = 0.08, 0.1  # under a deck that is there: lifted at most; looked at every


def _comes_in_at(s: Shape, site: Site) -> float:
    """x at which it comes down: where it stands, or at the edge of a deck that stays over it."""
    over = [o for o in site.obstacles
            if o.kind == "deck" and o.high > s.c.top - LIFT_M
            and o.footprint.intersects(LineString([(s.middle, -SPAN_M), (s.middle, SPAN_M)]))]  # fmt: skip
    if not over:
        return s.middle
    x0, _, x1, _ = over[0].footprint.bounds
    aft, fore = x0 - s.sheet.thickness, x1 + s.sheet.thickness
    ends = float(site.surface.inside.low[0]), float(site.surface.inside.high[0])
    reached = [x for x in (aft, fore) if ends[0] < x < ends[1]]
    return min(reached, key=lambda x: abs(x - s.middle), default=s.middle)


def _under_deck(s: Shape, site: Site, at: float) -> list[Finding]:
    """Whether each piece slides upright from the edge of the deck to its place, a little lifted."""
    low, high = sorted((at, s.middle))
    count = max(2, math.ceil((high - low) / STATION_M))
    stations = [low + (high - low) * k / count for k in range(count + 1)]
    insides = [inside_at(site.surface, x).buffer(SLACK_M) for x in stations]
    lifts = [k * LIFT_M / 4 for k in range(5)]
    stuck = [
        p
        for p in s.pieces
        if not any(
            all(room.contains(affinity.translate(p, 0.0, lift)) for room in insides) for lift in lifts
        )
    ]
    values = {"by": Quantity(high - low, "m")}
    if not stuck:
        return []
    fix = Fix("Make it in two halves", path=("fittings", s.c.id, "halves"), value=True)
    return [Finding("BULKHEAD-IN", "mend", s.c.id, "It does not slide in under the deck that is there",
                    "It has to come down ahead of the deck's edge and go {by} upright under it, and she is "
                    "narrower on the way.", values,
                    "Make it in two halves that come in one after the other, or cut the deck.",
                    fixes=() if s.c.halves else (fix,))]  # fmt: skip


def _leaning(s: Shape, site: Site, at: float) -> float | None:
    """How far over its widest piece has to lean to come in [degrees]; None where that does not help."""
    piece = max(s.pieces, key=lambda p: p.bounds[2] - p.bounds[0])
    sheer = site.surface.sheer_at(at, 1.0)[2]
    return leaning(piece, opening_at(site.surface, site.obstacles, at, s.c.top), sheer)


def way_in(s: Shape, site: Site) -> Finding:
    """Whether each piece comes down between the sides: nowhere over it are they nearer than it is wide."""
    c = s.c
    widest = max(p.bounds[2] - p.bounds[0] for p in s.pieces)
    at = _comes_in_at(s, site)
    least = least_over_m(site.surface, site.obstacles, at, s.c.top)
    values = {"wide": Quantity(widest, "m"), "least": Quantity(0.0 if least == math.inf else least, "m")}
    under = [] if at == s.middle else _under_deck(s, site, at)
    if under:
        return under[0]
    if widest <= least:
        text = "It is {wide} wide." if least == math.inf else (
            "It is {wide} wide; over it the sides are nowhere nearer than {least}."
        )  # fmt: skip
        return Finding("BULKHEAD-IN", "fine", c.id, "It comes in between the sides", text, values)
    if (lean := _leaning(s, site, at)) is not None:
        return Finding("BULKHEAD-IN", "fine", c.id, "It comes in leaning",
                       "It is {wide} wide, and over it the sides come as near as {least}: lean it over by "
                       f"about {lean:.0f}°, one side down first, and straighten it under the narrow place.",
                       values)  # fmt: skip
    fix = Fix("Make it in two halves", path=("fittings", c.id, "halves"), value=True)
    return Finding("BULKHEAD-IN", "mend", c.id, "It does not come in past the sides",
                   "It is {wide} wide, and over it the sides come as near as {least}.", values,
                   "Make it in two halves; leaning it over does not help either.",
                   fixes=() if c.halves else (fix,))  # fmt: skip
