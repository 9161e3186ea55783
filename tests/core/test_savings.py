"""What would save a sheet: each way on a boat, or a job, where it is seen by hand that it does."""

from dataclasses import replace
from decimal import Decimal

import pytest

from stirrup.core.cutting.sheets import Blank, RestSheet, SheetJob, SheetLayout, lay_out
from stirrup.core.derive import Derived
from stirrup.core.parts.entries import Pack, Sheet
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.savings import Saving, savings
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, derive, plan

SHOP = starting()


@pytest.fixture(scope="module")
def bare() -> Derived:
    return derive(plan())


def with_sheets(bare: Derived, *sheets: SheetLayout) -> Derived:
    """A plan's derivation, with other layouts of its sheets."""
    return replace(bare, spent=replace(bare.spent, sheets=sheets))


def oblong(name: str, width: float, height: float, rotations=(0, 180)) -> Blank:
    return Blank(name, name, ((0, 0), (width, 0), (width, height), (0, height)), (), rotations)


def found(bare: Derived, *blanks: Blank, **more) -> list[Saving]:
    """Savings of a job in place of all that the boat is cut from."""
    job = SheetJob("ply-12", 2.44, 1.22, blanks, Decimal(84), **more)
    return savings(with_sheets(bare, lay_out(job)), "ply-12", SHOP)


def of(rows: list[Saving], what: str) -> list[Saving]:
    return [s for s in rows if s.what == what]


def test_nothing_to_save_where_one_sheet_is_needed_anyway(bare: Derived) -> None:
    assert [s for s in found(bare, oblong("a", 1.0, 1.0)) if s.what != "size"] == []


def test_a_panel_in_two(bare: Derived) -> None:
    # 1.6 x 1.2 leaves 0.82 x 1.2 beside it, where both halves of 1.3 x 0.6 go one over the other (1.203 of
    # 1.208); of 1.3 x 0.9 one half does
    rows = of(found(bare, oblong("a", 1.6, 1.2), oblong("b", 1.3, 0.6)), "two")
    assert [(s.name, s.sheets, s.saved, s.change) for s in rows] == [("b", 1, Decimal(84), None)]
    assert of(found(bare, oblong("a", 1.6, 1.2), oblong("b", 1.3, 0.9)), "two") == []


def test_grain_that_may_run_across(bare: Derived) -> None:
    # beside 1.6 there are 0.82 left: 1.2 x 0.7 goes in upright only
    rows = of(found(bare, oblong("a", 1.6, 1.2), oblong("b", 1.2, 0.7)), "grain")
    assert [(s.sheets, s.saved, s.change) for s in rows] == [(1, Decimal(84), None)]
    turned = found(bare, oblong("a", 1.6, 1.2), oblong("b", 1.2, 0.7, (0, 90, 180, 270)))
    assert of(turned, "grain") == []


def test_a_narrower_saw_cut(bare: Derived) -> None:
    # 2 x 0.603 and a kerf: 1.209 with 3 mm, of 1.208; with 1.5 mm 1.2075
    rows = of(found(bare, oblong("a", 2.4, 0.603), oblong("b", 2.4, 0.603)), "kerf")
    assert [(s.sheets, s.change) for s in rows] == [(1, SetValue(path=("cutting", "kerf"), value=0.0015))]
    assert of(found(bare, oblong("a", 2.4, 0.6035), oblong("b", 2.4, 0.6035)), "kerf") == []


def test_outlines_instead_of_straight_cuts(bare: Derived) -> None:
    # two triangles share a rectangle along their slopes; as boxes they do not
    slope = ((0.0, 0.0), (2.4, 0.0), (0.0, 1.1))
    blanks = (Blank("a", "a", slope), Blank("b", "b", slope))
    rows = of(found(bare, *blanks, straight=True), "free")
    assert [(s.sheets, s.change) for s in rows] == [
        (1, SetValue(path=("cutting", "straight"), value=False))
    ]
    assert of(found(bare, *blanks), "free") == []


def test_a_sheet_of_another_size_that_is_cheaper_in_all(bare: Derived) -> None:
    stock, longer = SHOP.sheet("al-2.5"), [
        e for e in SHOP.entries.values()
        if getattr(e, "material", "") == SHOP.sheet("al-2.5").material and e.id != "al-2.5"
        and abs(getattr(e, "thickness", 9) - SHOP.sheet("al-2.5").thickness) < 1e-4
    ]  # fmt: skip
    assert longer  # the catalogue has it in two lengths
    # two of 1.4 m go on 3.05 m and not on 2.44
    blanks = (oblong("a", 1.4, 1.1), oblong("b", 1.4, 1.1))
    job = SheetJob(stock.id, stock.width, stock.height, blanks, Decimal(172))
    rows = of(savings(with_sheets(bare, lay_out(job)), stock.id, SHOP), "size")
    assert rows and rows[0].sheets == 1 and rows[0].saved > 0


def test_what_comes_from_the_rack_saves_nothing_more(bare: Derived) -> None:
    assert found(bare, oblong("a", 1.0, 1.0), rests=(RestSheet("r", 1.2, 1.2),)) == []
    assert savings(bare, "ply-12", SHOP) == []


@pytest.mark.slow
def test_an_edge_further_in_saves_a_sheet_and_the_smallest_step_is_told() -> None:
    """The skin of the deck of the box hull is 0.9925 along and 1.985 across; a leftover of 0.965 and two
    margins of 6 mm takes it 27.5 mm shorter: of 20, 40, 60 and 100 mm the second is the first that does."""
    whole = plan(fittings=[DECK])
    rest = {"id": "r", "stock": "al-2.5", "width": 0.977, "height": 2.1, "count": 1}
    racked = apply(whole, SetValue(path=("cutting", "sheets"), value=[rest]))
    now = derive(racked)
    # the face, 1.985 x 0.39, does not go beside the skin: two sheets
    assert now.sheets[0].bought == 2 and not any(now.sheets[0].on)
    rows = of(savings(now, "al-2.5", SHOP), "edge")
    assert {(s.name, s.by_m, s.sheets) for s in rows} == {
        ("aft edge of Deck", 0.04, 1), ("fore edge of Deck", 0.04, 1),
    }  # fmt: skip
    for row in rows:
        assert row.change is not None
        after = derive(apply(racked, row.change))
        assert after.sheets[0].bought == 1
    # and where the leftover is 50 mm smaller, no step is enough that is tried
    small = apply(racked, SetValue(path=("cutting", "sheets", "r", "width"), value=0.87))
    assert of(savings(derive(small), "al-2.5", SHOP), "edge") == []


def test_a_roll_of_the_same_material_is_offered_by_its_length() -> None:
    derived = derive(plan(fittings=[DECK]))
    layout, stock = derived.sheets[0], derived.catalogue.sheet(derived.sheets[0].job.stock)
    roll = Sheet.model_validate({
        "id": "roll", "name": "off a roll", "material": stock.material, "thickness": stock.thickness,
        "width": 12.0, "height": 1.22, "roll": True, "packs": (Pack(quantity=1, price=Decimal("10.00")),),
    })  # fmt: skip
    found = [s for s in savings(derived, stock.id, starting().over((roll,))) if s.name == "off a roll"]
    assert len(found) == 1 and found[0].by_m > 0.5
    # ten a metre against what the sheets cost
    assert found[0].saved == layout.cost - Decimal(10) * Decimal(f"{found[0].by_m:g}")
