"""Marks of a deck and a hatch in a skiff with known sides."""

import math

import pytest

from stirrup.core.errors import CoreError
from stirrup.core.marking import marking
from tests.boats import DECK, HATCH, derive, skiff_plan

DERIVED = derive(skiff_plan(fittings=[DECK, HATCH]))


def test_corners_stand_where_the_edges_are_and_mirror_one_another() -> None:
    deck = marking(DERIVED)[0]
    aft_port, aft_other, fore_port, _ = deck.marks
    assert (deck.code, deck.name) == ("D1", "Deck")
    assert aft_port.at[0] == pytest.approx(3.0)
    assert fore_port.at[0] == pytest.approx(4.5)
    assert aft_port.at[2] == pytest.approx(0.4)
    assert aft_other.at[1] == pytest.approx(-aft_port.at[1])
    # half-width of the hull 0.4 m up at x = 3: between chine 0.75 and sheer 0.95, two thirds up
    inside = 0.75 + 0.2 * 0.4 / 0.6
    assert inside - 0.03 < aft_port.at[1] < inside


def test_offset_marks_stand_off_the_edges_and_within_the_boat() -> None:
    deck = marking(DERIVED, offset_m=0.15)[0]
    assert [m.offset[0] for m in deck.marks] == pytest.approx([2.85, 2.85, 4.65, 4.65])
    assert [m.offset[1] for m in deck.marks] == [m.at[1] for m in deck.marks]
    aft = derive(skiff_plan(fittings=[{**DECK, "aft": 0.05, "fore": 0.9}]))
    # 150 mm behind the aft edge is outside of the transom: the mark goes to the other side
    assert marking(aft, offset_m=0.15)[0].marks[0].offset[0] == pytest.approx(0.05 + 0.15, abs=0.01)


def test_diagonals_are_equal_and_by_pythagoras() -> None:
    deck, hatch = marking(DERIVED)[:2]
    [diagonal] = deck.diagonals
    a, _, _, d = deck.marks
    expected = math.hypot(d.at[0] - a.at[0], d.at[1] - a.at[1])
    assert diagonal.first == pytest.approx(expected)
    assert diagonal.second == pytest.approx(diagonal.first, abs=2e-4)
    [square] = hatch.diagonals
    (x0, y1, _), (_, y0, _), (x1, _, _), _ = (m.at for m in hatch.marks)
    assert square.first == pytest.approx(math.hypot(x1 - x0, y1 - y0))
    # clear opening 0.4 x 0.3 m about (3.6, 0), and the landing round it
    assert (x0 + x1) / 2 == pytest.approx(3.6, abs=1e-6)
    assert x1 - x0 > 0.4
    assert y1 - y0 > 0.3


def test_ordinates_fall_on_whole_pitches_and_follow_the_side() -> None:
    deck = marking(DERIVED, pitch_m=0.25)[0]
    assert [o.x for o in deck.ordinates] == pytest.approx([3.0, 3.25, 3.5, 3.75, 4.0, 4.25, 4.5])
    widths = [o.port for o in deck.ordinates]
    assert widths == sorted(widths, reverse=True)  # type: ignore[type-var]
    for o in deck.ordinates:
        assert o.port == pytest.approx(o.starboard, abs=5e-4)


def test_a_boat_without_decks_has_nothing_to_mark() -> None:
    assert marking(derive(skiff_plan())) == ()


@pytest.mark.parametrize(("pitch", "offset", "place"), [(0.001, 0.1, "pitch"), (0.2, 5.0, "offset"),
                                                        (float("nan"), 0.1, "pitch")])  # fmt: skip
def test_pitch_and_offset_have_limits(pitch: float, offset: float, place: str) -> None:
    with pytest.raises(CoreError) as error:
        marking(DERIVED, pitch, offset)
    assert error.value.place == place
