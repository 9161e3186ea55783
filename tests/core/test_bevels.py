"""Bevels of edges at the skin, against angles worked by hand on hulls with plane sides."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.cutting import bevels as bevel
from stirrup.core.cutting.bevels import Bevel, bevels
from stirrup.core.cutting.marking_out import marked_out
from stirrup.core.hull.mesh import Solid, build_surface
from stirrup.core.hull.model import Hull
from stirrup.core.parts.model import Frame, Panel
from stirrup.exchange.catalogue import starting

PLY = starting().sheet("ply-12")
X = [0.0, 1.0, 2.0, 3.0, 4.0]


def flared(bottom: float, sheer: float, rise: float = 0.0, depth: float = 0.6) -> Solid:
    """A trough 4 m long without thickness: half breadth `bottom` at the chine, `sheer` at `depth`, its
    bottom rising by `rise` from the keel to the chine."""
    rows = (("keel", 0.0, 0.0), ("chine", bottom, rise), ("sheer", sheer, depth))
    lines = [{"name": name, "points": [(x, y, z) for x in X]} for name, y, z in rows]
    hull = {"mass": {"value": 100.0, "centre": (2.0, 0.0, 0.3)}, "lines": lines,
            "skin": {"side": 0.0, "bottom": 0.0, "transom": 0.0}}  # fmt: skip
    return build_surface(Hull.model_validate(hull)).inside


def deck(half: float, z: float, x0: float = 1.0, x1: float = 2.0) -> Panel:
    """A level panel, `half` to either side, its middle at a height; seen from above."""
    ring = ((x0, -half), (x1, -half), (x1, half), (x0, half))
    return Panel("d", "D", "deck", "d", PLY, ring, (), Frame((0.0, 0.0, z)))


def found(panel: Panel, inside: Solid) -> tuple[Bevel, ...]:
    return bevels(panel, marked_out(panel), inside)


def test_upright_sides_want_square_edges() -> None:
    assert found(deck(0.797, 0.3), flared(0.8, 0.8)) == ()


@pytest.mark.parametrize("flare", [10.0, 20.0, 30.0])
def test_a_deck_between_flared_sides(flare: float) -> None:
    # side at 0.6 + z tan(flare): the lower face, 6 mm under the middle, sets the breadth; 2 mm of gap there
    tan = math.tan(math.radians(flare))
    inside = flared(0.6, 0.6 + 0.6 * tan)
    panel = deck(0.6 + (0.3 - 0.006) * tan - 0.002, 0.3)
    both = found(panel, inside)
    assert len(both) == 2
    for b in both:
        assert b.tilts_deg == pytest.approx((flare, flare)) and b.steady and not b.too_flat
        # wider above: the face that is seen is the larger one, by the thickness times the slope
        assert b.seen_larger and b.larger_m == pytest.approx(0.012 * tan)
    # the corners of each edge are at one side
    corners = marked_out(panel).corners
    for b in both:
        assert corners[b.one - 1][1] == pytest.approx(corners[b.other - 1][1])


def test_seen_from_below_the_face_away_is_the_larger_one() -> None:
    inside = flared(0.6, 0.6 + 0.6 * math.tan(math.radians(20)))
    half = 0.6 + 0.294 * math.tan(math.radians(20)) - 0.002
    ring = ((1.0, -half), (2.0, -half), (2.0, half), (1.0, half))
    under = Frame((0.0, 0.0, 0.3), (1.0, 0.0, 0.0), (0.0, -1.0, 0.0))
    panel = Panel("d", "D", "deck", "d", PLY, ring, (), under)
    assert [b.seen_larger for b in found(panel, inside)] == [False, False]


def test_a_floor_on_a_shallow_bottom_runs_out_flatter_than_a_saw_tilts() -> None:
    # deadrise 15 degrees: the edge would have to lean 75 from square
    rise = 0.8 * math.tan(math.radians(15))
    inside = flared(0.8, 0.8, rise)
    z = 0.1
    half = (z - 0.006) / math.tan(math.radians(15)) - 0.003
    both = found(deck(half, z), inside)
    assert [round(max(b.tilts_deg)) for b in both] == [75, 75] and all(b.too_flat for b in both)


def test_an_edge_that_stands_off_is_square() -> None:
    # 15 mm from the side, more than the 12 that an edge stands off where it is fitted
    inside = flared(0.6, 0.6 + 0.6 * math.tan(math.radians(20)))
    tan = math.tan(math.radians(20))
    assert found(deck(0.6 + 0.294 * tan - 0.0115, 0.3), inside)
    assert found(deck(0.6 + 0.294 * tan - 0.0125, 0.3), inside) == ()


def test_thin_sheet_is_not_bevelled() -> None:
    # 12 mm at 5 degrees is 1.05 mm: under the 1.5 that is worth a tilted saw; at 8 it is 1.69
    for flare, count in ((5.0, 0), (8.0, 2)):
        tan = math.tan(math.radians(flare))
        panel = deck(0.6 + 0.294 * tan - 0.002, 0.3)
        assert len(found(panel, flared(0.6, 0.6 + 0.6 * tan))) == count


def test_an_upright_panel_across_a_boat_that_narrows() -> None:
    """Sides that run in by 1 in 5: a bulkhead's edges lean atan(1/5) = 11.3 degrees."""
    rows = (("keel", [0.0] * 5, 0.0), ("chine", [1.0 - 0.2 * x for x in X], 0.0),
            ("sheer", [1.0 - 0.2 * x for x in X], 0.6))  # fmt: skip
    lines = [{"name": n, "points": [(x, b, z) for x, b in zip(X, y, strict=True)]} for n, y, z in rows]
    hull = {"mass": {"value": 100.0, "centre": (1.5, 0.0, 0.3)}, "lines": lines,
            "skin": {"side": 0.0, "bottom": 0.0, "transom": 0.0}}  # fmt: skip
    inside = build_surface(Hull.model_validate(hull)).inside
    # at x = 2 the half breadth is 0.6; the forward face of 12 mm sets it: 0.5988
    ring = ((-0.597, 0.05), (0.597, 0.05), (0.597, 0.5), (-0.597, 0.5))
    across = Frame((2.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))  # seen from ahead
    both = found(Panel("b", "B", "bulkhead", "b", PLY, ring, (), across), inside)
    assert [round(max(b.tilts_deg), 1) for b in both] == [11.3, 11.3]
    # she is wider abaft: the face away from who looks from ahead is the larger one
    assert not any(b.seen_larger for b in both)


@settings(max_examples=25, deadline=None)
@given(st.floats(8.0, 40.0), st.floats(0.15, 0.5), st.floats(0.002, 0.009))
def test_any_flare_and_height(flare: float, z: float, gap: float) -> None:
    tan = math.tan(math.radians(flare))
    both = found(deck(0.5 + (z - 0.006) * tan - gap, z), flared(0.5, 0.5 + 0.6 * tan))
    assert [b.tilts_deg for b in both] == [pytest.approx((flare, flare))] * 2


@pytest.mark.parametrize("find", [bevel.met_going, bevel._met_by_arrays])
@pytest.mark.parametrize("order", [(0, 1), (1, 0)])
def test_of_two_walls_the_nearer_one_counts_whichever_comes_first(find, order) -> None:  # type: ignore[no-untyped-def]
    """Two upright walls, at x = 1 and x = 2: from half a metre before one, a tenth before the other,
    past the edge of both, and along them."""
    walls = [[[x, -1.0, -1.0], [x, 3.0, -1.0], [x, -1.0, 3.0]] for x in (1.0, 2.0)]
    corners, normals = np.array([walls[k] for k in order]), np.array([[1.0, 0.0, 0.0]] * 2)
    at = np.array([[0.5, 0.0, 0.0], [1.9, 0.0, 0.0], [0.5, 3.0, 3.0], [1.0, 0.0, 0.0]])
    ways = np.array([[1.0, 0.0, 0.0]] * 3 + [[0.0, 1.0, 0.0]])
    which, far = find(corners, normals, at, ways)
    assert [order[k] if k >= 0 else None for k in which.tolist()] == [0, 1, None, None]
    assert far[:2].tolist() == pytest.approx([0.5, 0.1])
