"""Taking things out: what becomes of their guests, and every mention of them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from stirrup.core.arrange.setting import forgotten
from stirrup.core.contract.base import Tie
from stirrup.core.contract.kind import title_of as title_of_thing
from stirrup.core.errors import CoreError
from stirrup.core.kinds.registry import kind_of
from stirrup.core.plan.changes import AnyChange, RemoveThing, SetValue, Together
from stirrup.core.plan.model import GROUPS, Plan
from stirrup.core.plan.things import guests_of, path_of, present, title_of
from stirrup.core.record import dataclass

GOES, STAYS = "goes too", "stays"


@dataclass(frozen=True)
class Guest:
    """Something that needs what is taken out: its tie, and what may become of it.

    fates: GOES, STAYS (where it can do without), and ids of hosts it could move to; the first is
    what happens when nothing is said.
    """

    id: str
    title: str
    tie: Tie
    fates: tuple[str, ...]


def guests(plan: Plan, ids: Iterable[str]) -> list[Guest]:
    """What else is asked about when things are taken out."""
    asked = set(ids)
    out = []
    for thing, tie in guests_of(plan, asked):
        hosts = tuple(
            t.id
            for t in present(plan)
            if t.id not in asked and t.id != thing.id and tie.offer in kind_of(t).offers
        )
        fates = (GOES, *hosts) if tie.needed else (STAYS, GOES, *hosts)
        out.append(Guest(thing.id, title_of_thing(thing), tie, fates))
    return out


def _mentions(plan: Plan, ids: set[str]) -> list[AnyChange]:
    changes: list[AnyChange] = []
    for case in plan.cases:
        kept = [w for w in case.without if w not in ids]
        if len(kept) < len(case.without):
            changes.append(SetValue(path=("cases", case.name, "without"), value=list(kept)))
        fills: dict[str, Any] = {k: v for k, v in case.fills.items() if k not in ids}
        if len(fills) < len(case.fills):
            changes.append(SetValue(path=("cases", case.name, "fills"), value=fills))
    homes = [g for g in plan.wishes.gear if g.home in ids]
    return [*changes, *(SetValue(path=("wishes", "gear", g.id, "home"), value=None) for g in homes)]


def removal(plan: Plan, path: tuple[str, ...], fates: Mapping[str, str] | None = None) -> AnyChange:
    """Take out what is at a path: a thing, a case, one of a case's crew."""
    if path[0] in GROUPS and len(path) == 2:
        return removed(plan, [path[1]], fates)
    changes = [] if path[0] == "cases" else _mentions(plan, {path[-1]})
    changes.append(RemoveThing(path=path))
    return changes[0] if len(changes) == 1 else Together(changes=tuple(changes))


def removed(plan: Plan, ids: Iterable[str], fates: Mapping[str, str] | None = None) -> AnyChange:
    """Take things out together with what has to go with them and every mention of them.

    fates: what becomes of a guest by its id, see `guests`; what goes too may have guests of its own.
    Raises CoreError when nothing is named and for a fate that a guest cannot have; a name that is not
    there fails when it is applied.
    """
    asked = list(dict.fromkeys(ids))
    if not asked:
        raise CoreError("choose something first", "sel")
    going, kept, ahead = list(asked), [], asked
    while ahead:
        fated = [(g, _fate(g, fates or {})) for g in guests(plan, going)]
        ahead = [g.id for g, fate in fated if fate == GOES]
        kept = [(g, fate) for g, fate in fated if fate != GOES]
        going = [*dict.fromkeys(ahead), *going]
    changes: list[AnyChange] = [
        SetValue(path=(*path_of(plan, g.id), g.tie.field), value=None if fate == STAYS else fate)
        for g, fate in kept
    ]
    changes += [*_mentions(plan, set(going)), *forgotten(plan, set(going))]
    changes += [RemoveThing(path=path_of(plan, id_)) for id_ in going]
    if len(changes) == 1:
        return changes[0]
    if len(asked) == 1:
        with_them = " with what sits in it" if len(going) > 1 else ""
        words = f"{title_of(plan, asked[0])}: removed{with_them}"
    else:
        words = f"{len(asked)} things removed"
    return Together(changes=tuple(changes), words=words)


def _fate(guest: Guest, fates: Mapping[str, str]) -> str:
    fate = fates.get(guest.id, guest.fates[0])
    if fate not in guest.fates:
        raise CoreError(
            f"read “{fate}” for “{guest.title}”; accepted: {', '.join(guest.fates)}", f"fates.{guest.id}"
        )
    return fate
