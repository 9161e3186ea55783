"""Each mistake of a tape is found with its place and its amount; hulls and slips by hand."""

import math
from typing import Any

import pytest

from stirrup.core.findings import Finding
from stirrup.core.hull.checks import hull_findings, keel_slope, transom_skew_m
from stirrup.core.hull.level import level_across, level_lengthwise
from stirrup.core.hull.mesh import build_surface
from stirrup.core.hull.model import Hull
from tests.boats import hull

XS = [0.0, 0.7, 1.4, 2.1, 2.8, 3.5, 4.2]


def lines(**changed: dict[int, tuple[float, float, float]]) -> list[dict[str, Any]]:
    """A prismatic boat 4.2 m long, readings replaced by line and station (from 1)."""
    out = []
    for name, half, z in (("keel", 0.0, 0.0), ("chine", 0.8, 0.12), ("sheer", 0.95, 0.6)):
        points = [[x, half, z] for x in XS]
        for station, point in changed.get(name, {}).items():
            points[station - 1] = list(point)
        out.append({"name": name, "along": "smooth", "points": points})
    return out


def found(boat: Hull) -> dict[str, list[Finding]]:
    out: dict[str, list[Finding]] = {}
    for finding in hull_findings(boat, build_surface(boat)):
        out.setdefault(finding.code, []).append(finding)
    return out


def test_fair_readings_are_called_fair() -> None:
    [only] = hull_findings(hull(lines()), build_surface(hull(lines())))
    assert (only.code, only.level) == ("READINGS", "fine")
    assert only.values["count"].value == 21


def test_inches_in_a_millimetre_column_are_found() -> None:
    # 600 mm taken as 23.6: 25.4 times too small
    boat = hull(lines(chine={4: (2.1, 0.8 / 25.4, 0.12)}))
    [slip] = found(boat)["UNIT-SLIP"]
    assert slip.place == "chine/3"
    assert "half-width" in slip.title
    assert "inches read as millimetres" in slip.text
    assert slip.values["better"].value == pytest.approx(0.8)
    assert "READING-OFF" not in {f.code for f in hull_findings(boat, build_surface(boat))
                                 if f.place == "chine/3"}  # fmt: skip


def test_millimetres_in_an_inch_column_are_found() -> None:
    boat = hull(lines(sheer={5: (2.8, 0.95, 0.6 * 25.4)}))
    [slip] = found(boat)["UNIT-SLIP"]
    assert (slip.place, slip.values["better"].value) == ("sheer/4", pytest.approx(0.6))


def test_a_reading_off_the_run_is_named_with_its_amount() -> None:
    # the neighbours lie on a straight line, and so does the cubic through them
    [off] = found(hull(lines(sheer={4: (2.1, 1.0, 0.6)})))["READING-OFF"]
    assert off.place == "sheer/3"
    assert off.values["off"].value == pytest.approx(0.05)
    assert off.working is not None
    assert off.working.result.value == pytest.approx(0.05)


def test_a_keel_that_dips_between_two_stations() -> None:
    [dip] = found(hull(lines(keel={3: (1.4, 0.0, -0.010)})))["KEEL-DIPS"]
    assert dip.place == "keel/2"
    assert "dips" in dip.title
    assert dip.values["off"].value == pytest.approx(0.010)


def test_a_slip_within_the_tape_is_not_nagged_about() -> None:
    assert "KEEL-DIPS" not in found(hull(lines(keel={3: (1.4, 0.0, -0.005)})))


def test_a_sheer_below_the_chine() -> None:
    boat = hull(lines(sheer={6: (3.5, 0.95, 0.5)}, chine={6: (3.5, 0.8, 0.55)}))
    [low] = found(boat)["SHEER-LOW"]
    assert (low.place, low.level) == ("sheer/5", "mend")
    assert low.values["sheer"].value == 0.5
    assert low.values["chine"].value == 0.55


def test_starboards_slips_are_told_apart_from_ports() -> None:
    right = lines(sheer={4: (2.1, 1.0, 0.6), 6: (3.5, 0.95, 0.5)}, chine={6: (3.5, 0.8, 0.55)})
    told = found(hull(lines(), starboard=right))
    assert "starboard/sheer/3" in [f.place for f in told["READING-OFF"]]
    [low] = told["SHEER-LOW"]
    assert low.place == "starboard/sheer/5"
    assert "starboard" in low.title


def test_sides_that_differ_by_more_than_a_slip() -> None:
    boat = hull(lines(), starboard=lines(sheer={2: (0.7, 0.97, 0.6)}))
    [differ] = found(boat)["SIDES-DIFFER"]
    assert differ.place == "sheer/1"
    assert "half-width differs" in differ.title
    assert differ.values["off"].value == pytest.approx(0.020)


def test_a_frame_that_stands_further_forward_on_one_side() -> None:
    boat = hull(lines(), starboard=lines(chine={5: (2.83, 0.8, 0.12)}))
    [differ] = found(boat)["SIDES-DIFFER"]
    assert differ.place == "chine/4"
    assert "distance from the transom differs" in differ.title
    assert differ.values["off"].value == pytest.approx(0.030)


def test_a_boat_surveyed_bow_high() -> None:
    made = (("keel", 0.0, 0.0), ("chine", 0.8, 0.12), ("sheer", 0.95, 0.6))
    rising = {n: {k + 1: (x, half, z + 0.01 * x) for k, x in enumerate(XS)} for n, half, z in made}
    boat = hull(lines(**rising))
    assert keel_slope(boat) == pytest.approx(0.01)
    [out] = found(boat)["OUT-OF-LEVEL"]
    assert out.values["rise"].value == pytest.approx(0.042)
    assert out.values["angle"].value == pytest.approx(math.degrees(math.atan(0.01)))


def test_unequal_diagonals_tell_the_skew_of_the_transom() -> None:
    # corners at ±0.015 and ±0.95 m: the port one 30 mm ahead, 4.2 m from the bow eye
    port, starboard = math.hypot(4.2 - 0.015, 0.95), math.hypot(4.2 + 0.015, 0.95)
    boat = hull(lines(), diagonals={"port": port, "starboard": starboard})
    assert transom_skew_m(boat) == pytest.approx(0.030, abs=1e-12)
    [skew] = found(boat)["DIAGONALS"]
    assert "port corner" in skew.text
    assert skew.values["off"].value == pytest.approx(starboard - port)


def test_equal_diagonals_and_a_missing_one_say_nothing() -> None:
    assert "DIAGONALS" not in found(hull(lines(), diagonals={"port": 4.3, "starboard": 4.3}))
    assert transom_skew_m(hull(lines(), diagonals={"port": 4.3})) is None


def test_estimated_readings_are_counted() -> None:
    made = lines()
    made[2]["known"] = ["measured"] * 3 + ["estimated"] * 4
    [guess] = found(hull(made))["ESTIMATED"]
    assert (guess.level, guess.values["guesses"].value, guess.values["count"].value) == ("unknown", 4, 21)


def turned(rows: list[dict[str, Any]], degrees: float, axes: tuple[int, int]) -> list[dict[str, Any]]:
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    a, b = axes
    out = []
    for row in rows:
        points = []
        for p in row["points"]:
            q = list(p)
            q[a], q[b] = c * p[a] - s * p[b], s * p[a] + c * p[b]
            points.append(q)
        out.append({**row, "points": points})
    return out


def test_levelling_lengthwise_takes_out_the_angle_she_stood_at() -> None:
    boat = hull(turned(lines(), 2.0, (0, 2)), floods=[{"name": "well", "at": [0.0, 0.0, 0.5]}])
    keel = boat.lines[0].points
    level, angle = level_lengthwise(boat, keel[0], keel[4])
    assert math.degrees(angle) == pytest.approx(2.0)
    for line, true in zip(level.lines, lines(), strict=True):
        for p, q in zip(line.points, true["points"], strict=True):
            assert p == pytest.approx(q, abs=2e-6)
    # the opening turns with her: (0, 0.5) by -2° is (0.5 sin 2°, 0.5 cos 2°)
    assert level.floods[0].at[0] == pytest.approx(0.5 * math.sin(math.radians(2)), abs=1e-6)


def test_levelling_across_makes_both_sides_equal_again() -> None:
    port = turned(lines(), -1.5, (1, 2))
    other = turned(lines(), 1.5, (1, 2))
    boat = hull(port, starboard=other)
    assert found(boat)["SIDES-DIFFER"]
    level, angle = level_across(boat, 3)
    assert math.degrees(angle) == pytest.approx(1.5, abs=1e-6)
    assert level.starboard is not None
    for a, b, true in zip(level.lines, level.starboard, lines(), strict=True):
        for p, q, t in zip(a.points, b.points, true["points"], strict=True):
            assert p == pytest.approx(t, abs=3e-6)
            assert q == pytest.approx(t, abs=3e-6)


@pytest.mark.parametrize(
    ("low", "high", "words"),
    [
        ((0, 0, 0), (0.2, 0, 0), "less than 300 mm apart"),
        ((0, 0, 0), (1.0, 0, 0.4), "should be level along"),
    ],
)
def test_levelling_by_readings_that_cannot_be_level_is_refused(low, high, words) -> None:
    with pytest.raises(Exception, match=words):
        level_lengthwise(hull(lines()), low, high)


def test_levelling_across_needs_both_sides_and_a_station() -> None:
    with pytest.raises(Exception, match="both sides"):
        level_across(hull(lines()), 1)
    with pytest.raises(Exception, match="no station 9"):
        level_across(hull(lines(), starboard=lines()), 8)
