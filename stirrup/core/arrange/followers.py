"""What follows from a change, in one list and applied in one place.

A follower is handed the plan before, the hull when it asks, and the change; it gives the change back
with what it brings along, as one step. Each sees what those before it added.
"""

from __future__ import annotations

from collections.abc import Callable

from stirrup.core.arrange.bonds import with_bonds
from stirrup.core.arrange.helm import one_helm
from stirrup.core.arrange.riders import with_riders
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.changes import AnyChange
from stirrup.core.plan.model import Plan
from stirrup.core.plan.survey import surveyed

Follower = Callable[[Plan, Callable[[], HullSurface], AnyChange], AnyChange]

FOLLOWERS: tuple[Follower, ...] = (
    # estimated stations of the survey, and that a typed reading is measured
    lambda plan, _, change: surveyed(plan, change),
    # one place to steer from
    lambda plan, _, change: one_helm(plan, change),
    # things that are bound to what moves
    with_bonds,
    # whoever sits on a seat
    lambda plan, _, change: with_riders(plan, change),
)


def followed(plan: Plan, surface: Callable[[], HullSurface], change: AnyChange) -> AnyChange:
    """The change with all that follows from it, as one step. Raises CoreError as `apply` does."""
    for follower in FOLLOWERS:
        change = follower(plan, surface, change)
    return change
