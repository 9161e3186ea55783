"""Things made as one: size, way in and lifting by hand, in a box hull 2 m wide and 1 m deep."""

from typing import Any

import pytest

from stirrup.core.arrange.removal import removed
from stirrup.core.arrange.setting import as_one, ungrouped
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding
from stirrup.core.fit.assembled import WORDS
from stirrup.core.plan.changes import apply
from stirrup.core.plan.model import Plan
from tests.boats import derive, plan
from tests.core.test_bulkhead import lips


def crate(id_: str, y: float, kg: float = 20.0, wide: float = 0.6) -> dict[str, Any]:
    return {"id": id_, "name": id_.title(), "stage": "added", "size": [0.5, wide, 0.4],
            "mass": {"value": kg, "centre": [1.5, y, 0.203]}}  # fmt: skip


def boat(*items: dict[str, Any], way: str = "built outside", **more: Any) -> Plan:
    things = [{"id": i["id"], "group": "group 1"} for i in items]
    subs = [{"id": "sub-1", "group": "group 1", "way": way}]
    return plan(items=list(items), arrangement={"things": things, "subs": subs}, **more)


def told(boat_: Plan, code: str) -> Finding:
    return next(f for f in derive(boat_).findings if f.code == code)


def test_its_size_and_that_nothing_is_over_it() -> None:
    """Two crates 0.6 wide about -0.5 and 0.5: 1.6 wide; between sides 1.995 apart."""
    found = told(boat(crate("one", -0.5), crate("two", 0.5)), "SUB-IN")
    assert found.level == "fine" and WORDS["built outside"] in found.text
    assert found.values["wide"].value == pytest.approx(1.6)
    assert found.values["long"].value == pytest.approx(0.5) and found.values["high"].value == pytest.approx(
        0.4
    )
    assert found.values["least"].value == pytest.approx(1.995, abs=2e-3)


@pytest.mark.parametrize(("reach", "level"), [(0.811, "fine"), (0.809, "mend")])
def test_past_lips_with_ten_millimetres_to_spare(reach: float, level: str) -> None:
    """1.6 wide needs 1.62: lips that leave 2 x 0.811 let it pass."""
    found = told(boat(crate("one", -0.5), crate("two", 0.5), existing=lips(reach, 0.9, 0.95)), "SUB-IN")
    assert found.level == level and found.values["least"].value == pytest.approx(2 * reach, abs=2e-3)


@pytest.mark.parametrize(
    ("kg", "people", "level"), [(12.5, 1, "fine"), (50.0, 4, "fine"), (50.5, 5, "look")]
)
def test_who_lifts_it(kg: float, people: int, level: str) -> None:
    """25 kg each: twice 12.5 is one, twice 50 four, and more than four do not get round it."""
    found = told(boat(crate("one", -0.5, kg), crate("two", 0.5, kg)), "SUB-LIFT")
    assert (found.values["people"].value, found.level) == (people, level)


def test_taken_out_together_it_is_told_in_which_order() -> None:
    found = told(boat(crate("one", -0.5), crate("two", 0.5), way="fitted, then taken out"), "SUB-IN")
    assert "take it out as one" in found.text


def test_made_as_one_no_longer_and_gone_groups_say_nothing() -> None:
    both = boat(crate("one", -0.5), crate("two", 0.5))
    for change in (as_one(both, "one", ""), ungrouped(both, ["one"]), removed(both, ["two"])):
        assert not [f for f in derive(apply(both, change)).findings if f.code.startswith("SUB-")]
    other = apply(both, as_one(both, "two", "fitted, then taken out"))
    assert other.arrangement.subs[0].way == "fitted, then taken out"


def test_what_is_in_no_group_is_refused() -> None:
    alone = plan(items=[crate("one", 0.0)])
    with pytest.raises(CoreError, match="in no group"):
        as_one(alone, "one", "built outside")
