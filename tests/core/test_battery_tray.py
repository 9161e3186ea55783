"""A battery of 24 kg, 330 x 180 x 240 mm, standing 0.005 m up, and what holds it."""

from typing import Any

import pytest
from shapely.geometry import Point as FlatPoint

from stirrup.core.arrange.move import moved
from stirrup.core.arrange.palette import place
from stirrup.core.arrange.removal import removed
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding
from stirrup.core.plan.changes import apply
from stirrup.core.space.shapes import Prism
from tests.boats import derive, plan

BATTERY: dict[str, Any] = {
    "id": "battery", "form": "battery", "stage": "added", "size": [0.33, 0.18, 0.24],
    "mass": {"value": 24.0, "centre": [1.0, 0.4, 0.125]},
}  # fmt: skip
TRAY = {"kind": "battery_tray", "id": "tray", "name": "Tray", "mark": "Y1", "battery": "battery"}


def boat(battery: dict[str, Any] | None = None, **choices: Any) -> Derived:
    return derive(plan(fittings=[{**TRAY, **choices}], items=[{**BATTERY, **(battery or {})}]))


def tray(derived: Derived) -> Built:
    built = derived.fitting("tray")
    assert built is not None
    return built


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code)


def test_four_angles_round_it() -> None:
    """Play of 3 mm and flanges of 25 mm outward: the long ones 330 + 6 + 50 mm, the others 180 + 6."""
    built = tray(boat())
    assert sorted(m.length for m in built.members) == pytest.approx([0.186, 0.186, 0.386, 0.386])
    middles = {m.label: tuple(sum(v) / 2 for v in zip(*m.path, strict=True)) for m in built.members}
    assert middles["Y1-V1"][:2] == pytest.approx((1.0, 0.4 + 0.093))
    assert middles["Y1-V4"][:2] == pytest.approx((1.0 - 0.168, 0.4))
    count = {b.label: b.quantity for b in built.bought}
    # 386 mm at 80 take 6, 186 take 4: two of each
    assert count == {"Y1-Y": 1, "Y1-R": 20}


def test_nothing_of_it_stands_in_the_battery_or_in_one_another() -> None:
    derived = boat({"turn": 30.0})
    assert not [f for f in derived.findings if f.code == "CLASH"]
    (solid,) = tray(derived).solids
    prisms = [p for p in solid.pieces if isinstance(p, Prism)]
    battery = derived.placed("battery")
    assert battery is not None and battery.built.body is not None
    shape = battery.built.body.shape
    assert isinstance(shape, Prism) and len(prisms) == 8
    for p in prisms:
        assert p.footprint.distance(shape.footprint) == pytest.approx(0.003, abs=1e-6)
    for k, a in enumerate(prisms):
        for b in prisms[k + 1 :]:
            crossing = a.footprint.intersection(b.footprint).area
            apart = a.high <= b.low or b.high <= a.low
            # leg and flange of one angle share their corner
            assert apart or crossing < 0.003 * 0.4 + 1e-9


def test_turned_it_turns_with_the_battery() -> None:
    built = tray(boat({"turn": 90.0}))
    x0, y0, x1, y1 = built.region.bounds
    # 180 + 56 along and 330 + 56 across
    assert (x1 - x0, y1 - y0) == pytest.approx((0.236, 0.386))
    assert built.region.covers(FlatPoint(1.0, 0.4))


@pytest.mark.parametrize(
    ("kg", "choices", "level"),
    [
        # the weaker side has 4 screws: 2000 N against 2 x 9.81 kg, up to 101.9 kg
        (101.0, {}, "fine"),
        (103.0, {}, "mend"),
        # every 200 mm there are 2: 1000 N, up to 50.97 kg
        (50.9, {"pitch": 0.2}, "fine"),
        (51.0, {"pitch": 0.2}, "mend"),
        # four M6: 6000 N, up to 305.8 kg
        (305.0, {"way": "tray with clamp"}, "fine"),
        (306.0, {"way": "tray with clamp"}, "mend"),
    ],
)
def test_held_against_twice_its_weight(kg: float, choices: dict[str, Any], level: str) -> None:
    heavy = {"mass": {**BATTERY["mass"], "value": kg}}
    assert told(boat(heavy, **choices), "HOLD-DOWN").level == level


@pytest.mark.parametrize(
    ("way", "size", "level"),
    [
        ("angles and strap", [0.33, 0.18, 0.24], "look"),
        ("box with lid and strap", [0.34, 0.18, 0.245], "fine"),
        ("box with lid and strap", [0.341, 0.18, 0.24], "mend"),
        ("box with lid and strap", [0.33, 0.18, 0.246], "mend"),
    ],
)
def test_its_terminals(way: str, size: list[float], level: str) -> None:
    found = told(boat({"size": size}, way=way), "TERMINALS")
    assert found.level == level


def test_what_is_offered_mends_it() -> None:
    before = boat({"mass": {**BATTERY["mass"], "value": 60.0}}, pitch=0.2)
    (fix,) = told(before, "HOLD-DOWN").fixes
    assert fix.value == pytest.approx(0.1)
    after = boat({"mass": {**BATTERY["mass"], "value": 60.0}}, pitch=fix.value)
    assert told(after, "HOLD-DOWN").level == "fine"


def test_moving_the_tray_moves_the_battery_and_the_other_way_round() -> None:
    before = boat().plan
    for chosen in ("tray", "battery"):
        after = apply(before, moved(before, [chosen], (0.2, -0.1, 0.05)))
        battery = after.thing("battery")
        assert battery.mass.centre == pytest.approx((1.2, 0.3, 0.175))
        assert tray(derive(after)).region.centroid.x == pytest.approx(1.2)


def test_it_goes_with_its_battery_and_needs_one() -> None:
    before = boat().plan
    assert before.thing("tray") is not None
    assert apply(before, removed(before, ["battery"])).thing("tray") is None
    empty = plan()
    here = derive(empty)
    with pytest.raises(CoreError, match="place one first"):
        place(empty, here.surface, here.footing, "battery_tray")
    small = derive(plan(fittings=[TRAY], items=[{**BATTERY, "size": None}]))
    assert "has no size yet" in told(small, "CANNOT-BUILD").text
