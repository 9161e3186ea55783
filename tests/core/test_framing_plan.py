"""Where members are set: worked by hand on a box of a hull."""

import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.framing_plan import framing_plan
from stirrup.demo.seed import demo_plan
from stirrup.exchange.buildfile import from_data
from tests.boats import DECK, HATCH, build_data, derive, skiff_plan

# a box 4 m long, 2 m wide, 1 m deep, its sides 2.5 mm thick; a deck from 1 m to 3 m, 400 mm up, of
# 2 mm sheet on angles 40 x 40 x 3, with a face under its aft edge
BOX_DECK = {
    "kind": "raised_deck", "id": "deck", "name": "Deck", "mark": "D1", "aft": 1.0, "fore": 3.0,
    "height": 0.4, "skin": "al-2.0", "members": "angle-40x40x3", "spacing": 0.5, "face": True,
    "face_fore": False,
}  # fmt: skip
LEG, THICK, SKIN = 0.040, 0.003, 0.002


def plan_of(**more):
    built = derive(from_data(build_data(fittings=[{**BOX_DECK, **more}]))).fitting("deck")
    found = framing_plan(built)
    assert found is not None
    return found


def lines(placed) -> dict[str, float]:
    return {line.what: line.at for line in (*placed.along, *placed.across)}


def test_cross_members_are_told_by_their_edges_from_the_transom() -> None:
    found = plan_of()
    # the frame starts behind the face, 1.000 + 0.002, and ends at 3.000: middles of the edge members
    # lie half a flange further in, at 1.022 and 2.980; the run of 1.958 in bays of at most 0.5 is 4
    # bays of 0.4895
    middles = [1.022 + 0.4895 * k for k in range(5)]
    crosses = found.of("cross")
    assert [lines(s)["aft edge"] for s in crosses] == pytest.approx([m - LEG / 2 for m in middles])
    assert [lines(s)["fore edge"] for s in crosses] == pytest.approx([m + LEG / 2 for m in middles])
    # the face is fastened to the aft member's leg: that one hangs aft
    assert crosses[0].leg == "aft edge"
    # both ends as far from the centreline as one another: the box is symmetrical
    for s in crosses:
        told = lines(s)
        assert told["port end, to port"] == pytest.approx(told["starboard end, to starboard"])
        # inside of the skin, less the side angle's leg, a bracket and some play
        assert 0.98 < told["port end, to port"] < 0.9975 - THICK
        assert s.member.length == pytest.approx(2 * told["port end, to port"])


def test_heights_are_those_of_the_skins_underside_and_the_legs_feet() -> None:
    found = plan_of()
    assert [line.at for line in found.heights] == pytest.approx([0.4 - SKIN, 0.4 - SKIN - LEG])
    assert all(s.top == pytest.approx(0.4 - SKIN) for s in found.members)


def test_side_angles_are_a_pair() -> None:
    port, other = plan_of().of("side")
    assert (port.side, other.side) == ("P", "S")
    assert [line.at for line in port.along] == pytest.approx([1.002, 3.0])
    assert [line.at for line in port.along] == [line.at for line in other.along]
    assert [line.at for line in port.across] == pytest.approx([line.at for line in other.across])
    assert {(x, -y) for x, y in port.flange} == set(other.flange)


def test_members_beside_a_hatch_are_told_from_the_centreline() -> None:
    built = derive(skiff_plan(fittings=[DECK, HATCH])).fitting("deck")
    found = framing_plan(built)
    assert found is not None
    tracks = [s for s in found.members if s.member.role == ""]
    assert len(tracks) == 2
    for s in tracks:
        inner, outer = (line.at for line in s.across)
        assert abs(outer - inner) == pytest.approx(s.member.section.b)
        aft, fore = (line.at for line in s.along)
        assert fore - aft == pytest.approx(s.member.length)


def test_the_order_has_every_part_once_and_what_blocks_the_drill_last() -> None:
    built = derive(skiff_plan(fittings=[DECK, HATCH])).fitting("deck")
    found = framing_plan(built)
    assert found is not None
    told = [label for step in found.steps for label in step.labels]
    wanted = [m.label for m in built.members] + [p.label for p in built.panels]
    assert sorted(told) == sorted(wanted)
    assert found.steps[0].what == "side angles" and found.steps[-1].what == "skin"
    assert all(s.why for s in found.steps)


def test_what_is_not_framed_has_no_plan() -> None:
    derived = derive(skiff_plan(fittings=[DECK, HATCH]))
    assert framing_plan(derived.fitting("hatch")) is None


@given(st.floats(0.25, 0.7), st.floats(0.8, 1.4))
def test_no_two_cross_members_lie_on_one_another_and_all_are_in_the_deck(
    spacing: float, aft: float
) -> None:
    found = plan_of(spacing=round(spacing, 3), aft=round(aft, 3))
    crosses = sorted((lines(s)["aft edge"], lines(s)["fore edge"]) for s in found.of("cross"))
    assert crosses[0][0] >= round(aft, 3) and crosses[-1][1] <= 3.0 + 1e-9
    for (_, fore), (next_aft, _) in pairwise(crosses):
        assert next_aft >= fore - 1e-9
        assert next_aft - fore <= spacing - LEG + 1e-3
    # marks are where the parts are: each flange's outline has the edges that are told
    for s in found.of("cross"):
        xs = [p[0] for p in s.flange]
        assert (min(xs), max(xs)) == pytest.approx((lines(s)["aft edge"], lines(s)["fore edge"]))


def test_outlines_are_the_members_own_bodies_seen_from_above() -> None:
    """A second way: the box around a member's flange and leg, from its corners in space."""
    derived = derive(demo_plan("sedge-hopper.stirrup.json"))
    found = framing_plan(derived.fitting("bow-deck"))
    assert found is not None
    for s in found.members:
        if s.member.role == "side":
            continue
        leg = s.member.fills[0]
        for axis in (0, 1):
            told = [p[axis] for p in s.upright]
            there = [p[axis] for p in leg]
            # the ends are bevelled: within what a 22° cut over 40 mm takes
            slack = 1e-6 if (axis == 0) == (s.member.role == "cross") else LEG * math.tan(math.radians(30))
            assert min(told) == pytest.approx(min(there), abs=slack)
            assert max(told) == pytest.approx(max(there), abs=slack)
