"""What is on the rack is cut first, and is not bought: by hand on rectangles and bars."""

from decimal import Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from stirrup.core.cutting.sheets import (
    Blank,
    RestSheet,
    SheetJob,
    SheetLayout,
    faults,
    lay_out,
    straight_cuts,
)
from stirrup.core.cutting.sticks import Piece, RestStick, StickJob, lay_out_sticks, left_over_m
from stirrup.core.plan.changes import AddThing, SetValue, apply, invert
from stirrup.core.plan.cutting import Cutting, SheetRest, StickRest
from stirrup.core.plan.suggest import new_sheet_rest, new_stick_rest
from stirrup.exchange.buildfile import dump, parse
from tests.boats import DECK, derive, plan


def oblong(name: str, width: float, height: float) -> Blank:
    return Blank(name, name, ((0, 0), (width, 0), (width, height), (0, height)))


def sheets(*blanks: Blank, rests: tuple[RestSheet, ...] = (), **more) -> SheetJob:
    return SheetJob("ply-12", 2.44, 1.22, blanks, Decimal(84), rests=rests, **more)


@pytest.mark.parametrize("quick", [True, False])
def test_what_goes_on_a_leftover_buys_no_sheet(quick: bool) -> None:
    # 0.6 x 0.4 on 0.612 x 0.412, which the margin of 6 mm leaves exactly
    rest = RestSheet("r", 0.612, 0.412)
    layout = lay_out(sheets(oblong("a", 0.6, 0.4), rests=(rest,)), quick)
    assert (layout.bought, layout.cost, layout.on, layout.size(0)) == (0, 0, ("r",), (0.612, 0.412))
    assert faults(layout) == [] and layout.utilisation == pytest.approx(0.24 / (0.612 * 0.412))
    # a tenth of a millimetre less, and it goes on a sheet
    layout = lay_out(sheets(oblong("a", 0.6, 0.4), rests=(RestSheet("r", 0.6119, 0.412),)), quick)
    assert (layout.bought, layout.cost, layout.on) == (1, 84, ("",))


@pytest.mark.parametrize("quick", [True, False])
def test_as_many_as_there_are_of_it(quick: bool) -> None:
    blanks = [oblong(k, 2.0, 1.0) for k in "abc"]
    layout = lay_out(sheets(*blanks, rests=(RestSheet("r", 2.1, 1.1, 2),)), quick)
    assert (layout.bought, sorted(layout.on)) == (1, ["", "r", "r"]) and faults(layout) == []


@pytest.mark.parametrize("quick", [True, False])
def test_what_is_larger_than_a_sheet_may_go_on_a_leftover_that_is_larger_still(quick: bool) -> None:
    layout = lay_out(sheets(oblong("a", 3.0, 1.0), rests=(RestSheet("r", 3.05, 1.22),)), quick)
    assert (layout.unplaced, layout.bought) == ((), 0)
    assert lay_out(sheets(oblong("a", 3.0, 1.0)), quick).unplaced == ("a",)


@settings(max_examples=20, deadline=None)
@given(
    st.lists(st.tuples(st.integers(50, 1300), st.integers(50, 1000)), min_size=1, max_size=8),
    st.lists(st.tuples(st.integers(100, 2600), st.integers(100, 1300), st.integers(1, 2)), max_size=3),
    st.booleans(),
)
def test_every_layout_with_leftovers_can_be_cut(sizes, rests, straight: bool) -> None:
    blanks = [oblong(f"b{k}", w / 1000, h / 1000) for k, (w, h) in enumerate(sizes)]
    there = tuple(RestSheet(f"r{k}", w / 1000, h / 1000, n) for k, (w, h, n) in enumerate(rests))
    task = sheets(*blanks, rests=there, straight=straight)
    quick, full = lay_out(task, True), lay_out(task)
    for layout in (quick, full):
        assert faults(layout) == [] and len(layout.on) == len(layout.sheets)
        for rest in there:
            assert layout.on.count(rest.id) <= rest.count
    assert full.bought <= quick.bought


def test_straight_cuts_find_the_shelf_that_is_filled_from_the_highest_part() -> None:
    # two of 744 beside one another; over them 464 are left, where a shelf of 280 holds all the rest
    sizes = [(50, 50), (50, 126), (50, 179), (50, 280), (542, 227), (1073, 744), (1300, 744)]
    blanks = [oblong(str(k), w / 1000, h / 1000) for k, (w, h) in enumerate(sizes)]
    assert lay_out(sheets(*blanks, straight=True)).bought == 1


def test_straight_cuts_may_need_a_sheet_more() -> None:
    # a pinwheel of four round a hole: 0.6 x 0.4 and 0.4 x 0.6 in 1 x 1
    lying, upright = (0.6, 0.4), (0.4, 0.6)
    blanks = [oblong(k, *size) for k, size in zip("abcd", (lying, upright) * 2, strict=True)]
    for straight, needed in ((False, 1), (True, 2)):
        job = SheetJob("p", 1.0, 1.0, tuple(blanks), Decimal(1), 0.0, 0.0, straight=straight)
        assert len(lay_out(job).sheets) == needed


def test_the_order_of_straight_cuts_with_the_fence() -> None:
    # two of 1.0 x 0.5 beside one another on 2.44 x 1.22, edge 6 mm, kerf 3 mm
    job = sheets(oblong("a", 1.0, 0.5), oblong("b", 1.0, 0.5), straight=True)
    layout = lay_out(job)
    cuts = straight_cuts(layout, 0)
    freed = [round(c.fence, 6) for c, _ in cuts if not c.trims]
    trimmed = [round(c.fence, 6) for c, _ in cuts if c.trims]
    # a strip of 0.5 between two edges, or a column of 1.0 first; both parts of either are 1.0 x 0.5
    assert max(c.stage for c, _ in cuts) <= 3 and set(freed) == {0.5, 1.0} and set(trimmed) == {0.006}
    # the first piece that is kept has both or one of them on it, and each comes off by itself at last
    held = [h for c, h in cuts if not c.trims]
    assert sorted(held[0]) in (["a"], ["b"], ["a", "b"]) and {tuple(h) for h in held} >= {("a",), ("b",)}
    assert all(h == [] for c, h in cuts if c.trims)
    assert straight_cuts(lay_out(sheets(oblong("a", 1.0, 0.5))), 0) == ()
    assert straight_cuts(lay_out(job, True), 0) == ()


def test_a_fault_of_a_leftover_is_seen() -> None:
    task = sheets(oblong("a", 0.6, 0.4), rests=(RestSheet("r", 0.612, 0.412),))
    good = lay_out(task)
    moved = SheetLayout(task, ((type(good.sheets[0][0])("a", 0, 0.007, 0.006),),), on=("r",))
    assert faults(moved) == ["piece 1: a: over the margin"]


# ------------------------------------------------------------------ sticks


def sticks(*lengths: float, rests: tuple[RestStick, ...] = ()) -> StickJob:
    pieces = tuple(Piece(f"p{k}", v) for k, v in enumerate(lengths))
    return StickJob("angle", 6.1, pieces, Decimal(39), rests=rests)


@pytest.mark.parametrize("quick", [True, False])
def test_a_leftover_stick_is_cut_first(quick: bool) -> None:
    # 1.01 is 1.0 and two trims of 5 mm
    layout = lay_out_sticks(sticks(1.0, rests=(RestStick("r", 1.01),)), quick)
    assert (layout.bought, layout.on, layout.cost, layout.proven) == (0, ("r",), 0, True)
    assert left_over_m(layout, 0) == pytest.approx(1.01 - 0.005 - 1.0 - 0.003)
    assert lay_out_sticks(sticks(1.0, rests=(RestStick("r", 1.0099),)), quick).bought == 1


def test_first_fit_is_mended_where_it_wastes_a_leftover() -> None:
    # 2.0 in the first leftover leaves no room for the 3.0 there; the other takes the 2.0
    rests = (RestStick("long", 3.02), RestStick("short", 2.02))
    layout = lay_out_sticks(sticks(3.0, 2.0, rests=rests))
    assert (layout.bought, layout.proven) == (0, True)
    # the longest bar's worth is bought all the same where the leftovers are too short together
    layout = lay_out_sticks(sticks(3.0, 3.0, 2.0, rests=rests))
    assert (layout.bought, layout.bound, layout.proven) == (1, 1, True)


@settings(max_examples=30, deadline=None)
@given(
    st.lists(st.integers(200, 3000), min_size=1, max_size=9), st.lists(st.integers(300, 2500), max_size=3)
)
def test_leftovers_never_make_it_dearer(lengths, rests) -> None:
    there = tuple(RestStick(f"r{k}", v / 1000) for k, v in enumerate(rests))
    cut = [v / 1000 for v in lengths]
    layout, without = lay_out_sticks(sticks(*cut, rests=there)), lay_out_sticks(sticks(*cut))
    assert layout.bound <= layout.bought <= without.bought
    for k, bar in enumerate(layout.bars):
        total = sum(cut[int(i[1:])] for i in bar) + 0.003 * (len(bar) - 1)
        assert total <= layout.length(k) - 0.01 + 1e-9
    assert sorted(i for bar in layout.bars for i in bar) == sorted(f"p{k}" for k in range(len(cut)))


# ------------------------------------------------------------------ in the plan


def needed(which, stock: str) -> float:
    return sum(line.need.quantity for line in derive(which).cost.lines if line.item.id == stock)


def test_the_plan_buys_less_with_what_is_on_the_rack_and_undo_takes_it_back() -> None:
    bare = plan(fittings=[DECK])
    stock = derive(bare).sheets[0].job.stock
    more = AddThing(path=("cutting", "sheets"),
                    value={"id": "r", "stock": stock, "width": 3.0, "height": 2.0, "count": 5})  # fmt: skip
    racked = apply(bare, more)
    assert needed(bare, stock) >= 1 and needed(racked, stock) == 0
    assert derive(racked).cost.total < derive(bare).cost.total
    assert apply(racked, invert(bare, more)) == bare
    assert parse(dump(racked)) == racked


def test_a_wider_saw_cut_and_the_way_of_cutting_reach_the_layout() -> None:
    changed = apply(plan(fittings=[DECK]), SetValue(path=("cutting", "kerf"), value=0.006))
    changed = apply(changed, SetValue(path=("cutting", "straight"), value=True))
    job = derive(changed).sheets[0].job
    assert (job.kerf, job.straight) == (0.006, True)


def test_a_first_leftover_has_an_id_of_its_own() -> None:
    first = apply(plan(), new_sheet_rest(plan(), "ply-12"))
    second = apply(first, new_stick_rest(first, "angle-40x40x3"))
    assert [r.id for r in second.cutting.rests] == ["rest-1", "rest-2"]
    # what a plan names, it carries
    assert parse(dump(second)).catalogue.entries


def test_an_id_stands_once_on_the_rack() -> None:
    rest = SheetRest(id="r", stock="ply-12", width=1.0, height=1.0)
    twice = Cutting(sheets=(rest,), sticks=(StickRest(id="r", stock="angle-40x40x3", length=1.0),))
    with pytest.raises(ValidationError, match=r"cutting\.sticks\[0\]\.id: “r” is used twice"):
        plan().model_validate({**plan().model_dump(), "cutting": twice.model_dump()})


def test_of_a_rack_full_of_leftovers_the_kind_that_fits_is_used() -> None:
    # a hundred kinds, fifty of each: too small for anything but the last kind, which takes all
    kinds = (*(RestSheet(f"r{k}", 0.2, 0.2, 50) for k in range(99)), RestSheet("fits", 1.1, 0.6, 50))
    blanks = [oblong(str(k), 1.0, 0.5) for k in range(40)]
    short = (*(RestStick(f"r{k}", 0.3, 50) for k in range(99)), RestStick("fits", 1.2, 50))
    for quick in (True, False):
        layout = lay_out(sheets(*blanks, rests=kinds), quick)
        assert (layout.bought, set(layout.on)) == (0, {"fits"}) and faults(layout) == []
        bars = lay_out_sticks(sticks(*[1.1] * 40, rests=short), quick)
        assert (bars.bought, set(bars.on), bars.proven) == (0, {"fits"}, True)
