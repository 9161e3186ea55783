"""What she came to against what was planned, by hand; every difference is somebody's."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from stirrup.core.came_to import came_to, learned
from stirrup.core.derive import derive
from stirrup.core.plan.changes import AddThing, apply
from stirrup.core.plan.model import Plan
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, HATCH, skiff_plan

STOCK = starting()


def with_purchase(plan: Plan, **values: Any) -> Plan:
    taken = len(plan.buying.purchases)
    value = {"id": f"p-{taken}", "name": "latch", "item": "latch-50", **values}
    return apply(plan, AddThing(path=("buying", "purchases"), value=value))


def boat() -> Plan:
    return skiff_plan(fittings=[DECK, HATCH])


def latches() -> int:
    cost = derive(boat(), STOCK).cost
    return next(int(line.missing) for line in cost.lines if line.item.id == "latch-50")


def test_a_latch_that_was_dearer_is_the_hatch_s_difference() -> None:
    count = latches()
    # 18.50 by the catalogue, 21.00 paid: 2.50 more for each
    derived = derive(with_purchase(boat(), packs=count, price="21.00"), STOCK)
    rows = {r.id: r for r in came_to(derived)}
    assert rows["hatch"].more == Decimal("2.50") * count
    assert {r.id for r in rows.values() if r.more} == {"hatch"}
    assert sum(r.now for r in rows.values()) == derived.cost.net
    assert came_to(derived)[0].id == "hatch"


def test_what_nothing_needs_is_a_line_of_its_own() -> None:
    plan = with_purchase(boat(), item="hook-eye", name="hook", packs=2, price="5.00")
    plan = with_purchase(plan, item=None, name="freight", price="12.00")
    rows = {r.id: r for r in came_to(derive(plan, STOCK))}
    assert (rows[""].planned, rows[""].now) == (Decimal(0), Decimal(22))


def test_a_plan_without_purchases_came_to_what_was_planned() -> None:
    assert all(r.more == 0 for r in came_to(derive(boat(), STOCK)))


def test_prices_that_differ_are_learned_the_last_of_each_pack() -> None:
    plan = with_purchase(boat(), price="20.00")
    plan = with_purchase(plan, price="21.00")
    plan = with_purchase(plan, item="rivet-4.8x10", quantity=50, price="11.50")  # as it was known
    plan = with_purchase(plan, item="rivet-4.8x10", quantity=77, price="3.00")  # no such pack
    plan = with_purchase(plan, item="rivet-4.8x8", quantity=50, price="1.00", stage="quote asked")
    found = learned(derive(plan, STOCK), STOCK)
    assert [(x.purchase.item, x.purchase.price, x.before) for x in found] == [
        ("latch-50", Decimal("21.00"), Decimal("18.50"))
    ]
