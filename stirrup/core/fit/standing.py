"""Whether somebody of a load case is where a thing is: both cannot be there."""

from __future__ import annotations

from collections.abc import Iterable

from shapely.geometry import Point as FlatPoint

from stirrup.core.afloat.ground import Footing
from stirrup.core.findings import Finding, Quantity
from stirrup.core.fit.people import Aboard, Scene, aboard, scene_of, seat_of
from stirrup.core.fit.rooms import tank_prism
from stirrup.core.fit.solid import plain
from stirrup.core.plan.model import Item, LoadCase, Plan

BODY_M = 0.12  # about a standing body's middle nothing else can be


def standing_findings(plan: Plan, footing: Footing, cases: Iterable[LoadCase]) -> list[Finding]:
    """Everybody in these cases who stands or sits inside of a thing."""
    scene = scene_of(plan)
    found = (_inside(one, plan, scene, seat_of(scene, one.person)) for one in aboard(footing, cases))
    return [f for f in found if f is not None]


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
            f"In “{plain(one.case)}” both are in one place.", {"move": Quantity(amount, "m")},
            f"Move whoever it is {{move}} {way}, or move {plain(title)}.",
        )  # fmt: skip
    return None
