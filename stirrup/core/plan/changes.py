"""Changes to a plan are typed commands: apply(plan, change) -> plan, invert(plan, change).

Undo, history, merging of concurrent edits and previews all rest on these two functions.
A path names a place: ("fittings", "bow-deck", "aft"). In lists of things with an id (or
a name) the id is used; elsewhere the position.
"""

from __future__ import annotations

import copy
from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, JsonValue, TypeAdapter, ValidationError
from pydantic_core import from_json, to_json

from stirrup.core.document import Document
from stirrup.core.errors import CoreError
from stirrup.core.plan.explain import first_error
from stirrup.core.plan.model import Plan

MOST_TOGETHER = 500
Step = Annotated[str, Field(max_length=100)]
Path = Annotated[tuple[Step, ...], Field(min_length=1, max_length=12)]


class SetValue(Document):
    """Put a value at a place; null goes back to the default."""

    do: Literal["set"] = "set"
    path: Path
    value: JsonValue


class AddThing(Document):
    """Insert a thing into a list, at `index` or at the end."""

    do: Literal["add"] = "add"
    path: Path
    value: dict[str, JsonValue]
    index: int | None = Field(None, ge=0)


class RemoveThing(Document):
    """Take a thing out of a list, by id."""

    do: Literal["remove"] = "remove"
    path: Path


class Together(Document):
    """Several changes as one step."""

    do: Literal["together"] = "together"
    changes: tuple[Change, ...] = Field(min_length=1, max_length=MOST_TOGETHER)
    words: str = Field("", max_length=200)


Change = Annotated[SetValue | AddThing | RemoveThing | Together, Field(discriminator="do")]
Together.model_rebuild()
# lists whose things are known by name; crew may share names
NAMED = ("cases", "lines", "starboard", "floods")
CHANGE: TypeAdapter[SetValue | AddThing | RemoveThing | Together] = TypeAdapter(Change)

AnyChange = SetValue | AddThing | RemoveThing | Together


def bundled(changes: Sequence[AnyChange]) -> list[AnyChange]:
    """Changes as they are, or in bundles where they are more than one step may hold."""
    if len(changes) <= MOST_TOGETHER // 2:  # others come along
        return list(changes)
    size = MOST_TOGETHER
    return [Together(changes=tuple(changes[k : k + size])) for k in range(0, len(changes), size)]


MOST_INDEX = 99_999


def index_of(step: str) -> int | None:
    """A step of a path as a position in a list, else None; “²” and endless numbers are none."""
    plain = step.isascii() and step.isdigit() and len(step) <= len(str(MOST_INDEX))
    return int(step) if plain else None


def _label(path: tuple[str, ...]) -> str:
    return ".".join(path)


def identity(item: object, group: str) -> str | None:
    """What tells a thing from its neighbours: its id, or its name where names are unique."""
    if not isinstance(item, dict):
        return None
    key = item.get("id", item.get("name") if group in NAMED else None)
    return key if isinstance(key, str) else None


def _index(items: list[Any], step: str, path: tuple[str, ...], group: str) -> int:
    """Position in a list called `group` of the thing that a step names."""
    for k, item in enumerate(items):
        if identity(item, group) == step:
            return k
    at = index_of(step)
    if at is not None and at < len(items):
        return at
    raise CoreError(f"nothing here has the id or number “{step}”; it may be gone", _label(path))


def _walk(document: Any, path: tuple[str, ...]) -> Any:
    here, group = document, ""
    for step in path:
        if isinstance(here, list):
            here = here[_index(here, step, path, group)]
        elif isinstance(here, dict) and step in here:
            here = here[step]
        else:
            raise CoreError(f"there is no “{step}” here", _label(path))
        group = step
    return here


def _group(path: tuple[str, ...]) -> str:
    """Name of the list that holds the last step of a path."""
    return path[-2] if len(path) > 1 else ""


def plain(plan: Plan) -> dict[str, Any]:
    """The plan as plain JSON values, every default written out."""
    data: dict[str, Any] = from_json(plan.model_dump_json())
    return data


def _apply(document: dict[str, Any], change: AnyChange) -> None:
    if isinstance(change, Together):
        for part in change.changes:
            _apply(document, part)
        return
    holder, last = _walk(document, change.path[:-1]), change.path[-1]
    if isinstance(change, AddThing):
        items = _walk(document, change.path)
        if not isinstance(items, list):
            raise CoreError("things can be added to lists only", _label(change.path))
        place = len(items) if change.index is None else min(change.index, len(items))
        items.insert(place, copy.deepcopy(change.value))
    elif isinstance(change, RemoveThing):
        if not isinstance(holder, list):
            raise CoreError("only things in lists can be removed", _label(change.path))
        del holder[_index(holder, last, change.path, _group(change.path))]
    elif isinstance(holder, list):
        holder[_index(holder, last, change.path, _group(change.path))] = copy.deepcopy(change.value)
    elif isinstance(holder, dict):
        holder[last] = copy.deepcopy(change.value)
    else:
        raise CoreError("there is nothing to set here", _label(change.path))


# lists whose things can be set one by one without looking at the rest of the document
_BY_ID = ("fittings", "items", "tanks")


def _inside(change: AnyChange) -> list[SetValue] | None:
    """The parts of a change that only sets values inside of things, else None."""
    parts = change.changes if isinstance(change, Together) else (change,)
    inside = [
        p
        for p in parts
        if isinstance(p, SetValue) and len(p.path) > 2 and p.path[0] in _BY_ID and p.path[2] != "id"
    ]
    return inside if len(inside) == len(parts) else None


def _apply_inside(plan: Plan, parts: list[SetValue]) -> Plan | None:
    """What `apply` gives, but everything that is not touched stays the same object.

    None when this quicker way meets anything unusual; the plain way then says what it is.
    """
    touched: dict[tuple[str, str], dict[str, Any]] = {}
    for part in parts:
        group, id_ = part.path[:2]
        if (group, id_) not in touched:
            thing = next((t for t in getattr(plan, group) if t.id == id_), None)
            if thing is None:
                return None
            touched[group, id_] = from_json(thing.model_dump_json())
        _apply(touched[group, id_], SetValue(path=part.path[2:], value=part.value))
    update: dict[str, Any] = {}
    for (group, id_), data in touched.items():
        things = update.get(group, getattr(plan, group))
        # the kind stays as it is: another one is a matter for the whole document
        model = type(next(t for t in things if t.id == id_))
        new = model.model_validate_json(to_json(data), strict=True)
        update[group] = tuple(new if t.id == id_ else t for t in things)
    return plan.model_copy(update=update).checked()


def apply(plan: Plan, change: AnyChange) -> Plan:
    """The plan with the change made. Raises CoreError, naming the place, when it is not valid."""
    inside = _inside(change)
    if inside is not None:
        try:
            quick = _apply_inside(plan, inside)
        except (ValueError, CoreError):
            quick = None
        if quick is not None:
            return quick
    document = plain(plan)
    _apply(document, change)
    try:
        return Plan.model_validate_json(to_json(document), strict=True)
    except ValidationError as error:
        raise first_error(error, document, root=Plan) from None


def _invert(document: dict[str, Any], change: AnyChange) -> AnyChange:
    """Inverse of one change on the document before it."""
    if isinstance(change, Together):
        work, undo = copy.deepcopy(document), []
        for part in change.changes:
            undo.append(_invert(work, part))
            _apply(work, part)
        return Together(changes=tuple(reversed(undo)), words=change.words)
    if isinstance(change, AddThing):
        name = identity(change.value, change.path[-1])
        if name is not None:
            return RemoveThing(path=(*change.path, name))
        items = _walk(document, change.path)
        place = len(items) if change.index is None else min(change.index, len(items))
        return RemoveThing(path=(*change.path, str(place)))
    if isinstance(change, RemoveThing):
        holder = _walk(document, change.path[:-1])
        place = _index(holder, change.path[-1], change.path, _group(change.path))
        return AddThing(path=change.path[:-1], value=copy.deepcopy(holder[place]), index=place)
    holder = _walk(document, change.path[:-1])
    last = change.path[-1]
    old = _walk(document, change.path) if not isinstance(holder, dict) else holder.get(last)
    path = change.path
    # a thing that is replaced or renamed is known by its new name afterwards
    if isinstance(holder, list) and isinstance(change.value, dict):
        new = identity(change.value, _group(path))
        path = (*path[:-1], new) if new is not None else path
    elif isinstance(change.value, str) and len(path) > 2 and path[-2] == old:
        known_by = "name" if path[-3] in NAMED else "id"
        path = (*path[:-2], change.value, last) if last == known_by else path
    return SetValue(path=path, value=copy.deepcopy(old))


def invert(plan: Plan, change: AnyChange) -> AnyChange:
    """The change that takes `apply(plan, change)` back to `plan`. Raises CoreError."""
    return _invert(plain(plan), change)


def touches(change: AnyChange) -> frozenset[tuple[str, ...]]:
    """The objects a change is about: ("fittings", "bow-deck"), ("hull", "lines", "keel", "3").

    Two changes to different objects can be merged; to the same object they conflict.
    """
    if isinstance(change, Together):
        return frozenset().union(*(touches(part) for part in change.changes))
    path = change.path
    if isinstance(change, AddThing):
        name = change.value.get("id") or change.value.get("name") or "?"
        path = (*path, str(name))
    depth = 2
    if path[:2] == ("hull", "lines"):
        depth = 5
    elif path[0] == "buying":
        depth = 3  # two who buy different things are not in one another's way
    return frozenset({path[:depth]})


def conflicts(a: AnyChange, b: AnyChange) -> bool:
    """Whether two changes are about the same object (or one about a part of the other's)."""
    return any(p[: len(q)] == q or q[: len(p)] == p for p in touches(a) for q in touches(b))


def read_change(data: object) -> AnyChange:
    """A change from plain JSON values. Raises CoreError."""
    try:
        return CHANGE.validate_python(data)
    except ValidationError as error:
        raise first_error(error, data, "change") from None
