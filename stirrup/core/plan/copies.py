"""Things of a plan once more: beside themselves, on the other side, or in another plan."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping, Sequence
from graphlib import CycleError, TopologicalSorter
from typing import Any

from stirrup.core.contract.base import OFFERED, Tie
from stirrup.core.contract.kind import OTHER_SIDE
from stirrup.core.errors import CoreError
from stirrup.core.kinds.registry import BY_KEY, kind_of
from stirrup.core.plan.changes import AddThing, AnyChange, SetValue, Together, apply
from stirrup.core.plan.model import Plan
from stirrup.core.plan.suggest import free_id, free_mark
from stirrup.core.plan.things import CHOSEN, every, guests_of, present


def _name(plan: Plan, name: str) -> str:
    """The name with the next free number behind it."""
    taken = {t.name for t in every(plan)}
    stem = re.sub(r" \d+$", "", name) or name
    number = 2
    while f"{stem} {number}" in taken:
        number += 1
    return f"{stem} {number}"


def _sided(name: str) -> str:
    """The name for the other side: port and starboard change places where it says so."""
    for side, other in OTHER_SIDE.items():
        if re.search(rf"\b{side}\b", name):
            return re.sub(rf"\b{side}\b", other, name)
    return ""


def another(plan: Plan, id_: str, mirrored: bool = False) -> AddThing:
    """A thing once more, with an id, a name and a mark of its own.

    mirrored: on the other side of the centreline; else beside itself. Raises CoreError for
    what is not there, for what spans both sides, and on the centreline.
    """
    thing = plan.thing(id_)
    if thing is None or kind_of(thing).group not in CHOSEN:
        raise CoreError(f"there is nothing called “{id_}” to copy; it may be gone", "sel")
    kind = kind_of(thing)
    value: dict[str, Any] = thing.model_dump(mode="json")
    name = (_sided(thing.name) if mirrored else "") or _name(plan, thing.name or id_)
    if mirrored:
        kind.mirror(value)
    else:
        kind.put_beside(value)
    value |= {"id": free_id(plan, _stem(id_)), "name": name}
    if kind.letter:
        value["mark"] = free_mark(plan, kind.letter)
    return AddThing(path=(kind.group,), value=value)


def halves(plan: Plan, id_: str) -> tuple[AnyChange, tuple[str, str]]:
    """A thing in two, as one step, and the ids of both. Raises CoreError for what cannot be parted."""
    thing = plan.thing(id_)
    found = None if thing is None else kind_of(thing).in_two(thing)
    if thing is None or found is None:
        raise CoreError(f"“{id_}” cannot be parted: it is not there, too short, or of one piece", "sel")
    group, new = kind_of(thing).group, free_id(plan, _stem(id_))
    whole: dict[str, Any] = thing.model_dump(mode="json")
    name = thing.name or id_
    first = whole | found[0]
    second = whole | found[1] | {"id": new, "name": _name(plan, name)}
    changes = (SetValue(path=(group, id_), value=first), AddThing(path=(group,), value=second))
    return Together(changes=changes, words=f"{name}: in two"[:200]), (id_, new)


def _stem(id_: str) -> str:
    return re.sub(r"-\d+$", "", id_)


def several(plan: Plan, ids: Sequence[str], mirrored: bool = False) -> tuple[AnyChange, tuple[str, ...]]:
    """Things once more as one step, and the new ids; see `another`. Raises CoreError."""
    changes: list[AnyChange] = []
    for id_ in ids:
        changes.append(another(plan, id_, mirrored))
        plan = apply(plan, changes[-1])
    new = tuple(str(c.value["id"]) for c in changes if isinstance(c, AddThing))
    if len(changes) == 1:
        return changes[0], new
    words = f"{len(changes)} things " + ("on the other side too" if mirrored else "duplicated")
    return Together(changes=tuple(changes), words=words), new


def packed(plan: Plan, ids: Sequence[str]) -> dict[str, Any]:
    """Things as plain values to take to another build, hosts with their guests.

    Raises CoreError when none of them can be taken along.
    """
    wanted = set(ids)
    while more := [t.id for t, _ in guests_of(plan, wanted)]:
        wanted |= set(more)
    out: dict[str, Any] = {
        group: [t.model_dump(mode="json") for t in getattr(plan, group) if t.id in wanted]
        for group in CHOSEN
    }
    if not any(out.values()):
        raise CoreError("choose a fitting, an item or a tank to take along", "sel")
    return {"stirrup": "things", **out}


def pasted(plan: Plan, data: Mapping[str, Any], host: str = "") -> tuple[AnyChange, tuple[str, ...]]:
    """Things of another build at the same places of this one, and their ids here.

    host: for guests that come without theirs; else the first that offers what they need. Raises
    CoreError for what is not a pack of things, and for a guest where there is no host.
    """
    if data.get("stirrup") != "things" or not all(isinstance(data.get(g, []), list) for g in CHOSEN):
        raise CoreError("this is no pack of things: copy something on a Layout page first", "things")
    ids: dict[str, str] = {}
    changes: list[AnyChange] = []
    for group, value in _hosts_first(data):
        old = str(value.get("id", "thing"))
        new = dict(value)
        taken = {t.id for t in every(plan)}
        new["id"] = ids[old] = old if old not in taken else free_id(plan, _stem(old))
        kind = BY_KEY.get(str(value.get("kind"))) if group == "fittings" else None
        if group == "fittings":
            new["mark"] = free_mark(plan, kind.letter if kind else "D")
        for tie in _ties(group, value):
            new[tie.field] = ids.get(tie.to) or _host(plan, tie, host)
        changes.append(AddThing(path=(group,), value=new))
        plan = apply(plan, changes[-1])
    if not changes:
        raise CoreError("the pack of things is empty", "things")
    words = f"{len(changes)} {'thing' if len(changes) == 1 else 'things'} brought from another build"
    return Together(changes=tuple(changes), words=words), tuple(ids.values())


def _ties(group: str, value: Mapping[str, Any]) -> tuple[Tie, ...]:
    """What a packed thing needs; nothing where its values make no thing, which is told later."""
    kind = BY_KEY.get(str(value.get("kind" if group == "fittings" else "form")))
    if kind is None or kind.group != group:
        return ()
    try:
        thing = kind.choices.model_validate_json(json.dumps(value), strict=True)
    except ValueError:
        return ()
    return tuple(tie for tie in kind.ties(thing) if tie.to)


def _hosts_first(data: Mapping[str, Any]) -> list[tuple[str, dict[str, Any]]]:
    """Rows of a pack, each after what it needs: guests need to know their hosts by the new name."""
    rows = [(g, v) for g in CHOSEN for v in data.get(g, []) if isinstance(v, dict)]
    at = {str(v.get("id")): k for k, (_, v) in enumerate(rows)}
    needs = {k: [at[t.to] for t in _ties(g, v) if t.to in at] for k, (g, v) in enumerate(rows)}
    try:
        return [rows[k] for k in TopologicalSorter(needs).static_order()]
    except CycleError:
        raise CoreError("the pack's things stand on one another in a ring", "things") from None


def _host(plan: Plan, tie: Tie, wanted: str) -> str | None:
    """Where a guest goes that comes without its host."""
    there = [t.id for t in present(plan) if tie.offer in kind_of(t).offers]
    if not there:
        if not tie.needed:
            return None
        one = OFFERED[tie.offer][0]
        raise CoreError(f"it needs a {one} to go into: place one first", "things")
    return (wanted if wanted in there else there[0]) if tie.needed else None
