"""Members under somebody, against closed forms and sums by hand."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.fittings.beam import (
    Strip,
    angle_strips,
    bends_nm,
    kept,
    sags_m,
    stiffness_of,
    under_skin,
    works_m,
)
from stirrup.exchange.catalogue import starting


def test_a_point_and_a_load_all_along() -> None:
    # P L³ / 48 E I = 1000 x 8 / 48000; 5 P L³ / 384 E I = 40000 / 384000
    assert sags_m(2.0, 1000.0, 1000.0, 0.0) == pytest.approx(8 / 48)
    assert sags_m(2.0, 1000.0, 1000.0, 2.0) == pytest.approx(40 / 384)
    # P L / 4 and P L / 8
    assert bends_nm(2.0, 1000.0, 0.0) == pytest.approx(500.0)
    assert bends_nm(2.0, 1000.0, 2.0) == pytest.approx(250.0)


@given(long=st.floats(0.3, 3.0), patch=st.floats(0.02, 0.25))
def test_a_patch_is_many_points(long: float, patch: float) -> None:
    """P a (3 L² - 4 a²) / 48 E I in the middle of a beam for each point, a from the nearer end."""
    xs = long / 2 + patch * (np.arange(2000) / 2000 + 1 / 4000 - 0.5)
    near = np.minimum(xs, long - xs)
    middle = (800.0 / 2000 * near * (3 * long**2 - 4 * near**2) / (48 * 50.0)).sum()
    assert sags_m(long, 50.0, 800.0, patch) == pytest.approx(middle, rel=1e-5)


def test_an_angle_under_a_skin_by_hand() -> None:
    """40 x 40 x 3 of 69 GPa under 2.5 mm of 70 GPa, of which 2 x 30 x 2.5 = 150 mm work with it.

    E A of skin, flange, leg: 26250, 8280, 7659 GPa mm² at +1.25, -1.5, -21.5 mm: neutral line at -3.4198.
    E I: 26250 (0.521 + 4.6698²) + 8280 (0.75 + 1.9198²) + 7659 (114.08 + 18.0802²) = 4.0003e6 GPa mm⁴.
    It yields at 276 MPa at its foot, 36.58 mm under that line: 276e6 x 4000.3 / (69e9 x 0.03658) = 437.4.
    """
    catalogue = starting()
    section, skin = catalogue.section("angle-40x40x3"), catalogue.sheet("al-2.5")
    stiff = under_skin(section, skin, 0.4)
    assert stiff is not None and stiff.moment is not None
    assert stiff.ei == pytest.approx(4000.3, rel=1e-4)
    assert stiff.moment == pytest.approx(437.4, rel=1e-3)
    # 100 mm where the members stand that close
    assert works_m(skin, 0.1) == pytest.approx(0.1)
    assert works_m(catalogue.sheet("ply-12"), 0.4) == 0.0


def test_two_flats_on_one_another() -> None:
    """As one of twice the height: b (2 h)³ / 12, and its section's modulus b (2 h)² / 6."""
    flats = [Strip(1e9, 0.02, -0.005, 0.0), Strip(1e9, 0.02, 0.0, 0.005)]
    stiff = stiffness_of(flats, 1e6)
    assert stiff.ei == pytest.approx(1e9 * 0.02 * 0.01**3 / 12)
    assert stiff.moment == pytest.approx(1e6 * 0.02 * 0.01**2 / 6)


def test_an_angle_alone_is_that_of_the_tables() -> None:
    # 50 x 50 x 5 with square corners: A 475, centroid 14.18 mm, I 11.25 cm⁴ about it:
    # 50 x 5³/12 + 250 (14.18 - 2.5)² + 5 x 45³/12 + 225 (27.5 - 14.18)² = 520.8 + 34106 + 37969 + 39920
    source = starting().section("angle-50x50x5")
    assert stiffness_of(angle_strips(source, 1.0), None).ei * 1e12 == pytest.approx(112516, rel=2e-3)


@given(
    long=st.floats(0.4, 2.5), ei=st.floats(300, 2e4), skin=st.floats(20, 3000), apart=st.floats(0.12, 0.8)
)
def test_what_a_member_keeps_by_three_springs(long: float, ei: float, skin: float, apart: float) -> None:
    """Equilibrium of the strip on three springs: F on either side and in the middle, w0 - w1 its bend."""
    k, ks = 48 * ei / long**3, 48 * skin * (long / 2) / (2 * apart) ** 3
    # unknown w0, w1: k w0 + 2 k w1 = 1; the strip bends by what both ends are held with, 2 k w1 / ks
    w0, _ = np.linalg.solve([[k, 2 * k], [1.0, -1.0 - 2 * k / ks]], [1.0, 0.0])
    assert kept(long, ei, skin, apart, long / 2) == pytest.approx(k * w0, rel=1e-9)


def test_a_skin_as_stiff_as_can_be_shares_with_both() -> None:
    assert kept(1.0, 1000.0, 1e12, 0.3, 0.5) == pytest.approx(1 / 3)
    assert kept(1.0, 1000.0, 1e-9, 0.3, 0.5) == pytest.approx(1.0)
    assert kept(1.0, 1000.0, 1e12, 0.3, 0.0) == 1.0
