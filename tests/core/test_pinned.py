"""Parts that stay where they were put on a sheet: rectangles by hand, anything by exact geometry."""

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import box, union_all

from stirrup.core.cutting.jobs import work_out
from stirrup.core.cutting.pinned import Pin, left_around, lying, standing
from stirrup.core.cutting.sheets import Blank, Placement, RestSheet, SheetJob, faults, lay_out, placed
from stirrup.core.derive import derive as core_derive
from stirrup.core.errors import CoreError
from stirrup.core.fit.pinning import let_go, looked_closer, pinned, pinned_sheets, sheet_kept, stale
from stirrup.core.plan.changes import apply
from stirrup.core.plan.cutting import Closer
from stirrup.core.units import Units
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, HATCH, derive, skiff_plan

pytestmark = pytest.mark.usefixtures("searched_long")

MM = Units("mm")


def blank(name: str, w: float, h: float, turns: tuple[int, ...] = (0, 90, 180, 270)) -> Blank:
    return Blank(name, name, ((0, 0), (w, 0), (w, h), (0, h)), (), turns)


def job(*blanks: Blank, **more: Any) -> SheetJob:
    return SheetJob("ply-12", 2.44, 1.22, blanks, **{"kerf": 0.003, "margin": 0.006, **more})


def where(layout: Any, name: str) -> tuple[int, Placement]:
    return next((k, p) for k, sheet in enumerate(layout.sheets) for p in sheet if p.blank == name)


def test_it_stays_to_the_last_digit_and_the_rest_lies_around_it() -> None:
    pin = Pin("a", 1, 90, 1.7, 0.4)
    others = (blank(f"b{k}", 0.6, 0.5) for k in range(5))
    layout = lay_out(job(blank("a", 0.5, 0.3), *others, pins=(pin,)))
    number, put = where(layout, "a")
    assert (number, put) == (0, Placement("a", 90, 1.7, 0.4))
    assert faults(layout) == [] and layout.unplaced == ()
    assert len(layout.sheets) == 1


def test_what_was_laid_out_and_is_kept_as_it_is_costs_no_more() -> None:
    """Four halves of a sheet and a strip, as tight as they go: kept, nothing moves."""
    blanks = [blank(f"q{k}", 1.2, 0.6, (0,)) for k in range(4)]
    before = lay_out(job(*blanks))
    assert len(before.sheets) == 1
    pins = tuple(Pin(p.blank, 1, p.rotation, p.x, p.y) for p in before.sheets[0][:3])
    after = lay_out(job(*blanks, pins=pins))
    assert len(after.sheets) == 1 and faults(after) == []
    for pin in pins:
        assert where(after, pin.part)[1] == Placement(pin.part, pin.rotation, pin.x, pin.y)


def test_in_the_way_it_costs_a_sheet_and_says_so_by_the_count() -> None:
    """Two of 1.2 x 1.2 fill a sheet; a small one kept in the middle leaves room for none on its sheet."""
    blanks = [blank("l", 1.2, 1.2), blank("r", 1.2, 1.2), blank("s", 0.1, 0.1)]
    assert len(lay_out(job(*blanks[:2])).sheets) == 1
    layout = lay_out(job(*blanks, pins=(Pin("s", 1, 0, 1.17, 0.56),)))
    assert faults(layout) == [] and len(layout.sheets) == 2
    assert {p.blank for p in layout.sheets[0]} == {"s"}


def test_on_a_leftover_and_on_two_sheets() -> None:
    rest = RestSheet("r", 1.0, 0.5, 1)
    pins = (Pin("a", 1, 0, 0.1, 0.1, on="r"), Pin("b", 2, 0, 0.5, 0.5))
    layout = lay_out(job(*(blank(n, 0.3, 0.2) for n in "abcd"), rests=(rest,), pins=pins))
    assert layout.on[:2] == ("r", "") and faults(layout) == []
    assert where(layout, "a")[0] == 0 and where(layout, "b")[0] == 1
    # both are used anyhow: nothing else is bought
    assert layout.bought == 1
    assert pinned_sheets(layout) == (1, 2)


def test_pins_that_cannot_stay_are_left_out() -> None:
    shapes = {"a": box(0, 0, 0.5, 0.3), "b": box(0, 0, 0.5, 0.3)}
    stocks = {"": (box(0, 0, 2.44, 1.22), None), "r": (box(0, 0, 1, 1), 1)}

    def kept(*pins: Pin) -> list[str]:
        return [p.part for p in standing(pins, shapes, stocks, 0.006, 0.003)]

    assert kept(Pin("a", 1, 0, 0.1, 0.1), Pin("b", 1, 0, 0.604, 0.1)) == ["a", "b"]
    # 2 mm apart; over the edge by its margin; gone; of stock that is gone; two sheets of one leftover
    assert kept(Pin("a", 1, 0, 0.1, 0.1), Pin("b", 1, 0, 0.602, 0.1)) == ["a"]
    assert kept(Pin("a", 1, 0, 0.005, 0.1)) == []
    assert kept(Pin("c", 1, 0, 0.1, 0.1), Pin("a", 1, 0, 0.1, 0.1, on="x")) == []
    assert kept(Pin("a", 1, 0, 0.1, 0.1, on="r"), Pin("b", 2, 0, 0.1, 0.1, on="r")) == ["a"]
    assert kept(Pin("a", 1, 0, 0.1, 0.1), Pin("b", 1, 0, 0.1, 0.6, on="r")) == ["a"]


@settings(deadline=None)
@given(
    st.lists(st.tuples(st.floats(0.05, 0.9), st.floats(0.05, 0.9)), min_size=2, max_size=8),
    st.floats(0, 1), st.floats(0, 1), st.sampled_from((0, 90, 180, 270)),
    st.sampled_from((0.0, 0.003, 0.01)), st.sampled_from((0.0, 0.006)),
)  # fmt: skip
def test_whatever_is_kept_the_layout_can_be_cut(
    sizes: Any, u: float, v: float, turn: int, kerf: float, margin: float
) -> None:
    """By the check that knows nothing of how a layout was made."""
    blanks = [blank(f"p{k}", w, h) for k, (w, h) in enumerate(sizes)]
    x0, y0, x1, y1 = placed(blanks[0], Placement("p0", turn, 0.0, 0.0)).bounds
    x = margin - x0 + u * (2.44 - 2 * margin - (x1 - x0))
    y = margin - y0 + v * (1.22 - 2 * margin - (y1 - y0))
    layout = lay_out(job(*blanks, kerf=kerf, margin=margin, pins=(Pin("p0", 1, turn, x, y),)))
    assert faults(layout) == [] and layout.unplaced == ()
    assert where(layout, "p0")[1] == Placement("p0", turn, x, y)


def test_around_a_part_with_a_neck_its_whole_outline_is_kept() -> None:
    """Two plates joined by a tongue of 4 mm: grown by less than the margin the tongue would vanish."""
    plates = (box(0, 0, 0.2, 0.2), box(0.2, 0.098, 0.4, 0.102), box(0.4, 0, 0.6, 0.2))
    bone = union_all(plates)
    there = lying(bone, Pin("a", 1, 0, 0.5, 0.5))
    left = left_around(box(0, 0, 2.44, 1.22), [there], 0.006, 0.003)
    assert left.intersection(there).area < 1e-9


# ---- as a hand puts them


def laid() -> Any:
    derived = derive(skiff_plan(fittings=[DECK, HATCH]))
    return derived.plan, derived.sheets[0]


def test_a_part_put_a_little_over_the_edge_lies_at_it() -> None:
    there, layout = laid()
    put = layout.sheets[0][0]
    x0 = placed(next(b for b in layout.job.blanks if b.id == put.blank), put).bounds[0]
    change = pinned(there, layout, 0, replace(put, x=put.x - x0 - 0.01), MM)
    (pin,) = apply(there, change).cutting.pins
    assert pin.id == put.blank and pin.sheet == 1
    assert pin.x == pytest.approx(put.x - x0 + layout.job.margin)


def test_why_it_cannot_lie_there() -> None:
    there, layout = laid()
    put = layout.sheets[0][0]
    for wrong, said in (
        (replace(put, x=put.x - 1.0), "over the edge"),
        (replace(put, rotation=45), "accepted: 0°"),
        (replace(put, flipped=True), "good face"),
        (replace(put, blank="gone"), "not there any more"),
    ):
        with pytest.raises(CoreError, match=said):
            pinned(there, layout, 0, wrong, MM)
    with pytest.raises(CoreError, match="straight cuts"):
        pinned(there, replace(layout, job=replace(layout.job, straight=True)), 0, put, MM)


def test_a_sheet_kept_and_let_go_again() -> None:
    there, layout = laid()
    kept = apply(there, sheet_kept(there, layout, 0))
    assert {p.id for p in kept.cutting.pins} == {p.blank for p in layout.sheets[0]}
    again = derive(kept).sheets[0]
    assert set(again.sheets[0]) == set(layout.sheets[0]) and stale(kept, again) == []
    # the smallest put on the corner of the largest
    by = {b.id: b for b in layout.job.blanks}
    small, *_, large = sorted(layout.sheets[0], key=lambda p: by[p.blank].polygon.area)
    a, b = (placed(by[p.blank], p).bounds for p in (small, large))
    with pytest.raises(CoreError, match="which is kept there"):
        pinned(kept, again, 0, replace(small, x=small.x + b[0] - a[0], y=small.y + b[1] - a[1]), MM)
    gone = let_go(kept, [p.blank for p in layout.sheets[0]])
    assert gone is not None and apply(kept, gone).cutting.pins == () and let_go(there, ["deck"]) is None


def test_a_part_that_grew_over_the_edge_is_laid_anew_and_its_pin_told_as_stale() -> None:
    there, layout = laid()
    kept = apply(there, sheet_kept(there, layout, 0))
    wider = derive(
        kept.model_copy(update={"fittings": (kept.fittings[0].model_copy(update={"aft": 2.5}),)})
    )
    assert faults(wider.sheets[0]) == []
    held = {p.part for p in wider.sheets[0].job.stays}
    gone = stale(wider.plan, wider.sheets[0])
    assert gone and held.isdisjoint(gone) and held | set(gone) == {p.id for p in kept.cutting.pins}


def test_a_closer_layout_is_looked_for_only_where_there_may_be_one() -> None:
    """Two parts that each need a sheet, though their area would go on one: it may be looked for, twice. One
    sheet is the least there is."""
    there, _ = laid()
    two = lay_out(job(blank("a", 1.3, 0.7, (0,)), blank("b", 1.3, 0.7, (0,))))
    assert two.bought == 2
    once = looked_closer(there, two)
    assert once is not None
    longer = apply(there, once)
    assert [(c.id, c.work) for c in longer.cutting.closer] == [("ply-12", 1000)]
    twice = looked_closer(longer, two)
    assert twice is not None
    assert looked_closer(apply(longer, twice), two) is None
    assert looked_closer(there, lay_out(job(blank("a", 1.3, 0.7)))) is None


def test_while_a_closer_layout_is_looked_for_the_usual_one_stands_and_is_asked_for_again() -> None:
    there, layout = laid()
    longer = there.model_copy(
        update={"cutting": there.cutting.model_copy(update={"closer": (Closer(id=layout.job.stock),)})}
    )

    def usual(asked: Any) -> Any:
        return None if getattr(asked, "work", 0) == 1000 else work_out(asked)

    derived = core_derive(longer, starting(), layouts=usual)
    (now,) = [s for s in derived.sheets if s.job.stock == layout.job.stock]
    assert now.more and now.settled and now.sheets == layout.sheets and now.job.work == 1000
    assert now.job in derived.pending and derived.cost.settled
    # once it is there, nothing is asked for
    done = core_derive(longer, starting(), layouts=work_out)
    assert not any(getattr(s, "more", False) for s in done.sheets) and done.pending == ()
