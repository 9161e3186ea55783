"""Where members are set: worked by hand on a box of a hull."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.framing_plan import datums, framing_plan
from stirrup.demo.seed import demo_plan
from stirrup.exchange.buildfile import from_data
from tests.boats import DECK, HATCH, box_lines, build_data, derive, skiff_plan

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
        assert told["port long point, to port"] == pytest.approx(told["starboard long point, to starboard"])
        # inside of the skin, less the side angle's leg, a bracket and some play
        assert 0.98 < told["port long point, to port"] < 0.9975 - THICK
        assert s.part.length == pytest.approx(2 * told["port long point, to port"])  # square ends


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
    tracks = [s for s in found.members if s.role == ""]
    assert len(tracks) == 2
    for s in tracks:
        inner, outer = (line.at for line in s.across)
        assert abs(outer - inner) == pytest.approx(s.part.section.b)
        aft, fore = (line.at for line in s.along)
        assert fore - aft == pytest.approx(s.part.length)


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


@pytest.mark.slow
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


def test_what_is_told_holds_every_corner_of_the_part() -> None:
    """A second way: the box around a member, from the corners of all that it fills."""
    derived = derive(demo_plan("sedge-hopper.stirrup.json"))
    found = framing_plan(derived.fitting("bow-deck"))
    assert found is not None
    for s in found.of("cross"):
        corners = [p for body in s.part.fills for p in body]
        told = lines(s)
        assert told["aft edge"] == pytest.approx(min(p[0] for p in corners), abs=1e-9)
        assert told["fore edge"] == pytest.approx(max(p[0] for p in corners), abs=1e-9)
        long = {k: v for k, v in told.items() if "long point" in k}
        signs = [-1 if k.endswith("starboard") else 1 for k in long]
        port, other = (sign * v for sign, v in zip(signs, long.values(), strict=True))
        assert port == pytest.approx(max(p[1] for p in corners), abs=1e-9)
        assert other == pytest.approx(min(p[1] for p in corners), abs=1e-9)
        # the leg hangs where it is said to hang
        near = min(p[0] for p in s.part.fills[0])
        assert (s.leg == "aft edge") == (abs(near - told["aft edge"]) < 1e-6)
        assert max(p[2] for p in corners) == pytest.approx(s.top)


def test_the_tape_may_be_hooked_elsewhere() -> None:
    derived = derive(from_data(build_data(fittings=[BOX_DECK])))
    offered = {d.key: d for d in datums(derived.fitting("deck"), derived.surface)}
    # the box is 4 m long, its deck from 1 m to 3 m: 1.5 m from the transom is
    said = {key: d.tell(1.5) for key, d in offered.items()}
    assert said == pytest.approx({"transom": 1.5, "stem": 2.5, "aft": 0.5, "fore": 1.5})
    # running forward from the one end or aft from the other, together they are the length between
    assert offered["aft"].tell(2.2) + offered["fore"].tell(2.2) == pytest.approx(2.0)


def test_a_boat_that_is_narrower_to_starboard_has_its_own_angle_there() -> None:
    data = build_data(fittings=[BOX_DECK])
    # 1 m to port, 0.9 m to starboard
    data["hull"]["starboard"] = box_lines(beam=1.8)
    found = framing_plan(derive(from_data(data)).fitting("deck"))
    assert found is not None
    port, other = found.of("side")
    assert (port.side, other.side) == ("P", "S")
    # against the inside of a plumb side 2.5 mm thick
    assert [line.at for line in port.across] == pytest.approx([0.9975, 0.9975])
    assert [line.at for line in other.across] == pytest.approx([0.8975, 0.8975])
    for s in found.of("cross"):
        told = lines(s)
        assert told["port long point, to port"] - told[
            "starboard long point, to starboard"
        ] == pytest.approx(0.1)


def test_what_ends_at_a_member_beside_a_hatch_goes_in_after_it() -> None:
    """Of the demo's bow deck one member is cut in three by its two hatches, side by side."""
    found = framing_plan(derive(demo_plan("sedge-hopper.stirrup.json")).fitting("bow-deck"))
    assert found is not None
    turn = {label: k for k, step in enumerate(found.steps) for label in step.labels}
    pieces = ["D1-X2.1", "D1-X2.2", "D1-X2.3"]
    tracks = ["H1-TP", "H1-TS", "H2-TP", "H2-TS"]
    whole = ["D1-X1", "D1-H1-aft", "D1-H1-fore", "D1-X3", "D1-X4", "D1-X5"]
    assert max(turn[w] for w in whole) < min(turn[t] for t in tracks)
    assert max(turn[t] for t in tracks) < min(turn[p] for p in pieces)
