"""What a measurement says: by hand on the box, and back from a boat that is known."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.afloat.learn import (
    booked,
    learn_float_check,
    learn_inclining,
    learn_weigh_in,
    water_plane,
    weigh,
)
from stirrup.core.afloat.report import float_report
from stirrup.core.afloat.situation import Situation, situation
from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.plan.measured import FloatCheck, Inclining, WeighIn
from stirrup.core.plan.model import Plan
from tests.boats import derive, plan, skiff_plan


def here(built: Plan, case: str = "planned, empty") -> Situation:
    derived = derive(built)
    return situation(built, derived.vessel, derived.base(case), derived.load_case(case))


def scales(*rows: tuple[float, float, float], spread: float = 0.5) -> WeighIn:
    return WeighIn.model_validate(
        {"id": "w", "spread": spread, "scales": [{"force": f, "x": x, "y": y} for f, x, y in rows]}
    )


def test_weigh_in_by_hand() -> None:
    # 100 kg at x = 0.5, 60 kg at x = 3: 160 kg, X = (50 + 180) / 160 = 1.4375
    mass, sm, x, sx, y, sy = weigh(scales((100, 0.5, 0.0), (60, 3.0, 0.0)))
    assert (mass, x, y) == (160.0, pytest.approx(1.4375), 0.0)
    assert sm == pytest.approx(0.5 * math.sqrt(2))
    # sx = s √((0.5 - X)² + (3 - X)²) / m
    assert sx == pytest.approx(0.5 * math.hypot(0.9375, 1.5625) / 160)
    assert sy == 0.0


def test_scales_at_one_place_tell_nothing() -> None:
    with pytest.raises(CoreError, match="two places"):
        weigh(scales((100, 0.5, 0.5), (60, 0.5, -0.5)))


def test_weigh_in_is_held_against_the_ledger_with_both_spreads() -> None:
    lesson = learn_weigh_in(scales((900, 1.0, 0.0), (700, 3.0, 0.0), spread=4.0), here(plan()))
    mass, centre = lesson.figures
    # ledger: 1600 kg weighed, 1 % = 16 kg; measured 1600 ± 5.66
    assert (mass.predicted, mass.predicted_spread) == (1600.0, pytest.approx(16.0))
    assert mass.measured_spread == pytest.approx(4 * math.sqrt(2)) and mass.sigmas == 0.0
    # X = (900 + 2100) / 1600 = 1.875 against 2.0
    assert (centre.predicted, centre.measured) == (pytest.approx(2.0), pytest.approx(1.875))


def test_water_plane_of_level_readings_is_level() -> None:
    sheers = here(plan()).sheers
    n, d = water_plane(FloatCheck(id="f", bow=0.8, port=0.8, starboard=0.8), sheers)
    np.testing.assert_allclose(n, [0, 0, 1], atol=1e-12)
    assert d == pytest.approx(0.2)


def test_float_check_of_the_box() -> None:
    # 0.8 m of board all round: draft 0.2, 1600 kg at the middle
    lesson = learn_float_check(FloatCheck(id="f", bow=0.8, port=0.8, starboard=0.8), here(plan()))
    by_name = {f.name: f for f in lesson.figures}
    assert by_name["mass"].measured == pytest.approx(1600)
    assert by_name["centre from transom"].measured == pytest.approx(2.0)
    # 5 mm at each of three points; the mean level has weights 1/2, 1/4, 1/4 at amidships:
    # 8000 kg/m · 5 mm · √(1/4 + 1/16 + 1/16) = 24.49 kg
    assert by_name["mass"].measured_spread == pytest.approx(24.49, abs=0.05)


@settings(max_examples=15, deadline=None)
@given(x=st.floats(1.9, 2.5), y=st.floats(-0.08, 0.08), mass=st.floats(200, 500))
def test_float_check_of_a_known_boat_gives_her_back(x: float, y: float, mass: float) -> None:
    data = skiff_plan()
    hull = {**data.hull.model_dump(), "mass": {"value": mass, "centre": (x, y, 0.3)}}
    built = data.model_copy(update={"hull": data.hull.model_validate(hull)})
    real = here(built)
    n, d = real.state.n, real.state.d
    half = len(real.sheers) // 2
    bow = (real.sheers[half - 1] + real.sheers[-1]) / 2

    def board(p: np.ndarray) -> float:
        return float(p[2] - (d - n[0] * p[0] - n[1] * p[1]) / n[2])

    check = FloatCheck(id="f", bow=board(bow), port=board(real.sheers[0]),
                       starboard=board(real.sheers[half]))  # fmt: skip
    guess = here(skiff_plan())  # the ledger believes something else, but the same height of G
    lesson = learn_float_check(check, guess)
    by_name = {f.name: f for f in lesson.figures}
    assert by_name["mass"].measured == pytest.approx(mass, rel=1e-6)
    assert by_name["trim"].measured == pytest.approx(math.degrees(real.state.trim), abs=1e-6)
    # the height of G differs by 0.1 m at most: its part of the centre is that times the slope
    assert by_name["centre to port"].measured == pytest.approx(
        y, abs=0.12 * abs(math.tan(real.state.heel)) + 1e-6
    )
    assert "mm higher" in lesson.notes[0]


def test_inclining_by_hand() -> None:
    built = plan()
    state = here(built)
    report = float_report("c", state.state, state.load, state.sheers)
    # box: GM 1.4667. 20 kg moved 0.8 m on 1600 kg: tan φ = 16 / (1600 · 1.4667), φ = 0.39065°
    phi = math.degrees(math.atan(16 / (1600 * (0.1 + 5 / 3 - 0.3))))
    lesson = learn_inclining(Inclining(id="i", mass=20, distance=0.8, heel_deg=phi), state, report)
    gm, height = lesson.figures
    assert gm.measured == pytest.approx(gm.predicted, abs=1e-6)
    assert height.measured == pytest.approx(0.3, abs=1e-6)
    assert lesson.notes == ("best with 2 to 6 degrees of heel",)
    # half the heel: twice the GM, so G lies lower by the old GM
    half = Inclining(id="i", mass=20, distance=0.8, heel_deg=math.degrees(math.atan(8 / (1600 * 1.466667))))
    assert learn_inclining(half, state, report).figures[1].measured == pytest.approx(
        0.3 - 1.466667, abs=1e-4
    )


def test_booking_makes_the_ledger_agree() -> None:
    item = {"id": "a", "stage": "added", "mass": {"value": 50.0, "centre": [1.0, 0.2, 0.4], "spread": 3.0}}
    built = plan(items=[item])
    state = here(built)
    lesson = learn_weigh_in(scales((900, 1.0, 0.3), (790, 3.0, -0.1), spread=1.0), state)
    after = booked(lesson, state, built.hull.mass)
    mended = apply(built, SetValue(path=("hull", "mass"), value=after.model_dump(mode="json")))
    again = here(mended)
    assert again.load.mass_kg == pytest.approx(1690, abs=0.01)
    centre = again.state.moment / again.load.mass_kg
    assert centre[0] == pytest.approx((900 * 1 + 790 * 3) / 1690, abs=1e-3)
    assert centre[1] == pytest.approx((900 * 0.3 - 790 * 0.1) / 1690, abs=1e-3)
    # spread: of the two scales √2, with the item's 3 kg; it was 16 kg
    assert after.spread == pytest.approx(math.hypot(math.sqrt(2), 3.0), abs=0.01)


def test_booking_an_inclining_moves_the_hull_s_centre_up_or_down_only() -> None:
    built = plan()
    state = here(built)
    report = float_report("c", state.state, state.load, state.sheers)
    check = Inclining(id="i", mass=20, distance=0.8, heel_deg=0.45)
    lesson = learn_inclining(check, state, report)
    after = booked(lesson, state, built.hull.mass)
    assert after.value == 1600 and after.centre[:2] == (2.0, 0.0)
    assert after.centre[2] == pytest.approx(lesson.figures[1].measured, abs=1e-3)


def test_booking_that_leaves_no_hull_is_refused() -> None:
    item = {"id": "a", "stage": "added", "mass": {"value": 500.0, "centre": [2.0, 0.0, 0.4]}}
    built = plan(mass=100.0, items=[item])
    state = here(built)
    lesson = learn_weigh_in(scales((200, 1.0, 0.0), (200, 3.0, 0.0)), state)
    with pytest.raises(CoreError, match="weigh nothing"):
        booked(lesson, state, built.hull.mass)
