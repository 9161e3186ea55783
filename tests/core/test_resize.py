"""Edges drawn while the opposite ones stay; corners of turned things to mark."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.arrange.setting import locked
from stirrup.core.arrange.size import edges_of, resized
from stirrup.core.derive import derive_vessel
from stirrup.core.errors import CoreError
from stirrup.core.marking import marking
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.plan.where import extent_of
from tests.boats import DECK, HATCH, derive, plan, skiff_plan

BOX = {"id": "box", "name": "box", "form": "console", "size": [0.4, 0.3, 0.5], "stage": "added",
       "mass": {"value": 9.0, "centre": [2.0, 0.1, 0.3]}}  # fmt: skip
TANK = {"id": "tank", "size": [0.5, 0.4, 0.2], "floor_centre": [1.0, 0, 0.05], "liquid": "petrol"}
BOAT = plan(items=[BOX], tanks=[TANK])
SURFACE = derive_vessel(BOAT).surface


EDGES = ("aft", "fore", "port", "starboard", "top", "bottom")


@given(st.sampled_from(EDGES), st.sampled_from(["box", "tank"]), st.floats(-0.12, 0.5))
def test_the_opposite_edge_stays(edge: str, id_: str, by: float) -> None:
    before = extent_of(BOAT, SURFACE, id_)
    out = -1.0 if edge in ("aft", "starboard", "bottom") else 1.0
    target = round(before.edge(edge) + out * by, 3)
    after = extent_of(apply(BOAT, resized(BOAT, SURFACE, id_, edge, target)), SURFACE, id_)
    opposite = {"aft": "fore", "port": "starboard", "top": "bottom"}
    opposite |= {v: k for k, v in opposite.items()}
    for name in opposite:
        wanted = target if name == edge else before.edge(name)
        assert after.edge(name) == pytest.approx(wanted, abs=1.1e-4)


def test_a_hatch_is_sized_in_its_deck() -> None:
    boat = skiff_plan(fittings=[DECK, HATCH])
    surface = derive_vessel(boat).surface
    # 0.4 long about 3.6: from 3.4 to 3.8; the fore edge to 4.0 makes it 0.6 about 3.7
    after = apply(boat, resized(boat, surface, "hatch", "fore", 4.0)).fittings[1]
    assert (after.clear_length, after.x) == (0.6, 3.7)  # type: ignore[union-attr]
    with pytest.raises(CoreError, match="follows from its deck"):
        resized(boat, surface, "hatch", "top", 0.5)


def test_what_cannot_be_sized_is_said() -> None:
    held = apply(BOAT, locked(BOAT, ["box"], True))
    with pytest.raises(CoreError, match="is locked"):
        resized(held, SURFACE, "box", "fore", 2.5)
    assert edges_of(held, "box") == ()
    with pytest.raises(CoreError, match=r"leaves 0\.010 m"):
        resized(BOAT, SURFACE, "box", "fore", 1.81)
    turned = apply(BOAT, SetValue(path=("items", "box", "turn"), value=20.0))
    with pytest.raises(CoreError, match="is turned"):
        resized(turned, SURFACE, "box", "fore", 2.5)
    point = apply(BOAT, SetValue(path=("items", "box", "size"), value=None))
    with pytest.raises(CoreError, match="has no size"):
        resized(point, SURFACE, "box", "fore", 2.5)
    assert edges_of(turned, "box") == edges_of(point, "box") == edges_of(BOAT, "gone") == ()
    assert len(edges_of(BOAT, "box")) == 6
    assert edges_of(skiff_plan(fittings=[DECK, HATCH]), "deck") == ()  # it has handles of its own


def test_corners_of_a_turned_thing_to_mark_on_the_boat() -> None:
    # what is loose or was there before needs no marks
    loose = [{**BOX, "id": "c", "form": "cooler"}, {**BOX, "id": "f", "stage": "found"}]
    boat = plan(items=[BOX, *loose])
    turned = apply(boat, SetValue(path=("items", "box", "turn"), value=90.0))
    (marks,) = marking(derive(turned), offset_m=0.1)
    at = {m.name: m for m in marks.marks}
    # turned a quarter to port, its fore edge lies to port: y from -0.1 to 0.3, x from 1.85 to 2.15
    assert at["fore corner, port"].at == pytest.approx((1.85, 0.3, 0.05))
    assert at["aft corner, starboard"].at == pytest.approx((2.15, -0.1, 0.05))
    assert at["fore corner, port"].offset == pytest.approx((1.85, 0.4, 0.05))
    (square,) = marks.diagonals
    assert square.first == pytest.approx(square.second) == pytest.approx(math.hypot(0.4, 0.3))
