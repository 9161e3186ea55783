"""A cable from a console to a motor in a box 5 m long, 2 m wide and 0.6 m deep, worked by hand."""

import math
from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.fittings.route import route
from stirrup.core.plan.changes import apply
from tests.boats import derive, plan

# its middle 2.0 m from the transom and 0.5 m to starboard, its top 0.9 m up: the helm at 0.75
CONSOLE = {"id": "console", "form": "console", "stage": "added", "size": [0.4, 0.6, 0.88],
           "mass": {"value": 20.0, "centre": [2.0, -0.5, 0.46]}}  # fmt: skip
MOTOR = {"id": "motor", "form": "outboard", "stage": "found", "mounted": 0.55,
         "mass": {"value": 60.0, "centre": [-0.2, 0.0, 0.7]}}  # fmt: skip
RUN = {"kind": "cable_run", "id": "run", "name": "Steering", "mark": "R1", "helm": "console",
       "motor": "motor", "way": "under the floor", "high": 0.05}  # fmt: skip
TANGENT, ARC = 0.2, 0.2 * math.pi / 2  # of a right angle with a radius of 0.2 m


def boat(*items: dict[str, Any], **choices: Any) -> Derived:
    return derive(plan(fittings=[{**RUN, **choices}], items=list(items or (CONSOLE, MOTOR))))


def run(**choices: Any) -> Built:
    found = boat(**choices).fitting("run")
    assert found is not None
    return found


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "run")


def test_a_way_of_three_legs_is_rounded_by_two_arcs() -> None:
    """1 + 2 + 3 m with two right angles: 6 less 2 (2 x 0.2 - 0.2 x pi / 2)."""
    corners = [(0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (1.0, 2.0, 0.0), (1.0, 2.0, 3.0)]
    r = route([(str(k), corners[k : k + 2]) for k in range(3)], 0.2)
    assert r.long == pytest.approx(6 - 2 * (2 * TANGENT - ARC))
    assert math.degrees(r.turned) == pytest.approx(180) and r.corners == 2
    # of the first metre one arc takes 0.2, of the second leg both take 0.4: 0.8 m is left at least
    assert r.tightest == (0, pytest.approx(0.8))
    # (0.5 x 1 + 2 x 1 + 3 x 1) / 6, (2 x 1 + 3 x 2) / 6, 3 x 1.5 / 6
    assert r.middle == pytest.approx((5.5 / 6, 8 / 6, 4.5 / 6))


@given(st.floats(0.02, 0.3), st.floats(20, 160))
def test_an_arc_is_what_a_walk_round_it_measures(radius: float, degrees: float) -> None:
    """Walked in small steps along two legs of 3 m and the circle between, about its middle."""
    turn = math.radians(degrees)
    end = (3 + 3 * math.cos(turn), 3 * math.sin(turn), 0.0)
    r = route([("a", ((0, 0, 0), (3, 0, 0))), ("b", ((3, 0, 0), end))], radius)
    cut = radius * math.tan(turn / 2)
    middle = (3 - cut, radius)
    on = [(middle[0] + radius * math.sin(turn * k / 2000), middle[1] - radius * math.cos(turn * k / 2000))
          for k in range(2001)]  # fmt: skip
    # it ends on the second leg, where its tangent does
    leg = (3 + cut * math.cos(turn), cut * math.sin(turn))
    assert on[-1] == pytest.approx(leg, abs=1e-9)
    walked = sum(math.dist(a, b) for a, b in pairwise(on))
    assert r.long == pytest.approx(2 * (3 - cut) + walked, abs=1e-4)


@given(st.floats(0.02, 0.3), st.floats(20, 160))
def test_it_is_drawn_as_it_is_bent(radius: float, degrees: float) -> None:
    """Every drawn point of the bend lies on the circle that touches both legs; chords are shorter."""
    turn = math.radians(degrees)
    end = (3 + 3 * math.cos(turn), 3 * math.sin(turn), 0.0)
    r = route([("a", ((0, 0, 0), (3, 0, 0))), ("b", ((3, 0, 0), end))], radius)
    middle = (3 - radius * math.tan(turn / 2), radius, 0.0)
    bend = r.drawn[1:-1]
    assert [math.dist(p, middle) for p in bend] == pytest.approx([radius] * 7)
    drawn = sum(math.dist(a, b) for a, b in pairwise(r.drawn))
    assert r.long * 0.97 < drawn < r.long


UP = math.hypot(0.55, 0.50)  # up the transom from 0.05 to 0.60 and 0.5 across, in one


def test_what_is_ordered_for_a_way_under_the_floor() -> None:
    """Down 0.75 - 0.05, aft 2.0 - 0.05, up the transom to the motor: 3.39 m, two right angles save 0.172;
    with 0.45 m spare 3.67 m, 12.05 feet: 13 are ordered."""
    parts = {b.label: b for b in run().bought}
    long = 0.70 + 1.95 + UP - 2 * (2 * TANGENT - ARC)
    assert long == pytest.approx(3.2217, abs=1e-3)
    assert parts["R1-C"].quantity == pytest.approx(math.ceil((long + 0.45) / 0.3048) * 0.3048)
    assert parts["R1-C"].quantity == pytest.approx(13 * 0.3048)
    assert parts["R1-C"].mass_kg == pytest.approx(13 * 0.3048 * 0.62)
    assert parts["R1-K"].quantity == 8  # 3.22 / 0.45
    work = told(boat(), "RUN-LENGTH").working
    assert work is not None and work.result.value == pytest.approx(13 * 0.3048)


def test_hoses_are_two_and_bend_more() -> None:
    r = 0.075
    long = 0.70 + 1.95 + UP - 2 * (2 * r - r * math.pi / 2) + 0.6
    (hoses, *_) = run(line="steer-hose").bought
    assert hoses.quantity == pytest.approx(2 * math.ceil(long / 0.3048) * 0.3048)


def test_a_way_along_the_side() -> None:
    """At 0.5 m: down 0.25, across to 0.05 off the side at 1.0: 0.45; aft 1.95; along the transom 0.95 and
    0.1 up."""
    found = told(boat(way="along the side", high=0.5, line="steer-hose"), "RUN-LENGTH")
    r = 0.075
    legs = 0.25 + 0.45 + 1.95 + math.hypot(0.95, 0.10)
    assert found.values["long"].value == pytest.approx(legs - 3 * (2 * r - r * math.pi / 2), abs=0.012)


def test_to_the_other_side_it_is_longer_by_the_way_across() -> None:
    """Starboard 0.45 m away, port 1.45."""
    near, far = (
        told(boat(way="along the side", high=0.5, side=s), "RUN-LENGTH").values["long"].value
        for s in ("starboard", "port")
    )
    assert float(far) - float(near) == pytest.approx(1.0, abs=1e-6)


def test_a_leg_that_is_too_short_for_its_arcs() -> None:
    """At 0.65 m it comes down 0.10 in the console; the arc at its foot takes 0.2 of it."""
    side = {"way": "along the side", "high": 0.65}
    found = told(boat(**side), "RUN-BENDS")
    assert found.level == "mend" and "in the console" in found.text
    assert found.values["leg"].value == pytest.approx(0.10)
    assert found.values["needs"].value == pytest.approx(0.2)
    # hoses bend by 75 mm: offered, and then it is fine
    (fix,) = found.fixes
    assert fix.value == "steer-hose"
    assert told(boat(**side, line="steer-hose"), "RUN-BENDS").level == "fine"
    assert told(boat(), "RUN-BENDS").level == "fine"


def test_bent_more_sharply_than_it_allows() -> None:
    found = told(boat(radius=0.15), "RUN-BENDS")
    assert found.level == "mend" and found.fixes[0].value == 0.2
    assert told(boat(radius=0.2), "RUN-BENDS").level == "fine"


def test_how_much_it_is_turned() -> None:
    """Under the floor two right angles; along the side three."""
    assert told(boat(), "RUN-TURNS").values["turned"].value == pytest.approx(180)
    side = told(boat(way="along the side", high=0.3), "RUN-TURNS")
    assert side.level == "fine" and side.values["turned"].value == pytest.approx(270, abs=0.1)


def test_more_turns_than_go_easily() -> None:
    """A cable of the shop's own that takes 170 degrees."""
    stock = {"id": "stiff", "name": "stiff cable", "group": "line", "bend": 0.2, "most_turned": 170}
    fittings = [{**RUN, "line": "stiff"}]
    before = plan(fittings=fittings, items=[CONSOLE, MOTOR], catalogue={"entries": [stock]})
    assert told(derive(before), "RUN-TURNS").level == "look"


def test_what_is_led_to_a_motor_that_goes_is_told() -> None:
    gone = {**MOTOR, "stage": "removed"}
    derived = boat(CONSOLE, gone)
    found = next(f for f in derived.findings if f.code == "CANNOT-BUILD" and f.place == "run")
    assert "motor is not there" in found.text


def test_moved_with_its_console() -> None:
    further = {**CONSOLE, "mass": {"value": 20.0, "centre": [2.5, -0.5, 0.46]}}
    far = told(boat(further, MOTOR), "RUN-LENGTH").values["long"].value
    assert float(far) - float(told(boat(), "RUN-LENGTH").values["long"].value) == pytest.approx(0.5)


@pytest.mark.parametrize(
    ("entry", "line"), [("steering run", "steer-cable"), ("control run", "control-cable")]
)
def test_a_first_one(entry: str, line: str) -> None:
    before = plan(items=[CONSOLE, MOTOR])
    here = derive(before)
    change = place(before, here.surface, here.footing, entry)
    value = change.value
    assert value["line"] == line and value["helm"] == "console" and value["motor"] == "motor"
    assert value["side"] == "starboard"
    assert derive(apply(before, change)).fitting(value["id"]) is not None


def test_a_point_that_is_given_twice_is_one() -> None:
    """1 m and 1 m with a right angle between, its corner read twice."""
    r = route([("a", ((0, 0, 0), (1, 0, 0), (1, 0, 0))), ("b", ((1, 0, 0), (1, 0, 0), (1, 1, 0)))], 0.2)
    assert math.degrees(r.turned) == pytest.approx(90)
    assert r.long == pytest.approx(2 - (2 * TANGENT - ARC))


BOX = {"id": "box", "form": "box", "stage": "added", "size": [0.3, 0.3, 0.3],
       "mass": {"value": 5.0, "centre": [1.2, -0.5, 0.15]}}  # fmt: skip


def test_what_stands_in_its_way() -> None:
    """Under the floor it runs 50 mm up and 0.5 m to starboard, from 2 m to the transom."""
    assert told(boat(), "RUN-PASSES").level == "fine"
    through = told(boat(CONSOLE, MOTOR, BOX), "RUN-PASSES")
    assert through.level == "look" and through.values["holes"].value == 1 and "box" in through.text
    # its side at 0.35 + 0.3: 6 mm and a touch past what is led
    for y, level in ((-0.343, "fine"), (-0.346, "look")):
        beside = {**BOX, "mass": {"value": 5.0, "centre": [1.2, y, 0.15]}}
        assert told(boat(CONSOLE, MOTOR, beside), "RUN-PASSES").level == level, y
    # over it
    assert told(boat(CONSOLE, MOTOR, {**BOX, "mass": {"value": 5.0, "centre": [1.2, -0.5, 0.25]}}),
                "RUN-PASSES").level == "fine"  # fmt: skip


def test_each_hole_has_its_grommet() -> None:
    """One box in its way: one grommet of 8 g is bought; a button puts it on the list."""

    def ran(count: int, *there: dict[str, Any]) -> Derived:
        run = {**RUN, "grommets": count}
        return derive(plan(fittings=[run], items=[CONSOLE, MOTOR, *there]))

    without = told(ran(0, BOX), "RUN-PASSES")
    assert without.level == "look" and [(f.path, f.value) for f in without.fixes] == [
        (("fittings", "run", "grommets"), 1)
    ]  # fmt: skip
    assert told(ran(1, BOX), "RUN-PASSES").level == "fine"
    assert told(ran(2, BOX), "RUN-PASSES").level == "look"
    assert told(ran(1), "RUN-PASSES").level == "look"
    parts = {p.label: p for b in ran(3).built for p in b.bought}
    assert (parts["R1-O"].quantity, parts["R1-O"].mass_kg) == (3, pytest.approx(0.024))


def test_nobody_leads_it_through_a_tank() -> None:
    tank = {"id": "fuel", "size": [0.5, 0.4, 0.2], "floor_centre": [1.2, -0.5, 0.01], "liquid": "petrol"}
    found = derive(plan(fittings=[RUN], items=[CONSOLE, MOTOR], tanks=[tank])).findings
    through = next(f for f in found if f.code == "RUN-PASSES")
    assert through.level == "mend" and through.other == "fuel"


def test_each_bearer_is_a_hole() -> None:
    """A floor 0.12 m up on bearers every 0.32 m from 1.0 to 1.9: those behind the console at 2.0."""
    floor = {"kind": "floor", "id": "floor", "name": "Floor", "mark": "F1", "aft": 1.0, "fore": 1.9,
             "height": 0.12, "spacing": 0.3}  # fmt: skip
    derived = derive(plan(fittings=[floor, RUN], items=[CONSOLE, MOTOR]))
    built = derived.fitting("floor")
    assert built is not None
    bearers = [p for p in built.panels if "/bearer/" in p.key]
    assert told(derived, "RUN-PASSES").values["holes"].value == len(bearers) > 2
