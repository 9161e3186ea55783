"""What stands under a deck is in the way where a member is, and not between two of them."""

import pytest

from stirrup.core.derive import derive
from tests.boats import DECK, plan

# cross members of a box's deck from 1.0 to 2.0 m stand at 1.0225, 1.3417, 1.6608 and 1.98 m
DECK_AT_400 = {**DECK, "aft": 1.0, "fore": 2.0}


def chest(x: float, top: float) -> dict:
    """A box of 0.2 x 0.3 m, its middle at x."""
    return {"id": "chest", "name": "Chest", "form": "box", "size": [0.2, 0.3, 0.2], "stage": "added",
            "mass": {"value": 5.0, "centre": [x, 0.0, top - 0.1]}}  # fmt: skip


@pytest.mark.parametrize(
    ("x", "top", "clashes"),
    [
        (1.50, 0.39, False),  # from 1.40 to 1.60: between two members, under the skin at 0.3975
        (1.50, 0.40, True),  # 2.5 mm into the skin
        (1.60, 0.39, True),  # to 1.70: over the member at 1.66, whose foot is at 0.3575
        (1.60, 0.355, False),  # under that foot
        (1.60, 0.360, True),
    ],
)
def test_only_skin_and_members_are_in_the_way(x: float, top: float, clashes: bool) -> None:
    derived = derive(plan(fittings=[DECK_AT_400], items=[chest(x, top)]))
    assert any(f.code == "CLASH" and f.place == "chest" for f in derived.findings) is clashes


def test_a_face_is_in_the_way_too() -> None:
    """The face stands from 1.0 to 1.0025 m, from the bottom up to the skin."""
    far = {**DECK_AT_400, "face": True}
    for x, clashes in ((0.899, False), (0.92, True), (1.11, False)):
        derived = derive(plan(fittings=[far], items=[chest(x, 0.22)]))
        told = [f for f in derived.findings if f.code == "CLASH" and f.place == "chest"]
        assert bool(told) is clashes, x
        if clashes:
            # from 0.82 to 1.02: 20 mm through
            assert told[0].values["amount"].value == pytest.approx(0.020, abs=1e-6)
            assert "the face of Deck" in told[0].text


def test_two_decks_do_not_share_their_place() -> None:
    def told(aft: float, height: float) -> list[str]:
        other = {**DECK_AT_400, "id": "other", "name": "Other", "mark": "D2", "aft": aft, "fore": aft + 0.8,
                 "height": height, "face": False}  # fmt: skip
        derived = derive(plan(fittings=[DECK_AT_400, other]))
        return [f.title for f in derived.findings if f.code == "CLASH"]

    assert told(2.0, 0.4) == []  # edge to edge
    assert told(1.98, 0.4) == ["Two decks in one place"]
    assert told(1.9, 0.45) == []  # 50 mm higher: members' feet at 0.4075, over the other's top
    assert told(1.9, 0.44) == ["Two decks in one place"]  # feet at 0.3975
