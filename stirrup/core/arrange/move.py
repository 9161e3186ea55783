"""Changes that move things: each by what its kind calls a position, guests along with hosts."""

from __future__ import annotations

from collections.abc import Iterable

from stirrup.core.contract.extent import AXIS_OF
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.registry import kind_of
from stirrup.core.plan.changes import AnyChange, SetValue, Together
from stirrup.core.plan.model import Plan
from stirrup.core.plan.things import path_of, title_of, with_guests
from stirrup.core.plan.where import extent_of


def refuse_locked(plan: Plan, ids: Iterable[str]) -> None:
    """Raise CoreError, naming it, when one of them is locked."""
    for id_ in ids:
        if plan.arrangement.of(id_).locked:
            raise CoreError(f"“{title_of(plan, id_)}” is locked: unlock it to move it", id_)


def shifted(plan: Plan, id_: str, by: Point) -> list[SetValue]:
    """One thing moved by (x, y, z) [m]; a direction that its kind does not have is left out.

    Raises CoreError for what stays where it is and for what is not there.
    """
    thing = plan.thing(id_)
    if thing is None:
        raise CoreError(f"there is nothing called “{id_}” to move; it may be gone", id_)
    here = path_of(plan, id_)
    return [
        SetValue(path=(*here, *path), value=round(value, 4))
        for path, value in kind_of(thing).shift(thing, by)
    ]


def moved(plan: Plan, ids: Iterable[str], by: Point, words: str = "") -> AnyChange:
    """Things moved by (x, y, z) [m], with their groups and guests, as one step.

    Raises CoreError when one is locked or cannot be moved, or when nothing would change.
    """
    every = with_guests(plan, ids)
    refuse_locked(plan, every)
    changes: list[AnyChange] = [c for id_ in every for c in shifted(plan, id_, by)]
    if not changes:
        raise CoreError("that moves nothing: it has no place in this direction", "by")
    if len(changes) == 1:
        return changes[0]
    return Together(changes=tuple(changes), words=words)


def edge_to(plan: Plan, surface: HullSurface, id_: str, edge: str, target: float) -> list[AnyChange]:
    """Bring an edge of a thing to a coordinate [m]: one that is a choice of it is set, so that the
    thing gets another size; else it is moved. Raises CoreError."""
    thing = plan.thing(id_)
    choice = None if thing is None else kind_of(thing).edge_choice(edge)
    if choice is not None:
        return [SetValue(path=(*path_of(plan, id_), *choice), value=round(target, 4))]
    by = [0.0, 0.0, 0.0]
    axis = AXIS_OF[edge]
    by[axis] = target - extent_of(plan, surface, id_).edge(edge)
    way = (by[0], by[1], by[2])
    out: list[AnyChange] = []
    for one in with_guests(plan, [id_]):
        out += shifted(plan, one, way)
    return out
