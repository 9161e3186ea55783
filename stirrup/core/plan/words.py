"""Changes in words, for the history: "Bow deck: aft edge 3 150 mm to 3 020 mm"."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from pydantic import BaseModel

from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import AddThing, AnyChange, RemoveThing, SetValue, Together, index_of
from stirrup.core.plan.entry import in_units, kind_at
from stirrup.core.plan.model import Plan
from stirrup.core.units import Units, write_length


def _named(value: Any) -> str:
    for key in ("name", "id"):
        word = value.get(key) if isinstance(value, dict) else getattr(value, key, None)
        if word:
            return str(word)
    return "it"


def _follow(plan: Plan, path: tuple[str, ...]) -> list[Any]:
    """Objects along a path, as far as it can be followed."""
    here: Any = plan
    out: list[Any] = []
    for step in path:
        if isinstance(here, tuple):
            here = next(
                (x for x in here if step in (getattr(x, "id", None), getattr(x, "name", None))),
                here[at] if (at := index_of(step)) is not None and at < len(here) else None,
            )
        elif isinstance(here, dict):
            here = here.get(step)
        else:
            here = getattr(here, step, None)
        out.append(here)
    return out


AXES = ("from transom", "to port", "above keel line")


def _is_point(value: Any) -> bool:
    return isinstance(value, tuple) and all(isinstance(v, int | float) for v in value)


def _kind(plan: Plan, path: tuple[str, ...]) -> str:
    """What a place holds; empty where that cannot be told."""
    try:
        return kind_at(plan, path).kind
    except (CoreError, ValueError):
        return ""


def _show(kind: str, value: Any, units: Units) -> str:
    if value is None:
        return "automatic"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Decimal):
        return f"{value:.2f}"
    if isinstance(value, list | tuple) and all(isinstance(v, int | float) for v in value):
        return " / ".join(write_length(float(v), units) for v in value)
    if isinstance(value, int | float):
        return in_units(value, kind, units)
    return value if isinstance(value, str) else "new values"


def _goes_along(change: AnyChange) -> bool:
    """Whether a change only follows from the one before it and needs no words."""
    if change.do != "together" and change.path[0] == "catalogue":
        return True  # entries that it names from now on
    if not isinstance(change, SetValue):
        return False
    group, *rest = change.path
    if group == "hull":
        return rest == ["lines"] or "known" in rest
    if group in ("items", "fittings") and rest[1:] == ["steers"]:
        return change.value is False  # another seat is the one to steer from
    return group == "cases" and len(rest) == 4 and (rest[1], rest[3]) == ("crew", "at")  # on a seat


def describe(plan: Plan, change: AnyChange, units: Units) -> str:
    """One line of the history for a change to `plan`."""
    if isinstance(change, Together):
        first = describe(plan, change.changes[0], units)
        more = sum(not _goes_along(part) for part in change.changes[1:])
        return change.words or (f"{first}, and {more} more" if more else first)
    if isinstance(change, AddThing) and change.path == ("arrangement", "accepted"):
        return f"accepted knowingly: {change.value.get('reason')}"
    if isinstance(change, RemoveThing) and change.path[:2] == ("arrangement", "accepted"):
        return "a finding asks again"
    if isinstance(change, RemoveThing) and change.path[:2] == ("arrangement", "bonds"):
        return "a bond taken off"
    if isinstance(change, AddThing):
        return f"{_named(change.value)}: added"
    try:
        seen = _follow(plan, change.path)
    except (CoreError, ValueError):
        seen = [None] * len(change.path)
    if isinstance(change, RemoveThing):
        return f"{_named(seen[-1]) if seen[-1] is not None else change.path[-1]}: removed"
    owners = [x for x in seen[:-1] if isinstance(x, BaseModel) and _named(x) != "it"]
    owner = _named(owners[-1]) if owners else plan.name
    field, kind = change.path[-1], _kind(plan, change.path)
    where = ""
    if change.path[:2] == ("hull", "lines") and len(change.path) > 5:
        where = f", station {int(change.path[4]) + 1}"
    if index_of(field) is not None and len(seen) > 1 and _is_point(seen[-2]):
        axis = AXES[int(field) % 3]
        old, new = (_show("length", v, units) for v in (seen[-1], change.value))
        return f"{owner}{where}: {axis} {old} to {new}"
    if change.path[:2] == ("hull", "lines") and len(change.path) > 4:
        at = index_of(change.path[4])
        k = change.path[4] if at is None else at + 1
        return f"{owner}, station {k}: {_show(kind, seen[-1], units)} to {_show(kind, change.value, units)}"
    title = field.replace("_", " ")
    if owners and field in type(owners[-1]).model_fields:
        title = (type(owners[-1]).model_fields[field].title or title).lower()
    if len(change.path) > 3 and change.path[-2] == "fills":
        tank = next((t for t in plan.tanks if t.id == field), None)
        title = f"{tank.title if tank else field} filled"
    return f"{owner}: {title} {_show(kind, seen[-1], units)} to {_show(kind, change.value, units)}"
