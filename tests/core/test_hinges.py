"""What a lid hangs by: counts, and the path of its corner by its circle."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.kinds.hatch.hinges import least_inside_m, swings_out_m
from tests.core.test_hatch import built_with, hatch_of


def codes(derived, code: str) -> list:
    return [f for f in derived.findings if f.place == "hatch" and f.code == code]


@given(st.floats(0.004, 0.06), st.floats(0.002, 0.03))
def test_the_corner_goes_round_its_axis(inside: float, down: float) -> None:
    """The upper corner stands `inside` out and `down` over the axis; turned about it by every angle it
    comes furthest out by the circle's radius less what it stood out before."""
    turn = np.linspace(0, math.pi / 2, 2001)
    out = inside * np.cos(turn) + down * np.sin(turn)
    assert swings_out_m(inside, down) == pytest.approx(out.max() - inside, abs=1e-7)


@given(st.floats(0.001, 0.006), st.floats(0.0061, 0.02))
def test_as_far_inside_as_it_has_to_be_it_just_clears(gap: float, down: float) -> None:
    assert swings_out_m(least_inside_m(gap, down), down) == pytest.approx(gap)


@pytest.mark.parametrize(
    ("inside", "level"),
    # metal has 1.5 mm of gap; with 8 mm down (64 - 2.25) / 3 = 20.58 mm inside just clear
    [(0.0205, "mend"), (0.0206, "fine"), (0.016, "mend"), (0.03, "fine")],
)
def test_concealed_hinges_need_their_gap(inside: float, level: str) -> None:
    (found,) = codes(built_with(hinges="concealed", axis_inside=inside), "HINGE-CORNER")
    assert found.level == level
    assert found.values["gap"].value == pytest.approx(0.0015)
    assert found.values["out"].value == pytest.approx(math.hypot(inside, 0.008) - inside)


def test_what_is_offered_clears() -> None:
    (found,) = codes(built_with(hinges="concealed"), "HINGE-CORNER")
    farther, other = found.fixes
    assert farther.value == pytest.approx(0.021)
    (after,) = codes(built_with(hinges="concealed", axis_inside=farther.value), "HINGE-CORNER")
    assert after.level == "fine"
    assert not codes(built_with(hinges=other.value), "HINGE-CORNER")


def test_a_carpet_round_the_edge_widens_the_gap() -> None:
    # wrapped carpet, 6 mm, makes the gap 7.5: 8 mm down come out by far less at any place
    wide = built_with({"cover": "carpet", "edges": "wrapped"}, hinges="concealed", axis_inside=0.004)
    (found,) = codes(wide, "HINGE-CORNER")
    assert found.level == "fine" and found.values["gap"].value > 0.004


def test_on_the_deck_there_is_no_room_for_them() -> None:
    (found,) = codes(built_with(hinges="concealed", lies="on the deck"), "HINGE-CORNER")
    assert found.level == "mend" and found.fixes[0].value == "continuous"


@pytest.mark.parametrize(
    ("choices", "item", "amount", "screws"),
    [
        # the lid is 347 mm wide: 327 of continuous hinge, 8 screws on each leaf, and 4 of the latch
        ({}, "hinge-piano", 0.327, 16),
        ({"hinges": "lift-off"}, "hinge-lift-off", 1, 12),
        ({"hinges": "concealed"}, "hinge-concealed", 2, 12),
        # 0.8 + 2 x 23.5 mm: three, and lift-off ones come in pairs
        ({"hinges": "lift-off", "clear_width": 0.8}, "hinge-lift-off", 2, 18),
        ({"hinges": "concealed", "clear_width": 0.8}, "hinge-concealed", 3, 18),
    ],
)
def test_what_is_bought(choices: dict, item: str, amount: float, screws: int) -> None:
    bought = {b.key: b for b in hatch_of(built_with(**choices)).bought}
    assert bought["hatch/hinge"].item == item
    assert bought["hatch/hinge"].quantity == pytest.approx(amount)
    assert bought["hatch/fasteners"].quantity == screws + 4
