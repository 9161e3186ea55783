"""What stands under a deck is in the way where a member is, and not between two of them."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import box
from shapely.geometry import MultiPoint, Polygon

from stirrup.core.fittings.bent import _between, _cut_off
from stirrup.core.fittings.edges import Breadths, breadths_at, largest
from tests.boats import DECK, HATCH, derive, plan

# cross members of a box's deck from 1.0 to 2.0 m stand at 1.0225, 1.3417, 1.6608 and 1.98 m
DECK_AT_400 = {**DECK, "aft": 1.0, "fore": 2.0}


def chest(x: float, top: float) -> dict:
    """A box of 0.2 x 0.3 m, its middle at x."""
    return {"id": "chest", "name": "Chest", "form": "box", "size": [0.2, 0.3, 0.2], "stage": "added",
            "mass": {"value": 5.0, "centre": [x, 0.0, top - 0.1]}}  # fmt: skip


@pytest.mark.parametrize(
    ("x", "top", "clashes"),
    [
        (1.50, 0.39, False),  # from 1.40 to 1.60: between two members, under the skin at 0.3975
        (1.50, 0.40, True),  # 2.5 mm into the skin
        (1.60, 0.39, True),  # to 1.70: over the member at 1.66, whose foot is at 0.3575
        (1.60, 0.355, False),  # under that foot
        (1.60, 0.360, True),
    ],
)
def test_only_skin_and_members_are_in_the_way(x: float, top: float, clashes: bool) -> None:
    derived = derive(plan(fittings=[DECK_AT_400], items=[chest(x, top)]))
    assert any(f.code == "CLASH" and f.place == "chest" for f in derived.findings) is clashes


def test_a_face_is_in_the_way_too() -> None:
    """The face stands from 1.0 to 1.0025 m, from the bottom up to the skin."""
    far = {**DECK_AT_400, "face": True}
    for x, clashes in ((0.899, False), (0.92, True), (1.11, False)):
        derived = derive(plan(fittings=[far], items=[chest(x, 0.22)]))
        told = [f for f in derived.findings if f.code == "CLASH" and f.place == "chest"]
        assert bool(told) is clashes, x
        if clashes:
            # from 0.82 to 1.02: 20 mm through
            assert told[0].values["amount"].value == pytest.approx(0.020, abs=1e-6)
            assert "the face of Deck" in told[0].text


def test_two_decks_do_not_share_their_place() -> None:
    def told(aft: float, height: float) -> list[str]:
        other = {**DECK_AT_400, "id": "other", "name": "Other", "mark": "D2", "aft": aft, "fore": aft + 0.8,
                 "height": height, "face": False}  # fmt: skip
        derived = derive(plan(fittings=[DECK_AT_400, other]))
        return [f.title for f in derived.findings if f.code == "CLASH"]

    assert told(2.0, 0.4) == []  # edge to edge
    assert told(1.98, 0.4) == ["Two decks in one place"]
    assert told(1.9, 0.45) == []  # 50 mm higher: members' feet at 0.4075, over the other's top
    assert told(1.9, 0.44) == ["Two decks in one place"]  # feet at 0.3975


def test_a_lid_is_as_thick_as_it_is_and_its_runner_is_in_the_way() -> None:
    """Deck's top at 0.4: under a lid of 2.5 mm from 0.3975, under its runner of 19 mm from 0.3785. The
    chest stands under the hatch's port edge, 0.3 m across the middle of it."""
    hatch = {**HATCH, "x": 1.5, "y": 0.0, "clear_length": 0.4, "clear_width": 0.4}

    def clashes(top: float, **more) -> bool:
        derived = derive(plan(fittings=[DECK_AT_400, {**hatch, **more}], items=[chest(1.5, top)]))
        return any(f.code == "CLASH" and {f.place, f.other} == {"chest", "hatch"} for f in derived.findings)

    assert not clashes(0.396) and clashes(0.3995)
    # strips lie from 157 to 197 mm off the middle: the chest of 150 is between them, a wide one is not
    assert not clashes(0.385, runner=0.019)
    wide = {**chest(1.5, 0.385), "size": [0.2, 0.36, 0.2]}
    told = derive(plan(fittings=[DECK_AT_400, {**hatch, "runner": 0.019}], items=[wide])).findings
    assert any(f.code == "CLASH" and {f.place, f.other} == {"chest", "hatch"} for f in told)


def test_a_case_of_one_s_own_is_judged_whatever_its_name() -> None:
    crew = [{"mass": 400.0, "at": [2.0, 0.8, 0.2]}]
    own = {"name": "two hauling over one side", "crew": crew}
    codes = {f.code for f in derive(plan(cases=[own])).findings if f.place == own["name"]}
    assert "FREEBOARD" in codes and "MOMENT" not in codes


corners = st.lists(
    st.tuples(st.integers(-20, 20), st.integers(-20, 20)), min_size=3, max_size=12, unique=True
)  # fmt: skip


@given(corners, st.lists(st.floats(-2.2, 2.2), min_size=1, max_size=6))
def test_breadths_found_by_halving_are_those_of_looking_at_every_edge(points, marks) -> None:
    """On whole numbers of decimetres, so that corners above one another and upright edges occur."""
    shape = largest(Polygon([(x / 10, y / 10) for x, y in points]).buffer(0))
    if shape.is_empty:
        return
    asked = [*marks, *(x / 10 for x, _ in points)]
    low, high = breadths_at(shape, np.array(asked))
    there = Breadths(shape)
    for x, *expected in zip(asked, low, high, strict=True):
        found = there.at(x)
        assert (found is None) == bool(np.isnan(expected[0]))
        assert found is None or found == pytest.approx(expected, abs=1e-12)


def test_breadths_of_a_trapezium_by_hand() -> None:
    """From y = ±1 at x = 0 to ±0.5 at x = 2: 0.75 half way."""
    there = Breadths(Polygon([(0, -1), (2, -0.5), (2, 0.5), (0, 1)]))
    assert there.at(1.0) == pytest.approx((-0.75, 0.75))
    assert there.at(0.0) == pytest.approx((-1.0, 1.0)) and there.at(2.0) == pytest.approx((-0.5, 0.5))
    assert there.at(-0.001) is None and there.at(2.001) is None


def test_along_the_transom_no_side_angle_takes_a_members_flange() -> None:
    """In a box from the transom to the bow, both open: the first and the last cross member keep their
    flanges but for the strips of the side angles, as those between do."""
    deck = {**DECK, "aft": None, "fore": None, "face": False}
    built = derive(plan(fittings=[deck])).fitting("deck")
    assert built is not None
    crosses = [m for m in built.members if m.role == "cross"]
    copes = [m.copes for m in crosses]
    # 40 mm of flange and 1.5 of play less what the angle's own end stands off: alike all along
    assert copes[0] == pytest.approx(copes[len(copes) // 2], abs=1e-6)
    assert copes[-1] == pytest.approx(copes[len(copes) // 2], abs=1e-6)
    assert max(copes[0]) < 0.05


def test_a_stretch_cut_off_athwart_by_hand() -> None:
    # a flange 1 m along and 0.2 m wide, one end slanting: from (0, 0) and (0.1, 0.2) to (1, 0) and (1, 0.2)
    face = [(0.0, 0.0), (1.0, 0.0), (1.0, 0.2), (0.1, 0.2)]
    corners = np.array([(x, y, z) for z in (0.4, 0.39) for x, y in face])
    (body,) = _cut_off(corners, 0.05, 0.6)
    # at 0.05 the slanting end is crossed at half its breadth
    edges = {(0.05, 0.0), (0.05, 0.1), (0.1, 0.2), (0.6, 0.0), (0.6, 0.2)}
    for z in (0.4, 0.39):
        level = MultiPoint([(x, y) for x, y, at in body if at == z]).convex_hull
        assert {(round(x, 9), round(y, 9)) for x, y in level.exterior.coords} == edges
    assert _cut_off(corners, 1.5, 2.0) == []


@given(
    st.lists(st.tuples(st.floats(-1, 1), st.floats(-1, 1)), min_size=4, max_size=4),
    st.floats(-0.8, 0.8), st.floats(0.01, 0.5),
)  # fmt: skip
def test_what_lies_between_two_stations_is_what_a_clip_leaves(face, aft, length) -> None:
    whole = MultiPoint(face).convex_hull
    clipped = whole.intersection(box(aft, -2, aft + length, 2))
    found = _between([(x, y, 0.3) for x, y in face], aft, aft + length)
    if clipped.area < 1e-9:
        return  # a line, or nothing
    mine = MultiPoint([(x, y) for x, y, _ in found]).convex_hull
    assert mine.symmetric_difference(clipped).area == pytest.approx(0, abs=1e-9)
    assert {z for _, _, z in found} == {0.3}
