"""People who sit on a seat go along with it when it is moved."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from shapely.geometry import Point as FlatPoint

from stirrup.core.contract.gives import Seat
from stirrup.core.kinds.registry import kind_of
from stirrup.core.plan.changes import AnyChange, SetValue, Together, apply, touches
from stirrup.core.plan.model import Person, Plan
from stirrup.core.plan.things import every, is_gone


def _sits_on(person: Person, seat: Seat) -> bool:
    return person.posture == "seated" and seat.region.covers(FlatPoint(person.at[0], person.at[1]))


def riding_kg(things: Iterable[Any], crew: Sequence[Person]) -> dict[str, float]:
    """What the people who sit on each thing weigh together [kg], by its id."""
    out = {}
    for thing in things:
        seats = () if is_gone(thing) else kind_of(thing).seats(thing)
        out[thing.id] = sum(p.mass for p in crew if any(_sits_on(p, s) for s in seats))
    return {id_: mass for id_, mass in out.items() if mass > 0}


def with_riders(plan: Plan, change: AnyChange) -> AnyChange:
    """The change, and with each seat that it moves whoever sits on it in the plan's own cases.

    Somebody whom the change itself puts elsewhere goes there. Raises CoreError as `apply` does.
    """
    touched = {path[1] for path in touches(change) if len(path) > 1}
    before = [(t.id, seats) for t in every(plan) if t.id in touched and (seats := _seats(plan, t.id))]
    if not before or not plan.cases:
        return change
    after = apply(plan, change)
    more: list[AnyChange] = []
    for id_, seats in before:
        for seat, moved in zip(seats, _seats(after, id_), strict=False):
            more += _riding(plan, after, seat, moved)
    if not more:
        return change
    parts = change.changes if isinstance(change, Together) else (change,)
    words = change.words if isinstance(change, Together) else ""
    return Together(changes=(*parts, *more), words=words)


def _seats(plan: Plan, id_: str) -> tuple[Seat, ...]:
    thing = plan.thing(id_)
    return () if thing is None else kind_of(thing).seats(thing)


def _riding(plan: Plan, after: Plan, seat: Seat, moved: Seat) -> list[AnyChange]:
    """Those on one seat, put down as far on as it went."""
    by = [b - a for a, b in zip(seat.at, moved.at, strict=True)]
    if not any(by):
        return []
    later = {case.name: case for case in after.cases}
    out: list[AnyChange] = []
    for case in plan.cases:
        crew = later[case.name].crew if case.name in later else ()
        for k, person in enumerate(case.crew):
            if not _sits_on(person, seat) or k >= len(crew) or crew[k].at != person.at:
                continue
            at = [round(a + d, 4) for a, d in zip(person.at, by, strict=True)]
            out.append(SetValue(path=("cases", case.name, "crew", str(k), "at"), value=at))
    return out
