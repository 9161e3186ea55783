import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.afloat.equilibrium import up_vector
from stirrup.core.afloat.liquid import Liquid


def tank(fill: float, cells: int = 1) -> Liquid:
    return Liquid("t", "tank", (0.8, 0.6, 0.3), (1.0, 0.2, 0.1), fill, 745.0, cells)


def test_contents_weigh_fill_times_volume_times_density() -> None:
    assert tank(0.5).mass_kg == pytest.approx(0.5 * 0.8 * 0.6 * 0.3 * 745)


def test_level_liquid_lies_in_the_middle_at_half_its_depth() -> None:
    centre, surface = tank(0.5).settle(np.array([0.0, 0.0, 1.0]))
    assert centre == pytest.approx([1.0, 0.2, 0.1 + 0.075])
    assert surface[0, 0] == pytest.approx(0.6 * 0.8**3 / 12)
    assert surface[1, 1] == pytest.approx(0.8 * 0.6**3 / 12)


@given(st.integers(-80, 80), st.integers(-80, 80), st.integers(20, 80))
@settings(max_examples=40, deadline=None)
def test_wedge_formula_and_clipped_box_agree(trim: int, heel: int, fill: int) -> None:
    liquid = tank(fill / 100)
    n = up_vector(math.radians(trim / 10), math.radians(heel / 10))
    short = liquid.settle(n)
    exact = liquid._settle_cut(n, np.array(liquid.floor_centre))
    assert short[0] == pytest.approx(exact[0], abs=1e-9)
    assert short[1] == pytest.approx(exact[1], abs=1e-9)


@pytest.mark.parametrize("heel", [40, 80, 120])
def test_liquid_runs_to_the_low_side_at_large_heel(heel: int) -> None:
    n = up_vector(0.0, math.radians(heel))
    centre, _ = tank(0.4).settle(n)
    assert centre[1] > 0.2  # port is down
    assert 0.2 - 0.3 <= centre[1] <= 0.2 + 0.3


def test_on_its_side_the_liquid_fills_from_the_port_wall() -> None:
    centre, _ = tank(0.4).settle(np.array([0.0, -1.0, 0.0]))
    # 40 % of the breadth from the port wall at y = 0.5: middle at 0.5 - 0.12
    assert centre == pytest.approx([1.0, 0.38, 0.25], abs=1e-9)


def test_cells_keep_each_share_in_its_place() -> None:
    n = up_vector(0.0, math.radians(5))
    whole, parted = tank(0.5).settle(n)[0], tank(0.5, cells=3).settle(n)[0]
    # the shift goes with the square of the cell's breadth
    assert parted[1] - 0.2 == pytest.approx((whole[1] - 0.2) / 9)


@pytest.mark.parametrize("fill", [0.0, 1.0])
def test_full_and_empty_do_not_move(fill: float) -> None:
    liquid = Liquid("t", "tank", (0.8, 0.6, 0.3), (1.0, 0.2, 0.1), fill, 745.0)
    centre, surface = liquid.settle(up_vector(0.1, 0.2))
    assert centre == pytest.approx([1.0, 0.2, 0.1 + fill * 0.15])
    assert np.all(surface == 0)
