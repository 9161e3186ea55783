"""Everything that has a place in a plan, whatever its kind: by id, with its host and its guests."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from stirrup.core.contract.base import Tie
from stirrup.core.contract.kind import title_of as title_of_thing
from stirrup.core.kinds.registry import kind_of
from stirrup.core.plan.model import GROUPS, Item, Plan


def every(plan: Plan) -> Iterator[Any]:
    """All things of a plan, group by group."""
    for group in GROUPS:
        yield from getattr(plan, group)


def is_gone(thing: Any) -> bool:
    """Whether it was taken out of the boat."""
    return getattr(thing, "stage", "") == "removed"


def present(plan: Plan) -> Iterator[Any]:
    """All things that are or will be in the boat."""
    return (t for t in every(plan) if not is_gone(t))


PUT_IN = ("fittings", "items", "tanks")  # lists of what people put in
CHOSEN = (
    *PUT_IN,
    "buoyancy",
    "existing",
)  # of what they choose, move and copy: structure as it is measured too


def put_in(plan: Plan) -> Iterator[Any]:
    """All things that people put into the boat and that are or will be there."""
    return (t for group in PUT_IN for t in getattr(plan, group) if not is_gone(t))


def path_of(plan: Plan, id_: str) -> tuple[str, str]:
    """Where in the plan a thing stands: its list and its id; ("items", id) when it is in none."""
    thing = plan.thing(id_)
    return ("items" if thing is None else kind_of(thing).group, id_)


def title_of(plan: Plan, id_: str) -> str:
    """Name by which people know a thing."""
    thing = plan.thing(id_)
    return id_ if thing is None else title_of_thing(thing)


def guests_of(plan: Plan, ids: Iterable[str]) -> list[tuple[Any, Tie]]:
    """What needs one of these things, each with its tie; not what is one of them itself."""
    hosts = set(ids)
    return [
        (thing, tie)
        for thing in every(plan)
        if thing.id not in hosts
        for tie in kind_of(thing).ties(thing)
        if tie.to in hosts
    ]


def with_guests(plan: Plan, ids: Iterable[str]) -> tuple[str, ...]:
    """Things that move together: each with its group, and hosts with their guests, to any depth; what has
    no place of its own takes along what it goes round."""
    out: dict[str, None] = {}
    ids = [carrier_of(plan, id_) or id_ for id_ in ids]
    ahead = [one for id_ in ids for one in plan.arrangement.together(id_)]
    while ahead:
        for id_ in ahead:
            out[id_] = None
        ahead = list(dict.fromkeys(t.id for t, _ in guests_of(plan, out)))
    return tuple(out)


def carrier_of(plan: Plan, id_: str) -> str | None:
    """Id of what a thing without a place of its own goes round; None for all others."""
    thing = plan.thing(id_)
    return None if thing is None else kind_of(thing).carrier(thing)


def motors(plan: Plan) -> list[Item]:
    """Every item that counts as a motor, taken out ones among them."""
    return [i for i in plan.items if kind_of(i).plant == "motor"]


def motors_kg(plan: Plan) -> float:
    """What the motors that are aboard weigh [kg]."""
    return sum(i.mass.value for i in motors(plan) if not is_gone(i))
