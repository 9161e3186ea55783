"""Typed text at a place of the plan: which kind of value it is, and reading it.

A field's kind comes from the document models: their annotated types say what a number is (see
quantities.py), a Literal is a choice. So a new field needs no form code.
"""

from __future__ import annotations

import re
import types
from collections.abc import Callable
from decimal import Decimal, InvalidOperation
from functools import partial
from typing import Any, Literal, Union, get_args, get_origin

from annotated_types import Ge, Gt, Le, Lt
from pydantic import BaseModel, JsonValue
from pydantic.fields import FieldInfo

from stirrup.core.document import StockRef
from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import AnyChange, SetValue, Together, index_of
from stirrup.core.plan.model import Plan
from stirrup.core.plan.readings import is_reading, read_reading
from stirrup.core.quantities import DAY, Is, What
from stirrup.core.record import dataclass
from stirrup.core.units import (
    Units,
    read_density_kg_m3,
    read_length_m,
    read_mass_kg,
    read_power_kw,
    write_density,
    write_length,
    write_mass,
    write_power,
)

Kind = Literal[
    "length",
    "mass",
    "density",
    "power",
    "choice",
    "stock",
    "flag",
    "text",
    "number",
    "money",
    "percent",
    "share",
    "day",
]

WEIGHED = "weighed"
SIZE_NAMES = ("Long", "Wide", "High")
LEAST_SIZE_M, MOST_SIZE_M = 0.001, 50.0
NUMBER = re.compile(r"[-+]?(?:\d{1,9}(?:\.\d{0,12})?|\.\d{1,12})", re.ASCII)

ID = re.compile(r"[A-Za-z0-9][A-Za-z0-9_.-]{0,59}")
NUMBERS: tuple[Kind, ...] = ("number", "percent")
# quantities that are typed as what they are; all others as plain numbers
_TYPED: dict[What, Kind] = {
    "length": "length",
    "mass": "mass",
    "density": "density",
    "power": "power",
    "money": "money",
    "percent": "percent",
    "day": "day",
}


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
    ref: StockRef | None = None


def _strip_optional(annotation: Any) -> tuple[Any, bool]:
    if get_origin(annotation) in (Union, types.UnionType):
        inner = [a for a in get_args(annotation) if a is not type(None)]
        return inner[0], len(inner) < len(get_args(annotation))
    return annotation, False


def _bare(info: FieldInfo) -> tuple[Any, bool, list[Any]]:
    """A field's type without its marks, whether empty is allowed, and the marks."""
    annotation, optional = _strip_optional(info.annotation)
    marks = list(info.metadata)
    while hasattr(annotation, "__metadata__"):
        marks += annotation.__metadata__
        annotation = annotation.__origin__
    # limits may be given as a field of their own inside of a type
    marks += [m for mark in marks if isinstance(mark, FieldInfo) for m in mark.metadata]
    return annotation, optional, marks


def _limit(marks: list[Any], *kinds: type) -> float | None:
    """The limit that a mark of one of these kinds sets."""
    names = {Ge: "ge", Gt: "gt", Le: "le", Lt: "lt"}
    found = (getattr(mark, names[type(mark)]) for mark in marks if type(mark) in kinds)
    return next((float(value) for value in found), None)


def kind_of_field(name: str, info: FieldInfo) -> FieldKind:
    """Kind of one field of a document model."""
    annotation, optional, marks = _bare(info)
    description = info.description or ""
    title = info.title or name.replace("_", " ").capitalize()
    note = description.split("empty:")[1].strip() if "empty:" in description else ""
    limits = (_limit(marks, Ge, Gt), _limit(marks, Le, Lt))
    what = next((m.what for m in marks if isinstance(m, Is)), None)
    if what is not None and what in _TYPED:
        return FieldKind(_TYPED[what], title, optional, (), *limits, note)
    ref = next((m for m in marks if isinstance(m, StockRef)), None)
    if ref is not None:
        return FieldKind("stock", title, optional, ref.also, ref=ref)
    if get_origin(annotation) is Literal:
        return FieldKind("choice", title, optional, tuple(get_args(annotation)))
    if annotation is bool:
        return FieldKind("flag", title)
    if annotation in (float, int):
        return FieldKind("number", title, optional, (), *limits, note)
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


def read_money(text: str) -> Decimal:
    """An amount as people type it: 1850, 1850.50, 1850,50, $ 1 850.50. Raises CoreError; of 1,850 nobody
    knows what is meant."""
    plain = re.sub(r"[\s’']", "", text).strip("$€£")
    if re.fullmatch(r"\d+,\d{1,2}", plain):
        plain = plain.replace(",", ".")
    try:
        return Decimal(plain)
    except InvalidOperation:
        raise CoreError(f"read “{text.strip()[:60]}” as money; accepted: 1850 or 1850.50") from None


YES, NO = ("on", "true", "yes", "1"), ("", "off", "false", "no", "0")  # a form sends nothing for no


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
    if kind.kind == "density":
        return read_density_kg_m3(plain, units)
    if kind.kind == "choice":
        known = {str(choice): choice for choice in kind.choices}
        if plain not in known:
            raise CoreError(f"read “{plain}”; accepted: {', '.join(known)}")
        return known[plain]
    if kind.kind == "stock" and ID.fullmatch(plain) is None and plain not in kind.choices:
        raise CoreError(f"read “{plain[:60]}”; accepted: the id of an entry of the catalogue")
    if kind.kind == "flag":
        if plain.lower() not in (*YES, *NO):
            raise CoreError(f"read “{plain[:60]}”; accepted: yes or no")
        return plain.lower() in YES
    if kind.kind == "money":
        return str(read_money(text))
    if kind.kind == "day" and re.fullmatch(DAY, plain) is None:
        raise CoreError(f"read “{plain[:40]}” as a day; accepted: year-month-day, as 2026-03-14")
    if kind.kind == "share":
        value = _number(plain, "a fill")
        return value / 100 if plain.endswith("%") or value > 1 else value
    if kind.kind == "power":
        return read_power_kw(plain, units)
    if kind.kind in NUMBERS:
        return _number(plain, "a number")
    return plain


# what is written with a unit of the shop's
WRITTEN: dict[str, Callable[[float, Units], str]] = {
    "length": write_length,
    "mass": write_mass,
    "density": write_density,
    "power": write_power,
}


def in_units(value: float, kind: str, units: Units) -> str:
    """A value of a kind [SI] in the shop's units; of a kind without any as a plain number."""
    write = WRITTEN.get(kind)
    return write(value, units) if write else f"{value:g}"


def limits_text(kind: FieldKind, units: Units) -> str:
    """Accepted range in the reader's units, or empty."""
    if kind.kind not in (*WRITTEN, *NUMBERS):
        return ""
    show = partial(in_units, kind=kind.kind, units=units)
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
            raise CoreError(
                f"read “{text.strip()}” as {in_units(value, kind.kind, units)}; "
                f"accepted: {limits_text(kind, units)}",
                ".".join(path),
            )
    if kind.kind == "percent":
        value = str(value)  # kept as an exact decimal
    return _whole(plan, path, value)
