"""Strips laid flat: a plane strip, a cylinder, a cone, and one that cannot be laid flat."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.space.develop import unrolled


def arc(radius: float, z: float, angle: float, count: int = 80) -> np.ndarray:
    a = np.linspace(0.0, angle, count)
    return np.column_stack([radius * np.cos(a), radius * np.sin(a), np.full(count, z)])


@given(st.floats(0.2, 3), st.floats(0.1, 2), st.floats(-0.5, 1), st.floats(-3, 3))
def test_a_plane_strip_is_as_it_is(long: float, wide: float, slant: float, turn: float) -> None:
    x = np.linspace(0, long, 6)
    plane = np.column_stack([x, np.zeros(6)]), np.column_stack([x * (1 + slant), np.full(6, wide)])
    c, s = math.cos(turn), math.sin(turn)
    lower, upper = (np.column_stack([p[:, 0] * c, p[:, 0] * s, p[:, 1]]) for p in plane)
    flat = unrolled(lower, upper)
    assert flat.twist == pytest.approx(0.0, abs=1e-7)
    assert flat.lower == pytest.approx(plane[0], abs=1e-7)
    assert flat.upper == pytest.approx(plane[1], abs=1e-7)


def test_a_cylinder_is_a_rectangle_as_long_as_its_arc() -> None:
    # radius 2, a quarter turn, 0.5 high: 3.1416 long, its chords a little less
    flat = unrolled(arc(2.0, 0.0, math.pi / 2), arc(2.0, 0.5, math.pi / 2))
    assert flat.lower[-1] == pytest.approx((math.pi, 0.0), abs=2e-4)
    assert flat.upper[-1] == pytest.approx((math.pi, 0.5), abs=2e-4)
    assert flat.twist == pytest.approx(0.0, abs=1e-9)


def test_a_cone_is_a_sector_of_a_ring() -> None:
    """Radii 1 below and 1.3 above, 0.4 higher: slant 0.5; its point 5/3 down the slant from the lower edge.
    Laid flat both edges are arcs about that point with radii 5/3 and 5/3 + 0.5, turned by angle x 0.6."""
    angle = 1.2
    flat = unrolled(arc(1.0, 0.0, angle), arc(1.3, 0.4, angle))
    point = np.array([0.0, -5 / 3])
    assert np.linalg.norm(flat.lower - point, axis=1) == pytest.approx(5 / 3, abs=2e-4)
    assert np.linalg.norm(flat.upper - point, axis=1) == pytest.approx(5 / 3 + 0.5, abs=2e-4)
    end = flat.upper[-1] - point
    assert math.atan2(abs(end[0]), end[1]) == pytest.approx(angle * 0.6, abs=2e-4)
    assert flat.twist == pytest.approx(0.0, abs=1e-6)


def test_what_is_twisted_cannot_be_laid_flat() -> None:
    # a square of 1 m, one corner lifted by 0.3 out of its plane: two triangles whose other diagonal differs
    lower = np.array([[0.0, 0, 0], [1.0, 0, 0]])
    upper = np.array([[0.0, 0, 1], [1.0, 0.3, 1]])
    # laid flat, by hand: the lower right corner at (1, 0); the upper right one sqrt(1.09) from both its
    # neighbours, which lie sqrt(2) apart: 0.7071 on, and sqrt(1.09 - 0.5) = 0.7681 aside
    flat = unrolled(lower, upper)
    aside = math.sqrt(1.09 - 0.5)
    assert flat.lower[-1] == pytest.approx((1.0, 0.0))
    assert flat.upper[-1] == pytest.approx((0.5 + aside / math.sqrt(2), 0.5 + aside / math.sqrt(2)))
    # the other diagonal: 0.7071 + 0.7681 laid flat, sqrt(2.09) in space
    assert flat.twist == pytest.approx(math.sqrt(0.5) + aside - math.sqrt(2.09), abs=1e-9)
