"""Members on paper: slants by their tangents, holes by even parts, groups by what the saw is set to."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Polygon

from stirrup.core.cutting.member_marking import Face, mark_member, row, same_fence
from stirrup.core.kinds.raised_deck import RaisedDeck
from stirrup.core.parts.model import EndCut, Member
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, derive, plan

ANGLE = starting().section("angle-40x40x3")


def member(key: str = "m", long: float = 1.0, ends: tuple[EndCut, ...] = (), **more) -> Member:
    path = ((0.0, 0.0, 0.0), (0.0, long, 0.0))
    return Member(key, key.upper(), key, "deck", ANGLE, long, path, ends=ends, **more)


def corners(face: Face) -> list[float]:
    return [v for p in face.outline for v in p]


def test_square_ends_are_rectangles() -> None:
    flange, leg = mark_member(member()).faces
    assert (flange.name, leg.name) == ("flange", "leg")
    for face in (flange, leg):
        assert Polygon(face.outline).area == pytest.approx(1.0 * 0.040)
        assert face.angles_deg == (90.0, 90.0)


def test_a_mitre_slants_the_flange_and_a_bevel_the_leg() -> None:
    """30° over 40 mm: 23.1 mm shorter at the edge that is not the long one; 10°: 7.05 mm."""
    aft_long = EndCut(30.0, 10.0, "aft", foot=False)
    fore_long = EndCut(30.0, 0.0, "fore")
    flange, leg = mark_member(member(ends=(aft_long, fore_long))).faces
    off = 0.040 * math.tan(math.radians(30))
    assert corners(flange) == pytest.approx([0, 0, 1.0 - off, 0, 1.0, 0.040, off, 0.040])
    assert flange.angles_deg == pytest.approx((60.0, 60.0))
    # the flange's edge of the leg is the long one: its foot, drawn below, is set back
    back = 0.040 * math.tan(math.radians(10))
    assert corners(leg) == pytest.approx([back, 0, 1.0, 0, 1.0, 0.040, 0.0, 0.040])
    assert leg.angles_deg == pytest.approx((80.0, 90.0))


@given(st.floats(0.1, 6), st.integers(2, 60), st.floats(0.0, 0.05))
def test_holes_are_even_and_the_same_from_either_end(long: float, count: int, margin: float) -> None:
    holes = row("flange", "skin", 0.005, long, count, margin).at
    assert len(holes) == count
    assert holes[0] == pytest.approx(margin)
    assert [long - h for h in reversed(holes)] == pytest.approx(holes, abs=1e-9)


def test_one_hole_is_in_the_middle_and_none_is_none() -> None:
    assert row("flange", "skin", 0.005, 1.0, 1, 0.02).at == (0.5,)
    assert row("flange", "skin", 0.005, 1.0, 0, 0.02).at == ()


def test_no_hole_is_where_the_flange_is_cut_back() -> None:
    """A metre, its flange back by 35 mm at the first end: five holes from 55 to 980 mm."""
    holes = row("flange", "skin", 0.005, 1.0, 5, 0.020, (0.035, 0.0)).at
    assert holes == pytest.approx((0.055, 0.28625, 0.5175, 0.74875, 0.980))
    # no room between two: one on the other in the middle of what is left
    assert row("flange", "skin", 0.005, 0.1, 2, 0.020, (0.03, 0.04)).at == pytest.approx((0.045, 0.045))


def test_one_fence_for_what_is_alike_handed_or_not() -> None:
    slanted, square = EndCut(20.0, 5.0, "aft"), EndCut(0.0, 0.0)
    members = [
        member("a", 1.0, (slanted, square)),
        member("b", 1.0, (square, slanted)),  # handed
        member("c", 1.0),  # square
        member("d", 1.0004, (slanted, square)),  # within what a fence gives
        member("e", 1.002, (slanted, square)),
        member("f", 1.0, (EndCut(21.0, 5.0, "aft"), square)),
        member("g", 1.0, (slanted, square), copes=(0.03, 0.0)),
        replace(member("h", 1.0, (slanted, square)), section=starting().section("flat-25x3")),
    ]
    groups = [[m.key for m in g] for g in same_fence(members)]
    assert groups == [["a", "b", "d"], ["c"], ["e"], ["f"], ["g"], ["h"]]


def test_a_deck_s_members_have_the_holes_that_fasteners_are_bought_for() -> None:
    """What is drilled is what is bought: skin through every member, sides through the hull as well."""
    from stirrup.core.fittings.joints import hole_rows

    derived = derive(plan(fittings=[DECK]))
    built, deck = derived.fitting("deck"), derived.plan.fitting("deck")
    assert built is not None and isinstance(deck, RaisedDeck)
    pitch = deck.fastener_pitch
    bought = {b.key.rsplit("/", 1)[1]: b for b in built.bought if "/fasteners/" in b.key}
    drilled: dict[str, int] = {"skin": 0, "hull": 0}
    for one in built.members:
        for r in hole_rows(one, built.bought, pitch):
            drilled["skin" if r.face == "flange" else "hull"] += len(r.at)
            entry = bought["skin" if r.face == "flange" else "hull"].entry
            assert r.drill == entry.drill  # type: ignore[attr-defined]
            assert r.pitch <= pitch + 1e-9
    assert drilled["hull"] == bought["hull"].quantity
    # members under a joint of the skin carry a second row of their own
    assert bought["skin"].quantity >= drilled["skin"] > 0
