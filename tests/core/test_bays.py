"""Bays between bulkheads in a box 4 m long, by subtraction; the room between two of them by its breadth."""

from typing import Any

import pytest

from stirrup.core.findings import Finding
from stirrup.core.fit.bays import room_m3
from stirrup.core.plan.changes import SetValue, apply
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, plan, wedge_lines
from tests.core.test_bulkhead import BULKHEAD

INSIDE_AFT = 0.0


def bulkhead(k: int, x: float, **more: Any) -> dict[str, Any]:
    return {**BULKHEAD, "id": f"b{k}", "name": f"Bulkhead {k}", "mark": f"V{k}", "x": x, **more}


def old(id_: str, x: float, stage: str) -> dict[str, Any]:
    return {"id": id_, "name": f"old {id_}", "kind": "bulkhead", "stage": stage, "weighs": 9.0,
            "box": {"size": [0.012, 1.9, 0.6], "floor_centre": [x, 0, 0.01]}}  # fmt: skip


def bays(fittings: list[dict[str, Any]], **more: Any) -> dict[str, list[Finding]]:
    found = derive(plan(fittings=fittings, **more)).findings
    out: dict[str, list[Finding]] = {}
    for f in found:
        if f.code == "BAYS":
            out.setdefault(f.place, []).append(f)
    return out


@pytest.mark.parametrize(
    ("xs", "level"),
    [
        # the first of two: aft from the transom's inside, forward to the second
        ((1.0, 2.2), "fine"),  # 1.2 the longest: stringers carry that
        ((0.7, 2.2), "look"),  # 1.5 beside 0.7, over half as much again
        ((1.2, 2.9), "fine"),  # 1.7 beside 1.2: less than half as much again
        ((1.2, 3.1), "look"),  # 1.9 is more
    ],
)  # fmt: skip
def test_even_enough(xs: tuple[float, float], level: str) -> None:
    (first,) = bays([bulkhead(1, xs[0]), bulkhead(2, xs[1])])["b1"]
    assert first.level == level
    assert first.values["fore"].value == pytest.approx(xs[1] - xs[0])
    assert first.values["aft"].value == pytest.approx(xs[0], abs=0.004)


@pytest.mark.parametrize(("x", "level"), [(2.79, "fine"), (2.81, "look")])
def test_the_foremost_bay_is_held_against_the_one_behind_it(x: float, level: str) -> None:
    """1.117 behind that one, from the transom's inside: one and a half times that is 1.676; 1.67 passes."""
    (found,) = bays([bulkhead(1, 1.12), bulkhead(2, x)])["b2"]
    assert found.level == level and found.values["aft"].value == pytest.approx(x - 1.12)


def test_its_button_evens_them_out() -> None:
    boat = plan(fittings=[bulkhead(1, 0.7), bulkhead(2, 2.2)])
    (found,) = [f for f in derive(boat).findings if f.code == "BAYS" and f.place == "b1"]
    (fix,) = found.fixes
    assert fix.path is not None
    after = derive(apply(boat, SetValue(path=fix.path, value=fix.value)))
    (even,) = [f for f in after.findings if f.code == "BAYS" and f.place == "b1"]
    assert even.level == "fine"
    assert even.values["aft"].value == pytest.approx(even.values["fore"].value, abs=2e-3)


def test_one_that_stays_ties_her_too_and_one_that_goes_does_not() -> None:
    """Old ones at 1.0: staying, the new one at 2.0 has 1.0 aft of it; going, all of 2.0."""
    (stays,) = bays([bulkhead(1, 2.0)], existing=[old("there", 1.0, "found")])["b1"]
    assert stays.values["aft"].value == pytest.approx(1.0) and stays.level == "fine"
    goes = bays([bulkhead(1, 2.0)], existing=[old("gone", 1.0, "removed")])["b1"]
    assert goes[0].values["aft"].value == pytest.approx(2.0, abs=0.004) and goes[0].level == "look"


def test_two_wings_tie_nothing_across() -> None:
    assert bays([bulkhead(1, 2.0, wide=0.6, sill=0.0, open_top=True)]) == {}


@pytest.mark.parametrize(("x", "word", "room"), [(1.7, "gains", "aft"), (2.3, "loses", "forward")])
def test_moved_against_the_one_that_goes(x: float, word: str, room: str) -> None:
    """0.3 m of a box 1.995 wide inside, from 0.003 up to its top at 0.8: 0.477 m3, either way."""
    found = bays([bulkhead(1, x)], existing=[old("gone", 2.0, "removed")])["b1"][1]
    assert word in found.text and room in found.title
    assert found.values["by"].value == pytest.approx(0.3)
    assert found.values["room"].value == pytest.approx(0.3 * 1.995 * 0.797, rel=5e-3)


def test_where_the_old_one_stood_nothing_is_said_of_it() -> None:
    assert len(bays([bulkhead(1, 2.0)], existing=[old("gone", 2.0, "removed")])["b1"]) == 1


def test_the_room_of_a_wedge() -> None:
    """Rising 0.3 in 1.0, to a height of 0.3: triangles of 0.3 high and 2 wide, less the skin's little."""
    surface = derive(from_data(build_data(wedge_lines(0.3)))).surface
    assert room_m3(surface, 1.0, 2.0, 0.3) == pytest.approx(0.3, rel=0.03)
