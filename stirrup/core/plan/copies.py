"""Things of a plan once more: beside themselves, on the other side, or in another plan."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import Any

from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import AddThing, AnyChange, Together, apply
from stirrup.core.plan.model import Plan
from stirrup.core.plan.suggest import free_id, free_mark

ASIDE_M = 0.15  # a copy of a loose thing lies this much further forward
BETWEEN_M = 0.10  # left between a hatch and its copy
OTHER = {"port": "starboard", "starboard": "port"}
ON_CENTRE_M = 1e-6


def _name(plan: Plan, name: str) -> str:
    """The name with the next free number behind it."""
    taken = {t.name for t in (*plan.items, *plan.fittings, *plan.tanks)}
    stem = re.sub(r" \d+$", "", name) or name
    number = 2
    while f"{stem} {number}" in taken:
        number += 1
    return f"{stem} {number}"


def _sided(name: str) -> str:
    """The name for the other side: port and starboard change places where it says so."""
    for side, other in OTHER.items():
        if re.search(rf"\b{side}\b", name):
            return re.sub(rf"\b{side}\b", other, name)
    return ""


def _mirror_item(value: dict[str, Any]) -> None:
    centre = value["mass"]["centre"]
    if abs(centre[1]) < ON_CENTRE_M:
        raise CoreError("it lies on the centreline: there is no other side", f"items.{value['id']}")
    centre[1] = -centre[1]
    value["turn"] = -value["turn"] if abs(value["turn"]) < 180 else value["turn"]
    if value.get("slide"):
        slide = value["slide"]
        slide["port"], slide["starboard"] = slide["starboard"], slide["port"]


def _mirror_hatch(value: dict[str, Any]) -> None:
    if abs(value["y"]) < ON_CENTRE_M:
        raise CoreError("it lies on the centreline: there is no other side", f"fittings.{value['id']}")
    value["y"] = -value["y"]
    value["hinge"] = OTHER.get(value["hinge"], value["hinge"])


def _beside(at: list[float], mirrored: bool, place: str) -> None:
    if mirrored and abs(at[1]) < ON_CENTRE_M:
        raise CoreError("it lies on the centreline: there is no other side", place)
    if mirrored:
        at[1] = -at[1]
    else:
        at[0] = round(at[0] + ASIDE_M, 4)


def another(plan: Plan, id_: str, mirrored: bool = False) -> AddThing:
    """An item, tank or hatch once more, with an id, a name and a mark of its own.

    mirrored: on the other side of the centreline; else beside itself. Raises CoreError for
    what is not there, for decks (they span both sides), and on the centreline.
    """
    item = next((i for i in plan.items if i.id == id_), None)
    fitting = next((f for f in plan.fittings if f.id == id_), None)
    tank = next((t for t in plan.tanks if t.id == id_), None)
    found = item or fitting or tank
    if found is None:
        raise CoreError(f"there is nothing called “{id_}” to copy; it may be gone", "sel")
    value: dict[str, Any] = found.model_dump(mode="json")
    stem = re.sub(r"-\d+$", "", id_)
    name = (_sided(found.name) if mirrored else "") or _name(plan, found.name or id_)
    if fitting is not None:
        if fitting.kind != "hatch":
            raise CoreError(
                "a deck reaches from side to side: place another one, it takes its outline from the hull",
                f"fittings.{id_}",
            )
        if mirrored:
            _mirror_hatch(value)
        else:
            value["x"] = round(value["x"] + value["clear_length"] + BETWEEN_M, 4)
        value |= {"id": free_id(plan, stem), "name": name, "mark": free_mark(plan, "H")}
        return AddThing(path=("fittings",), value=value)
    if tank is not None:
        _beside(value["floor_centre"], mirrored, f"tanks.{id_}")
        value |= {"id": free_id(plan, stem), "name": name}
        return AddThing(path=("tanks",), value=value)
    if mirrored:
        _mirror_item(value)
    else:
        value["mass"]["centre"][0] = round(value["mass"]["centre"][0] + ASIDE_M, 4)
    value |= {"id": free_id(plan, stem), "name": name}
    return AddThing(path=("items",), value=value)


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


GROUPS = ("fittings", "items", "tanks")


def packed(plan: Plan, ids: Sequence[str]) -> dict[str, Any]:
    """Things as plain values to take to another build, decks with the hatches in them.

    Raises CoreError when none of them can be taken along.
    """
    wanted = set(ids) | {f.id for f in plan.fittings if getattr(f, "deck", None) in ids}
    out: dict[str, Any] = {
        group: [t.model_dump(mode="json") for t in getattr(plan, group) if t.id in wanted]
        for group in GROUPS
    }
    if not any(out.values()):
        raise CoreError("choose a fitting, an item or a tank to take along", "sel")
    return {"stirrup": "things", **out}


def pasted(plan: Plan, data: Mapping[str, Any], deck: str = "") -> tuple[AnyChange, tuple[str, ...]]:
    """Things of another build at the same places of this one, and their ids here.

    deck: the deck for hatches that come without theirs; else the first. Raises CoreError for
    what is not a pack of things, and for a hatch where there is no deck.
    """
    if data.get("stirrup") != "things" or not all(isinstance(data.get(g, []), list) for g in GROUPS):
        raise CoreError("this is no pack of things: copy something on a Layout page first", "things")
    decks = [f.id for f in plan.fittings if f.kind == "raised_deck"]
    host = deck if deck in decks else (decks[0] if decks else "")
    ids: dict[str, str] = {}
    changes: list[AnyChange] = []
    # decks first: their hatches need to know them by their new name
    rows = [(g, v) for g in GROUPS for v in data.get(g, []) if isinstance(v, dict)]
    for group, value in sorted(rows, key=lambda r: r[1].get("kind") == "hatch"):
        old = str(value.get("id", "thing"))
        new = dict(value)
        taken = {t.id for g in (*GROUPS, "buoyancy", "existing") for t in getattr(plan, g)}
        new["id"] = ids[old] = old if old not in taken else free_id(plan, re.sub(r"-\d+$", "", old))
        if group == "fittings":
            new["mark"] = free_mark(plan, "H" if value.get("kind") == "hatch" else "D")
        if value.get("kind") == "hatch":
            new["deck"] = ids.get(str(value.get("deck")), host)
            if not new["deck"]:
                raise CoreError("a hatch sits in a deck: place a raised deck first", "things")
        changes.append(AddThing(path=(group,), value=new))
        plan = apply(plan, changes[-1])
    if not changes:
        raise CoreError("the pack of things is empty", "things")
    words = f"{len(changes)} {'thing' if len(changes) == 1 else 'things'} brought from another build"
    return Together(changes=tuple(changes), words=words), tuple(ids.values())
