"""A leaning post of 25 mm tube, 0.36 deep, 0.80 wide and 0.86 high, worked by hand."""

from typing import Any

import numpy as np
import pytest

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.plan.changes import apply
from tests.boats import derive, plan
from tests.core.test_step_box import DECK
from tests.crossing import crossings

POST = {"kind": "leaning_post", "id": "post", "name": "Post", "mark": "L1", "on": "deck", "x": 2.0,
        "y": 0.1, "skin": "al-2.5", "cover": "none"}  # fmt: skip


def boat(**choices: Any) -> Derived:
    return derive(plan(fittings=[DECK, {**POST, **choices}]))


def post(**choices: Any) -> Built:
    found = boat(**choices).fitting("post")
    assert found is not None
    return found


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "post")


def test_its_tubes() -> None:
    """Legs from a plate of 4.826 mm to under the upper tubes: 860 - 4.826 - 2.5 - 25. Across 800, along
    between them 360 - 50, the rail between its legs 800 - 50."""
    long = {m.label: m.length for m in post().members}
    leg = 0.860 - 0.004826 - 0.00254 - 0.025
    assert long == {
        **{f"L1-V{n}": pytest.approx(leg, abs=2e-4) for n in (1, 2, 3, 4)},
        "L1-X1": pytest.approx(0.8), "L1-X2": pytest.approx(0.8),
        **{f"L1-{c}{n}": pytest.approx(0.31) for c in "NM" for n in (1, 2)},
        "L1-F": pytest.approx(0.75),
    }  # fmt: skip
    assert {m.label for m in post(rail=False).members} == set(long) - {"L1-M1", "L1-M2", "L1-F"}


def test_a_tube_weighs_what_its_wall_does_and_fills_its_section() -> None:
    rail = next(m for m in post().members if m.label == "L1-F")
    # 25 x 25 less 21 x 21 mm, 2690 kg/m3
    assert rail.mass_kg == pytest.approx(0.75 * (0.025**2 - 0.021**2) * 2690)
    (body,) = (np.array(b) for b in rail.fills)
    assert np.ptp(body, axis=0) == pytest.approx((0.025, 0.75, 0.025))
    assert body.mean(axis=0) == pytest.approx(rail.centre)


def test_nothing_of_it_stands_in_another_part() -> None:
    assert crossings(boat()) == {}
    assert crossings(boat(tube="square-40x3", skin="ply-12", rail_up=0.4)) == {}


def test_what_it_takes() -> None:
    parts = {b.label: b.quantity for b in post(cover="foam-mat").bought}
    assert parts["L1-R"] == 16 and parts["L1-RN"] == 16 and parts["L1-RW"] == 32
    assert not [b for b in post(held="loose").bought if "bolt" in b.item]
    plates = [p for p in post().panels if "/plate/" in p.key]
    assert len(plates) == 4 and all(len(p.holes) == 4 for p in plates)


def test_how_its_bolts_are_pulled() -> None:
    """Somebody of 110 kg, half of it at 0.86 m, over legs 335 mm apart, on eight bolts: 173 N. Highest and
    narrowest 539.55 x 1.2 / 0.175 / 8 = 462 N, well under 1500."""
    found = told(boat(), "LEAN-HOLDS")
    assert found.level == "fine"
    assert found.values["pull"].value == pytest.approx(539.55 * 0.86 / 0.335 / 8)
    most = told(boat(height=1.2, length=0.2), "LEAN-HOLDS")
    assert most.values["pull"].value == pytest.approx(462.5, abs=0.1)
    assert told(boat(held="loose"), "LEAN-HOLDS").level == "mend"


@pytest.mark.parametrize(
    ("height", "level"),
    # 0.49 of 1.60 m is 0.784, of 1.95 m 0.9555
    [(0.783, "look"), (0.785, "fine"), (0.955, "fine"), (0.956, "look")],
)
def test_whom_it_suits(height: float, level: str) -> None:
    assert told(boat(height=height), "LEAN-HEIGHT").level == level


def test_who_welds_it_is_told() -> None:
    found = told(boat(), "LEAN-WELDED")
    assert found.values["ends"].value == 22 and "qualified" in found.text


def test_a_first_one_stands_behind_the_wheel() -> None:
    console = {"id": "console", "form": "console", "stage": "added", "size": [0.4, 0.6, 0.9],
               "mass": {"value": 20.0, "centre": [2.6, 0.3, 0.46]}}  # fmt: skip
    before = plan(items=[console])
    here = derive(before)
    change = place(before, here.surface, here.footing, "leaning_post")
    value = change.value
    assert value["y"] == pytest.approx(0.3, abs=0.01) and value["x"] < 2.4
    assert derive(apply(before, change)).fitting(value["id"]) is not None
