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
