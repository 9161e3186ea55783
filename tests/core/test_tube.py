"""Tubes that fit others: closed forms of two cylinders, points of the cut put back on the other tube."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.cutting.tube import Tube, TubeEnd, end_line, unrolled, wrap_lines
from stirrup.core.errors import CoreError
from stirrup.core.units import Units

MM = Units("mm")
SQUARE = TubeEnd("nothing: square")


def at(end: TubeEnd, degrees: float, across: float = 0.030) -> float:
    return float(end_line(across, end, np.array([math.radians(degrees)]), MM, "first")[0])


def test_equal_tubes_square_to_one_another() -> None:
    """Of one radius r the saddle is r at top and bottom, and nothing at its sides."""
    end = TubeEnd("a round tube", 90.0, 0.030)
    assert [at(end, a) for a in (0, 90, 180, 270)] == pytest.approx([0.015, 0, 0.015, 0], abs=1e-9)
    # half way: r cos 45°
    assert at(end, 45) == pytest.approx(0.015 * math.cos(math.pi / 4))


def test_a_thin_one_on_a_thick_one_and_beside_its_axis() -> None:
    """15 on 25: sqrt(25² - 15²) = 20 at its sides, 25 at top; 5 beside it: sqrt(25² - 20²) = 15, and
    sqrt(25² - 10²) on the other side."""
    end = TubeEnd("a round tube", 90.0, 0.050)
    assert [at(end, a) for a in (0, 90)] == pytest.approx([0.025, 0.020])
    off = TubeEnd("a round tube", 90.0, 0.050, 0.005)
    assert [at(off, a) for a in (90, 270)] == pytest.approx([0.015, math.sqrt(0.025**2 - 0.010**2)])


def test_against_a_face_at_an_angle_it_is_an_ellipse() -> None:
    """At 60° the long and the short side are 2 r / tan 60° apart."""
    end = TubeEnd("a flat face", 60.0)
    assert at(end, 0) - at(end, 180) == pytest.approx(0.030 / math.tan(math.radians(60)))
    assert at(end, 90) == pytest.approx(0.0, abs=1e-12)


@given(st.floats(20, 160), st.floats(0.02, 0.2), st.floats(0.1, 1.0), st.floats(-1, 1), st.floats(0, 360))
def test_every_point_of_the_cut_lies_on_the_other_tube(
    angle: float, main: float, share: float, off: float, turn: float
) -> None:
    """Built from vectors: its axis at its angle to the other's, a radius about it, and so far along."""
    r = share * main / 2
    beside = off * (main / 2 - r)
    end = TubeEnd("a round tube", angle, main, beside)
    t, a, p = at(end, turn, 2 * r), math.radians(angle), math.radians(turn)
    axis = np.array([math.sin(a), 0.0, math.cos(a)])
    up = np.array([-math.cos(a), 0.0, math.sin(a)])
    point = (
        t * axis + r * (math.cos(p) * up + math.sin(p) * np.array([0, 1.0, 0])) + np.array([0, beside, 0])
    )
    assert math.hypot(point[0], point[1]) == pytest.approx(main / 2, abs=1e-9)


def test_its_development_is_as_long_as_it_is_round() -> None:
    flat = unrolled(Tube(0.030, 0.500, SQUARE, SQUARE), MM)
    assert flat.outline.bounds == pytest.approx((0, 0, math.pi * 0.030, 0.500))
    assert flat.stick == pytest.approx(0.5)
    assert [line[0][0] for line in wrap_lines(flat)] == pytest.approx(
        [math.pi * 0.030 * k / 4 for k in (1, 2, 3)]
    )


def test_between_two_tubes_it_is_shorter_by_their_saddles() -> None:
    """500 from axis to axis between two of its own thickness: its long points stand at the sides, where
    nothing is cut off: 500; at top it is 470."""
    end = TubeEnd("a round tube", 90.0, 0.030)
    u = unrolled(Tube(0.030, 0.500, end, end), MM)
    assert u.stick == pytest.approx(0.500)
    lengths = [b - a for a, b in zip(u.first, u.last, strict=True)]
    assert (lengths[0], lengths[3]) == pytest.approx((0.470, 0.500), abs=1e-9)


def test_a_quarter_of_twist_sets_one_saddle_across_the_other() -> None:
    """At top one end is cut by 15 and the other by nothing, and the other way round at the side."""
    end = TubeEnd("a round tube", 90.0, 0.030)
    u = unrolled(Tube(0.030, 0.500, end, end, 90.0), MM)
    lengths = [b - a for a, b in zip(u.first, u.last, strict=True)]
    assert (lengths[0], lengths[3]) == pytest.approx((0.485, 0.485), abs=1e-9)
    assert u.first[0] == pytest.approx(0.015) and u.first[3] == pytest.approx(0.0, abs=1e-12)


def test_beside_the_axis_at_the_last_end_is_seen_from_that_end() -> None:
    """15 on 25 with its axis 5 to the left of the other's, as one looks onto that end: what is left there
    is right from here. Its left side is cut by sqrt(25² - 10²), its right one by sqrt(25² - 20²)."""
    off = TubeEnd("a round tube", 90.0, 0.050, 0.005)
    u = unrolled(Tube(0.030, 0.500, SQUARE, off), MM)
    lengths = [b - a for a, b in zip(u.first, u.last, strict=True)]
    assert lengths[3] == pytest.approx(0.5 - math.sqrt(0.025**2 - 0.010**2))
    assert lengths[9] == pytest.approx(0.5 - 0.015)


@pytest.mark.parametrize(
    ("tube", "said"),
    [
        (Tube(0.030, 0.5, TubeEnd("a round tube", 90, 0.020), SQUARE), "met all round"),
        (Tube(0.030, 0.5, TubeEnd("a round tube", 90, 0.040, 0.010), SQUARE), "met all round"),
        (Tube(0.030, 0.5, TubeEnd("a flat face", 10), SQUARE), "15 to 165"),
        (Tube(0.030, 0.5, TubeEnd("a flat face", float("nan")), SQUARE), "15 to 165"),
        (Tube(0.001, 0.5, SQUARE, SQUARE), "accepted: 6 mm"),
        (Tube(0.030, 0.0, SQUARE, SQUARE), "accepted: up to"),
        (Tube(0.030, 0.02, TubeEnd("a flat face", 20), TubeEnd("a flat face", 20)), "too short"),
    ],
)
def test_what_cannot_be_is_named(tube: Tube, said: str) -> None:
    with pytest.raises(CoreError, match=said):
        unrolled(tube, MM)
