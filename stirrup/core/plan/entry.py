"""Typed text at a place of the plan: which kind of value it is, and reading it.

A field's kind comes from the document models: "[m]" in the description is a length,
"[kg]" a mass, a Literal a choice. So a new field needs no form code.
"""

from __future__ import annotations

import re
import types
from dataclasses import dataclass
from decimal import Decimal, InvalidOperation
from typing import Any, Literal, Union, get_args, get_origin

from annotated_types import Ge, Gt, Le, Lt
from pydantic import BaseModel, JsonValue
from pydantic.fields import FieldInfo

from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import AnyChange, SetValue, Together, index_of
from stirrup.core.plan.model import Plan
from stirrup.core.plan.readings import is_reading, read_reading
from stirrup.core.units import HP_KW, Units, read_length_m, read_mass_kg, write_length, write_mass

Kind = Literal["length", "mass", "choice", "flag", "text", "number", "money", "share"]

WEIGHED = "weighed"
SIZE_NAMES = ("Long", "Wide", "High")
LEAST_SIZE_M, MOST_SIZE_M = 0.001, 50.0
POWER = re.compile(r"(\d{1,6}(?:\.\d{1,6})?)\s*(kw|hp)?")
NUMBER = re.compile(r"[-+]?(?:\d{1,9}(?:\.\d{0,12})?|\.\d{1,12})", re.ASCII)

# places whose kind the model's description does not say
_SPECIAL: dict[str, Kind] = {"budget": "money", "price": "money", "tax_percent": "number"}


@dataclass(frozen=True)
class FieldKind:
    """What belongs at a place: kind, title, whether empty is allowed, choices, limits [SI]."""

    kind: Kind
    title: str
    optional: bool = False
    choices: tuple[str, ...] = ()
    least: float | None = None
    most: float | None = None
    note: str = ""


def _strip_optional(annotation: Any) -> tuple[Any, bool]:
    if get_origin(annotation) in (Union, types.UnionType):
        inner = [a for a in get_args(annotation) if a is not type(None)]
        return inner[0], len(inner) < len(get_args(annotation))
    return annotation, False


def kind_of_field(name: str, info: FieldInfo) -> FieldKind:
    """Kind of one field of a document model."""
    annotation, optional = _strip_optional(info.annotation)
    while hasattr(annotation, "__metadata__"):
        annotation = annotation.__origin__
    description = info.description or ""
    title = info.title or name.replace("_", " ").capitalize()
    least = next((float(m.ge) for m in info.metadata if isinstance(m, Ge)), None)  # type: ignore[arg-type]
    least = next((float(m.gt) for m in info.metadata if isinstance(m, Gt)), least)  # type: ignore[arg-type]
    most = next((float(m.le) for m in info.metadata if isinstance(m, Le)), None)  # type: ignore[arg-type]
    most = next((float(m.lt) for m in info.metadata if isinstance(m, Lt)), most)  # type: ignore[arg-type]
    note = description.split("empty:")[1].strip() if "empty:" in description else ""
    if name in _SPECIAL:
        return FieldKind(_SPECIAL[name], title, optional, (), least, most, note)
    if get_origin(annotation) is Literal:
        return FieldKind("choice", title, optional, tuple(get_args(annotation)))
    if annotation is bool:
        return FieldKind("flag", title)
    if "[m]" in description:
        return FieldKind("length", title, optional, (), least, most, note)
    if "[kg]" in description:
        return FieldKind("mass", title, optional, (), least, most, note)
    if annotation in (float, int):
        return FieldKind("number", title, optional, (), least, most, note)
    if annotation not in (str, Decimal):
        raise CoreError("this place holds more than one value", name)
    return FieldKind("text", title, optional)


def _empty(annotation: Any) -> Any:
    """An object with nothing in it of an optional place, so that its fields can be named."""
    model, _ = _strip_optional(annotation)
    return model.model_construct() if isinstance(model, type) and issubclass(model, BaseModel) else None


def kind_at(plan: Plan, path: tuple[str, ...]) -> FieldKind:
    """Kind of the value at a path. Raises CoreError when there is no such place."""
    here: Any = plan
    owner: Any = None
    for depth, step in enumerate(path):
        last = depth == len(path) - 1
        if isinstance(here, tuple):
            if here and all(isinstance(v, int | float) for v in here):
                # a component of a point or size: always a length
                axis = (index_of(step) or 0) % 3
                if depth and path[depth - 1] == "size":
                    return FieldKind("length", SIZE_NAMES[axis], False, (), LEAST_SIZE_M, MOST_SIZE_M)
                return FieldKind("length", ("along", "across", "up")[axis])
            found = [
                x
                for k, x in enumerate(here)
                if step in (getattr(x, "id", None), getattr(x, "name", None), str(k))
            ]
            if not found:
                raise CoreError(f"nothing here is called “{step}”; it may be gone", ".".join(path))
            here = found[0]
        elif isinstance(here, BaseModel):
            fields = type(here).model_fields
            if step not in fields:
                raise CoreError(f"there is no “{step}” here", ".".join(path))
            owner = here
            if last:
                return kind_of_field(step, fields[step])
            here = getattr(owner, step)
            if here is None:
                here = _empty(fields[step].annotation)
        elif isinstance(here, dict):
            return FieldKind("share", step, True, (), 0.0, 1.0)
        else:
            raise CoreError(f"there is no “{step}” here", ".".join(path))
    raise CoreError("this place holds more than one value", ".".join(path))


def _number(text: str, what: str) -> float:
    plain = text.strip().rstrip("%°").strip()
    if NUMBER.fullmatch(plain) is None:
        raise CoreError(f"read “{text[:40]}” as {what}; accepted: a number such as 12 or 7.5")
    return float(plain) if "." in plain else int(plain)


def _power(text: str) -> float:
    """Power [kW]: a bare number or kW, or horsepower."""
    found = POWER.fullmatch(text.lower())
    if found is None:
        raise CoreError(f"read “{text}” as power; accepted: 55, 55 kW or 75 hp")
    value = float(found[1])
    return round(value * HP_KW, 3) if found[2] == "hp" else value


def read_text(text: str, kind: FieldKind, units: Units) -> JsonValue:
    """Value in SI from what was typed. Raises CoreError: what was read, what is accepted."""
    plain = text.strip()
    if not plain and kind.optional:
        return None
    if not plain and kind.kind not in ("text", "flag"):
        raise CoreError("nothing typed; a value is needed here")
    if kind.kind == "length":
        return read_length_m(plain, units)
    if kind.kind == "mass":
        return read_mass_kg(plain, units)
    if kind.kind == "choice":
        known = {str(choice): choice for choice in kind.choices}
        if plain not in known:
            raise CoreError(f"read “{plain}”; accepted: {', '.join(known)}")
        return known[plain]
    if kind.kind == "flag":
        return plain in ("on", "true", "yes", "1")
    if kind.kind == "money":
        try:
            return str(Decimal(plain.replace(" ", "").replace("$", "")))
        except InvalidOperation:
            raise CoreError(f"read “{text}” as money; accepted: 1850 or 1850.50") from None
    if kind.kind == "share":
        value = _number(plain, "a fill")
        return value / 100 if plain.endswith("%") or value > 1 else value
    if kind.kind == "number" and kind.title.endswith("kW"):
        return _power(plain)
    if kind.kind == "number":
        return _number(plain, "a number")
    return plain


def limits_text(kind: FieldKind, units: Units) -> str:
    """Accepted range in the reader's units, or empty."""
    if kind.kind not in ("length", "mass", "number"):
        return ""

    def show(value: float) -> str:
        if kind.kind == "length":
            return write_length(value, units)
        return write_mass(value, units) if kind.kind == "mass" else f"{value:g}"

    if kind.least is not None and kind.most is not None:
        return f"{show(kind.least)} to {show(kind.most)}"
    return f"{show(kind.least)} or more" if kind.least is not None else ""


def _weighed(plan: Plan, path: tuple[str, ...], text: str, units: Units) -> AnyChange:
    """What a scale shows: value, status and spread of the mass at `path` in one step."""
    value = read_entry(plan, (*path, "value"), text, units)
    status = SetValue(path=(*path, "status"), value="weighed")
    spread = SetValue(path=(*path, "spread"), value=None)
    return Together(changes=(value, status, spread))


def _whole(plan: Plan, path: tuple[str, ...], value: JsonValue) -> SetValue:
    """Setting a value inside of an object that is not there yet makes the object."""
    holder: Any = plan
    for depth, step in enumerate(path[:-1], start=1):
        holder = getattr(holder, step, holder) if isinstance(holder, BaseModel) else holder
        if holder is None:
            return SetValue(path=path[:depth], value={path[-1]: value})
    return SetValue(path=path, value=value)


def read_entry(plan: Plan, path: tuple[str, ...], text: str, units: Units) -> AnyChange:
    """The change that typed text at a place means. Raises CoreError with that place.

    The step "weighed" in place of a mass's value also says how the value is known.
    """
    if is_reading(path):
        return read_reading(path, text, units)
    if path[-1] == WEIGHED:
        return _weighed(plan, path[:-1], text, units)
    kind = kind_at(plan, path)
    try:
        value = read_text(text, kind, units)
    except CoreError as error:
        raise CoreError(error.message, ".".join(path)) from None
    if isinstance(value, int | float) and not isinstance(value, bool):
        low = kind.least is not None and value < kind.least
        high = kind.most is not None and value > kind.most
        if low or high:
            shown = write_length(value, units) if kind.kind == "length" else f"{value:g}"
            raise CoreError(
                f"read “{text.strip()}” as {shown}; accepted: {limits_text(kind, units)}",
                ".".join(path),
            )
    if kind.kind == "number" and path[-1] == "tax_percent":
        value = str(value)
    return _whole(plan, path, value)
