"""Turn pydantic's errors into one line: which place, what was read, what is accepted."""

from __future__ import annotations

import difflib
import json
from collections.abc import Mapping
from typing import Any, get_args

from pydantic import BaseModel, ValidationError
from pydantic_core import ErrorDetails

from stirrup.core.errors import CoreError

_ACCEPTED = {
    "missing": "this key is needed",
    "float_type": "accepted: a number",
    "float_parsing": "accepted: a number",
    "finite_number": "accepted: a finite number",
    "int_type": "accepted: a whole number",
    "int_parsing": "accepted: a whole number",
    "string_type": "accepted: text",
    "bool_type": "accepted: true or false",
    "bool_parsing": "accepted: true or false",
    "greater_than": "accepted: more than {gt:g}",
    "greater_than_equal": "accepted: {ge:g} or more",
    "less_than": "accepted: less than {lt:g}",
    "less_than_equal": "accepted: {le:g} or less",
    "too_short": "accepted: at least {min_length} entries, found {actual_length}",
    "too_long": "accepted: at most {max_length} entries, found {actual_length}",
    "string_too_long": "accepted: at most {max_length} characters",
    "string_too_short": "accepted: at least {min_length} character",
    "string_pattern_mismatch": "accepted: letters, digits, dot, dash, underscore; no spaces",
    "literal_error": "accepted: {expected}",
    "tuple_type": "accepted: a list",
    "dict_type": "accepted: an object",
    "model_type": "accepted: an object",
    "model_attributes_type": "accepted: an object",
    "union_tag_invalid": "accepted kinds: {expected_tags}",
    "union_tag_not_found": "it needs a {discriminator}",
}


def _show(value: object) -> str:
    text = json.dumps(value, ensure_ascii=False, default=str)
    return text if len(text) <= 60 else text[:57] + "..."


def _place(loc: tuple[int | str, ...], data: object) -> str:
    """Dotted path, without the names pydantic adds for unions."""
    out, here = "", data
    for step in loc:
        if isinstance(step, int):
            out += f"[{step}]"
            here = here[step] if isinstance(here, list | tuple) and step < len(here) else None
        else:
            known = isinstance(here, Mapping) and step in here
            if not known and (here is not None and not isinstance(here, Mapping)):
                continue  # a union member's name such as "float"
            if not known and isinstance(here, Mapping) and here.get("kind") == step:
                continue
            if not known and isinstance(here, Mapping) and here.get("do") == step:
                continue
            out += f".{step}" if out else step
            here = here.get(step) if isinstance(here, Mapping) else None
    return out


def _fields(model: type[BaseModel]) -> dict[str, Any]:
    return {name: info.annotation for name, info in model.model_fields.items()}


def _models_in(annotation: object) -> list[type[BaseModel]]:
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return [annotation]
    return [m for a in get_args(annotation) for m in _models_in(a)]


def _known_keys(root: type[BaseModel], loc: tuple[int | str, ...]) -> list[str]:
    """Keys that would have been accepted at the place of an unknown key."""
    models = [root]
    for step in loc[:-1]:
        if isinstance(step, int):
            continue
        deeper = [m for x in models for m in _models_in(_fields(x).get(step))]
        models = deeper or models
    return sorted({name for m in models for name in _fields(m)})


def explain(detail: ErrorDetails, data: object, root: type[BaseModel] | None = None) -> CoreError:
    """One pydantic error as a CoreError."""
    loc, kind = detail["loc"], detail["type"]
    place = _place(loc, data)
    context = detail.get("ctx", {})
    if kind == "extra_forbidden":
        near = difflib.get_close_matches(str(loc[-1]), _known_keys(root, loc) if root else [], 1, 0.0)
        hint = f"; did you mean “{near[0]}”" if near else ""
        return CoreError(f"unknown key{hint}", place)
    if kind == "missing":
        return CoreError("missing; this key is needed", place)
    if kind == "value_error":
        return CoreError(str(context.get("error", detail["msg"])), place)
    accepted = _ACCEPTED.get(kind)
    said = accepted.format(**context) if accepted else detail["msg"]
    return CoreError(f"read {_show(detail['input'])}; {said}", place)


def first_error(
    error: ValidationError, data: object, prefix: str = "", root: type[BaseModel] | None = None
) -> CoreError:
    """The first of pydantic's errors, and how many more there are."""
    details = error.errors(include_url=False)
    # a misspelt key says more than the key that is therefore missing
    told = min(details, key=lambda d: d["type"] != "extra_forbidden")
    first = explain(told, data, root)
    more = len(details) - 1
    text = first.message + (f" (and {more} more)" if more else "")
    place = ".".join(p for p in (prefix, first.place) if p)
    return CoreError(text, place)
