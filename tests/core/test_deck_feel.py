"""How firm a deck is: skin between members, members between sides, faces and posts. The deck of the tests
of posts: 2.5 mm on angles of 40 x 40 x 3, E I 4000 N m² and 437 N m until they yield (`test_beam.py`);
1.98 m between the side angles; somebody twice 110 kg bends a member by 2158 N x (L / 4 - 0.025 m)."""

from types import SimpleNamespace
from typing import Any

import pytest

from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.fittings.skin import Joints
from stirrup.core.fittings.underfoot import bays_of
from stirrup.core.kinds.raised_deck.feel import Frame
from stirrup.core.plan.changes import SetValue, apply
from tests.boats import derive, plan
from tests.core.test_hatch import HATCH
from tests.core.test_step_box import DECK


def boat(*more: dict[str, Any], **choices: Any) -> Derived:
    return derive(plan(fittings=[{**DECK, **choices}, *more]))


def told(code: str, *more: dict[str, Any], **choices: Any) -> Finding:
    return next(f for f in boat(*more, **choices).findings if f.code == code)


@pytest.mark.parametrize(
    ("posts", "level", "title"),
    [
        # 2158 (0.495 - 0.025) = 1014 of 437 N m
        (0, "mend", "A member would bend for good"),
        # L 0.99: 480 of 437, of which the neighbours take some hundredths through so thin a skin
        (1, "mend", "A member would bend for good"),
        # L 0.66: 302 is 0.69 of 437, less those: over 1 / 1.5, and gives 1.9 mm of 8.3
        (2, "look", "A member has little in hand"),
        # L 0.495: 213 is 0.49
        (3, "fine", "Its members are stiff enough"),
    ],
)
def test_posts_under_its_members(posts: int, level: str, title: str) -> None:
    found = told("MEMBER-GIVES", posts=posts)
    assert (found.level, found.title) == (level, title)
    long = 1.98 / (posts + 1)
    assert found.values["long"].value == pytest.approx(long, abs=0.003)
    # P (8 L³ - 4 L c² + c³) / 384 E I, of 110 kg x 1.2; 0.9 to 1 of it is kept
    alone = 1294.9 * (8 * long**3 - 4 * long * 0.04 + 0.008) / (384 * 4000.3)
    assert 0.9 * alone < found.values["gives"].value <= alone * 1.01


def test_its_remedies_do_what_they_say() -> None:
    start = plan(fittings=[DECK])
    found = next(f for f in derive(start).findings if f.code == "MEMBER-GIVES")
    assert found.fixes[0].words == "3 posts under each cross member"
    for fix in found.fixes:
        after = derive(apply(start, SetValue(path=fix.path, value=fix.value)))
        assert next(f for f in after.findings if f.code == "MEMBER-GIVES").level == "fine"


def test_posts_that_find_no_room_are_not_offered() -> None:
    """An opening over the whole middle of it: posts would stand in it."""
    wide = {**HATCH, "deck": DECK["id"], "x": 1.2, "y": 0.0, "clear_length": 1.4, "clear_width": 1.5}
    found = told("MEMBER-GIVES", wide)
    assert all("post" not in f.words for f in found.fixes)


def test_one_with_a_face_is_carried_by_it() -> None:
    """Two members only, both over a face: nothing is left that spans."""
    short = {"aft": 1.0, "fore": 1.3, "spacing": 0.5, "face": True, "face_fore": True}
    assert "MEMBER-GIVES" not in {f.code for f in boat(**short).findings}
    assert "MEMBER-GIVES" in {f.code for f in boat(**short | {"face_fore": False}).findings}


def test_a_stiff_skin_shares_with_the_neighbours() -> None:
    """12 mm plywood on the same angles: 1187 N m of skin against a member of 2000 N m² alone."""
    thin, thick = (
        told("MEMBER-GIVES", skin=skin, posts=1, face_fore=True, fore=2.1) for skin in ("al-2.5", "ply-12")
    )
    rows = [{i.name: i.quantity.value for i in f.working.inputs} for f in (thin, thick) if f.working]
    assert rows[0]["it keeps of it"] > 0.9
    assert rows[1]["it keeps of it"] < 0.75


@pytest.mark.parametrize(
    ("choices", "level"),
    [
        ({"skin": "al-3.2", "spacing": 0.3}, "fine"),
        # tight it gives 5 mm over 0.5, a hundredth of it, and 7 over 0.65: firm is up to 5, springy to 6.7
        ({"skin": "al-2.5", "spacing": 0.5}, "look"),
        ({"skin": "al-2.5", "spacing": 0.67}, "mend"),
        ({"skin": "ply-12", "spacing": 0.4}, "fine"),
        ({"skin": "ply-6", "spacing": 0.4}, "mend"),
        ({"skin": "alcomb-19"}, "look"),  # nobody knows its modulus
    ],
)
def test_its_skin_underfoot(choices: dict[str, Any], level: str) -> None:
    found = told("DECK-GIVES", **choices)
    assert found.level == level
    for fix in found.fixes:
        start = plan(fittings=[{**DECK, **choices}])
        after = derive(apply(start, SetValue(path=fix.path, value=fix.value)))
        assert next(f for f in after.findings if f.code == "DECK-GIVES").level == "fine", fix


def test_a_skin_is_held_where_it_runs_on() -> None:
    """Four members: it ends over the outer ones and is parted over the third."""
    held = [b.held for b in bays_of([0.0, 0.4, 0.8, 1.2], [1.0, 1.0, 1.0], [0.8])]
    assert held == [0.25, 0.25, 0.0]
    assert [b.held for b in bays_of([0.0, 0.4, 0.8, 1.2], [1.0, 1.0, 1.0], [])] == [0.25, 0.5, 0.25]


def test_what_is_open_beside_a_member_shares_nothing() -> None:
    """Of the half about the middle of 1.0 m, an opening from 0.1 to 0.4 on one side takes 0.15."""
    hole = SimpleNamespace(frame=(0.35, 0.1, 0.55, 0.4))
    deck: Any = SimpleNamespace(site=SimpleNamespace(openings=[]))
    beside: Any = SimpleNamespace(site=SimpleNamespace(openings=[hole]))
    framing: Any = SimpleNamespace(stations=[0.0, 0.3, 0.65])
    whole = Frame(deck, framing, Joints(), ()).shared(0.3, 0.0, 1.0)
    assert whole == (pytest.approx(0.35), pytest.approx(0.5))
    assert Frame(beside, framing, Joints(), ()).shared(0.3, 0.0, 1.0) == (
        pytest.approx(0.35), pytest.approx(0.35))  # fmt: skip
    assert Frame(deck, framing, Joints((0.3,)), ()).shared(0.3, 0.0, 1.0) is None
