"""Stock off a roll: as much is cut off as the parts take, in tenths of a metre, and paid by the metre."""

from __future__ import annotations

import math
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.cutting.sheets import Blank, RestSheet, SheetJob, faults, lay_out
from stirrup.core.derive import derive
from stirrup.core.fit.cut_up import sheet_cut
from stirrup.core.money.more import bought_of
from stirrup.core.parts.entries import Pack, Sheet
from stirrup.core.plan.changes import apply, invert
from stirrup.exchange.buildfile import dump, parse
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, plan


def rectangle(key: str, wide: float, high: float) -> Blank:
    return Blank(key, key, ((0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high)))


def job(*blanks: Blank, rests: tuple[RestSheet, ...] = (), longest: float = 15.0) -> SheetJob:
    return SheetJob("liner", longest, 1.5, blanks, Decimal("40.00"), 0.003, 0.006, rests, roll=True)


def test_one_part_takes_its_length_and_the_margins_in_steps() -> None:
    # 2.00 + 2 x 0.006 = 2.012: 2.1 m at 40.00
    layout = lay_out(job(rectangle("a", 2.0, 1.4)))
    assert (layout.lengths, layout.amount, layout.cost) == ((2.1,), 2.1, Decimal("84.00"))
    assert (layout.size(0), faults(layout)) == ((2.1, 1.5), [])
    assert layout.utilisation == pytest.approx(2.0 * 1.4 / (2.1 * 1.5))


def test_parts_lie_beside_one_another_where_that_is_shorter() -> None:
    # two strips of 0.7 beside one another: 2 x 0.7 + 0.003 + 0.012 = 1.415 of 1.5
    layout = lay_out(job(rectangle("a", 3.0, 0.7), rectangle("b", 3.0, 0.7)))
    assert layout.amount == 3.1
    # three need a second length: 3.0 + 3.0 + 0.003 + 0.012, in one piece or two of 3.1
    layout = lay_out(job(*(rectangle(k, 3.0, 0.7) for k in "abc")))
    assert layout.amount in (6.1, 6.2) and faults(layout) == []


def test_what_is_longer_than_the_longest_piece_is_told() -> None:
    assert lay_out(job(rectangle("a", 3.0, 1.0), longest=2.5)).unplaced == ("a",)


def test_a_leftover_comes_first() -> None:
    layout = lay_out(job(rectangle("a", 1.0, 1.0), rests=(RestSheet("r", 1.2, 1.2),)))
    assert (layout.on, layout.amount, layout.cost) == (("r",), 0.0, Decimal(0))


def test_shelves_are_counted_the_same_way() -> None:
    quick = lay_out(job(rectangle("a", 2.0, 1.4)), quick=True)
    assert quick.amount == 2.1


@given(st.lists(st.tuples(st.integers(10, 250), st.integers(10, 140)), min_size=1, max_size=7))
def test_a_roll_is_never_shorter_than_its_parts_need(sizes: list[tuple[int, int]]) -> None:
    blanks = [rectangle(f"p{k}", w / 100, h / 100) for k, (w, h) in enumerate(sizes)]
    layout = lay_out(job(*blanks))
    assert faults(layout) == [] and not layout.unplaced
    area = sum(w * h for w, h in sizes) / 10_000
    longest = max(w for w, _ in sizes) / 100
    assert layout.amount >= max(area / 1.5, longest) - 1e-9
    # all in a row is always possible
    assert layout.amount <= sum(math.ceil((w / 100 + 0.012) * 10 - 1e-6) / 10 for w, _ in sizes) + 1e-9
    assert layout.cost == Decimal("40.00") * Decimal(f"{layout.amount:g}")


ROLL = Sheet.model_validate({
    "id": "liner-roll", "name": "liner off a roll", "material": "ply-light", "thickness": 0.012,
    "width": 15.0, "height": 1.3, "roll": True, "packs": (Pack(quantity=0.1, price=Decimal("4.10")),),
})  # fmt: skip


def test_a_roll_is_counted_in_metres_whatever_is_typed() -> None:
    assert ROLL.unit == "m"
    assert Sheet.model_validate({**ROLL.model_dump(), "roll": False}).unit == "sheet"


def test_a_deck_off_a_roll_is_bought_by_the_metre_and_cut_up() -> None:
    catalogue = starting().over((ROLL,))
    boat = plan(fittings=[{**DECK, "skin": "liner-roll", "top": "liner-roll"}]) if "top" in DECK else plan(
        fittings=[{**DECK, "skin": "liner-roll"}]
    )  # fmt: skip
    before = derive(boat, catalogue)
    layout = next(x for x in before.sheets if x.job.stock == "liner-roll")
    line = next(x for x in before.cost.lines if x.item.id == "liner-roll")
    assert line.need.quantity == pytest.approx(layout.amount)
    # packs of 0.1 m at 4.10
    assert line.cost == Decimal("4.10") * round(layout.amount * 10)
    assert "liner-roll" not in bought_of(before.sheets, before.sticks)
    # a metre of it costs 41.00
    assert layout.cost == Decimal("41.00") * Decimal(f"{layout.amount:g}")
    change = sheet_cut(boat, before.built, layout, 0)
    after_plan = apply(boat, change)
    assert after_plan.cutting.opened == {"liner-roll": layout.lengths[0]}
    after = derive(after_plan, catalogue)
    need = next(x.need.quantity for x in after.cost.lines if x.item.id == "liner-roll")
    assert need <= layout.amount + 1e-9
    assert parse(dump(after_plan)) == after_plan and apply(after_plan, invert(boat, change)) == boat
