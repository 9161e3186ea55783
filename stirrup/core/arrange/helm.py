"""There is one place to steer from: saying so of a seat takes it from the others."""

from __future__ import annotations

from stirrup.core.plan.changes import AnyChange, SetValue, Together
from stirrup.core.plan.model import Plan

GROUPS = ("items", "fittings")


def one_helm(plan: Plan, change: AnyChange) -> AnyChange:
    """The change, and where it makes a seat the one to steer from, no other one any more."""
    parts = change.changes if isinstance(change, Together) else (change,)
    chosen = {
        p.path[1]
        for p in parts
        if isinstance(p, SetValue) and p.path[0] in GROUPS and p.path[2:] == ("steers",) and p.value is True
    }
    others = [
        (group, t.id)
        for group in GROUPS
        for t in getattr(plan, group)
        if getattr(t, "steers", False) and t.id not in chosen
    ]
    if not chosen or not others:
        return change
    words = change.words if isinstance(change, Together) else ""
    more = (SetValue(path=(group, id_, "steers"), value=False) for group, id_ in others)
    return Together(changes=(*parts, *more), words=words)
