"""Things once more: beside themselves and on the other side."""

import pytest

from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import apply
from stirrup.core.plan.copies import another
from tests.boats import DECK, HATCH, skiff_plan

BATTERY = {
    "id": "battery-1", "name": "battery, port", "group": "battery",
    "mass": {"value": 26.0, "centre": [0.5, 0.4, 0.2]},
    "slide": {"fore": 1.0, "aft": 0.0, "port": 0.1, "starboard": 0.3},
}  # fmt: skip
SIDE_HATCH = {**HATCH, "y": 0.2, "hinge": "port"}
PLAN = skiff_plan(fittings=[DECK, SIDE_HATCH], items=[BATTERY])


def test_an_item_on_the_other_side_keeps_all_but_the_side() -> None:
    after = apply(PLAN, another(PLAN, "battery-1", mirrored=True))
    one, two = after.items
    assert two.mass.centre == (0.5, -0.4, 0.2)
    assert (two.id, two.name) == ("battery-2", "battery, starboard")
    assert (two.mass.value, two.group) == (one.mass.value, one.group)
    assert two.slide is not None
    assert (two.slide.port, two.slide.starboard) == (0.3, 0.1)


def test_a_duplicate_lies_beside_and_is_numbered() -> None:
    after = apply(PLAN, another(PLAN, "battery-1"))
    assert after.items[1].mass.centre == (0.65, 0.4, 0.2)
    assert after.items[1].name == "battery, port 2"
    third = apply(after, another(after, "battery-1"))
    assert [i.id for i in third.items] == ["battery-1", "battery-2", "battery-3"]
    assert third.items[2].name == "battery, port 3"


def test_a_hatch_on_the_other_side_swings_the_other_way() -> None:
    after = apply(PLAN, another(PLAN, "hatch", mirrored=True))
    hatch = after.fittings[2]
    assert (hatch.y, hatch.hinge, hatch.x) == (-0.2, "starboard", 3.6)
    assert (hatch.mark, hatch.deck) == ("H2", "deck")


def test_a_duplicated_hatch_clears_the_first() -> None:
    after = apply(PLAN, another(PLAN, "hatch"))
    # 0.4 m clear, and 0.1 m between
    assert after.fittings[2].x == pytest.approx(3.6 + 0.4 + 0.1)


@pytest.mark.parametrize(
    ("id_", "mirrored", "words"),
    [
        ("deck", False, "from side to side"),
        ("deck", True, "from side to side"),
        ("gone", False, "may be gone"),
    ],
)
def test_what_cannot_be_copied_says_why(id_: str, mirrored: bool, words: str) -> None:
    with pytest.raises(CoreError, match=words):
        another(PLAN, id_, mirrored)


def test_what_lies_on_the_centreline_has_no_other_side() -> None:
    plan = skiff_plan(
        fittings=[DECK, HATCH], items=[{**BATTERY, "mass": {"value": 1.0, "centre": [1, 0, 0]}}]
    )
    for id_ in ("hatch", "battery-1"):
        with pytest.raises(CoreError, match="no other side"):
            another(plan, id_, mirrored=True)
