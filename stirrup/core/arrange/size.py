"""One edge of a thing brought elsewhere while the opposite one stays: the thing gets another size."""

from __future__ import annotations

from dataclasses import dataclass

from stirrup.core.arrange.move import refuse_locked, title_of
from stirrup.core.arrange.where import Extent, extent_of
from stirrup.core.errors import CoreError
from stirrup.core.fittings.hatch import Hatch
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.arrangement import AXIS_OF
from stirrup.core.plan.changes import AnyChange, SetValue, Together
from stirrup.core.plan.model import Item, Plan, Tank

LEAST_M = 0.02
SIZED = ("aft", "fore", "port", "starboard", "top", "bottom")
_LOW = ("aft", "starboard", "bottom")


@dataclass(frozen=True)
class _Places:
    """Where a thing keeps its size and its middle, axis by axis; None where it has none."""

    size: tuple[tuple[str, ...] | None, ...]
    middle: tuple[tuple[str, ...] | None, ...]
    floor: bool = False  # the third middle is the floor, not half way up


def _places(plan: Plan, id_: str) -> _Places:
    fitting = plan.fitting(id_)
    if isinstance(fitting, Hatch):
        here = ("fittings", id_)
        return _Places(
            ((*here, "clear_length"), (*here, "clear_width"), None), ((*here, "x"), (*here, "y"), None)
        )
    for group, at in (("items", ("mass", "centre")), ("tanks", ("floor_centre",))):
        thing: Item | Tank | None = next((t for t in getattr(plan, group) if t.id == id_), None)
        if thing is None:
            continue
        if thing.size is None:
            raise CoreError(f"“{title_of(plan, id_)}” has no size yet: give it one first", id_)
        if isinstance(thing, Item) and abs(thing.turn) % 180 > 1e-6:
            raise CoreError(f"“{title_of(plan, id_)}” is turned: type its size instead", id_)
        sizes = tuple((group, id_, "size", str(k)) for k in range(3))
        return _Places(sizes, tuple((group, id_, *at, str(k)) for k in range(3)), group == "tanks")
    raise CoreError(f"“{title_of(plan, id_)}” has no edges that can be drawn", id_)


def edges_of(plan: Plan, id_: str) -> tuple[str, ...]:
    """Edges of a thing that can be drawn, none when it has no size, is turned or is locked."""
    if plan.arrangement.of(id_).locked:
        return ()
    try:
        places = _places(plan, id_)
    except CoreError:
        return ()
    return tuple(e for e in SIZED if places.size[AXIS_OF[e]] is not None)


def resized(plan: Plan, surface: HullSurface, id_: str, edge: str, value: float) -> AnyChange:
    """A hatch, item or tank with one edge at a coordinate [m], the opposite edge where it was.

    Raises CoreError when it is locked, turned, has no such edge, or nothing would be left.
    """
    if edge not in SIZED:
        raise CoreError(f"read “{edge}”; accepted: {', '.join(SIZED)}", "edge")
    refuse_locked(plan, [id_])
    places, axis = _places(plan, id_), AXIS_OF[edge]
    size, middle = places.size[axis], places.middle[axis]
    if size is None or middle is None:
        raise CoreError(f"the {edge} edge of “{title_of(plan, id_)}” follows from its deck", "edge")
    extent: Extent = extent_of(plan, surface, id_)
    low, high = (extent.x, extent.y, extent.z)[axis]
    low, high = (value, high) if edge in _LOW else (low, value)
    if high - low < LEAST_M:
        raise CoreError(
            f"that leaves {high - low:.3f} m of it; at least {LEAST_M:g} m must be left", "value"
        )
    at = low if places.floor and axis == 2 else (low + high) / 2
    changes = (
        SetValue(path=size, value=round(high - low, 4)),
        SetValue(path=middle, value=round(at, 5)),
    )
    return Together(changes=changes, words="")
