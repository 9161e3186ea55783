"""Doors in the face of a deck: in a box hull 4 x 2 x 1 m, the deck 0.4 m up from 2.0 to 3.5 m."""

import math
from typing import Any

import pytest
from shapely.geometry import Polygon

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.plan.changes import SetValue, apply
from tests.boats import DECK, derive, plan
from tests.crossing import crossings, through_skin

FACED = {**DECK, "aft": 2.0, "fore": 3.5, "face": True}
DOOR: dict[str, Any] = {
    "kind": "face_door", "id": "door", "name": "Door", "mark": "G1", "deck": "deck", "y": 0.2, "z": 0.2,
    "clear_width": 0.4, "clear_height": 0.2,
}  # fmt: skip
T = 0.0025


def boat(deck: dict[str, Any] | None = None, **choices: Any) -> Derived:
    return derive(plan(fittings=[{**FACED, **(deck or {})}, {**DOOR, **choices}]))


def made(derived: Derived, id_: str = "door") -> Built:
    built = derived.fitting(id_)
    assert built is not None
    return built


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "door")


def face_of(derived: Derived, key: str = "face") -> Polygon:
    panel = next(p for p in made(derived, "deck").panels if p.key == f"deck/{key}")
    return Polygon(panel.outline, panel.holes)


def rounded_m2(wide: float, high: float, r: float) -> float:
    return wide * high - (4 - math.pi) * r * r


def test_its_face_has_its_hole() -> None:
    whole = face_of(derive(plan(fittings=[FACED]))).area
    # as large as the clear opening where the door laps it, corners rounded by 20 mm
    assert whole - face_of(boat()).area == pytest.approx(rounded_m2(0.4, 0.2, 0.02), abs=2e-5)
    # 20 mm of landing all round where it lies flush
    flush = face_of(boat(lies="flush")).area
    assert whole - flush == pytest.approx(rounded_m2(0.44, 0.24, 0.02), abs=2e-5)
    # a face that has none is not cut
    both = boat({"face_fore": True}, face="fore")
    assert face_of(both, "face").area == pytest.approx(whole, rel=1e-9)
    assert not face_of(both, "face").interiors and len(face_of(both, "face-fore").interiors) == 1


def test_one_that_laps_lies_on_the_face() -> None:
    (door,) = made(boat()).panels
    # 20 mm over its hole on each side, before the face: that is 2.5 mm thick at 2.0 m
    assert door.centre == pytest.approx((2.0 - T / 2, 0.2, 0.2), abs=2e-3)
    assert door.frame.origin == pytest.approx((2.0 + T / 2 - T, 0.2, 0.2))
    x0, y0, x1, y1 = Polygon(door.outline).bounds
    assert (x1 - x0, y1 - y0) == pytest.approx((0.44, 0.24))
    latch = Polygon(door.outline).area - door.polygon.area
    assert latch == pytest.approx(math.pi * 0.025**2, rel=0.01)


def test_a_flush_one_lies_in_its_face_on_flats() -> None:
    derived = boat(lies="flush")
    built = made(derived)
    (door,) = built.panels
    assert door.frame.origin == pytest.approx((2.0 + T / 2, 0.2, 0.2))
    x0, y0, x1, y1 = Polygon(door.outline).bounds
    # the hole of 0.44 x 0.24 less 2.5 mm of play all round
    assert (x1 - x0, y1 - y0) == pytest.approx((0.435, 0.235))
    # flats of 40 reach 20 into the hole: level ones 0.44 + 2 x 20, upright ones 0.24 - 2 x 20
    assert sorted(m.length for m in built.members) == pytest.approx([0.20, 0.20, 0.48, 0.48])
    for m in built.members:
        xs = [p[0] for body in m.fills for p in body]
        assert (min(xs), max(xs)) == pytest.approx((2.0 + T, 2.0 + T + 0.003))
    ys = [p[1] for m in built.members for body in m.fills for p in body]
    zs = [p[2] for m in built.members for body in m.fills for p in body]
    assert (min(ys), max(ys), min(zs), max(zs)) == pytest.approx((-0.04, 0.44, 0.06, 0.34))
    assert not [f for f in derived.findings if f.code == "GRIP" and f.place == "door" and f.level != "fine"]


def test_latch_where_it_goes_and_whether_it_grips() -> None:
    derived = boat(hinge="bottom")
    (door,) = made(derived).panels
    hole = Polygon(door.holes[0]).centroid
    place = told(derived, "LATCH-PLACE")
    # at the top, so far from the door's edge 0.12 over its middle
    assert (hole.x, 0.12 - hole.y) == pytest.approx((0.0, place.values["offset"].value), abs=1e-6)
    side = made(boat(hinge="port")).panels[0]
    assert Polygon(side.holes[0]).centroid.x == pytest.approx(
        -(0.22 - place.values["offset"].value), abs=1e-6
    )
    thin = told(boat(), "LATCH-GRIP")
    assert thin.values["grip"].value == pytest.approx(T)
    thick = boat(sheet="ply-12")
    assert told(thick, "LATCH-GRIP").values["grip"].value == pytest.approx(0.012)


def test_the_rim_that_is_left_of_the_face() -> None:
    """The face reaches from 8 mm (3 of skin, 5 of gap) to the underside at 0.3975: under a hole from 0.10
    to 0.30 it has 92 mm left, over it 97.5."""
    fine = told(boat(), "DOOR-RIM")
    assert fine.level == "fine" and fine.values["left"].value == pytest.approx(0.092, abs=1e-4)
    low = boat(z=0.28)
    rim = told(low, "DOOR-RIM")
    # 17.5 mm are left over it
    assert rim.level == "mend" and rim.values["left"].value == pytest.approx(0.0175, abs=1e-4)
    (fix,) = rim.fixes
    # 0.3975 - 0.04 - 0.1
    assert fix.value == pytest.approx(0.2575, abs=1e-4)
    mended = derive(apply(low.plan, SetValue(path=fix.path, value=fix.value)))
    assert told(mended, "DOOR-RIM").level == "fine"
    assert told(boat(z=0.36), "DOOR-RIM").title == "Its hole runs out of the face"


def test_a_deck_without_a_face_takes_none() -> None:
    (wrong,) = [f for f in boat({"face": False}).findings if f.code == "CANNOT-BUILD"]
    assert "no aft face" in wrong.text
    (wrong,) = [f for f in boat(face="fore").findings if f.code == "CANNOT-BUILD"]
    assert "no fore face" in wrong.text


@pytest.mark.parametrize(
    ("hinge", "box"),
    [
        # 0.44 x 0.24 about (0.2, 0.2), out of the outer side of a door that lies before the face
        ("bottom", (1.76, -0.02, 0.08, 2.0, 0.42, 0.32)),
        ("top", (1.76, -0.02, 0.08, 2.0, 0.42, 0.32)),
        ("port", (1.56, -0.02, 0.08, 2.0, 0.42, 0.32)),
        ("starboard", (1.56, -0.02, 0.08, 2.0, 0.42, 0.32)),
    ],
)
def test_it_swings_out_of_its_face(hinge: str, box: tuple[float, ...]) -> None:
    (room,) = made(boat(hinge=hinge)).rooms
    # the corners of the drawn arc stand a little outside of it
    assert room.shape.bounds == pytest.approx(box, abs=0.012)
    fore = made(boat({"face_fore": True}, face="fore", hinge=hinge)).rooms[0]
    assert fore.shape.bounds[0] == pytest.approx(3.5, abs=0.01)


def test_an_arm_gets_under_the_deck_by_it() -> None:
    seat = {"kind": "pedestal_seat", "id": "seat", "name": "Seat", "mark": "S1", "on": "deck", "x": 2.4,
            "y": 0.2}  # fmt: skip
    shut = derive(plan(fittings=[FACED, seat]))
    by_door = derive(plan(fittings=[FACED, seat, DOOR]))
    bolts = [
        next(f for f in d.findings if f.code == "BOLTS" and f.place == "seat") for d in (shut, by_door)
    ]
    assert bolts[0].level != "fine" and bolts[1].level == "fine"
    assert "door in its face" in bolts[1].text
    # a door too small for a hand is none: 100 x 150
    small = derive(plan(fittings=[FACED, seat, {**DOOR, "clear_width": 0.14, "clear_height": 0.14}]))
    assert next(f for f in small.findings if f.code == "BOLTS" and f.place == "seat").level != "fine"


def test_in_the_face_of_a_deck_that_rises() -> None:
    rising = boat({"rises": 3.0})
    face = next(p for p in made(rising, "deck").panels if p.key == "deck/face")
    zs = [face.frame.at(u, v)[2] for u, v in face.holes[0]]
    assert (min(zs), max(zs)) == pytest.approx((0.1, 0.3), abs=1e-6)
    (door,) = made(rising).panels
    assert door.frame.origin[2] == pytest.approx(0.2)
    assert told(rising, "DOOR-RIM").values["left"].value == pytest.approx(0.092, abs=3e-4)


@pytest.mark.parametrize("lies", ["laps its hole", "flush"])
def test_nothing_of_it_stands_in_anything(lies: str) -> None:
    derived = boat(lies=lies)
    # one that lies flush lies in the hole of its face
    assert not [f for f in derived.findings if f.code == "CLASH"]
    assert crossings(derived) == {} and through_skin(derived) == {}


def test_an_arm_reaches_from_the_door_not_from_the_whole_face() -> None:
    """A door of 0.2 m to port: a seat far to starboard and forward is out of its reach."""
    door = {**DOOR, "y": 0.7, "clear_width": 0.2}
    seat = {"kind": "pedestal_seat", "name": "Seat", "on": "deck", "x": 2.5}
    seats = [{**seat, "id": f"s{k}", "mark": f"S{k}", "y": y} for k, y in enumerate((0.5, -0.7))]
    derived = derive(plan(fittings=[FACED, door, *seats]))
    levels = {f.place: f.level for f in derived.findings if f.code == "BOLTS"}
    assert levels["s0"] == "fine" and levels["s1"] != "fine"


BIN = {"deep": 0.25}


@pytest.mark.parametrize(("lies", "head"), [("laps its hole", 2.0 + T), ("flush", 2.0 + T + 0.003)])
def test_a_box_behind_it_is_as_wide_and_high_as_its_opening(lies: str, head: float) -> None:
    """Its flanges on the back of the face, or on the flats of a flush door, 3 mm thick."""
    built = made(boat(lies=lies, **BIN))
    bin_ = next(p for p in built.panels if p.key == "door/box")
    base = bin_.flats[0]
    # 2 mm of sheet: the middle of its base 250 and 1 mm behind that
    assert base.frame.origin == pytest.approx((head + 0.25 + 0.001, 0.2, 0.2))
    assert built.hold is not None and built.hold.clear == pytest.approx((0.25, 0.4, 0.2))
    assert built.hold.at == pytest.approx((head + 0.125, 0.2, 0.2))
    ends = [f.frame.at(u, v) for f in bin_.flats for u, v in f.outline]
    # its flanges lie on it
    assert min(p[0] for p in ends) == pytest.approx(head + 0.001)


def test_its_rivets_by_hand() -> None:
    """Flanges of 0.4 + 8 mm outside less 2 x 4, 2 and 0.2 and of 0.204 less 2 x 5: 0.3956 and 0.194 m, at
    75 mm 7 and 4 each; four tabs of 0.25 + 0.002 - 8 - 2 mm: 0.242, 5 each."""
    parts = {b.label: b.quantity for b in made(boat(**BIN)).bought}
    assert (parts["G1-Rb"], parts["G1-Rc"]) == (2 * 7 + 2 * 4, 4 * 5)


def test_nothing_stands_in_it_and_it_stands_in_nothing() -> None:
    for lies in ("laps its hole", "flush"):
        derived = boat(lies=lies, **BIN)
        assert crossings(derived) == {} and through_skin(derived) == {}
        assert not [f for f in derived.findings if f.code == "CLASH"]


def test_what_stands_under_the_deck_is_in_its_way() -> None:
    tank = {"id": "fuel", "size": [0.4, 0.6, 0.2], "floor_centre": [2.4, 0.2, 0.05], "liquid": "petrol"}
    for deep, met in ((0.15, False), (0.25, True)):
        derived = derive(plan(fittings=[FACED, {**DOOR, "deep": deep}], tanks=[tank]))
        told_ = [f for f in derived.findings if f.code == "CLASH" and "door" in (f.place, f.other)]
        assert bool(told_) is met


def test_no_arm_gets_through_it() -> None:
    seat = {"kind": "pedestal_seat", "id": "seat", "name": "Seat", "mark": "S1", "on": "deck", "x": 2.4,
            "y": 0.2}  # fmt: skip
    derived = derive(plan(fittings=[FACED, seat, {**DOOR, "deep": 0.1}]))
    assert next(f for f in derived.findings if f.code == "BOLTS" and f.place == "seat").level != "fine"


def test_whether_it_comes_out_of_a_sheet() -> None:
    """Of 2.0 mm, sold as 2.44 x 1.22 m: base 0.408 - 8 mm, on either side two bends, wall and flange."""
    fine = told(boat(**BIN), "BOX-FOLDS")
    takes = (2 + 0.4 * 2) * math.pi / 2 / 1000
    reach = 2 * takes + (0.252 - 0.008) + 0.021
    # 0.4 + 4 x 2 mm and two plays of 0.2 outside
    assert fine.level == "fine" and fine.values["long"].value == pytest.approx(0.4084 - 0.008 + 2 * reach)
    assert told(boat({"aft": 1.0}, deep=1.4), "BOX-FOLDS").level == "mend"


def test_its_mirror_image() -> None:
    a, b = made(boat(**BIN)), made(boat(y=-0.2, **BIN))
    assert a.mass_kg == pytest.approx(b.mass_kg)
    assert a.hold is not None and b.hold is not None and a.hold.at[1] == -b.hold.at[1]


def test_two_doors_in_one_face() -> None:
    """Clear openings of 0.4 about 0.2 and of 0.3: between them 40 mm are needed."""
    for y, level in ((-0.19, "fine"), (-0.185, "mend"), (0.0, "stop")):
        other = {**DOOR, "id": "other", "mark": "G2", "clear_width": 0.3, "y": y}
        derived = derive(plan(fittings=[FACED, DOOR, other]))
        near = [f for f in derived.findings if f.code == "DOOR-NEAR"]
        assert [f.level for f in near] == [level] * 2, y
        # 0 - (y + 0.15)
        assert near[0].values["left"].value == pytest.approx(max(-y - 0.15, 0.0))
    # one in the other face is no matter, nor one alone
    both = derive(plan(fittings=[{**FACED, "face_fore": True}, DOOR,
                                 {**DOOR, "id": "other", "mark": "G2", "face": "fore"}]))  # fmt: skip
    assert not [f for f in (*both.findings, *boat().findings) if f.code == "DOOR-NEAR"]


def test_a_first_one_goes_beside_those_that_are_there() -> None:
    here = derive(plan(fittings=[FACED, {**DOOR, "y": 0.0}]))
    change = place(here.plan, here.surface, here.footing, "glove box")
    after = derive(apply(here.plan, change))
    glove: Any = after.plan.thing("glove-box-1")
    # 0.2 and 0.14, a rim of 40 and a lap of 20 mm: 0.40, in steps of 50
    assert glove.y == pytest.approx(0.40) and glove.deep > 0
    assert not [f for f in after.findings if f.place == "glove-box-1" and f.level in ("mend", "stop")]


def test_a_box_that_reaches_through_side_or_bottom_is_told() -> None:
    """102 mm to its lower edge, the bottom at 3 mm; 204.2 to its side, the side at 997.5."""

    def hull(**choices: Any) -> list[Finding]:
        return [f for f in boat(**choices).findings if f.code == "HULL" and f.place == "door"]

    assert hull(**BIN) == [] and hull(z=0.106, **BIN) == []
    (low,) = hull(z=0.08, **BIN)
    assert low.values["amount"].value == pytest.approx(0.025, abs=1e-3)
    (wide,) = hull(y=0.85, **BIN)
    assert wide.values["amount"].value == pytest.approx(0.85 + 0.2042 - 0.9975, abs=1e-3)
    # without a box nothing is behind it
    assert hull(y=0.85) == []
