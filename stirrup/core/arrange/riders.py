"""People who sit on a seat go along with it when it is moved."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from shapely.geometry import Point as FlatPoint
from shapely.geometry import Polygon

from stirrup.core.arrange.where import footprint
from stirrup.core.plan.changes import AnyChange, SetValue, Together, apply, touches
from stirrup.core.plan.model import Item, Person, Plan

SEATS = ("seat", "bench")


def _sits_on(person: Person, flat: Polygon) -> bool:
    return person.posture == "seated" and flat.covers(FlatPoint(person.at[0], person.at[1]))


def riding_kg(items: Iterable[Item], crew: Sequence[Person]) -> dict[str, float]:
    """What the people who sit on each seat weigh together [kg], by the seat's id."""
    out = {}
    for item in items:
        if item.form in SEATS and item.size is not None and item.stage != "removed":
            flat = Polygon(footprint(item))
            out[item.id] = sum(p.mass for p in crew if _sits_on(p, flat))
    return {id_: mass for id_, mass in out.items() if mass > 0}


def with_riders(plan: Plan, change: AnyChange) -> AnyChange:
    """The change, and with each seat that it moves whoever sits on it in the plan's own cases.

    Somebody whom the change itself puts elsewhere goes there. Raises CoreError as `apply` does.
    """
    touched = {path[1] for path in touches(change) if path[0] == "items" and len(path) > 1}
    seats = [i for i in plan.items if i.id in touched and i.form in SEATS and i.size is not None]
    if not seats or not plan.cases:
        return change
    after = apply(plan, change)
    there = {i.id: i for i in after.items}
    more: list[AnyChange] = []
    for seat in seats:
        if seat.id in there and there[seat.id].mass.centre != seat.mass.centre:
            more += _riding(plan, after, seat, there[seat.id])
    if not more:
        return change
    parts = change.changes if isinstance(change, Together) else (change,)
    words = change.words if isinstance(change, Together) else ""
    return Together(changes=(*parts, *more), words=words)


def _riding(plan: Plan, after: Plan, seat: Item, moved: Item) -> list[AnyChange]:
    """Those on one seat, put down as far on as it went."""
    by = [b - a for a, b in zip(seat.mass.centre, moved.mass.centre, strict=True)]
    flat = Polygon(footprint(seat))
    later = {case.name: case for case in after.cases}
    out: list[AnyChange] = []
    for case in plan.cases:
        crew = later[case.name].crew if case.name in later else ()
        for k, person in enumerate(case.crew):
            if not _sits_on(person, flat) or k >= len(crew) or crew[k].at != person.at:
                continue
            at = [round(a + d, 4) for a, d in zip(person.at, by, strict=True)]
            out.append(SetValue(path=("cases", case.name, "crew", str(k), "at"), value=at))
    return out
