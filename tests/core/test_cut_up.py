"""A sheet or a stick that is cut: by hand on rectangles, bars, and the deck of the box hull."""

from decimal import Decimal

import pytest

from stirrup.core.cutting.sheets import Blank, Placement, RestSheet, SheetJob, SheetLayout
from stirrup.core.derive import Derived
from stirrup.core.fit.cut_up import left_of_sheet, sheet_cut, stick_cut
from stirrup.core.plan.changes import RemoveThing, SetValue, apply, invert
from stirrup.core.plan.cutting import Cutting, CutUp
from stirrup.exchange.buildfile import dump, parse
from tests.boats import DECK, derive, plan

pytestmark = pytest.mark.usefixtures("searched_long")

WHOLE = plan(fittings=[DECK])


def needs(derived: Derived) -> dict[str, float]:
    """How much is needed of each thing that is bought."""
    return {line.item.id: line.need.quantity for line in derived.cost.lines}


def left(*boxes: tuple[float, float, float, float], rest: RestSheet | None = None):
    """What is left of a sheet of 2.44 x 1.22 with boxes on it, kerf 3 mm."""
    blanks, spots = [], []
    for k, (x0, y0, x1, y1) in enumerate(boxes):
        blanks.append(Blank(str(k), str(k), ((0, 0), (x1 - x0, 0), (x1 - x0, y1 - y0), (0, y1 - y0))))
        spots.append(Placement(str(k), 0, x0, y0))
    rests = (rest,) if rest else ()
    job = SheetJob("ply-12", 2.44, 1.22, tuple(blanks), Decimal(84), rests=rests)
    return left_of_sheet(SheetLayout(job, (tuple(spots),), on=(rest.id,) if rest else ()), 0)


def test_what_is_left_is_the_largest_rectangle_less_the_kerf_to_the_centimetre() -> None:
    # beside 1.0: 1.437 x 1.22, in a grid of 10 mm from the corner 1.43 x 1.22
    assert left((0.0, 0.0, 1.0, 1.22)) == pytest.approx((1.43, 1.22), abs=0.011)
    # over 0.5 and beside 1.0 an L is left: 2.44 x 0.717 is more than 1.437 x 1.22
    assert left((0.0, 0.0, 1.0, 0.5)) == pytest.approx((1.43, 1.22), abs=0.011)
    assert left((0.0, 0.0, 2.0, 0.5)) == pytest.approx((2.44, 0.71), abs=0.011)


def test_a_strip_and_a_scrap_are_not_kept() -> None:
    # 2.44 x 0.097; 0.2 x 0.2
    assert left((0.0, 0.0, 2.44, 1.12)) is None
    assert left((0.0, 0.0, 0.3, 0.42), (0.3, 0.0, 0.5, 0.22), rest=RestSheet("r", 0.5, 0.42)) is None


def test_a_sheet_that_is_cut_is_bought_once_and_its_parts_are_not_laid_again() -> None:
    before = derive(WHOLE)
    layout = before.sheets[0]
    assert layout.bought == 2
    change = sheet_cut(WHOLE, before.built, layout, 0)
    after_plan = apply(WHOLE, change)
    after = derive(after_plan)
    keys = [p.blank for p in layout.sheets[0]]
    laid = [b.id for x in after.sheets for b in x.job.blanks]
    assert set(keys).isdisjoint(laid) and {c.id for c in after_plan.cut} == set(keys)
    # as many sheets are needed as before, less what the leftover saves; nothing costs more
    stock = layout.job.stock
    needed = needs(after)[stock]
    assert needed == 1 + sum(x.bought for x in after.sheets if x.job.stock == stock)
    assert after.cost.total <= before.cost.total
    assert [r.stock for r in after_plan.cutting.sheets] == [stock]
    assert apply(after_plan, invert(WHOLE, change)) == WHOLE
    assert parse(dump(after_plan)) == after_plan


def test_when_all_is_cut_everything_is_still_in_the_cost() -> None:
    now = WHOLE
    for _ in range(6):
        derived = derive(now)
        if derived.sheets:
            now = apply(now, sheet_cut(now, derived.built, derived.sheets[0], 0))
        elif derived.sticks:
            now = apply(now, stick_cut(now, derived.built, derived.sticks[0], 0))
    done = derive(now)
    assert not done.sheets and not done.sticks
    before, after = needs(derive(WHOLE)), needs(done)
    assert after.keys() == before.keys()
    assert all(before[item] >= quantity > 0 for item, quantity in after.items())


def test_a_part_that_was_cut_wrong_is_laid_again_when_its_tick_is_taken_back() -> None:
    before = derive(WHOLE)
    now = apply(WHOLE, sheet_cut(WHOLE, before.built, before.sheets[0], 0))
    key = before.sheets[0].sheets[0][0].blank
    again = apply(now, RemoveThing(path=("cut", key)))
    assert key in {b.id for x in derive(again).sheets for b in x.job.blanks}
    # the sheet that is spoilt stays bought
    stock = before.sheets[0].job.stock
    assert needs(derive(again))[stock] >= 2


def test_one_off_the_rack_leaves_the_rack() -> None:
    for count, left_there in ((1, 0), (3, 2)):
        rest = {"id": "r", "stock": "al-2.5", "width": 1.1, "height": 2.1, "count": count}
        racked = apply(WHOLE, SetValue(path=("cutting", "sheets"), value=[rest]))
        derived = derive(racked)
        layout = derived.sheets[0]
        number = layout.on.index("r")
        after = apply(racked, sheet_cut(racked, derived.built, layout, number))
        assert sum(r.count for r in after.cutting.sheets if r.id == "r") == left_there
        assert [d.own for d in after.cutting.done] == [True] and after.cutting.opened == {}


def test_what_is_left_of_a_stick_goes_on_the_rack() -> None:
    derived = derive(WHOLE)
    layout = next(x for x in derived.sticks if x.bars)
    change = stick_cut(WHOLE, derived.built, layout, 0)
    after = apply(WHOLE, change)
    lengths = {p.id: p.length for p in layout.job.pieces}
    # 5 mm off one end, a kerf of 3 mm behind each piece
    room = layout.job.length - 0.005 - sum(lengths[k] + 0.003 for k in layout.bars[0])
    rests = [r.length for r in after.cutting.sticks]
    assert rests == ([pytest.approx(room, abs=0.001)] if room >= 0.3 else [])


def test_only_what_is_noted_as_cut_needs_no_stock() -> None:
    cutting = Cutting(done=(CutUp(id="d", stock="s", parts=("a", "b")), CutUp(id="e", stock="s", own=True)))
    assert cutting.finished(["a", "c"]) == {"a"} and cutting.opened == {"s": 1}


def test_a_stock_that_nobody_knows_breaks_nothing_and_a_known_one_is_carried() -> None:
    done = [{"id": "d", "stock": "no-such", "parts": []}, {"id": "e", "stock": "ply-9", "parts": []}]
    odd = apply(WHOLE, SetValue(path=("cutting", "done"), value=done))
    assert "no-such" not in needs(derive(odd)) and needs(derive(odd))["ply-9"] == 1
    # the file means the same in a shop that does not have the entry
    assert "ply-9" in {e.id for e in parse(dump(odd)).catalogue.entries}
