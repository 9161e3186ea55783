"""Taking her apart: order, reasons, hours by hand, and what goes back on in reverse."""

from decimal import Decimal
from typing import Any

import pytest

from stirrup.core.apart import Apart, apart
from tests.boats import plan

MASS = {"value": 20.0, "centre": [1.0, 0.0, 0.3]}


def item(id_: str, form: str = "box", z: float = 0.3, **more: Any) -> dict[str, Any]:
    return {"id": id_, "form": form, "mass": {"value": 20.0, "centre": [1.0, 0.0, z]}, **more}


def piece(id_: str, kind: str, z: float = 0.2, **more: Any) -> dict[str, Any]:
    box = {"size": [0.3, 1.6, 0.03], "floor_centre": [1.5, 0.0, z]}
    return {"id": id_, "kind": kind, "stage": "removed", "box": box, **more}


def taken(items: list[dict[str, Any]], existing: list[dict[str, Any]] | None = None) -> Apart:
    return apart(plan(items=items, existing=existing or []))


def ids(rows: Any) -> list[str]:
    return [r.id for r in rows]


def test_sparks_fuel_and_motor_first_then_from_the_top_down() -> None:
    found = taken([
        item("seat", "seat", z=0.4, off=True), item("rail", z=0.9, off=True),
        item("motor", "outboard", z=0.6, off=True), item("shell", "tank", off=True),
        item("battery", "battery", off=True), item("junk", z=0.5, stage="removed"),
    ])  # fmt: skip
    assert ids(found.out) == ["battery", "shell", "motor", "rail", "junk", "seat"]
    assert [r.number for r in found.out] == [1, 2, 3, 4, 5, 6]
    assert "sparks" in found.out[0].why and "drained" in found.out[1].why
    assert found.out[3].why == "it lies over what comes next"


def test_what_goes_back_on_is_the_reverse_and_keeps_its_bag() -> None:
    found = taken([item("a", z=0.9, off=True, bag="4 bolts M8"), item("b", z=0.5, stage="removed"),
                   item("c", z=0.2, off=True)])  # fmt: skip
    assert ids(found.back) == ["c", "a"]
    # with the number that it came off by
    assert [(r.number, r.bag) for r in found.back] == [(3, ""), (1, "4 bolts M8")]
    assert [r.back for r in found.out] == [True, False, True]


def test_hours_by_hand() -> None:
    """12 minutes and half a minute for each of 20 kg: 22; back on 1.3 times that."""
    found = taken([item("a", off=True)])
    assert found.out[0].hours == pytest.approx(22 / 60)
    assert found.back[0].hours == pytest.approx(1.3 * 22 / 60)
    assert found.hours == pytest.approx(2.3 * 22 / 60)


def test_structure_comes_after_things_and_what_carries_the_bottom_last() -> None:
    found = taken(
        [item("seat", off=True)],
        [piece("rib-1", "rib"), piece("keelson", "stringer"), piece("lip-1", "lip"),
         piece("seat-1", "thwart"), piece("stays", "thwart", stage="found")],
    )  # fmt: skip
    assert ids(found.out) == ["seat", "lip-1", "seat-1", "rib-1", "keelson"]
    assert found.brace
    # a thwart is held along both edges of its ends: 2 x (0.3 + 0.03) m at 25 minutes, and 10 to get at it
    thwart = next(r for r in found.out if r.id == "seat-1")
    assert thwart.hours == pytest.approx((10 + 2 * 0.33 * 25) / 60)
    assert "Drill its rivets" in thwart.how


def test_what_stays_is_not_in_it() -> None:
    found = taken([item("a"), item("b", stage="added", off=True)], [piece("t", "thwart", stage="found")])
    assert (found.out, found.back, found.brace, found.hours) == ((), (), False, 0)
    assert not taken([], [piece("well", "well")]).brace


def test_what_is_sold_brings_money_and_nothing_else_does() -> None:
    """25.00 and 40.50 sold; a price on what goes to waste, and on what comes back, counts nothing."""
    found = taken(
        [item("a", stage="removed", becomes="sold", brings="25.00"),
         item("b", stage="removed", becomes="waste", brings="99.00"),
         item("c", off=True, becomes="sold", brings="10.00")],
        [piece("old", "bulkhead", becomes="sold", brings="40.50"), piece("foam", "foam", becomes="kept")],
    )  # fmt: skip
    assert found.brings == Decimal("65.50")
    then = {r.id: r.then for r in found.out}
    assert then["a"] == "is sold" and then["b"] == "goes to waste" and then["c"] == ""
    assert then["foam"] == "is kept for another job"


def test_a_cap_comes_off_first_and_a_bulkhead_before_ribs_and_stringers() -> None:
    kinds = ("stringer", "rib", "bulkhead", "knee", "foam", "deck")
    found = taken([], [piece(f"old-{k}", k) for k in kinds])
    assert ids(found.out) == ["old-deck", "old-foam", "old-knee", "old-bulkhead", "old-rib", "old-stringer"]
    assert found.brace
