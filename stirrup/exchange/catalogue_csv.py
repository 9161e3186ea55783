"""The catalogue as CSV: one row for each entry, one column for each field; SI units, packs as "1=39.00".

A file may hold some columns only: what is left out or empty stays as the shop has it.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from typing import Any

from stirrup.core.errors import CoreError
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Cloth as ClothEntry
from stirrup.core.parts.entries import (
    Entry,
    Fastener,
    Latch,
    Line,
    Pedestal,
    Plain,
    Resin,
    Section,
    Sheet,
    Strut,
    Whole,
)
from stirrup.core.record import dataclass
from stirrup.exchange.catalogue import entry_of
from stirrup.exchange.csvtext import rows_of, safe

CLASSES = (Sheet, Section, Fastener, Latch, Strut, Pedestal, Line, Plain, Resin, ClothEntry, Whole)
FIRST = ("id", "group", "name", "unit", "mass", "packs")
COLUMNS = (
    *FIRST,
    *dict.fromkeys(
        n
        for c in CLASSES
        for n, f in c.model_fields.items()
        if n not in (*FIRST, "stuff") and not f.exclude
    ),
)
MOST_ROWS = 5000


@dataclass(frozen=True)
class Row:
    """One row as read: its number in the file, the entry or what is wrong, what it changes."""

    number: int
    id: str
    entry: Entry | None = None
    problem: str = ""
    new: bool = False
    changed: tuple[str, ...] = ()


def catalogue_csv(entries: Iterable[Entry]) -> str:
    """Entries as CSV text."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for entry in entries:
        values = entry.model_dump(mode="json")
        writer.writerow([_text(values.get(c)) for c in COLUMNS])
    return out.getvalue()


def _text(value: Any) -> str:
    if value is None or value == "" or value == []:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list) and isinstance(value[0], dict):
        return packs_text(value)
    if isinstance(value, list):
        return " ".join(str(v) for v in value)
    return f"{value:.10g}" if isinstance(value, float) else safe(str(value))


def packs_text(packs: list[dict[str, Any]]) -> str:
    """Packs as people type them: "1 = 39.00; 10 = 350.00"."""
    return "; ".join(f"{float(p['quantity']):g} = {p['price']}" for p in packs)


def read_packs(text: str) -> list[dict[str, Any]]:
    """Packs from such text. Raises CoreError."""
    out = []
    for part in (p for p in text.replace("\n", ";").split(";") if p.strip()):
        held, sign, price = part.partition("=")
        try:
            out.append(
                {"quantity": float(held.strip()), "price": price.strip().lstrip("$").replace(" ", "")}
            )
        except ValueError:
            sign = ""
        if not sign or not price.strip():
            raise CoreError(f"read “{part.strip()[:40]}”; accepted: 1 = 39.00; 10 = 350.00", "packs")
    return out


def read_catalogue(text: str, catalogue: Catalogue) -> list[Row]:
    """Every row of a CSV, each by itself: what it would add or change, or what is wrong with it.

    Raises CoreError for a text that is no such table.
    """
    table = rows_of(text.lstrip("\ufeff"))
    head = [c.strip().lower() for c in table[0]] if table else []
    if "id" not in head:
        raise CoreError(f"the first row needs a column “id”; columns: {', '.join(COLUMNS)}", "file")
    odd = [c for c in head if c and c not in COLUMNS]
    if odd:
        raise CoreError(f"no column “{odd[0][:40]}”; accepted: {', '.join(COLUMNS)}", "file")
    if len(table) > MOST_ROWS:
        raise CoreError(f"{len(table)} rows; at most {MOST_ROWS}", "file")
    rows = []
    for number, cells in enumerate(table[1:], start=2):
        if any(cell.strip() for cell in cells):
            rows.append(_row(number, dict(zip(head, cells, strict=False)), catalogue))
    return rows


def _row(number: int, cells: dict[str, str], catalogue: Catalogue) -> Row:
    id_ = cells.get("id", "").strip().lstrip("'")
    old = catalogue.entries.get(id_)
    try:
        # an empty cell leaves what is there
        entry = changed_entry(old, {k: v for k, v in cells.items() if v.strip()} if old else cells)
    except CoreError as error:
        place = error.place.removeprefix("[0].")
        return Row(number, id_, problem=f"{place}: {error.message}".lstrip(": "))
    before = old.model_dump() if old else {}
    changed = tuple(k for k, v in entry.model_dump().items() if k not in before or before[k] != v)
    return Row(number, id_, entry, "", old is None, changed if old else ())


def changed_entry(old: Entry | None, cells: dict[str, str]) -> Entry:
    """An entry with typed values over what it was. Raises CoreError naming the field."""
    values: dict[str, Any] = old.model_dump(mode="json") if old else {"status": "shop"}
    for name, text in cells.items():
        plain = text.strip().removeprefix("'") if text.startswith("'") else text.strip()
        if name == "packs":
            values[name] = read_packs(plain)
        elif name == "works_with":
            values[name] = plain.split()
        elif name == "size":
            values[name] = [_number(n, "size") for n in plain.split()] or None
        elif name in ("retired", "wraps", "stiff", "roll"):
            values[name] = plain.lower() in ("yes", "true", "1", "on")
        elif plain == "":
            values.pop(name, None)
        elif name in NUMBERS:
            values[name] = _number(plain, name)
        else:
            values[name] = plain
    fields = _fields_of(str(values.get("group", "")))
    return entry_of({k: v for k, v in values.items() if k in fields})


def _fields_of(group: str) -> set[str]:
    """Fields that an entry of a group has; all where the group is not known, which is told then."""
    for kind in CLASSES:
        if group in kind.model_fields["group"].annotation.__args__:  # type: ignore[union-attr]
            return set(kind.model_fields) - {"stuff"}
    return set(COLUMNS)


NUMBERS = {
    n
    for c in CLASSES
    for n, f in c.model_fields.items()
    if n not in ("size", "packs", "price")
    and ("float" in str(f.annotation) or (f.metadata and "Is(" in str(f.metadata)))
}


def _number(text: str, name: str) -> float:
    try:
        value = float(text)
    except ValueError:
        raise CoreError(f"read “{text[:40]}”; accepted: a number", name) from None
    if value != value or value in (float("inf"), float("-inf")):
        raise CoreError(f"read “{text[:40]}”; accepted: a number", name)
    return value
