"""A cooler of 620 x 380 x 400 mm and 12 kg, on the bottom of a box at 3 mm, between its chocks."""

from typing import Any

import pytest

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.plan.changes import apply
from tests.boats import derive, plan
from tests.crossing import crossings

COOLER = {"id": "cooler", "form": "cooler", "stage": "added", "size": [0.62, 0.38, 0.40],
          "mass": {"value": 12.0, "centre": [2.0, 0.1, 0.203]}}  # fmt: skip
CHOCKS = {"kind": "chocks", "id": "chocks", "name": "Chocks", "mark": "Q1", "thing": "cooler"}


def boat(**choices: Any) -> Derived:
    return derive(plan(fittings=[{**CHOCKS, **choices}], items=[COOLER]))


def chocks(**choices: Any) -> Built:
    found = boat(**choices).fitting("chocks")
    assert found is not None
    return found


def told(derived: Derived) -> Finding:
    return next(f for f in derived.findings if f.code == "HOLD-DOWN")


def test_four_angles_with_play() -> None:
    """6 mm of play and flanges of 25 outward: 620 + 12 + 50 the long ones, 380 + 12 the others."""
    built = chocks()
    assert sorted(m.length for m in built.members) == pytest.approx([0.392, 0.392, 0.682, 0.682])
    # 682 mm at 120 take 7 screws, 392 take 5
    parts = {b.label: b.quantity for b in built.bought}
    assert parts == {"Q1-R": 2 * 7 + 2 * 5, "Q1-Y": 1}
    assert [b.label for b in chocks(strap=False).bought] == ["Q1-R"]


def test_held_against_twice_what_it_weighs_full() -> None:
    """5 screws hold 2500 N: 127.4 kg sideways twice; 12 of its own leave 115.4."""
    assert told(boat()).values["need"].value == pytest.approx(2 * 12 * 9.81)
    assert told(boat(filled=115.0)).level == "fine"
    assert told(boat(filled=116.0)).level == "mend"


def test_nothing_of_it_stands_in_the_cooler() -> None:
    derived = boat()
    assert not [f for f in derived.findings if f.code == "CLASH"]
    assert crossings(derived) == {}


def test_a_first_one_goes_round_what_is_chosen() -> None:
    box = {"id": "box", "form": "box", "stage": "added", "size": [0.3, 0.3, 0.3],
           "mass": {"value": 5.0, "centre": [1.0, 0.0, 0.2]}}  # fmt: skip
    before = plan(items=[COOLER, box])
    here = derive(before)
    change = place(before, here.surface, here.footing, "chocks", host="box")
    assert change.value["thing"] == "box"
    assert derive(apply(before, change)).fitting(change.value["id"]) is not None
