"""What follows from a change, in one list and applied in one place.

A follower is handed the plan before, what it may ask, and the change; it gives the change back with
what it brings along, as one step. Each sees what those before it added.
"""

from __future__ import annotations

from collections.abc import Callable

from stirrup.core.arrange.bonds import with_bonds
from stirrup.core.arrange.helm import one_helm
from stirrup.core.arrange.riders import with_riders
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.plan.carried import carrying
from stirrup.core.plan.changes import AnyChange
from stirrup.core.plan.model import Plan
from stirrup.core.plan.survey import surveyed
from stirrup.core.record import dataclass


@dataclass(frozen=True)
class Around:
    """What followers may ask: the hull, worked out when it is needed, and the shop's catalogue."""

    surface: Callable[[], HullSurface]
    catalogue: Catalogue


Follower = Callable[[Plan, Around, AnyChange], AnyChange]

FOLLOWERS: tuple[Follower, ...] = (
    # estimated stations of the survey, and that a typed reading is measured
    lambda plan, _, change: surveyed(plan, change),
    # one place to steer from
    lambda plan, _, change: one_helm(plan, change),
    # things that are bound to what moves
    lambda plan, around, change: with_bonds(plan, around.surface, change),
    # whoever sits on a seat
    lambda plan, _, change: with_riders(plan, change),
    # entries of the catalogue that the plan names from now on
    lambda plan, around, change: carrying(plan, around.catalogue, change),
)


def followed(plan: Plan, around: Around, change: AnyChange) -> AnyChange:
    """The change with all that follows from it, as one step. Raises CoreError as `apply` does."""
    for follower in FOLLOWERS:
        change = follower(plan, around, change)
    return change
