"""Pods behind a vee that rises 0.2 in 1 m, from 0.3 to 0.9 m out, 0.5 m long, up to 0.5: by hand."""

import math
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.hull.mesh import box_solid, hexahedron
from stirrup.core.kinds.pods import Pods
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.plan.model import PLANNED_EMPTY
from stirrup.core.studies import swamped_of
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, wedge_lines
from tests.crossing import crossings

PODS = {"kind": "pods", "id": "pods", "name": "Pods", "mark": "P1", "top": 0.5, "inner": 0.3, "outer": 0.9,
        "long": 0.5}  # fmt: skip
MOTOR = {"id": "motor", "form": "outboard", "stage": "found", "power": 30.0, "shaft": 0.508,
         "mass": {"value": 80.0, "centre": [-0.2, 0.0, 0.7]}}  # fmt: skip
# feet at 0.06 and 0.18: 0.44 and 0.32 high
VOLUME = 0.5 * 0.6 * (0.44 + 0.32) / 2


def boat(lines: Any = None, items: Any = (), **choices: Any) -> Derived:
    return derive(from_data(build_data(lines or wedge_lines(0.2), fittings=[{**PODS, **choices}],
                                       items=list(items))))  # fmt: skip


def made(derived: Derived) -> Built:
    found = derived.fitting("pods")
    assert found is not None
    return found


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "pods")


def test_eight_corners_are_a_closed_box() -> None:
    corners = [((i & 1) * 2.0, (i >> 1 & 1) * 3.0, (i >> 2 & 1) * 4.0) for i in range(8)]
    solid = hexahedron(corners)  # type: ignore[arg-type]
    assert solid.volume_m3 == pytest.approx(24.0)
    assert solid.centroid_m == pytest.approx(box_solid((0, 0, 0), (2, 3, 4)).centroid_m)


def test_their_plates_are_in_true_shape() -> None:
    t = 0.0032
    panels = {p.label: p.polygon.area for p in made(boat()).panels}
    # the bottom slants 0.12 over 0.6
    assert panels["P1-PB"] == pytest.approx(0.5 * math.hypot(0.6, 0.12), rel=1e-4)
    assert panels["P1-PT"] == pytest.approx(0.5 * 0.6, rel=1e-4)
    # sides between bottom and top, behind them the aft end: t off its length and its top, and at its foot
    # the bottom's plate over the slope, on both faces
    foot = t * (math.hypot(1.0, 0.2) + 0.2)
    for label, high in (("P1-PC", 0.44), ("P1-PD", 0.32)):
        assert panels[label] == pytest.approx((0.5 - t) * (high - t - foot), rel=1e-4)
    ends = (0.44 - 0.2 * t, 0.32 + 0.2 * t)
    assert panels["P1-PE"] == pytest.approx((0.6 - 2 * t) * (sum(ends) / 2 - t - foot), rel=1e-3)
    assert panels["P1-SB"] == panels["P1-PB"] and panels["P1-SD"] == pytest.approx(panels["P1-PC"])
    assert crossings(boat()) == {}


def test_they_carry_her() -> None:
    """Twice 0.114 m3; plates 21 kg and more."""
    derived = boat()
    assert [v.solid.volume_m3 for v in derived.vessel.volumes] == pytest.approx([VOLUME, VOLUME])
    built = made(derived)
    values = told(derived, "PODS-LIFT").values
    assert values["litres"].value == pytest.approx(2000 * VOLUME)
    assert values["carries"].value == pytest.approx(2000 * VOLUME - built.mass_kg)
    # she lifts her stern: bow down
    bare = derive(from_data(build_data(wedge_lines(0.2))))
    trims = [next(c.report for c in d.cases if c.name == PLANNED_EMPTY) for d in (bare, derived)]
    assert trims[0] is not None and trims[1] is not None
    assert trims[1].trim_deg < trims[0].trim_deg - 0.1
    assert trims[1].list_deg == pytest.approx(0.0, abs=1e-6)


def test_aired_ones_do_not_when_she_is_swamped() -> None:
    sealed, aired = boat(), boat(inside="drained and aired")
    litres = swamped_of(sealed).present_m3 - swamped_of(aired).present_m3
    assert litres == pytest.approx(2 * VOLUME)
    # afloat they are the same
    reports = [next(c.report for c in d.cases if c.name == PLANNED_EMPTY) for d in (sealed, aired)]
    assert reports[0] is not None and reports[1] is not None
    assert reports[0].trim_deg == pytest.approx(reports[1].trim_deg)


def test_seams_and_laminate() -> None:
    """Edges of one: 2 x 0.5 on top and 2 x 0.5 below, 0.6 x 2 across on top, 0.612 x 2 below, 2 x 0.44 and
    2 x 0.32 upright."""
    seam = 4 * 0.5 + 2 * 0.6 + 2 * math.hypot(0.6, 0.12) + 2 * (0.44 + 0.32)
    parts = {b.label: b.quantity for b in made(boat()).bought}
    assert parts["P1-W"] == pytest.approx(2 * seam * 0.09, rel=1e-4)
    assert parts["P1-Q"] == 2
    glassed = boat(skin="ply-9", joined="glassed over")
    parts = {b.label: b.quantity for b in made(glassed).bought}
    area = sum(p.polygon.area for p in made(glassed).panels)
    assert parts["P1-C"] == pytest.approx(area * 2 * 1.1, rel=1e-6)


@pytest.mark.parametrize(
    ("code", "choices", "level"),
    [
        ("PODS-ROOM", {"inner": 0.28}, "fine"),
        ("PODS-ROOM", {"inner": 0.27}, "mend"),
        ("PODS-JOINT", {}, "fine"),
        ("PODS-JOINT", {"skin": "ply-9"}, "mend"),
        ("PODS-JOINT", {"joined": "glassed over"}, "mend"),
    ],
)
def test_what_is_said_of_them(code: str, choices: dict[str, Any], level: str) -> None:
    data = build_data(wedge_lines(0.2), fittings=[{**PODS, "motor": "motor", **choices}], items=[MOTOR])
    start = from_data(data)
    found = told(derive(start), code)
    assert found.level == level
    for fix in found.fixes:
        after = derive(apply(start, SetValue(path=fix.path, value=fix.value)))
        assert told(after, code).level == "fine"


def test_what_cannot_be_is_refused_in_words() -> None:
    with pytest.raises(ValidationError, match=r"at least 0\.08 m further out"):
        Pods.model_validate({**PODS, "outer": 0.35})
    for choices, word in (({"top": 0.2}, "over the bottom"), ({"outer": 1.5}, "no bottom at the transom")):
        found = next(f for f in boat(**choices).findings if f.code == "CANNOT-BUILD")
        assert word in found.text
        # what cannot be built carries nothing
        assert not boat(**choices).vessel.volumes


def test_a_first_pair() -> None:
    start = from_data(build_data(wedge_lines(0.2), items=[MOTOR]))
    here = derive(start)
    after = derive(apply(start, place(start, here.surface, here.footing, "pods")))
    assert len(after.fitting("pods-1").panels) == 10 + 4  # type: ignore[union-attr]
    assert next(f for f in after.findings if f.code == "PODS-ROOM").level == "fine"


@pytest.mark.slow
@settings(max_examples=25, deadline=None)
@given(
    lean=st.floats(0.0, 0.3), rise=st.floats(0.0, 0.3), inner=st.floats(0.05, 0.5),
    wide=st.floats(0.1, 0.4), top=st.floats(0.3, 0.9), long=st.floats(0.1, 1.5),
    skin=st.sampled_from(["al-2.0", "al-6.4", "ply-18"]),
)  # fmt: skip
def test_plates_never_stand_in_one_another(
    lean: float, rise: float, inner: float, wide: float, top: float, long: float, skin: str
) -> None:
    lines = [
        {"name": "keel", "along": "straight", "points": [[0, 0, 0], [4, 0, 0]]},
        {"name": "chine", "along": "straight", "points": [[-lean * rise, 1.0, rise], [4, 1.0, rise]]},
        {"name": "sheer", "along": "straight", "points": [[-lean, 1.0, 1.0], [4, 1.0, 1.0]]},
    ]
    derived = boat(lines, inner=inner, outer=inner + wide, top=top, long=long, skin=skin)
    if not derived.fitting("pods").panels:  # type: ignore[union-attr]
        assert any(f.code == "CANNOT-BUILD" for f in derived.findings)
        return
    assert crossings(derived) == {}
    port, other = derived.vessel.volumes
    assert port.solid.volume_m3 == pytest.approx(other.solid.volume_m3)


def test_doublers_stand_inside_the_transom_behind_each_side() -> None:
    """Sides 0.44 and 0.32 high; 30 mm less at head and foot, 100 wide. The transom is upright, its skin
    2.5."""
    derived = boat(doublers=True)
    panels = {p.label: p for p in made(derived).panels}
    for label, y, high in (("P1-PD1", 0.3, 0.44), ("P1-PD2", 0.9, 0.32), ("P1-SD1", -0.3, 0.44)):
        panel = panels[label]
        assert panel.polygon.area == pytest.approx(0.10 * (high - 0.06), rel=1e-3)
        assert panel.centre[1] == pytest.approx(y, abs=1e-6)
        assert panel.centre[0] > 0.0 and panel.centre[0] < 0.01
    assert told(derived, "PODS-TRAY").level == "fine"
    bare = told(boat(), "PODS-TRAY")
    assert bare.level == "look" and bare.fixes[0].value is True


def test_rails_tray_tread_and_ladder() -> None:
    """Rails of 40 mm by 0.5 m; a tray of 0.5 by 2 x (0.3 - 0.01); tread on 2 x 0.6 x 0.5; a ladder in the
    middle of the port pod's aft upper edge, at (-0.5, 0.6, 0.5)."""
    derived = boat(rails=True, tray=True, cover="non-skid", ladder="port")
    built = made(derived)
    panels = {p.label: p for p in built.panels}
    assert panels["P1-PR"].polygon.area == pytest.approx(0.5 * 0.04, rel=1e-4)
    assert panels["P1-PR"].centre[1] == pytest.approx(0.92) and panels["P1-SR"].centre[1] == pytest.approx(
        -0.92
    )
    assert panels["P1-Y"].polygon.area == pytest.approx(0.5 * 0.58, rel=1e-4)
    (climb,) = built.climbs
    assert climb == pytest.approx((-0.5, 0.6, 0.5), abs=1e-3)
    parts = {b.label: b for b in built.bought}
    assert parts["P1-C"].quantity == pytest.approx(2 * 0.6 * 0.5, rel=1e-3) and parts["P1-L"].quantity == 1
    assert crossings(derived) == {}


def test_a_tray_where_the_motor_hangs_is_told() -> None:
    found = told(boat(items=[MOTOR], motor="motor", tray=True, doublers=True), "PODS-TRAY")
    assert found.level == "mend" and found.fixes[0].value is False
    assert told(boat(items=[MOTOR], motor="motor", doublers=True), "PODS-TRAY").level == "fine"


def test_bolted_on_they_are_closed_boxes_with_flanges() -> None:
    """Sides of 0.44 and 0.32 and a top of 0.6 on an upright transom: bolts every 100 mm at most over each
    length less 50: 5 (0.385: four bays), 4 (0.265: three) and 7 (0.55: six) to a pod. The flanges of the
    sides begin 5 mm over the bottom plate."""
    derived = boat(joined="bolted")
    built = made(derived)
    parts = {p.label: p for p in built.parts}
    areas = {p.label: p.polygon.area for p in built.panels}
    assert areas["P1-PA"] == pytest.approx(areas["P1-PE"], rel=1e-6)
    strips = (areas["P1-PF1"], areas["P1-PF2"], areas["P1-PF3"])
    assert strips == pytest.approx((0.435 * 0.05, 0.315 * 0.05, 0.6 * 0.05), rel=1e-4)
    assert strips == pytest.approx((areas["P1-SF1"], areas["P1-SF2"], areas["P1-SF3"]))
    assert parts["P1-Z"].quantity == parts["P1-ZN"].quantity == 2 * (5 + 4 + 7)  # type: ignore[union-attr]
    # flange 3.2, bed 3, transom
    grip = 0.0032 + 0.003 + derived.plan.hull.skin.side
    bolt: Any = parts["P1-Z"].entry  # type: ignore[union-attr]
    assert bolt.grip_min <= grip <= bolt.grip_max
    # nothing is welded in her, and the work is that of a closed box all the same
    assert built.seams == () and built.joined == ""
    assert told(derived, "PODS-JOINT").title.startswith("Each bolt is a hole")
    assert told(derived, "PODS-WORK").title == "Nobody welds a closed box"
    assert crossings(derived) == {}
    # a wooden box is not bolted so
    assert told(boat(joined="bolted", skin="ply-12"), "PODS-JOINT").level == "mend"


def test_a_doubler_makes_their_bolts_longer() -> None:
    """Plates of 6.4: flange, bed of 3 and transom; with a doubler 6.4 more than the first bolt holds."""
    bolts: list[Any] = []
    for doublers in (False, True):
        derived = boat(joined="bolted", skin="al-6.4", doublers=doublers)
        grip = 0.0064 * (1 + doublers) + 0.003 + derived.plan.hull.skin.side
        bolt: Any = next(p for p in made(derived).bought if p.label == "P1-Z").entry
        assert bolt.grip_min <= grip <= bolt.grip_max
        bolts.append(bolt)
    assert bolts[0].grip_max < 2 * 0.0064 + 0.003 + 0.0025


def test_mirrored_pods_are_bolted_alike() -> None:
    parts = {p.label: p for p in made(boat(joined="bolted")).panels}
    for label, panel in parts.items():
        if label.startswith("P1-PF"):
            (x, y, z), (u, v, w) = panel.frame.origin, parts[label.replace("-P", "-S")].frame.origin
            assert (u, v, w) == pytest.approx((x, -y, z))
