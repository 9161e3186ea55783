"""Price lists as suppliers send them: columns found, amounts read, each bad cell named by its place."""

from __future__ import annotations

import io
import zipfile
from decimal import Decimal
from typing import Any

import pytest
from openpyxl import Workbook, load_workbook

from stirrup.core.errors import CoreError
from stirrup.exchange.price_list import Columns, guessed, read_number, read_prices, table_of
from stirrup.exchange.sheet_out import written

DAY = "2026-03-02"
NAMES = {"slam latch, 50 mm body": "latch-50", "latch-50": "latch-50"}


def book(*rows: tuple[Any, ...]) -> bytes:
    made, out = Workbook(), io.BytesIO()
    for row in rows:
        made.active.append(row)
    made.save(out)
    return out.getvalue()


def read(content: bytes, known: dict[str, tuple[str, str]] | None = None, columns: Columns | None = None):
    table = table_of(content)
    return read_prices(table, columns or guessed(table, {}), "yard", DAY, "list", known or {}, NAMES)


def test_a_spreadsheet_with_headings() -> None:
    content = book(
        ("Art. no.", "Description", "Pack", "Price each, EUR", "Weight"),
        ("L-9", "Slam latch, 50 mm body", 1, 17.2, 0.1), ("R-5", "rivet", 250, "46.00", ""),
        ("", "", "", "", ""),
    )  # fmt: skip
    found = read(content)
    assert [(o.number, o.item, o.quantity, o.price) for o in found.offers] == [
        ("L-9", "latch-50", 1.0, Decimal("17.2")), ("R-5", None, 250.0, Decimal(46)),
    ]  # fmt: skip
    assert (found.known, found.problems, found.offers[0].ref) == (1, (), "l-9")


def test_a_table_without_headings_and_with_commas_for_cents() -> None:
    found = read("Angle 40;1.039,50\nFlat bar;17,25 €\n".encode("cp1252"))
    assert [(o.name, o.price) for o in found.offers] == [
        ("Angle 40", Decimal("1039.50")), ("Flat bar", Decimal("17.25")),
    ]  # fmt: skip


def test_cells_that_cannot_be_read_are_named_and_left_out() -> None:
    found = read(b"name,qty,price\nlatch,1,call us\n,1,5\nrivet,0,5\nhinge,1,12.50\noar,1,-3\n")
    assert [(p.row, p.column, p.text) for p in found.problems] == [
        (2, "price", "read “call us”; accepted: a number such as 12.50"),
        (3, "name", "nothing here says what it is"),
        (4, "qty", "read 0.0; accepted: 0.001 to 100000"),
        (6, "price", "read -3.0; accepted: 0 to 1000000"),
    ]
    assert [o.name for o in found.offers] == ["hinge"]


def test_what_a_row_is_is_remembered_by_what_the_shop_calls_it() -> None:
    found = read(b"sku,name,price\nL-9,some latch,18\n", {"l-9": ("latch-50", "")})
    assert found.offers[0].item == "latch-50"


@pytest.mark.parametrize(
    ("text", "decimal", "value"),
    [("12.50", ".", "12.50"), ("$ 1,234.50", ".", "1234.50"), ("1.234,50 EUR", ",", "1234.50"),
     ("1 234,00", ",", "1234"), (".50", ".", "0.5"), ("CHF 1'200.00", ".", "1200"), ("+3", ".", "3")],
)  # fmt: skip
def test_amounts_as_people_write_them(text: str, decimal: str, value: str) -> None:
    assert read_number(text, decimal) == Decimal(value)


@pytest.mark.parametrize(
    "text", ["", "call", "1/2", "3-5", "1e5", "1,23", "12.345.678", "٣", "$", "12 for 3"]
)
def test_what_is_no_amount_is_never_one(text: str) -> None:
    with pytest.raises(ValueError):
        read_number(text, ".")


def test_columns_are_remembered_while_there_are_as_many() -> None:
    table = table_of(b"a,b,c\nx,5,9\n")
    kept = {"roles": ["name", "quantity", "price"], "decimal": ",", "head": True}
    assert guessed(table, kept) == Columns(("name", "quantity", "price"), ",", True)
    assert guessed(table_of(b"a,b\nx,9\n"), kept).roles != ("name", "quantity", "price")


def test_a_list_without_prices_asks_which_they_are() -> None:
    with pytest.raises(CoreError, match="say which is a column of prices"):
        read(b"name,colour\nlatch,grey\n")
    with pytest.raises(CoreError, match="a column of names or numbers"):
        read(b"x,price\nlatch,9\n", columns=Columns(("", "price")))


def bomb() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("xl/worksheets/sheet1.xml", b"0" * 160_000_000)
    return out.getvalue()


def entities() -> bytes:
    """A spreadsheet whose sheet declares entities that unfold a million times."""
    source, out = zipfile.ZipFile(io.BytesIO(book(("a", 1)))), io.BytesIO()
    bad = b'<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa">' + b"".join(
        b'<!ENTITY %c "%s">' % (98 + k, b"&%c;" % (97 + k) * 10) for k in range(6)
    )
    with zipfile.ZipFile(out, "w") as packed:
        for info in source.infolist():
            data = source.read(info)
            if info.filename.endswith("sheet1.xml"):
                data = b'<?xml version="1.0"?>' + bad + b"]>" + data
            packed.writestr(info.filename, data)
    return out.getvalue()


@pytest.mark.parametrize(
    ("content", "why"),
    [(b"", "no rows"), (b"PK\x03\x04rubbish", "cannot be read"), (bomb(), "unpacked the file has 160 MB"),
     (entities(), "cannot be read"), (b"a\x00b,1\n", "the table holds"),
     (b"x,1\n" * 20_001, "20001 rows; accepted"), (b",".join([b"1"] * 41), "41 columns; accepted"),
     (b"a,1\n" + b"x" * 3000 + b",2\n", "a cell of 3000 letters")],
    ids=["empty", "broken", "bomb", "entities", "nul", "rows", "columns", "cell"],
)  # fmt: skip
def test_hostile_tables_are_refused_in_words(content: bytes, why: str) -> None:
    with pytest.raises(CoreError, match=why):
        table_of(content)


def test_formulas_come_as_their_values_or_not_at_all() -> None:
    # what no program has worked out has no value
    found = read(book(("name", "price"), ("latch", "=1+1"), ("'=cmd", 3)))
    assert [p.row for p in found.problems] == [2] and found.offers[0].name == "=cmd"


@pytest.mark.parametrize("form", ["csv", "xlsx"])
def test_what_goes_out_comes_in_again_and_is_no_formula(form: str) -> None:
    rows = [("number", "name", "id", "pack", "price", "since"),
            ("=1+1", "+latch", "latch-50", 1.0, Decimal("17.20"), "2026-03-02"),
            ("N-2", "@oar, long", "", 2.5, Decimal("1040.00"), "2026-03-02")]  # fmt: skip
    content = written(rows, form)  # type: ignore[arg-type]
    if form == "xlsx":
        sheet = load_workbook(io.BytesIO(content)).active
        assert [c.data_type for c in sheet[2]][:2] == ["s", "s"]
    else:
        assert b"'=1+1,'+latch" in content
    found = read(content)
    assert [(o.number, o.name, o.item, o.quantity, o.price) for o in found.offers] == [
        ("=1+1", "+latch", "latch-50", 1.0, Decimal("17.2")),
        ("N-2", "@oar, long", None, 2.5, Decimal(1040)),
    ]  # fmt: skip
