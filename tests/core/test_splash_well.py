"""A splash well in a box hull, whose transom is upright and 3 mm thick: worked by hand."""

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
from stirrup.core.kinds.splash_well import SplashWell
from stirrup.core.plan.changes import SetValue, apply
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, plan, skiff_plan
from tests.crossing import crossings, through_skin

WELL = {"kind": "splash_well", "id": "well", "name": "Splash well", "mark": "W1", "width": 0.6,
        "length": 0.4, "floor": 0.5, "falls": 3.0, "top": 0.98}  # fmt: skip
T, RISE = 0.012, math.tan(math.radians(3.0))


def boat(**choices: Any) -> Derived:
    return derive(plan(fittings=[{**WELL, **choices}]))


def made(derived: Derived) -> Built:
    found = derived.fitting("well")
    assert found is not None
    return found


def told(code: str, **choices: Any) -> Finding:
    return next(f for f in boat(**choices).findings if f.code == code and f.place == "well")


def test_its_four_panels() -> None:
    """Floor 0.4 long on the slope by 0.576, fore wall 0.576 by 0.98 - 0.5 - 0.4 tan 3°, sides 0.4 long with
    an edge that rises, less 2 mm all round."""
    floor, fore, port, starboard = made(boat()).panels
    between = 0.6 - 2 * T
    # its fore edge is square, so the lower one meets the fore wall: 12 mm sin 3° shorter
    long = (0.4 - T * math.sin(math.radians(3))) / math.cos(math.radians(3))
    assert floor.polygon.area == pytest.approx(long * between, rel=1e-6)
    assert fore.polygon.area == pytest.approx(between * (0.48 - 0.4 * RISE), rel=1e-6)
    whole = 0.4 * (0.48 - 0.2 * RISE)
    girth = 0.48 + 0.4 + 0.48 - 0.4 * RISE + 0.4 / math.cos(math.radians(3))
    assert port.polygon.area == pytest.approx(whole - girth * 0.002, rel=2e-3)
    assert port.centre[1] == pytest.approx(0.294) and starboard.centre[1] == pytest.approx(-0.294)
    # its floor's upper face meets the transom at 0.5, and rises forward
    low, high = (floor.frame.at(floor.polygon.bounds[k], 0.0) for k in (0, 2))
    middle = T / 2 * math.sin(math.radians(3))
    assert low[0] - middle == pytest.approx(made(boat()).region.bounds[0], abs=1e-6)
    assert high[2] - low[2] == pytest.approx(long * math.sin(math.radians(3))) and high[0] > low[0]


def test_how_fast_it_empties() -> None:
    """0.4 (0.48 - 0.2 tan 3°) 0.576 = 0.1082 m3; two drains of 38 mm; h 0.48 - 0.2 tan 3° = 0.4695 m:
    2 V / (0.6 A sqrt(2 g h)) = 52 s."""
    found = told("SPLASH-DRAINS")
    room, high = 0.4 * (0.48 - 0.2 * RISE) * 0.576, 0.48 - 0.2 * RISE
    takes = 2 * room / (0.6 * 2 * math.pi / 4 * 0.038**2 * math.sqrt(2 * 9.81 * high))
    assert found.values["room"].value == pytest.approx(room, rel=1e-4)
    assert found.values["takes"].value == pytest.approx(takes, rel=1e-3) and found.level == "fine"
    # a quarter of the area each, near enough: 25 mm takes (38 / 25)^2 as long
    slow = told("SPLASH-DRAINS", drain="25 mm")
    assert slow.values["takes"].value == pytest.approx(takes * (38 / 25) ** 2, rel=1e-3)
    assert slow.level == "look" and slow.fixes[0].value == math.ceil(2 * takes * (38 / 25) ** 2 / 60)
    none = told("SPLASH-DRAINS", drains=0)
    assert none.level == "mend" and none.values["kg"].value == pytest.approx(1000 * room, rel=1e-4)


@pytest.mark.parametrize(
    ("code", "choices", "level"),
    [
        ("SPLASH-FALLS", {"falls": 2.0}, "fine"), ("SPLASH-FALLS", {"falls": 1.9}, "look"),
        # the box's sides end at 1.0; 30 mm under it at most
        ("SPLASH-HIGH", {"top": 0.97}, "fine"), ("SPLASH-HIGH", {"top": 0.969}, "mend"),
    ],
)  # fmt: skip
def test_fall_and_height(code: str, choices: dict[str, Any], level: str) -> None:
    found = told(code, **choices)
    assert found.level == level
    if level != "fine":
        (fix,) = found.fixes
        start = plan(fittings=[{**WELL, **choices}])
        after = derive(apply(start, SetValue(path=fix.path or (), value=fix.value)))
        assert next(f for f in after.findings if f.code == code).level == "fine"


def test_tabs_or_welds_by_the_length_of_its_joints() -> None:
    """Against the transom twice 0.48 and 0.6 across; its own twice the floor's 0.4006, twice the fore
    wall's height and 0.6."""
    derived = boat(skin="al-3.2", joined="welded")
    transom, own = made(derived).seams
    assert transom.long == pytest.approx(2 * 0.48 + 0.6)
    assert own.long == pytest.approx(2 * 0.4 / math.cos(math.radians(3)) + 2 * (0.48 - 0.4 * RISE) + 0.6)
    wire = next(b for b in made(derived).bought if b.label == "W1-W")
    assert wire.quantity == pytest.approx(0.06 * (transom.long + own.long))
    assert next(b for b in made(derived).bought if b.label == "W1-D").quantity == 2


def test_too_shallow_and_outside_of_her_are_refused() -> None:
    with pytest.raises(ValidationError, match="at least 50 mm over its floor"):
        SplashWell.model_validate({**WELL, "top": 0.55})
    found = next(f for f in boat(floor=1.2, top=1.4).findings if f.code == "CANNOT-BUILD")
    assert "no transom inside" in found.text


@pytest.mark.parametrize("start", [plan(), skiff_plan()])
def test_a_first_one_is_right(start: Any) -> None:
    here = derive(start)
    derived = derive(apply(start, place(start, here.surface, here.footing, "splash_well_new")))
    own = [f for f in derived.findings if f.code.startswith("SPLASH") and f.level == "mend"]
    assert own == [] and crossings(derived) == {} and through_skin(derived) == {}


@given(st.floats(0.2, 0.7), st.floats(0.1, 1.0), st.floats(0, 10), st.floats(-0.6, 0.6))
@settings(max_examples=20, deadline=None)
def test_nothing_of_it_stands_in_the_skin(floor: float, long: float, falls: float, y: float) -> None:
    top = min(0.99, floor + long * math.tan(math.radians(falls)) + 0.1)
    choices = {**WELL, "floor": floor, "length": long, "falls": falls, "y": y, "top": top}
    if top < floor + long * math.tan(math.radians(falls)) + 0.05:
        return
    derived = derive(from_data(build_data(fittings=[choices])))
    assert through_skin(derived) == {} and crossings(derived) == {}
    room = next(f for f in derived.findings if f.code == "SPLASH-DRAINS").values["room"].value
    high = top - floor - long * math.tan(math.radians(falls)) / 2
    assert room == pytest.approx(long * high * 0.576, rel=1e-3)
