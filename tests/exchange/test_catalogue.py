"""The catalogue as files: what ships, and a table out and in again."""

import csv
import io
from decimal import Decimal

import pytest

from stirrup.core.errors import CoreError
from stirrup.core.parts.entries import GROUPS, Plain, Section, Sheet
from stirrup.exchange.catalogue import entry_of, starting
from stirrup.exchange.catalogue_csv import COLUMNS, catalogue_csv, read_catalogue, read_packs
from tests.boats import DECK, derive, skiff_plan

STOCK = starting()
HEAD = "id,group,name,material,thickness,packs\r\n"


def test_what_ships_holds_what_a_shop_starts_with() -> None:
    assert len(STOCK.entries) >= 250 and {e.group for e in STOCK.entries.values()} == set(GROUPS)
    assert all(e.status == "starting value" for e in STOCK.entries.values())
    # imperial stock as it is sold, beside metric
    thick = {round(e.thickness / 0.0254, 2) for e in STOCK.of(Sheet)}
    assert {0.06, 0.09, 0.12, 0.5, 0.75} <= thick
    legs = {
        (round(e.a / 0.0254, 3), round(e.t / 0.0254, 4)) for e in STOCK.of(Section) if e.shape == "angle"
    }
    assert {(1.0, 0.0625), (2.0, 0.25), (1.5, 0.125)} <= legs
    tubes = {round(e.a / 0.0254, 3) for e in STOCK.of(Section) if e.shape == "square tube"}
    assert {1.0, 1.5} <= tubes


def test_out_and_in_again_nothing_is_changed() -> None:
    text = catalogue_csv(STOCK.entries.values())
    rows = read_catalogue(text, STOCK)
    assert len(rows) == len(STOCK.entries)
    assert [(r.id, r.problem, r.new, r.changed) for r in rows if r.problem or r.new or r.changed] == []
    assert next(csv.reader(io.StringIO(text))) == list(COLUMNS)


def test_a_new_row_and_a_changed_one() -> None:
    text = (
        HEAD + "own-2.6,sheet,2.6 mm sheet,5052-H32,0.0026,1 = 180.00\r\n" + "al-2.5,,,,0.00254,1=175\r\n"
    )
    new, old = read_catalogue(text, STOCK)
    assert new.new and isinstance(new.entry, Sheet) and new.entry.thickness == 0.0026
    assert new.entry.packs[0].price == Decimal("180.00") and new.entry.status == "shop"
    assert not old.new and set(old.changed) == {"thickness", "packs"}
    assert old.entry is not None and old.entry.name == STOCK.find("al-2.5").name


@pytest.mark.parametrize(
    ("row", "words"),
    [
        ("x,sheet,X,5052-H32,-1,", "thickness: read -1"),
        ("x,sheet,X,5052-H32,two,", "thickness: read “two”; accepted: a number"),
        ("x,sheet,X,,0.002,", "material: missing"),
        ("x,boat,X,,,", "accepted"),
        ("a b,sheet,X,5052-H32,0.002,", "id: read"),
        ("x,sheet,X,5052-H32,0.002,39", "packs: read “39”; accepted: 1 = 39.00"),
        ("x,sheet,X,5052-H32,nan,", "thickness: read “nan”"),
    ],
)
def test_a_wrong_row_names_the_column_and_what_is_accepted(row: str, words: str) -> None:
    (found,) = read_catalogue(HEAD + row + "\r\n", STOCK)
    assert found.entry is None and words in found.problem
    assert found.number == 2


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "column “id”"),
        ("name\r\nx\r\n", "column “id”"),
        ("id,colour\r\nx,red\r\n", "no column “colour”"),
    ],
)
def test_no_such_table_is_told(text: str, words: str) -> None:
    with pytest.raises(CoreError, match=words):
        read_catalogue(text, STOCK)


def test_packs_as_people_type_them() -> None:
    assert read_packs(" 1 = $39.00;50= 1 200 ") == [
        {"quantity": 1.0, "price": "39.00"},
        {"quantity": 50.0, "price": "1200"},
    ]


def test_a_formula_in_a_name_stays_text() -> None:
    odd = entry_of({"id": "x", "group": "hardware", "name": "=1+1", "packs": []})
    text = catalogue_csv([odd])
    assert "'=1+1" in text
    (row,) = read_catalogue(text, STOCK)
    assert isinstance(row.entry, Plain) and row.entry.name == "=1+1"


@pytest.mark.parametrize("mark", [",", ";", "\t"])
def test_a_table_of_any_spreadsheet_is_read(mark: str) -> None:
    """Packs hold semicolons of their own: the first line tells what parts the cells."""
    lines = ["id,group,name,packs", 'own-1,hardware,Plate,"1 = 3.00; 10 = 20.00; 50 = 80.00"']
    rows = read_catalogue("\n".join(lines).replace(",", mark), starting())
    assert [(r.id, r.problem) for r in rows] == [("own-1", "")]
    assert [str(p.price) for p in rows[0].entry.packs] == ["3.00", "20.00", "80.00"]


@pytest.mark.parametrize(
    ("values", "told"),
    [
        ({"group": "hardware", "pitch": 1e-6}, "0.005"),  # a metre would take a million of screws
        ({"group": "section", "material": "6061-T6", "a": 0.04, "b": 0.04, "t": 0.05}, "0.04"),
        ({"group": "section", "material": "6061-T6", "shape": "square tube", "a": 0.02, "b": 0.04,
          "t": 0.011}, "0.01"),
        ({"group": "section", "material": "6061-T6", "a": 0.04, "b": 0.04, "t": 0.003,
          "length": 0.01}, "0.1"),
        ({"group": "sheet", "material": "5052-H32", "thickness": 0.0}, "0.0001"),
    ],
)  # fmt: skip
def test_sizes_that_nothing_can_be_made_of_are_refused(values, told) -> None:
    with pytest.raises(CoreError, match=told):
        entry_of({"id": "own", "name": "Own", "unit": "piece", "packs": [], **values})


def test_what_nobody_knows_the_material_of_is_named_and_not_weighed() -> None:
    sheet = entry_of({"id": "own", "name": "Own", "group": "sheet", "material": "moon", "thickness": 0.002})
    plan = skiff_plan(fittings=[{**DECK, "skin": "own"}])
    told = derive(plan, starting().over([sheet])).findings
    (finding,) = [f for f in told if f.code == "CANNOT-BUILD"]
    assert finding.place == "deck" and "“moon”" in finding.text


def test_what_a_plan_does_not_say_of_a_material_is_the_catalogue_s() -> None:
    """A file written before sheets were folded says nothing of bends; what it says stays."""
    own = starting()
    older = own.materials["5052-H32"].model_copy(
        update={"bend_t": None, "bend_thick_t": None, "density": 2700.0}
    )
    there = own.over([own.sheet("al-2.5")], [older])
    assert there.sheet("al-2.5").stuff.bend_t == 1 and there.sheet("al-4.8").stuff.bend_thick_t == 2
    assert there.sheet("al-2.5").stuff.density == 2700.0
    # what nobody knows stays unknown
    alone = older.model_copy(update={"id": "own-metal"})
    assert own.over([], [alone]).materials["own-metal"].bend_t is None
