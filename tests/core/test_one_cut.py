"""Neighbours on a stick that one slanted cut parts: by hand, and against every order."""

from __future__ import annotations

import itertools
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.cutting.member_marking import mark_member
from stirrup.core.cutting.one_cut import Laid, in_order
from stirrup.core.parts.entries import Section
from stirrup.core.parts.model import EndCut, Member


def section(shape: str, a: float = 0.04, b: float = 0.03) -> Section:
    return Section.model_validate({
        "id": "s", "name": "s", "shape": shape, "material": "al", "a": a, "b": b, "t": 0.003,
    })  # fmt: skip


def member(key: str, first: EndCut, last: EndCut, shape: str = "flat") -> Member:
    return Member(key, key, key, "f", section(shape), 1.0, ((0, 0, 0), (1, 0, 0)), ends=(first, last))


AFT, FORE, SQUARE = EndCut(30.0, 0.0, "aft"), EndCut(30.0, 0.0, "fore"), EndCut(0.0, 0.0)
STEP = 0.04 * math.tan(math.radians(30.0))  # over the face of a flat bar, 40 mm wide


def told(chain: tuple[Laid, ...]) -> list[tuple[str, bool, bool, float]]:
    return [(x.member.key, x.turned, x.over, round(x.shares_deg, 3)) for x in chain]


def test_a_trapezium_and_the_same_turned_half_round_share_a_cut() -> None:
    # both ends longer aft: beside each other the cuts lean apart; with one half round, aft edge up, they
    # are one
    chain = in_order([member("a", AFT, AFT), member("b", AFT, AFT)])
    assert len(chain) == 2 and chain[0].turned != chain[1].turned
    assert (chain[0].shares_deg, chain[0].saves_m) == (30.0, pytest.approx(STEP))


def test_an_angle_is_not_turned() -> None:
    # as a trapezium it cannot lie over; as a parallelogram it need not
    assert in_order([member("a", AFT, AFT, "angle"), member("b", AFT, AFT, "angle")]) == ()
    chain = in_order([member("a", AFT, FORE, "angle"), member("b", AFT, FORE, "angle")])
    assert told(chain)[0][1:] == (False, False, 30.0)
    # the angle lies on its flange, which is 30 mm wide
    assert chain[0].saves_m == pytest.approx(0.03 * math.tan(math.radians(30.0)))


def test_square_ends_and_other_angles_share_nothing_slanted() -> None:
    assert in_order([member("a", SQUARE, SQUARE), member("b", SQUARE, SQUARE)]) == ()
    other = EndCut(24.0, 0.0, "aft")
    assert in_order([member("a", SQUARE, AFT), member("b", other, SQUARE)]) == ()
    assert in_order([member("a", AFT, FORE)]) == () and in_order([]) == ()


def test_a_tilted_blade_has_to_lean_alike_too() -> None:
    foot, flange = EndCut(0.0, 10.0, "", True), EndCut(0.0, 10.0, "", False)
    # longer at the foot here, longer at the flange there: one plane
    chain = in_order([member("a", SQUARE, foot, "angle"), member("b", flange, SQUARE, "angle")])
    assert [x.member.key for x in chain] == ["a", "b"]
    assert chain[0].saves_m == pytest.approx(0.04 * math.tan(math.radians(10.0)))
    assert in_order([member("a", SQUARE, foot, "angle"), member("b", foot, SQUARE, "angle")]) == ()


def cut_line(laid: Laid, right: bool) -> float:
    """How far the cut goes along the stick from the lower edge to the upper one, off the face as it is
    marked out."""
    (a0, _), (b0, _), (b1, wide), (a1, _) = mark_member(laid.member).faces[0].outline
    left_edge, right_edge = (a0, a1), (b0, b1)
    if laid.turned:  # half round: ends change, and up is down
        left_edge, right_edge = (-right_edge[1], -right_edge[0]), (-left_edge[1], -left_edge[0])
    if laid.over:
        left_edge, right_edge = left_edge[::-1], right_edge[::-1]
    low, high = right_edge if right else left_edge
    return (high - low) / wide


ENDS = st.sampled_from([AFT, FORE, SQUARE, EndCut(24.0, 0.0, "aft"), EndCut(24.0, 0.0, "fore")])


@given(
    st.lists(st.tuples(ENDS, ENDS), min_size=2, max_size=5), st.sampled_from(["flat", "channel", "angle"])
)
@settings(max_examples=60, deadline=None)
def test_a_cut_that_is_shared_is_the_end_of_both(ends: list[tuple[EndCut, EndCut]], shape: str) -> None:
    members = [member(f"m{k}", a, b, shape) for k, (a, b) in enumerate(ends)]
    chain = in_order(members)
    if chain:
        assert sorted(x.member.key for x in chain) == sorted(m.key for m in members)
    for one, other in itertools.pairwise(chain):
        slants = cut_line(one, right=True), cut_line(other, right=False)
        if one.saves_m:
            assert slants[0] == pytest.approx(slants[1]) and abs(slants[0]) > 0.1
            wide = mark_member(one.member).faces[0].wide
            assert one.saves_m == pytest.approx(abs(slants[0]) * wide)
    assert (sum(x.saves_m for x in chain) > 0) is bool(chain)


def test_what_leans_the_other_way_is_turned_over_where_it_may_be() -> None:
    # parallelograms that lean apart, whichever end comes first
    lean, other = (AFT, FORE), (FORE, AFT)
    chain = in_order([member("a", *lean), member("b", *other)])
    assert {x.over for x in chain} == {True, False} and chain[0].saves_m == pytest.approx(STEP)
    assert in_order([member("a", *lean, "channel"), member("b", *other, "channel")]) == ()
