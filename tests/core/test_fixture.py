"""A cleat on a deck: its nuts under it, reached through a hatch or not; where it is marked."""

from typing import Any

import pytest

from stirrup.core.derive import Derived
from stirrup.core.marking import marking
from tests.boats import DECK, HATCH, derive, plan

CLEAT: dict[str, Any] = {
    "id": "cleat", "name": "Cleat", "form": "fixture", "stage": "added", "size": [0.15, 0.05, 0.05],
    "mass": {"value": 0.35, "centre": [3.0, 0.1, 0.425]},
}  # fmt: skip


def boat(hatch: float | None, **cleat: Any) -> Derived:
    lids = [] if hatch is None else [{**HATCH, "x": hatch, "y": 0.1}]
    deck = {**DECK, "aft": 1.5, "fore": 3.5, "face": True, "face_fore": True}
    return derive(plan(fittings=[deck, *lids], items=[{**CLEAT, **cleat}]))


@pytest.mark.parametrize(
    ("hatch", "level"),
    # the clear opening ends 0.2 m ahead of its middle; the far bolts lie at 3.075: an arm is 0.6 m long
    [(2.5, "fine"), (1.9, "look"), (None, "look")],
)
def test_its_nuts_are_reached_through_a_hatch(hatch: float | None, level: str) -> None:
    found = [f for f in boat(hatch).findings if f.code == "BOLTS" and f.place == "cleat"]
    assert [f.level for f in found] == [level]


def test_its_place_is_marked_and_it_weighs_and_costs() -> None:
    derived = boat(2.5)
    marks = next(m for m in marking(derived) if m.id == "cleat")
    xs, ys = [m.at[0] for m in marks.marks], [m.at[1] for m in marks.marks]
    assert (min(xs), max(xs)) == pytest.approx((2.925, 3.075))
    assert (min(ys), max(ys)) == pytest.approx((0.075, 0.125))
    without = derive(plan(fittings=[f.model_dump() for f in derived.plan.fittings]))
    assert derived.added_kg - without.added_kg == pytest.approx(0.35)
    # 21 of the catalogue, before tax
    assert float(derived.cost.net - without.cost.net) == pytest.approx(21.0)
