"""Room for hand and tool while it is built: the drill at a deck's side angles, nuts under a deck.

Screening, in plan: what the hand does on the way down is not looked at. The drill's length is
a working value; hand hole and reach: docs/trade-rules.md, “People”.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import partial

from shapely import box
from shapely.geometry import LineString, MultiLineString, MultiPoint, Polygon
from shapely.geometry import Point as FlatPoint
from shapely.geometry.base import BaseGeometry

from stirrup.core.contract.gives import Below, Bolts, Floor, Hole
from stirrup.core.findings import Finding, Quantity, declare, plain
from stirrup.core.fit.access import HAND_M, lets_through
from stirrup.core.fit.body import ARM_REACH_M
from stirrup.core.fittings.edges import inside_region, side_path
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.memo import Memo
from stirrup.core.plan.placed import Placed
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare(
    "layout",
    {"BOLTS": "nuts in reach", "DRILL": "room for the drill", "DRILL-INTO": "what lies under bolts"},
    acceptable=True,
    pace="behind",
)

SIDES = Memo(100)
DRILL_M = 0.25  # body of a drill with its bit, square to the hull's side
DRILL_HALF_M = 0.05  # half its height
INTO_M = 0.08  # under what is bolted on: floor, nut, and a drill that breaks through; working value
BESIDE_M = 0.02  # from a bolt: half a nut and the drill's wander; working value
STANDS_M = 0.03  # a thing this near over a deck stands on it


def _sides(surface: HullSurface, z: float) -> MultiLineString:
    """Both sides of the hull at a height, in plan, from one end to the other."""
    region = inside_region(surface, z)
    if region.is_empty:
        return MultiLineString()
    aft, _, fore, _ = region.bounds
    paths = [side_path(region, aft, fore, side) for side in (1, -1)]
    return MultiLineString([LineString(p) for p in paths if len(p) > 1])


def _under(things: Iterable[Placed]) -> list[tuple[Placed, Floor, Below]]:
    """Every floor with a space under it."""
    return [(t, f, f.below) for t in things for f in t.built.floors if f.below is not None]


def drill_findings(things: Sequence[Placed], surface: HullSurface) -> list[Finding]:
    """What is in the boat already and keeps the drill from a deck's side angles.

    What the plan adds goes in after the angles; what is found stays where it is. The contents
    of a tank say nothing about when it goes in: its shell, an item, does.
    """
    standing = [
        (s, s.shape)
        for t in things
        if t.built.stays
        for s in t.built.solids
        if s.role in ("body", "structure") and isinstance(s.shape, Prism)
    ]
    if not standing:
        return []
    out = []
    for thing, floor, below in _under(things):
        low, high = below.drilled
        aft, _, fore, _ = floor.region.bounds
        middle = round((low + high) / 2, 4)
        sides = SIDES.get((surface.key, middle), partial(_sides, surface, middle))
        beside = box(aft, -20, fore, 20)
        for solid, prism in standing:
            if prism.low > high + DRILL_HALF_M or prism.high < low - DRILL_HALF_M or sides.is_empty:
                continue
            part = prism.footprint.intersection(beside)
            gap = float(sides.distance(part)) if not part.is_empty else DRILL_M
            if gap < DRILL_M - 1e-9:
                out.append(_no_drill(thing, solid, gap))
    return out


def _no_drill(deck: Placed, solid: Solid, gap: float) -> Finding:
    return Finding(
        "DRILL", "look", deck.id, "No room for the drill",
        f"{solid.name} leaves {{gap}} beside the side angle of {plain(deck.title)}; "
        "a drill needs {need}.",
        {"gap": Quantity(gap, "m"), "need": Quantity(DRILL_M, "m")},
        f"Take {solid.name} out while you drill, use an angle drill, or drill from outside.",
        other=solid.id,
    )  # fmt: skip


def _ways_in(
    things: Iterable[Placed], host: str, region: Polygon, below: Below
) -> list[tuple[str, BaseGeometry]]:
    """Openings through which a hand gets under a deck, in plan."""
    out: list[tuple[str, BaseGeometry]] = [
        (t.title, box(*hole.outline))
        for t in things
        for hole in t.built.holes
        if hole.host == host and lets_through(hole, HAND_M)
    ]
    x0, y0, x1, y1 = region.bounds
    if below.aft.open:
        out.append(("its open end", LineString([(x0, y0), (x0, y1)])))
    elif below.fore.open:
        out.append(("its open end", LineString([(x1, y0), (x1, y1)])))
    for door in below.doors:
        (low, high), (foot, head) = door.across, door.up
        if lets_through(Hole(door.x, (low + high) / 2, head - foot, high - low), HAND_M):
            out.append(("the door in its face", LineString([(door.x, low), (door.x, high)])))
    return out


def bolt_findings(things: Sequence[Placed]) -> list[Finding]:
    """Whether an arm reaches the nuts under a deck of what is bolted down on it."""
    decks = _under(things)
    out = []
    for thing in things:
        bolts = thing.built.bolts
        if bolts is None:
            continue
        spot = FlatPoint(bolts.middle)
        for deck, floor, below in decks:
            if abs(bolts.foot_m - floor.top_at(bolts.middle[0])) <= STANDS_M and floor.region.covers(spot):
                ways = _ways_in(things, deck.id, floor.region, below)
                out.append(_reach(thing, bolts, deck, ways))
    return out


def drilled_into(things: Sequence[Placed]) -> list[Finding]:
    """Tanks and what else stands right under the bolts of something, where a drill comes through."""
    out = []
    for thing in things:
        bolts = thing.built.bolts
        if bolts is None:
            continue
        own = {thing.id, *(tie.to for tie in thing.kind.ties(thing.choices))}
        places = MultiPoint(bolts.places)
        for other in things:
            for solid in other.built.solids:
                if other.id in own or solid.role not in ("tank", "body"):
                    continue
                x0, y0, _, x1, y1, top = solid.shape.bounds
                gap = bolts.foot_m - top
                # what stands as high as it does is told as a clash
                if 0 <= gap <= INTO_M and places.distance(box(x0, y0, x1, y1)) <= BESIDE_M:
                    out.append(_into(thing, other, solid, gap))
    return out


def _into(thing: Placed, other: Placed, solid: Solid, gap: float) -> Finding:
    tank = solid.role == "tank"
    return Finding(
        "DRILL-INTO", "mend" if tank else "look", thing.id,
        f"Its bolts go through over {solid.name}",
        f"{solid.name} lies {{gap}} under where {plain(thing.title)} is bolted on; a drill that breaks "
        "through goes on.",
        {"gap": Quantity(gap, "m")},
        "Move one of them. Nobody drills over a tank: take it out first, and look what else lies there."
        if tank else "Move one of them, or take it out while you drill.",
        other=other.id,
    )  # fmt: skip


def _reach(thing: Placed, bolts: Bolts, deck: Placed, ways: Sequence[tuple[str, BaseGeometry]]) -> Finding:
    name, values = plain(thing.title), {"reach": Quantity(ARM_REACH_M, "m")}
    far: tuple[float, str] | None = None
    if ways:  # each bolt from the opening that is nearest to it; the worst of them counts
        places = [FlatPoint(p) for p in bolts.places]
        far = max(min((w.distance(p), n) for n, w in ways) for p in places)
    if far is not None:
        values["far"] = Quantity(far[0], "m")
    if far is not None and far[0] <= ARM_REACH_M:
        return Finding(
            "BOLTS", "fine", thing.id, "Its nuts are in reach",
            f"{name}: from {plain(far[1])} an arm reaches its farthest bolt, {{far}} away.", values,
            other=deck.id,
        )  # fmt: skip
    away = "its farthest bolt is {far} from an opening" if far is not None else "no opening leads under it"
    return Finding(
        "BOLTS", "look", thing.id, "Its nuts are out of reach",
        f"{name} stands on {plain(deck.title)}: {away}; an arm reaches {{reach}}.", values,
        "Bolt it down before the skin goes on, use rivet nuts, or place a hatch nearer.", other=deck.id,
    )  # fmt: skip
