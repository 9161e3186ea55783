"""How high an outboard hangs: shaft of 508 mm (20 in), by hand."""

from typing import Any

import pytest

from stirrup.core.findings import Finding
from tests.boats import derive, plan

MOTOR: dict[str, Any] = {
    "id": "motor", "form": "outboard", "stage": "added", "shaft": 0.508,
    "mass": {"value": 60.0, "centre": [-0.2, 0.0, 0.6]},
}  # fmt: skip


def told(**choices: Any) -> list[Finding]:
    derived = derive(plan(items=[{**MOTOR, **choices}]))
    return [f for f in derived.findings if f.code == "MOTOR-HEIGHT"]


@pytest.mark.parametrize(
    ("choices", "level", "off_mm"),
    [
        # level with the keel, and 25 mm to either side
        ({"mounted": 0.508}, "fine", 0),
        ({"mounted": 0.533}, "fine", 25),
        ({"mounted": 0.534}, "mend", 26),
        ({"mounted": 0.483}, "fine", 25),
        ({"mounted": 0.482}, "look", 26),
        # 240 mm back: 30 mm higher
        ({"mounted": 0.538, "setback": 0.24}, "fine", 0),
        ({"mounted": 0.508, "setback": 0.24}, "look", 30),
        # a jack plate of 100 mm brings it up: from 90 under to 10 over, wanted 0
        ({"mounted": 0.418, "jack": 0.1}, "fine", 0),
        # from 130 under to 30 under
        ({"mounted": 0.378, "jack": 0.1}, "look", 30),
        # too high at its foot already
        ({"mounted": 0.558, "jack": 0.1}, "mend", 50),
        # a shaft too short by 127 mm, 15 in instead of 20
        ({"mounted": 0.508, "shaft": 0.381}, "mend", 127),
    ],
)
def test_the_plate_over_its_propeller(choices: dict[str, Any], level: str, off_mm: float) -> None:
    (found,) = told(**choices)
    assert found.level == level
    assert found.values["off"].value == pytest.approx(off_mm / 1000, abs=1e-9)


@pytest.mark.parametrize(
    "choices",
    [{"mounted": 0.6}, {"mounted": 0.4}, {"mounted": 0.3, "jack": 0.1}, {"mounted": 0.7, "setback": 0.3}],
)
def test_mounted_where_it_is_offered_it_hangs_right(choices: dict[str, Any]) -> None:
    (fix,) = told(**choices)[0].fixes
    (after,) = told(**{**choices, "mounted": fix.value})
    assert after.level == "fine"


def test_nothing_is_said_of_what_was_not_measured_or_is_gone() -> None:
    assert told() == [] and told(mounted=0.5, shaft=None) == []
    assert told(mounted=0.7, stage="removed") == []
