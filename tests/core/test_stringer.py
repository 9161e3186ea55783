"""Stringers in a vee that rises 0.2 m to its chine 1 m out, skins of 3 mm, worked by hand."""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.kinds.stringer import Stringer
from stirrup.core.plan.changes import SetValue, apply
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, wedge_lines
from tests.crossing import crossings

STRINGER = {"kind": "stringer", "id": "stringer", "name": "Stringer", "mark": "J1", "aft": 0.2, "fore": 2.2,
            "y": 0.4, "top": 0.2, "limber": 0.0, "taper": 0.0}  # fmt: skip
SKIN_Z = 0.003 * math.hypot(1.0, 0.2)  # of a skin of 3 mm, measured upright over a slope of 0.2


def boat(lines: Any = None, more: Any = (), **choices: Any) -> Derived:
    return derive(from_data(data(lines, more, **choices)))


def data(lines: Any = None, more: Any = (), **choices: Any) -> Any:
    return build_data(lines or wedge_lines(0.2), fittings=[{**STRINGER, **choices}, *more])


def made(derived: Derived, id_: str = "stringer") -> Built:
    found = derived.fitting(id_)
    assert found is not None
    return found


def told(code: str, **choices: Any) -> Finding:
    return next(f for f in boat(**choices).findings if f.code == code and f.place == "stringer")


def test_its_layers_over_a_sloping_bottom() -> None:
    """18 mm each, from 0.382 to 0.418 out: outer faces decide, at 0.400 and 0.418, over 6 mm of bed."""
    first, second = made(boat()).panels
    for panel, y in ((first, 0.400), (second, 0.418)):
        foot = 0.2 * y + SKIN_Z + 0.006
        assert panel.polygon.bounds == pytest.approx((0.0, foot, 2.0, 0.2), abs=2e-4)
        assert panel.polygon.area == pytest.approx(2.0 * (0.2 - foot), abs=3e-4)
    assert (first.frame.origin[1], second.frame.origin[1]) == pytest.approx((0.391, 0.409))
    # to starboard it is the other faces, as far out
    port = sum(p.mass_kg for p in made(boat()).panels)
    assert sum(p.mass_kg for p in made(boat(y=-0.4)).panels) == pytest.approx(port, rel=1e-6)


def test_limber_holes_and_tapers() -> None:
    plain = made(boat()).panels[0].polygon.area
    # two half rounds of 40 mm, 0.5 m and 1.5 m from its aft end
    holed = made(boat(limber=0.04, limber_every=1.0)).panels[0].polygon
    assert plain - holed.area == pytest.approx(2 * math.pi * 0.02**2 / 2, rel=0.02)
    # from 25 mm to all of it over 0.3 m at both ends: a triangle of 0.3 by what is over 25 mm at each
    high = 0.2 - (0.2 * 0.4 + SKIN_Z + 0.006)
    tapered = made(boat(taper=0.3)).panels[0].polygon
    assert plain - tapered.area == pytest.approx(0.3 * (high - 0.025), rel=0.01)


def test_a_long_one_is_butted_with_joints_apart() -> None:
    """3.4 m of sheets of 2.44: two pieces, and three in the next layer with joints at quarters."""
    panels = made(boat(aft=0.2, fore=3.6)).panels
    ends = {p.label: (round(p.polygon.bounds[0], 2), round(p.polygon.bounds[2], 2)) for p in panels}
    assert ends == {"J1-L1.1": (0.0, 1.7), "J1-L1.2": (1.7, 3.4), "J1-L2.1": (0.0, 0.85),
                    "J1-L2.2": (0.85, 2.55), "J1-L2.3": (2.55, 3.4)}  # fmt: skip
    assert told("STRINGER-JOINT", aft=0.2, fore=3.6, layers=1).title == "Its only layer is butted"
    assert told("STRINGER-JOINT", aft=0.2, fore=3.6).level == "fine"


def test_what_is_bought_for_it() -> None:
    """High 0.2 - 0.08 - 0.00306 = 0.1169 in the middle: girth 2 x 0.1169 + 0.036 + 0.2 = 0.4699 m."""
    built = made(boat())
    parts = {b.label: b.quantity for b in built.bought}
    girth = 2 * (0.12 - SKIN_Z) + 0.036 + 0.2
    cloth = 2.0 * girth * 2 * 1.1
    assert parts["J1-C"] == pytest.approx(cloth, rel=1e-3)
    assert parts["J1-R"] == pytest.approx(cloth * 0.82 * (1 / 0.43 - 1), rel=1e-3)
    area = np.mean([p.polygon.area for p in built.panels])
    assert parts["J1-G"] == pytest.approx(area * 0.6, rel=1e-6)
    # bed of 6 by 36 mm and two fillets of 12 mm, of putty of 1250 kg/m3
    section = 0.006 * 0.036 + 2 * (1 - math.pi / 4) * 0.012**2
    assert parts["J1-B"] == pytest.approx(2.0 * section * 1250, rel=1e-6)


def test_how_stiff_it_is() -> None:
    """h 0.1169, b 0.036: core 7.5e9 x 0.036 x h³ / 12; plies 2 x 0.82 / 0.43 / 1600 = 2.38 mm of 11 GPa on
    both sides and on top."""
    h, t = 0.12 - SKIN_Z, 2 * 0.82 / 0.43 / 1600
    core = 7.5e9 * 0.036 * h**3 / 12
    skins = 11e9 * (2 * t * h**3 / 12 + 0.036 * t * (h / 2) ** 2)
    assert told("STRINGER-STIFF").values["ei"].value == pytest.approx(core + skins, rel=2e-3)
    assert told("STRINGER-STIFF", core="alcomb-19").level == "look"


@pytest.mark.parametrize(
    ("code", "choices", "level"),
    [
        ("STRINGER-JOINT", {}, "fine"),
        ("STRINGER-JOINT", {"gap": 0.0}, "look"),
        ("STRINGER-JOINT", {"core": "al-4.8", "layers": 1}, "mend"),
        ("STRINGER-JOINT", {"core": "al-4.8", "layers": 1, "joined": "welded"}, "fine"),
        ("STRINGER-WATER", {"limber": 0.04}, "fine"),
        ("STRINGER-WATER", {}, "look"),
    ],
)
def test_what_is_said_of_it(code: str, choices: dict[str, Any], level: str) -> None:
    found = told(code, **choices)
    assert found.level == level
    for fix in found.fixes:
        after = derive(apply(from_data(data(**choices)), SetValue(path=fix.path, value=fix.value)))
        assert next(f for f in after.findings if f.code == code).level == "fine"


def test_its_bevel_is_the_slope_under_it() -> None:
    values = told("STRINGER-JOINT").values
    assert values["aft"].value == pytest.approx(math.degrees(math.atan(0.2)), abs=0.01)


def test_a_splayed_one_runs_aslant() -> None:
    panel = made(boat(y_fore=0.2)).panels[0]
    x, y, _ = panel.frame.along
    assert (x, y) == pytest.approx((2 / math.hypot(2, 0.2), -0.2 / math.hypot(2, 0.2)))
    _, _, long, _ = panel.polygon.bounds
    assert long == pytest.approx(math.hypot(2, 0.2), abs=1e-4)
    # mirrored it weighs the same and lies as far out
    other = made(boat(y=-0.4, y_fore=-0.2))
    assert sum(p.mass_kg for p in other.panels) == pytest.approx(sum(p.mass_kg for p in made(
        boat(y_fore=0.2)).panels))  # fmt: skip


def test_bulkheads_and_bearers_are_cut_round_it() -> None:
    wall = {"kind": "bulkhead", "id": "wall", "name": "Bulkhead", "mark": "V1", "x": 0.35, "top": 0.6}
    floor = {"kind": "floor", "id": "floor", "name": "Floor", "mark": "F1", "aft": 0.5, "fore": 2.0,
             "height": 0.25}  # fmt: skip
    derived = boat(more=[wall, floor])
    assert crossings(derived) == {}
    (panel,) = made(derived, "wall").panels
    # 3 mm clear of it on either side, 18 mm from its middle
    room = panel.polygon
    assert not room.contains(_at(0.4, 0.15)) and room.contains(_at(0.4, 0.21))
    assert not room.contains(_at(0.4 + 0.0205, 0.15)) and room.contains(_at(0.4 + 0.0215, 0.15))
    # moved, they follow
    aside = made(boat(more=[wall, floor], y=0.6), "wall").panels[0].polygon
    assert aside.contains(_at(0.4, 0.15)) and not aside.contains(_at(0.6, 0.17))


def test_bearers_are_notched_where_a_splayed_one_passes_them() -> None:
    """From 0.7 to 0.3 out over 2 m: a bearer is cut 42 mm wide there, and whole beside it."""
    floor = {"kind": "floor", "id": "floor", "name": "Floor", "mark": "F1", "aft": 0.5, "fore": 2.0,
             "height": 0.25, "limber": 0.0}  # fmt: skip
    derived = boat(more=[floor], y=0.7, y_fore=0.3)
    bearers = [p for p in made(derived, "floor").panels if "/bearer/" in p.key]
    middle = next(p for p in bearers if abs(p.frame.origin[0] - 1.2) < 0.25)
    at = 0.7 - 0.2 * (middle.frame.origin[0] - 0.2)
    assert not middle.polygon.contains(_at(at, 0.18))
    assert middle.polygon.contains(_at(at - 0.06, 0.18)) and middle.polygon.contains(_at(at + 0.06, 0.18))


def _at(y: float, z: float) -> Any:
    from shapely.geometry import Point

    return Point(y, z)


def test_what_cannot_be_is_refused_in_words() -> None:
    with pytest.raises(ValidationError, match=r"accepted: at least 0\.3 m further forward"):
        Stringer.model_validate({**STRINGER, "fore": 0.4})
    low = next(f for f in boat(top=0.1).findings if f.code == "CANNOT-BUILD")
    assert "over the bottom" in low.text
    out = next(f for f in boat(y=2.0).findings if f.code == "CANNOT-BUILD")
    assert "no bottom under it" in out.text


def test_a_first_one() -> None:
    start = from_data(build_data(wedge_lines(0.2)))
    here = derive(start)
    after = apply(start, place(start, here.surface, here.footing, "stringer_new"))
    assert made(derive(after), after.fittings[0].id).panels


@pytest.mark.slow
@settings(max_examples=40, deadline=None)
@given(
    rise=st.floats(0.0, 0.4), aft=st.floats(0.1, 1.5), long=st.floats(0.4, 2.2), y=st.floats(-0.7, 0.7),
    splay=st.floats(-0.2, 0.2), deep=st.floats(0.05, 0.3), rises=st.floats(-2.0, 3.0),
    layers=st.integers(1, 4), taper=st.floats(0.0, 1.0), limber=st.floats(0.0, 0.1),
    gap=st.floats(0.0, 0.02),
)  # fmt: skip
def test_it_stays_over_the_bottom(
    rise: float, aft: float, long: float, y: float, splay: float, deep: float, rises: float, layers: int,
    taper: float, limber: float, gap: float,
) -> None:  # fmt: skip
    top = rise * (abs(y) + abs(splay) + 0.05) + 0.06 + deep
    derived = boat(wedge_lines(rise), aft=aft, fore=aft + long, y=y, y_fore=y + splay, top=top, rises=rises,
                   layers=layers, taper=taper, limber=limber, gap=gap)  # fmt: skip
    built = derived.fitting("stringer")
    if built is None or not built.panels:
        assert any(f.code == "CANNOT-BUILD" for f in derived.findings)
        return
    assert all(p.polygon.is_valid and p.polygon.area > 0 for p in built.panels)
    # every corner on both faces over the vee: rise |y| and 3 mm of skin, square to it; less a scribed line
    for panel in built.panels:
        ax = panel.frame.along[0]
        for u, v in panel.outline:
            for side in (-0.5, 0.5):
                _, at, z = panel.frame.at(u, v)
                out = at + side * panel.sheet.thickness * ax
                assert z >= rise * abs(out) + 0.003 * math.hypot(1.0, rise) - 2.5e-4, (u, v)
    assert crossings(derived) == {}


def test_hollow_its_webs_end_under_a_cap() -> None:
    """Two webs of 18 mm with 60 mm between: 96 mm wide, a cap of 96 by 2.0 m in its top 18 mm. From 0.352
    to 0.448 out: the webs' outer faces lie at 0.370 and 0.448."""
    first, second, cap = made(boat(hollow=0.06)).panels
    for panel, y in ((first, 0.370), (second, 0.448)):
        foot = 0.2 * y + SKIN_Z + 0.006
        assert panel.polygon.bounds == pytest.approx((0.0, foot, 2.0, 0.2 - 0.018), abs=2e-4)
    assert cap.label == "J1-T" and cap.polygon.area == pytest.approx(2.0 * 0.096, rel=1e-3)
    assert cap.centre == pytest.approx((1.2, 0.4, 0.191), abs=1e-4)
    # glued on the edges of its webs only: 2 x 18 mm
    glue = {b.label: b.quantity for b in made(boat(hollow=0.06)).bought}["J1-G"]
    assert glue == pytest.approx(2.0 * 0.036 * 0.6, rel=2e-3)
    assert crossings(boat(hollow=0.06)) == {}


def test_hollow_it_is_as_stiff_as_its_webs_and_cap() -> None:
    """h 0.1169: webs 0.036 h³ / 12, the cap between them 0.06 x 18 mm at (h - 18 mm) / 2, plies as before
    over 96 mm."""
    h, t = 0.12 - SKIN_Z, 2 * 0.82 / 0.43 / 1600
    core = 7.5e9 * (0.036 * h**3 / 12 + 0.06 * 0.018 * ((h - 0.018) / 2) ** 2)
    skins = 11e9 * (2 * t * h**3 / 12 + 0.096 * t * (h / 2) ** 2)
    found = told("STRINGER-STIFF", hollow=0.06).values["ei"].value
    # its bottom is higher under its outer face, by 0.2 x 48 mm instead of 18
    assert found == pytest.approx(core + skins, rel=5e-3)


def test_one_layer_may_have_doublers_behind_its_joints() -> None:
    """3.4 m of a sheet of 2.44 in two, butted at 1.7: 8 x 18 mm of doubler either way, on its inner
    face."""
    long = {"aft": 0.2, "fore": 3.6, "layers": 1, "doubled": True}
    panels = {p.label: p for p in made(boat(**long)).panels}
    assert panels.keys() == {"J1-L1.1", "J1-L1.2", "J1-D1"}
    doubler = panels["J1-D1"]
    high = 0.2 - 0.08 - SKIN_Z - 0.006
    assert doubler.polygon.bounds[2] - doubler.polygon.bounds[0] == pytest.approx(0.288)
    assert doubler.polygon.bounds[3] - doubler.polygon.bounds[1] == pytest.approx(0.9 * high, abs=1e-4)
    assert doubler.centre[:2] == pytest.approx((1.9, 0.4 - 0.018))
    assert told("STRINGER-JOINT", **long).level == "fine"
    (fix,) = told("STRINGER-JOINT", **{**long, "doubled": False}).fixes
    assert fix.path == ("fittings", "stringer", "doubled") and fix.value is True
    # the other side's lies on its own inner face
    other = next(p for p in made(boat(**{**long, "y": -0.4})).panels if p.label == "J1-D1")
    assert other.centre[1] == pytest.approx(-0.382)


@pytest.mark.parametrize(
    ("deep", "level"),
    # 0.1169 high in the middle: 40 % of it is 46.8 mm
    [(0.04, "fine"), (0.0465, "fine"), (0.0472, "mend")],
)  # fmt: skip
def test_a_notch_for_a_pump(deep: float, level: str) -> None:
    notch = {"notch": 0.2, "notch_at": 1.0, "notch_deep": deep}
    assert told("STRINGER-NOTCH", **notch).level == level
    plain, cut = (made(boat(**c)).panels[0].polygon.area for c in ({}, notch))
    assert plain - cut == pytest.approx(0.2 * deep, rel=1e-3)
    assert told("STRINGER-NOTCH", **{**notch, "notch_at": 1.95}).title == "Its notch is not within it"


def test_hollow_needs_two_layers() -> None:
    with pytest.raises(ValidationError, match=r"hollow: read 0\.06 m with one layer"):
        Stringer.model_validate({**STRINGER, "layers": 1, "hollow": 0.06})
    with pytest.raises(ValidationError, match=r"notch: read 0\.1 m in a hollow one"):
        Stringer.model_validate({**STRINGER, "hollow": 0.06, "notch": 0.1})


def test_over_foam_its_plies_carry_it() -> None:
    """A former: two plies over it are told, three are not; over plywood two are enough."""
    few = told("STRINGER-STIFF", core="core-20", plies=2)
    assert few.level == "look" and few.fixes[0].value == 3
    assert told("STRINGER-STIFF", core="core-20", plies=3).level == "fine"
    assert told("STRINGER-STIFF", plies=2).level == "fine"
