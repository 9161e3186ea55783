"""Remedies that are made with one button: each takes away what it is offered against."""

from typing import Any

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from stirrup.core.arrange.move import moved
from stirrup.core.arrange.size import resized
from stirrup.core.findings import Finding, Fix
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.plan.model import Plan
from stirrup.core.space.shapes import least
from tests.boats import DECK, HATCH, derive, plan, skiff_plan
from tests.core.test_fit import FLOOR, found, one, thing


def made(boat: Plan, mend: Fix) -> Plan:
    """The plan after a remedy."""
    if mend.path:
        return apply(boat, SetValue(path=mend.path, value=mend.value))
    if mend.edge:
        surface = derive(boat).surface
        return apply(boat, resized(boat, surface, mend.thing, mend.edge, float(mend.value)))
    return apply(boat, moved(boat, [mend.thing], mend.by, "moved"))


def left(boat: Plan, finding: Finding, mend: Fix) -> list[Finding]:
    """What of the same kind is still said about the same two things once it is made."""
    after = derive(made(boat, mend))
    same = [
        f
        for f in after.findings
        if (f.code, f.place, f.other) == (finding.code, finding.place, finding.other)
    ]
    return [f for f in same if f.level != "fine"]


@pytest.mark.slow
@settings(max_examples=30, deadline=None)
@given(st.floats(-0.5, 0.5), st.floats(-0.4, 0.4), st.floats(0, 0.3), st.floats(0, 180))
def test_two_things_in_one_place_are_apart_after_any_remedy(
    x: float, y: float, z: float, turn: float
) -> None:
    a = thing("a", "box", (2.0, 0, 0.35), (0.5, 0.3, 0.3))
    b = thing("b", "box", (2.0 + x, y, 0.35 + z), (0.4, 0.4, 0.3), turn=turn)
    boat = plan(items=[a, b])
    clashes = found(derive(boat), "CLASH")
    assume(clashes)
    assert len(clashes[0].fixes) == 2
    for mend in clashes[0].fixes:
        assert left(boat, clashes[0], mend) == []


def test_what_stands_in_a_lids_way_or_the_lid_itself_goes() -> None:
    cooler = thing("cooler", "cooler", (1.0, 0, FLOOR), (0.4, 0.4, 0.4))
    shelf = thing("shelf", "box", (1.0, 0, 0.6), (0.4, 0.4, 0.1))
    boat = plan(items=[cooler, shelf])
    room = one(derive(boat), "ROOM")
    assert [m.thing for m in room.fixes] == ["shelf", "cooler"]
    for mend in room.fixes:
        assert left(boat, room, mend) == []


def test_a_thing_through_the_bottom_is_raised() -> None:
    boat = plan(items=[thing("a", "box", (2, 0, -0.027), (0.4, 0.4, 0.3))])
    sunk = one(derive(boat), "HULL")
    assert sunk.fixes[0].by == pytest.approx((0, 0, 0.030))
    assert left(boat, sunk, sunk.fixes[0]) == []


def test_a_screen_is_cut_down_or_made_higher_with_its_foot_where_it_was() -> None:
    crew = [{"posture": "seated", "mass": 1e-6, "at": [2.0, 0, 0.45], "name": "Ines"}]
    console = thing("console", "console", (2.75, 0, FLOOR), (0.3, 0.6, 0.893))
    screen = thing("screen", "screen", (2.69, 0, 0.903), (0.18, 0.56, 0.36))
    boat = plan(items=[console, screen], cases=[{"name": "out", "crew": crew}],
                propulsion={"running_trim": 0.0})  # fmt: skip
    cut = next(f for f in found(derive(boat), "SCREEN") if f.level == "look")
    tops = []
    for mend in cut.fixes:
        after = made(boat, mend)
        item = next(i for i in after.items if i.id == "screen")
        assert item.mass.centre[2] - item.size[2] / 2 == pytest.approx(0.903, abs=2e-4)
        tops.append(item.mass.centre[2] + item.size[2] / 2)
        said = [f for f in found(derive(after), "SCREEN") if f.text.startswith("Ines")]
        assert [f.level for f in said] == ["fine"]
    assert tops[1] - tops[0] == pytest.approx(0.102, abs=3e-4)  # 51 mm either side of the line


def test_a_fastener_and_a_latch_are_changed_for_ones_that_hold() -> None:
    # 2.5 mm skin on a 3 mm member: 5.5 mm, more than the 5 mm that the shortest rivet holds
    deck = {**DECK, "rivet": "rivet-4.8x8"}
    boat = skiff_plan(fittings=[deck, HATCH | {"runner": 0.012}])
    grip = next(f for f in found(derive(boat), "GRIP", "deck") if f.level == "mend")
    assert [(m.path, m.value) for m in grip.fixes] == [(("fittings", "deck", "rivet"), "rivet-4.8x10")]
    assert not [f for f in found(derive(made(boat, grip.fixes[0])), "GRIP", "deck") if f.level == "mend"]
    latch = one(derive(boat), "LATCH-GRIP")
    assert len(latch.fixes) == 2
    for mend in latch.fixes:
        assert one(derive(made(boat, mend)), "LATCH-GRIP").level == "fine"


@pytest.mark.parametrize(
    ("found_ways", "way"),
    [({"forward": 0.4, "up": 0.11}, "forward"), ({"forward": 0.4, "up": 0.09}, "up"),
     ({"aft": 0.3, "down": 0.01}, "down")],
)  # fmt: skip
def test_things_are_moved_along_rather_than_lifted(found_ways: dict[str, Any], way: str) -> None:
    # up and down count four times
    assert least(found_ways, tuple(found_ways)) == (way, found_ways[way])
