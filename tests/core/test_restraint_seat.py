"""A restraint seat on a deck: shell 0.46 deep and wide, belt slots 0.56 over its foot and 0.82 over the
deck, worked by hand."""

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding
from stirrup.core.kinds.restraint_seat import RestraintSeat
from stirrup.core.parts.model import Panel
from stirrup.core.plan.changes import apply
from tests.boats import derive, plan
from tests.core.test_step_box import DECK
from tests.crossing import crossings

# its plates clear of the deck's members
SEAT = {"kind": "restraint_seat", "id": "seat", "name": "Seat", "mark": "S1", "on": "deck", "x": 2.0,
        "y": 0.1}  # fmt: skip
T = 0.004826  # 0.190 in
TOP = 0.3


def boat(**choices: Any) -> Derived:
    return derive(plan(fittings=[DECK, {**SEAT, **choices}]))


def seat(**choices: Any) -> Built:
    found = boat(**choices).fitting("seat")
    assert found is not None
    return found


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "seat")


def test_a_bracket_laid_flat() -> None:
    """Outside 70 mm of foot and 336 up: 0.82 - 0.56 + 0.06 for its bolt and 16 to its edge. Inside radius
    2 t, so each flat ends 3 t before the corner; the bend takes (2 t + 0.4 t) pi / 2."""
    (bracket, *_) = (p for p in seat().panels if "/bracket/" in p.key)
    long = 0.070 + 0.336 - 2 * 3 * T + 2.4 * T * math.pi / 2
    us, vs = zip(*bracket.outline, strict=True)
    assert max(vs) - min(vs) == pytest.approx(long, abs=1e-6)
    assert max(us) - min(us) == pytest.approx(0.08)
    (bend,) = bracket.bends
    assert bend.start[1] == pytest.approx(0.070 - 3 * T + 1.2 * T * math.pi / 2, abs=1e-6)
    assert bend.angle_deg == 90 and bend.radius == pytest.approx(2 * T, abs=1e-6)
    # two bolts in the foot, one through the shell
    assert len(bracket.holes) == 3


def test_three_brackets_stand_beside_one_another() -> None:
    """0.4 of 0.30 m is 0.12 from one to the next, less 4 mm."""
    assert crossings(boat(joined="welded", depth=0.30, bracket=0.116)) == {}
    with pytest.raises(CoreError, match=r"at most 0\.116 m"):
        boat(depth=0.30, bracket=0.117)


def test_its_bolts_come_where_the_shell_is_bolted() -> None:
    """Folded, the upright's hole is 0.32 over the deck and at the shell's side."""
    port = next(p for p in seat().panels if p.key == "seat/bracket/2")
    upright = port.flats[1]
    (hole,) = upright.holes
    u, v = (sum(p[k] for p in hole) / len(hole) for k in (0, 1))
    x, y, z = upright.frame.at(u, v)
    assert z - TOP == pytest.approx(0.32, abs=1e-6)
    assert x == pytest.approx(2.0 - 0.4 * 0.46)
    assert y == pytest.approx(0.1 + 0.23 + T / 2, abs=1e-6)


def middles(panel: Panel) -> list[float]:
    """Of its holes in plan: x and y of each, from the aft one forward."""
    out = []
    for ring in panel.holes:
        there = [panel.frame.at(u, v) for u, v in ring]
        out.append(tuple(sum(p[k] for p in there) / len(there) for k in (0, 1)))
    assert len(out) == 2
    return [v for at in sorted(out) for v in at]


def test_its_plates_have_the_holes_of_its_feet() -> None:
    built = seat()
    for n in range(1, 7):
        foot = next(p for p in built.panels if p.key == f"seat/bracket/{n}").flats[0]
        plate = next(p for p in built.panels if p.key == f"seat/plate/{n}")
        assert middles(foot) == pytest.approx(middles(plate), abs=1e-5)


@given(st.floats(0, 30), st.floats(0.3, 0.8), st.floats(0.3, 0.8))
def test_the_slots_come_where_they_are_wanted(recline: float, depth: float, slots: float) -> None:
    """By turning the shell about the aft edge of its foot: its slots lie straight up its back."""
    c = RestraintSeat(id="s", name="s", x=0.0, depth=depth, slots=slots, slots_at=1.3, recline=recline)
    a = math.radians(recline)
    assert c.at(-depth / 2, slots)[1] == pytest.approx(c.rear + slots * math.cos(a))
    assert c.at(-depth / 2, slots)[1] == pytest.approx(1.3)
    # leaning back, the fore edge of the foot rises
    assert c.at(depth / 2, 0.0)[1] - c.rear == pytest.approx(depth * math.sin(a))


def test_leaning_back_the_fore_brackets_are_longer() -> None:
    """By 20°: 0.82 - 0.56 cos 20° + (0.23 ± 0.184) sin 20° + 0.06 cos 20°, and 16 mm."""
    built, a = seat(recline=20), math.radians(20)
    foot_and_bend = 0.070 - 2 * 3 * T + 2.4 * T * math.pi / 2
    for number, along in ((1, -0.184), (3, 0.0), (5, 0.184)):  # of its middle
        high = 0.82 - 0.56 * math.cos(a) + (0.23 + along) * math.sin(a) + 0.06 * math.cos(a) + 0.016
        panel = next(p for p in built.panels if p.key == f"seat/bracket/{number}")
        assert max(v for _, v in panel.outline) == pytest.approx(high + foot_and_bend, abs=1e-6)


def _top(upright: Panel) -> float:
    return upright.frame.at(0, max(v for _, v in upright.outline))[2]


def test_seats_of_two_shells_come_level() -> None:
    """A shell 60 mm taller to its slots stands 60 mm lower."""
    low, high = (
        min(
            p.flats[1].frame.at(0, max(v for _, v in p.flats[1].outline))[2]
            for p in built.panels
            if p.bends
        )
        for built in (seat(slots=0.60), seat(slots=0.54))
    )
    assert high - low == pytest.approx(0.06)


def test_how_its_bolts_are_pulled() -> None:
    """(100 + 7.5) kg x 12 x 9.81 = 12 655 N, 0.26 + 0.05 + 0.25 up, over 0.368 m and four bolts."""
    found = told(boat(), "RESTRAINT-HOLDS")
    assert found.values["pull"].value == pytest.approx(107.5 * 12 * 9.81 * 0.56 / 0.368 / 4)
    # 8000 N are reached at 19.94 times
    assert told(boat(times=19.9), "RESTRAINT-HOLDS").level == "fine"
    assert told(boat(times=20), "RESTRAINT-HOLDS").level == "mend"


def test_how_its_brackets_are_bent() -> None:
    """A sixth of the force, 0.32 m up, on a bar 80 mm by 4.826 on edge: 131 MPa of 193."""
    found = told(boat(), "RESTRAINT-BRACKET")
    stress = 107.5 * 12 * 9.81 / 6 * 0.32 / (T * 0.08**2 / 6) / 1e6
    assert found.values["stress"].value == pytest.approx(stress, rel=1e-3)
    assert told(boat(times=17.6), "RESTRAINT-BRACKET").level == "fine"
    assert told(boat(times=17.8), "RESTRAINT-BRACKET").level == "mend"


def test_what_is_bought() -> None:
    parts = {b.label: (b.item, b.quantity) for b in seat().bought}
    assert parts["S1-T"] == ("seat-shell", 1)
    # 2 x 4.8 and the deck's 2.5 mm; 4.8 and the shell's 4
    assert parts["S1-RF"] == ("bolt-m8x25", 12) and parts["S1-RS"] == ("bolt-m8x25", 6)
    assert parts["S1-WF"][1] == 24
    welded = seat(joined="welded")
    assert not [b for b in welded.bought if b.label == "S1-RF"]
    assert not [p for p in welded.panels if "/plate/" in p.key]
    assert all(len(p.holes) == 1 for p in welded.panels)


def test_the_caution_stands_and_names_the_weld() -> None:
    for choices, words in (
        ({}, "spine"),
        ({"recline": 20}, "belts' angle"),
        ({"joined": "welded"}, "fuel"),
    ):
        found = told(boat(**choices), "RESTRAINT-RULES")
        assert found.level == "look" and words in found.text and "class's rules" in found.text


def test_a_shell_in_the_floor_is_refused() -> None:
    found = next(f for f in boat(slots_at=0.57).findings if f.code == "CANNOT-BUILD")
    assert "at least 0.580 m" in found.text
    assert seat(slots_at=0.58).panels


def test_it_stands_on_a_floor_with_all_of_its_feet() -> None:
    assert told(boat(on=None), "RESTRAINT-HOLDS").level == "mend"
    assert told(boat(y=0.75), "RESTRAINT-HOLDS").title == "Nothing to bolt it to"


def test_nothing_of_it_stands_in_another_part() -> None:
    assert crossings(boat(joined="welded")) == {}
    assert crossings(boat(joined="welded", recline=25)) == {}
    # with plates it is told what they meet
    names = {name for pair in crossings(boat()) for name in pair if name.startswith("D1")}
    assert all(name in told(boat(), "SEAT-PLATE").text for name in names)


def test_a_first_one_stands_behind_the_wheel() -> None:
    console = {"id": "console", "form": "console", "stage": "added", "size": [0.4, 0.6, 0.9],
               "mass": {"value": 20.0, "centre": [2.6, 0.3, 0.46]}}  # fmt: skip
    before = plan(items=[console])
    here = derive(before)
    change = place(before, here.surface, here.footing, "restraint_seat")
    assert change.value["y"] == pytest.approx(0.3, abs=0.01) and change.value["x"] < 2.4
    assert derive(apply(before, change)).fitting(change.value["id"]) is not None
