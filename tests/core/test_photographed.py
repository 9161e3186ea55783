"""Structure from a photo: what a pinhole sees of a plane, taken back to the plane."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.errors import CoreError
from stirrup.core.plan.photographed import Taped, box_of, grid, unsure_m
from stirrup.core.space.projective import projective
from stirrup.core.units import Units

MM = Units("mm")


def pinhole(point: tuple[float, float], tilt: float, up: float, pan: float = 0.0) -> tuple[float, float]:
    """Where a point of the floor is on a photo: a camera `up` over it looks forward and down by `tilt`,
    turned by `pan`, its focal length 0.8 of the photo's width. Worked by hand: along its axis lies
    x cos(tilt) + up sin(tilt), across it y, down x sin(tilt) - up cos(tilt), turned over."""
    x, y = point
    x, y = x * math.cos(pan) + y * math.sin(pan), -x * math.sin(pan) + y * math.cos(pan)
    far = x * math.cos(tilt) + up * math.sin(tilt)
    down = up * math.cos(tilt) - x * math.sin(tilt)
    return 0.5 - 0.8 * y / far, 0.5 + 0.8 * down / far


CORNERS = ((1.0, -0.5), (3.0, -0.5), (3.0, 0.7), (1.0, 0.7))


def taped(tilt: float = 0.7, up: float = 1.6, pan: float = 0.0) -> Taped:
    marks = tuple(pinhole(c, tilt, up, pan) for c in CORNERS)
    return Taped("from above", (1.0, 3.0), (-0.5, 0.7), marks)  # type: ignore[arg-type]


def test_straight_from_above_it_is_a_scale() -> None:
    """A photo 4 m wide and 3 m high, her bow to the right and port up."""
    to = Taped("from above", (0.0, 2.0), (-1.0, 1.0),
               ((0.25, 5 / 6), (0.75, 5 / 6), (0.75, 1 / 6), (0.25, 1 / 6))).map()  # fmt: skip
    assert to.at(0.5, 0.5) == pytest.approx((1.0, 0.0))
    assert to.at(1.0, 0.0) == pytest.approx((3.0, 1.5))


@given(
    st.floats(0.4, 1.4),
    st.floats(0.8, 2.5),
    st.floats(-0.4, 0.4),
    st.floats(0.8, 3.5),
    st.floats(-0.8, 0.9),
)
def test_what_a_pinhole_sees_comes_back(tilt: float, up: float, pan: float, x: float, y: float) -> None:
    to = taped(tilt, up, pan).map()
    assert to.at(*pinhole((x, y), tilt, up, pan)) == pytest.approx((x, y), abs=1e-6)
    assert to.back.at(x, y) == pytest.approx(pinhole((x, y), tilt, up, pan), abs=1e-6)


def test_a_corner_of_the_photo_over_the_horizon_spoils_nothing() -> None:
    """Looking down by 0.1 rad the horizon is at 0.5 - 0.8 tan 0.1 = 0.42 of the photo: its own corner
    (0, 0) is sky."""
    low = taped(tilt=0.1)
    assert low.map().at(*pinhole((2.0, 0.1), 0.1, 1.6)) == pytest.approx((2.0, 0.1))
    with pytest.raises(CoreError, match="horizon"):
        low.map().at(0.5, 0.41)


def test_a_thing_by_two_corners_whichever_they_are() -> None:
    view = taped()
    corners = [pinhole(c, 0.7, 1.6) for c in ((1.2, 0.30), (2.8, 0.36))]
    for one, other in (corners, corners[::-1]):
        found = box_of(view, one, other, (0.12, 0.04), MM)
        assert found.size == pytest.approx((1.6, 0.06, 0.08), abs=1e-9)
        assert found.floor_centre == pytest.approx((2.0, 0.33, 0.04), abs=1e-9)


def test_on_a_bulkhead_and_on_a_side() -> None:
    """A photo 2 m wide and 1 m high, straight on: across her port lies on the left seen from ahead."""
    across = Taped("across her", (-0.8, 0.8), (0.1, 0.9), ((0.9, 0.9), (0.1, 0.9), (0.1, 0.1), (0.9, 0.1)))
    knee = box_of(across, (0.1, 0.9), (0.3, 0.4), (1.50, 1.52), MM)
    assert knee.size == pytest.approx((0.02, 0.4, 0.5))
    assert knee.floor_centre == pytest.approx((1.51, 0.6, 0.1))
    side = Taped("from the side", (0.0, 2.0), (0.0, 1.0), ((0.0, 1.0), (1.0, 1.0), (1.0, 0.0), (0.0, 0.0)))
    rib = box_of(side, (0.5, 0.8), (0.52, 0.3), (0.80, 0.90), MM)
    assert rib.size == pytest.approx((0.04, 0.10, 0.5))
    assert rib.floor_centre == pytest.approx((1.02, 0.85, 0.2))


def test_far_away_a_click_is_worth_more() -> None:
    """From above a photo 4 m wide: a thousandth is 4 mm. Looking forward it grows with the square of the
    distance, and is told for the worst of the places."""
    flat = Taped(
        "from above", (0.0, 2.0), (-1.0, 1.0), ((0.25, 0.75), (0.75, 0.75), (0.75, 0.25), (0.25, 0.25))
    )
    assert unsure_m(flat, [(0.5, 0.5)]) == pytest.approx(0.004)
    near, far = (unsure_m(taped(0.5), [pinhole((x, 0.0), 0.5, 1.6)]) for x in (1.0, 3.0))
    assert far > 1.8 * near
    assert unsure_m(taped(0.5), [pinhole((x, 0.0), 0.5, 1.6) for x in (1.0, 3.0)]) == pytest.approx(far)


def test_the_net_lies_on_the_rectangle() -> None:
    """2 by 1.2 m every half metre: five lines across, three along."""
    lines = grid(taped(), 0.5)
    assert len(lines) == 8
    assert lines[0][0] == pytest.approx(pinhole((1.0, -0.5), 0.7, 1.6))
    assert lines[4][1] == pytest.approx(pinhole((3.0, 0.7), 0.7, 1.6))
    assert lines[7][1] == pytest.approx(pinhole((3.0, 0.5), 0.7, 1.6))


@pytest.mark.parametrize(
    ("marks", "said"),
    [
        (((0.1, 0.1), (0.5, 0.1), (0.9, 0.1), (0.1, 0.9)), "one line"),
        (((0.1, 0.1), (0.9, 0.9), (0.9, 0.1), (0.1, 0.9)), "cross over"),
        (((0.1, 0.1), (0.1, 0.1), (0.9, 0.9), (0.1, 0.9)), "one line"),
        (((0.5, 0.5),) * 4, "one line"),
    ],
)
def test_marks_that_tell_nothing_are_refused(marks: tuple[tuple[float, float], ...], said: str) -> None:
    with pytest.raises(CoreError, match=said):
        projective(marks, CORNERS)


def test_a_thing_too_thin_or_far_away_is_refused() -> None:
    view = taped()
    one = pinhole((1.2, 0.3), 0.7, 1.6)
    with pytest.raises(CoreError, match="accepted: at least 3 mm"):
        box_of(view, one, one, (0.0, 0.1), MM)
    with pytest.raises(CoreError, match="up; accepted"):
        box_of(view, one, pinhole((2.0, 0.4), 0.7, 1.6), (0.1, 0.1), MM)
    low = taped(tilt=0.1)
    with pytest.raises(CoreError, match="outside of any boat"):
        box_of(low, (0.5, 0.9), (0.6, 0.4201), (0.0, 0.1), MM)
