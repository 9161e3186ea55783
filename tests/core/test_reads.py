"""What a guest reads of its host is all that it looks at: where that is the same, it is built the same."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, cast

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import box

from stirrup.core import making
from stirrup.core.contract.gives import Built, Floor
from stirrup.core.contract.kind import Site
from stirrup.core.kinds.deck_fitting import KIND, DeckFitting
from stirrup.core.parts.model import Frame, Panel
from stirrup.core.plan.changes import SetValue, apply
from stirrup.exchange.catalogue import starting
from tests.boats import box_lines, derive, plan, surface
from tests.core.test_deck_fitting import CLEAT
from tests.core.test_step_box import DECK

SITE = Site(surface(box_lines()), (), catalogue=starting())
SHEET = starting().sheet("al-2.5")


def deck(
    aft: float = 1.0, top: float = 0.4, thick: float = 0.0025, rise: float = 0.0,
    hole: float | None = None, bearer: float | None = None,
) -> Built:  # fmt: skip
    """A floor from `aft` to 3 m, 2 m wide. hole: middle of a square one of 0.1 m; bearer: where one stands
    athwart under it [m]."""
    holes = () if hole is None else (((hole - 0.05, -0.05), (hole + 0.05, -0.05), (hole + 0.05, 0.05),
                                      (hole - 0.05, 0.05)),)  # fmt: skip
    skin = Panel("deck/skin", "D1-S", "Skin", "deck", SHEET, ((aft, -1), (3, -1), (3, 1), (aft, 1)), holes,
                 Frame((0.0, 0.0, top)))  # fmt: skip
    panels = [skin]
    if bearer is not None:
        stands, ring = Frame((bearer, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)), (
            (-1.0, 0.1), (1.0, 0.1), (1.0, 0.3), (-1.0, 0.3))  # fmt: skip
        panels.append(Panel("deck/b", "D1-B", "Bearer", "deck", SHEET, ring, (), stands, role="bearer"))
    return Built("deck", tuple(panels), floors=(Floor(box(aft, -1, 3, 1), top, top - thick, rise=rise),))


def read_and_made(host: Built, choices: dict[str, Any]) -> tuple[object, object]:
    """What a cleat reads of a deck; and what it makes there, all that is not kept for later."""
    c = DeckFitting.model_validate({**CLEAT, **choices})
    made = KIND.build(c, Site(SITE.surface, (), host=host, catalogue=starting()))
    return KIND.reads(c, host), (
        made.panels, made.members, made.bought, made.shapes, made.solids, made.findings, made.bolts,
        made.top_m, made.region.wkb, made.marked,
    )  # fmt: skip


decks = st.builds(
    deck,
    aft=st.sampled_from([1.0, 1.5, 1.9, 1.93, 2.0]),
    top=st.sampled_from([0.4, 0.4, 0.45]),
    thick=st.sampled_from([0.0025, 0.0025, 0.004]),
    rise=st.sampled_from([0.0, 0.0, 0.1]),
    hole=st.sampled_from([None, 1.6, 1.88, 2.0, 2.5]),
    bearer=st.sampled_from([None, 1.5, 1.88, 1.95, 1.98, 2.03, 2.6]),
)
cleats = st.fixed_dictionaries(
    {
        "y": st.sampled_from([0.0, 0.1]),
        "turn": st.sampled_from([0.0, 30.0, 90.0]),
        "body": st.sampled_from([0.0, 0.05, 0.2]),
        "under": st.sampled_from(["backing plate", "large washers"]),
    }
)


@pytest.mark.slow
@settings(max_examples=300, deadline=None)
@given(decks, decks, cleats)
def test_what_it_reads_is_all_that_it_is_built_by(one: Built, other: Built, cleat: Any) -> None:
    (read, made), (again, made_again) = (read_and_made(host, {"x": 2.0, **cleat}) for host in (one, other))
    if read == again:
        assert made == made_again


# its foot is from 1.925 to 2.075, its plate from 1.95 to 2.05: bolts 50 mm apart and 25 mm beyond
@pytest.mark.parametrize(
    ("one", "other", "choices", "same"),
    [
        ({"aft": 1.0}, {"aft": 1.9}, {}, True),
        ({"aft": 1.0}, {"aft": 1.95}, {}, False),
        ({"hole": 1.5}, {"hole": 2.6}, {"y": 0.0}, True),
        ({"hole": 1.5}, {"hole": 1.9}, {"y": 0.0}, False),
        ({"bearer": 1.5}, {"bearer": 2.6}, {}, True),
        ({"bearer": 1.5}, {"bearer": 2.04}, {}, False),
        ({"bearer": 1.5}, {"bearer": 2.14}, {"body": 0.3}, False),
        ({"top": 0.40}, {"top": 0.41}, {}, False),
        ({"rise": 0.0}, {"rise": 0.1}, {}, False),  # as high at 2 m, the middle of it
        ({"thick": 0.0025}, {"thick": 0.003}, {}, False),
        ({"rise": 0.1, "aft": 1.0}, {"rise": 0.1, "aft": 1.5}, {}, False),  # it turns about its middle
    ],
)
def test_a_deck_that_changes_elsewhere_leaves_it_as_it_is(
    one: Any, other: Any, choices: Any, same: bool
) -> None:
    reads = [read_and_made(deck(**of), {"x": 2.0, **choices})[0] for of in (one, other)]
    assert (reads[0] == reads[1]) is same


HATCH = {"kind": "hatch", "id": "hatch", "name": "Hatch", "mark": "H1", "deck": "deck", "x": 2.4, "y": 0.0,
         "clear_length": 0.3, "clear_width": 0.3}  # fmt: skip


def hatches(*edges: float) -> Iterator[Built]:
    """A hatch in a deck, for one aft edge of that after the other."""
    boat = plan(fittings=[DECK, HATCH])
    for aft in edges:
        found = derive(apply(boat, SetValue(path=("fittings", "deck", "aft"), value=aft))).fitting("hatch")
        assert found is not None
        yield found


def test_what_makes_the_same_again_is_the_object_that_it_was() -> None:
    """With all that was found out about it; a hatch does not tell what of its deck it reads."""
    # its cut-out begins at 2.25 m less its landing: there is no room for its frame at last
    first, again, near, back = hatches(1.4, 1.45, 2.2, 1.46)
    assert again is first
    assert near is not first and near != first
    assert back == first


def test_what_is_not_held_against_one_another_is_taken_as_it_is_made(monkeypatch: Any) -> None:
    """What comes behind, and a build as level, are not compared: what has one is no other."""
    level = Built("x")
    every = (Built("x", later=tuple), Built("x", later=list), level, Built("x", as_level=level), Built("x"),
             Built("x"))  # fmt: skip
    left = iter(every)
    monkeypatch.setattr(making, "_build", lambda *_: next(left))
    thing, alone = object(), cast(Site, object())
    found = [making._made(thing, alone, lambda: SITE, (), 0.0) for _ in every]
    assert [a is b for a, b in zip(found, every, strict=True)] == [True] * 5 + [False]
    assert found[5] is found[4]
