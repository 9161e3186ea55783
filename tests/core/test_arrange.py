"""Where things stand, moving them, snaps, bonds, lining up: on a box hull, by hand."""

from functools import partial
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.arrange.bonds import bond_words, new_bond, with_bonds
from stirrup.core.arrange.line_up import lined_up, spread
from stirrup.core.arrange.move import moved
from stirrup.core.arrange.snap import snapped, snapped_edge
from stirrup.core.bodies.item import footprint
from stirrup.core.derive import derive_vessel
from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.changes import SetValue, apply, invert
from stirrup.core.plan.model import Plan
from stirrup.core.plan.where import extent_of
from tests.boats import DECK, HATCH, box_lines, plan, skiff_plan


def crate(id_: str, x: float, y: float = 0.0, **more: Any) -> dict[str, Any]:
    """A box 0.6 long, 0.4 wide, 0.3 high about (x, y, 0.2)."""
    mass = {"value": 10.0, "centre": [x, y, 0.2]}
    return {"id": id_, "name": id_.title(), "size": [0.6, 0.4, 0.3], "mass": mass, **more}


# a box hull with four stations: 0, 1, 3, 4
LINES = [{**line, "points": [[x, *line["points"][0][1:]] for x in (0, 1, 3, 4)]} for line in box_lines()]
BOXES = plan(lines=LINES, items=[crate("one", 1.6), crate("two", 2.6, 0.5), crate("three", 3.4, -0.3)])


def hull_of(of: Plan) -> HullSurface:
    return derive_vessel(of).surface


def test_the_extent_of_a_turned_box() -> None:
    turned = plan(items=[crate("one", 2.0, turn=90.0)])
    e = extent_of(turned, hull_of(turned), "one")
    # a quarter turn swaps length and width: 2 ± 0.2, 0 ± 0.3; height 0.2 ± 0.15
    assert [round(v, 9) for v in (*e.x, *e.y, *e.z)] == [1.8, 2.2, -0.3, 0.3, 0.05, 0.35]


@given(st.floats(-180, 180))
def test_turning_keeps_the_footprints_area(turn: float) -> None:
    ring = footprint(plan(items=[crate("one", 2.0, turn=turn)]).items[0])
    area = sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(ring, ring[1:] + ring[:1], strict=True)) / 2
    assert area == pytest.approx(0.24, abs=1e-12)  # 0.6 x 0.4, counterclockwise


def test_a_deck_to_the_bow_ends_at_the_hulls_inside() -> None:
    boat = skiff_plan(fittings=[{**DECK, "fore": None}])
    e = extent_of(boat, hull_of(boat), "deck")
    assert e.edge("aft") == 3.0
    assert 4.9 < e.edge("fore") < 5.0
    assert e.edge("top") == 0.4


def test_a_deck_takes_its_hatch_along_and_keeps_its_length() -> None:
    boat = skiff_plan(fittings=[DECK, HATCH])
    after = apply(boat, moved(boat, ["deck"], (-0.25, 0.3, 0.05)))
    deck, hatch = after.fittings
    assert (deck.aft, deck.fore, deck.height) == (2.75, 4.25, 0.45)  # type: ignore[union-attr]
    # the deck has no place across; its hatch does not go without it
    assert hatch.x == 3.35  # type: ignore[union-attr]


def test_a_group_moves_together_and_a_lock_holds_all_of_it() -> None:
    grouped = {"things": [{"id": "one", "group": "g"}, {"id": "two", "group": "g"}]}
    boat = BOXES.model_copy(update={"arrangement": BOXES.arrangement.model_validate(grouped)})
    after = apply(boat, moved(boat, ["one"], (0.1, 0.0, 0.0)))
    assert [i.mass.centre[0] for i in after.items] == [1.7, 2.7, 3.4]
    locked = apply(boat, SetValue(path=("arrangement", "things", "two", "locked"), value=True))
    with pytest.raises(CoreError, match="“Two” is locked"):
        moved(locked, ["one"], (0.1, 0.0, 0.0))


@given(st.floats(-0.5, 0.5), st.floats(-0.5, 0.5), st.floats(-0.1, 0.5))
def test_moving_there_and_back_is_where_it_was(x: float, y: float, z: float) -> None:
    by = (round(x, 4), round(y, 4), round(z, 4))
    if not any(by):
        return
    change = moved(BOXES, ["one"], by)
    after = apply(BOXES, change)
    assert after.items[0].mass.centre == pytest.approx((1.6 + by[0], by[1], 0.2 + by[2]), abs=1e-9)
    assert apply(after, invert(BOXES, change)) == BOXES


def test_structure_is_put_where_it_was_measured_and_locked_there() -> None:
    box = {"size": [0.1, 1.0, 0.2], "floor_centre": [2.0, 0.0, 0.0]}
    ring = [[1.0, 0.9, 0.6], [2.0, 0.9, 0.62], [2.0, 0.85, 0.62], [1.0, 0.85, 0.6]]
    boat = plan(existing=[{"id": "rib", "name": "rib 1", "kind": "rib", "box": box},
                          {"id": "lip", "kind": "lip", "outline": ring}])  # fmt: skip
    after = apply(boat, moved(boat, ["rib", "lip"], (0.1, 0.0, 0.02)))
    assert after.thing("rib").box.floor_centre == pytest.approx((2.1, 0.0, 0.02))
    assert after.thing("lip").outline[1] == pytest.approx((2.1, 0.9, 0.64))
    locked = plan(existing=[{"id": "rib", "name": "rib 1", "kind": "rib", "box": box}],
                  arrangement={"things": [{"id": "rib", "locked": True}]})  # fmt: skip
    with pytest.raises(CoreError, match="“rib 1” is locked"):
        moved(locked, ["rib"], (0.1, 0.0, 0.0))


@pytest.mark.parametrize(
    ("by", "caught", "reason"),
    [
        # aft edge from 1.3 to 1.008: 8 mm from station 2 at 1.0
        ((-0.292, 0.0, 0.0), (-0.3, 0.0, 0.0), "aft edge at station 2"),
        # fore edge from 1.9 to 2.293: 7 mm short of Two's aft edge at 2.3
        ((0.393, 0.0, 0.0), (0.4, 0.0, 0.0), "fore edge at the aft edge of Two"),
        # starboard edge from -0.2 to 0.304 lies near Two's at 0.3
        ((0.0, 0.504, 0.0), (0.0, 0.5, 0.0), "starboard edge at the starboard edge of Two"),
        # middle from 0 to 0.297: opposite Three's edge is 0.5 or 0.1, its middle is not a mark
        ((0.0, 0.004, 0.0), (0.0, 0.0, 0.0), "middle on the centreline"),
    ],
)  # fmt: skip
def test_snaps_and_their_reasons(by: Any, caught: Any, reason: str) -> None:
    got, snaps = snapped(BOXES, hull_of(BOXES), ["one"], by, near=0.012)
    assert got == pytest.approx(caught, abs=1e-9)
    assert [s.reason for s in snaps] == [reason]


def test_nothing_near_nothing_caught_and_the_grid_last() -> None:
    by = (0.163, 0.0, 0.0)  # aft edge at 1.463
    got, snaps = snapped(BOXES, hull_of(BOXES), ["one"], by, near=0.012)
    assert (got, snaps) == (by, ())
    got, snaps = snapped(BOXES, hull_of(BOXES), ["one"], (0.170, 0.0, 0.0), near=0.012, grid=0.025)
    assert got[0] == pytest.approx(0.175)  # 1.475 = 59 x 25 mm
    assert "grid" in snaps[0].reason


def test_equal_room_on_both_sides() -> None:
    boat = plan(lines=LINES, items=[crate("one", 0.5), crate("two", 2.02), crate("three", 3.5)])
    # between 0.8 and 3.2 the middle is 2.0: 20 mm away
    got, snaps = snapped(boat, hull_of(boat), ["two"], (-0.012, 0.0, 0.0), near=0.012)
    assert got[0] == pytest.approx(-0.02)
    assert snaps[0].reason == "middle as far from One as from Three"


def test_an_edge_of_a_deck_stops_at_a_station() -> None:
    boat = skiff_plan(fittings=[DECK])
    value, snaps = snapped_edge(boat, hull_of(boat), "deck", 0, 2.006, 0.01, "aft")
    assert value == pytest.approx(2.0)
    assert snaps[0].reason == "aft edge at station 3"
    assert snapped_edge(boat, hull_of(boat), "deck", 0, 2.5, 0.01, "aft") == (2.5, ())


def test_a_bound_thing_follows_and_a_chain_follows_too() -> None:
    boat = apply(BOXES, new_bond(BOXES, hull_of(BOXES), "two", "aft", "one", "fore"))
    boat = apply(boat, new_bond(boat, hull_of(boat), "three", "aft", "two", "fore"))
    bonds = boat.arrangement.bonds
    # two starts at 2.3, one ends at 1.9; three starts at 3.1, two ends at 2.9
    assert [b.distance for b in bonds] == [0.4, 0.2]
    assert bond_words(boat, bonds[0], "400 mm") == "aft edge 400 mm ahead of the fore edge of One"
    change = with_bonds(boat, partial(hull_of, boat), moved(boat, ["one"], (-0.5, 0.2, 0.0)))
    after = apply(boat, change)
    assert [i.mass.centre[:2] for i in after.items] == [
        pytest.approx((1.1, 0.2)), pytest.approx((2.1, 0.5)), pytest.approx((2.9, -0.3)),
    ]  # fmt: skip
    assert apply(after, invert(boat, change)) == boat


def test_moving_the_bound_thing_itself_gives_a_new_distance() -> None:
    boat = apply(BOXES, new_bond(BOXES, hull_of(BOXES), "two", "aft", "one", "fore"))
    after = apply(boat, with_bonds(boat, partial(hull_of, boat), moved(boat, ["two"], (0.05, 0.0, 0.0))))
    assert after.arrangement.bonds[0].distance == pytest.approx(0.45)
    assert after.items[0].mass.centre == boat.items[0].mass.centre


def test_a_decks_bound_edge_sizes_it() -> None:
    boat = skiff_plan(fittings=[DECK, HATCH], items=[crate("one", 2.5)])
    boat = apply(boat, new_bond(boat, hull_of(boat), "deck", "aft", "one", "fore"))
    after = apply(boat, with_bonds(boat, partial(hull_of, boat), moved(boat, ["one"], (0.1, 0.0, 0.0))))
    deck, hatch = after.fittings
    assert (deck.aft, deck.fore) == (3.1, 4.5)  # type: ignore[union-attr]
    assert hatch.x == 3.6  # type: ignore[union-attr]


def test_what_cannot_be_bound_is_said() -> None:
    boat = apply(BOXES, new_bond(BOXES, hull_of(BOXES), "two", "aft", "one", "fore"))
    with pytest.raises(CoreError, match="in a ring"):
        apply(boat, new_bond(boat, hull_of(boat), "one", "aft", "two", "fore"))
    with pytest.raises(CoreError, match="cannot be measured from the centreline"):
        apply(boat, new_bond(boat, hull_of(boat), "three", "aft", "centreline", None))
    # across is another matter: no ring
    assert apply(boat, new_bond(boat, hull_of(boat), "one", "port", "two", "port"))


def test_a_second_bond_of_an_edge_takes_the_place_of_the_first() -> None:
    boat = apply(BOXES, new_bond(BOXES, hull_of(BOXES), "two", "aft", "one", "fore"))
    boat = apply(boat, new_bond(boat, hull_of(boat), "two", "aft", "transom", None))
    assert [(b.to, b.distance) for b in boat.arrangement.bonds] == [("transom", 2.3)]


def test_lined_up_and_spread() -> None:
    after = apply(BOXES, lined_up(BOXES, hull_of(BOXES), ["one", "two", "three"], "port"))
    assert [i.mass.centre[1] for i in after.items] == [0.0, 0.0, 0.0]  # all are 0.4 wide
    boat = plan(lines=LINES, items=[crate("one", 0.5), crate("two", 1.3), crate("three", 3.5)])
    # ends at 0.8 and 3.2, 0.6 of it taken: 0.9 on each side, so two starts at 1.7
    after = apply(boat, spread(boat, hull_of(boat), ["three", "two", "one"], 0))
    assert [i.mass.centre[0] for i in after.items] == pytest.approx([0.5, 2.0, 3.5])
    close = plan(lines=LINES, items=[crate("one", 1.0), crate("two", 1.3), crate("three", 1.6)])
    with pytest.raises(CoreError, match=r"0\.600 m too little"):
        spread(close, hull_of(close), ["one", "two", "three"], 0)


def test_of_two_marks_as_near_the_stronger_reason_counts() -> None:
    # the middle of three at -0.3; moved to -0.006: 6 mm from the centreline, and one's middle is there too
    _, snaps = snapped(BOXES, hull_of(BOXES), ["three"], (0.0, 0.294, 0.0), near=0.012)
    assert [s.reason for s in snaps] == ["middle on the centreline"]
    # aft edge to 1.004: station 2 at 1.0 is 4 mm away, another's edge at 1.0075 half a millimetre nearer
    boat = plan(lines=LINES, items=[crate("one", 1.6), crate("two", 1.3075, 0.6)])
    _, snaps = snapped(boat, hull_of(boat), ["one"], (-0.296, 0.0, 0.0), near=0.012)
    assert [s.reason for s in snaps] == ["aft edge at station 2"]


def test_things_far_off_are_no_marks() -> None:
    # two's port edge at 0.7 lies 1.4 m behind three; brought to 0.704 nothing is said of it
    boat = plan(lines=LINES, items=[crate("two", 0.6, 0.5), crate("three", 3.2, 0.0)])
    by = (0.0, 0.504, 0.0)
    assert snapped(boat, hull_of(boat), ["three"], by, near=0.012) == (by, ())
    near = plan(lines=LINES, items=[crate("two", 2.4, 0.5), crate("three", 3.2, 0.0)])
    _, snaps = snapped(near, hull_of(near), ["three"], by, near=0.012)
    assert "of Two" in snaps[0].reason
