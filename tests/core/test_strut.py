"""Struts worked by hand: moments about the hinge."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.fittings.strut import (
    COLD_C,
    RISES,
    WARM_C,
    G,
    Lid,
    choose,
    force,
    strut_arm,
    weight_moment,
)
from stirrup.core.parts.entries import Strut
from stirrup.exchange.catalogue import starting

STRUTS = tuple(starting().of(Strut))
# 5 kg, 0.50 m deep and 12 mm thick, its centre half way and half its thickness down
LID = Lid(5.0, (0.25, -0.006), 0.5, 0.012, (0.02, 0.05), 80.0)


def test_the_lids_moment() -> None:
    # shut 5 x 9.81 x 0.25 = 12.26 N m; upright its centre is 6 mm on the open side: it falls open
    found = weight_moment(LID, np.array([0.0, 60.0, 90.0]))
    assert found == pytest.approx([12.2625, 49.05 * (0.25 * 0.5 + 0.006 * math.sqrt(3) / 2), 49.05 * 0.006])


def test_length_and_arm_of_a_strut_by_a_right_triangle() -> None:
    """A stud on the lid 0.3 out, one on the frame 0.4 under the hinge: 0.5 apart when shut, and the arm is
    0.3 x 0.4 / 0.5 = 0.24. Upright the first is 0.3 over the hinge: 0.7 apart and no arm left."""
    long, arm = strut_arm(np.array([[0.3, 0.0]]), np.array([[0.0, -0.4]]), np.array([0.0, 90.0]))
    assert long[0] == pytest.approx([0.5, 0.7]) and arm[0] == pytest.approx([0.24, 0.0], abs=1e-12)


def test_force_rises_as_it_goes_in_and_falls_in_the_cold() -> None:
    one = np.array([[100.0]]), np.array([[0.3]]), np.array([[0.1]])
    # half in: 100 x 1.15; 20 K colder 7 % less
    assert force(*one, np.array([[0.25]]), 20.0)[0, 0] == pytest.approx(115.0)
    assert force(*one, np.array([[0.25]]), 0.0)[0, 0] == pytest.approx(115.0 * 0.93)
    assert force(*one, np.array([[0.3]]), 35.0)[0, 0] == pytest.approx(105.25)


def test_the_one_chosen_keeps_what_is_promised() -> None:
    """Worked again from its own numbers, by the law of cosines instead of coordinates."""
    found = choose(LID, STRUTS, (1,))
    assert found is not None and found.strut in STRUTS
    (a, down), (b, depth) = found.on_lid, found.on_frame
    assert down == pytest.approx(0.032) and 0.02 <= depth <= 0.05
    arm_lid, arm_frame = math.hypot(a, down), math.hypot(b, depth)
    between = math.atan2(-down, a) - math.atan2(-depth, b)
    for angle, cold, warm in zip(found.angles, found.cold, found.warm, strict=True):
        gamma = between + math.radians(angle)
        long = math.sqrt(arm_lid**2 + arm_frame**2 - 2 * arm_lid * arm_frame * math.cos(gamma))
        assert found.strut.extended - found.strut.stroke <= long <= found.strut.extended + 1e-9
        # twice the triangle's area over its base
        arm = arm_lid * arm_frame * math.sin(gamma) / long
        push = found.strut.force * (1 + (RISES - 1) * (found.strut.extended - long) / found.strut.stroke)
        weight = 5.0 * G * (0.25 * math.cos(math.radians(angle)) + 0.006 * math.sin(math.radians(angle)))
        for hand, celsius in ((cold, COLD_C), (warm, WARM_C)):
            with_strut = push * (1 - 0.0035 * (20 - celsius)) * arm
            assert hand * 0.5 == pytest.approx(weight - with_strut, abs=1e-6)
    # open it is all out, and stays up in the cold with 15 % in hand
    assert long == pytest.approx(found.strut.extended)
    assert found.holds >= 1.15 and found.cold[-1] < 0
    assert found.lift_n <= 120 and found.close_n <= 80


def test_a_lid_that_no_strut_holds() -> None:
    heavy = Lid(80.0, (0.25, -0.006), 0.5, 0.012, (0.02, 0.05), 80.0)
    assert choose(heavy, STRUTS, (1, 2)) is None
    assert choose(LID, (), (1,)) is None
    # too short for a strut to lie along it
    assert choose(Lid(1.0, (0.05, 0.0), 0.1, 0.003, (0.02, 0.05), 80.0), STRUTS, (1,)) is None


@settings(max_examples=60, deadline=None)
@given(
    mass=st.floats(1.0, 25.0), deep=st.floats(0.3, 0.9), opens=st.floats(60.0, 100.0),
    depth=st.floats(0.03, 0.25),
)  # fmt: skip
def test_whatever_is_chosen_holds_and_can_be_shut(
    mass: float, deep: float, opens: float, depth: float
) -> None:
    lid = Lid(mass, (deep / 2, -0.005), deep, 0.01, (0.02, 0.02 + depth), opens)
    found = choose(lid, STRUTS, (1, 2))
    if found is None:
        return
    assert 0 < found.on_lid[0] < deep and 0 < found.on_frame[0] < deep
    assert found.cold[-1] <= 1e-9 and found.close_n <= 80 + 1e-9 and found.lift_n <= 120 + 1e-9
    # never over its centre: it helps at every angle
    assert all(c < b for c, b in zip(found.cold, found.bare, strict=True))
