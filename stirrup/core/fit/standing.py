"""Whether people have room where they are: heads under decks, rails and screens, bodies in things."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from shapely.geometry import Point as FlatPoint

from stirrup.core.afloat.ground import Footing
from stirrup.core.findings import Finding, Level, Quantity, declare, plain
from stirrup.core.fit.body import top_m
from stirrup.core.fit.crew import Aboard, aboard, scene_of, seat_of, who
from stirrup.core.plan.model import LoadCase
from stirrup.core.plan.placed import Placed
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare("layout", {"HEAD": "room for the head"}, acceptable=True, pace="behind")
declare("layout", {"IN-A-THING": "somebody in a thing"}, pace="behind")

BODY_M = 0.12  # about a standing body's middle nothing else can be


def _m(value: float) -> Quantity:
    return Quantity(value, "m")


def standing_findings(
    things: Sequence[Placed], footing: Footing, cases: Iterable[LoadCase]
) -> list[Finding]:
    """Everybody in these cases whose head meets something, or who is inside of a thing."""
    scene = scene_of(things)
    bodies = [(t, s) for t in things for s in t.built.solids if s.role in ("body", "tank") and not s.lent]
    out: list[Finding | None] = []
    for one in aboard(footing, cases):
        out += [_head(one, things), _inside(one, bodies, seat_of(scene, one.person))]
    return [f for f in out if f is not None]


def _inside(one: Aboard, bodies: Iterable[tuple[Placed, Solid]], seat: Placed | None) -> Finding | None:
    """Somebody where a thing is: both cannot be there."""
    feet, spot = one.person.at[2], FlatPoint(one.person.at[0], one.person.at[1])
    low, high = feet + 0.05, feet + 0.9 * one.person.stature
    for thing, body in bodies:
        prism, id_, title = body.shape, thing.id, thing.title
        if not isinstance(prism, Prism) or (seat is not None and seat.id == id_):
            continue
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


def _head(one: Aboard, things: Iterable[Placed]) -> Finding | None:
    """A deck, a gunwale or a screen where somebody's head is."""
    head, spot = top_m(one.person), FlatPoint(one.person.at[0], one.person.at[1])
    for thing in things:
        for over in thing.built.overhead:
            above = over.from_m > one.person.at[2] + over.margin
            if above and over.under_m < head and over.region.covers(spot):
                return _meets(one, over.level, thing.id, over.what, over.edge, over.under_m, over.remedy)
    return None
