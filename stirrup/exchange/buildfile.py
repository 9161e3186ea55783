"""Read and write the build file (`.stirrup.json`); its format is in docs/build-file.md."""

from __future__ import annotations

import json
from typing import Any

from pydantic import ValidationError

from stirrup.core.errors import CoreError
from stirrup.core.plan.carried import carried
from stirrup.core.plan.explain import first_error
from stirrup.core.plan.model import Plan
from stirrup.exchange.catalogue import starting
from stirrup.exchange.jsontext import bytes_of, values_of
from stirrup.exchange.upgrade import NEWEST, upgraded

MOST_BYTES = 8_000_000
FORMAT, WHAT = "stirrup-build", "a build file"


def parse(text: str | bytes) -> Plan:
    """Plan from the text of a build file.

    Raises CoreError with one line: the place, what was read, what is accepted.
    """
    return from_data(values_of(text, WHAT, MOST_BYTES))


def from_data(data: Any) -> Plan:
    """Plan from parsed JSON values. Raises CoreError."""
    if not isinstance(data, dict):
        raise CoreError("not a build file: the outermost value must be an object")
    if data.get("format") != FORMAT:
        raise CoreError(f"read {json.dumps(data.get('format'))}; accepted: “{FORMAT}”", "format")
    version = data.get("version")
    known = isinstance(version, int) and not isinstance(version, bool) and 1 <= version <= NEWEST
    if not known:
        raise CoreError(f"read {json.dumps(version)}; accepted: 1 to {NEWEST}", "version")
    try:
        data = upgraded(data)
        plan = Plan.model_validate_json(json.dumps(data), strict=True)
    except ValidationError as error:
        raise first_error(error, data, root=Plan) from None
    except RecursionError:
        raise CoreError("not a build file: nested too deeply") from None
    return carried(plan, starting())


def read(source: str) -> Plan:
    """Plan from a file name, or from standard input for “-”. Raises CoreError."""
    return parse(bytes_of(source, WHAT, MOST_BYTES))


def dump(plan: Plan) -> str:
    """Text of the build file: stable order, defaults written out, nothing for what is unset."""
    return plan.model_dump_json(indent=1, exclude_none=True) + "\n"


def schema() -> dict[str, Any]:
    """JSON Schema of the build file."""
    return Plan.model_json_schema()
