"""Cross members go in: every corner is clear of hull and side angle, and the saw is told how."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point

from stirrup.core.fittings.edges import inside_region, opening_angles_deg, side_path
from stirrup.core.hull.slices import region, waterplane
from stirrup.demo.seed import demo_plan
from stirrup.exchange.buildfile import from_data
from stirrup.exchange.cutlist import cut_list
from tests.boats import DECK, build_data, derive, flared_lines, skiff_plan

SKIN, LAP = 0.0025, 0.003 + 0.003 + 0.0015  # side of the hull; angle, bracket and play
FLARE = 1 / 3


def cross(derived) -> list:
    return [m for b in derived.built for m in b.members if "/cross/" in m.key]


def test_a_member_between_flaring_sides_is_bevelled_by_the_flare() -> None:
    deck = {**DECK, "aft": 1.0, "fore": 3.0, "height": 0.4, "face": False}
    member = cross(derive(from_data(build_data(flared_lines(), fittings=[deck]))))[1]
    # inside of the skin at the underside, 0.3975 m up; skin and laps lie square to the side
    slant = math.sqrt(1 + FLARE**2)
    half = 0.8 + 0.3975 * FLARE - (SKIN + LAP) * slant
    assert member.length == pytest.approx(2 * half, abs=2e-4)
    # atan(1/3) = 18.43 degrees
    assert [(e.mitre_deg, e.bevel_deg) for e in member.ends] == [
        (pytest.approx(0.0, abs=0.01), pytest.approx(math.degrees(math.atan(FLARE)), abs=0.05))
    ] * 2
    assert member.ends_words.startswith("both ends bevel 18° (flange longer)")
    # it weighs what is left of it: on its middle line, 20 mm down, 2 x 20 x 1/3 mm less
    along = 2 * half - 2 * 0.02 * FLARE
    # the flange ends 1.5 mm short of the side angles', which lie 40 mm wide along the sides
    cope = 0.0415 - LAP * slant
    assert member.copes == (pytest.approx(cope, abs=2e-4),) * 2
    section = along * (0.040 + 0.040 - 0.003) * 0.003 - 2 * cope * 0.040 * 0.003
    assert member.mass_kg == pytest.approx(section * 2700, rel=1e-3)


def test_a_flare_that_a_square_end_bears_stays_square() -> None:
    # at 1 in 6 a square end stands 40 / 6 = 6.7 mm off at the top: no more than the 10 it may
    lines = flared_lines()
    lines[2]["points"] = [[0, 0.9, 0.6], [4, 0.9, 0.6]]
    deck = {**DECK, "aft": 1.0, "fore": 3.0, "height": 0.4, "face": False}
    member = cross(derive(from_data(build_data(lines, fittings=[deck]))))[1]
    slant = math.sqrt(1 + 1 / 36)
    foot = 0.8 + (0.3975 - 0.040) / 6 - (SKIN + LAP) * slant
    assert member.length == pytest.approx(2 * foot, abs=2e-4)
    assert all(e.square for e in member.ends) and member.ends_words == ""


@pytest.mark.slow
@given(st.floats(0.5, 3.6), st.floats(0.15, 0.5), st.floats(0.2, 0.6))
@settings(max_examples=25, deadline=None)
def test_no_corner_stands_in_the_skin_or_the_side_angle(aft: float, height: float, spacing: float) -> None:
    """Second method: the level section of the inside at each corner's own height."""
    deck = {**DECK, "aft": aft, "fore": 4.5, "height": height, "spacing": spacing, "face": False}
    derived = derive(skiff_plan(fittings=[deck]))
    inside = derived.surface.inside
    for member in cross(derived):
        leg, *flange = member.bodies
        assert len(leg) == 8 and member.length > 0
        for x, y, z in leg:
            area = region(waterplane(inside, z, fair=True), 2)
            assert area.covers(Point(x, y))
            # the angle's leg and the bracket, less half a millimetre
            assert area.exterior.distance(Point(x, y)) > 0.006 - 0.0005
        for x, y, z in itertools.chain(*flange):
            # the angle's flange, less half a millimetre
            area = region(waterplane(inside, z, fair=True), 2)
            assert area.exterior.distance(Point(x, y)) > 0.040 - 0.0005


def test_the_demo_s_foremost_member_goes_in() -> None:
    """It was 590 mm, and its lower corners stood 55 mm through the skin."""
    derived = derive(demo_plan("sedge-hopper.stirrup.json"))
    member = max((m for m in cross(derived) if m.label.startswith("D1-X")), key=lambda m: m.path[0][0])
    for x, y, z in member.bodies[0]:
        area = region(waterplane(derived.surface.inside, z, fair=True), 2)
        assert area.exterior.distance(Point(x, y)) > 0.0055 and area.covers(Point(x, y))
    assert 35 < member.ends[0].mitre_deg < 45 and member.ends[0].long == "aft"
    line = next(row for row in cut_list(derived).splitlines() if row.startswith(f"{member.label},"))
    assert "both ends mitre" in line and "deg" in line


def test_a_side_angle_is_opened_square_to_the_side() -> None:
    """At 4.5 m the demo's side runs in at 39.2 degrees and flares 19.9 mm in 40 mm athwart:
    90 + atan(19.9 / 40 x cos 39.2) = 111.1, not the 116.4 of the athwart section."""
    derived = derive(demo_plan("sedge-hopper.stirrup.json"))
    z = 0.46 - 0.0025
    path = side_path(inside_region(derived.surface, z), 4.45, 4.55, 1)
    low, high = opening_angles_deg(derived.surface, z, path, 0.040)
    assert low < 111.1 < high + 0.3 and high < 112.5
    upper = np.interp(4.5, path[:, 0], path[:, 1])
    assert upper == pytest.approx(0.3888, abs=0.001)


def test_mirrored_sides_have_mirrored_ends() -> None:
    for member in cross(derive(skiff_plan(fittings=[DECK]))):
        port, starboard = member.ends
        assert (port.mitre_deg, port.bevel_deg) == pytest.approx((starboard.mitre_deg, starboard.bevel_deg))
        assert port.long == starboard.long
        assert member.copes[0] == pytest.approx(member.copes[1])
        for body in member.bodies:
            half = len(body) // 2
            assert np.array(body[:half]) == pytest.approx(np.array(body[half:]) * [1, -1, 1])


def test_ends_of_a_member_of_a_symmetrical_hull_are_each_other_s_mirror_to_the_last_digit() -> None:
    members = [m for m in cross(derive(demo_plan("sedge-hopper.stirrup.json"))) if len(m.path) == 2]
    whole = [m for m in members if m.path[0][1] > 0 > m.path[1][1]]
    assert len(whole) > 3
    for m in whole:
        (_, port, _), (_, starboard, _) = m.path
        assert port == -starboard and m.ends[0] == m.ends[1] and m.copes[0] == m.copes[1]
        places = {point for body in m.fills for point in body}
        assert places == {(x, -y, z) for x, y, z in places}
