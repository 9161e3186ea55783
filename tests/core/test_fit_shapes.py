"""Shapes in one another's way: closed forms for boxes, hulls of differences for the rest."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial import ConvexHull
from shapely import affinity
from shapely.geometry import box

from stirrup.core.space.many import Eights, Pieces
from stirrup.core.space.rounded import rounded
from stirrup.core.space.shapes import TOUCH_M, WAYS, Prism, Swept, exits, least, meet, meeting
from stirrup.core.space.solid import Solid

A = Prism(box(0.0, 0.0, 1.0, 0.5), 0.0, 0.4)


def test_boxes_by_hand() -> None:
    b = Prism(box(0.9, 0.1, 1.5, 0.4), 0.1, 0.6)
    found = exits(A, b)
    assert found is not None
    # a reaches 0.1 past b's aft face, b's port face is 0.4 from a's starboard one, and so on
    assert found == pytest.approx({
        "forward": 1.5, "aft": 0.1, "to port": 0.4, "to starboard": 0.4, "up": 0.6, "down": 0.3,
    })  # fmt: skip
    assert least(found) == ("aft", pytest.approx(0.1))


def test_touching_is_no_clash() -> None:
    assert exits(A, Prism(box(1.0, 0.0, 2.0, 0.5), 0.0, 0.4)) is None
    assert exits(A, Prism(box(0.2, 0.1, 0.5, 0.4), 0.4, 0.9)) is None
    assert exits(A, Prism(box(0.9995, 0.0, 2.0, 0.5), 0.0, 0.4)) is None


def test_a_turned_box_clears_by_its_corner() -> None:
    # a square of 0.2 turned by 45 degrees about (1.1, 0.25): its corner is at 1.1 - 0.1 sqrt 2
    square = affinity.rotate(box(1.0, 0.15, 1.2, 0.35), 45)
    found = exits(A, Prism(square, 0.0, 0.4))
    assert found is not None
    assert least(found) == ("aft", pytest.approx(0.1 * math.sqrt(2) - 0.1))


def test_corner_boxes_of_turned_things_overlap_but_they_do_not() -> None:
    square = affinity.rotate(box(1.02, 0.52, 1.22, 0.72), 45)
    assert exits(A, Prism(square, 0.0, 0.4)) is None


def test_a_quarter_disc_against_a_box() -> None:
    # hinge along y at (0, z 0), radius 1: at height 0.6 the arc is at x = 0.8
    arc = [(math.cos(math.radians(a)), math.sin(math.radians(a))) for a in range(0, 91, 1)]
    lid = Swept(tuple((x, y, z) for y in (-0.5, 0.5) for x, z in [(0.0, 0.0), *arc]))
    crate = Prism(box(0.7, -0.2, 1.5, 0.2), 0.6, 1.0)
    found = exits(crate, lid)
    assert found is not None
    assert found["forward"] == pytest.approx(0.1, abs=1e-3)  # from 0.7 to 0.8
    assert found["up"] == pytest.approx(math.sqrt(1 - 0.49) - 0.6, abs=1e-3)
    assert exits(Prism(box(0.81, -0.2, 1.5, 0.2), 0.6, 1.0), lid) is None


@given(st.floats(-1.2, 1.2), st.floats(-0.8, 0.8), st.floats(-0.6, 0.6), st.floats(0, 90))
def test_going_the_way_out_is_enough_and_no_less_is(x: float, y: float, z: float, turn: float) -> None:
    b = Prism(affinity.rotate(box(x, y, x + 0.6, y + 0.3), turn), z, z + 0.3)
    found = exits(A, b)
    if found is None:
        return
    way, amount = least(found)
    axis, sign = {"forward": (0, 1), "aft": (0, -1), "to port": (1, 1), "to starboard": (1, -1),
                  "up": (2, 1), "down": (2, -1)}[way]  # fmt: skip

    def gone(distance: float) -> Prism:
        by = [0.0, 0.0, 0.0]
        by[axis] = sign * distance
        return Prism(affinity.translate(A.footprint, by[0], by[1]), A.low + by[2], A.high + by[2])

    assert exits(gone(amount + 1e-6), b) is None
    if amount > 0.01:
        assert exits(gone(amount - 0.005), b) is not None


@given(st.floats(0.1, 0.9), st.floats(1, 89))
def test_what_one_must_go_the_other_must_go_back(x: float, turn: float) -> None:
    b = Prism(affinity.rotate(box(x, 0.1, x + 0.6, 0.4), turn), 0.1, 0.6)
    one, other = exits(A, b), exits(b, A)
    if one is None or other is None:
        assert one is other  # they only touch, from both sides
        return
    for way, back in (("forward", "aft"), ("to port", "to starboard"), ("up", "down")):
        assert one[way] == pytest.approx(other[back], abs=1e-9)


def by_differences(a, b) -> dict[str, float] | None:
    """The same by the hull of all differences of corners: slow, and by another way."""
    differences = (a[:, None, :] - b[None, :, :]).reshape(-1, 3)
    facets = ConvexHull(differences).equations
    normals, offsets = facets[:, :3], facets[:, 3]
    if (offsets >= -TOUCH_M).any():
        return None
    out = {}
    for way, (axis, sign) in WAYS.items():
        towards = -sign * normals[:, axis]
        behind = towards > 1e-12
        out[way] = float((-offsets[behind] / towards[behind]).min())
    return out


def wedges(x: float, y: float, z: float, turn: float, lean: float) -> Swept:
    """A slanting, tapering body of eight corners."""
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    return Swept(tuple(
        (x + c * u * w - s * v, y + s * u * w + c * v, z + h + lean * u)
        for h, w in ((0.0, 1.0), (0.3, 0.6)) for u in (-0.3, 0.3) for v in (-0.2, 0.2)
    ))  # fmt: skip


SPOTS = (st.floats(-0.5, 0.5), st.floats(-0.4, 0.4), st.floats(-0.3, 0.3))


@given(*SPOTS, st.floats(0, 180), st.floats(-0.4, 0.4), st.floats(0, 90))
def test_exits_are_those_of_the_hull_of_all_differences(
    x: float, y: float, z: float, turn: float, lean: float, other: float
) -> None:
    a = wedges(x, y, z, turn, lean)
    ring = affinity.rotate(box(-0.3, -0.2, 0.3, 0.2), other)
    for b in (wedges(0.0, 0.0, 0.0, other, 0.1), Prism(ring, 0.0, 0.35)):
        expected = by_differences(a.points, b.body.points)
        found = exits(a, b)
        if expected is None or found is None:
            # within a hair of touching either may say so
            assert expected is found or min((expected or found).values()) < TOUCH_M + 1e-6
            continue
        assert found == pytest.approx(expected, rel=1e-6, abs=1e-9)
        assert meet(a, b) and meet(b, a)


CORNERS = st.lists(st.tuples(*[st.floats(-1, 1)] * 3), min_size=4, max_size=9, unique=True)


@given(CORNERS, CORNERS, st.tuples(*[st.floats(-0.8, 0.8)] * 3))
def test_any_two_bodies_meet_where_the_hull_of_their_differences_holds_nothing(p, q, by) -> None:  # type: ignore[no-untyped-def]
    a, b = np.array(p), np.array(q) + by
    if min(np.linalg.svd(x - x.mean(axis=0))[1][2] for x in (a, b)) < 1e-3:
        return  # so thin that the other way is at its end
    expected = by_differences(a, b)
    found = exits(Swept(tuple(map(tuple, a.tolist()))), Swept(tuple(map(tuple, b.tolist()))))
    if expected is None or found is None:
        assert expected is found or min((expected or found).values()) < TOUCH_M + 1e-5
        return
    assert found == pytest.approx(expected, rel=1e-5, abs=1e-7)


def test_many_bodies_are_each_the_body_that_it_was() -> None:
    one = np.array([[x, y, z] for x in (0.0, 1.0) for y in (0.2, 0.5) for z in (0.0, 0.4)])
    wedge = (
        (0.0, 0.0, 0.0),
        (1.0, 0.0, 0.0),
        (0.0, 1.0, 0.0),
        (0.0, 0.0, 1.0),
        (1.0, 0.0, 1.0),
        (0.0, 1.0, 1.0),
    )
    many = Eights(np.array([one, one + np.array([2.0, 0.0, 0.0])]), [wedge])
    assert len(many) == 3 and many[2] == many[-1] == wedge and many[0] == tuple(map(tuple, one.tolist()))
    assert many[1:] == (many[1], wedge)
    # by hand: the second lies 2 m further forward; on the other side y changes its sign and its ends
    assert many.boxes.tolist() == [[0, 0.2, 0, 1, 0.5, 0.4], [2, 0.2, 0, 3, 0.5, 0.4], [0, 0, 0, 1, 1, 1]]
    assert many.mirrored().boxes.tolist() == [
        [0, -0.5, 0, 1, -0.2, 0.4], [2, -0.5, 0, 3, -0.2, 0.4], [0, -1, 0, 1, 0, 1],
    ]  # fmt: skip
    pieces = Pieces([A], lambda: [many, [wedge]])
    # shapes and single bodies first, then what is held together
    boxes = np.concatenate([boxes for boxes, _ in pieces.batches()])
    assert [p.bounds for p in pieces] == [tuple(b) for b in boxes.tolist()]
    assert len(pieces) == 5 and pieces[0] is A and pieces[1] == Swept(wedge) == pieces[-1]
    assert pieces[2] is pieces[2] and pieces[2:4] == (pieces[2], pieces[3])
    assert Pieces([A], lambda: [many])[-1] == Swept(wedge) and Pieces([A], lambda: [many])[-3].bounds == (
        0,
        0.2,
        0,
        1,
        0.5,
        0.4,
    )


def test_bodies_are_asked_for_where_the_shapes_do_not_tell() -> None:
    """A skin from 0.39 to 0.4 m over a member of 40 mm: what stands under both meets the member alone."""
    asked: list[int] = []
    member = tuple((x, y, z) for x in (0.4, 0.44) for y in (0.0, 1.0) for z in (0.35, 0.39))

    def bodies() -> list[list[tuple[tuple[float, float, float], ...]]]:
        asked.append(1)
        return [[member]]

    room = Prism(box(0.0, 0.0, 1.0, 1.0), 0.35, 0.4)
    deck = Solid("d", "floor", "deck", room, pieces=Pieces([Prism(room.footprint, 0.39, 0.4)], bodies))
    through = Solid("t", "body", "tall", Prism(box(0.1, 0.1, 0.2, 0.2), 0.0, 0.5))
    assert bool(deck.pieces) and deck.meets(through.shape) and deck.reaches_into(through)
    assert through.reaches_into(deck) and asked == []
    beside, under = (Prism(box(x, 0.1, x + 0.1, 0.2), 0.0, 0.38) for x in (0.1, 0.39))
    assert not deck.meets(beside) and deck.meets(under) and asked == [1]
    assert Solid("u", "body", "under", under).reaches_into(deck)
    # both are in the tall one, one of them in what stands under it
    assert deck.pieces_in([through.shape]) == 1 and deck.pieces_in([under]) == 1
    assert deck.pieces_in([Prism(box(0.0, 0.0, 1.0, 1.0), 0.0, 0.5)]) == len(deck.pieces) == 2
    assert not Pieces([], list) and not Pieces([], lambda: [[]])


def test_two_made_of_pieces_reach_into_one_another_where_pieces_do() -> None:
    def made(x: float, *pieces: Prism) -> Solid:
        return Solid("a", "floor", "a", Prism(box(x, 0.0, x + 1.0, 1.0), 0.0, 1.0), pieces=pieces)

    skin, rib = Prism(box(0.0, 0.0, 1.0, 1.0), 0.9, 1.0), Prism(box(0.4, 0.0, 0.5, 1.0), 0.0, 0.9)
    deck = made(0.0, skin, rib)
    beside = made(0.5, Prism(box(0.5, 0.0, 1.5, 1.0), 0.2, 0.3))  # its end touches the rib
    assert not deck.reaches_into(beside) and not beside.reaches_into(deck)
    further = made(0.5, Prism(box(0.45, 0.0, 1.5, 1.0), 0.2, 0.3))
    assert deck.reaches_into(further) and further.reaches_into(deck)
    whole = made(0.6)  # of one piece: what it fills
    assert deck.reaches_into(whole) and whole.reaches_into(deck)
    under = Solid("b", "wall", "b", Prism(box(0.6, 0.0, 1.0, 1.0), 0.0, 0.9))
    assert not deck.reaches_into(under) and not under.reaches_into(deck)


def test_boxes_meet_where_they_share_more_than_a_touch_along_each_axis() -> None:
    one = [(0.0, 0.0, 0.0, 1.0, 1.0, 1.0), (5.0, 0.0, 0.0, 6.0, 1.0, 1.0)]
    touching, beside = (1.0, 0.0, 0.0, 2.0, 1.0, 1.0), (0.5, 0.5, 1.2, 0.7, 0.7, 1.4)
    across = (0.9, -1.0, 0.4, 5.1, 2.0, 0.6)
    other = np.array([touching, beside, across])
    assert meeting(np.array(one), other) == [[0, 2], [1, 2]]
    assert meeting(other, np.array(one)) == [[2, 0], [2, 1]]


def test_each_piece_that_something_goes_through_counts_once() -> None:
    # three ribs 0.1 wide at 0, 1 and 2 m; a rod along through the first two, another beside it, one clear
    ribs = tuple(Prism(box(x, 0.0, x + 0.1, 1.0), 0.0, 0.3) for x in (0.0, 1.0, 2.0))
    frame = Solid("a", "floor", "a", Prism(box(0.0, 0.0, 2.1, 1.0), 0.0, 0.3), pieces=ribs)
    rods = [Prism(box(-0.5, y, 1.5, y + 0.02), 0.1, 0.12) for y in (0.3, 0.6)]
    high = Prism(box(-0.5, 0.3, 3.0, 0.32), 0.3, 0.32)  # lies on all of them
    assert frame.pieces_in(rods) == 2 and frame.pieces_in(rods[:1]) == 2
    assert frame.pieces_in([high]) == 0 and frame.pieces_in([high, rods[0]]) == 2
    # one that rises 0.6 in each metre is over the second rib, though the boxes around them meet
    ends = [(x, y, 0.6 * x + z) for x in (-0.5, 3.0) for y in (0.5, 0.52) for z in (0.0, 0.02)]
    assert frame.pieces_in([Swept(tuple(ends))]) == 1
    body = Solid("b", "body", "b", Prism(box(1.2, 0.0, 1.4, 1.0), 0.0, 0.3))
    assert body.pieces_in(rods) == 1 and body.pieces_in([high]) == 0


def test_a_flat_body_is_in_the_way_too() -> None:
    # a sheet aslant in the box A of 1 by 0.5 by 0.4: from x 0.8 below to 1.2 above, 0.2 to 0.3 up
    flat = Swept(((0.8, 0.1, 0.2), (0.8, 0.3, 0.2), (1.2, 0.3, 0.3), (1.2, 0.1, 0.3)))
    found = exits(A, flat)
    assert found is not None and meet(A, flat) and meet(flat, A)
    # A goes aft by 0.2 until its end is at 0.8; to starboard by 0.5 - 0.1; up by 0.2 + what its end meets
    assert found["aft"] == pytest.approx(0.2) and found["to starboard"] == pytest.approx(0.4)
    assert found == pytest.approx(by_differences(A.body.points, flat.points))
    # beyond its end there is nothing
    assert exits(Prism(box(0.0, 0.0, 0.79, 0.5), 0.0, 0.4), flat) is None


def test_a_rod_and_a_point_are_met_by_what_they_are_in() -> None:
    rod = Swept(((0.5, 0.2, 0.2), (1.5, 0.2, 0.2)))
    assert meet(rod, wedges(1.0, 0.2, 0.1, 0.0, 0.0)) and not meet(rod, wedges(1.0, 0.6, 0.1, 0.0, 0.0))


def test_a_rounded_rectangle_by_hand() -> None:
    found = rounded(1.0, -0.5, 0.6, 0.4, 0.05)
    assert found.bounds == pytest.approx((0.7, -0.7, 1.3, -0.3))
    # four corners of r² make place for a polygon of 32 sides in the circle: 16 r² sin(2π / 32)
    corners = 0.05**2 * (4 - 16 * math.sin(2 * math.pi / 32))
    assert found.area == pytest.approx(0.6 * 0.4 - corners, rel=1e-6)
    # one that is too large leaves a tenth of a millimetre of each short side to both sides of its middle
    assert rounded(0.0, 0.0, 0.6, 0.4, 9.0).bounds == pytest.approx((-0.3, -0.2, 0.3, 0.2))
    sharp = rounded(0.0, 0.0, 0.6, 0.4, 0.0)
    assert sharp.area == pytest.approx(0.24) and len(sharp.exterior.coords) == 5
