"""JSON of others, read with care: one line says what is wrong and where."""

from __future__ import annotations

import json
import re
import sys
from pathlib import Path
from typing import Any

from stirrup.core.errors import CoreError
from stirrup.core.text import unfit

NUL = re.compile(r"(?<!\\)(?:\\\\)*\\u0000")


def _no_doubles(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    seen: dict[str, Any] = {}
    for key, value in pairs:
        if key in seen:
            raise CoreError("this key stands twice in one object", key)
        seen[key] = value
    return seen


def values_of(text: str | bytes, what: str, most: int) -> Any:
    """The values in a text of at most `most` bytes; `what` it should be, as in “a build file”.

    Raises CoreError with one line.
    """
    if len(text) > most:
        raise CoreError(f"the file is too large; {what} has at most {most / 1e6:.0f} MB")
    try:
        content = text.decode("utf-8-sig") if isinstance(text, bytes) else text
        data = json.loads(content, object_pairs_hook=_no_doubles)
    except UnicodeDecodeError as error:
        raise CoreError(f"not UTF-8 text: byte {error.start} cannot be read") from None
    except json.JSONDecodeError as error:
        raise CoreError(f"not JSON: line {error.lineno}, column {error.colno}: {error.msg}") from None
    except RecursionError:
        raise CoreError(f"not {what}: nested too deeply") from None
    except CoreError:
        raise
    except ValueError as error:
        raise CoreError(f"not JSON that can be read: {str(error)[:120]}") from None
    # in the text a NUL is an escape; as such it would only be noticed when it is stored
    why = unfit(content) or ("a NUL character" if NUL.search(content) else "")
    if why:
        raise CoreError(f"the file holds {why}")
    return data


def bytes_of(source: str, what: str, most: int) -> bytes:
    """A file's bytes, or those of standard input for “-”. Raises CoreError."""
    if source == "-":
        return sys.stdin.buffer.read(most + 1)
    path = Path(source)
    try:
        size = path.stat().st_size
        if size > most:
            told = f"the file has {size / 1e6:.0f} MB; {what} has at most {most / 1e6:.0f} MB"
            raise CoreError(told, source)
        return path.read_bytes()
    except OSError as error:
        raise CoreError(f"cannot be read: {error.strerror}", source) from None
