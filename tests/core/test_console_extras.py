"""What a console has besides its box: chase into the floor, foot rest, rails; worked by hand on a floor of
12 mm plywood at 0.1 m in a box."""

import math
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from pydantic import ValidationError
from shapely.geometry import Polygon

from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.kinds.console_box import ConsoleBox
from tests.boats import derive, plan
from tests.core.test_console_box import CONSOLE
from tests.core.test_floor import FLOOR
from tests.crossing import crossings

# between two bearers
HERE = {**CONSOLE, "on": "floor", "x": 1.4, "chase": True}


def boat(**choices: Any) -> Derived:
    return derive(plan(fittings=[{**FLOOR, "aft": 0.3, "fore": 3.0}, {**HERE, **choices}]))


def console(derived: Derived) -> Built:
    built = derived.fitting("console")
    assert built is not None
    return built


def told(derived: Derived) -> Finding:
    return next(f for f in derived.findings if f.code == "CHASE")


def holes(derived: Derived) -> list[Polygon]:
    floor = derived.fitting("floor")
    assert floor is not None
    skins = [p for p in floor.panels if p.key.startswith("floor/skin")]
    return [Polygon([p.frame.at(u, v)[:2] for u, v in ring]) for p in skins for ring in p.holes]


def skin_m2(derived: Derived) -> float:
    floor = derived.fitting("floor")
    assert floor is not None
    return sum(p.polygon.area for p in floor.panels if p.key.startswith("floor/skin"))


def over(derived: Derived) -> tuple[float, float]:
    """Middles for the console: with its chase half way between two bearers, and over the next one."""
    floor = derived.fitting("floor")
    assert floor is not None
    xs = sorted({round(p.centre[0], 4) for p in floor.panels if p.role == "bearer"})
    a, b = next((a, b) for a, b in pairwise(xs) if a > 1.0)
    # the chase's middle lies 80 mm abaft the fore wall, which is 0.25 m forward of the console's middle
    return (a + b) / 2 - 0.25 + 0.08, b - 0.25 + 0.08


def test_the_floor_has_its_hole() -> None:
    """60 by 140 mm, its fore edge 50 mm abaft the outside of its fore wall; its area is missing."""
    derived = boat(x=1.4)
    (hole,) = holes(derived)
    assert hole.bounds == pytest.approx((1.54, -0.27, 1.60, -0.13))
    without = boat(chase=False)
    assert holes(without) == []
    assert skin_m2(without) - skin_m2(derived) == pytest.approx(0.06 * 0.14)


def test_nothing_is_framed_round_it() -> None:
    with_it, without = boat().fitting("floor"), boat(chase=False).fitting("floor")
    assert with_it is not None and without is not None
    assert [m.key for m in with_it.members] == [m.key for m in without.members]


def test_clear_of_bearers_and_over_one() -> None:
    between, on = over(boat(chase=False))
    assert told(boat(x=between)).level == "fine"
    found = told(boat(x=on))
    assert found.level == "look" and "F1-X" in found.text
    # moved by its remedy it is clear
    (fix,) = found.fixes
    assert fix.by is not None
    assert told(boat(x=on + fix.by[0] + math.copysign(0.001, fix.by[0]))).level == "fine"


def test_where_nothing_is_cut() -> None:
    assert told(boat(on=None)).level == "mend"
    assert told(boat(on=None)).title == "Its chase leads nowhere"
    step = {"kind": "step_box", "id": "step", "name": "Step", "on": "floor", "x": 1.4, "y": -0.2,
            "length": 0.7, "width": 0.8, "height": 0.1, "skin": "ply-12"}  # fmt: skip
    derived = derive(plan(fittings=[FLOOR, step, {**HERE, "on": "step"}]))
    assert told(derived).level == "mend"


def test_its_edge_is_trimmed() -> None:
    (trim,) = (b for b in console(boat()).bought if b.item == "edge-trim")
    assert trim.quantity == pytest.approx(0.4)


def test_its_foot_rest() -> None:
    """A tube 0.60 - 2 x 0.03 long, 90 mm abaft the aft face and 0.12 up; 25 x 25 less 21 x 21 mm."""
    derived = boat(foot_rest=True, chase=False)
    bar = next(m for m in console(derived).members if m.key == "console/rest")
    assert bar.length == pytest.approx(0.54)
    assert bar.mass_kg == pytest.approx(0.54 * (0.025**2 - 0.021**2) * 2690)
    assert bar.centre == pytest.approx((1.4 - 0.25 - 0.09, -0.2, 0.1 + 0.12))
    (body,) = (np.array(b) for b in bar.fills)
    assert np.ptp(body, axis=0) == pytest.approx((0.025, 0.54, 0.025))
    assert body.mean(axis=0) == pytest.approx(bar.centre)
    parts = {b.item: b.quantity for b in console(derived).bought}
    assert parts["bolt-m6x50"] == 4
    assert crossings(derived) == {}


def test_a_box_where_the_foot_rest_is_meets_it() -> None:
    crate = {"id": "crate", "stage": "added", "size": [0.06, 0.1, 0.3],
             "mass": {"value": 1.0, "centre": [1.06, -0.2, 0.26]}}  # fmt: skip
    for rest, met in ((True, True), (False, False)):
        fittings = [{**FLOOR, "aft": 0.3, "fore": 3.0}, {**HERE, "chase": False, "foot_rest": rest}]
        derived = derive(plan(fittings=fittings, items=[crate]))
        clash = [
            f for f in derived.findings if f.code == "CLASH" and {f.place, f.other} == {"console", "crate"}
        ]
        assert bool(clash) is met


def test_rails_on_its_top() -> None:
    """Its top runs 0.35 m: 300 mm with 60 to spare do not go, on a deeper one they do, one on each side."""
    with pytest.raises(ValidationError, match="accepted: at most"):
        ConsoleBox.model_validate({**HERE, "rails": "300 mm"})
    built = console(boat(rails="300 mm", length=0.56))
    rails = [b for b in built.bought if b.item == "handle-grab-300"]
    assert len(rails) == 2
    assert sorted(b.centre[1] for b in rails) == pytest.approx([-0.2 - 0.26, -0.2 + 0.26])


ROW = {"display": "180 mm", "gauges": 2, "gauge": "52 mm", "panel": True, "length": 0.56}


def test_what_goes_into_the_dash_weighs_and_is_bought() -> None:
    """Display 0.95, two gauges of 0.14, panel 0.42: 1.65 kg; 390 + 2 x 36 + 52 = 514."""
    # without a wheel, whose hole the display would meet
    bare, built = console(boat(length=0.56, wheel=False)), console(boat(**ROW, wheel=False))
    parts = [b for b in built.bought if "/dash/" in b.key]
    assert sorted(b.item for b in parts) == ["display-180", "gauge-52", "gauge-52", "switch-panel"]
    assert sum(b.mass_kg for b in parts) == pytest.approx(1.65)
    assert sum(float(b.entry.packs[0].price) * b.quantity for b in parts) == pytest.approx(514.0)
    # 205 x 120, two of 53 and 100 x 110 mm less of a dash of 2.5 mm: 0.040 m² at 2,680 kg/m³
    holes_kg = (0.205 * 0.120 + 2 * math.pi / 4 * 0.053**2 + 0.1 * 0.11) * 0.0025 * 2680
    assert built.mass_kg - bare.mass_kg == pytest.approx(1.65 - holes_kg, abs=0.001)
    # in the middle of a console that stands 0.2 m to starboard
    assert {round(b.centre[1], 6) for b in parts} == {-0.2}


def test_what_is_there_already_weighs_and_costs_nothing() -> None:
    bought, there = boat(**ROW), boat(**ROW, instruments="there already")
    assert console(bought).mass_kg == pytest.approx(console(there).mass_kg)
    needed = [{line.item.id for line in d.cost.lines} for d in (bought, there)]
    assert {"display-180", "gauge-52", "switch-panel"} <= needed[0]
    assert not {"display-180", "gauge-52", "switch-panel"} & needed[1]


def test_a_glove_box_in_the_dash() -> None:
    """260 mm wide beside a display of 230, a gauge on each side and a panel: 62 + 230 + 62 + 120 + 260 and
    four gaps of 15 are 794; a console of 0.9 m takes it, one of 0.8 does not."""
    wide = {"length": 0.56, "wheel": False, "dash": 0.30, **ROW, "glove": True}
    levels = {}
    for width in (0.80, 0.90):
        derived = boat(width=width, **wide)
        (dash,) = [f for f in derived.findings if f.code == "DASH"]
        levels[width] = dash.level
        if dash.level == "mend":
            assert dash.values["need"].value == pytest.approx(0.794)
    assert levels == {0.80: "mend", 0.90: "fine"}
    (glove,) = [b for b in console(boat(width=0.9, **wide)).bought if b.item == "glove-insert"]
    assert glove.mass_kg == pytest.approx(0.75)


def test_mounts_of_a_windscreen() -> None:
    """Three mounts, two bolts and nuts each, 50 mm from the fore edge of its top."""
    parts = {b.item: b for b in console(boat(mounts=3)).bought}
    assert parts["screen-mount"].quantity == 3
    assert (parts["bolt-m6x20"].quantity, parts["nut-m6"].quantity) == (6, 6)
    # a console from 1.15 to 1.65 m
    assert parts["screen-mount"].centre[0] == pytest.approx(1.65 - 0.05)
    assert "screen-mount" not in {b.item for b in console(boat()).bought}


def test_all_of_it_mirrored() -> None:
    all_of_it = {"foot_rest": True, "rails": "300 mm", "mounts": 2, **ROW, "glove": True}
    port, starboard = (console(boat(y=y, **all_of_it)) for y in (0.2, -0.2))
    assert port.mass_kg == pytest.approx(starboard.mass_kg)
    centres = [sorted((p.centre[0], p.centre[2]) for p in built.parts) for built in (port, starboard)]
    for a, b in zip(*centres, strict=True):
        assert a == pytest.approx(b)
