"""Taking things out, with what sits in them and every mention of them."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from stirrup.core.arrange.move import title_of
from stirrup.core.arrange.setting import forgotten
from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import AnyChange, RemoveThing, SetValue, Together
from stirrup.core.plan.model import Plan


def group_of(plan: Plan, id_: str) -> str:
    """Which list of the plan a thing stands in; "items" when it is in none."""
    for group in ("fittings", "items", "tanks", "buoyancy", "existing"):
        if any(thing.id == id_ for thing in getattr(plan, group)):
            return group
    return "items"


def _mentions(plan: Plan, ids: set[str]) -> list[AnyChange]:
    changes: list[AnyChange] = []
    for case in plan.cases:
        kept = [w for w in case.without if w not in ids]
        if len(kept) < len(case.without):
            changes.append(SetValue(path=("cases", case.name, "without"), value=list(kept)))
        fills: dict[str, Any] = {k: v for k, v in case.fills.items() if k not in ids}
        if len(fills) < len(case.fills):
            changes.append(SetValue(path=("cases", case.name, "fills"), value=fills))
    return changes


def removal(plan: Plan, path: tuple[str, ...]) -> AnyChange:
    """Take out what is at a path: a thing, a case, one of a case's crew."""
    if path[0] in ("fittings", "items", "tanks", "buoyancy", "existing") and len(path) == 2:
        return removed(plan, [path[1]])
    changes = [] if path[0] == "cases" else _mentions(plan, {path[-1]})
    changes.append(RemoveThing(path=path))
    return changes[0] if len(changes) == 1 else Together(changes=tuple(changes))


def removed(plan: Plan, ids: Iterable[str]) -> AnyChange:
    """Take things out together with what sits in them and every mention of them.

    Raises CoreError when none is named; a name that is not there fails when it is applied.
    """
    asked = list(dict.fromkeys(ids))
    if not asked:
        raise CoreError("choose something first", "sel")
    hosted = [f.id for f in plan.fittings if getattr(f, "deck", None) in asked and f.id not in asked]
    every = [*hosted, *asked]
    changes = [*_mentions(plan, set(every)), *forgotten(plan, set(every))]
    changes += [RemoveThing(path=(group_of(plan, id_), id_)) for id_ in every]
    if len(changes) == 1:
        return changes[0]
    if len(asked) == 1:
        words = f"{title_of(plan, asked[0])}: removed" + (" with what sits in it" if hosted else "")
    else:
        words = f"{len(asked)} things removed"
    return Together(changes=tuple(changes), words=words)
