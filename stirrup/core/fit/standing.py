"""Whether people have room where they are: heads under decks, rails and screens, bodies in things."""

from __future__ import annotations

from collections.abc import Iterable

from shapely.geometry import Point as FlatPoint

from stirrup.core.afloat.ground import Footing
from stirrup.core.findings import Finding, Level, Quantity, plain
from stirrup.core.fit.body import top_m
from stirrup.core.fit.crew import Aboard, Scene, aboard, scene_of, seat_of, who
from stirrup.core.fit.rooms import item_prism, tank_prism
from stirrup.core.fittings.raised_deck import RaisedDeck
from stirrup.core.parts.catalogue import sheet
from stirrup.core.plan.model import Item, LoadCase, Plan

OVERHEAD = ("lip", "thwart", "other")  # existing structure that a head can meet
BODY_M = 0.12  # about a standing body's middle nothing else can be


def _m(value: float) -> Quantity:
    return Quantity(value, "m")


def standing_findings(plan: Plan, footing: Footing, cases: Iterable[LoadCase]) -> list[Finding]:
    """Everybody in these cases whose head meets something, or who is inside of a thing."""
    scene = scene_of(plan)
    out: list[Finding | None] = []
    for one in aboard(footing, cases):
        out += [_head(one, plan, footing, scene), _inside(one, plan, scene, seat_of(scene, one.person))]
    return [f for f in out if f is not None]


def _inside(one: Aboard, plan: Plan, scene: Scene, seat: Item | None) -> Finding | None:
    """Somebody where a thing is: both cannot be there."""
    feet, spot = one.person.at[2], FlatPoint(one.person.at[0], one.person.at[1])
    low, high = feet + 0.05, feet + 0.9 * one.person.stature
    things = [(i.id, i.title, p) for i, p in scene.things if i.form not in ("seat", "bench", "screen")]
    things += [(t.id, t.title, tank_prism(t)) for t in plan.tanks]
    for id_, title, prism in things:
        if prism.high <= low or prism.low >= high or prism.footprint.distance(spot) >= BODY_M:
            continue
        if seat is not None and one.person.posture == "seated" and not prism.footprint.covers(spot):
            continue  # a seat may stand close to other things: its own room says so
        verb = {"standing": "stands", "seated": "sits"}.get(one.person.posture, "is")
        x0, _, _, x1, _, _ = prism.bounds
        x = one.person.at[0]
        aft, ahead = x - x0 + 2 * BODY_M, x1 - x + 2 * BODY_M
        way, amount = ("aft", aft) if aft < ahead else ("forward", ahead)
        return Finding(
            "IN-A-THING", "mend", id_, f"{plain(one.person.name) or 'Somebody'} {verb} in {plain(title)}",
            f"In “{plain(one.case)}” both are in one place.", {"move": _m(amount)},
            f"Move whoever it is {{move}} {way}, or move {plain(title)}.",
        )  # fmt: skip
    return None


def _meets(one: Aboard, level: Level, place: str, what: str, edge: str, low: float, remedy: str) -> Finding:
    """That somebody's head is above the lower edge of something over him [m]."""
    amount = {"amount": _m(top_m(one.person) - low)}
    text = f"{who(one)}: the head is {{amount}} above the {edge}."
    return Finding("HEAD", level, place, f"Head meets {what}", text, amount, remedy)


def _head(one: Aboard, plan: Plan, footing: Footing, scene: Scene) -> Finding | None:
    """A deck, a gunwale or a screen where somebody's head is."""
    head, spot = top_m(one.person), FlatPoint(one.person.at[0], one.person.at[1])
    over_m = one.person.at[2] + 0.3  # what begins lower is beside him
    for built in footing.built:
        deck = plan.fitting(built.fitting)
        if not isinstance(deck, RaisedDeck) or deck.height <= one.person.at[2] + 0.05:
            continue
        under = deck.height - sheet(deck.skin).thickness
        if built.region.covers(spot) and under < head:
            edge = f"underside of {plain(deck.name)}"
            return _meets(one, "mend", deck.id, "a deck", edge, under, "Raise it, or sit elsewhere.")
    for rail in footing.obstacles:
        over = rail.kind in OVERHEAD and over_m < rail.low < head and rail.high < 5
        if over and rail.footprint.covers(spot):
            edge = f"underside of {plain(rail.name)}"
            remedy = "Sit further inboard, or lower."
            return _meets(one, "look", rail.id, "the gunwale", edge, rail.low, remedy)
    for screen in scene.screens:
        prism = item_prism(screen)
        if prism is None or not prism.footprint.covers(spot):
            continue
        if over_m < prism.high and prism.low < head:
            edge = f"foot of {plain(screen.title)}"
            remedy = "Move it forward, or sit further aft."
            return _meets(one, "mend", screen.id, "the screen", edge, prism.low, remedy)
    return None
