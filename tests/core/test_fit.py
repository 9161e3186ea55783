"""Collisions, rooms, the hull, the way out, people, walkway, eye line: boxes and hand calculation."""

import math
from typing import Any

import pytest
from shapely.geometry import box

from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.fit.accepting import acceptance
from stirrup.core.fit.body import foot_of, pose
from stirrup.core.fit.sight import pane_over_m
from stirrup.core.fit.walkway import narrowest
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.plan.model import Person
from tests.boats import DECK, HATCH, derive, plan, skiff_plan, wedge_lines


def thing(
    id_: str, form: str, at: tuple[float, float, float], size: tuple[float, float, float], **more: Any
):
    """An item that stands with its floor at z."""
    centre = [at[0], at[1], at[2] + size[2] / 2]
    return {"id": id_, "name": id_, "form": form, "size": list(size), "stage": "added",
            "mass": {"value": 5.0, "centre": centre}, **more}  # fmt: skip


def found(derived: Derived, code: str, place: str = "") -> list[Finding]:
    return [f for f in derived.findings if f.code == code and place in ("", f.place)]


def one(derived: Derived, code: str, place: str = "") -> Finding:
    (finding,) = found(derived, code, place)
    return finding


FLOOR = 0.01  # over the 3 mm bottom of the box hull


def test_two_boxes_in_one_place_and_the_way_out() -> None:
    boat = plan(items=[thing("a", "box", (1.0, 0, FLOOR), (0.5, 0.4, 0.3)),
                       thing("b", "box", (1.4, 0, FLOOR), (0.5, 0.4, 0.3))])  # fmt: skip
    clash = one(derive(boat), "CLASH")
    assert {clash.place, clash.other} == {"a", "b"}
    assert clash.values["amount"].value == pytest.approx(0.1)  # 1.25 - 1.15
    assert "aft" in clash.remedy
    apart = plan(items=[thing("a", "box", (1.0, 0, FLOOR), (0.5, 0.4, 0.3)),
                        thing("b", "box", (1.5, 0, FLOOR), (0.5, 0.4, 0.3))])  # fmt: skip
    assert found(derive(apart), "CLASH") == []


def test_removed_things_are_in_nobodys_way() -> None:
    boat = plan(items=[thing("a", "box", (1.0, 0, FLOOR), (0.5, 0.4, 0.3)),
                       thing("b", "box", (1.0, 0, FLOOR), (0.5, 0.4, 0.3), stage="removed")])  # fmt: skip
    assert found(derive(boat), "CLASH") == []


def test_an_accepted_collision_stays_visible_and_no_longer_asks() -> None:
    boat = plan(items=[thing("a", "box", (1.0, 0, FLOOR), (0.5, 0.4, 0.3)),
                       thing("b", "box", (1.4, 0, FLOOR), (0.5, 0.4, 0.3))])  # fmt: skip
    clash = one(derive(boat), "CLASH")
    after = apply(boat, acceptance(boat, clash.code, clash.place, clash.other, " b has a {recess} "))
    meant = one(derive(after), "CLASH")
    assert meant.level == "fine"
    assert meant.text.endswith("Reason: b has a (recess)")
    assert meant.accepted == after.arrangement.accepted[0].id


def test_a_box_through_the_bottom_and_one_through_the_side() -> None:
    # box hull: inside of the bottom at 0.003, of the side at 0.9975
    low = one(derive(plan(items=[thing("a", "box", (2, 0, -0.027), (0.4, 0.4, 0.3))])), "HULL")
    assert low.values["amount"].value == pytest.approx(0.030)
    wide = one(derive(plan(items=[thing("a", "box", (2, 0.9, FLOOR), (0.4, 0.4, 0.3))])), "HULL")
    assert wide.values["amount"].value == pytest.approx(1.1 - 0.9975)
    inside = derive(plan(items=[thing("a", "box", (2, 0.5, FLOOR), (0.4, 0.4, 0.3))]))
    assert found(inside, "HULL") == []


def test_a_lid_needs_its_swing() -> None:
    # lid 0.4 long hinged at 1.2, open to 105 degrees: a wall at 1.15 above it is struck
    cooler = thing("cooler", "cooler", (1.0, 0, FLOOR), (0.4, 0.4, 0.4))
    shelf = thing("shelf", "box", (1.0, 0, 0.6), (0.4, 0.4, 0.1))
    room = one(derive(plan(items=[cooler, shelf])), "ROOM")
    assert (room.place, room.other) == ("cooler", "shelf")
    # the lid sweeps 0.4 up from 0.41 at the hinge; the shelf's lower edge is at 0.6
    high = thing("shelf", "box", (1.0, 0, 0.82), (0.4, 0.4, 0.1))
    assert found(derive(plan(items=[cooler, high])), "ROOM") == []


def test_a_tiller_swings_only_where_there_is_one() -> None:
    motor = {"id": "motor", "name": "motor", "form": "outboard", "group": "motor",
             "mass": {"value": 30.0, "centre": [-0.2, 0, 0.9]}}  # fmt: skip
    chest = thing("chest", "box", (0.5, 0, 0.85), (0.3, 0.3, 0.3))
    by_hand = plan(items=[motor, chest])
    assert any("tiller" in f.text for f in found(derive(by_hand), "ROOM", "motor"))
    steered = plan(items=[motor, chest], propulsion={"remote_steering": True})
    assert not any("tiller" in f.text for f in found(derive(steered), "ROOM", "motor"))


BATTERY = thing("battery", "battery", (3.6, 0, 0.02), (0.3, 0.2, 0.2))


WHOLE = {**DECK, "fore": None}  # to the bow: no end of it is open but the faced one


def test_a_battery_under_a_deck_comes_out_through_a_hatch_only() -> None:
    shut = one(derive(skiff_plan(fittings=[WHOLE], items=[BATTERY])), "WAY-OUT")
    assert (shut.level, shut.place, shut.other) == ("mend", "battery", "deck")
    # the hatch at 3.6 is 0.4 by 0.3 clear: 0.3 by 0.2 goes through
    assert found(derive(skiff_plan(fittings=[WHOLE, HATCH], items=[BATTERY])), "WAY-OUT") == []
    small = {**HATCH, "x": 3.9, "clear_width": 0.19}
    assert one(derive(skiff_plan(fittings=[WHOLE, small], items=[BATTERY])), "WAY-OUT").level == "mend"


def test_a_battery_beside_a_hatch_is_slid_under_it() -> None:
    # the hatch's middle is 0.3 ahead, and it may stand off the middle by (0.4 - 0.3) / 2
    beside = {**HATCH, "x": 3.9}
    slid = one(derive(skiff_plan(fittings=[WHOLE, beside], items=[BATTERY])), "WAY-OUT")
    assert (slid.level, slid.title) == ("fine", "Comes out slid")
    assert "Hatch" in slid.text
    assert slid.values["slide"].value == pytest.approx(0.25, abs=0.05)
    # a box across the way between them, from side to side
    wall = thing("wall", "box", (3.79, 0, 0.02), (0.04, 1.1, 0.2))
    shut = derive(skiff_plan(fittings=[WHOLE, beside], items=[BATTERY, wall]))
    assert one(shut, "WAY-OUT", "battery").level == "mend"
    # one that it is slid over is not in the way
    sill = thing("sill", "box", (3.79, 0, 0.02), (0.04, 1.1, 0.01))
    over = derive(skiff_plan(fittings=[WHOLE, beside], items=[BATTERY, sill]))
    assert one(over, "WAY-OUT", "battery").level == "fine"


def test_while_a_thing_is_dragged_the_ways_out_of_others_are_those_known_before() -> None:
    beside = {**HATCH, "x": 3.9}
    wall = thing("wall", "box", (1.0, 0, 0.02), (0.04, 1.1, 0.2))
    before = skiff_plan(fittings=[WHOLE, beside], items=[BATTERY, wall])
    assert one(derive(before), "WAY-OUT", "battery").level == "fine"
    centre = ("items", "wall", "mass", "centre")
    after = apply(before, SetValue(path=centre, value=[3.79, 0.0, 0.12]))
    assert one(derive(after, quick=True), "WAY-OUT", "battery").level == "fine"
    assert one(derive(after), "WAY-OUT", "battery").level == "mend"
    # the thing that is dragged itself is looked at anew
    battery = ("items", "battery", "mass", "centre")
    there = apply(after, SetValue(path=battery, value=[3.9, 0.0, 0.12]))
    assert found(derive(there, quick=True), "WAY-OUT", "battery") == []


def test_a_battery_is_slid_out_at_an_open_end() -> None:
    # the deck's aft edge is at 3.0: without a face the battery's fore end passes it after
    # 3.6 + 0.15 - 3.0 = 0.75; a face shuts it, one that ends above the battery's top does not
    bare = {**WHOLE, "face": False}
    slid = one(derive(skiff_plan(fittings=[bare], items=[BATTERY])), "WAY-OUT")
    assert "open aft end" in slid.text
    assert slid.values["slide"].value == pytest.approx(0.75, abs=0.06)
    low, high = ({**WHOLE, "face_foot": foot} for foot in (0.15, 0.3))
    assert one(derive(skiff_plan(fittings=[low], items=[BATTERY])), "WAY-OUT").level == "mend"
    assert one(derive(skiff_plan(fittings=[high], items=[BATTERY])), "WAY-OUT").level == "fine"
    # farther in than an arm reaches: 0.42 of 1.75 m from its near end
    deep = thing("battery", "battery", (4.2, 0, 0.02), (0.3, 0.2, 0.2))
    far = one(derive(skiff_plan(fittings=[bare], items=[deep])), "WAY-OUT")
    assert (far.level, "strap" in far.remedy) == ("look", True)


def test_a_battery_in_the_corner_of_the_bilge_is_slid_inward_first() -> None:
    # its outer edge at 0.72 is over the flared side from the chine at 0.71 on, where nothing stands
    corner = thing("battery", "battery", (3.2, 0.62, 0.02), (0.3, 0.2, 0.2))
    bare = {**WHOLE, "face": False}
    assert one(derive(skiff_plan(fittings=[bare], items=[corner])), "WAY-OUT").level == "fine"


def test_what_stands_between_the_members_is_not_slid() -> None:
    # members end at 0.3575; its top is at 0.37, so it is held where it stands
    held = thing("battery", "battery", (3.6, 0, 0.02), (0.3, 0.2, 0.35))
    bare = {**WHOLE, "face": False}
    assert one(derive(skiff_plan(fittings=[bare], items=[held])), "WAY-OUT").level == "mend"
    assert one(derive(skiff_plan(fittings=[bare], items=[BATTERY])), "WAY-OUT").level == "fine"


def test_a_thing_under_a_deck_must_clear_its_members() -> None:
    # deck at 0.4, 2.5 mm skin, 40 mm angle: members end at 0.3575
    tall = thing("chest", "box", (3.9, 0.1, 0.08), (0.3, 0.2, 0.3))
    clash = one(derive(skiff_plan(fittings=[DECK], items=[tall])), "CLASH")
    assert clash.values["amount"].value == pytest.approx(0.38 - 0.3575)
    assert "members" in clash.text
    low = thing("chest", "box", (3.9, 0.1, 0.05), (0.3, 0.2, 0.3))
    assert found(derive(skiff_plan(fittings=[DECK], items=[low])), "CLASH") == []


@pytest.mark.parametrize(
    ("stature", "rise", "ahead", "lift"),
    [
        (1.75, 0.45, 0.0, 0.0),  # higher than the back of the knee at 0.42875: the shank hangs
        # 0.30: the knee rises by half of 0.12875, the heel is sqrt(0.42875² - 0.364375²) ahead
        (1.75, 0.30, 0.225959, 0.064375),
    ],
)
def test_where_the_feet_go(stature: float, rise: float, ahead: float, lift: float) -> None:
    assert foot_of(stature, rise, 0.0) == (pytest.approx(ahead, abs=1e-6), pytest.approx(lift))


def test_a_persons_measures() -> None:
    tall = pose(Person(stature=2.0, posture="standing", at=(0, 0, 0.1)))
    assert tall.eye[1] == pytest.approx(0.1 + 1.87)
    assert tall.elbow[1] == pytest.approx(0.1 + 1.26)
    seated = pose(Person(stature=2.0, posture="seated", at=(0, 0, 0.5)), 0.0)
    assert seated.eye[1] == pytest.approx(0.5 + 0.91)
    assert seated.foot[1] == pytest.approx(0.5 - 0.49)  # hangs 0.245 of stature under the seat


def helm(seat_top: float = 0.45, wheel_at: float = 2.6, stature: float = 1.75) -> Derived:
    """Somebody seated at x = 2 behind a console 0.9 high whose aft face is at wheel_at."""
    seat = thing("seat", "seat", (2.0, 0, FLOOR), (0.5, 0.5, 0.7))
    console = thing("console", "console", (wheel_at + 0.2, 0, FLOOR), (0.4, 0.6, 0.9))
    crew = [{"posture": "seated", "stature": stature, "at": [2.0, 0, seat_top], "name": "Ines"}]
    return derive(plan(items=[seat, console], cases=[{"name": "out", "crew": crew}]))


def test_seat_height_against_the_back_of_the_knee() -> None:
    good = one(helm(0.45), "SEAT-HEIGHT", "seat")
    # floor 0.003: rise 0.447; 0.9 to 1.05 of 0.42875 are 0.3859 and 0.4502
    assert good.level == "fine"
    assert good.values["low"].value == pytest.approx(0.385875)
    assert good.values["high"].value == pytest.approx(0.4501875)
    assert one(helm(0.47), "SEAT-HEIGHT", "seat").title == "The feet hang"
    assert one(helm(0.35), "SEAT-HEIGHT", "seat").title == "Low seat"


def test_reach_is_from_the_back() -> None:
    # back at 2.0 - 0.11 x 1.75 = 1.8075; reach 0.735: the wheel may be at 2.5425
    near = [f for f in found(helm(wheel_at=2.54), "REACH") if f.text.startswith("Ines")]
    far = [f for f in found(helm(wheel_at=2.55), "REACH") if f.text.startswith("Ines")]
    assert [f.level for f in near] == ["fine"]
    assert [f.level for f in far] == ["mend"]
    assert far[0].values["more"].value == pytest.approx(2.55 - 2.5425)


def test_thighs_under_the_wheel() -> None:
    # rim at 0.01 + 0.7 x 0.9 = 0.64: 0.19 over a cushion at 0.45
    def thighs(seat_top: float) -> str:
        return next(f for f in found(helm(seat_top), "WHEEL") if f.text.startswith("Ines")).level

    assert thighs(0.4499) == "fine"
    assert thighs(0.46) == "mend"


def test_the_edge_of_a_screen_is_at_its_aft_end() -> None:
    # 0.8 long about 3.0: its raked edge at 2.6, its top at 1.3; the level line from an eye at
    # (2.0, 1.2) has fallen 0.6 tan 5° there
    data = thing("screen", "screen", (3.0, 0, 0.9), (0.8, 0.5, 0.4))
    screen = derive(plan(items=[data])).placed("screen")
    assert screen is not None
    over = pane_over_m((2.0, 1.2), screen.built.panes[0], 5.0)
    assert over == pytest.approx(1.3 - 1.2 + 0.6 * math.tan(math.radians(5.0)))


@pytest.mark.parametrize(
    ("tall", "trim", "level", "words"),
    [
        # eye at 1.2463 level: edge 0.04 over it, 0.06 over it, 0.06 under it
        (0.3833, 0.0, "look", "cuts the view"),
        (0.4033, 0.0, "fine", "through"),
        (0.2833, 0.0, "fine", "over"),
        # bow up 5 degrees the level line falls 0.0875 a metre: an edge 0.06 under it is over it then
        (0.2833, 5.0, "look", "cuts the view"),
    ],
)
def test_a_screen_is_looked_clearly_over_or_through(
    tall: float, trim: float, level: str, words: str
) -> None:
    # seated at 2.0 on 0.45: the eye is 0.455 x 1.75 over the seat; a screen on a console at 0.903,
    # its upper edge at 2.6; a crew without weight leaves her level
    crew = [{"posture": "seated", "mass": 1e-6, "at": [2.0, 0, 0.45], "name": "Ines"}]
    console = thing("console", "console", (2.75, 0, FLOOR), (0.3, 0.6, 0.893))
    screen = thing("screen", "screen", (2.69, 0, 0.903), (0.18, 0.56, tall))
    for item in (console, screen):
        item["mass"]["value"] = 1e-6
    boat = plan(items=[console, screen], cases=[{"name": "out", "crew": crew}],
                propulsion={"running_trim": trim})  # fmt: skip
    derived = derive(boat)
    finding = next(f for f in found(derived, "SCREEN", "screen") if f.text.startswith("Ines"))
    assert (finding.level, words in finding.title) == (level, True)
    assert derived.case("out").report.trim_deg == pytest.approx(0.0, abs=0.01)
    # it is looked through: the bow is what hides the water, not the screen
    bare = derive(boat.model_copy(update={"items": boat.items[:1]}))
    blind = [next(f for f in found(d, "EYE-LINE") if f.text.startswith("Ines")) for d in (derived, bare)]
    assert blind[0].values["blind"].value == pytest.approx(blind[1].values["blind"].value)


def test_the_narrowest_way_is_measured_exactly() -> None:
    room = box(0, -1, 4, 1)
    console, seat = box(1.5, -0.7, 2.0, -0.1), box(1.4, 0.4, 1.9, 0.8)
    # between them 0.5; beside console 0.3, beside seat 0.2: the best way is between
    passage = narrowest(room, [("console", console), ("seat", seat)], 1.3, 2.1)
    assert passage is not None
    assert passage.width_m == pytest.approx(0.5)
    assert set(passage.between) == {"console", "seat"}
    wall = box(1.5, -1, 2.0, 0.72)
    tight = narrowest(room, [("wall", wall)], 1.3, 2.1)
    assert tight is not None and tight.width_m == pytest.approx(0.28)
    shut = narrowest(room, [("wall", box(1.5, -1, 2.0, 1))], 1.3, 2.1)
    assert shut is not None and shut.width_m == 0.0
    assert narrowest(room, [], 1.3, 2.1) is None


def test_walkway_levels() -> None:
    def level(half: float) -> str:
        side = [
            thing(n, "box", (2, s * (half + 0.35), FLOOR), (0.5, 0.7, 0.6))
            for n, s in (("p", 1), ("s", -1))
        ]
        return one(derive(plan(items=side)), "WALKWAY").level

    # two boxes leave 2 x half between them and less beside: 0.9975 - half - 0.7
    assert [level(h) for h in (0.24, 0.2, 0.14)] == ["fine", "look", "mend"]


@pytest.mark.parametrize(
    ("along", "across", "passes"),
    [(0.45, 0.60, "an adult"), (0.60, 0.45, "an adult"), (0.45, 0.59, "an arm and shoulder"),
     (0.38, 0.38, "an arm and shoulder"), (0.37, 0.6, "a hand"), (0.10, 0.15, "a hand")],
)  # fmt: skip
def test_what_passes_a_hatch(along: float, across: float, passes: str) -> None:
    hatch = {**HATCH, "clear_length": along, "clear_width": across}
    opening = one(derive(skiff_plan(fittings=[DECK, hatch])), "OPENING")
    assert opening.title == f"Passes {passes}"


def test_a_step_up_onto_a_deck() -> None:
    # the skiff's bottom is flat at 0.003
    high = one(derive(skiff_plan(fittings=[{**DECK, "height": 0.31}])), "STEP")
    low = one(derive(skiff_plan(fittings=[{**DECK, "height": 0.30}])), "STEP")
    assert (high.level, low.level) == ("look", "fine")
    assert high.values["rise"].value == pytest.approx(0.307)


def test_a_tanks_shell_and_its_contents_are_one_thing() -> None:
    tank = {"id": "fuel", "size": [0.5, 0.4, 0.2], "floor_centre": [1.0, 0, FLOOR], "liquid": "petrol"}
    shell = thing("shell", "tank", (1.0, 0, FLOOR), (0.51, 0.41, 0.2))
    other = thing("other", "box", (1.3, 0, FLOOR), (0.3, 0.3, 0.15))
    clashes = found(derive(plan(items=[shell, other], tanks=[tank])), "CLASH")
    assert sorted((f.place, f.other) for f in clashes) == [("other", "fuel"), ("shell", "other")]


def test_only_the_foot_of_a_pedestal_stands_on_the_bottom() -> None:
    # the skiff's sides flare from 0.8 at the bottom: a cushion may hang over what its foot clears
    vee = wedge_lines(0.3)
    # inside of the bottom about 0.3 |y|: under a foot 0.2 wide 0.03, under the cushion's edge 0.075
    seat = thing("seat", "seat", (2.0, 0, 0.05), (0.5, 0.5, 0.7))
    box_ = thing("box", "box", (2.0, 0, 0.05), (0.5, 0.5, 0.7))
    assert found(derive(plan(lines=vee, items=[seat])), "HULL") == []
    sunk = one(derive(plan(lines=vee, items=[box_])), "HULL")
    assert sunk.title == "Through the bottom"
    assert sunk.values["amount"].value == pytest.approx(0.25 * 0.3 + 0.003 * 1.044 - 0.05, abs=1e-3)


def test_a_head_under_a_deck() -> None:
    # seated on 0.05: the top of the head is 0.52 of 1.75 above it, at 0.96; the deck's top is at 0.4,
    # its skin 2.5 mm thick
    crew = [{"posture": "seated", "at": [3.5, 0, 0.05], "name": "Tobin"}]
    under = derive(skiff_plan(fittings=[DECK], cases=[{"name": "in", "crew": crew}]))
    head = next(f for f in found(under, "HEAD") if f.text.startswith("Tobin"))
    assert head.values["amount"].value == pytest.approx(0.05 + 0.52 * 1.75 - (0.4 - 0.0025))
    beside = [{**crew[0], "at": [2.0, 0, 0.05]}]
    clear = derive(skiff_plan(fittings=[DECK], cases=[{"name": "in", "crew": beside}]))
    assert not [f for f in found(clear, "HEAD") if f.text.startswith("Tobin")]


def test_standing_at_a_console_its_top_is_about_elbow_height() -> None:
    def level(high: float) -> str:
        console = thing("console", "console", (2.4, 0, FLOOR), (0.4, 0.6, high))
        crew = [{"posture": "standing", "stature": 1.75, "at": [1.9, 0, 0.003], "name": "Ines"}]
        derived = derive(plan(items=[console], cases=[{"name": "out", "crew": crew}]))
        return next(f for f in found(derived, "CONSOLE") if f.text.startswith("Ines")).level

    # elbow at 0.003 + 0.63 x 1.75 = 1.1055; the console's top at 0.01 + its height
    assert [level(h) for h in (0.98, 1.0, 1.19, 1.21)] == ["look", "fine", "fine", "look"]


def test_room_for_the_feet_ahead_of_a_seat() -> None:
    def feet(gap: float) -> Finding:
        seat = thing("seat", "seat", (2.0, 0, FLOOR), (0.5, 0.5, 0.6))
        # feet hang under the knee at 0.45: heel at 1.8075 + 0.275 x 1.75 + 0.02 = 2.30875, toes 0.1575 on
        chest = thing("chest", "box", (2.46625 + gap + 0.1, 0, FLOOR), (0.2, 0.4, 0.3))
        crew = [{"posture": "seated", "at": [2.0, 0, 0.45], "name": "Ines"}]
        derived = derive(plan(items=[seat, chest], cases=[{"name": "out", "crew": crew}]))
        return next(f for f in found(derived, "FEET") if f.text.startswith("Ines"))

    assert [feet(g).level for g in (0.11, 0.09, -0.05)] == ["fine", "look", "mend"]
    assert feet(0.09).values["gap"].value == pytest.approx(0.09, abs=1e-6)
    assert feet(-0.05).values["move"].value == pytest.approx(0.15, abs=1e-6)


def test_with_the_bow_far_up_no_water_is_seen() -> None:
    crew = [{"posture": "seated", "at": [1.0, 0.0, 0.3], "name": "Ines"}]
    console = thing("console", "console", (1.6, 0, FLOOR), (0.2, 0.5, 0.5))
    boat = plan(items=[console], cases=[{"name": "out", "crew": crew}], propulsion={"running_trim": 15.0})
    line = next(f for f in found(derive(boat), "EYE-LINE") if f.text.startswith("Ines"))
    # eye at 1.096 and 0.13 abaft 1.0 + ..., stem's top 1.0 high 3 m ahead: 15 degrees lift it by 0.8
    assert (line.level, line.title) == ("mend", "Bow hides the water")


def test_a_head_under_the_gunwale() -> None:
    # a rail 0.1 wide along the side at 0.9 to 1.0 m; somebody seated beside it on 0.2: head at 1.11
    rail = {
        "id": "lip",
        "name": "gunwale",
        "kind": "lip",
        "box": {"size": [4, 0.1, 0.1], "floor_centre": [2, 0.9, 0.9]},
    }

    def heads(y: float) -> list[Finding]:
        crew = [{"posture": "seated", "at": [2.0, y, 0.2], "name": "Ines"}]
        derived = derive(plan(existing=[rail], cases=[{"name": "in", "crew": crew}]))
        return [f for f in found(derived, "HEAD", "lip") if f.text.startswith("Ines")]

    (under,) = heads(0.9)
    assert under.values["amount"].value == pytest.approx(0.2 + 0.52 * 1.75 - 0.9)
    assert heads(0.7) == []


@pytest.mark.parametrize(
    ("low", "x", "amount"),
    [
        (0.9, 2.0, 0.21),  # seated on 0.2 the head is at 0.2 + 0.52 x 1.75 = 1.11
        (1.12, 2.0, None),  # over the head
        (0.1, 2.0, None),  # ends at 0.42, under the shoulders
        (0.9, 2.3, None),  # ahead of him
    ],
)
def test_a_head_under_a_screen(low: float, x: float, amount: float | None) -> None:
    crew = [{"posture": "seated", "at": [2.0, 0.0, 0.2], "name": "Ines"}]
    screen = thing("screen", "screen", (x, 0.0, low), (0.3, 0.6, 0.32))
    derived = derive(plan(items=[screen], cases=[{"name": "in", "crew": crew}]))
    heads = [f for f in found(derived, "HEAD", "screen") if f.text.startswith("Ines")]
    assert [f.values["amount"].value for f in heads] == ([] if amount is None else [pytest.approx(amount)])


@pytest.mark.parametrize(("stature", "level"), [(0.97, "fine"), (0.94, "look")])
def test_kneeling_at_a_hatch_the_bottom_is_reached_or_not(stature: float, level: str) -> None:
    # deck at 0.4, bottom at 0.003: 0.397 down; the grip reaches 0.42 of the stature, 0.9452 for just so far
    crew = [
        {"posture": "kneeling", "stature": stature, "at": [3.2, 0.1, 0.4], "settle": True, "name": "Tobin"}
    ]
    derived = derive(skiff_plan(fittings=[DECK, HATCH], cases=[{"name": "at it", "crew": crew}]))
    reach = one(derived, "REACH-IN", "hatch")
    assert (reach.level, reach.values["deep"].value) == (level, pytest.approx(0.397))
