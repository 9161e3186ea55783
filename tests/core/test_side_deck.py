"""Decks along one side: in a box hull 4 x 2 x 1 m, sides 2.5 mm; 0.4 m up, from 1 to 3 m, 0.6 off the
centreline."""

import json
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.arrange.move import moved
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.framing_plan import framing_plan
from stirrup.core.kinds.registry import kind_of
from stirrup.core.marking import marking
from stirrup.core.plan.changes import apply
from stirrup.core.plan.copies import another
from stirrup.core.plan.where import extent_of
from stirrup.exchange.buildfile import from_data
from tests.boats import DECK, HATCH, build_data, derive, plan, skiff_plan, wedge_lines
from tests.crossing import crossings, through_skin

SIDE = {**DECK, "aft": 1.0, "fore": 3.0, "reaches": "along port", "inner": 0.6, "face": False}
T, LEG = 0.0025, 0.040
OUTER = 1.0 - 0.0025 - 0.005  # skin and gap


def boat(*more: dict[str, Any], **choices: Any) -> Derived:
    return derive(plan(fittings=[{**SIDE, **choices}, *more]))


def made(derived: Derived, id_: str = "deck") -> Built:
    built = derived.fitting(id_)
    assert built is not None
    return built


def test_its_skin_ends_at_its_inner_edge() -> None:
    built = made(boat())
    assert built.region.bounds == pytest.approx((1.0, 0.6, 3.0, OUTER))
    area = sum(p.polygon.area for p in built.panels if "/skin/" in p.key)
    assert area == pytest.approx(2.0 * (OUTER - 0.6), abs=2e-6)
    other = made(boat(reaches="along starboard"))
    assert other.region.bounds == pytest.approx((1.0, -OUTER, 3.0, -0.6))
    assert other.mass_kg == pytest.approx(built.mass_kg, rel=1e-9)


def test_a_lengthwise_member_carries_its_inner_edge() -> None:
    built = made(boat())
    (track,) = (m for m in built.members if "/track/" in m.key)
    ys = [y for body in track.fills for _, y, _ in body]
    # behind a face of 2.5 mm, 40 wide
    assert (min(ys), max(ys)) == pytest.approx((0.6 + T, 0.6 + T + LEG))
    leg = [y for _, y, _ in track.fills[0]]
    # its leg on the edge that is seen, where the face is fastened
    assert (min(leg), max(leg)) == pytest.approx((0.6025, 0.6055))
    sides = [m for m in built.members if m.role == "side"]
    assert sides and all(y > 0 for m in sides for _, y, _ in m.path)
    crosses = [m for m in built.members if m.role == "cross"]
    for m in crosses:
        reach = [y for body in m.fills for _, y, _ in body]
        # from the side angle to beside the track's leg
        assert min(reach) >= 0.6 + T - 1e-9 and max(reach) <= 1.0 - 0.0025 + 1e-9
    bare = made(boat(face_inner=False))
    (track,) = (m for m in bare.members if "/track/" in m.key)
    assert min(y for body in track.fills for _, y, _ in body) == pytest.approx(0.6)


def test_the_face_under_its_inner_edge() -> None:
    built = made(boat())
    (face,) = (p for p in built.panels if p.key == "deck/face-inner")
    u0, v0, u1, v1 = face.polygon.bounds
    # from the bottom (3 mm and 5 of gap) to the underside; 2 m long
    assert (u0, v0, u1, v1) == pytest.approx((1.0, 0.008, 3.0, 0.4 - T))
    assert face.frame.origin == pytest.approx((0.0, 0.6 + T / 2, 0.0))
    ended = made(boat(face=True, face_fore=True))
    (face,) = (p for p in ended.panels if p.key == "deck/face-inner")
    # between those under its ends
    assert face.polygon.bounds[::2] == pytest.approx((1.0 + T, 3.0 - T))
    for key in ("deck/face", "deck/face-fore"):
        (end,) = (p for p in ended.panels if p.key == key)
        assert end.polygon.bounds[0] == pytest.approx(0.6)
    (foot,) = (p for p in made(boat(face_foot=0.15)).panels if p.key == "deck/face-inner")
    assert foot.polygon.bounds[1] == pytest.approx(0.15)


def test_nothing_of_it_stands_in_anything_with_a_hatch_in_it_too() -> None:
    hatch = {**HATCH, "x": 2.0, "y": 0.8, "clear_length": 0.4, "clear_width": 0.15}
    for derived in (boat(), boat(hatch, inner=0.5), boat(face=True, face_fore=True), boat(rises=3.0)):
        assert crossings(derived) == {} and through_skin(derived) == {}
    told = [f for f in boat(hatch, inner=0.5).findings if f.place == "hatch" and f.level == "mend"]
    assert not [f for f in told if f.code.startswith("HATCH")]


def test_the_mirrored_one_weighs_the_same_and_lists_the_other_way() -> None:
    port, starboard = boat(), boat(reaches="along starboard")
    a, b = (d.case("planned, empty").report for d in (port, starboard))
    assert a is not None and b is not None
    assert a.list_deg == pytest.approx(-b.list_deg, abs=1e-6) and a.list_deg > 0.1
    assert a.trim_deg == pytest.approx(b.trim_deg, abs=1e-9)


def test_it_is_copied_to_the_other_side_and_ahead() -> None:
    before = boat(fore=2.0).plan
    thing = before.fittings[0]
    assert not kind_of(thing).lone(thing)
    after = apply(before, another(before, "deck", mirrored=True))
    assert after.fittings[1].reaches == "along starboard"  # type: ignore[union-attr]
    ahead = apply(before, another(before, "deck")).fittings[1]
    assert (ahead.aft, ahead.fore) == (2.0, 3.0)  # type: ignore[union-attr]
    whole = plan(fittings=[DECK])
    assert kind_of(whole.fittings[0]).lone(whole.fittings[0])
    for mirrored in (False, True):
        with pytest.raises(CoreError, match="side to side"):
            another(whole, "deck", mirrored)


def test_its_inner_edge_is_moved_across_and_told() -> None:
    derived = boat()
    extent = extent_of(derived.plan, derived.surface, "deck")
    assert extent.y == pytest.approx((0.6, 0.9975))
    step = apply(derived.plan, moved(derived.plan, ["deck"], (0.0, 0.05, 0.0)))
    assert step.fittings[0].inner == pytest.approx(0.65)  # type: ignore[union-attr]
    starboard = boat(reaches="along starboard").plan
    step = apply(starboard, moved(starboard, ["deck"], (0.0, 0.05, 0.0)))
    assert step.fittings[0].inner == pytest.approx(0.55)  # type: ignore[union-attr]
    (handle,) = (h for h in made(derived).handles if h.field == "inner")
    assert handle.axis == "y" and handle.line[0][1] == pytest.approx(0.6)
    marks = marking(derived)[0]
    assert {round(m.at[1], 4) for m in marks.marks} == {0.6, round(OUTER, 4)}
    assert marks.heads == ("inner edge, to port", "outer edge, to port")
    other = marking(boat(reaches="along starboard"))[0]
    assert other.heads == ("inner edge, to starboard", "outer edge, to starboard")
    for m in (marks, other):
        for o in m.ordinates:
            assert m.pair(o) == pytest.approx((0.6, OUTER))
    assert marking(derive(plan(fittings=[DECK])))[0].heads == ("half-width port", "half-width starboard")


def test_too_narrow_for_its_members_is_told() -> None:
    # 1.0 - 0.0025 less two flanges of 40 and the face: an inner edge beyond 0.915
    told = [f for f in boat(inner=0.93).findings if f.code == "DECK-SUPPORT" and f.level == "mend"]
    assert told and "inner edge lies on the side angle" in told[0].title and not told[0].fixes
    assert not [f for f in boat(inner=0.90).findings if f.code == "DECK-SUPPORT" and f.level == "mend"]
    (none,) = [f for f in boat(inner=1.5).findings if f.code == "CANNOT-BUILD"]
    assert "nothing is left" in none.text


def test_its_framing_is_set_out_on_its_side() -> None:
    found = framing_plan(made(boat()))
    assert found is not None
    assert {s.side for s in found.of("side")} == {"P"}
    (inner,) = found.of("")
    assert [round(line.at, 4) for line in inner.across] == [0.6025, 0.6425]
    other = framing_plan(made(boat(reaches="along starboard")))
    assert other is not None and {s.side for s in other.of("side")} == {"S"}


@pytest.mark.slow
@settings(max_examples=25, deadline=None)
@given(
    aft=st.floats(0.3, 2.5), long=st.floats(0.5, 2.0), height=st.floats(0.2, 0.5),
    share=st.floats(0.1, 0.8), side=st.sampled_from(["along port", "along starboard"]),
    faces=st.booleans(), rises=st.sampled_from([0.0, 2.0]),
)  # fmt: skip
def test_in_a_skiff_nothing_crosses(
    aft: float, long: float, height: float, share: float, side: str, faces: bool, rises: float
) -> None:
    deck = {**SIDE, "aft": aft, "fore": aft + long, "height": height, "inner": share * 0.9, "reaches": side,
            "face": faces, "face_fore": faces, "rises": rises}  # fmt: skip
    derived = derive(skiff_plan(fittings=[deck]))
    if [f for f in derived.findings if f.code in ("CANNOT-BUILD", "DECK-SUPPORT") and f.level != "fine"]:
        return
    assert through_skin(derived) == {}, json.dumps(deck)
    assert crossings(derived) == {}, json.dumps(deck)


def test_its_inner_face_is_in_the_way_as_thick_as_its_sheet() -> None:
    built = made(boat())
    (wall,) = (s for s in built.solids if s.role == "wall")
    x0, y0, _, x1, y1, _ = wall.shape.bounds
    assert (x0, x1) == pytest.approx((1.0, 3.0)) and (y0, y1) == pytest.approx((0.6, 0.6 + T))


def test_where_there_is_no_room_for_a_member_none_is_cut() -> None:
    """So low in a vee that side angle and inner member lie on one another, which is told."""
    deck = {**SIDE, "aft": None, "fore": 2.27, "height": 0.05, "rises": 6.0, "inner": 0.2605,
            "face_inner": False, "members": "angle-60x60x5", "skin": "al-1.3"}  # fmt: skip
    built = made(derive(from_data(build_data(wedge_lines(0.25), fittings=[deck]))))
    assert all(m.length > 0 and m.mass_kg > 0 for m in built.members)
