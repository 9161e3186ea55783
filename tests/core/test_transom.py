"""A transom rebuilt in a box 2 m wide and 1 m deep with skins of 2.5 and 3 mm, worked by hand."""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.cutting.marking_out import marked_out
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.kinds.transom.loads import Asked, asked_of, stress_pa, strip_m, thrust_n
from stirrup.core.plan.changes import SetValue, apply
from stirrup.exchange.buildfile import from_data
from tests.boats import box_lines, build_data, derive
from tests.crossing import crossings, through_skin

MOTOR = {"id": "motor", "form": "outboard", "stage": "found", "mounted": 0.52, "power": 30.0,
         "shaft": 0.508, "mass": {"value": 80.0, "centre": [-0.2, 0.0, 0.7]}}  # fmt: skip
TRANSOM = {"kind": "transom", "id": "transom", "name": "Transom", "mark": "W1", "top": 0.52,
           "notch": 0.75, "motor": "motor"}  # fmt: skip
# inside of the box: 0.9975 to either side, 3 mm over the keel line; less a gap of 4 mm
WIDE, FOOT = 2 * (0.9975 - 0.004), 0.003 + 0.0002 + 0.004
HIGH = 0.999 - FOOT  # 1 mm under her sheer


def boat(motor: dict[str, Any] | None = None, lines: Any = None, more: Any = (), **choices: Any) -> Derived:
    return derive(from_data(data(motor, lines, more, **choices)))


def data(motor: dict[str, Any] | None = None, lines: Any = None, more: Any = (), **choices: Any) -> Any:
    items = [{**MOTOR, **(motor or {})}, *more]
    return build_data(lines, fittings=[{**TRANSOM, **choices}], items=items)


def made(derived: Derived) -> Built:
    found = derived.fitting("transom")
    assert found is not None
    return found


def told(code: str, *args: Any, **choices: Any) -> Finding:
    return next(f for f in boat(*args, **choices).findings if f.code == code and f.place == "transom")


def test_its_outline_in_a_box() -> None:
    """1.987 by 0.992, cut down by 0.479 over 0.75; each of two inner corners is filled by r² (1 - pi/4)."""
    first, second, backing = made(boat()).panels
    area = WIDE * HIGH - 0.75 * 0.479 + 2 * 0.05**2 * (1 - math.pi / 4)
    holes = 4 * math.pi / 4 * 0.0126**2
    assert first.polygon.area == pytest.approx(area - holes, abs=6e-4)
    assert second.outline == first.outline
    # 2.5 mm of skin; layers of 18 mm; the plate of 6.35 mm under the nuts after them
    assert first.frame.origin[0] == pytest.approx(0.0025 + 0.009)
    assert second.frame.origin[0] == pytest.approx(0.0025 + 0.027)
    assert backing.frame.origin[0] == pytest.approx(0.0025 + 0.036 + backing.sheet.thickness / 2)


def test_its_mounting_top_is_told_on_its_panel_page() -> None:
    """Between two rounded corners no corner tells how high it is: the edge itself does."""
    out = marked_out(made(boat()).panels[0])
    low = 0.004  # its foot lies so far over the box of its plane's foot
    assert min(out.straight[1], key=lambda v: abs(v - (0.52 - 0.0032 - low))) == pytest.approx(
        0.52 - 0.0032 - low, abs=5e-4
    )
    half = out.size[0] / 2
    want = (0.0, half - 0.375, half + 0.375, 2 * half)
    assert out.straight[0] == pytest.approx(want, abs=5e-4)


def test_the_motors_holes() -> None:
    """327 apart 50 mm under the mounting top, 251 apart 203 mm under those."""
    first, _, backing = made(boat()).panels
    found = sorted((round(sum(y for y, _ in r) / len(r), 3), round(sum(u for _, u in r) / len(r), 3))
                   for r in first.holes)  # fmt: skip
    up = 0.52 - 0.003 - 0.0002  # along its plane from its foot
    want = [(-0.1635, up - 0.05), (-0.1255, up - 0.253), (0.1255, up - 0.253), (0.1635, up - 0.05)]
    assert found == [(pytest.approx(y, abs=6e-4), pytest.approx(u, abs=6e-4)) for y, u in want]
    assert len(backing.holes) == 4
    assert not made(boat(motor_held="clamped")).panels[0].holes
    aside = made(boat({"mass": {"value": 80.0, "centre": [-0.2, 0.1, 0.7]}})).panels[0]
    assert sum(y for r in aside.holes for y, _ in r) / sum(map(len, aside.holes)) == pytest.approx(
        0.1, abs=1e-3
    )


def test_one_that_leans_aft() -> None:
    """Its sheer 0.25 m abaft its keel over 1 m: sheets lie in that plane and are longer by its slant."""
    lines = box_lines()
    lines[2]["points"][0] = [-0.25, 1.0, 1.0]
    panel = made(boat(lines=lines, notch=0.0, top=0.98)).panels[0]
    slant = math.hypot(1.0, 0.25)
    x, _, z = panel.frame.across
    assert (x, z) == pytest.approx((-0.25 / slant, 1 / slant), abs=2e-3)
    _, low, _, high = panel.polygon.bounds
    assert high - low == pytest.approx((0.98 - 0.0032) * slant - 0.004, abs=3e-3)


def test_one_that_leans_forward_clears_the_bottom_with_its_inner_corner() -> None:
    """18 mm thick and 0.25 in 1: its square foot would stand 2 mm in the skin."""
    lines = box_lines()
    lines[2]["points"][0] = [0.25, 1.0, 1.0]
    for panel in made(boat(lines=lines, notch=0.0, top=0.8, gap=0.0)).panels[:2]:
        square = np.cross(panel.frame.along, panel.frame.across)[2] * panel.sheet.thickness / 2
        lowest = min(panel.frame.at(u, v)[2] for u, v in panel.outline) - abs(square)
        assert lowest >= 0.003 - 1e-4


def test_holes_go_square_through_all_layers_of_one_that_leans() -> None:
    lines = box_lines()
    lines[2]["points"][0] = [-0.25, 1.0, 1.0]
    first, second, plate = made(boat(lines=lines)).panels
    ends = []
    for panel in (first, second, plate):
        u, v = (sum(p[k] for p in panel.holes[0]) / len(panel.holes[0]) for k in (0, 1))
        ends.append(panel.frame.at(u, v))
    (x0, y0, z0), (x1, y1, z1), last = ends
    # 18 mm on along (1, 0, 0.25) / 1.031
    assert (x1 - x0, y1 - y0, z1 - z0) == (
        pytest.approx(0.018 / 1.0308, abs=2e-4), pytest.approx(0.0, abs=1e-9),
        pytest.approx(0.018 * 0.25 / 1.0308, abs=2e-4))  # fmt: skip
    # the plate under the nuts on the same line
    way = np.cross(np.subtract(last, ends[0]), (1.0, 0.0, 0.25))
    assert np.linalg.norm(way) / 1.0308 < 2e-4


def test_a_motor_that_hangs_higher_than_the_sheer() -> None:
    panel = made(boat({"mounted": 1.1}, top=1.1)).panels[0]
    y0, _, y1, high = panel.polygon.bounds
    assert high == pytest.approx(1.1 - 0.0032, abs=1e-3) and y1 - y0 == pytest.approx(WIDE, abs=1e-3)
    assert panel.polygon.area == pytest.approx(WIDE * HIGH + 0.75 * 0.101, abs=3e-3)


def test_what_is_bought_for_it() -> None:
    parts = {b.label: b.quantity for b in made(boat()).bought}
    area = WIDE * HIGH - 0.75 * 0.479 + 0.00107
    bedded = WIDE + 2 * HIGH
    tape = bedded * (0.15 + 0.20) * 1.1
    edge = (bedded + WIDE + 2 * 0.48) * 0.036 * 0.45  # its rim, less little for its corners
    wet = 2 * 1.1 * area * 0.82 * (1 / 0.43 - 1) + tape * 0.6 * (1 / 0.48 - 1) + edge
    assert parts["W1-G"] == pytest.approx(2 * area * 0.6, rel=2e-3)
    assert parts["W1-C"] == pytest.approx(2 * area * 1.1, rel=2e-3)
    assert parts["W1-T"] == pytest.approx(tape, rel=5e-3)
    assert parts["W1-R"] == pytest.approx(wet, rel=1e-2)
    assert parts["W1-M"] == 4
    bolted = {b.label: b.quantity for b in made(boat(joined="bolted in", inside="plate")).bought}
    # every 0.2 m of 3.973 m, one at each end
    assert bolted["W1-E"] == 21 and "W1-T" not in bolted and "W1-C" not in bolted


def test_thrust_at_rest_and_its_moment() -> None:
    """0.65 (2 x 1000 x 0.06158 m2 x 30000² W²)^(1/3) = 3122 N; with its shock 4684 N on a lever of
    0.508 + 0.165 - 0.050 - 0.1015 m: 2442 N m. In a slam 80 x 3 x 9.81 N at 0.1975 m: 465 N m."""
    assert thrust_n(30000.0, 0.28) == pytest.approx(3122.4, rel=1e-3)
    a = asked_of(30000.0, 0.508, 0.28, 80.0, 0.1975)
    assert (a.by_thrust, a.by_slam) == (pytest.approx(2442.5, rel=1e-3), pytest.approx(465.0, rel=1e-3))
    # 2442.5 / 0.203 / 2 + 4683.6 / 4
    assert a.pull == pytest.approx(6016.0 + 1170.9, rel=1e-3)
    assert Asked(100.0, 0.5, 1000.0, 0.4).pull == pytest.approx(400 / 0.203 / 2)
    # 2442.5 x 6 / (0.981 x 0.036²) = 11.53 MPa
    assert stress_pa(2442.5, strip_m(1.987), 0.036) == pytest.approx(11.53e6, rel=1e-3)
    assert strip_m(0.5) == 0.5


@pytest.mark.parametrize(
    ("code", "choices", "level"),
    [
        # 5 + 36 mm and two plies of 0.82 / 0.43 / 1600 = 1.19 mm
        ("TRANSOM-THICK", {}, "fine"),
        ("TRANSOM-THICK", {"layers": 1}, "mend"),  # 25
        ("TRANSOM-THICK", {"layers": 4}, "mend"),  # 79
        # 7187 N on washers: 6 MPa over pi/4 (44² - 13²) = 8325 N in wood, 4 MPa 5550 in board
        ("TRANSOM-BOLTS", {"backing": "large washers"}, "fine"),
        ("TRANSOM-BOLTS", {"backing": "large washers", "core": "pu-416-19"}, "mend"),
        ("TRANSOM-BOLTS", {"core": "pu-416-19"}, "fine"),
        # 11.5 of 38 / 3 = 12.7 MPa; of 30 mm 16.6
        ("TRANSOM-BENDS", {}, "fine"),
        ("TRANSOM-BENDS", {"core": "ply-15"}, "mend"),
        ("TRANSOM-TOP", {}, "fine"),
        ("TRANSOM-TOP", {"top": 0.524}, "mend"),
    ],
)
def test_what_it_holds(code: str, choices: dict[str, Any], level: str) -> None:
    assert told(code, **choices).level == level


def test_no_room_for_four_bolts() -> None:
    found = told("TRANSOM-BOLTS", {"mounted": 0.25}, top=0.25)
    assert found.level == "mend" and "No room" in found.title
    built = made(boat({"mounted": 0.25}, top=0.25))
    assert not built.panels[0].holes and not [p for p in built.panels if p.key.endswith("backing")]


def test_remedies_do_what_they_say() -> None:
    soft = {"backing": "large washers", "core": "pu-416-19"}
    rows = (("TRANSOM-BENDS", {"core": "ply-15"}), ("TRANSOM-TOP", {"top": 0.55}), ("TRANSOM-BOLTS", soft))
    for code, choices in rows:
        start = from_data(data(**choices))
        found = next(f for f in derive(start).findings if f.code == code)
        assert found.fixes
        for fix in found.fixes:
            after = derive(apply(start, SetValue(path=fix.path, value=fix.value)))
            assert next(f for f in after.findings if f.code == code).level == "fine"


def test_what_is_not_known_is_said() -> None:
    assert told("TRANSOM-BENDS", {"power": None}).level == "look"
    assert told("TRANSOM-TOP", {"mounted": None}).level == "look"
    codes = {f.code for f in boat(motor_held="clamped").findings}
    assert "TRANSOM-BOLTS" not in codes and "TRANSOM-BENDS" in codes
    # nothing hangs on it, as behind a jet: one layer is as good as two. Laminate on metal is told
    bare = derive(from_data(build_data(fittings=[{**TRANSOM, "motor": None, "layers": 1}])))
    assert {f.code for f in bare.findings if f.place == "transom"} == {"TRANSOM-WORK", "HULL-JOINT"}
    assert not made(bare).panels[0].holes


def test_bolts_that_nobody_stocks_are_told() -> None:
    """Five layers of 38 mm: over the 125 mm that the longest M12 holds."""
    found = [f for f in boat(core="pu-416-38", layers=5).findings if f.code == "GRIP" and f.level == "mend"]
    assert any(f.place == "transom" and "no fastener in stock" in f.title for f in found)


def test_something_stands_where_it_comes() -> None:
    """A box against the old transom, 40 mm forward of its skin clear of the new core."""
    box = {"id": "box", "form": "box", "stage": "added", "size": [0.3, 0.3, 0.3]}
    for x, clash in ((0.17, True), (0.21, False)):
        there = {**box, "mass": {"value": 5.0, "centre": [x, 0.5, 0.16]}}
        found = boat(more=[there]).findings
        assert (
            any(f.code == "CLASH" and {f.place, f.other} == {"box", "transom"} for f in found) == clash
        ), x


def test_a_first_one_is_as_high_as_its_motor_hangs() -> None:
    start = from_data(build_data(items=[MOTOR]))
    here = derive(start)
    (fitting,) = apply(start, place(start, here.surface, here.footing, "transom")).fittings
    assert (fitting.top, fitting.notch, fitting.motor) == (0.52, 0.75, "motor")
    bare = from_data(build_data())
    here = derive(bare)
    (fitting,) = apply(bare, place(bare, here.surface, here.footing, "transom")).fittings
    assert (fitting.top, fitting.notch, fitting.motor) == (pytest.approx(0.999), 0.0, None)


@pytest.mark.slow
@settings(max_examples=25, deadline=None)
@given(
    lean=st.floats(-0.15, 0.35), rise=st.floats(0.0, 0.3), top=st.floats(0.3, 1.2),
    notch=st.one_of(st.just(0.0), st.floats(0.3, 1.5)),
    layers=st.integers(1, 4), gap=st.floats(0.0, 0.02), y=st.floats(-0.3, 0.3), radius=st.floats(0.0, 0.2),
)  # fmt: skip
def test_it_stays_in_the_hull(
    lean: float, rise: float, top: float, notch: float, layers: int, gap: float, y: float, radius: float
) -> None:
    lines = [
        {"name": "keel", "along": "straight", "points": [[0, 0, 0], [4, 0, 0]]},
        {"name": "chine", "along": "straight", "points": [[-lean * rise, 0.9, rise], [4, 0.9, rise]]},
        {"name": "sheer", "along": "straight", "points": [[-lean, 1.0, 1.0], [4, 1.0, 1.0]]},
    ]
    motor = {"mass": {"value": 80.0, "centre": [-0.2, y, 0.7]}, "mounted": top}
    derived = boat(motor, lines, top=top, notch=notch, layers=layers, gap=gap, corner=radius)
    built = derived.fitting("transom")
    if built is None or not built.panels:
        assert any(f.code == "CANNOT-BUILD" for f in derived.findings)
        return
    assert all(p.polygon.is_valid and p.polygon.area > 0 for p in built.panels)
    if top <= 0.95:  # over the sheer there is no skin to cross
        assert through_skin(derived) == {}
    assert crossings(derived) == {}
