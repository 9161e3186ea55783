"""Gear that has a home lies in every load case while it is worked out; it is not the case's own."""

from __future__ import annotations

from stirrup.core.plan.model import Gear, LoadCase, Plan

ID_LONG = 60


def stowed_id(gear: Gear) -> str:
    """Id under which a piece of gear lies in a load case."""
    return f"stowed-{gear.id}"[:ID_LONG]


def brought(plan: Plan, case: LoadCase) -> LoadCase:
    """A case with what it brings along itself: less what lies in it because it has a home."""
    stowed = {stowed_id(g) for g in plan.wishes.gear}
    extra = tuple(e for e in case.extra if e.id not in stowed)
    return case if len(extra) == len(case.extra) else case.model_copy(update={"extra": extra})
