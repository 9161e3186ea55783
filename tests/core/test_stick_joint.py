"""A member in two that saves a stick: by hand on sticks of 6 m without a saw's cut."""

from decimal import Decimal

import pytest

from stirrup.core.cutting.stick_joint import joints
from stirrup.core.cutting.sticks import Piece, StickJob, StickLayout, lay_out_sticks


def layout(*lengths: float, **more) -> StickLayout:
    pieces = tuple(Piece(f"p{k}", v) for k, v in enumerate(lengths))
    return lay_out_sticks(StickJob("angle", 6.0, pieces, Decimal(39), **{"kerf": 0.0, "trim": 0.0, **more}))


def test_what_three_sticks_leave_takes_the_fourth_in_two() -> None:
    """Three of 5 m leave 1 m each; one of 1.6 m goes on none of them: 0.6 m are missing. In two of 0.8 m it
    goes on two of them."""
    now = layout(5.0, 5.0, 5.0, 1.6)
    assert now.bought == 4
    first = joints(now)[0]
    assert (first.piece, first.sticks, first.saved) == ("p3", 3, Decimal(39))
    assert first.at == pytest.approx(0.8) and first.missing == pytest.approx(0.6)


def test_a_saw_cut_more_than_there_is_room_for_saves_nothing() -> None:
    """Two parts of 1 m need 1 m and a saw's cut each."""
    assert joints(layout(5.0, 5.0, 2.0))[0].sticks == 2
    assert joints(layout(5.0, 5.0, 2.0, kerf=0.003)) == []
    # 1.994 m: 997 mm to either side of the joint
    (found, *_) = joints(layout(5.0, 5.0, 1.994, kerf=0.003))
    assert found.at == pytest.approx(0.997)


def test_an_uneven_joint_where_the_leftovers_are_uneven() -> None:
    """5.2 and 4.4 leave 0.8 and 1.6; 2.4 m goes in two of just these."""
    found = next(j for j in joints(layout(5.2, 4.4, 2.4)) if j.piece == "p2")
    assert sorted((found.at, 2.4 - found.at)) == pytest.approx([0.8, 1.6])


def test_nothing_is_said_where_nothing_is_saved() -> None:
    assert joints(layout(5.0, 3.0)) == []  # 4 m are missing
    assert joints(layout(5.0)) == []
    # a part shorter than a splice needs is no part
    assert joints(layout(5.9, 5.9, 0.2)) == []
    # trim at both ends of each: 10 mm less to either part
    assert joints(layout(4.99, 4.99, 2.0, trim=0.005))[0].at == pytest.approx(1.0)
    assert joints(layout(4.991, 4.991, 2.0, trim=0.005)) == []
