"""A tank of 600 x 500 x 160 mm on the floor at 0.1 m in a box 2 m wide and 1 m deep, and what holds it."""

import math
from typing import Any

import pytest

from stirrup.core.arrange.move import moved
from stirrup.core.arrange.palette import place
from stirrup.core.arrange.removal import removed
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding
from stirrup.core.plan.changes import apply
from tests.boats import derive, plan
from tests.crossing import crossings

TANK: dict[str, Any] = {"id": "fuel", "name": "fuel", "size": [0.6, 0.5, 0.16], "liquid": "petrol",
                        "floor_centre": [2.0, 0.1, 0.1], "empty_mass": 7.0}  # fmt: skip
CRADLE = {"kind": "tank_cradle", "id": "cradle", "name": "Cradle", "mark": "T1", "tank": "fuel",
          "angle": "angle-25x25x3"}  # fmt: skip


def boat(tank: dict[str, Any] | None = None, items: Any = (), **choices: Any) -> Derived:
    return derive(plan(fittings=[{**CRADLE, **choices}], tanks=[{**TANK, **(tank or {})}], items=items))


def cradle(derived: Derived) -> Built:
    built = derived.fitting("cradle")
    assert built is not None
    return built


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code)


def test_polyethylene_grows_and_metal_does_not() -> None:
    """2 % of 600 mm is 12: 6 at either end. Two angles of 600 + 12 + 50, two of 500 + 12."""
    built = cradle(boat())
    assert sorted(m.length for m in built.members) == pytest.approx([0.512, 0.512, 0.662, 0.662])
    assert built.region.bounds == pytest.approx((2.0 - 0.331, 0.1 - 0.281, 2.0 + 0.331, 0.1 + 0.281))
    assert told(boat(), "TANK-GROWS").values["grows"].value == pytest.approx(0.012)
    metal = boat(of="metal")
    assert sorted(m.length for m in cradle(metal).members) == pytest.approx([0.506, 0.506, 0.656, 0.656])
    assert told(metal, "TANK-GROWS").level == "look"
    # a small one keeps 3 mm: 2 % of 200 is 4, half of it 2
    assert cradle(boat({"size": [0.2, 0.2, 0.2]})).members[0].length == pytest.approx(0.2 + 0.006 + 0.05)


def test_what_it_takes() -> None:
    """662 mm at 120 take 7 screws, 512 take 6; two straps for 600 mm; strip round it and under either."""
    parts = {b.label: b.quantity for b in cradle(boat()).bought}
    assert parts == {"T1-Y": 2, "T1-R": 2 * 7 + 2 * 6, "T1-Z": pytest.approx(2 * 1.1 + 2 * 0.5)}
    assert {b.label: b.quantity for b in cradle(boat({"size": [0.5, 0.5, 0.2]})).bought}["T1-Y"] == 1


@pytest.mark.parametrize(
    ("high", "pitch", "level"),
    [
        # full 0.3 h x 745 kg and 7: at 0.16 42.8 kg, 839 N; six screws of 500 N hold 3000
        (0.16, 0.12, "fine"),
        # two screws, one at each end of an angle: 1000 N hold 50.97 kg, 0.1967 m of petrol
        (0.196, 0.4, "fine"),
        (0.198, 0.4, "mend"),
    ],
)
def test_held_against_twice_what_it_weighs_full(high: float, pitch: float, level: str) -> None:
    # 512 mm at 400 take 3 screws; a narrower tank has 2 on its short sides
    size = [0.6, 0.5, high] if pitch < 0.4 else [0.6 * 0.5 / 0.35, 0.35, high]
    assert told(boat({"size": size}, pitch=pitch), "HOLD-DOWN").level == level


def test_what_is_offered_holds_it() -> None:
    size = [0.6 * 0.5 / 0.35, 0.35, 0.25]
    found = told(boat({"size": size}, pitch=0.4), "HOLD-DOWN")
    (fix,) = found.fixes
    assert fix.value == pytest.approx(0.2)
    assert told(boat({"size": size}, pitch=fix.value), "HOLD-DOWN").level == "fine"


def test_fill_and_vent_lead_to_the_sheer() -> None:
    """From the middle of its top (2, 0.1, 0.26) to the sheer at y 1 and z 1: 0.9 across, 0.74 up; 1.64 and
    a tenth and twice 0.15. Its fall: atan(0.74 / 0.9)."""
    derived = boat(fill="port")
    parts = {b.label: b for b in cradle(derived).bought}
    hose = parts["T1-FH"]
    found = told(derived, "FILL-FALLS")
    end = derived.surface.sheer_at(2.0, 1.0)
    across, up, along = end[1] - 0.1, end[2] - 0.26, abs(end[0] - 2.0)
    assert (end[1], end[2]) == pytest.approx((1.0, 1.0), abs=0.01)
    assert hose.quantity == pytest.approx(1.1 * (along + across + up) + 0.3)
    assert found.level == "fine"
    assert found.values["fall"].value == pytest.approx(
        math.degrees(math.atan2(up, math.hypot(across, along)))
    )
    assert hose.item == "hose-fill-38" and parts["T1-VH"].item == "hose-vent-16"
    assert parts["T1-FC"].quantity == 6 and parts["T1-F"].centre == pytest.approx(end)
    # the other way it is longer by what the tank stands to port
    other = {b.label: b for b in cradle(boat(fill="starboard")).bought}["T1-FH"]
    assert other.quantity - hose.quantity == pytest.approx(1.1 * 0.2)
    assert cradle(boat({"liquid": "fresh water"}, fill="port")).bought[3].item == "fill-water"


def test_a_tank_nearly_as_high_as_its_fill_is_told() -> None:
    # atan(0.0787 / 0.9) is 5 degrees: a top 0.08 under the sheer is enough, 0.075 is not
    assert told(boat({"floor_centre": [2.0, 0.1, 0.76]}, fill="port"), "FILL-FALLS").level == "fine"
    assert told(boat({"floor_centre": [2.0, 0.1, 0.768]}, fill="port"), "FILL-FALLS").level == "mend"


def test_nothing_of_it_stands_in_the_tank() -> None:
    derived = boat(fill="port")
    assert not [f for f in derived.findings if f.code in ("CLASH", "DRILL-INTO")]
    assert {k: v for k, v in crossings(derived).items() if v > 0.0035} == {}


def test_it_goes_where_its_tank_goes_and_needs_one() -> None:
    before = boat().plan
    after = apply(before, moved(before, ["cradle"], (0.2, -0.1, 0.05)))
    assert after.thing("fuel").floor_centre == pytest.approx((2.2, 0.0, 0.15))
    assert apply(before, removed(before, ["fuel"])).thing("cradle") is None
    empty = derive(plan())
    with pytest.raises(CoreError, match="place one first"):
        place(empty.plan, empty.surface, empty.footing, "tank_cradle")


def test_a_first_one_goes_round_the_fuel_filled_from_its_side() -> None:
    water = {**TANK, "id": "water", "liquid": "water", "floor_centre": [1.0, 0.0, 0.1]}
    here = derive(plan(tanks=[water, {**TANK, "floor_centre": [2.0, -0.3, 0.1]}]))
    value = place(here.plan, here.surface, here.footing, "tank_cradle").value
    assert (value["tank"], value["fill"]) == ("fuel", "starboard")


BATTERY = {"id": "battery", "form": "battery", "stage": "added", "size": [0.33, 0.18, 0.24],
           "mass": {"value": 24.0, "centre": [1.3, 0.1, 0.22]}}  # fmt: skip


@pytest.mark.parametrize(
    ("x", "level"),
    # the tank begins at 1.7; the battery ends 165 mm ahead of its middle
    [(1.385, "fine"), (1.386, "mend"), (1.6, "mend")],
)
def test_a_battery_keeps_off_the_petrol(x: float, level: str) -> None:
    battery = {**BATTERY, "mass": {"value": 24.0, "centre": [x, 0.1, 0.22]}}
    assert told(boat(items=[battery]), "SPARKS").level == level


def test_slantwise_the_straight_way_counts_and_the_nearest_battery() -> None:
    # 90 mm ahead of it and 120 above: 150 mm
    near = {**BATTERY, "mass": {"value": 24.0, "centre": [1.7 - 0.09 - 0.165, 0.1, 0.26 + 0.12 + 0.12]}}
    far = {**BATTERY, "id": "far", "mass": {"value": 24.0, "centre": [0.5, 0.1, 0.22]}}
    found = told(boat(items=[far, near]), "SPARKS")
    assert found.values["gap"].value == pytest.approx(0.15)
    assert (found.other, found.level) == ("battery", "fine")


def test_no_spark_is_told_without_petrol_or_battery() -> None:
    assert not [f for f in boat().findings if f.code == "SPARKS"]
    assert not [f for f in boat({"liquid": "diesel"}, [BATTERY]).findings if f.code == "SPARKS"]


def test_a_tank_under_a_floor_is_looked_at_through_an_opening() -> None:
    """Under a deck at 0.4 m, without a hatch over it, with one beside it, with one over its end."""
    deck = {"kind": "raised_deck", "id": "deck", "name": "Deck", "mark": "D1", "aft": 1.0, "fore": 3.5,
            "height": 0.4}  # fmt: skip
    hatch = {"kind": "hatch", "id": "hatch", "name": "Hatch", "deck": "deck", "y": 0.0, "clear_length": 0.3,
             "clear_width": 0.3}  # fmt: skip
    # the tank reaches from 1.7 to 2.3
    for at, level in ((None, "look"), (2.9, "look"), (2.4, "fine")):
        fittings = [CRADLE, deck, *([{**hatch, "x": at}] if at else [])]
        assert told(derive(plan(fittings=fittings, tanks=[TANK])), "TANK-REACH").level == level
    open_ = derive(plan(fittings=[CRADLE], tanks=[TANK]))
    assert not [f for f in open_.findings if f.code == "TANK-REACH"]
    water = derive(plan(fittings=[deck], tanks=[{**TANK, "liquid": "fresh water"}]))
    assert not [f for f in water.findings if f.code == "TANK-REACH"]
