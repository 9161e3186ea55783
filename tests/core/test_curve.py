"""The curve through readings: against scipy's, by hand, and never beyond its readings."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator

from stirrup.core.hull.curve import slopes, through

gaps = st.lists(st.floats(0.01, 3.0), min_size=1, max_size=12)


@given(gaps, st.data())
def test_it_is_the_curve_of_scipy(steps, data) -> None:
    x = np.concatenate([[0.0], np.cumsum(steps)])
    value = st.floats(-5, 5).map(lambda v: round(v, 3))
    y = np.array(data.draw(st.lists(st.tuples(value, value), min_size=len(x), max_size=len(x))))
    at = np.linspace(0.0, x[-1], 57)
    expected = PchipInterpolator(x, y)(at)
    assert through(x, y, at) == pytest.approx(expected, abs=1e-9)
    # never beyond what was read
    assert np.all(through(x, y, at) >= y.min(axis=0) - 1e-9)
    assert np.all(through(x, y, at) <= y.max(axis=0) + 1e-9)


def test_slopes_by_hand() -> None:
    """Readings 0, 1, 3 at 0, 1, 2: slopes 1 and 2 between, weights 3 and 3: 6 / (3/1 + 3/2) = 4/3.

    Ends: (3 · 1 - 1 · 2) / 2 = 1/2 and (3 · 2 - 1 · 1) / 2 = 5/2.
    """
    found = slopes(np.array([0.0, 1.0, 2.0]), np.array([[0.0], [1.0], [3.0]]))
    assert found[:, 0] == pytest.approx([0.5, 4 / 3, 2.5])
    # a peak is a peak: level there
    assert slopes(np.array([0.0, 1.0, 2.0]), np.array([[0.0], [1.0], [0.0]]))[1, 0] == 0.0


def test_two_readings_are_a_straight_line() -> None:
    at = through(np.array([1.0, 3.0]), np.array([[0.0, 5.0], [4.0, 1.0]]), np.array([1.5, 2.0]))
    assert at == pytest.approx(np.array([[1.0, 4.0], [2.0, 3.0]]))
