import math

import numpy as np
import pytest

from stirrup.core.afloat.ledger import Entry, sum_load
from stirrup.core.afloat.righting import DEFAULT_HEELS, _first_fall, both_sides, righting_curve
from stirrup.core.errors import CoreError, NoEquilibriumError
from tests.boats import box_lines, load, surface

BOX = surface(box_lines())


def curve(mass=1600.0, centre=(2.0, 0.0, 0.3), heels=DEFAULT_HEELS, floods=()):
    return righting_curve("t", BOX.outside, load(mass, centre), 1000.0, BOX.sheers, floods, heels)


def test_wall_sided_formula_holds_until_a_corner_emerges() -> None:
    # draft 0.2, half-beam 1: the bottom corner leaves the water at atan(0.2) = 11.3 degrees
    got = curve(heels=(0, 2, 4, 6, 8, 10, 11))
    for heel, gz in zip(got.heel_deg, got.gz_m, strict=True):
        h = math.radians(heel)
        assert gz == pytest.approx(math.sin(h) * (1.4666667 + 0.8333333 * math.tan(h) ** 2), abs=1e-6)


def test_box_on_its_side_has_the_lever_of_a_box_on_its_side() -> None:
    # at 90 degrees the 4 x 1 side floats with draft 0.4: B lies 0.5 up the old depth axis,
    # G 0.3 up: the couple is 0.2 and rights her
    assert curve(heels=(90,)).gz_m[0] == pytest.approx(0.2, abs=1e-9)


def test_flooding_is_where_the_deck_edge_goes_under() -> None:
    # triangle immersed: ½ w² tan h = 0.4 with the edge at the water: w = 1 / tan h
    # and w tan h = depth: ½·1/tan h = 0.4 -> tan h = 1.25
    assert curve().flooding_deg == pytest.approx(math.degrees(math.atan(1.25)), abs=1e-6)


def test_a_flood_point_lower_than_the_sheer_comes_first() -> None:
    # on the port side wall at half height: heels under before the edge does
    first = curve(floods=(("scupper", (2.0, 1.0, 0.5)),)).flooding_deg
    assert first is not None and first < math.degrees(math.atan(1.25))


def test_range_ends_where_the_lever_falls_through_zero() -> None:
    got = curve(centre=(2.0, 0.0, 0.7))
    assert got.range_deg is not None
    again = curve(centre=(2.0, 0.0, 0.7), heels=(got.range_deg - 1, got.range_deg, got.range_deg + 1))
    assert again.gz_m[0] > 0 > again.gz_m[2]
    assert again.gz_m[1] == pytest.approx(0, abs=1e-7)


def test_no_fall_within_90_degrees_gives_none() -> None:
    assert curve().range_deg is None


def test_heel_is_absolute_and_the_offset_boat_is_pushed_at_zero() -> None:
    got = curve(centre=(2.0, 0.05, 0.3), heels=(0,))
    # at heel 0 the couple heels her to port: GZ = -y
    assert got.gz_m[0] == pytest.approx(-0.05, abs=1e-9)


def test_odd_symmetry() -> None:
    got = curve(heels=(-20, 20))
    assert got.gz_m[0] == pytest.approx(-got.gz_m[1], abs=1e-9)


def test_bad_heels_are_refused() -> None:
    with pytest.raises(CoreError, match="-180 to 180"):
        curve(heels=(200,))


def test_sunk_boats_have_no_curve() -> None:
    with pytest.raises(NoEquilibriumError):
        curve(mass=9000)


def test_the_first_fall_is_found_although_the_end_lies_above_zero_again() -> None:
    # cos(6 h) falls through zero at 15° and is 1 again at 60°
    found = _first_fall(lambda h: math.cos(math.radians(6 * h)), 0.0, 60.0)
    assert found == pytest.approx(15.0, abs=1e-5)
    assert _first_fall(lambda h: 1.0, 0.0, 60.0) is None


def shown(solid, masses, floods=()):
    """Both sides of a box hull with point masses (kg, y), all at 0.45 m up and amidships."""
    total = sum_load([Entry(str(k), "m", "test", m, 0.0, "weighed", (2.0, y, 0.45))
                      for k, (m, y) in enumerate(masses)])  # fmt: skip
    sheers = np.array([[0.0, 1.0, 1.0], [4.0, 1.0, 1.0], [0.0, -1.0, 1.0], [4.0, -1.0, 1.0]])
    return both_sides("x", solid, total, 1000.0, sheers, floods, (0.0, 10.0, 20.0))


def test_an_opening_to_starboard_floods_to_starboard() -> None:
    """Box 4 x 2 x 1 m at 1600 kg: 0.4 m2 of each section under water. Once the far bottom corner is
    out (tan t = 0.2) that is a triangle at the low corner, w along the bottom: w = sqrt(0.8 / tan t).
    At y = -0.9 the water then stands (w - 0.1) tan t up; the opening there is 0.5 up:
    with s = sqrt(tan t), sqrt(0.8) s - 0.1 s^2 = 0.5."""
    box = surface(box_lines()).outside
    found = shown(box, [(1600.0, 0.0)], (("hatch", (2.0, -0.9, 0.5)),))
    root = (math.sqrt(0.8) - math.sqrt(0.8 - 4 * 0.1 * 0.5)) / 0.2
    assert found.starboard.flooding_deg == pytest.approx(math.degrees(math.atan(root**2)), abs=1e-3)
    assert found.worse.side == "starboard"
    assert found.port.flooding_deg > found.starboard.flooding_deg + 10


def test_a_load_to_starboard_is_worse_to_starboard_and_mirrors() -> None:
    box = surface(box_lines()).outside
    right = shown(box, [(1500.0, 0.0), (100.0, -0.5)])
    left = shown(box, [(1500.0, 0.0), (100.0, 0.5)])
    assert (right.worse.side, left.worse.side) == ("starboard", "port")
    assert not right.alike
    # mirroring the boat mirrors every figure
    for a, b in ((right.port, left.starboard), (right.starboard, left.port)):
        assert a.gz_m == pytest.approx(b.gz_m, abs=1e-9)
        assert (a.flooding_deg, a.range_deg) == pytest.approx((b.flooding_deg, b.range_deg), abs=1e-6)
        assert a.area_m_rad == pytest.approx(b.area_m_rad, abs=1e-9)
    # the weight's own lever: G lies 100 x 0.5 / 1600 = 31.25 mm to starboard
    assert right.port.gz_m[0] == pytest.approx(0.03125, abs=1e-6)
    assert right.starboard.gz_m[0] == pytest.approx(-0.03125, abs=1e-6)


def test_a_symmetrical_boat_is_alike_on_both_sides() -> None:
    assert shown(surface(box_lines()).outside, [(1600.0, 0.0)]).alike
