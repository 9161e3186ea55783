"""Read and write the build file (`.stirrup.json`); its format is in docs/build-file.md."""

from __future__ import annotations

import json
import re
import sys
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from stirrup.core.errors import CoreError
from stirrup.core.plan.carried import carried
from stirrup.core.plan.explain import first_error
from stirrup.core.plan.model import Plan
from stirrup.core.text import unfit
from stirrup.exchange.catalogue import starting
from stirrup.exchange.upgrade import NEWEST, upgraded

MOST_BYTES = 8_000_000
NUL = re.compile(r"(?<!\\)(?:\\\\)*\\u0000")
FORMAT = "stirrup-build"


def _no_doubles(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    seen: dict[str, Any] = {}
    for key, value in pairs:
        if key in seen:
            raise CoreError("this key stands twice in one object", key)
        seen[key] = value
    return seen


def parse(text: str | bytes) -> Plan:
    """Plan from the text of a build file.

    Raises CoreError with one line: the place, what was read, what is accepted.
    """
    if len(text) > MOST_BYTES:
        raise CoreError(f"the file is too large; a build file has at most {MOST_BYTES / 1e6:.0f} MB")
    try:
        content = text.decode("utf-8-sig") if isinstance(text, bytes) else text
        data = json.loads(content, object_pairs_hook=_no_doubles)
    except UnicodeDecodeError as error:
        raise CoreError(f"not UTF-8 text: byte {error.start} cannot be read") from None
    except json.JSONDecodeError as error:
        raise CoreError(f"not JSON: line {error.lineno}, column {error.colno}: {error.msg}") from None
    except RecursionError:
        raise CoreError("not a build file: nested too deeply") from None
    except CoreError:
        raise
    except ValueError as error:
        raise CoreError(f"not JSON that can be read: {str(error)[:120]}") from None
    # in the text a NUL is an escape; as such it would only be noticed when it is stored
    why = unfit(content) or ("a NUL character" if NUL.search(content) else "")
    if why:
        raise CoreError(f"the file holds {why}")
    return from_data(data)


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
    if source == "-":
        return parse(sys.stdin.buffer.read(MOST_BYTES + 1))
    path = Path(source)
    try:
        size = path.stat().st_size
        if size > MOST_BYTES:
            raise CoreError(
                f"the file has {size / 1e6:.0f} MB; a build file has at most {MOST_BYTES / 1e6:.0f} MB",
                source,
            )
        return parse(path.read_bytes())
    except OSError as error:
        raise CoreError(f"cannot be read: {error.strerror}", source) from None


def dump(plan: Plan) -> str:
    """Text of the build file: stable order, defaults written out, nothing for what is unset."""
    return plan.model_dump_json(indent=1, exclude_none=True) + "\n"


def schema() -> dict[str, Any]:
    """JSON Schema of the build file."""
    return Plan.model_json_schema()
