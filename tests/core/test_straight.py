"""Edge-to-edge cuts: shelves, columns, and what takes them apart."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.cutting.cut_job import CutJob, Stock
from stirrup.core.cutting.nest.stages import cuts_of, stages_of
from stirrup.core.cutting.nest.straight import rectangle_of
from tests.cutting import depth, parts, rectangle, searched, sheet, wrong

WHOLE = (0.0, 0.0, 2.0, 1.0)


def test_a_box_as_large_as_the_sheet_needs_no_cut() -> None:
    assert cuts_of([WHOLE], WHOLE, 0.0) == ()


def test_one_strip_is_one_cut_and_one_stage() -> None:
    (cut,) = cuts_of([(0.0, 0.0, 2.0, 0.4)], WHOLE, 0.003) or ()
    assert (cut.stage, cut.across, cut.at, cut.start, cut.end, cut.fence, cut.trims) == (
        1, 1, 0.4, 0.0, 2.0, 0.4, False,
    )  # fmt: skip


def test_a_corner_is_two_stages_and_a_margin_makes_trims() -> None:
    assert stages_of([(0.0, 0.0, 0.5, 0.4)], WHOLE) == 2
    cuts = cuts_of([(0.006, 0.006, 0.506, 0.406)], WHOLE, 0.003) or ()
    assert [(c.stage, c.trims, round(c.fence, 6)) for c in cuts] == [
        (1, True, 0.006), (1, False, 0.5), (2, True, 0.006), (2, False, 0.4),
    ]  # fmt: skip


def test_one_cut_parts_what_is_a_kerf_apart() -> None:
    # two of 0.9985 in 2.0 with a kerf of 3 mm: one cut, and nothing is left at the far end
    boxes = [(0.0, 0.0, 0.9985, 1.0), (1.0015, 0.0, 2.0, 1.0)]
    assert [(c.at, c.fence) for c in cuts_of(boxes, WHOLE, 0.003) or ()] == [(0.9985, 0.9985)]
    # 4 mm apart there is a sliver to trim off as well
    assert len(cuts_of([boxes[0], (1.0025, 0.0, 2.0, 1.0)], WHOLE, 0.003) or ()) == 2


def test_a_pinwheel_cannot_be_cut_straight() -> None:
    # four round a hole in the middle
    boxes = [(0.0, 0.0, 0.6, 0.4), (0.6, 0.0, 1.0, 0.6), (0.4, 0.6, 1.0, 1.0), (0.0, 0.4, 0.4, 1.0)]
    assert cuts_of(boxes, (0.0, 0.0, 1.0, 1.0), 0.0) is None
    assert depth(boxes, (0.0, 0.0, 1.0, 1.0)) == float("inf")


def test_shelves_of_columns_take_three_stages_and_a_narrower_one_over_another_four() -> None:
    shelf = [(0.0, 0.0, 0.5, 0.4), (0.5, 0.0, 1.2, 0.3), (0.0, 0.4, 0.7, 1.0)]
    assert stages_of(shelf, WHOLE) == 3
    over = [(0.0, 0.0, 0.5, 0.4), (0.5, 0.0, 1.2, 0.3), (0.5, 0.3, 1.1, 0.38), (0.0, 0.4, 0.7, 1.0)]
    assert stages_of(over, WHOLE) == 4


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.floats(0, 1), st.floats(0.2, 0.8)), min_size=1, max_size=6), st.integers(0, 1))
def test_what_was_cut_apart_can_be_cut_apart(steps, across: int) -> None:
    """A sheet cut here and there, never more than seven times: each piece is freed, in no more stages than
    there were cuts."""
    boxes = [WHOLE]
    for k, (which, share) in enumerate(steps):
        x0, y0, x1, y1 = boxes.pop(min(int(which * len(boxes)), len(boxes) - 1))
        if (k + across) % 2:
            boxes += [(x0, y0, x0 + share * (x1 - x0), y1), (x0 + share * (x1 - x0), y0, x1, y1)]
        else:
            boxes += [(x0, y0, x1, y0 + share * (y1 - y0)), (x0, y0 + share * (y1 - y0), x1, y1)]
    stages = stages_of(boxes, WHOLE)
    assert stages is not None and stages <= len(steps)
    assert stages == depth(boxes, WHOLE)
    assert len(cuts_of(boxes, WHOLE, 0.0) or ()) <= 2 * len(steps)


@pytest.mark.parametrize(("stages", "sheets"), [(2, 2), (3, 1)])
def test_two_stages_leave_no_trim(stages: int, sheets: int) -> None:
    # a square of 1.0, beside it 1.0 x 0.5 with 0.9 x 0.5 over it: across, along, the 0.9 trimmed. In two
    # stages three columns need 2.9 of the 2.1, and shelves of 1.0 and 0.5 need 1.5 of the 1.2
    cut = parts(rectangle(1.0, 1.0), rectangle(1.0, 0.5), rectangle(0.9, 0.5), rotations=(0.0,))
    board = sheet(2.1, 1.2, 1.0)
    task = CutJob("", (board,), cut, kerf=0.0, margin=0.0, straight=True, stages=stages)
    layout = searched(task)
    assert (len(layout.bins), wrong(layout)) == (sheets, [])


def test_straight_cuts_never_cost_less_than_free_ones_and_a_pinwheel_more() -> None:
    # 2 x (0.6 x 0.4), 2 x (0.4 x 0.6) round a hole in 1 x 1: free they share a sheet, cut straight they do
    # not
    cut = parts(*[rectangle(0.6, 0.4), rectangle(0.4, 0.6)] * 2, rotations=(0.0,))
    board = sheet(1.0, 1.0, 10.0)
    free = searched(CutJob("", (board,), cut, kerf=0.0, margin=0.0), 200)
    straight = searched(CutJob("", (board,), cut, kerf=0.0, margin=0.0, straight=True), 50)
    assert (free.cost, straight.cost) == (10.0, 20.0) and wrong(free) == wrong(straight) == []


def test_of_an_offcut_the_largest_rectangle_is_used() -> None:
    # an L of 1.0 with arms of 0.4: 1.0 x 0.4, less 6 mm on each side
    rest = Stock("rack", ((0, 0), (1, 0), (1, 0.4), (0.4, 0.4), (0.4, 1), (0, 1)), count=1)
    task = CutJob("", (rest,), parts(rectangle(0.98, 0.38)), straight=True)
    x0, y0, x1, y1 = rectangle_of(task, rest) or (0, 0, 0, 0)
    sides = sorted((x1 - x0, y1 - y0))
    # to the grid of 5 mm, in which it is looked for
    assert 0.383 <= sides[0] <= 0.388 and 0.983 <= sides[1] <= 0.988
    assert searched(task).unplaced == ()
