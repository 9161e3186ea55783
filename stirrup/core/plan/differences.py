"""What must be changed to come from one plan to another: the way back, and lists in words."""

from __future__ import annotations

from typing import Any

from stirrup.core.plan.changes import (
    AddThing,
    AnyChange,
    RemoveThing,
    SetValue,
    Together,
    identity,
    plain,
)
from stirrup.core.plan.model import Plan

MOST_STEPS = 500  # of one change; beyond that whole parts are set


def _known(items: list[Any], group: str) -> list[str] | None:
    """Names of a list's things when each has one of its own, else None."""
    names = [identity(item, group) for item in items]
    known = [n for n in names if n is not None]
    return known if len(known) == len(items) and len(set(known)) == len(known) else None


def _lists(before: list[Any], after: list[Any], path: tuple[str, ...]) -> list[AnyChange]:
    old, new = _known(before, path[-1]), _known(after, path[-1])
    if not old and not new:
        return [SetValue(path=path, value=after)]
    if old is None or new is None or (old and [n for n in old if n in new] != [n for n in new if n in old]):
        return [SetValue(path=path, value=after)]
    out: list[AnyChange] = [RemoveThing(path=(*path, name)) for name in old if name not in new]
    for name, item in zip(new, after, strict=True):
        if name in old:
            out += _between(before[old.index(name)], item, (*path, name))
    out += [AddThing(path=path, value=after[k], index=k) for k, name in enumerate(new) if name not in old]
    return out


def _between(before: Any, after: Any, path: tuple[str, ...]) -> list[AnyChange]:
    if before == after:
        return []
    if isinstance(before, dict) and isinstance(after, dict) and set(before) == set(after):
        same_kind = all(before.get(key) == after.get(key) for key in ("kind", "id"))
        if same_kind:
            return [c for key in after for c in _between(before[key], after[key], (*path, key))]
    if isinstance(before, list) and isinstance(after, list) and path:
        if path[0] == "hull" and len(before) == len(after) and path[-1] == "points":
            pairs = enumerate(zip(before, after, strict=True))
            return [c for k, (a, b) in pairs for c in _between_points(a, b, (*path, str(k)))]
        return _lists(before, after, path)
    return [SetValue(path=path, value=after)]


def _between_points(before: Any, after: Any, path: tuple[str, ...]) -> list[AnyChange]:
    return [] if before == after else [SetValue(path=path, value=after)]


def changes_between(before: Plan, after: Plan) -> tuple[AnyChange, ...]:
    """The changes that make `after` out of `before`, thing by thing, in their order."""
    old, new = plain(before), plain(after)
    found = [c for key in new for c in _between(old[key], new[key], (key,))]
    if len(found) > MOST_STEPS:
        return tuple(SetValue(path=(key,), value=new[key]) for key in new if old[key] != new[key])
    return tuple(found)


def way_to(now: Plan, then: Plan, words: str) -> Together | None:
    """One step from a plan to another; None when they are the same."""
    found = changes_between(now, then)
    return Together(changes=found, words=words[:200]) if found else None
