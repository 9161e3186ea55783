"""Figures of one floating position, each by hand: a plane, a few points, a stiffness that is diagonal."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.afloat import ledger
from stirrup.core.afloat.balance import up_vector
from stirrup.core.afloat.gauges import first_wet, heights, plane_size, righting_moment, spreads

LEVEL = np.array([0.0, 0.0, 1.0])
LONG, BROAD = 4.0, 2.0


def edge_of_a_box(n: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Where a water plane through the origin cuts the sides of an upright box about it."""
    corners = np.array([(x, y) for x, y in ((-2, -1), (2, -1), (2, 1), (-2, 1))], dtype=float)
    z = -(corners @ n[:2]) / n[2]
    ring = np.column_stack([corners, z])
    return ring, np.roll(ring, -1, axis=0)


@given(st.floats(-0.5, 0.5))
def test_the_water_plane_of_a_box_grows_with_trim_and_with_list(angle: float) -> None:
    # cut at an angle the sides stay as far apart, and the plane between them is that over the cosine
    for trim, heel, size in (
        (angle, 0.0, (LONG / math.cos(angle), BROAD)),
        (0.0, angle, (LONG, BROAD / math.cos(angle))),
    ):
        n = up_vector(trim, heel)
        assert plane_size(*edge_of_a_box(n), n) == pytest.approx(size, rel=1e-12)


@given(st.floats(-0.5, 0.5), st.floats(-0.9, 0.9))
def test_the_plane_is_measured_along_her_and_square_to_that(trim: float, heel: float) -> None:
    n = up_vector(trim, heel)
    along = np.array([1.0, 0.0, 0.0]) - n[0] * n
    along /= np.linalg.norm(along)
    across = np.cross(n, along)
    ring = np.array([a * along + b * across for a, b in ((-2, -1), (2, -1), (2, 1), (-2, 1))])
    assert plane_size(ring, np.roll(ring, -1, axis=0), n) == pytest.approx((LONG, BROAD), rel=1e-12)


def test_a_point_s_height_over_a_slope() -> None:
    # over a plane that rises three in four: n = (-0.6, 0, 0.8)
    n = np.array([-0.6, 0.0, 0.8])
    points = np.array([[0.0, 5.0, 0.0], [4.0, 0.0, 3.0], [0.0, 0.0, 1.0]])
    assert heights(points, n, 0.0).tolist() == pytest.approx([0.0, 0.0, 0.8])
    assert heights(points, n, 0.5)[2] == pytest.approx(0.3)


def test_water_comes_in_first_where_the_least_heel_brings_it() -> None:
    middle = np.array([2.0, 0.1, 0.3])
    # 0.3 m over the water and 0.9 to port of the middle; higher but farther out to starboard; on the axis
    points = np.array([[1.0, 1.0, 0.6], [3.0, -1.4, 0.9], [2.0, 0.11, 0.31]])
    k, heel, aside = first_wet(points, LEVEL, 0.3, middle)
    assert (k, heel, aside) == (0, pytest.approx(math.atan(0.3 / 0.9)), pytest.approx(0.9))
    # one under water is in already: less than no heel
    points[1, 2] = 0.2
    k, heel, aside = first_wet(points, LEVEL, 0.3, middle)
    assert (k, heel, aside) == (1, pytest.approx(-math.atan(0.1 / 1.5)), pytest.approx(-1.5))
    assert first_wet(points[2:], LEVEL, 0.3, middle)[0] == -1


def test_a_mirrored_boat_lets_the_water_in_at_the_other_side() -> None:
    n = up_vector(0.03, 0.1)
    points, middle = (
        np.array([[1.0, 1.0, 0.6], [3.0, -1.1, 0.5], [0.0, 0.3, 0.7]]),
        np.array([2.0, 0.1, 0.3]),
    )
    k, heel, aside = first_wet(points, n, 0.3, middle)
    over = np.array([1.0, -1.0, 1.0])
    assert first_wet(points * over, n * over, 0.3, middle * over) == (
        k, pytest.approx(heel), pytest.approx(-aside)
    )  # fmt: skip


def test_the_moment_to_turn_a_level_plane_by_hand() -> None:
    # 4 x 2 m of fresh water, its middle 0.5 m forward and 0.1 to port; q lies 200 kg·m under the origin
    area, density = LONG * BROAD, 1000.0
    first = area * np.array([0.5, 0.1, 0.0])
    second = np.zeros((3, 3))
    second[0, 0] = BROAD * LONG**3 / 12 + area * 0.5**2
    second[1, 1] = LONG * BROAD**3 / 12 + area * 0.1**2
    q = np.array([7.0, -3.0, -200.0])
    # about the plane's own middle: ρ L³B/12 and ρ B³L/12, and what hangs under it
    across = righting_moment(density, area, first, second, q, LEVEL, 0)
    along = righting_moment(density, area, first, second, q, LEVEL, 1)
    assert across == pytest.approx(density * LONG * BROAD**3 / 12 + 200.0)
    assert along == pytest.approx(density * BROAD * LONG**3 / 12 + 200.0)


def test_spreads_of_a_stiffness_without_coupling_by_hand() -> None:
    # upright: a mass spread of 20 kg, moments by 30 along, 10 across; lowest point 3 m forward, 0.8 to port
    stiffness = np.diag([8000.0, 9000.0, 2500.0])
    covariance = np.diag([20.0**2, 30.0**2, 10.0**2, 5.0**2])
    trim, heel, board = spreads(0.0, 0.0, stiffness, covariance, np.array([3.0, 0.8, 0.6]))
    assert trim == pytest.approx(30.0 / 9000.0) and heel == pytest.approx(10.0 / 2500.0)
    sinks, pitches, rolls = 20.0 / 8000.0, 3.0 * 30.0 / 9000.0, 0.8 * 10.0 / 2500.0
    assert board == pytest.approx(math.hypot(sinks, pitches, rolls))


ROWS = st.lists(
    st.tuples(
        st.floats(-50, 200), st.floats(0, 20), *[st.floats(-5, 5)] * 3, *[st.floats(0, 0.3)] * 3,
        st.integers(0, 3),
    ),
    min_size=1, max_size=12,
)  # fmt: skip


@given(ROWS)
def test_a_ledger_is_the_same_by_both(rows: list[tuple[float, ...]]) -> None:
    values, of = np.array([r[:8] for r in rows]), np.array([int(r[8]) for r in rows])
    for one, other in zip(
        ledger._added_up(values, of, 4), ledger._added_up_by_arrays(values, of, 4), strict=True
    ):
        np.testing.assert_allclose(one, other, rtol=1e-9, atol=1e-8)


def test_a_ledger_by_hand() -> None:
    # 10 kg ± 1 at x = 2 and 30 kg ± 2 at x = 4, both of one stock: they err together; 5 kg taken out, ± 0.5
    values = np.zeros((3, 8))
    values[:, 0], values[:, 1], values[:, 2] = (10.0, 30.0, -5.0), (1.0, 2.0, 0.5), (2.0, 4.0, 1.0)
    values[1, 6] = 0.1  # its place is known to 0.1 m across
    mass, moment, covariance = ledger._added_up(values, np.array([0, 0, 1]), 2)
    assert mass == 35.0 and moment.tolist() == [10 * 2 + 30 * 4 - 5.0, 0.0, 0.0]
    assert covariance[0, 0] == pytest.approx((1.0 + 2.0) ** 2 + 0.5**2)
    assert covariance[1, 1] == pytest.approx((1.0 * 2 + 2.0 * 4) ** 2 + 0.5**2)
    assert covariance[0, 1] == covariance[1, 0] == pytest.approx(3.0 * 10.0 + 0.5 * 0.5)
    assert covariance[2, 2] == pytest.approx((30.0 * 0.1) ** 2) and covariance[3, 3] == 0.0
