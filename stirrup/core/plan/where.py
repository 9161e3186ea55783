"""Where a thing stands: its extent along the boat's axes."""

from __future__ import annotations

from functools import partial
from typing import Any

from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import DATUMS, Extent
from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.registry import kind_of
from stirrup.core.memo import ByIdentity
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.plan.model import Plan
from stirrup.core.plan.settled import settled

OF_PLAN = ByIdentity(50)
DEEPEST = 12  # hosts of hosts that an extent may follow from


def of_plan(plan: Plan) -> Catalogue:
    """The entries that a plan carries, as a catalogue."""
    carried = plan.catalogue
    return OF_PLAN.get(carried, None, lambda: Catalogue(carried.materials, carried.entries))


def where(plan: Plan, surface: HullSurface, depth: int = 0) -> Where:
    """What kinds may ask about a plan."""
    return Where(surface, partial(_found, plan), partial(_extent, plan, surface, depth + 1), of_plan(plan))


def _found(plan: Plan, id_: str) -> Any:
    thing = plan.thing(id_)
    return None if thing is None else settled(thing, plan.schools)


def _extent(plan: Plan, surface: HullSurface, depth: int, id_: str) -> Extent | None:
    thing = _found(plan, id_)
    if thing is None or depth > DEEPEST:
        return None
    return kind_of(thing).extent(thing, where(plan, surface, depth))


def extent_of(plan: Plan, surface: HullSurface, id_: str) -> Extent:
    """Extent of a fitting, item, tank, buoyant volume given as a box, or existing structure.

    A deck's reaches across the widest of the hull at its height; a hatch's is its clear
    opening. Raises CoreError when there is no such thing.
    """
    thing = _found(plan, id_)
    if thing is None:
        raise CoreError(f"there is nothing called “{id_}” to be placed; it may be gone", id_)
    return kind_of(thing).extent(thing, where(plan, surface))


def level_of(plan: Plan, surface: HullSurface, to: str, to_edge: str | None) -> float:
    """Coordinate of a datum (0) or of an edge of a thing [m]. Raises CoreError."""
    if to in DATUMS:
        return 0.0
    return extent_of(plan, surface, to).edge(to_edge or "aft")
