"""Plates on four edges against the tables of Timoshenko and Woinowsky-Krieger (ν = 0.3), table 8 and
equation 148."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.fittings.plate import FINE, SOLID, SPRINGY, given_m, stiffness_nm, stretched_m
from stirrup.exchange.catalogue import starting


@pytest.mark.parametrize(("b", "uniform"), [(1.0, 0.00406), (1.5, 0.00772), (2.0, 0.01013)])
def test_an_even_load_all_over_it(b: float, uniform: float) -> None:
    # w = α q a⁴ / D for b / a = 1, 1.5, 2; q = 500 N over all of it
    assert given_m(1.0, b, 100.0, 500.0, (1.0, b)) == pytest.approx(uniform * 500.0 / b / 100.0, rel=2e-3)


@pytest.mark.parametrize(("b", "point"), [(1.0, 0.01160), (1.4, 0.01486), (2.0, 0.01651)])
def test_a_load_at_a_point_in_its_middle(b: float, point: float) -> None:
    assert given_m(1.0, b, 100.0, 500.0, (0.01, 0.01)) == pytest.approx(point * 500.0 / 100.0, rel=5e-3)


@pytest.mark.parametrize(
    ("b", "patch", "alpha", "tolerance"),
    [
        # two opposite edges clamped, two laid on: uniform load, b / a = 1 and 2 (table 29)
        (1.0, (1.0, 1.0), 0.00192, 3e-3),
        (2.0, (1.0, 2.0), 0.00260, 6e-3),
        # so long a plate is a strip: a point on one clamped all round, b / a infinite (table 37)
        (4.0, (0.005, 0.005), 0.00725, 6e-3),
    ],
)
def test_two_edges_that_cannot_turn(
    b: float, patch: tuple[float, float], alpha: float, tolerance: float
) -> None:
    force = 500.0 * b if patch[0] == 1.0 else 500.0
    clamped = given_m(1.0, b, 100.0, force, patch, 1.0)
    assert clamped == pytest.approx(alpha * 500.0 / 100.0, rel=tolerance)
    # half held is the mean of both
    free = given_m(1.0, b, 100.0, force, patch)
    assert given_m(1.0, b, 100.0, force, patch, 0.5) == pytest.approx((free + clamped) / 2)


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


def test_pulled_tight_by_its_cubic() -> None:
    # w (1 + 1.5 (w / t)²) = 8 mm for t = 3.2: 3.2 (1 + 1.5) = 8.0
    assert stretched_m(0.008, 0.0032) == pytest.approx(0.0032)
    # as good as straight where it hardly bends
    assert stretched_m(1e-5, 0.012) == pytest.approx(1e-5, rel=1e-5)


@given(linear=st.floats(1e-6, 0.1), t=st.floats(0.001, 0.03))
def test_it_never_gives_more_than_by_bending_alone(linear: float, t: float) -> None:
    w = stretched_m(linear, t)
    assert 0 < w <= linear
    assert w * (1 + 1.5 * (w / t) ** 2) == pytest.approx(linear, rel=1e-6)


@pytest.mark.parametrize(
    ("sheet", "span", "held", "least", "most"),
    [
        ("ply-12", 0.40, False, SOLID, None),  # comes out solid
        ("al-3.2", 0.30, True, FINE, None),  # riveted: acceptable or better
        ("ply-9", 0.40, False, SPRINGY, FINE),  # at the edge of springy
        ("ply-6", 0.40, False, None, SPRINGY),  # refused
    ],
)
def test_what_builders_know_of_decks(
    sheet: str, span: float, held: bool, least: float | None, most: float | None
) -> None:
    """Sheets that run over members across a boat 1.2 m wide, as they are felt underfoot."""
    source = starting().sheet(sheet)
    stiff = stiffness_nm(source)
    assert stiff is not None
    w = given_m(span, 1.2, stiff)
    w = stretched_m(w, source.thickness) if held else w
    assert least is None or w <= span / least
    assert most is None or w > span / most
