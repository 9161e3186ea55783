"""A locker worked by hand: 0.60 x 0.40 x 0.35 m of 2.5 mm sheet on a deck at 0.3 m."""

import math
from typing import Any

import pytest

from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.kinds.registry import kind_of
from stirrup.core.plan.changes import SetValue, apply
from tests.boats import derive, plan
from tests.core.test_step_box import DECK
from tests.crossing import crossings

LOCKER = {"kind": "locker_box", "id": "locker", "name": "Locker", "mark": "K1", "on": "deck", "x": 2.0,
          "y": 0.2, "length": 0.6, "width": 0.4, "height": 0.35, "skin": "al-2.5"}  # fmt: skip
T = 0.0025


def boat(**choices: Any) -> Derived:
    return derive(plan(fittings=[DECK, {**LOCKER, **choices}]))


def locker(**choices: Any) -> Built:
    built = boat(**choices).fitting("locker")
    assert built is not None
    return built


def test_a_door_laps_its_hole_by_15_mm_and_leaves_a_rim_of_50() -> None:
    built = locker(lids=0, door="aft")
    wall = next(p for p in built.panels if p.label == "K1-A")
    hole = wall.holes[0]
    # 400 wide, 350 less the top high; 50 mm of rim on each side
    high = 0.35 - T - 0.1
    assert (max(p[0] for p in hole), max(p[1] for p in hole)) == pytest.approx((0.15, high / 2))
    assert wall.mass_kg == pytest.approx((0.4 * (0.35 - T) - 0.3 * high) * T * wall.sheet.stuff.density)
    door = next(p for p in built.panels if p.label == "K1-D")
    assert door.polygon.bounds == pytest.approx((-0.165, -high / 2 - 0.015, 0.165, high / 2 + 0.015))
    # outside on its wall, half a sheet off its face
    assert door.centre == pytest.approx((1.7 - T / 2, 0.2, 0.3 + (0.35 - T) / 2))


def test_a_door_in_a_side_is_in_the_wall_between_the_others() -> None:
    built = locker(lids=0, door="port")
    door = next(p for p in built.panels if p.label == "K1-D")
    assert door.polygon.bounds[2] * 2 == pytest.approx(0.6 - 2 * T - 0.1 + 0.03)
    assert door.centre[1] == pytest.approx(0.4 + T / 2)


@pytest.mark.parametrize(
    ("door", "low", "high"),
    [
        # 330 mm of door swing out from the wall, about the starboard edge or the aft one
        ("aft", (1.7 - 0.33, 0.2 - 0.165), (1.7, 0.2 + 0.165)),
        ("fore", (2.3, 0.2 - 0.165), (2.3 + 0.33, 0.2 + 0.165)),
    ],
)
def test_what_a_door_sweeps(door: str, low: tuple[float, float], high: tuple[float, float]) -> None:
    room = next(r for r in locker(lids=0, door=door).rooms if r.what == "door swings")
    b = room.shape.bounds
    assert (b[0], b[1]) == pytest.approx(low, abs=5e-3) and (b[3], b[4]) == pytest.approx(high, abs=5e-3)


def test_a_thing_before_its_door_is_in_its_way() -> None:
    crate = {"id": "crate", "stage": "added", "size": [0.2, 0.2, 0.2],
             "mass": {"value": 1.0, "centre": [1.5, 0.2, 0.41]}}  # fmt: skip
    derived = derive(plan(fittings=[DECK, {**LOCKER, "lids": 0, "door": "aft"}], items=[crate]))
    assert any(f.code == "ROOM" and {f.place, f.other} == {"locker", "crate"} for f in derived.findings)
    away = derive(plan(fittings=[DECK, {**LOCKER, "lids": 0, "door": "fore"}], items=[crate]))
    assert not [f for f in away.findings if {f.place, f.other} == {"locker", "crate"}]


def test_what_shuts_it() -> None:
    count = {b.label: b.quantity for b in locker(lids=2, drain=True).bought}
    # two lids of (400 - 3) / 2 by 600
    assert count["K1-Z"] == pytest.approx(2 * 2 * (0.6 + 0.1985))
    assert count["K1-Q"] == 2 and count["K1-W"] == 1
    door = {b.label: b.quantity for b in locker(lids=0, door="aft").bought}
    high = 0.35 - T - 0.1 + 0.03
    assert door["K1-DH"] == pytest.approx(high - 0.02)
    assert door["K1-DZ"] == pytest.approx(2 * (0.33 + high)) and door["K1-DK"] == 1
    assert "K1-Z" not in door and "K1-W" not in door


def test_nothing_gets_into_what_has_neither_lid_nor_door() -> None:
    before = plan(fittings=[DECK, LOCKER])
    with pytest.raises((CoreError, ValueError), match="0 lids and no door"):
        apply(before, SetValue(path=("fittings", "locker", "lids"), value=0))


@pytest.mark.parametrize(("longest", "level"), [(0.713, "fine"), (0.715, "mend")])
def test_a_rod_lies_from_corner_to_corner(longest: float, level: str) -> None:
    # inside 595 by 395: 714.2 mm from corner to corner
    assert math.hypot(0.595, 0.395) == pytest.approx(0.7142, abs=1e-4)
    found = next(f for f in boat(longest=longest).findings if f.code == "LONGEST")
    assert found.level == level


def test_the_length_that_is_offered_takes_it() -> None:
    found = next(f for f in boat(longest=2.0).findings if f.code == "LONGEST")
    # √(2² - 0.395²) = 1.9606, and two walls: 1.966 once rounded up to half a millimetre
    (fix,) = found.fixes
    assert fix.value == pytest.approx(1.966, abs=6e-4)
    again = next(f for f in boat(longest=2.0, length=fix.value).findings if f.code == "LONGEST")
    assert again.level == "fine"
    # no box may be longer than 3 m: nothing is offered that would be refused
    far = next(f for f in boat(longest=4.0).findings if f.code == "LONGEST")
    assert far.level == "mend" and not far.fixes


def test_mirrored_its_door_opens_to_the_other_side() -> None:
    thing = boat(lids=0, door="port").plan.thing("locker")
    value = thing.model_dump(mode="json")
    kind_of(thing).mirror(value)
    assert (value["y"], value["door"]) == (-0.2, "starboard")


@pytest.mark.parametrize(("tubes", "level"), [(9, "fine"), (10, "mend")])
def test_rod_tubes_side_by_side_and_in_layers(tubes: int, level: str) -> None:
    """Inside 195 mm across and as high: three of 55 in a row, three rows. Each as long as it is inside."""
    slim = {"length": 2.0, "width": 0.2, "height": 0.2}
    found = next(f for f in boat(tubes=tubes, **slim).findings if f.code == "ROD-TUBES")
    assert found.level == level and found.values["room"].value == 9
    (tube,) = (b for b in locker(tubes=4, **slim).bought if b.item == "rod-tube")
    assert tube.quantity == pytest.approx(4 * (2.0 - 2 * T))


def test_its_posts_stand_on_its_bottom() -> None:
    """On cleats of 25 mm and 2.5 of sheet, up to under a lid of 2.5: 350 - 30 mm; nothing of it stands in
    another part."""
    derived = boat()
    built = locker()
    posts = [m for m in built.members if "/post/" in m.key]
    assert [m.length for m in posts] == pytest.approx([0.35 - 0.025 - 2 * T] * 4)
    assert crossings(derived) == {}
    assert crossings(boat(lids=2, door="aft", tubes=3)) == {}
