"""How things came out: a reading becomes what the plan has, what is measured off it follows, and the
difference is kept. Lengths by hand."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.arrange.as_it_stands import shaped, stands
from stirrup.core.arrange.followers import Around, followed
from stirrup.core.arrange.removal import removed
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding
from stirrup.core.fit.stood import stood_words
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.changes import AnyChange, SetValue, apply
from stirrup.core.plan.model import Plan
from stirrup.core.plan.where import extent_of
from stirrup.core.units import Units
from tests.boats import DECK, HATCH, derive, plan

BOX = {"id": "box", "name": "Box", "stage": "added",
       "mass": {"value": 10.0, "centre": [2.7, 0.0, 0.2], "centre_spread": 0.05},
       "size": [0.4, 0.6, 0.3]}  # fmt: skip
# the box keeps 100 mm behind the deck's aft edge
BOND = {"id": "bond-1", "thing": "box", "edge": "fore", "to": "deck", "to_edge": "aft", "distance": -0.1}


def boat(**more: Any) -> Plan:
    return plan(fittings=[DECK, HATCH], items=[BOX], **more)


def surface_of(boat_: Plan) -> HullSurface:
    return derive(boat_).surface


def told(boat_: Plan, place: str) -> list[Finding]:
    return [f for f in derive(boat_).findings if f.code == "STANDS" and f.place == place]


def done(boat_: Plan, change: AnyChange) -> Plan:
    around = Around(lambda: surface_of(boat_), derive(boat_).catalogue)
    return apply(boat_, followed(boat_, around, change))


def read(boat_: Plan, thing: str, edge: str, at: float) -> Plan:
    return done(boat_, stands(boat_, surface_of(boat_), thing, edge, at))


def edge_at(boat_: Plan, thing: str, edge: str) -> float:
    return extent_of(boat_, surface_of(boat_), thing).edge(edge)


def test_an_edge_that_is_a_choice_takes_the_reading_and_what_is_bound_follows() -> None:
    """The deck's aft edge, planned at 3.000, stands at 3.008: the box bound 100 mm behind it goes along,
    from 2.700 to 2.708."""
    after = read(boat(arrangement={"bonds": [BOND]}), "deck", "aft", 3.008)
    assert after.thing("deck").aft == pytest.approx(3.008)
    assert after.thing("box").mass.centre[0] == pytest.approx(2.708)
    (kept,) = after.stood
    assert (kept.what, kept.planned, kept.stands) == ("aft", 3.0, 3.008)
    (found,) = told(after, "deck")
    assert found.level == "look" and found.values["off"].value == pytest.approx(0.008)
    assert "further forward" in found.text and "2 follow it: Box, Hatch" in found.text
    assert told(after, "box") == []


@pytest.mark.parametrize(
    ("off", "level"), [(0.003, "fine"), (-0.003, "fine"), (0.0031, "look"), (-0.02, "look")]
)
def test_three_millimetres_pass(off: float, level: str) -> None:
    (found,) = told(read(boat(), "deck", "top", 0.4 + off), "deck")
    assert found.level == level
    assert found.values["off"].value == pytest.approx(abs(off))
    if level == "look":
        assert ("higher" in found.text) == (off > 0)


def test_read_again_the_first_plan_is_kept() -> None:
    after = read(read(boat(), "deck", "aft", 3.008), "deck", "aft", 3.006)
    (kept,) = after.stood
    assert (kept.planned, kept.stands) == (3.0, 3.006) and after.thing("deck").aft == 3.006


def test_both_edges_read_give_the_real_length() -> None:
    """A box planned from 2.5 to 2.9 came out from 2.502 to 2.905: 403 mm long about 2.7035."""
    after = read(read(boat(), "box", "aft", 2.502), "box", "fore", 2.905)
    box = after.thing("box")
    assert box.size[0] == pytest.approx(0.403) and box.mass.centre[0] == pytest.approx(2.7035)
    assert edge_at(after, "box", "aft") == pytest.approx(2.502)


def test_a_reading_narrows_where_its_centre_is() -> None:
    """Known to 50 mm any way; read along the boat, to the 2 mm of a tape that way only."""
    after = read(boat(), "box", "fore", 2.905)
    assert after.thing("box").mass.centre_spread_m == (0.002, 0.05, 0.05)


def test_moved_after_it_was_fixed_is_told_with_the_way_back() -> None:
    fixed = read(boat(), "deck", "aft", 3.008)
    later = apply(fixed, SetValue(path=("fittings", "deck", "aft"), value=2.95))
    (found,) = told(later, "deck")
    assert found.level == "mend" and found.values["now"].value == pytest.approx(2.95)
    (fix,) = found.fixes
    assert fix.path is not None and fix.value == 3.008
    back = apply(later, SetValue(path=fix.path, value=fix.value))
    assert told(back, "deck")[0].level == "look"


def test_what_is_forgotten_or_taken_out_is_not_asked_about() -> None:
    fixed = read(boat(), "deck", "aft", 3.008)
    assert apply(fixed, removed(fixed, ["deck"])).stood == ()


@pytest.mark.parametrize(
    ("thing", "edge", "at", "words"),
    [("deck", "aft", 3.6, "within 0.5 m"), ("hatch", "top", 0.41, "follows from"),
     ("nothing", "aft", 1.0, "nothing called")],
)  # fmt: skip
def test_what_cannot_be(thing: str, edge: str, at: float, words: str) -> None:
    with pytest.raises(CoreError, match=words):
        stands(boat(), surface_of(boat()), thing, edge, at)


@pytest.mark.parametrize(
    ("what", "by", "level", "title"),
    [
        # half a per cent of 0.6 m across: 3 mm
        ("higher on the port side", 0.003, "fine", "Level enough"),
        ("higher on the port side", -0.0031, "look", "It is out of level"),
        # of 0.4 m along: 2 mm
        ("higher at the fore end", 0.002, "fine", "Level enough"),
        ("higher at the fore end", 0.0021, "look", "It is out of level"),
        ("out of flat", 0.003, "fine", "Flat enough"), ("out of flat", -0.004, "look", "It is twisted"),
    ],
)  # fmt: skip
def test_level_and_flat(what: str, by: float, level: str, title: str) -> None:
    after = apply(boat(), shaped(boat(), "box", what, by))
    (found,) = told(after, "box")
    assert (found.level, found.title) == (level, title)
    assert found.values["by"].value == pytest.approx(abs(by))


def test_the_low_side_is_packed() -> None:
    """20 mm higher to starboard: the port side is packed."""
    (found,) = told(apply(boat(), shaped(boat(), "box", "higher on the port side", -0.02)), "box")
    assert found.remedy.startswith("Pack its port side up") and "starboard side" in found.text
    (aft,) = told(apply(boat(), shaped(boat(), "box", "higher at the fore end", 0.02)), "box")
    assert aft.remedy.startswith("Pack its aft end up") and "higher at the fore end" in aft.text


def test_in_words() -> None:
    (kept,) = read(boat(), "deck", "aft", 3.008).stood
    assert stood_words(kept, Units()) == "aft edge at 3 008 mm, 8 mm further forward than planned"


@given(st.sampled_from(["aft", "fore", "top", "port"]), st.floats(-0.2, 0.2))
def test_wherever_it_stands_the_plan_has_it_there(edge: str, off: float) -> None:
    """And nothing else of the box moves but what goes with it: its size stays."""
    start = boat()
    at = edge_at(start, "box", edge) + round(off, 4)
    after = apply(start, stands(start, surface_of(start), "box", edge, at))
    assert edge_at(after, "box", edge) == pytest.approx(at, abs=1.5e-4)
    assert after.thing("box").size == start.thing("box").size
