"""Gear through openings and into spaces: published rule, closed forms, a box hull."""

import math

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from stirrup.core.derive import Derived
from stirrup.core.fit.gear import goes_into_box, spaces, stow, through_opening
from stirrup.core.plan.model import Gear
from tests.boats import derive, plan


@pytest.mark.parametrize(
    ("p", "q", "a", "b", "goes"),
    [
        (0.3, 0.2, 0.3, 0.2, True),
        (0.2, 0.3, 0.3, 0.2, True),
        (0.3, 0.21, 0.3, 0.2, False),
        # a strip 1.2 by 0 on the diagonal of a unit square (1.414)
        (1.2, 1e-6, 1.0, 1.0, True),
        (1.42, 1e-6, 1.0, 1.0, False),
        # on the diagonal of a unit square, q = sqrt 2 - p is left: 1.2 leaves 0.2142
        (1.2, 0.2142, 1.0, 1.0, True),
        (1.2, 0.2143, 1.0, 1.0, False),
    ],
)
def test_a_rectangle_in_a_rectangle(p: float, q: float, a: float, b: float, goes: bool) -> None:
    assert through_opening(p, q, a, b) is goes


@given(st.floats(0.05, 1), st.floats(0.05, 1), st.floats(0.05, 1), st.floats(0.05, 1))
def test_a_larger_opening_lets_no_less_through(p: float, q: float, a: float, b: float) -> None:
    assume(through_opening(p, q, a, b))
    assert through_opening(p, q, a + 0.01, b)
    assert through_opening(p, q, a, b + 0.01)


def test_into_a_box_its_walls_count() -> None:
    # 0.5 x 0.4 x 0.3 outside is 0.488 x 0.388 x 0.288 inside
    def gear(*size: float) -> Gear:
        return Gear(id="g", name="g", length=size[0], width=size[1], height=size[2])

    assert goes_into_box(gear(0.288, 0.488, 0.388), (0.5, 0.4, 0.3))
    assert not goes_into_box(gear(0.288, 0.489, 0.388), (0.5, 0.4, 0.3))
    # turned in plan: the diagonal is 0.623
    assert goes_into_box(gear(0.60, 0.01, 0.1), (0.5, 0.4, 0.3))


def decked(face: bool = True, along: float = 0.5, **more: object) -> Derived:
    """Box hull 4 x 2 x 1, a deck from 2 to its end at 0.5 high, a hatch in its middle."""
    deck = {"kind": "raised_deck", "id": "deck", "name": "Deck", "aft": 2.0, "height": 0.5, "face": face}
    hatch = {"kind": "hatch", "id": "hatch", "name": "Hatch", "deck": "deck", "x": 3.0, "y": 0.0,
             "clear_length": along, "clear_width": 0.4}  # fmt: skip
    return derive(plan(fittings=[deck, hatch], **more))


def with_a_door(wide: float = 0.4, high: float = 0.2) -> Derived:
    """The same deck, shut by its face, with a door low in that."""
    deck = {"kind": "raised_deck", "id": "deck", "name": "Deck", "aft": 2.0, "height": 0.5, "face": True}
    door = {"kind": "face_door", "id": "door", "name": "Door", "deck": "deck", "y": 0.3, "z": 0.2,
            "clear_width": wide, "clear_height": high}  # fmt: skip
    return derive(plan(fittings=[deck, door]))


@pytest.mark.parametrize(
    ("size", "goes"),
    [
        ((1.9, 0.03, 0.03), True),  # a rod, straight in from before the face: 1.99 m are under the deck
        ((2.2, 0.03, 0.03), False),
        ((0.6, 0.36, 0.12), True),  # a box lower and narrower than the door
        ((0.6, 0.5, 0.12), False),  # wider than it
        ((0.6, 0.36, 0.3), False),  # and higher
    ],
)
def test_gear_through_a_door_in_a_face(size: tuple[float, float, float], goes: bool) -> None:
    found = stowed(with_a_door(), *size)
    assert found.fits is goes
    if goes:
        assert found.through == "a door in its face"


def test_a_face_without_a_door_lets_nothing_in() -> None:
    shut = {"kind": "raised_deck", "id": "deck", "name": "Deck", "aft": 2.0, "height": 0.5, "face": True,
            "fore": 3.9, "face_fore": True}  # fmt: skip
    assert not stowed(derive(plan(fittings=[shut])), 0.3, 0.03, 0.03).fits


def stowed(boat: Derived, *size: float):
    gear = Gear(id="g", name="g", length=size[0], width=size[1], height=size[2])
    return stow(boat.things, gear, boat.surface)


# along, from the hatch's aft edge at 2.75 to the end at 3.9975 and down 0.4545: a rod is straight
# under the deck for the first time when its tail passes that edge, sqrt(1.2475² + 0.4545²) = 1.328
@pytest.mark.parametrize(
    ("length", "goes"), [(0.4, True), (1.25, True), (1.30, True), (1.38, False), (1.9, False)]
)
def test_rods_through_a_hatch_into_a_shallow_space(length: float, goes: bool) -> None:
    found = stowed(decked(), length, 0.03, 0.03)
    assert found.fits is goes
    if goes:
        assert (found.space, found.through) == ("Deck", "Hatch")
        assert found.high - found.low == pytest.approx(length, abs=0.06)


def test_thicker_than_the_hatch_or_higher_than_the_space_does_not_go() -> None:
    assert stowed(decked(), 0.35, 0.35, 0.3).fits
    assert not stowed(decked(), 0.55, 0.45, 0.45).fits  # wider than 0.4 both ways
    # the space is 0.5 - 0.0425 - 0.003 = 0.4545 high; a cube of 0.39 goes in, one of 0.48 could not stand
    assert stowed(decked(), 0.39, 0.39, 0.39).fits
    assert not stowed(decked(along=0.6), 0.55, 0.48, 0.39).fits
    assert "No hatch" in stowed(decked(along=0.2), 0.5, 0.45, 0.45).hint


def test_an_open_end_lets_long_things_in_that_no_hatch_does() -> None:
    found = stowed(decked(face=False, along=0.1), 1.8, 0.2, 0.2)
    assert found.through == "its open end"
    assert not stowed(decked(face=True, along=0.1), 1.8, 0.2, 0.2).fits


def test_what_stands_under_the_hatch_is_in_the_way() -> None:
    # it reaches up to 0.41 over the whole breadth under the hatch: 45 mm are left
    crate = {
        "id": "c",
        "name": "c",
        "size": [0.6, 1.9, 0.4],
        "mass": {"value": 5, "centre": [3.0, 0, 0.21]},
    }
    assert stowed(decked(), 0.3, 0.2, 0.2).fits
    assert not stowed(decked(items=[crate]), 0.3, 0.2, 0.2).fits


def test_litres_under_a_deck_and_in_a_box() -> None:
    box = {"id": "b", "name": "box", "form": "locker", "size": [0.5, 0.4, 0.3],
           "mass": {"value": 5, "centre": [1.0, 0, 0.2]}}  # fmt: skip
    boat = decked(items=[box])
    under, inside = spaces(boat.things, boat.surface)
    # to 5 mm before the inside at 3.9975, 1.995 between the sides (2.5 mm each), 0.4545 high
    assert under.litres == pytest.approx(1992.5 * 1.995 * 0.4545, rel=1e-3)
    assert under.longest_m == pytest.approx(2.0, abs=0.01)
    assert inside.litres == pytest.approx(488 * 388 * 288 / 1e6)
    assert math.isclose(inside.longest_m, 0.488)


def area(ring: tuple[tuple[float, float], ...]) -> float:
    return 0.5 * abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(ring, ring[1:] + ring[:1], strict=True)))


def test_where_it_lies_is_drawn_as_large_as_it_is_and_under_the_deck() -> None:
    # a rod of 1.25 by 0.03 by 0.04: seen in the plane that it went in by it keeps its area
    found = stowed(decked(), 1.25, 0.04, 0.03)
    x, z = zip(*found.from_side, strict=True)
    assert area(found.from_side) in (pytest.approx(1.25 * 0.04), pytest.approx(1.25 * 0.03))
    assert (min(x), max(x)) == pytest.approx((found.low, found.high))
    assert min(x) >= 2.0 - 0.03 and max(x) <= 4.0
    assert min(z) >= 0.003 - 0.03 and max(z) <= 0.4575 + 0.03  # good to a cell
    y = [p[1] for p in found.from_above]
    assert max(y) - min(y) in (pytest.approx(0.03), pytest.approx(0.04))
    assert sum(y) == pytest.approx(0.0)


def locker(turn: float, *size: float) -> Derived:
    item = {"id": "box", "name": "box", "form": "locker", "size": list(size), "turn": turn,
            "stage": "added", "mass": {"value": 5.0, "centre": [2.0, 0.3, 0.2]}}  # fmt: skip
    return derive(plan(items=[item]))


def test_in_a_box_it_lies_on_its_floor_square_to_its_walls_or_from_corner_to_corner() -> None:
    flat = stowed(locker(0.0, 0.5, 0.4, 0.3), 0.4, 0.3, 0.1)
    assert flat.from_above == (
        pytest.approx((1.8, 0.15)), pytest.approx((2.2, 0.15)), pytest.approx((2.2, 0.45)),
        pytest.approx((1.8, 0.45)),
    )  # fmt: skip
    # floor of the box at 0.2 - 0.15, its wall 6 mm
    assert min(p[1] for p in flat.from_side) == pytest.approx(0.056)
    assert max(p[1] for p in flat.from_side) == pytest.approx(0.156)
    turned = stowed(locker(90.0, 0.5, 0.4, 0.3), 0.4, 0.3, 0.1)
    assert turned.from_above[0] == pytest.approx((2.15, 0.1))  # (-0.2, -0.15) turned to port
    long = stowed(locker(0.0, 0.5, 0.4, 0.3), 0.60, 0.01, 0.1)
    (x0, y0), (x1, y1) = long.from_above[0], long.from_above[1]
    assert math.degrees(math.atan2(y1 - y0, x1 - x0)) == pytest.approx(math.degrees(math.atan2(0.4, 0.5)))
