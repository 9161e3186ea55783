"""Room for hand and tool while it is built: the drill at a deck's side angles, nuts under a deck.

Screening, in plan: what the hand does on the way down is not looked at. The drill's length is
a working value; hand hole and reach: handbook of the trade, chapter 3.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import partial

from shapely.geometry import LineString, MultiLineString, Polygon, box
from shapely.geometry import Point as FlatPoint
from shapely.geometry.base import BaseGeometry

from stirrup.core.findings import Finding, Quantity, plain
from stirrup.core.fit.access import HAND_M, lets_through
from stirrup.core.fit.body import ARM_REACH_M
from stirrup.core.fit.clearance import PEDESTAL_M
from stirrup.core.fit.rooms import item_prism
from stirrup.core.fit.shapes import Prism
from stirrup.core.fit.solid import Solid
from stirrup.core.fittings.contract import Built
from stirrup.core.fittings.edges import inside_region, side_path
from stirrup.core.fittings.hatch import Hatch
from stirrup.core.fittings.raised_deck import RaisedDeck
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.memo import Memo
from stirrup.core.parts.catalogue import sheet, stick
from stirrup.core.plan.model import Item, Plan

SIDES = Memo(100)
DRILL_M = 0.25  # body of a drill with its bit, square to the hull's side
DRILL_HALF_M = 0.05  # half its height
FASTENED = ("seat", "bench", "console", "tank")  # not lifted out for an evening's drilling
BOLTED = ("seat", "console", "bow motor")
STANDS_M = 0.03  # a thing this near over a deck stands on it
NOT_MET = ("rib", "lip")  # ribs are drilled between, the lip is higher up


def _sides(surface: HullSurface, z: float) -> MultiLineString:
    """Both sides of the hull at a height, in plan, from one end to the other."""
    region = inside_region(surface, z)
    if region.is_empty:
        return MultiLineString()
    aft, _, fore, _ = region.bounds
    paths = [side_path(region, aft, fore, side) for side in (1, -1)]
    return MultiLineString([LineString(p) for p in paths if len(p) > 1])


def drill_findings(
    plan: Plan, surface: HullSurface, built: Iterable[Built], there: Sequence[Solid]
) -> list[Finding]:
    """What is in the boat already and keeps the drill from a deck's side angles.

    What the plan adds goes in after the angles; what is found stays where it is. The contents
    of a tank say nothing about when it goes in: its shell, an item, does. there: solids.
    """
    stays = {i.id for i in plan.items if i.stage == "found" and i.form in FASTENED}
    stays |= {e.id for e in plan.existing if e.kind not in NOT_MET and e.stage != "removed"}
    standing = [
        (s, s.shape)
        for s in there
        if s.id in stays and s.kind in ("item", "structure") and isinstance(s.shape, Prism)
    ]
    if not standing:
        return []
    made = {b.fitting: b for b in built}
    out = []
    for deck in plan.fittings:
        if not isinstance(deck, RaisedDeck) or made[deck.id].region.is_empty:
            continue
        high = deck.height - sheet(deck.skin).thickness
        low = high - stick(deck.members).a
        aft, _, fore, _ = made[deck.id].region.bounds
        middle = round((low + high) / 2, 4)
        sides = SIDES.get((surface.key, middle), partial(_sides, surface, middle))
        beside = box(aft, -20, fore, 20)
        for solid, prism in standing:
            if prism.low > high + DRILL_HALF_M or prism.high < low - DRILL_HALF_M or sides.is_empty:
                continue
            part = prism.footprint.intersection(beside)
            gap = float(sides.distance(part)) if not part.is_empty else DRILL_M
            if gap < DRILL_M - 1e-9:
                out.append(_no_drill(deck, solid, gap))
    return out


def _no_drill(deck: RaisedDeck, solid: Solid, gap: float) -> Finding:
    return Finding(
        "DRILL", "look", deck.id, "No room for the drill",
        f"{solid.name} leaves {{gap}} beside the side angle of {plain(deck.name)}; a drill needs {{need}}.",
        {"gap": Quantity(gap, "m"), "need": Quantity(DRILL_M, "m")},
        f"Take {solid.name} out while you drill, use an angle drill, or drill from outside.",
        other=solid.id,
    )  # fmt: skip


def _bolts(item: Item, prism: Prism) -> list[FlatPoint]:
    """Where a thing is bolted down: corners of a pedestal, else its own."""
    if item.form == "seat":
        x, y, _ = item.mass.centre
        return [FlatPoint(x + a * PEDESTAL_M, y + b * PEDESTAL_M) for a in (-1, 1) for b in (-1, 1)]
    return [FlatPoint(p) for p in prism.footprint.exterior.coords[:-1]]


def _ways_in(plan: Plan, deck: RaisedDeck, region: Polygon) -> list[tuple[str, BaseGeometry]]:
    """Openings through which a hand gets under a deck, in plan."""
    hatches = [f for f in plan.fittings if isinstance(f, Hatch) and f.deck == deck.id]
    out: list[tuple[str, BaseGeometry]] = []
    for h in hatches:
        if lets_through(h, HAND_M):
            a, b = h.clear_length / 2, h.clear_width / 2
            out.append((h.name, box(h.x - a, h.y - b, h.x + a, h.y + b)))
    x0, y0, x1, y1 = region.bounds
    if not deck.face:
        out.append(("its open end", LineString([(x0, y0), (x0, y1)])))
    elif deck.fore is not None and not deck.face_fore:
        out.append(("its open end", LineString([(x1, y0), (x1, y1)])))
    return out


def bolt_findings(plan: Plan, built: Iterable[Built]) -> list[Finding]:
    """Whether an arm reaches the nuts under a deck of what is bolted down on it."""
    made = {b.fitting: b for b in built}
    decks = [(d, made[d.id].region) for d in plan.fittings if isinstance(d, RaisedDeck) and d.id in made]
    out = []
    for item in plan.items:
        prism = item_prism(item) if item.form in BOLTED and item.stage == "added" else None
        if prism is None:
            continue
        spot = prism.footprint.centroid
        for deck, region in decks:
            if abs(prism.low - deck.height) <= STANDS_M and region.covers(spot):
                out.append(_reach(item, prism, deck, _ways_in(plan, deck, region)))
    return out


def _reach(item: Item, prism: Prism, deck: RaisedDeck, ways: Sequence[tuple[str, BaseGeometry]]) -> Finding:
    name, values = plain(item.title), {"reach": Quantity(ARM_REACH_M, "m")}
    far: tuple[float, str] | None = None
    if ways:  # each bolt from the opening that is nearest to it; the worst of them counts
        far = max(min((w.distance(p), n) for n, w in ways) for p in _bolts(item, prism))
    if far is not None:
        values["far"] = Quantity(far[0], "m")
    if far is not None and far[0] <= ARM_REACH_M:
        return Finding(
            "BOLTS", "fine", item.id, "Its nuts are in reach",
            f"{name}: from {plain(far[1])} an arm reaches its farthest bolt, {{far}} away.", values,
            other=deck.id,
        )  # fmt: skip
    away = "its farthest bolt is {far} from an opening" if far is not None else "no opening leads under it"
    return Finding(
        "BOLTS", "look", item.id, "Its nuts are out of reach",
        f"{name} stands on {plain(deck.name)}: {away}; an arm reaches {{reach}}.", values,
        "Bolt it down before the skin goes on, use rivet nuts, or place a hatch nearer.", other=deck.id,
    )  # fmt: skip
