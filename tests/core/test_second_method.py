"""Figures by another method than the one that made them: relief cuts, faces, what lids sweep."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull
from shapely.geometry import Point

from stirrup.core.fittings.edges import SAGITTA_M, SAW_CUT_M, relief_slots, slot_interval_m
from stirrup.core.hull.slices import region, section
from stirrup.exchange.buildfile import from_data
from tests.boats import DECK, HATCH, build_data, derive, flared_lines, plan, skiff_plan

LEG = 0.04


def circle(radius: float, length: float) -> np.ndarray:
    angle = np.linspace(0, length / radius, 400)
    return np.column_stack([radius * np.sin(angle), radius * (1 - np.cos(angle))])


@given(st.floats(0.9, 4.0), st.floats(0.5, 2.0))
@settings(max_examples=40, deadline=None)
def test_relief_cuts_are_the_fewest_with_which_the_angle_follows(radius: float, length: float) -> None:
    """Each straight stretch stands off its arc by R (1 - cos(s / 2R)), each cut closes by s leg / R."""
    slots = relief_slots(circle(radius, length), LEG).slots
    stretches = np.diff([0.0, *slots, length])

    def off(s: float) -> float:
        return radius * (1 - math.cos(s / (2 * radius)))

    # the radius is read off the path, within 2 %
    assert all(off(s) <= 1.02 * SAGITTA_M for s in stretches)
    assert all(s * LEG / radius <= 1.02 * SAW_CUT_M for s in stretches)
    # one stretch fewer would not do
    longer = length / (len(stretches) - 1) if len(stretches) > 1 else math.inf
    assert off(longer) > 0.96 * SAGITTA_M or longer * LEG / radius > 0.98 * SAW_CUT_M


def test_relief_cuts_lie_where_the_curve_is() -> None:
    # 1 m straight, then an arc of 1 m radius over 0.75 m: ten stretches of 75 mm
    bend = circle(1.0, 0.75) + np.array([1.0, 0.0])
    path = np.concatenate([np.column_stack([np.linspace(0, 1, 200)[:-1], np.zeros(199)]), bend])
    slots = relief_slots(path, LEG).slots
    # curvature is read over a hand's breadth: the first may lie that much before the bend
    assert all(s > 0.85 for s in slots) and 8 <= len(slots) <= 11
    assert slot_interval_m(1.0, LEG) == pytest.approx(0.075)


def test_a_face_between_flaring_sides_by_integration() -> None:
    """Sides of 2.5 mm, bottom of 3 mm, a gap of 5 mm square to both, top at 0.3975 m."""
    deck = {**DECK, "aft": 1.0, "fore": 3.0, "height": 0.4, "face": True}
    built = derive(from_data(build_data(flared_lines(), fittings=[deck]))).built[0]
    face = next(p for p in built.panels if p.key == "deck/face")
    slant = math.sqrt(1 + 1 / 9)
    low, high = 0.008, 0.3975

    def half(z: float) -> float:
        return 0.8 + z / 3 - 0.0075 * slant

    assert face.polygon.area == pytest.approx((half(low) + half(high)) * (high - low), rel=1e-4)
    ys, zs = np.array(face.outline).T
    assert (zs.min(), zs.max()) == pytest.approx((low, high), abs=1e-4)
    assert max(abs(ys)) == pytest.approx(half(high), abs=3e-4)
    # it stands behind the deck's edge, its middle half a sheet in
    assert face.centre[0] == pytest.approx(1.0 + 0.0025 / 2)


@given(st.floats(0.3, 4.2), st.floats(0.2, 0.5))
@settings(max_examples=20, deadline=None)
def test_a_face_stands_its_gap_off_the_skin_all_round(aft: float, height: float) -> None:
    deck = {**DECK, "aft": aft, "fore": aft + 0.6, "height": height, "face": True}
    derived = derive(skiff_plan(fittings=[deck]))
    for panel in derived.built[0].panels:
        if panel.key != "deck/face":
            continue
        inside = region(section(derived.surface.inside, panel.centre[0]), 0)
        for y, z in panel.outline:
            assert inside.covers(Point(y, z))
            if z < height - 0.01:
                # scribed within 0.3 mm; at a corner the gap is square to the nearer side
                assert inside.exterior.distance(Point(y, z)) == pytest.approx(0.005, abs=5e-4)


@pytest.mark.parametrize("side", ["aft", "fore", "port", "starboard"])
def test_a_lid_stays_in_the_room_that_it_is_given_and_fills_it(side: str) -> None:
    """Corners of the lid turned step by step about its hinge, up to 105 degrees."""
    derived = derive(skiff_plan(fittings=[DECK, {**HATCH, "hinge": side}]))
    room = next(r for r in derived.fit.rooms if r.owner == "hatch")
    hull = ConvexHull(np.array(room.shape.points))
    lid = next(p for b in derived.built for p in b.panels if p.key == "hatch/lid")
    x0, y0, x1, y1 = lid.polygon.bounds
    axis, sign, hinge = {"aft": (0, 1, x0), "fore": (0, -1, x1), "port": (1, -1, y1),
                         "starboard": (1, 1, y0)}[side]  # fmt: skip
    for degrees in np.linspace(0, 105, 43):
        a = math.radians(degrees)
        for share in (0.5, 1.0):
            for end in (0, 1):
                reach = share * ((x1 - x0) if axis == 0 else (y1 - y0))
                place = [0.0, 0.0, 0.402 + reach * math.sin(a)]
                place[axis] = hinge + sign * reach * math.cos(a)
                place[1 - axis] = ((y0, y1) if axis == 0 else (x0, x1))[end]
                outside = hull.equations @ np.array([*place, 1.0])
                assert outside.max() < 1e-9, (degrees, place)
    # the room is no more than 1 % larger than the sweep: a sector of 105 degrees
    wide = (y1 - y0) if axis == 0 else (x1 - x0)
    reach = (x1 - x0) if axis == 0 else (y1 - y0)
    assert hull.volume == pytest.approx(math.radians(105) / 2 * reach**2 * wide, rel=0.01)


def test_a_seat_s_room_is_the_circle_that_its_corners_run_on() -> None:
    seat = {"id": "seat", "name": "Seat", "form": "seat", "stage": "added", "size": [0.45, 0.5, 0.9],
            "mass": {"value": 8.0, "centre": [2.0, 0.0, 0.46]}}  # fmt: skip
    derived = derive(plan(items=[seat]))
    room = next(r for r in derived.fit.rooms if r.what.startswith("turns"))
    radius = math.hypot(0.45, 0.5) / 2
    for degrees in np.linspace(0, 360, 181):
        a = math.radians(degrees)
        assert room.shape.footprint.covers(Point(2 + radius * math.cos(a), radius * math.sin(a)))
    assert room.shape.footprint.area == pytest.approx(math.pi * radius**2, rel=0.01)
    feet = next(r for r in derived.fit.rooms if r.what.startswith("feet"))
    # from the cushion's edge 0.3 m ahead, 0.4 wide, up to 0.25 over the floor at 0.01
    assert feet.shape.bounds == pytest.approx((2.225, -0.2, 0.03, 2.525, 0.2, 0.26))
