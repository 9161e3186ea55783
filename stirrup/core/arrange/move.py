"""Changes that move things: each by what its kind calls a position, guests along with hosts."""

from __future__ import annotations

from collections.abc import Iterable

from stirrup.core.arrange.where import extent_of
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.fittings.hatch import Hatch
from stirrup.core.fittings.raised_deck import RaisedDeck
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.arrangement import AXIS_OF
from stirrup.core.plan.changes import AnyChange, SetValue, Together
from stirrup.core.plan.model import Plan

FINE_M = 1e-4  # positions are kept to a tenth of a millimetre


def _set(path: tuple[str, ...], value: float) -> SetValue:
    return SetValue(path=path, value=round(value, 4))


def _by_point(path: tuple[str, ...], at: Point, by: Point) -> list[SetValue]:
    return [_set((*path, str(k)), at[k] + by[k]) for k in range(3) if abs(by[k]) > FINE_M / 2]


def title_of(plan: Plan, id_: str) -> str:
    """Name by which people know a thing."""
    for group in (plan.fittings, plan.items, plan.tanks, plan.buoyancy, plan.existing):
        for thing in group:
            if thing.id == id_:
                return str(getattr(thing, "title", None) or thing.name or id_)
    return id_


def refuse_locked(plan: Plan, ids: Iterable[str]) -> None:
    """Raise CoreError, naming it, when one of them is locked."""
    for id_ in ids:
        if plan.arrangement.of(id_).locked:
            raise CoreError(f"“{title_of(plan, id_)}” is locked: unlock it to move it", id_)


def shifted(plan: Plan, id_: str, by: Point) -> list[SetValue]:
    """One thing moved by (x, y, z) [m]; a direction that its kind does not have is left out.

    An edge of a deck that follows transom or bow stays there. Raises CoreError for existing structure and
    for what is not there.
    """
    fitting = plan.fitting(id_)
    here = ("fittings", id_)
    if isinstance(fitting, RaisedDeck):
        ends = (("aft", fitting.aft), ("fore", fitting.fore)) if abs(by[0]) > FINE_M / 2 else ()
        out = [_set((*here, end), at + by[0]) for end, at in ends if at is not None]
        if abs(by[2]) > FINE_M / 2:
            out.append(_set((*here, "height"), fitting.height + by[2]))
        return out
    if isinstance(fitting, Hatch):
        places = ((0, "x", fitting.x), (1, "y", fitting.y))
        return [_set((*here, f), v + by[k]) for k, f, v in places if abs(by[k]) > FINE_M / 2]
    for item in plan.items:
        if item.id == id_:
            return _by_point(("items", id_, "mass", "centre"), item.mass.centre, by)
    for tank in plan.tanks:
        if tank.id == id_:
            return _by_point(("tanks", id_, "floor_centre"), tank.floor_centre, by)
    for volume in plan.buoyancy:
        if volume.id == id_ and volume.box is not None:
            path = ("buoyancy", id_, "box", "floor_centre")
            return _by_point(path, volume.box.floor_centre, by)
    if any(e.id == id_ for e in plan.existing):
        raise CoreError(f"“{title_of(plan, id_)}” is part of the boat and stays where it is", id_)
    raise CoreError(f"there is nothing called “{id_}” to move; it may be gone", id_)


def with_guests(plan: Plan, ids: Iterable[str]) -> tuple[str, ...]:
    """Things that move together: each with its group, and decks with the hatches in them."""
    out: dict[str, None] = {}
    for id_ in ids:
        for one in plan.arrangement.together(id_):
            out[one] = None
    for fitting in plan.fittings:
        if isinstance(fitting, Hatch) and fitting.deck in out:
            out[fitting.id] = None
    return tuple(out)


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


# which choice of a deck an edge is
_DECK_EDGES = {"aft": "aft", "fore": "fore", "top": "height"}


def edge_to(plan: Plan, surface: HullSurface, id_: str, edge: str, target: float) -> list[AnyChange]:
    """Bring an edge of a thing to a coordinate [m]: decks are sized by it, all else is moved.

    Raises CoreError.
    """
    fitting = plan.fitting(id_)
    if isinstance(fitting, RaisedDeck) and edge in _DECK_EDGES:
        return [_set(("fittings", id_, _DECK_EDGES[edge]), target)]
    by = [0.0, 0.0, 0.0]
    axis = AXIS_OF[edge]
    by[axis] = target - extent_of(plan, surface, id_).edge(edge)
    way = (by[0], by[1], by[2])
    out: list[AnyChange] = []
    for one in with_guests(plan, [id_]):
        out += shifted(plan, one, way)
    return out
