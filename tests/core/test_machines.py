"""What the shop's machines can do against panels whose sizes are known by hand."""

from typing import Any

import pytest

from stirrup.core.findings import Finding
from tests.boats import derive, plan
from tests.core.test_bulkhead import BULKHEAD

# of 12 mm plywood, 1.985 by 0.792 m
FOLDED = {"kind": "console_box", "id": "console", "name": "Console", "mark": "C1", "x": 2.0, "y": 0.3,
          "length": 0.45, "width": 0.56, "height": 0.7, "skin": "al-2.5",
          "made": "folded sheet"}  # fmt: skip


def told(fitting: dict[str, Any], **shop: Any) -> list[Finding]:
    found = derive(plan(fittings=[fitting], cutting=shop)).findings
    return [f for f in found if f.code == "MACHINES"]


def test_what_is_not_said_is_not_asked() -> None:
    assert told(BULKHEAD) == []


@pytest.mark.parametrize(
    ("shop", "level"),
    [({"saw_deep": 0.012}, "fine"), ({"saw_deep": 0.0119}, "look"),
     ({"table_wide": 0.793}, "fine"), ({"table_wide": 0.79}, "look"),
     # nothing of it is bent, and shears are for metal
     ({"brake_thick": 0.001, "brake_long": 0.1, "shear_thick": 0.001}, "fine")],
)  # fmt: skip
def test_a_bulkhead_of_plywood(shop: dict[str, Any], level: str) -> None:
    found = told({**BULKHEAD, "limber": 0.0}, **shop)
    assert [f.level for f in found] == [level]


def test_each_machine_is_told_by_itself() -> None:
    found = told(BULKHEAD, saw_deep=0.005, table_wide=0.3)
    assert sorted(f.other for f in found) == ["saw_deep", "table_wide"]
    deep = next(f for f in found if f.other == "saw_deep")
    assert deep.values["is"].value == 0.012 and "both faces" in deep.remedy


def test_a_plate_of_metal_against_the_shears() -> None:
    metal = {**BULKHEAD, "skin": "al-3.2", "joined": "welded"}
    assert [f.level for f in told(metal, shear_thick=0.0032)] == ["fine"]
    assert [f.level for f in told(metal, shear_thick=0.003)] == ["look"]
    # one with a way through is not sheared anyhow
    ring = {**metal, "wide": 0.6, "high": 0.3}
    assert [f.level for f in told(ring, shear_thick=0.003)] == ["fine"]


def test_a_folded_sheet_against_the_brake() -> None:
    """Its longest bend runs across all of its width or over its height: longer than 0.5, not than 0.8 m."""
    derived = derive(plan(fittings=[FOLDED]))
    built = derived.fitting("console")
    assert built is not None and any(p.bends for p in built.panels)
    assert [f.level for f in told(FOLDED, brake_long=0.8)] == ["fine"]
    (found,) = told(FOLDED, brake_long=0.5)
    assert found.level == "look" and 0.5 < found.values["is"].value < 0.8
    assert [f.other for f in told(FOLDED, brake_thick=0.002)] == ["brake_thick"]
