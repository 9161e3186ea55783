import math

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from stirrup.core.afloat.equilibrium import equilibrium, evaluate, up_derivatives, up_vector
from stirrup.core.afloat.liquid import Liquid
from stirrup.core.afloat.righting import righting_curve
from stirrup.core.errors import NoEquilibriumError
from stirrup.core.hull.mesh import Solid
from tests.boats import box_lines, load, surface, wedge_lines

FRESH = 1000.0


def box(length: float = 4.0, beam: float = 2.0, depth: float = 1.0) -> Solid:
    return surface(box_lines(length, beam, depth)).outside


def test_level_box_floats_at_mass_over_area() -> None:
    state = equilibrium(box(), load(1600, (2, 0, 0.3)), FRESH)
    assert state.d == pytest.approx(0.2, abs=1e-9)
    assert math.degrees(state.trim) == pytest.approx(0, abs=1e-7)


def test_box_off_centre_matches_the_published_values() -> None:
    # small angles: tan list = 0.05 / GM, GM = 0.1 + 2²/(12 · 0.2) - 0.3 = 1.4667: 1.953°; tan trim = 0.1 /
    # (0.1 + 4²/(12 · 0.2) - 0.3) = 0.1 / 6.4667: 0.886°; the further digits from a separate solution
    state = equilibrium(box(), load(1600, (1.9, 0.05, 0.3)), FRESH)
    assert math.degrees(state.trim) == pytest.approx(0.8852, rel=1e-3)
    assert math.degrees(state.heel) == pytest.approx(1.9502, rel=1e-3)
    assert state.d / state.n[2] == pytest.approx(0.23092, rel=1e-3)


def test_box_heel_solves_the_wall_sided_formula() -> None:
    # GZ = sin h (GM + ½ BM tan² h) balances the offset: GZ(h) = y cos h, y = 0.05
    state = equilibrium(box(), load(1600, (2.0, 0.05, 0.3)), FRESH)
    h = state.heel
    gz = math.sin(h) * (1.4666667 + 0.5 * 1.6666667 * math.tan(h) ** 2)
    assert gz == pytest.approx(0.05 * math.cos(h), rel=1e-6)


def test_salt_water_carries_more() -> None:
    state = equilibrium(box(), load(1600, (2, 0, 0.3)), 1025.0)
    assert state.d == pytest.approx(1600 / 1025 / 8)


def test_stiffness_is_the_derivative_of_the_gradient() -> None:
    solid = surface(wedge_lines(0.2)).outside
    weights = load(900, (1.8, 0.1, 0.4))
    liquid = Liquid("t", "t", (0.6, 0.8, 0.3), (2.2, 0.1, 0.1), 0.4, 1000.0)
    weights = type(weights)(weights.rigid_kg, weights.moment, weights.covariance, (liquid,))
    at = np.array([0.25, 0.04, 0.09])
    state = evaluate(solid, weights, FRESH, *at)
    step = 1e-6
    for k in range(3):
        up, down = at.copy(), at.copy()
        up[k] += step
        down[k] -= step
        high, low = evaluate(solid, weights, FRESH, *up), evaluate(solid, weights, FRESH, *down)
        assert (high.gradient - low.gradient) / (2 * step) == pytest.approx(state.stiffness[k], abs=2e-3)
        assert (high.energy - low.energy) / (2 * step) == pytest.approx(state.gradient[k], abs=2e-4)


@given(st.floats(-1.2, 1.2), st.floats(-3, 3))
def test_up_vector_has_length_one_and_its_derivatives(trim: float, heel: float) -> None:
    assert np.linalg.norm(up_vector(trim, heel)) == pytest.approx(1.0)
    first, second = up_derivatives(trim, heel)
    h = 1e-6
    by_trim = (up_vector(trim + h, heel) - up_vector(trim - h, heel)) / (2 * h)
    by_heel = (up_vector(trim, heel + h) - up_vector(trim, heel - h)) / (2 * h)
    assert first == pytest.approx(np.array([by_trim, by_heel]), abs=1e-8)
    change = (up_derivatives(trim, heel + h)[0] - up_derivatives(trim, heel - h)[0]) / (2 * h)
    assert second[:, 1] == pytest.approx(change, abs=1e-8)


# heavier ones stand on end under their sheer
@given(st.floats(300, 5500), st.floats(1.6, 2.4), st.floats(-0.2, 0.2), st.floats(0.1, 0.5))
@example(5625.0, 1.625, 0.1875, 0.5)
@settings(max_examples=40, deadline=None)
def test_residuals_vanish_and_buoyancy_equals_weight(mass, x, y, z) -> None:
    boat = surface(wedge_lines(0.2))
    try:
        state = equilibrium(boat.outside, load(mass, (x, y, z)), FRESH)
    except NoEquilibriumError:
        # loaded nearly to the sheer she may go over in earnest: then the lever y cos h of the
        # load is longer than the righting arm at every heel
        heels = tuple(float(h) for h in range(0, 60, 3))
        upright = righting_curve(
            "", boat.outside, load(mass, (x, 0.0, z)), FRESH, boat.sheers, (), heels, False
        )
        levers = [abs(y) * math.cos(math.radians(h)) for h in heels]
        assert all(lever > arm for lever, arm in zip(levers, upright.gz_m, strict=True))
        return
    assert FRESH * state.cut.volume_m3 == pytest.approx(mass, rel=1e-8)
    centre = state.cut.moment / state.cut.volume_m3
    lever = np.array([x, y, z]) - centre
    assert np.linalg.norm(lever - (lever @ state.n) * state.n) < 1e-6


@given(st.floats(1.5, 2.4), st.floats(0.02, 0.1))
@settings(max_examples=20, deadline=None)
def test_moving_weight_forward_lowers_the_bow(x: float, step: float) -> None:
    solid = surface(wedge_lines(0.2)).outside
    before = equilibrium(solid, load(900, (x, 0, 0.3)), FRESH)
    after = equilibrium(solid, load(900, (x + step, 0, 0.3)), FRESH)
    assert after.trim < before.trim


@given(st.floats(0.01, 0.25))
@settings(max_examples=15, deadline=None)
def test_mirrored_load_gives_mirrored_list(y: float) -> None:
    solid = surface(wedge_lines(0.2)).outside
    port = equilibrium(solid, load(900, (1.9, y, 0.3)), FRESH)
    starboard = equilibrium(solid, load(900, (1.9, -y, 0.3)), FRESH)
    assert port.heel == pytest.approx(-starboard.heel, abs=1e-8)
    assert port.heel > 0
    assert port.trim == pytest.approx(starboard.trim, abs=1e-8)


@given(st.floats(0.3, 3.0))
@settings(max_examples=15, deadline=None)
def test_scaled_boat_with_scaled_masses_floats_at_the_same_angles(k: float) -> None:
    small = equilibrium(box(), load(1600, (1.9, 0.05, 0.3)), FRESH)
    large = equilibrium(box(4 * k, 2 * k, k), load(1600 * k**3, (1.9 * k, 0.05 * k, 0.3 * k)), FRESH)
    assert large.trim == pytest.approx(small.trim, abs=1e-7)
    assert large.heel == pytest.approx(small.heel, abs=1e-7)


def test_a_square_log_of_half_density_lolls_near_45_degrees_to_port() -> None:
    state = equilibrium(box(4, 1, 1), load(2000, (2, 0, 0.5)), FRESH)
    assert math.degrees(state.heel) == pytest.approx(45, abs=0.1)


def test_start_close_by_gives_the_same_position() -> None:
    solid = box()
    cold = equilibrium(solid, load(1600, (1.9, 0.05, 0.3)), FRESH)
    near = equilibrium(solid, load(1500, (2.0, 0.0, 0.3)), FRESH)
    warm = equilibrium(solid, load(1600, (1.9, 0.05, 0.3)), FRESH, near)
    assert (warm.d, warm.trim, warm.heel) == pytest.approx((cold.d, cold.trim, cold.heel), abs=1e-9)


def test_too_heavy_says_by_how_much() -> None:
    with pytest.raises(NoEquilibriumError, match=r"take at least 200\.0 kg out") as caught:
        equilibrium(box(), load(8200, (2, 0, 0.3)), FRESH)
    assert caught.value.excess_kg == pytest.approx(200)


def test_nearly_swamped_still_floats() -> None:
    state = equilibrium(box(), load(7990, (2, 0, 0.3)), FRESH)
    assert state.d == pytest.approx(7990 / 8000, rel=1e-6)


def test_top_heavy_capsizes_and_says_so() -> None:
    with pytest.raises(NoEquilibriumError, match="capsizes"):
        equilibrium(box(), load(2000, (2, 0, 2.5)), FRESH)


def test_all_weight_at_the_end_stands_on_end_and_says_so() -> None:
    with pytest.raises(NoEquilibriumError, match="stands on end"):
        equilibrium(box(), load(2000, (0.1, 0, 1.0)), FRESH)


def test_less_than_no_mass_is_refused() -> None:
    with pytest.raises(NoEquilibriumError, match="more than 0 needed"):
        equilibrium(box(), load(-5, (2, 0, 0.3)), FRESH)
