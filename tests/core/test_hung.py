"""Setback and twins by a sum of levers: a box 4 m long, its transom 2.5 mm thick and upright."""

import math
from typing import Any

import pytest

from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.fit.hung import gap_m
from stirrup.core.plan.changes import apply
from stirrup.core.remedies import change_of
from stirrup.exchange.catalogue import starting
from tests.boats import derive, plan

MOTOR: dict[str, Any] = {
    "id": "motor", "form": "outboard", "stage": "added", "size": [0.6, 0.4, 0.7],
    "mass": {"value": 100.0, "centre": [-0.30, 0.0, 0.6]},
}  # fmt: skip


def boat(*motors: dict[str, Any]) -> Derived:
    return derive(plan(items=list(motors)))


def told(code: str, *motors: dict[str, Any]) -> list[Finding]:
    return [f for f in boat(*motors).findings if f.code == code]


def test_the_moment_before_and_after() -> None:
    """100 kg with its middle 0.3025 m behind the inside of the transom, 0.14 of it setback: 981 N."""
    (found,) = told("MOTOR-SETBACK", {**MOTOR, "setback": 0.14})
    assert found.values["now"].value == pytest.approx(981 * 0.3025, rel=1e-3)
    assert found.values["before"].value == pytest.approx(981 * 0.1625, rel=1e-3)
    assert found.values["slam"].value == pytest.approx(3 * 981 * 0.3025, rel=1e-3)
    # 0.3025 is 1.86 times 0.1625
    assert found.level == "look"


@pytest.mark.parametrize(("back", "level"), [(0.1008, "fine"), (0.101, "look"), (0.05, "fine")])
def test_from_half_as_much_again_it_is_told(back: float, level: str) -> None:
    """0.3025 = 1.5 x 0.20167: a setback of 0.10083."""
    (found,) = told("MOTOR-SETBACK", {**MOTOR, "setback": back})
    assert found.level == level


def test_nothing_is_said_of_one_that_is_not_set_back_or_is_gone() -> None:
    assert told("MOTOR-SETBACK", MOTOR) == []
    assert told("MOTOR-SETBACK", {**MOTOR, "setback": 0.1, "stage": "removed"}) == []


def pair(apart: float, **more: Any) -> list[dict[str, Any]]:
    mass = MOTOR["mass"]
    return [{**MOTOR, "id": f"m{k}", "mass": {**mass, "centre": [-0.3, s * apart / 2, 0.6]}, **more}
            for k, s in enumerate((-1, 1))]  # fmt: skip


def test_two_that_turn_together() -> None:
    """Cowls 0.4 m wide at 35 degrees: 0.43 / cos 35 = 0.52493 from middle to middle leave 30 mm."""
    least = 0.43 / math.cos(math.radians(35))
    assert gap_m(0.66, 0.4) == pytest.approx(0.66 * 0.8191520 - 0.4)
    for apart, level in ((least + 1e-4, "fine"), (least - 1e-4, "mend"), (0.3, "mend")):
        (found,) = told("MOTOR-TWIN", *pair(apart))
        assert found.level == level and found.values["gap"].value == pytest.approx(
            abs(apart * math.cos(math.radians(35)) - 0.4)
        )
    assert told("MOTOR-TWIN", MOTOR) == []


def test_its_button_moves_them_apart() -> None:
    here = boat(*pair(0.4))
    (found,) = [f for f in here.findings if f.code == "MOTOR-TWIN"]
    after = derive(apply(here.plan, change_of(here.plan, here.surface, found.fixes[0], starting())))
    assert [f.level for f in after.findings if f.code == "MOTOR-TWIN"] == ["fine"]


def test_mirrored_it_is_the_same() -> None:
    """Three of them: two gaps, whichever way round."""
    a = told("MOTOR-TWIN", *pair(1.2), {**MOTOR, "mass": {**MOTOR["mass"], "centre": [-0.3, 0.1, 0.6]}})
    b = told("MOTOR-TWIN", *pair(1.2), {**MOTOR, "mass": {**MOTOR["mass"], "centre": [-0.3, -0.1, 0.6]}})
    assert sorted(f.values["apart"].value for f in a) == pytest.approx([0.5, 0.7])
    assert sorted(f.values["apart"].value for f in b) == pytest.approx([0.5, 0.7])
