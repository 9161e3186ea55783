"""What the build does as its school, and what one thing does otherwise: carpet at edges and lids.

A box 2 m wide of 2.5 mm side skin: inside 1.995. A deck of 12 mm plywood stands off 3 mm, and 6 mm of
carpet where that is turned over its edge. A lid of the same has 2.5 mm of play, and the carpet.
"""

from typing import Any

import pytest

from stirrup.core.contract.schools import USUAL, Schools, as_the_build, follows_build, marked
from stirrup.core.derive import Derived
from stirrup.core.hull.model import QuickStart
from stirrup.core.kinds.registry import KINDS, kind_of
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.plan.start import new_plan
from stirrup.exchange.buildfile import dump, parse
from tests.boats import DECK, HATCH, derive, plan

CARPETED = {**DECK, "aft": 1.0, "fore": 3.5, "skin": "ply-12", "cover": "carpet"}
LID = {**HATCH, "x": 2.2}


def boat(build: str, deck: str | None = None, lid: str | None = None) -> Derived:
    fittings: list[dict[str, Any]] = [{**CARPETED, "edges": deck}, {**LID, "edges": lid}]
    return derive(plan(fittings=fittings, schools={"edges": build}))


def sides(derived: Derived) -> tuple[float, float]:
    """Half breadth of the deck, length of the lid [m]."""
    deck, lid = derived.fitting("deck"), derived.fitting("hatch")
    assert deck is not None and lid is not None
    x0, _, x1, _ = lid.region.bounds
    return deck.region.bounds[3], x1 - x0


WRAPPED, FLUSH = (0.9975 - 0.009, 0.45 - 2 * 0.0085), (0.9975 - 0.003, 0.45 - 2 * 0.0025)


@pytest.mark.parametrize(
    ("build", "deck", "lid", "expected"),
    [
        ("wrapped", None, None, WRAPPED),
        ("flush", None, None, FLUSH),
        ("flush", "wrapped", None, (WRAPPED[0], FLUSH[1])),
        ("flush", None, "wrapped", (FLUSH[0], WRAPPED[1])),
        ("wrapped", "flush", "flush", FLUSH),
    ],
)
def test_the_build_decides_unless_one_thing_does(
    build: str, deck: str | None, lid: str | None, expected: tuple[float, float]
) -> None:
    assert sides(boat(build, deck, lid)) == pytest.approx(expected)


def test_what_ends_flush_is_not_turned_over() -> None:
    def cover(derived: Derived, of: str) -> float:
        built = derived.fitting(of)
        assert built is not None
        return next(b.quantity for b in built.bought if b.key == f"{of}/cover")

    wrapped, flush = boat("wrapped"), boat("flush")
    lid = flush.fitting("hatch")
    assert lid is not None
    assert cover(flush, "hatch") == pytest.approx(lid.panels[0].polygon.area)
    # 50 mm under the aft edge of the wrapped one, which is 6 mm narrower on either side
    deck = wrapped.fitting("deck"), flush.fitting("deck")
    areas = [sum(p.polygon.area for p in d.panels if "/skin/" in p.key) for d in deck if d]
    assert cover(wrapped, "deck") == pytest.approx(areas[0] + 2 * WRAPPED[0] * 0.05)
    assert cover(flush, "deck") == pytest.approx(areas[1])


def test_one_change_turns_all_that_leave_it_to_the_build() -> None:
    before = boat("wrapped", lid="wrapped").plan
    after = apply(before, SetValue(path=("schools", "edges"), value="flush"))
    assert sides(derive(after)) == pytest.approx((FLUSH[0], WRAPPED[1]))
    # what stands in the plan stays as it was chosen
    assert after.fitting("deck").edges is None  # type: ignore[union-attr]


def test_a_file_that_says_nothing_is_as_it_was_and_a_new_build_is_flush() -> None:
    old = plan(fittings=[CARPETED, LID])
    assert old.schools == Schools(edges="wrapped")
    assert sides(derive(old)) == pytest.approx(WRAPPED)
    quick = QuickStart()
    assert new_plan("Mine", quick).schools == USUAL == Schools(edges="flush", floors="falls aft")
    mine = boat("flush", lid="wrapped").plan
    assert parse(dump(mine)).schools == mine.schools


def test_how_carpet_ends_is_not_asked_where_there_is_none() -> None:
    for cover, asked in (("carpet", True), ("foam-mat", False), ("none", False)):
        derived = derive(plan(fittings=[{**CARPETED, "cover": cover}]))
        deck = derived.plan.fitting("deck")
        assert ("edges" not in kind_of(deck).idle(deck, derived.catalogue)) is asked


@pytest.mark.parametrize("kind", KINDS, ids=[k.key for k in KINDS])
def test_what_a_kind_leaves_to_the_build_is_one_of_its_schools(kind) -> None:
    for field, school in marked(kind.choices):
        assert school in Schools.model_fields and not kind.choices.model_fields[field].is_required()


def test_what_leaves_nothing_open_is_the_same_object() -> None:
    deck = plan(fittings=[{**CARPETED, "edges": "flush"}]).fittings[0]
    assert not follows_build(deck) and as_the_build(deck, Schools()) is deck
