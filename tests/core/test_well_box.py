"""A livewell's shell worked by hand: contents 0.40 x 0.60 x 0.32 m, 12 mm PVC board round them."""

from typing import Any

import pytest

from stirrup.core.arrange.move import moved
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.plan.carried import carried
from stirrup.core.plan.changes import apply
from stirrup.core.plan.where import extent_of
from stirrup.exchange.catalogue import starting
from tests.boats import derive, plan

TANK: dict[str, Any] = {"id": "well", "size": [0.4, 0.6, 0.32], "floor_centre": [1.0, 0.1, 0.05],
                        "liquid": "water"}  # fmt: skip
SHELL = {"kind": "well_box", "id": "shell", "name": "Shell", "mark": "W1", "tank": "well", "lid": True}
T = 0.012


def boat(tank: dict[str, Any] | None = None, **choices: Any) -> Derived:
    return derive(plan(fittings=[{**SHELL, **choices}], tanks=[{**TANK, **(tank or {})}]))


def shell(derived: Derived) -> Built:
    built = derived.fitting("shell")
    assert built is not None
    return built


def told(derived: Derived, code: str) -> list[Finding]:
    return [f for f in derived.findings if f.code == code]


def test_its_inner_faces_are_the_contents() -> None:
    sizes = {p.label: (p.polygon.bounds[2] * 2, p.polygon.bounds[3] * 2) for p in shell(boat()).panels}
    assert sizes == {
        "W1-B": pytest.approx((0.4 + 2 * T, 0.6 + 2 * T)),
        "W1-A": pytest.approx((0.6 + 2 * T, 0.32)),
        "W1-F": pytest.approx((0.6 + 2 * T, 0.32)),
        "W1-P": pytest.approx((0.4, 0.32)),
        "W1-S": pytest.approx((0.4, 0.32)),
        "W1-L": pytest.approx((0.4 + 2 * T, 0.6 + 2 * T)),
    }
    centres = {p.label: p.centre for p in shell(boat()).panels}
    assert centres["W1-A"] == pytest.approx((1.0 - 0.2 - T / 2, 0.1, 0.05 + 0.16))
    assert centres["W1-P"] == pytest.approx((1.0, 0.1 + 0.3 + T / 2, 0.05 + 0.16))
    assert centres["W1-B"] == pytest.approx((1.0, 0.1, 0.05 - T / 2))
    assert centres["W1-L"] == pytest.approx((1.0, 0.1, 0.37 + T / 2))


def test_foam_lies_outside_on_the_board() -> None:
    derived = boat(insulated=True)
    foam = {p.label: p for p in shell(derived).panels if p.sheet.id == "xps-25"}
    assert len(foam) == 5
    # 25 mm outside of 12 of board
    assert foam["W1-IF"].centre[0] == pytest.approx(1.0 + 0.2 + T + 0.0125)
    assert foam["W1-IB"].centre[2] == pytest.approx(0.05 - T - 0.0125)
    kept = carried(derived.plan, starting())
    e = extent_of(kept, derived.surface, "shell")
    assert e.x == pytest.approx((0.8 - T - 0.025, 1.2 + T + 0.025))
    assert e.z == pytest.approx((0.05 - T - 0.025, 0.37 + T))


def test_water_and_shell_are_not_in_one_anothers_way() -> None:
    assert not told(boat(), "CLASH")
    crate = {"id": "crate", "stage": "added", "size": [0.2, 0.2, 0.2],
             "mass": {"value": 1.0, "centre": [1.3, 0.1, 0.2]}}  # fmt: skip
    # the shell's fore face lies at 1.212, the crate from 1.2 on
    there = derive(plan(fittings=[SHELL], tanks=[TANK], items=[crate]))
    assert any({f.place, f.other} == {"shell", "crate"} for f in told(there, "CLASH"))


def test_screws_sealant_and_water() -> None:
    count = {b.label: b.quantity for b in shell(boat()).bought}
    # four corners of 320 mm at 100: 5 each; round the bottom 2 x (400 + 600 + 24) = 2048 mm: 22
    run = 2 * (0.4 + 0.6 + 2 * T)
    assert run == pytest.approx(2.048)
    assert count["W1-Re"] == 4 * 5 + 22
    edges, joints = 2 * (0.4 + 0.6) + 4 * 0.32, run + 4 * 0.32
    assert count["W1-G"] == pytest.approx((edges * 7.7e-6 + joints * 0.001 * T) / 290e-6)
    assert count["W1-O"] == count["W1-W"] == count["W1-Q"] == 1
    bare = {b.label for b in shell(boat(lid=False, drain=False, pump=False)).bought}
    assert not bare & {"W1-W", "W1-Q", "W1-H", "W1-Z"}


@pytest.mark.parametrize(
    ("skin", "level"), [("pvc-12", "fine"), ("pvc-9.5", "fine"), ("pvc-6", "mend"), ("pvc-3", "mend")]
)
def test_how_far_its_walls_bulge(skin: str, level: str) -> None:
    """320 x 600 with half of 1000 x 9.81 x 0.32 = 1570 Pa all over: for b / a = 1.875 about
    0.0096 q a⁴ / D. 12 mm of 1.1 GPa (D 174): 0.91 mm of the 3.2 that it may; 9.5 mm 1.8, 6 mm has an
    eighth of its stiffness: 7.3 mm; 3 mm 58."""
    (found,) = told(boat(skin=skin), "WELL-BULGES")
    assert found.level == level
    thick = {"pvc-12": 0.012, "pvc-9.5": 0.0095, "pvc-6": 0.006, "pvc-3": 0.003}[skin]
    stiff = 1.1e9 * thick**3 / 10.92
    by_hand = 0.0096 * 1000 * 9.81 * 0.32 / 2 * 0.32**4 / stiff
    assert found.values["gives"].value == pytest.approx(by_hand, rel=0.03)


def test_a_tank_that_weighs_empty_counts_twice() -> None:
    assert not told(boat(), "WELL-TWICE")
    (found,) = told(boat({"empty_mass": 6.0}), "WELL-TWICE")
    assert found.level == "mend" and found.fixes[0].path == ("tanks", "well", "empty_mass")


@pytest.mark.parametrize(
    ("tank", "choices", "words"),
    [({"liquid": "petrol"}, {}, "fuel is never kept"), ({}, {"overflow": 0.3}, None),
     ({"size": [0.4, 0.6, 0.2]}, {"overflow": 0.2}, "the well is 0.200 m high")],
)  # fmt: skip
def test_what_cannot_be_is_said(tank: dict[str, Any], choices: dict[str, Any], words: str | None) -> None:
    found = told(boat(tank, **choices), "CANNOT-BUILD")
    assert [words in f.text for f in found] == ([True] if words else [])


def test_moving_it_moves_its_water() -> None:
    before = boat().plan
    after = apply(before, moved(before, ["shell"], (0.3, 0.0, 0.0)))
    assert after.thing("well").floor_centre == pytest.approx((1.3, 0.1, 0.05))
