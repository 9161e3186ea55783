"""One edge of a thing brought elsewhere while the opposite one stays: the thing gets another size."""

from __future__ import annotations

from stirrup.core.arrange.move import refuse_locked
from stirrup.core.contract.base import OFFERED
from stirrup.core.contract.extent import AXIS_OF, LOW_EDGES, Extent
from stirrup.core.contract.kind import Sizes, sized_edges
from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.registry import kind_of
from stirrup.core.plan.changes import AnyChange, SetValue, Together
from stirrup.core.plan.model import Plan
from stirrup.core.plan.things import path_of, title_of
from stirrup.core.plan.where import extent_of

LEAST_M = 0.02
SIZED = ("aft", "fore", "port", "starboard", "top", "bottom")


def _sizes(plan: Plan, id_: str) -> Sizes:
    thing = plan.thing(id_)
    if thing is None:
        raise CoreError(f"“{id_}” has no edges that can be drawn", id_)
    return kind_of(thing).sizes(thing)


def edges_of(plan: Plan, id_: str) -> tuple[str, ...]:
    """Edges of a thing that can be drawn, none when it has no size, is turned or is locked."""
    if plan.arrangement.of(id_).locked:
        return ()
    try:
        return sized_edges(_sizes(plan, id_))
    except CoreError:
        return ()


def resized(plan: Plan, surface: HullSurface, id_: str, edge: str, value: float) -> AnyChange:
    """A thing with one edge at a coordinate [m], the opposite edge where it was.

    Raises CoreError when it is locked, turned, has no such edge, or nothing would be left.
    """
    if edge not in SIZED:
        raise CoreError(f"read “{edge}”; accepted: {', '.join(SIZED)}", "edge")
    refuse_locked(plan, [id_])
    places, axis = _sizes(plan, id_), AXIS_OF[edge]
    size, middle = places.size[axis], places.middle[axis]
    if size is None or middle is None:
        ties = kind_of(plan.thing(id_)).ties(plan.thing(id_))
        host = OFFERED[ties[0].offer][0] if ties else "kind"
        raise CoreError(f"the {edge} edge of “{title_of(plan, id_)}” follows from its {host}", "edge")
    extent: Extent = extent_of(plan, surface, id_)
    low, high = (extent.x, extent.y, extent.z)[axis]
    low, high = (value, high) if edge in LOW_EDGES else (low, value)
    if high - low < LEAST_M:
        raise CoreError(
            f"that leaves {high - low:.3f} m of it; at least {LEAST_M:g} m must be left", "value"
        )
    at = low if places.floor and axis == 2 else (low + high) / 2
    changes = (
        SetValue(path=(*path_of(plan, id_), *size), value=round(high - low, 4)),
        SetValue(path=(*path_of(plan, id_), *middle), value=round(at, 5)),
    )
    return Together(changes=changes, words="")
