"""As it came out: a reading off the real boat becomes what the plan has, with its difference kept."""

from __future__ import annotations

from pydantic import JsonValue

from stirrup.core.arrange.move import edge_to
from stirrup.core.arrange.size import resized
from stirrup.core.contract.extent import AXIS_OF
from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.changes import AddThing, AnyChange, SetValue, Together, apply
from stirrup.core.plan.model import Item, Plan
from stirrup.core.plan.stood import SHAPES, Stood
from stirrup.core.plan.things import title_of
from stirrup.core.plan.where import extent_of

OPPOSITE = {"aft": "fore", "fore": "aft", "port": "starboard", "starboard": "port", "top": "bottom",
            "bottom": "top"}  # fmt: skip
MET_M, TAPE_M = 2e-4, 0.002  # 1 sigma of a tape
MOST_OFF_M = 0.5


def _readings(plan: Plan, thing: str) -> dict[str, Stood]:
    return {s.what: s for s in plan.stood if s.thing == thing}


def _brought(plan: Plan, surface: HullSurface, id_: str, edge: str, at: float) -> list[AnyChange]:
    """The edge where it stands; the opposite one stays if it was read too, so that the size is the real
    one."""
    other = OPPOSITE.get(edge)
    if other in _readings(plan, id_):
        change = resized(plan, surface, id_, edge, at)
        return list(change.changes) if isinstance(change, Together) else [change]
    return edge_to(plan, surface, id_, edge, at)


def _narrowed(plan: Plan, id_: str, edge: str, spread: float) -> list[AnyChange]:
    """The centre of a loose thing is known along this axis as well as it was read."""
    item = plan.thing(id_)
    if not isinstance(item, Item):
        return []
    known, axis = item.mass.centre_spread_m, AXIS_OF[edge]
    if known[axis] <= spread:
        return []
    narrow: list[JsonValue] = [spread if k == axis else s for k, s in enumerate(known)]
    return [SetValue(path=("items", id_, "mass", "centre_spread"), value=narrow)]


def stands(plan: Plan, surface: HullSurface, id_: str, edge: str, at: float, note: str = "") -> Together:
    """A thing's edge stands at a coordinate [m] in the real boat: the plan has it there from now on.

    Read anew, the place that it was planned at stays the first one. Raises CoreError for an edge that
    does not move by itself, and for more than half a metre off, which is a slip of the tape or another
    plan.
    """
    title = title_of(plan, id_)
    now, known = extent_of(plan, surface, id_).edge(edge), _readings(plan, id_).get(edge)
    planned = round(now, 4) if known is None else known.planned
    if abs(at - now) > MOST_OFF_M:
        raise CoreError(
            f"read {at:.3f} m for the {edge} edge of “{title}”, which is planned at {now:.3f} m; accepted: "
            f"within {MOST_OFF_M:g} m of the plan. Move it there first if the plan is another one now",
            "text",
        )
    changes: list[AnyChange] = []
    if abs(at - now) > MET_M / 4:
        changes = _brought(plan, surface, id_, edge, at)
        after = apply(plan, Together(changes=tuple(changes))) if changes else plan
        if abs(extent_of(after, surface, id_).edge(edge) - at) > MET_M:
            raise CoreError(f"the {edge} edge of “{title}” follows from what it stands on or reaches to; "
                            "read it there", "edge")  # fmt: skip
    changes += _narrowed(plan, id_, edge, TAPE_M)
    return _kept(plan, changes, Stood(id=_free(plan), thing=id_, what=edge, planned=planned,
                                      stands=round(at, 4), note=note), known)  # fmt: skip


def shaped(plan: Plan, id_: str, what: str, by: float, note: str = "") -> Together:
    """How far a thing came out of level or of flat [m]. Raises CoreError."""
    if what not in SHAPES:
        raise CoreError(f"read “{what}”; accepted: {', '.join(SHAPES)}", "edge")
    if abs(by) > MOST_OFF_M:
        raise CoreError(f"read {by:.3f} m; accepted: up to {MOST_OFF_M:g} m", "text")
    known = _readings(plan, id_).get(what)
    return _kept(plan, [], Stood(id=_free(plan), thing=id_, what=what, stands=round(by, 4), note=note),
                 known)  # fmt: skip


def _free(plan: Plan) -> str:
    taken = {s.id for s in plan.stood}
    return next(f"stands-{k}" for k in range(1, len(taken) + 2) if f"stands-{k}" not in taken)


def _kept(plan: Plan, changes: list[AnyChange], reading: Stood, known: Stood | None) -> Together:
    value = reading.model_dump(mode="json")
    if known is not None:
        keep = SetValue(path=("stood", known.id), value={**value, "id": known.id})
        return Together(changes=(*changes, keep))
    return Together(changes=(*changes, AddThing(path=("stood",), value=value)))
