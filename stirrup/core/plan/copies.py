"""A thing of the plan once more: beside itself, or on the other side of the centreline."""

from __future__ import annotations

import re
from typing import Any

from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import AddThing
from stirrup.core.plan.model import Plan
from stirrup.core.plan.suggest import free_id, free_mark

ASIDE_M = 0.15  # a copy of a loose thing lies this much further forward
BETWEEN_M = 0.10  # left between a hatch and its copy
OTHER = {"port": "starboard", "starboard": "port"}
ON_CENTRE_M = 1e-6


def _name(plan: Plan, name: str) -> str:
    """The name with the next free number behind it."""
    taken = {t.name for t in (*plan.items, *plan.fittings)}
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
    if value.get("slide"):
        slide = value["slide"]
        slide["port"], slide["starboard"] = slide["starboard"], slide["port"]


def _mirror_hatch(value: dict[str, Any]) -> None:
    if abs(value["y"]) < ON_CENTRE_M:
        raise CoreError("it lies on the centreline: there is no other side", f"fittings.{value['id']}")
    value["y"] = -value["y"]
    value["hinge"] = OTHER.get(value["hinge"], value["hinge"])


def another(plan: Plan, id_: str, mirrored: bool = False) -> AddThing:
    """An item or hatch once more, with an id, a name and a mark of its own.

    mirrored: on the other side of the centreline; else beside itself. Raises CoreError for
    what is not there, for decks (they span both sides), and on the centreline.
    """
    item = next((i for i in plan.items if i.id == id_), None)
    fitting = next((f for f in plan.fittings if f.id == id_), None)
    found = item or fitting
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
    if mirrored:
        _mirror_item(value)
    else:
        value["mass"]["centre"][0] = round(value["mass"]["centre"][0] + ASIDE_M, 4)
    value |= {"id": free_id(plan, stem), "name": name}
    return AddThing(path=("items",), value=value)
