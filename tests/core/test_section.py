"""What a plane across cuts of bodies, by hand."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Polygon, box

from stirrup.core.space.section import section_at
from stirrup.core.space.shapes import Prism, Swept


def test_of_a_box_its_breadth_and_height() -> None:
    prism = Prism(box(0.0, -0.2, 2.0, 0.3), 0.1, 0.4)
    (ring,) = section_at(prism, 1.0)
    assert Polygon(ring).bounds == pytest.approx((-0.2, 0.1, 0.3, 0.4))
    assert section_at(prism, 2.5) == []
    # one that rises by 0.1 a metre: at its fore end its top, 0.2 under that at its aft end
    leaning = Prism(box(0.0, -0.2, 2.0, 0.3), 0.1, 0.6, 0.1)
    (ring,) = section_at(leaning, 0.5)
    assert Polygon(ring).bounds == pytest.approx((-0.2, 0.15, 0.3, 0.45))


def test_of_a_frame_both_of_its_sides() -> None:
    frame = Prism(Polygon(box(0, 0, 1, 1).exterior.coords, [box(0.2, 0.3, 0.8, 0.6).exterior.coords]), 0, 1)
    rings = [Polygon(r).bounds for r in section_at(frame, 0.5)]
    assert sorted(rings) == [pytest.approx((0, 0, 0.3, 1)), pytest.approx((0.6, 0, 1, 1))]


def test_of_a_pyramid_a_smaller_square() -> None:
    """Its point 1 m forward of a square of 1 m: at 0.25 m three quarters of it."""
    pyramid = Swept(((0, 0, 0), (0, 1, 0), (0, 1, 1), (0, 0, 1), (1, 0.5, 0.5)))
    (ring,) = section_at(pyramid, 0.25)
    assert Polygon(ring).area == pytest.approx(0.75**2)
    assert section_at(pyramid, 1.5) == [] and section_at(pyramid, 1.0) == []


@given(turn=st.floats(-1.2, 1.2), x=st.floats(-0.2, 0.2))
def test_of_a_turned_box_its_area_over_the_cosine(turn: float, x: float) -> None:
    """A bar 4 m long, 0.2 by 0.3, turned about z: the plane cuts it aslant in its middle."""
    c, s = math.cos(turn), math.sin(turn)
    at = np.array([(a, b, h) for a in (-2.0, 2.0) for b in (-0.1, 0.1) for h in (0.0, 0.3)])
    turned = at @ np.array([[c, s, 0], [-s, c, 0], [0, 0, 1]])
    bar = Swept(tuple((float(p), float(q), float(r)) for p, q, r in turned))
    (ring,) = section_at(bar, x)
    if abs(x) / c + 0.1 * abs(s) / c < 1.9:
        assert Polygon(ring).area == pytest.approx(0.2 * 0.3 / c, rel=1e-6)
