"""A console worked by hand: 0.50 deep, 0.60 wide, 0.90 high, of 2.5 mm sheet on a deck at 0.3 m.

Its dash is 0.25 m long and leans 36.87°: 0.15 forward, 0.20 down (3, 4, 5). Its top falls 0.035 over the
0.35 m that are left (tan = 0.1).
"""

import math
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import Site
from stirrup.core.derive import Derived
from stirrup.core.kinds import console_box
from stirrup.core.kinds.console_box.profile import outline, sides
from stirrup.core.plan.changes import SetValue, apply
from stirrup.exchange.catalogue import starting
from tests.boats import box_lines, derive, plan, surface
from tests.core.test_step_box import DECK

LEAN, FALL = math.degrees(math.atan2(3, 4)), math.degrees(math.atan(0.1))
CONSOLE = {"kind": "console_box", "id": "console", "name": "Console", "mark": "C1", "on": "deck", "x": 2.0,
           "y": -0.2, "length": 0.5, "width": 0.6, "height": 0.9, "dash": 0.25, "lean": LEAN,
           "fall": FALL, "skin": "al-2.5", "wheel_up": 0.08, "gauges": 0, "display": "none",
           "panel": False, "access": "none"}  # fmt: skip
T = 0.0025
# outer corners from the aft foot on
CORNERS = [(0.0, 0.0), (0.0, 0.7), (0.15, 0.9), (0.5, 0.865), (0.5, 0.0)]


def boat(**choices: Any) -> Derived:
    return derive(plan(fittings=[DECK, {**CONSOLE, **choices}]))


def console(**choices: Any) -> Built:
    built = boat(**choices).fitting("console")
    assert built is not None
    return built


def panel(built: Built, code: str) -> Any:
    return next(p for p in built.panels if p.label == f"C1-{code}")


def test_its_profile() -> None:
    c = console_box.ConsoleBox.model_validate({**CONSOLE, "on": None})
    for got, expected in zip(outline(c), CORNERS, strict=True):
        assert got == pytest.approx(expected)


def test_sheets_meet_at_their_inner_edges() -> None:
    """An inner edge is shorter than the outer one by t x tan of half the turn at either end. From face to
    dash it turns 36.87° (tan of half: 1 / 3), from dash to top 53.13 + 5.71°, from top to fore wall
    84.29°."""
    built = console()
    turn = [math.radians(a) for a in (36.8699, 53.1301 + 5.7106, 84.2894)]
    tan = [math.tan(a / 2) for a in turn]
    assert tan[0] == pytest.approx(1 / 3, rel=1e-4)
    top = math.hypot(0.35, 0.035)
    expected = {
        "A": 0.7 - T * tan[0],
        "I": 0.25 - T * (tan[0] + tan[1]),
        "T": top - T * (tan[1] + tan[2]),
        "F": 0.865 - T * tan[2],
    }
    for code, length in expected.items():
        x0, z0, x1, z1 = panel(built, code).polygon.bounds
        assert (x1 - x0, z1 - z0) == pytest.approx((0.6 - 2 * T, length), rel=1e-4), code


def test_side_plates_cover_the_profile() -> None:
    built = console()
    # the rectangle less the triangle before the dash and the one over the top
    area = 0.5 * 0.9 - 0.15 * 0.2 / 2 - 0.35 * 0.035 / 2
    for code, y in (("P", 0.1 - T / 2), ("S", -0.5 + T / 2)):
        side = panel(built, code)
        assert side.polygon.area == pytest.approx(area) and side.centre[1] == pytest.approx(y)
    xs, zs = zip(*((x, z) for u, v in panel(built, "P").outline for x, _, z in [side.frame.at(u, v)]),
                 strict=True)  # fmt: skip
    assert (min(xs), max(xs), min(zs), max(zs)) == pytest.approx((1.75, 2.25, 0.3, 1.2))


def test_the_dash_lies_on_its_slope() -> None:
    dash = panel(console(wheel=False), "I")
    x, y, z = dash.centre
    # the middle of its outer edge is (0.075, 0.8); half a sheet inside of it, square to the slope, and a
    # little along it as its two ends are not shortened alike
    along = T / 2 * (1 / 3 - math.tan(math.radians(58.8407 / 2)))
    expected = (1.75 + 0.075 + T / 2 * 0.8 + along * 0.6, 0.3 + 0.8 - T / 2 * 0.6 + along * 0.8)
    assert (x, z) == pytest.approx(expected, abs=2e-6) and y == pytest.approx(-0.2)
    # its normal is square to (0.6, 0.8)
    (ax, _, az), _ = dash.frame.across, dash.frame.along
    assert (ax, az) == pytest.approx((0.6, 0.8))


def test_wheel_stands_off_the_dash_and_its_rim_is_where_thighs_go() -> None:
    built = console()
    wheel = next(b for b in built.bought if b.label == "C1-G")
    # 80 mm up the inner edge of the dash from its foot, 100 mm out of it along (-0.8, 0.6)
    foot = (T, 0.7 - T / 3)
    assert wheel.centre == pytest.approx(
        (1.75 + foot[0] + 0.08 * 0.6 - 0.08, -0.2, 0.3 + foot[1] + 0.08 * 0.8 + 0.06), abs=1e-5
    )
    helm = built.helms[0]
    assert helm.aft_m == pytest.approx(wheel.centre[0])
    assert helm.rim_m == pytest.approx(wheel.centre[2] - 0.17 * 0.8)
    assert helm.top_m == pytest.approx(1.2)
    without = console(wheel=False)
    assert without.helms[0].rim_m is None and not any(b.label in ("C1-G", "C1-H") for b in without.bought)


def holes(built: Built) -> list[Polygon]:
    return [Polygon(h) for h in panel(built, "I").holes]


def test_holes_for_what_goes_into_the_dash() -> None:
    built = console(dash=0.30, wheel=False, display="180 mm", gauges=2, panel=True, lean=20.0)
    found = sorted((round(p.centroid.x, 4), round(p.area, 4)) for p in holes(built))
    # bezels 62, 230, 62, 120 with 15 between: 519 in all, from -259.5 on
    middles = [-0.2595 + 0.031, -0.2595 + 0.077 + 0.115, -0.2595 + 0.322 + 0.031, -0.2595 + 0.399 + 0.06]
    areas = [math.pi * 0.0265**2, 0.205 * 0.12, math.pi * 0.0265**2, 0.1 * 0.11]
    for got, x, area in zip(found, middles, areas, strict=True):
        assert got[0] == pytest.approx(x, abs=1e-4) and got[1] == pytest.approx(area, abs=1e-4)


@pytest.mark.parametrize(
    ("choices", "word"),
    [
        ({}, ""),
        # 0.250 less 0.015 and 0.062 leaves 0.173 under the gauges; the hub needs 0.08 + 0.06 + 0.015
        ({"gauges": 2}, ""),
        ({"gauges": 2, "wheel_up": 0.10}, "hub"),
        # seven bezels: 6 x 62 + 120 + 6 x 15 = 582 of 600 - 2 x 2.5 - 2 x 25 = 545
        ({"gauges": 6, "panel": True, "wheel": False}, "wider"),
        # a display is 145 high, with 15 over and under it 175
        ({"display": "180 mm", "wheel": False, "dash": 0.18}, ""),
        ({"display": "180 mm", "wheel": False, "dash": 0.17}, "higher"),
        # behind an upright dash 0.25 deep less two sheets; lean it and the fore wall comes nearer
        ({"length": 0.25, "lean": 0.0, "height": 0.9, "display": "230 mm", "wheel": False}, ""),
        ({"length": 0.25, "lean": 45.0, "height": 0.9, "display": "230 mm", "wheel": False}, "behind"),
    ],
)
def test_what_does_not_go_into_the_dash_is_told(choices: dict[str, Any], word: str) -> None:
    found = [f for f in boat(**choices).findings if f.code == "DASH"]
    if word:
        assert [f.level for f in found] == ["mend"] and word in found[0].title
    else:
        assert [f.level for f in found] == ["fine"]


def test_instruments_are_seen_from_aft_between_foot_and_head_of_the_dash() -> None:
    seen = [s for s in console(gauges=2, panel=True).shapes if s.view == "across" and len(s.ring) == 4]
    bezels = [s for s in seen if s.role == "form-line"]
    assert len(bezels) == 3
    for s in bezels:
        # the dash goes from 1.0 to 1.2 m, the console from -0.5 to 0.1
        assert all(1.0 < z < 1.2 and -0.5 < y < 0.1 for _, y, z in s.ring)


@pytest.mark.parametrize(("fall", "level"), [(2.0, "fine"), (1.9, "look")])
def test_water_runs_off_its_top(fall: float, level: str) -> None:
    assert [f.level for f in boat(fall=fall).findings if f.code == "TOP-WET"] == [level]


def test_an_opening_with_a_cover_that_comes_off() -> None:
    built = console(access="fore")
    wall, cover = panel(built, "F"), panel(built, "D")
    hole = Polygon(wall.holes[0])
    x0, z0, x1, z1 = hole.bounds
    inner = 0.865 - T * math.tan(math.radians(84.2894 / 2))
    assert (x1 - x0, z1 - z0) == pytest.approx((0.595 - 0.12, inner - 0.12))
    assert cover.polygon.bounds[2] * 2 == pytest.approx(0.475 + 0.03)
    # outside on the fore wall, which ends at 2.25
    assert cover.centre[0] == pytest.approx(2.25 + T / 2)
    count = {b.label: b.quantity for b in built.bought}
    around = 2 * (0.505 + inner - 0.09)
    assert count["C1-Z"] == pytest.approx(around)
    assert count["C1-Q"] == count["C1-W"] == 4 * math.ceil(around / 4 / 0.15)


def test_a_shelf_lies_on_two_angles() -> None:
    built = console(shelf=True)
    shelf = panel(built, "B")
    assert shelf.centre[2] == pytest.approx(0.3 + 0.15 + T / 2)
    assert sum("/ledge/" in m.key for m in built.members) == 2


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [("dash", 0.6, "of top ahead"), ("wheel_up", 0.26, "at most the dash"), ("height", 0.5, "None")],
)
def test_nonsense_is_refused_with_the_limit_named(field: str, value: float, words: str) -> None:
    before = plan(fittings=[DECK, {**CONSOLE, "lean": 60.0}])
    change = SetValue(path=("fittings", "console", field), value=value)
    if words == "None":  # 0.125 of dash leave 0.375 of face
        apply(before, change)
        return
    with pytest.raises(Exception, match=words):
        apply(before, change)


SITE = Site(surface(box_lines(8.0, 8.0, 1.0)), catalogue=starting())


@settings(max_examples=60, deadline=None)
@given(
    deep=st.floats(0.3, 1.0), high=st.floats(0.7, 1.4), dash=st.floats(0.12, 0.3),
    lean=st.floats(0, 60), fall=st.floats(0, 8),
    skin=st.sampled_from(["al-2.5", "ply-12", "pvc-12"]),
)  # fmt: skip
def test_no_sheet_leaves_the_profile_and_none_stands_in_the_next(
    deep: float, high: float, dash: float, lean: float, fall: float, skin: str
) -> None:
    value = {**CONSOLE, "on": None, "length": deep, "height": high, "dash": dash, "lean": lean,
             "fall": fall, "skin": skin, "y": 0.0}  # fmt: skip
    try:
        c = console_box.ConsoleBox.model_validate(value)
    except ValueError:
        return
    t = SITE.catalogue.sheet(skin).thickness
    body = Polygon(outline(c)).buffer(1e-7)
    bands = []
    for side in sides(c, t):
        (x0, z0), (x1, z1), (ox, oz) = side.start, side.end, side.out
        bands.append(Polygon([(x0, z0), (x1, z1), (x1 + t * ox, z1 + t * oz), (x0 + t * ox, z0 + t * oz)]))
    for k, band in enumerate(bands):
        assert body.covers(band)
        for other in bands[k + 1 :]:
            assert band.intersection(other).area < 1e-9
    built = console_box.KIND.build(c, SITE)
    # mirrored across it is the same: its centre lies in its middle
    mass = sum(p.mass_kg for p in built.panels)
    assert sum(p.mass_kg * p.centre[1] for p in built.panels) / mass == pytest.approx(0.0, abs=1e-9)


def test_a_windscreen_stands_on_a_built_console_too() -> None:
    before = boat().plan
    here = derive(before)
    value = place(before, here.surface, here.footing, "windscreen").value
    # 180 mm deep at the console's fore edge (2.25), 40 mm narrower than its 600, on its top at 1.2
    assert value["size"][:2] == pytest.approx([0.18, 0.56])
    assert value["mass"]["centre"][:2] == pytest.approx([2.25 - 0.09, -0.2])
    assert value["mass"]["centre"][2] == pytest.approx(1.2 + value["size"][2] / 2)


def test_a_seat_goes_behind_its_wheel() -> None:
    before = boat().plan
    here = derive(before)
    value = place(before, here.surface, here.footing, "helm seat").value
    built = here.fitting("console")
    assert built is not None
    assert value["mass"]["centre"][:2] == pytest.approx([built.helms[0].aft_m - 0.53, -0.2], abs=1e-3)


def test_holes_that_run_into_one_another_are_one_and_are_told() -> None:
    """A display of 180 mm over the helm of a short dash: the sheet is cut once, and DASH says it."""
    derived = boat(display="180 mm", dash=0.25, wheel_up=0.12)
    built = derived.fitting("console")
    assert built is not None
    dash = next(p for p in built.panels if p.key == "console/dash")
    assert dash.polygon.is_valid and len(dash.holes) == 1
    assert [f for f in derived.findings if f.code == "DASH" and f.level == "mend"]
