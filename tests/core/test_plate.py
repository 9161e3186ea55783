"""Plates on four edges against the tables of Timoshenko and Woinowsky-Krieger (ν = 0.3), table 8 and
equation 148."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.fittings.plate import given_m, stiffness_nm
from stirrup.exchange.catalogue import starting


@pytest.mark.parametrize(("b", "uniform"), [(1.0, 0.00406), (1.5, 0.00772), (2.0, 0.01013)])
def test_an_even_load_all_over_it(b: float, uniform: float) -> None:
    # w = α q a⁴ / D for b / a = 1, 1.5, 2; q = 500 N over all of it
    assert given_m(1.0, b, 100.0, 500.0, (1.0, b)) == pytest.approx(uniform * 500.0 / b / 100.0, rel=2e-3)


@pytest.mark.parametrize(("b", "point"), [(1.0, 0.01160), (1.4, 0.01486), (2.0, 0.01651)])
def test_a_load_at_a_point_in_its_middle(b: float, point: float) -> None:
    assert given_m(1.0, b, 100.0, 500.0, (0.01, 0.01)) == pytest.approx(point * 500.0 / 100.0, rel=5e-3)


def test_stiffness_by_hand() -> None:
    # 12 mm plywood of 7.5 GPa: 7.5e9 x 0.012³ / (12 x 0.91) = 1187 N m
    sheet = starting().sheet("ply-12")
    assert stiffness_nm(sheet) == pytest.approx(7.5e9 * 1.728e-6 / 10.92)
    assert stiffness_nm(starting().sheet("alcomb-19")) is None


@given(a=st.floats(0.15, 1.0), ratio=st.floats(1.0, 3.0), more=st.floats(1.05, 2.0))
def test_it_gives_more_the_wider_it_spans_and_the_same_turned(a: float, ratio: float, more: float) -> None:
    b = a * ratio
    assert given_m(a * more, b * more, 50.0) > given_m(a, b, 50.0)
    assert given_m(a, b, 50.0, 1000.0, (0.1, 0.1)) == pytest.approx(given_m(b, a, 50.0, 1000.0, (0.1, 0.1)))
