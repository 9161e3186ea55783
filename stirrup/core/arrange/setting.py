"""Lock, hide and group: what is set for things besides their positions."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from stirrup.core.errors import CoreError
from stirrup.core.plan.arrangement import Arranged
from stirrup.core.plan.changes import AddThing, AnyChange, RemoveThing, SetValue, Together, bundled
from stirrup.core.plan.model import Plan
from stirrup.core.plan.things import title_of

PLACED = ("fittings", "items", "tanks", "buoyancy", "existing")


def _listed(plan: Plan, id_: str) -> bool:
    return any(t.id == id_ for t in plan.arrangement.things)


def _set(plan: Plan, ids: Iterable[str], field: str, value: bool | str) -> list[AnyChange]:
    out: list[AnyChange] = []
    for id_ in ids:
        if not any(t.id == id_ for g in PLACED for t in getattr(plan, g)):
            raise CoreError(f"there is nothing called “{id_}”; it may be gone", "sel")
        if getattr(plan.arrangement.of(id_), field) == value:
            continue
        if _listed(plan, id_):
            out.append(SetValue(path=("arrangement", "things", id_, field), value=value))
        else:
            entry = Arranged(id=id_).model_dump() | {field: value}
            out.append(AddThing(path=("arrangement", "things"), value=entry))
    return out


def _together(changes: list[AnyChange], words: str, nothing: str) -> AnyChange:
    if not changes:
        raise CoreError(nothing, "sel")
    return Together(changes=tuple(changes), words=words)


def _names(plan: Plan, ids: Sequence[str]) -> str:
    return title_of(plan, ids[0]) if len(ids) == 1 else f"{len(ids)} things"


def locked(plan: Plan, ids: Sequence[str], on: bool) -> AnyChange:
    """Things that cannot be moved by hand any more, or can again. Raises CoreError."""
    word = "locked" if on else "unlocked"
    changes = _set(plan, ids, "locked", on)
    return _together(changes, f"{_names(plan, ids)}: {word}", f"it is {word} already")


def hidden(plan: Plan, ids: Sequence[str], on: bool) -> AnyChange:
    """Things that are not drawn any more, or are again. Raises CoreError."""
    word = "hidden" if on else "shown"
    changes = _set(plan, ids, "hidden", on)
    return _together(changes, f"{_names(plan, ids)}: {word}", f"it is {word} already")


def grouped(plan: Plan, ids: Sequence[str]) -> AnyChange:
    """Things that move together from now on, under the next free name. Raises CoreError."""
    if len(ids) < 2:
        raise CoreError("choose at least two things to group", "sel")
    taken = {t.group for t in plan.arrangement.things}
    name = next(f"group {k}" for k in range(1, len(taken) + 2) if f"group {k}" not in taken)
    return _together(
        _set(plan, ids, "group", name), f"{len(ids)} things grouped", "they are one group already"
    )


def ungrouped(plan: Plan, ids: Sequence[str]) -> AnyChange:
    """The groups of these things taken apart. Raises CoreError when there are none."""
    names = {plan.arrangement.of(i).group for i in ids} - {""}
    every = [t.id for t in plan.arrangement.things if t.group in names]
    subs = [RemoveThing(path=("arrangement", "subs", s.id)) for s in plan.arrangement.subs
            if s.group in names]  # fmt: skip
    return _together([*subs, *_set(plan, every, "group", "")], "group taken apart", "it is in no group")


def as_one(plan: Plan, id_: str, way: str) -> AnyChange:
    """The group of a thing made as one from now on, in a way; "" no longer. Raises CoreError."""
    name = plan.arrangement.of(id_).group
    if not name:
        raise CoreError("it is in no group: choose several things and group them first", "sel")
    known = next((s for s in plan.arrangement.subs if s.group == name), None)
    if not way:
        if known is None:
            raise CoreError("its group is not made as one", "sel")
        return RemoveThing(path=("arrangement", "subs", known.id))
    if known is not None:
        return SetValue(path=("arrangement", "subs", known.id, "way"), value=way)
    taken = {s.id for s in plan.arrangement.subs}
    free = next(f"sub-{k}" for k in range(1, len(taken) + 2) if f"sub-{k}" not in taken)
    return AddThing(path=("arrangement", "subs"), value={"id": free, "group": name, "way": way})


def forgotten(plan: Plan, ids: set[str]) -> list[AnyChange]:
    """What must go with things that are taken out: their settings, bonds, accepted findings,
    readings and the ticks of their parts."""
    a = plan.arrangement
    gone = [("things", t.id) for t in a.things if t.id in ids]
    gone += [("bonds", b.id) for b in a.bonds if b.thing in ids or b.to in ids]
    gone += [("accepted", x.id) for x in a.accepted if x.thing in ids or x.other in ids]
    ticks = [RemoveThing(path=("cut", c.id)) for c in plan.cut if c.thing in ids]
    reads = [RemoveThing(path=("stood", s.id)) for s in plan.stood if s.thing in ids]
    pins = [RemoveThing(path=("cutting", "pins", p.id)) for p in plan.cutting.pins
            if p.id.split("/")[0] in ids]  # fmt: skip
    tries = [RemoveThing(path=("fitted", f.id)) for f in plan.fitted if f.thing in ids]
    return [
        *bundled(ticks),
        *bundled(tries),
        *bundled(pins),
        *reads,
        *(RemoveThing(path=("arrangement", group, id_)) for group, id_ in gone),
    ]
