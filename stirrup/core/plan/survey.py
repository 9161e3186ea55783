"""Changes of the survey: a reading becomes measured, estimated ones follow the quick start."""

from __future__ import annotations

from typing import Any

from stirrup.core.errors import CoreError
from stirrup.core.hull.model import KnuckleLine, QuickStart
from stirrup.core.hull.quick import follow_quick
from stirrup.core.plan.changes import AddThing, AnyChange, SetValue, Together, index_of
from stirrup.core.plan.model import Plan

SIDES = ("lines", "starboard")


def _line(plan: Plan, side: str, name: str) -> KnuckleLine | None:
    lines = plan.hull.lines if side == "lines" else plan.hull.starboard or ()
    return next((x for x in lines if x.name == name), None)


def _knowing(plan: Plan, change: SetValue) -> list[SetValue]:
    """What must be set besides, so that a typed or dragged reading counts as measured."""
    path = change.path
    if len(path) < 5 or path[0] != "hull" or path[1] not in SIDES or path[3] != "points":
        return []
    line = _line(plan, path[1], path[2])
    k = index_of(path[4])
    if line is None or k is None or k >= len(line.points):
        return []
    if line.known_at(k) == "measured":
        return []
    if isinstance(line.known, str):
        words = [line.known] * len(line.points)
        words[k] = "measured"
        return [SetValue(path=(*path[:3], "known"), value=list(words))]
    return [SetValue(path=(*path[:3], "known", path[4]), value="measured")]


def _following(plan: Plan, change: SetValue) -> list[SetValue]:
    """The estimated stations after a change of the quick start's readings."""
    if change.path[:2] != ("hull", "quick") or plan.hull.quick is None:
        return []
    data = plan.hull.quick.model_dump()
    if len(change.path) == 3:
        data[change.path[2]] = change.value
    elif isinstance(change.value, dict):
        data = change.value
    try:
        quick = QuickStart.model_validate(data)
    except ValueError:
        return []  # the change itself is refused, with its reason
    lines = follow_quick(plan.hull.lines, quick)
    value: list[Any] = [line.model_dump(mode="json") for line in lines]
    return [SetValue(path=("hull", "lines"), value=value)]


def surveyed(plan: Plan, change: AnyChange) -> AnyChange:
    """The change with what follows from it in the survey, as one step."""
    if isinstance(change, Together):
        more = [m for part in change.changes if isinstance(part, SetValue) for m in _knowing(plan, part)]
        fresh = {m.path: m for m in more}
        parts = (*change.changes, *fresh.values())
        return change.model_copy(update={"changes": parts}) if fresh else change
    if not isinstance(change, SetValue):
        return change
    follows = _knowing(plan, change) or _following(plan, change)
    return Together(changes=(change, *follows)) if follows else change


def both_sides(plan: Plan) -> SetValue:
    """Start to measure starboard apart: its readings begin as port's, estimated.

    Raises CoreError when both sides are there already.
    """
    if plan.hull.starboard is not None:
        raise CoreError("both sides are measured already", "hull.starboard")
    value: list[Any] = []
    for line in plan.hull.lines:
        data = line.model_dump(mode="json")
        value.append({**data, "known": ["estimated"] * len(line.points)})
    return SetValue(path=("hull", "starboard"), value=value)


def taken_out(plan: Plan, place_id: str, mass_kg: float, name: str) -> AnyChange:
    """What was removed at a place of the survey: a removed item that the hull's mass held.

    Raises CoreError for an unknown place or one whose removal is booked.
    """
    place = next((p for p in plan.condition if p.id == place_id), None)
    if place is None:
        raise CoreError(f"there is no place “{place_id}”", "condition")
    if place.removed is not None:
        raise CoreError("what was removed here is in the ledger already", f"condition.{place_id}")
    taken = {i.id for i in plan.items}
    number = 1
    while f"removed-{number}" in taken:
        number += 1
    id_ = f"removed-{number}"
    value: dict[str, Any] = {
        "id": id_, "name": name or f"{place.kind} stuff", "group": "removed", "stage": "removed",
        "in_hull_mass": True,
        "mass": {"value": mass_kg, "centre": list(place.at), "status": "weighed"},
    }  # fmt: skip
    return Together(
        changes=(
            AddThing(path=("items",), value=value),
            SetValue(path=("condition", place_id, "removed"), value=id_),
        ),
        words=f"{value['name']}: taken out",
    )
