"""There is one place to steer from: saying so of a seat takes it from the others."""

from __future__ import annotations

from stirrup.core.plan.changes import AnyChange, SetValue, Together
from stirrup.core.plan.model import Plan


def one_helm(plan: Plan, change: AnyChange) -> AnyChange:
    """The change, and where it makes a seat the one to steer from, no other one any more."""
    parts = change.changes if isinstance(change, Together) else (change,)
    chosen = {
        p.path[1]
        for p in parts
        if isinstance(p, SetValue)
        and p.path[0] == "items"
        and p.path[2:] == ("steers",)
        and p.value is True
    }
    others = [i.id for i in plan.items if i.steers and i.id not in chosen]
    if not chosen or not others:
        return change
    words = change.words if isinstance(change, Together) else ""
    more = (SetValue(path=("items", id_, "steers"), value=False) for id_ in others)
    return Together(changes=(*parts, *more), words=words)
