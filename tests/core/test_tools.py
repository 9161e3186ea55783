"""Room for hand and tool: the drill at side angles, nuts under a deck, a back that folds."""

from typing import Any

import pytest

from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from tests.boats import DECK, HATCH, derive, plan, skiff_plan
from tests.core.test_fit import FLOOR, one, thing

BOX_DECK = {**DECK, "aft": 1.0, "fore": 2.5, "height": 0.5}  # in the box hull: inside at y = 0.9975


def found(derived: Derived, code: str) -> list[Finding]:
    return [f for f in derived.findings if f.code == code]


def tank(y: float, low: float = 0.3, **more: Any) -> dict[str, Any]:
    return thing("tank", "tank", (1.8, y, low), (0.4, 0.3, 0.3), stage="found", **more)


def test_a_found_tank_beside_the_side_angle_leaves_no_room_to_drill() -> None:
    # its port side is at 0.7 + 0.15 = 0.85: 0.9975 - 0.85 = 0.1475 of the 0.25 that a drill needs
    near = one(derive(plan(fittings=[BOX_DECK], items=[tank(0.7)])), "DRILL")
    assert (near.level, near.place, near.other) == ("look", "deck", "tank")
    assert near.values["gap"].value == pytest.approx(0.1475, abs=1e-4)
    other = one(derive(plan(fittings=[BOX_DECK], items=[tank(-0.7)])), "DRILL")
    assert other.values["gap"].value == pytest.approx(0.1475, abs=1e-4)


@pytest.mark.parametrize(
    "item",
    [
        tank(0.55),  # 0.2975 from the side
        tank(0.7, low=0.01),  # its top at 0.31; the drill works down to 0.4575 - 0.05
        tank(0.7, low=0.56),  # its foot over the drill's upper side at 0.4975 + 0.05
        tank(0.7) | {"stage": "added"},  # goes in after the angles
        tank(0.7) | {"form": "box"},  # is lifted out
        thing("tank", "tank", (2.9, 0.7, 0.3), (0.4, 0.3, 0.3), stage="found"),  # ahead of the deck
    ],
)
def test_what_is_not_there_or_not_near_is_in_no_drills_way(item: dict[str, Any]) -> None:
    assert found(derive(plan(fittings=[BOX_DECK], items=[item])), "DRILL") == []


def test_a_rib_is_drilled_beside_and_a_thwart_is_in_the_way() -> None:
    piece = {
        "id": "piece",
        "kind": "rib",
        "box": {"size": [0.05, 0.19, 0.3], "floor_centre": [1.725, 0.895, 0.3]},
    }
    assert found(derive(plan(fittings=[BOX_DECK], existing=[piece])), "DRILL") == []
    other = piece | {"kind": "other"}
    gap = one(derive(plan(fittings=[BOX_DECK], existing=[other])), "DRILL").values["gap"].value
    assert gap == pytest.approx(0.0075, abs=1e-4)


SEAT = thing("seat", "seat", (3.8, 0, 0.4), (0.45, 0.5, 0.6))


def test_the_nuts_of_a_seat_on_a_deck_must_be_in_reach() -> None:
    # without a hatch, and both its faces closed, no hand gets under it
    closed = {**DECK, "face_fore": True}
    shut = one(derive(skiff_plan(fittings=[closed], items=[SEAT])), "BOLTS")
    assert (shut.level, shut.place, shut.other) == ("look", "seat", "deck")
    assert "no opening" in shut.text and "far" not in shut.values
    # hatch at 3.4: clear to 3.6; bolts 0.1 either way of 3.8: the farthest 0.3 ahead, within 0.15
    near = {**HATCH, "x": 3.4}
    # from the open fore end at 4.5 the farthest bolt, at 3.7, lies 0.8 off
    ahead = one(derive(skiff_plan(fittings=[DECK], items=[SEAT])), "BOLTS")
    assert ahead.values["far"].value == pytest.approx(0.8, abs=0.01)
    inside = one(derive(skiff_plan(fittings=[DECK, near], items=[SEAT])), "BOLTS")
    assert (inside.level, inside.values["far"].value) == ("fine", pytest.approx(0.3))
    assert inside.values["reach"].value == pytest.approx(0.42 * 1.75)


def test_an_open_end_lets_an_arm_in_as_far_as_it_reaches() -> None:
    # the aft edge is at 3.0: bolts at 3.9 are 0.9 away, 0.165 more than the arm is long
    bare = {**DECK, "face": False}
    out = one(derive(skiff_plan(fittings=[bare], items=[SEAT])), "BOLTS")
    assert (out.level, out.values["far"].value) == ("look", pytest.approx(0.9, abs=1e-6))
    nearer = thing("seat", "seat", (3.6, 0, 0.4), (0.45, 0.5, 0.6))
    assert one(derive(skiff_plan(fittings=[bare], items=[nearer])), "BOLTS").level == "fine"


def test_a_hatch_too_small_for_a_hand_is_no_way_in_and_a_seat_on_the_bottom_is_not_asked() -> None:
    slit = {**HATCH, "x": 3.4, "clear_width": 0.1, "clear_length": 0.14}
    assert one(derive(skiff_plan(fittings=[DECK, slit], items=[SEAT])), "BOLTS").level == "look"
    low = thing("seat", "seat", (2.0, 0, FLOOR), (0.45, 0.5, 0.6))
    assert found(derive(skiff_plan(fittings=[DECK], items=[low])), "BOLTS") == []
    lifted = thing("seat", "seat", (3.8, 0, 0.6), (0.45, 0.5, 0.6))  # on something else
    assert found(derive(skiff_plan(fittings=[DECK], items=[lifted])), "BOLTS") == []
    there = SEAT | {"stage": "found"}
    assert found(derive(skiff_plan(fittings=[DECK], items=[there])), "BOLTS") == []


def test_a_back_taller_than_the_cushion_is_long_needs_room_to_fold() -> None:
    # seat 1.0 high, 0.4 long at 2.0: cushion at 0.49, hinge at 1.8; the back is 0.52 long and lies
    # down to 2.32, 0.12 ahead of the cushion
    seat = thing("seat", "seat", (2.0, 0, FLOOR), (0.4, 0.3, 1.0))
    wheel = thing("post", "box", (2.33, 0, FLOOR), (0.06, 0.2, 0.6))
    hit = [f for f in found(derive(plan(items=[seat, wheel])), "ROOM") if "folds" in f.text]
    assert len(hit) == 1
    assert hit[0].values["amount"].value == pytest.approx(0.02, abs=0.002)  # 2.32 - 2.30
    short = thing("seat", "seat", (2.0, 0, FLOOR), (0.4, 0.3, 0.7))  # 0.36 of back on 0.4 of cushion
    inside = thing("post", "box", (2.1, 0, FLOOR), (0.06, 0.2, 0.6))
    for other in (wheel, inside):  # what stands in the seat itself is a collision, and told as one
        rooms = found(derive(plan(items=[short, other])), "ROOM")
        assert not any("folds" in f.text for f in rooms)


def over(tank_low: float, x: float = 1.8, form: str = "tank") -> list[Finding]:
    """A seat on a floor 0.1 m up, its bolts at 1.8 m; something 0.05 high under it from a height on."""
    floor = {"kind": "floor", "id": "floor", "name": "Floor", "mark": "F1", "aft": 0.5, "fore": 2.5,
             "height": 0.2, "skin": "ply-12", "bearers": "ply-12"}  # fmt: skip
    seat = {
        "kind": "pedestal_seat",
        "id": "seat",
        "name": "Seat",
        "mark": "S1",
        "on": "floor",
        "x": 1.8,
        "y": 0.3,
    }
    under = thing("low", form, (x, 0.3, tank_low), (0.3, 0.3, 0.05), stage="found")
    return found(derive(plan(fittings=[floor, seat], items=[under])), "DRILL-INTO")


def test_nobody_drills_into_what_lies_under_the_bolts() -> None:
    # 80 mm under the floor's top at 0.2: a top at 0.13 is met, one at 0.11 is not
    (told,) = over(0.08)
    assert (told.place, told.other) == ("seat", "low")
    assert told.values["gap"].value == pytest.approx(0.07)
    assert over(0.06) == []
    # its base reaches 0.115 aft and forward, and 20 mm beside a bolt count: 0.135 and half of 0.3
    assert over(0.08, 1.8 + 0.284) and over(0.08, 1.8 + 0.287) == []


def test_a_tank_is_worse_than_a_box() -> None:
    floor = {"kind": "floor", "id": "floor", "name": "Floor", "mark": "F1", "aft": 0.5, "fore": 2.5,
             "height": 0.3, "skin": "ply-12", "bearers": "ply-12"}  # fmt: skip
    seat = {
        "kind": "pedestal_seat",
        "id": "seat",
        "name": "Seat",
        "mark": "S1",
        "on": "floor",
        "x": 1.8,
        "y": 0.3,
    }
    fuel = {"id": "fuel", "name": "fuel", "size": [0.4, 0.4, 0.2], "floor_centre": [1.8, 0.3, 0.05],
            "liquid": "petrol"}  # fmt: skip
    (told,) = found(derive(plan(fittings=[floor, seat], tanks=[fuel])), "DRILL-INTO")
    assert told.level == "mend" and "Nobody drills over a tank" in told.remedy
    assert over(0.08, form="box")[0].level == "look"
