"""The catalogue as files: what ships, a shop's entries as CSV, and entries from plain values."""

from __future__ import annotations

import tomllib
from collections.abc import Iterable
from functools import cache
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter, ValidationError

import stirrup.catalogue
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import AnyEntry, Entry, Material
from stirrup.core.plan.explain import first_error

FOLDER = Path(stirrup.catalogue.__file__).parent
# the groups in the order in which they are told
FILES = (
    "sheets",
    "sections",
    "fasteners",
    "hardware",
    "struts",
    "pedestals",
    "lines",
    "covers",
    "sealants",
    "resins",
    "cloths",
    "bought",
)
ENTRIES: TypeAdapter[tuple[Entry, ...]] = TypeAdapter(tuple[AnyEntry, ...])
MATERIALS: TypeAdapter[tuple[Material, ...]] = TypeAdapter(tuple[Material, ...])


@cache
def starting() -> Catalogue:
    """The catalogue that ships: starting values."""
    entries: list[Entry] = []
    for name in FILES:
        entries += ENTRIES.validate_python(_read(name)["entries"])
    return Catalogue(MATERIALS.validate_python(_read("materials")["materials"]), entries)


def _read(name: str) -> dict[str, Any]:
    with (FOLDER / f"{name}.toml").open("rb") as file:
        return tomllib.load(file)


def entry_of(values: dict[str, Any]) -> Entry:
    """An entry from plain values. Raises CoreError naming the field, what was read, what is accepted."""
    try:
        return ENTRIES.validate_python([values])[0]
    except ValidationError as error:
        raise first_error(error, [values]) from None


def entries_of(rows: Iterable[dict[str, Any]]) -> list[Entry]:
    """Several of them."""
    return [entry_of(row) for row in rows]
