"""Price lists of suppliers: a table as CSV or spreadsheet, which of its columns is what, and each cell that
cannot be read by its place.

What a row is in the catalogue is remembered from earlier lists, else told by a column with the
catalogue's id, or by the same name; all others are kept under what the supplier calls them.
"""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Mapping, Sequence
from decimal import Decimal, InvalidOperation
from itertools import islice
from typing import Any, Literal, get_args

from stirrup.core.errors import CoreError
from stirrup.core.money.suppliers import Offer
from stirrup.core.plan.buying import MOST_DIFFERS
from stirrup.core.record import dataclass
from stirrup.core.text import unfit
from stirrup.exchange.csvtext import MOST_CELL, meant, rows_of

Table = list[list[str]]
Known = Mapping[str, tuple[str, str]]  # by what it is called: item, and how it differs where it does
Role = Literal["", "number", "name", "quantity", "price", "item", "instead"]
ROLES: tuple[Role, ...] = get_args(Role)
MOST_ROWS, MOST_COLUMNS, MOST_PROBLEMS = 20_000, 40, 200
MOST_UNPACKED = 150_000_000  # bytes of a spreadsheet that is unzipped
MOST_PRICE = 1_000_000
# words of a heading that tell what its column is; the first that fits
HEADS: tuple[tuple[Role, str], ...] = (
    ("item", r"^(id|catalogue( id)?|item id)$"),
    ("instead", r"^(instead|differs|in place of it)$"),
    ("price", r"price|cost|net|each|preis|prix|amount"),
    ("quantity", r"pack|qty|quantity|per|content|holds|menge"),
    ("number", r"number|no\b|no\.|sku|code|part|art|ref|nummer"),
    ("name", r"name|description|item|product|text|bezeichnung"),
)
# an amount with a currency before or behind it; two numbers in one cell are none
_AMOUNT = re.compile(r"[^\d+\-.,]{0,4}([+-]?[\d.,][\d.,\s'’]*)\D{0,8}")
_BETWEEN = re.compile(r"[\s'’]")


@dataclass(frozen=True)
class Columns:
    """What each column is, and which sign stands before the cents; head: whether the first row names
    them."""

    roles: tuple[Role, ...]
    decimal: Literal[".", ","] = "."
    head: bool = True

    @property
    def missing(self) -> str:
        """What no column is and has to be; empty when all is there."""
        if "price" not in self.roles:
            return "a column of prices"
        return "" if {"name", "number", "item"} & set(self.roles) else "a column of names or numbers"


@dataclass(frozen=True)
class Unread:
    """A cell that cannot be read: its row as a spreadsheet counts, its column, and why."""

    row: int
    column: str
    text: str


@dataclass(frozen=True)
class PriceList:
    """What was read: offers, cells that could not be, and how many cells more."""

    offers: tuple[Offer, ...]
    problems: tuple[Unread, ...]
    more: int = 0

    @property
    def known(self) -> int:
        """Of how many it is known what they are in the catalogue."""
        return sum(o.item is not None for o in self.offers)


def table_of(content: bytes) -> Table:
    """The cells of a file as text, without empty rows at its end. Raises CoreError for what is no table."""
    rows = _sheet(content) if content.startswith(b"PK") else rows_of(_text(content))
    while rows and not any(rows[-1]):
        rows.pop()
    if not rows:
        raise CoreError("the table has no rows", "table")
    if len(rows) > MOST_ROWS:
        raise CoreError(f"the table has {len(rows)} rows; accepted: up to {MOST_ROWS}", "table")
    width = max(map(len, rows))
    if width > MOST_COLUMNS:
        raise CoreError(f"the table has {width} columns; accepted: up to {MOST_COLUMNS}", "table")
    return [row + [""] * (width - len(row)) for row in rows]


def _text(content: bytes) -> str:
    """Text of a CSV, as new and as old machines write it."""
    for code in ("utf-8-sig", "utf-16" if content[:2] in (b"\xff\xfe", b"\xfe\xff") else "cp1252"):
        try:
            return content.decode(code)
        except UnicodeDecodeError:
            continue
    raise CoreError("this is neither a spreadsheet nor text; accepted: .xlsx, .csv", "table")


def _sheet(content: bytes) -> Table:
    """The first sheet of a spreadsheet, values instead of formulas."""
    # loaded when first needed
    from openpyxl import load_workbook
    from openpyxl.utils.exceptions import InvalidFileException

    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            unpacked = sum(info.file_size for info in packed.infolist())
        if unpacked > MOST_UNPACKED:
            raise CoreError(
                f"unpacked the file has {unpacked // 1_000_000} MB; accepted: {MOST_UNPACKED // 1_000_000}",
                "table",
            )
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True, keep_links=False)
        rows = []
        for row in islice(book.worksheets[0].iter_rows(values_only=True), MOST_ROWS + 1):
            rows.append([_cell(v) for v in row[: MOST_COLUMNS + 1]])
        book.close()
    except CoreError:
        raise
    except (InvalidFileException, zipfile.BadZipFile, KeyError, ValueError, OSError, IndexError, TypeError,
            AttributeError, SyntaxError) as error:  # fmt: skip
        why = str(error)[:120] or type(error).__name__
        raise CoreError(f"this spreadsheet cannot be read: {why}; accepted: .xlsx, .csv", "table") from None
    return rows


def _cell(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, float):
        return f"{value:.10g}"
    text = str(value).strip()
    why = unfit(text)
    if why:
        raise CoreError(f"the table holds {why}", "table")
    if len(text) > MOST_CELL:
        raise CoreError(f"a cell of {len(text)} letters; accepted: up to {MOST_CELL}", "table")
    return text


def guessed(table: Table, remembered: Mapping[str, Any]) -> Columns:
    """What the columns are: as for the last list of this supplier, where it has as many; else by their
    headings, else by what stands in them."""
    width = len(table[0])
    roles = tuple(r for r in remembered.get("roles", ()) if r in ROLES)
    if len(roles) == width:
        comma = remembered.get("decimal") == ","
        return Columns(roles, "," if comma else ".", bool(remembered.get("head", True)))
    found: list[Role] = [""] * width
    for role, pattern in HEADS:
        for k, title in enumerate(table[0]):
            if not found[k] and role not in found and re.search(pattern, title.casefold()):
                found[k] = role
    head = any(found)
    if not head:  # the last column of numbers is the price, the first of words the name
        numbers = [k for k in range(width) if all(_digits(row[k]) for row in table[:20])]
        words = [k for k in range(width) if k not in numbers]
        if numbers and words:
            found[numbers[-1]], found[words[0]] = "price", "name"
    return Columns(tuple(found), _decimal(table, found, head), head)


def _digits(text: str) -> str:
    """The digits and signs of an amount; empty where it is none."""
    found = _AMOUNT.fullmatch(text.strip())
    return _BETWEEN.sub("", found[1]) if found and any(c.isdigit() for c in found[1]) else ""


def _decimal(table: Table, roles: Sequence[Role], head: bool) -> Literal[".", ","]:
    """The sign before the cents of the prices: the one that has other than three digits behind it."""
    if "price" not in roles:
        return "."
    k, votes = roles.index("price"), {".": 0, ",": 0}
    for row in table[head : 200 + head]:
        plain = _digits(row[k])
        last = max(plain.rfind("."), plain.rfind(","))
        if last >= 0 and len(plain) - last - 1 != 3:
            votes[plain[last]] += 1
    return "," if votes[","] > votes["."] else "."


def read_number(text: str, decimal: str) -> Decimal:
    """An amount as people and programs write it. Raises ValueError."""
    plain = _digits(text)
    if not plain or not plain.isascii():
        raise ValueError(text)
    thousands = "," if decimal == "." else "."
    groups, _, cents = plain.partition(decimal)
    if thousands in groups and not re.fullmatch(rf"[+-]?\d{{1,3}}(\{thousands}\d{{3}})+", groups):
        raise ValueError(text)
    try:
        value = Decimal(f"{groups.replace(thousands, '') or '0'}.{cents or '0'}")
    except InvalidOperation:
        raise ValueError(text) from None
    return value


def read_prices(
    table: Table, columns: Columns, supplier: str, day: str, source: str, known: Known,
    names: Mapping[str, str],
) -> PriceList:  # fmt: skip
    """Every row of a table as an offer, or what is wrong with it.

    known: what the supplier's things are, by what it calls them; names: ids of the catalogue by their
    names, and by themselves. Raises CoreError where no column is a price, or none a name.
    """
    if columns.missing:
        raise CoreError(f"say which is {columns.missing}", "roles")
    at: dict[Role, int] = {role: k for k, role in enumerate(columns.roles) if role}
    heads = table[0] if columns.head else [f"column {k + 1}" for k in range(len(table[0]))]
    offers: list[Offer] = []
    problems: list[Unread] = []
    count = 0
    for number, row in enumerate(table[columns.head :], start=1 + columns.head):
        if not any(row):
            continue
        try:
            offers.append(_offer(row, at, columns, supplier, day, source, known, names))
        except _CellError as error:
            count += 1
            if len(problems) < MOST_PROBLEMS:
                problems.append(Unread(number, heads[error.column] or f"column {error.column + 1}",
                                       error.text))  # fmt: skip
    return PriceList(tuple(offers), tuple(problems), count - len(problems))


class _CellError(Exception):
    """What is wrong with the cell in a column."""

    def __init__(self, column: int, text: str) -> None:
        super().__init__(text)
        self.column, self.text = column, text


def _amount(row: Sequence[str], column: int, decimal: str, least: Decimal, most: Decimal) -> Decimal:
    text = row[column]
    try:
        value = read_number(text, decimal)
    except ValueError:
        raise _CellError(column, f"read “{text[:40]}”; accepted: a number such as 12{decimal}50") from None
    if not least <= value <= most:
        raise _CellError(column, f"read {value}; accepted: {least} to {most}")
    return value


def _offer(
    row: Sequence[str], at: Mapping[Role, int], columns: Columns, supplier: str, day: str, source: str,
    known: Known, names: Mapping[str, str],
) -> Offer:  # fmt: skip
    def text(role: Role, most: int) -> str:
        return " ".join(meant(row[at[role]]).split())[:most] if role in at else ""

    price = _amount(row, at["price"], columns.decimal, Decimal(0), Decimal(MOST_PRICE))
    quantity = Decimal(1)
    if "quantity" in at and row[at["quantity"]]:
        least, most = Decimal("0.001"), Decimal(100_000)
        quantity = _amount(row, at["quantity"], columns.decimal, least, most)
    name, number, told = text("name", 200), text("number", 60), text("item", 60)
    if not (name or number or told):
        first = min(k for role, k in at.items() if role in ("name", "number", "item"))
        raise _CellError(first, "nothing here says what it is")
    ref = (number or name or told).casefold()
    item, instead = known.get(ref, (None, ""))
    item = item or names.get(told.casefold()) or names.get(name.casefold())
    instead = text("instead", MOST_DIFFERS) if "instead" in at else instead
    if item is None and not (name or number):
        raise _CellError(at["item"], f"read “{told}”; accepted: an id of the catalogue")
    return Offer(
        supplier=supplier, item=item, name=name, number=number, quantity=float(quantity),
        price=price.quantize(Decimal("0.0001")), on=day, source=source, instead=instead if item else "",
    )  # fmt: skip
