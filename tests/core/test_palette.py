"""First places of what the palette offers, on a box hull whose inside bottom is at 3 mm."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.arrange.palette import STAGES, palette, place
from stirrup.core.arrange.removal import removed
from stirrup.core.arrange.setting import grouped, locked
from stirrup.core.errors import CoreError
from stirrup.core.fit.accepting import acceptance
from stirrup.core.plan.changes import apply
from stirrup.core.plan.copies import several
from stirrup.core.plan.model import Plan
from tests.boats import DECK, HATCH, derive, plan, skiff_plan


def put(on: Plan, key: str, at: tuple[float, float] | None = None) -> Plan:
    derived = derive(on)
    return apply(on, place(on, derived.surface, derived.footing, key, "", at))


def test_the_stages_come_in_working_order_and_a_hatch_needs_a_deck() -> None:
    empty = palette(plan())
    assert list(dict.fromkeys(e.stage for e in empty)) == list(STAGES)
    assert all(e.reason for e in empty)
    needs = {
        "hatch": "a deck",
        "dry hatch": "a deck",
        "lap hatch": "a deck",
        "face_door": "a deck",
        "glove box": "a deck",
        "bilge_well": "the floor of the boat",
        "windscreen": "a console",
        "battery_tray": "a battery",
        "well_box": "a livewell",
        "tank_cradle": "a tank",
        **dict.fromkeys(
            ("deck step", "deck cleat", "deck rod holder", "deck rail", "quick-release"), "a deck"
        ),
        "chocks": "a cooler",
        "engine_bed": "an engine",
        "steering run": "a console",
        "control run": "a console",
    }
    assert {e.key for e in empty if e.missing} == set(needs)
    assert all(needs[e.key] in e.missing for e in empty if e.missing)
    whole = put(skiff_plan(fittings=[DECK]), "console", (2.0, 0.0))
    for key in ("floor", "battery", "livewell", "motor", "cooler"):
        whole = put(whole, key)
    assert not any(e.missing for e in palette(whole))


def test_a_thing_stands_on_what_is_there() -> None:
    floor = put(plan(), "console", (2.0, 0.0)).items[0]
    assert floor.mass.centre == pytest.approx((2.0, 0.0, 0.003 + 0.45))
    decked = put(skiff_plan(fittings=[DECK]), "cooler", (3.7, 0.0)).items[0]
    assert decked.mass.centre[2] == pytest.approx(0.4 + 0.2)  # deck top 0.4, cooler 0.4 high
    under = put(skiff_plan(fittings=[DECK]), "battery", (3.7, 0.0)).items[0]
    assert under.mass.centre[2] == pytest.approx(0.003 + 0.12)  # batteries stand low


def test_the_next_one_finds_room_beside_the_first() -> None:
    twice = put(put(plan(), "cooler"), "cooler")
    one, two = twice.items
    assert (one.name, two.name) == ("cooler", "cooler 2")
    assert abs(one.mass.centre[0] - two.mass.centre[0]) >= 0.38  # they are 0.38 long
    assert [f for f in derive(twice).findings if f.code == "CLASH"] == []


def test_a_first_place_is_not_half_on_a_deck() -> None:
    # a cooler usually goes to 0.42 of 5 m: 1.91 to 2.29, across the edge of a deck at 2.2
    boat = put(skiff_plan(fittings=[{**DECK, "aft": 2.2}]), "cooler")
    cooler = boat.items[0]
    assert cooler.size is not None
    assert cooler.mass.centre[0] - cooler.size[0] / 2 >= 2.2
    assert cooler.mass.centre[2] == pytest.approx(0.4 + 0.2)


def test_a_seat_goes_behind_the_console() -> None:
    both = put(put(plan(), "console", (2.4, -0.3)), "helm seat")
    seat = both.items[1]
    # the console's aft face is at 2.4 - 0.225; the seat's middle 0.53 behind it
    assert seat.mass.centre[:2] == pytest.approx((1.645, -0.3))


def test_a_windscreen_stands_on_the_fore_edge_of_a_console() -> None:
    with pytest.raises(CoreError, match="console"):
        put(plan(), "windscreen")
    # console 0.45 x 0.60 x 0.90 on the bottom at 0.003: its top at 0.903, its fore edge at 2.225
    both = put(put(plan(), "console", (2.0, 0.3)), "windscreen")
    screen = both.items[1]
    assert screen.size == pytest.approx((0.18, 0.56, 0.32))
    assert screen.mass.centre == pytest.approx((2.225 - 0.09, 0.3, 0.903 + 0.16))
    assert [f for f in derive(both).findings if f.code == "CLASH"] == []
    wide = both.items[0].model_copy(update={"size": (0.45, 0.80, 0.90)})
    broad = put(both.model_copy(update={"items": (wide,)}), "windscreen").items[1]
    assert broad.size == pytest.approx((0.18, 0.76, 0.32))
    # on a console turned to port it is turned with it: 0.135 ahead becomes 0.135 to port
    turned = both.items[0].model_copy(update={"turn": 90.0})
    again = put(both.model_copy(update={"items": (turned,)}), "windscreen").items[1]
    assert (again.turn, again.mass.centre[0]) == (90.0, pytest.approx(2.0))
    assert again.mass.centre[1] == pytest.approx(0.3 + 0.225 - 0.09)


@given(st.floats(0.3, 3.7), st.floats(-0.6, 0.6))
def test_where_it_was_put_is_where_it_is(x: float, y: float) -> None:
    item = put(plan(), "anchor", (x, y)).items[0]
    assert item.mass.centre[:2] == pytest.approx((x, y), abs=1e-3)


def test_copies_keep_their_turn_mirrored_and_tanks_can_be_copied() -> None:
    turned = {"id": "a", "name": "box, port", "size": [0.4, 0.2, 0.2], "turn": 30.0,
              "mass": {"value": 5, "centre": [1.0, 0.4, 0.2]}}  # fmt: skip
    tank = {"id": "t", "name": "water", "size": [0.4, 0.3, 0.2], "floor_centre": [2, 0.2, 0.01],
            "liquid": "fresh water"}  # fmt: skip
    boat = plan(items=[turned], tanks=[tank])
    change, new = several(boat, ["a", "t"], mirrored=True)
    after = apply(boat, change)
    assert new == ("a-1", "t-1")
    assert (after.items[1].turn, after.items[1].mass.centre[1]) == (-30.0, -0.4)
    assert after.items[1].name == "box, starboard"
    assert after.tanks[1].floor_centre == (2, -0.2, 0.01)


def test_taking_a_thing_out_takes_its_settings_along() -> None:
    boat = skiff_plan(fittings=[DECK, HATCH])
    boat = apply(boat, locked(boat, ["hatch"], True))
    boat = apply(boat, grouped(boat, ["deck", "hatch"]))
    boat = apply(boat, acceptance(boat, "STEP", "deck", "", "there is a ladder"))
    boat = apply(boat, acceptance(boat, "ROOM", "cooler", "hatch", "opens the other way"))
    after = apply(boat, removed(boat, ["deck"]))
    assert after.fittings == () and after.arrangement.things == ()
    assert after.arrangement.accepted == ()
    with pytest.raises(CoreError, match="locked already"):
        locked(boat, ["hatch"], True)


def test_a_deck_put_down_at_the_stern_follows_the_transom_and_faces_forward() -> None:
    from stirrup.demo.seed import demo_plan

    boat = demo_plan("sedge-hopper.stirrup.json")  # her transom is raked: open from -0.061 m
    after = put(boat, "raised_deck", (0.3, 0.0))
    deck = after.fittings[-1]
    assert (deck.aft, deck.face, deck.face_fore) == (None, False, True)  # type: ignore[union-attr]
    derived = derive(after)
    assert not [f for f in derived.findings if f.code == "CANNOT-BUILD" and f.place == deck.id]
    built = derived.fitting(deck.id)
    assert built is not None and built.region.bounds[0] < 0
    assert any(p.label.endswith("-FF") for p in built.panels)


def test_a_new_tank_weighs_its_walls() -> None:
    # fuel tank 0.6 x 0.5 x 0.2 say: 2 (ab + bc + ac) x 5 mm x 955 kg/m3
    from stirrup.core.bodies.tank import empty_tank_kg

    assert empty_tank_kg((1.0, 1.0, 1.0)) == pytest.approx(6 * 0.005 * 955, abs=0.05)
    tank = put(plan(), "fuel tank").tanks[0]
    a, b, c = tank.size
    assert tank.empty_mass == pytest.approx(2 * (a * b + b * c + a * c) * 0.005 * 955, abs=0.06)
    assert not tank.owned


def test_a_bow_motor_lies_on_the_rail_where_there_is_no_deck() -> None:
    # the skiff's sheer is 0.6 m up all along, and she is 0.03 m wide at 5.0 m
    motor = put(skiff_plan(), "bow motor", (4.95, 0.0)).items[-1]
    assert motor.size is not None
    assert motor.mass.centre[2] - motor.size[2] / 2 == pytest.approx(0.6, abs=0.002)
    with pytest.raises(CoreError, match="pick a place inside the boat"):
        put(skiff_plan(), "bow motor", (-0.5, 0.0))


def test_the_second_deck_goes_to_the_stern_and_hatches_keep_apart() -> None:
    boat = skiff_plan()
    for key in ("raised_deck", "raised_deck", "hatch", "hatch", "hatch", "hatch"):
        boat = put(boat, key)
    bow, stern = boat.fittings[:2]
    assert bow.aft > 2.5 and stern.aft is None and stern.fore < 2.5
    derived = derive(boat)
    assert not [f for f in derived.findings if f.code in ("HATCH-NEAR", "HATCH-EDGE") and f.level == "stop"]
    # one that is chosen takes it as long as it has room
    here = derive(boat)
    chosen = place(boat, here.surface, here.footing, "hatch", host=stern.id).value
    assert chosen["deck"] == stern.id


def test_the_second_seat_goes_beside_the_first() -> None:
    boat = put(plan(), "console", (2.5, -0.4))
    for _ in range(2):
        boat = put(boat, "helm seat")
    one, two = (i for i in boat.items if i.form == "seat")
    assert one.mass.centre[1] == pytest.approx(-0.4) and two.mass.centre[1] == pytest.approx(0.4)
    assert one.mass.centre[0] == pytest.approx(two.mass.centre[0])


def test_low_things_stand_on_the_floor_and_not_under_it() -> None:
    floor = {"kind": "floor", "id": "floor", "name": "Floor", "height": 0.12, "fore": 3.0}
    boat = put(plan(fittings=[floor, {**DECK, "aft": 3.2, "fore": 3.9}]), "battery", (1.0, 0.3))
    assert boat.items[0].mass.centre[2] == pytest.approx(0.12 + 0.12)
    # under a deck there is none: on the bottom, 3 mm up
    under = put(boat, "battery", (3.5, 0.3)).items[1]
    assert under.mass.centre[2] == pytest.approx(0.003 + 0.12)


def test_a_crate_goes_under_the_deck_that_it_is_placed_under() -> None:
    boat = put(
        plan(fittings=[{**DECK, "aft": 2.4, "fore": 3.9, "height": 0.3}]), "anchor_locker", (3.0, 0.0)
    )
    (locker,) = [f for f in boat.fittings if f.id != "deck"]
    # members 40 mm deep under 2.5 mm of skin, 10 mm of play, 3 mm of bottom
    assert locker.height == pytest.approx(0.3 - 0.0025 - 0.04 - 0.01 - 0.003, abs=1e-3)
