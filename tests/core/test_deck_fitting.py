"""Fittings bolted through a deck of 2.5 mm, worked by hand."""

import math
from typing import Any

import pytest

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding
from stirrup.core.fittings.under_floor import holes_in
from stirrup.core.plan.changes import apply
from tests.boats import derive, plan
from tests.core.test_step_box import DECK
from tests.crossing import crossings

CLEAT = {"kind": "deck_fitting", "id": "cleat", "name": "Cleat", "mark": "N1", "on": "deck", "x": 2.0,
         "y": 0.1}  # fmt: skip


def boat(*more: dict[str, Any], **choices: Any) -> Derived:
    return derive(plan(fittings=[DECK, {**CLEAT, **choices}, *more]))


def cleat(**choices: Any) -> Built:
    found = boat(**choices).fitting("cleat")
    assert found is not None
    return found


def told(derived: Derived, code: str = "BOLTED-HOLDS") -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "cleat")


@pytest.mark.parametrize(
    ("choices", "pull"),
    [
        # 2500 N, 30 mm up, two bolts 50 mm apart, foot 40 mm wide: 1250 up, 75 / 0.05 along,
        # 75 / (0.02 x 2) across
        ({}, 75 / 0.04),
        ({"width": 0.10}, 75 / 0.05),
        ({"pull_up": 0.0}, 1250),
        # four bolts 0.10 x 0.06: 625 up, 75 / (0.1 x 2) along, 75 / (0.06 x 2) across
        ({"along": 0.10, "across": 0.06}, 625),
        ({"along": 0.10, "across": 0.04}, 75 / 0.08),
        ({"along": 0.03, "across": 0.06}, 75 / 0.06),
    ],
)
def test_how_its_bolts_are_pulled(choices: dict[str, Any], pull: float) -> None:
    assert told(boat(**choices)).values["bolt"].value == pytest.approx(pull)


def test_whether_they_hold() -> None:
    """An M6 over a plate 4000 N, over washers 1500; an M5 25 / 36 of that, an M8 64 / 36."""
    cases = (("M6", "backing plate", 4000), ("M6", "large washers", 1500),
             ("M5", "backing plate", 4000 * 25 / 36), ("M8", "large washers", 1500 * 64 / 36))  # fmt: skip
    # straight up: half of the pull on each
    for bolt, under, each in cases:
        for share, level in ((0.999, "fine"), (1.001, "mend")):
            found = told(boat(bolt=bolt, under=under, pull=2 * each * share, pull_up=0.0))
            assert found.level == level
            assert bool(found.fixes) is (level == "mend" and under == "large washers")


def test_its_plate_and_bolts() -> None:
    """A plate 25 mm past its bolts, under the deck: 100 by 50; 6 of foot, 2.5 of deck, 3.18 of plate:
    11.7, which a bolt of 20 mm holds up to 12.2."""
    built = cleat()
    (plate,) = built.panels
    us, vs = zip(*plate.outline, strict=True)
    assert (max(us) - min(us), max(vs) - min(vs)) == pytest.approx((0.10, 0.05))
    assert plate.frame.origin[2] == pytest.approx(0.3 - 0.0025 - 0.003175 / 2, abs=2e-5)
    parts = {b.label: (b.item, b.quantity) for b in built.bought}
    assert parts["N1-T"] == ("cleat-150", 1)
    assert parts["N1-R"] == ("bolt-m6x20", 2) and parts["N1-N"][1] == 2 and parts["N1-W"][1] == 2
    washers = {b.label: (b.item, b.quantity) for b in cleat(under="large washers").bought}
    assert washers["N1-R"] == ("bolt-m6x20", 2) and washers["N1-W"][1] == 4
    assert not cleat(under="large washers").panels


@pytest.mark.parametrize(("across", "goes"), [(0.0, True), (0.019, False), (0.02, True)])
def test_bolts_leave_sheet_between_them(across: float, goes: bool) -> None:
    if goes:
        assert cleat(across=across).panels
        return
    with pytest.raises(CoreError, match=r"at least 0\.02 m"):
        boat(across=across)


def test_turned_its_holes_turn_with_it() -> None:
    """A row of two, 50 mm apart, turned by 90°: athwart of one another, in plate and marks."""
    built = cleat(turn=90)
    (plate,) = built.panels
    there = []
    for ring in plate.holes:
        points = [plate.frame.at(u, v) for u, v in ring]
        there.append((sum(p[0] for p in points) / len(points), sum(p[1] for p in points) / len(points)))
    assert sorted(there, key=lambda p: p[1]) == [pytest.approx((2.0, 0.075)), pytest.approx((2.0, 0.125))]
    assert built.bolts is not None
    assert sorted(built.bolts.places, key=lambda p: p[1])[0] == pytest.approx((2.0, 0.075))


def test_its_body_s_hole_is_in_the_deck() -> None:
    derived = boat(body=0.055)
    deck = derived.fitting("deck")
    assert deck is not None
    (hole,) = holes_in(deck)
    # a polygon of 32 sides in its circle: 32 / 2 r² sin(360° / 32)
    assert hole.area == pytest.approx(16 * 0.0275**2 * math.sin(math.radians(11.25)), rel=1e-3)
    assert (hole.centroid.x, hole.centroid.y) == pytest.approx((2.0, 0.1), abs=1e-4)


def test_a_body_over_a_member_is_told_with_the_way_off_it() -> None:
    derived = boat(body=0.055)
    deck = derived.fitting("deck")
    assert deck is not None
    cross = min((m for m in deck.members if m.role == "cross"), key=lambda m: abs(m.path[0][0] - 2.0))
    x = cross.path[0][0]
    found = told(boat(body=0.055, x=x))
    assert found.level == "mend" and cross.label in found.text
    (fix,) = found.fixes
    assert fix.by is not None
    clear = boat(body=0.055, x=x + fix.by[0] + math.copysign(0.001, fix.by[0]))
    assert told(clear).level == "fine"


def test_over_an_edge_or_a_hatch() -> None:
    assert told(boat(y=1.2)).title == "Its foot hangs over an edge"
    hatch = {"kind": "hatch", "id": "hatch", "name": "Hatch", "deck": "deck", "x": 2.0, "y": 0.1,
             "clear_length": 0.4, "clear_width": 0.4}  # fmt: skip
    titles = {f.title for f in boat(hatch).findings if f.code == "BOLTED-HOLDS"}
    assert "Its foot hangs over an edge" in titles


def test_nothing_of_it_stands_in_another_part_unless_it_is_told() -> None:
    assert crossings(boat(under="large washers")) == {}
    for x in (1.9, 2.0, 2.13):
        derived = boat(x=x)
        names = {name for pair in crossings(derived) for name in pair if name.startswith("D1")}
        assert all(name in told(derived, "SEAT-PLATE").text for name in names)


@pytest.mark.parametrize("entry", ["deck cleat", "deck rod holder", "deck rail", "quick-release"])
def test_a_first_one(entry: str) -> None:
    before = plan(fittings=[DECK])
    here = derive(before)
    change = place(before, here.surface, here.footing, entry)
    derived = derive(apply(before, change))
    built = derived.fitting(change.value["id"])
    assert built is not None and change.value["on"] == "deck"
    level = {f.level for f in derived.findings if f.code == "BOLTED-HOLDS"}
    assert level == {"fine"}
