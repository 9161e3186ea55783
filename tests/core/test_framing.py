"""Members under a panel: every edge carried, no bay wider than asked, none dropped."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import LineString, box
from shapely.ops import unary_union

from stirrup.core.contract.gives import Opening
from stirrup.core.fittings.framing import LEDGE_M, frame, framed, support_findings
from tests.boats import DECK, HATCH, box_lines, derive, plan, skiff_plan

FLANGE = 0.040
WIDE = box(-9, -9, 9, 9)


def opening(code: str, x0: float, y0: float, x1: float, y1: float) -> Opening:
    return Opening(code.lower(), code, box(x0, y0, x1, y1), (x0, y0, x1, y1))


def stations(found) -> list[float]:
    return [round(b.x, 4) for b in found.beams]


def test_without_hatches_the_run_is_divided_equally() -> None:
    # 1.46 m at 0.35: 5 bays of 0.292
    found = frame(3.02, 4.48, 0.35, FLANGE, [])
    assert stations(found) == [3.02, 3.312, 3.604, 3.896, 4.188, 4.48]
    assert (found.widest.run, found.widest.bays) == (pytest.approx(1.46), 5)


def test_members_near_a_hatch_frame_are_moved_not_dropped() -> None:
    # asked 400: the run of 0.8 m used to be three members, the middle one left out beside the
    # hatch's at 0.46, and the bay became 0.46. Now 0.46 is two bays of 0.23
    found = frame(0.0, 0.8, 0.4, FLANGE, [opening("H1", 0.46, -0.2, 0.76, 0.2)])
    assert stations(found) == [0.0, 0.23, 0.46, 0.76, 0.8]
    assert found.widest.width == pytest.approx(0.30)  # across the hatch


def test_two_hatches_side_by_side_with_other_landings_share_their_members() -> None:
    """Clear openings in line, landings of 1 in and 1 1/2 in: the edges lie 12.7 mm apart."""
    one = opening("H1", 3.100 - 0.0254, 0.05, 3.400 + 0.0254, 0.40)
    two = opening("H2", 3.100 - 0.0381, -0.40, 3.400 + 0.0381, -0.05)
    found = frame(2.5, 4.0, 0.6, FLANGE, [one, two])
    # middles of 3.0746 and 3.0619, of 3.4254 and 3.4381
    assert stations(found) == [2.5, 3.0682, 3.4318, 4.0]  # bays of 0.568, 0.364, 0.568
    # none is cut away by the other's opening
    assert [b.between for b in found.beams] == [((None, None),)] * 4
    assert found.missed == ()
    assert support_findings("d", found, 0.6, FLANGE, WIDE)[0].level == "fine"
    # 6.35 mm either way of both: out of the opening with the small landing, into the other's
    back, into = framed(found, [one, two])
    assert back.past == pytest.approx((-0.00635, 0.0, -0.00635, 0.0))
    assert into.past == pytest.approx((0.00635, 0.0, 0.00635, 0.0))


def test_a_shared_member_leaves_less_of_the_opening_and_runner_and_latch_keep_clear() -> None:
    """Clear openings of 300 and 320 by 350 side by side: their edges lie 10 mm apart, so the shared
    members stand 5 mm into the longer one at both ends, and 310 mm are left."""
    deck = {**DECK, "aft": 1.0, "fore": 2.6, "height": 0.3, "spacing": 0.6, "members": "angle-50x50x5"}
    common = {**HATCH, "x": 1.8, "landing": 0.025, "clear_width": 0.35, "runner": 0.012}
    hatches = [{**common, "id": "one", "mark": "H1", "y": 0.225, "clear_length": 0.30},
               {**common, "id": "two", "mark": "H2", "y": -0.225, "clear_length": 0.32}]  # fmt: skip

    def built(which: list[dict]):
        derived = derive(plan(lines=box_lines(), fittings=[deck, *which]))
        told = [f for f in derived.findings if f.code == "HATCH-CLEAR"]
        return {b.fitting: b for b in derived.built}, told

    things, told = built(hatches)
    (finding,) = told
    assert (finding.place, finding.level) == ("two", "look")
    assert finding.values["length"].value == pytest.approx(0.310)
    assert finding.values["width"].value == pytest.approx(0.35)
    (hole,) = things["two"].holes
    assert (hole.x, hole.length, hole.width) == pytest.approx((1.8, 0.310, 0.35))
    # strips end 3 mm off the members
    reach = [p.frame.at(u, v)[0] for p in things["two"].panels[1:] for u, v in p.outline]
    assert (min(reach), max(reach)) == pytest.approx((1.645 + 0.003, 1.955 - 0.003))
    # the latch, opposite of the hinge that is forward, goes as much further from the lid's edge
    offset = {k: next(f.values["offset"].value for f in b.findings if f.code == "LATCH-PLACE")
              for k, b in things.items() if k in ("one", "two")}  # fmt: skip
    assert offset["two"] - offset["one"] == pytest.approx(0.005)
    # alone, each has what was asked
    for one in hatches:
        things, told = built([one])
        assert told == [] and things[one["id"]].holes[0].length == pytest.approx(one["clear_length"])


def test_edges_too_far_apart_for_one_and_too_near_for_two_are_named_with_a_way_out() -> None:
    # 30 mm apart: the shared flange reaches 20 - 15 = 5 mm under each edge; 10 are needed
    one, two = opening("H1", 3.10, 0.05, 3.40, 0.40), opening("H2", 3.13, -0.40, 3.40, -0.05)
    found = frame(2.5, 4.0, 0.6, FLANGE, [one, two])
    assert [(o.code, side, round(off, 4)) for o, side, off in found.missed] == [
        ("H1", "aft", 0.015), ("H2", "aft", -0.015),
    ]  # fmt: skip
    told = support_findings("d", found, 0.6, FLANGE, WIDE)
    assert [f.level for f in told] == ["mend", "mend"]
    assert told[0].title == "The aft edge of H1 is not carried" and told[0].other == "h1"
    # pressing the button of one of them fixes both, since the edges are then 15 mm apart
    moved = opening("H1", 3.115, 0.05, 3.415, 0.40)
    assert [
        f.level
        for f in support_findings("d", frame(2.5, 4.0, 0.6, FLANGE, [moved, two]), 0.6, FLANGE, WIDE)
    ] == ["fine"]


def test_tracks_of_neighbours_that_would_lie_on_one_another_become_one() -> None:
    one, two = opening("H1", 3.1, 0.01, 3.4, 0.40), opening("H2", 3.1, -0.40, 3.4, -0.01)
    found = frame(2.5, 4.0, 0.35, FLANGE, [one, two])
    assert sorted(round(t.y, 4) for t in found.tracks) == [-0.4, 0.0, 0.4]
    assert found.missed == ()


def test_a_member_under_an_opening_ends_at_its_tracks() -> None:
    found = frame(0.0, 2.0, 0.35, FLANGE, [opening("H1", 0.5, -0.2, 1.3, 0.3)])
    # 0.8 m of hatch at 0.35: two members inside of it
    assert stations(found) == [0.0, 0.25, 0.5, 0.7667, 1.0333, 1.3, 1.65, 2.0]
    assert found.beams[3].between == ((None, -0.2), (0.3, None))
    assert found.beams[2].between == found.beams[5].between == ((None, None),)


hatches = st.builds(
    lambda x, y, length, width: (x, y, x + length, y + width),
    st.floats(0.1, 2.2), st.floats(-0.8, 0.3), st.floats(0.15, 0.6), st.floats(0.15, 0.5),
)  # fmt: skip


@pytest.mark.slow
@given(st.lists(hatches, max_size=4), st.floats(0.12, 1.0))
def test_no_bay_is_wider_than_asked_and_what_is_not_carried_is_said(frames, spacing) -> None:
    openings = [opening(f"H{k}", *f) for k, f in enumerate(frames)]
    found = frame(0.02, 2.98, spacing, FLANGE, openings)
    xs = found.stations
    assert all(b > a for a, b in pairwise(xs))
    assert max(b - a for a, b in pairwise(xs)) <= spacing + 1e-9
    assert found.widest.width == pytest.approx(max(b - a for a, b in pairwise(xs)))
    # second method: the flanges as areas; an edge is carried when they cover the strip behind it
    flanges = [box(b.x - FLANGE / 2, -2 if lo is None else lo, b.x + FLANGE / 2, 2 if hi is None else hi)
               for b in found.beams for lo, hi in b.between]  # fmt: skip
    under = unary_union(
        [*flanges, *(box(t.aft, t.y - FLANGE / 2, t.fore, t.y + FLANGE / 2) for t in found.tracks)]
    )
    missed = {(o.guest, side) for o, side, _ in found.missed}
    for o in openings:
        x0, y0, x1, y1 = o.frame
        apart = all(p is o or not p.cutout.buffer(0.05).intersects(o.cutout) for p in openings)
        if not apart or not (x0 >= 0.02 - FLANGE / 2 and x1 <= 2.98 + FLANGE / 2):
            continue  # hatches in one another have findings of their own
        for side, line in (
            ("aft", LineString([(x0, y0 + 0.03), (x0, y1 - 0.03)])),
            ("fore", LineString([(x1, y0 + 0.03), (x1, y1 - 0.03)])),
            ("port", LineString([(x0 + 0.05, y1), (x1 - 0.05, y1)])),
            ("starboard", LineString([(x0 + 0.05, y0), (x1 - 0.05, y0)])),
        ):
            carried = under.buffer(1e-6).covers(line.buffer(LEDGE_M / 2, cap_style="flat"))
            assert carried or (o.guest, side) in missed, (side, o.frame)


@pytest.mark.parametrize(("y", "over"), [(0.636, 0.0), (0.642, 0.0045)])
def test_a_track_beside_the_side_angle_needs_room_for_both_flanges(y: float, over: float) -> None:
    """A box of 2 m with sides of 2.5 mm: the side angle's flange of 40 mm ends at 957.5 mm. The
    track's flange ends 40 mm outside of a clear opening of 0.56 m: at y + 0.28 + 0.04."""
    deck = {**DECK, "aft": 1.0, "fore": 2.4, "height": 0.3}
    hatch = {**HATCH, "x": 1.7, "y": y, "clear_length": 0.4, "clear_width": 0.56}
    told = [f for f in derive(plan(lines=box_lines(), fittings=[deck, hatch])).findings
            if f.code == "DECK-SUPPORT"]  # fmt: skip
    if not over:
        assert [f.level for f in told] == ["fine"]
        return
    (finding,) = told
    assert finding.level == "mend" and "port track" in finding.title
    assert finding.values["over"].value == pytest.approx(over, abs=1e-6)
    (mend,) = finding.fixes
    assert mend.thing == "hatch" and mend.by == (0.0, pytest.approx(-over - 0.001, abs=1e-4), 0.0)


@pytest.mark.parametrize(("off", "carried"), [(0.0099, True), (0.0101, False)])
@pytest.mark.parametrize("end", ["aft", "fore"])
def test_an_edge_member_carries_an_opening_as_far_as_its_flange_reaches(end, off, carried) -> None:
    """A flange of 40 mm reaches 20 past its middle, and 10 of it must lie under the edge."""
    x0, x1 = (2.5 - off, 3.2) if end == "aft" else (3.2, 4.0 + off)
    found = frame(2.5, 4.0, 0.6, FLANGE, [opening("H1", x0, -0.2, x1, 0.2)])
    expected = [] if carried else [("H1", end, off if end == "aft" else -off)]
    assert [(o.code, side, pytest.approx(by)) for o, side, by in found.missed] == expected
    # where to: the hatch goes to its member
    told = support_findings("d", found, 0.6, FLANGE, WIDE)
    assert [f.level for f in told] == (["fine"] if carried else ["mend"])


def test_what_lies_under_a_deck_is_on_both_sides_alike() -> None:
    built = derive(skiff_plan(fittings=[DECK]), quick=True).built[0]
    solid = next(s for s in built.solids if s.role == "floor")
    boxes = np.array([p.bounds for p in solid.pieces])
    other = boxes[:, [0, 4, 2, 3, 1, 5]] * [1, -1, 1, 1, -1, 1]
    assert len(boxes) > 20 and boxes[:, 4].max() > 0.3
    # for each body, also of those across, there is its mirror image
    apart = np.abs(boxes[:, None] - other[None]).max(axis=2).min(axis=1)
    assert (apart < 1e-6).all()
