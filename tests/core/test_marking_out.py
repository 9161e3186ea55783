"""What is measured to draw a panel on its sheet: shapes whose figures are known by hand."""

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Point as FlatPoint
from shapely.geometry import Polygon, box

from stirrup.core.cutting.marking_out import marked_out, told_as
from stirrup.core.parts.model import Frame, Panel
from stirrup.exchange.catalogue import starting

SHEET = starting().sheet("al-2.5")


def panel(outline: Any, holes: Any = (), frame: Frame | None = None, **more: Any) -> Panel:
    ring = tuple((float(x), float(y)) for x, y in outline)
    cut = tuple(tuple((float(x), float(y)) for x, y in h) for h in holes)
    return Panel("a/p", "A-P", "a panel", "a", SHEET, ring, cut, frame or Frame((0.0, 0.0, 0.0)), **more)


def ring_of(shape: Polygon) -> list[tuple[float, float]]:
    return list(shape.exterior.coords)[:-1]


def test_a_trapezium_has_four_corners_and_two_diagonals() -> None:
    """Its box is 1.0 by 0.4, standing at (2, -0.1); the top is 0.2 shorter at either end. Diagonals: from
    (0, 0) to (0.8, 0.4), sqrt(0.64 + 0.16)."""
    out = marked_out(panel([(2.0, -0.1), (3.0, -0.1), (2.8, 0.3), (2.2, 0.3)]))
    assert out.size == pytest.approx((1.0, 0.4))
    assert sorted(out.corners) == [
        pytest.approx(c) for c in [(0.0, 0.0), (0.2, 0.4), (0.8, 0.4), (1.0, 0.0)]
    ]
    assert out.whole is None and out.stations == ()
    assert out.corners[0] == pytest.approx((0.0, 0.0))  # the first is at the left below
    assert [d.length for d in out.diagonals] == pytest.approx([math.sqrt(0.8)] * 2)
    for d in out.diagonals:
        assert math.dist(out.corners[d.one - 1], out.corners[d.other - 1]) == pytest.approx(d.length)


def test_a_curved_edge_has_ordinates_at_even_stations() -> None:
    """Under an arc of radius 1.0 about (0, 0) from 0.6 to either side: at x the edge is at
    sqrt(1 - x²) - 0.8."""
    arc = [(math.sin(a), math.cos(a) - 0.8) for a in [math.asin(0.6) * (1 - k / 100) for k in range(201)]]
    out = marked_out(panel([(-0.6, -0.3), (0.6, -0.3), *arc]))
    assert len(out.corners) == 4 and not out.upright
    # 1.2 m: every 50 mm gives 24
    assert [s.at for s in out.stations] == pytest.approx([0.05 * k for k in range(25)])
    for station in out.stations:
        x = station.at - 0.6
        assert station.low == pytest.approx(0.0, abs=1e-6)
        assert station.high == pytest.approx(0.3 + math.sqrt(1 - x * x) - 0.8, abs=1e-4)


def test_stations_come_at_whole_inches_for_who_measures_in_them() -> None:
    out = marked_out(
        panel(ring_of(FlatPoint(0, 0).buffer(0.5).intersection(box(-1, -1, 1, 0)))), inches=True
    )
    # half a circle 1 m across: 39.4 in, every 2 in gives 20
    assert out.stations[1].at == pytest.approx(2 * 0.0254)
    assert out.stations[-1].at == pytest.approx(1.0)


def test_stations_run_as_its_curves_do() -> None:
    """A curve along the top of a panel that is higher than wide is still measured along it."""
    arc = [(0.5 - 0.5 * k / 50, 1.0 + 0.05 * math.sin(math.pi * k / 50)) for k in range(51)]
    out = marked_out(panel([(0.0, 0.0), (0.5, 0.0), *arc]))
    assert not out.upright
    middle = min(out.stations, key=lambda s: abs(s.at - 0.25))
    assert middle.high == pytest.approx(1.05, abs=1e-4)


def test_one_that_is_curved_upward_is_stationed_upward() -> None:
    half = FlatPoint(0, 0).buffer(0.5, quad_segs=60).intersection(box(0, -1, 1, 1))
    out = marked_out(panel(ring_of(half)))
    assert out.upright
    # half way up it reaches from its straight edge to the circle
    middle = min(out.stations, key=lambda s: abs(s.at - 0.5))
    assert (middle.low, middle.high) == pytest.approx((0.0, 0.5), abs=1e-3)


@given(st.floats(0.02, 2.0), st.floats(0.02, 2.0), st.floats(0.0, 0.45))
def test_rounded_rectangles_are_told_by_size_and_radius(a: float, b: float, share: float) -> None:
    radius = share * min(a, b)
    shape = box(0.3, -0.2, 0.3 + a, -0.2 + b)
    if radius > 1e-4:
        shape = shape.buffer(-radius, join_style="mitre").buffer(radius, quad_segs=16)
    found = told_as(tuple(ring_of(shape)))
    assert found is not None
    assert found.size == pytest.approx((a, b), rel=1e-6)
    assert found.at == pytest.approx((0.3 + a / 2, -0.2 + b / 2))
    assert found.radius == pytest.approx(radius, abs=0.0031 + 0.02 * radius)


@pytest.mark.parametrize("segments", [6, 16, 64])
def test_a_hole_of_chords_is_round(segments: int) -> None:
    found = told_as(tuple(ring_of(FlatPoint(0.4, 0.2).buffer(0.026, quad_segs=segments))))
    assert found is not None and found.what == "round"
    assert found.at == pytest.approx((0.4, 0.2)) and found.size[0] == pytest.approx(0.052, rel=1e-3)


def test_what_is_neither_is_told_by_its_box() -> None:
    cut = [(0.2, 0.2), (0.4, 0.2), (0.3, 0.3)]
    out = marked_out(panel(ring_of(box(0, 0, 1, 0.5)), [cut, ring_of(box(0.6, 0.1, 0.8, 0.2))]))
    first, second = out.cutouts
    assert "see its file" in first.what and first.size == pytest.approx((0.2, 0.1))
    assert second.what == "rectangle" and second.at == pytest.approx((0.7, 0.15))
    assert out.whole is not None and out.whole.what == "rectangle"


@pytest.mark.parametrize(
    ("frame", "seen", "right", "top"),
    [
        (Frame((0, 0, 0)), "from above", "forward", "to port"),
        # across the boat and up: x is y times z, so one looks from ahead, port to the right
        (Frame((0, 0, 0), (0, 1, 0), (0, 0, 1)), "from ahead", "to port", "up"),
        # along and up: y is less than nothing times, so from starboard
        (Frame((0, 0, 0), (1, 0, 0), (0, 0, 1)), "from starboard", "forward", "up"),
        # a dash that leans forward by 30 degrees
        (Frame((0, 0, 0), (0, 1, 0), (0.5, 0, math.sqrt(0.75))), "from ahead", "to port", "up"),
    ],
)  # fmt: skip
def test_from_where_it_is_seen(frame: Frame, seen: str, right: str, top: str) -> None:
    out = marked_out(panel(ring_of(box(0, 0, 1, 1)), frame=frame))
    assert (out.seen, out.right, out.top) == (seen, right, top)
