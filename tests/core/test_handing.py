"""What is over goes from boat to boat: nothing is lost between them, and nothing is there twice."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.errors import CoreError
from stirrup.core.money.cost import Cost, Need, price_up
from stirrup.core.money.handing import handed_on, spare_for
from stirrup.core.money.standing import standing
from stirrup.core.plan.buying import Buying, Owned, Purchase
from stirrup.core.plan.changes import apply, invert
from stirrup.core.plan.model import Plan
from stirrup.exchange.catalogue import starting
from tests.boats import skiff_plan

STOCK = starting()
DAY = "2026-03-02"


def boat(name: str, *purchases: Purchase, owned: tuple[Owned, ...] = ()) -> Plan:
    plan = skiff_plan()
    return plan.model_copy(update={"name": name, "buying": Buying(purchases=purchases, owned=owned)})


def box(**values: Any) -> Purchase:
    start = {"id": "b", "item": "latch-50", "name": "latch", "packs": 6, "received": 6,
             "price": Decimal("18.00"), "paid": True}  # fmt: skip
    return Purchase.model_validate({**start, **values})


def cost_of(plan: Plan, needs: int) -> Cost:
    return price_up([Need("latch-50", needs, 0, ("h",))], STOCK, Decimal(0), None, buying=plan.buying)


def test_packs_go_with_what_they_cost() -> None:
    one, two = boat("One", box()), boat("Two")
    given_, taken = handed_on(one, two, "b", 2, DAY)
    after, other = apply(one, given_), apply(two, taken)
    # six bought at 18: 4 x 18 = 72 stay, 2 x 18 = 36 go
    assert [p.amount for p in after.buying.purchases] == [Decimal("72.00")]
    (come,) = other.buying.purchases
    assert (come.amount, come.supplier, come.paid, come.at_hand) == (Decimal("36.00"), "One", True, 2)
    assert (after.buying.there, other.buying.there) == ({"latch-50": 4}, {"latch-50": 2})
    # each is undone by itself
    assert apply(after, invert(one, given_)) == one and apply(other, invert(two, taken)) == two


@given(st.integers(1, 40), st.integers(0, 40), st.integers(0, 40), st.integers(1, 45),
       st.decimals(0, 300, places=2))  # fmt: skip
def test_no_cent_and_no_pack_is_lost(packs: int, came: int, back: int, much: int, price: Decimal) -> None:
    came = min(came, packs)
    back = min(back, came)
    one = boat("One", box(packs=packs, received=came, returned=back, price=price, paid=False))
    two = boat("Two")
    try:
        changes = handed_on(one, two, "b", much, DAY)
    except CoreError:
        assert much > came - back
        return
    after = [apply(plan, change) for plan, change in zip((one, two), changes, strict=True)]
    assert sum(p.buying.there.get("latch-50", 0) for p in after) == packs - back
    spent = sum((cost_of(p, 0).net for p in after), Decimal(0))
    assert spent == (packs - back) * price
    kinds = sum((r.all for p in after for r in standing(cost_of(p, 0), STOCK)), Decimal(0))
    assert kinds == spent


def test_of_a_box_that_is_part_full_some_goes() -> None:
    one = boat("One", owned=(Owned(id="o", item="rivet-4.8x8", quantity=180, place="shelf 2"),))
    given_, taken = handed_on(one, boat("Two"), "o", 60.5, DAY)
    (left,) = apply(one, given_).buying.owned
    (come,) = apply(boat("Two"), taken).buying.owned
    assert (left.quantity, come.quantity, come.place) == (119.5, 60.5, "from One, shelf 2")


@pytest.mark.parametrize(
    ("id_", "much", "why"),
    [
        ("b", 7, "read 7; accepted: 1 to 6"),
        ("b", 1.5, "whole packs"),
        ("trip", 1, "belongs to this boat alone"),
        ("late", 1, "nothing of latch is here"),
        ("o", 3, "up to the 2 that are here"),
        ("x", 1, "not there any more"),
    ],
)
def test_what_cannot_go(id_: str, much: float, why: str) -> None:
    one = boat("One", box(), box(id="trip", item=None, packs=1, received=1),
               box(id="late", received=0, paid=False),
               owned=(Owned(id="o", item="latch-50", quantity=2),))  # fmt: skip
    with pytest.raises(CoreError, match=why):
        handed_on(one, boat("Two"), id_, much, DAY)


def test_what_is_over_at_one_and_missing_at_the_other() -> None:
    one, two = boat("One", box(packs=10, received=7)), boat("Two")
    # ten bought, four needed: six over; seven are here. The other needs five.
    (spare,) = spare_for(one.buying, cost_of(one, 4), cost_of(two, 5))
    assert (spare.packs, spare.quantity) == (5, 5)
    (spare,) = spare_for(one.buying, cost_of(one, 4), cost_of(two, 50))
    assert spare.packs == 6
    assert spare_for(one.buying, cost_of(one, 10), cost_of(two, 5)) == ()
    assert spare_for(one.buying, cost_of(one, 4), cost_of(two, 0)) == ()
    # what has not come cannot go
    waits = boat("One", box(packs=10, received=0, paid=False))
    assert spare_for(waits.buying, cost_of(waits, 4), cost_of(two, 5)) == ()


def test_work_of_others_and_overhead_are_kinds_of_their_own() -> None:
    weld = box(id="w", item=None, name="weld", packs=1, received=1, price=Decimal(80), service=True)
    trip = box(id="t", item=None, name="trip", packs=1, received=1, price=Decimal(20))
    cost = cost_of(boat("One", weld, trip), 0)
    rows = {r.kind: r.all for r in standing(cost, STOCK, Decimal(100), Decimal(10))}
    # ten percent of 80 + 20 + 100
    assert rows == {"service": Decimal(80), "freight and other": Decimal(20), "labour": Decimal(100),
                    "overhead": Decimal("20.00")}  # fmt: skip
    with pytest.raises(ValueError, match="service"):
        box(service=True)


def test_a_second_time_adds_to_the_first() -> None:
    one, two = boat("One", box()), boat("Two")
    for much in (2, 3):
        given_, taken = handed_on(one, two, "b", much, DAY)
        one, two = apply(one, given_), apply(two, taken)
    # of six one is left, and the other boat has two purchases of its own
    assert (one.buying.purchases[0].handed, one.buying.purchases[0].at_hand) == (5, 1)
    assert [(p.id, p.packs) for p in two.buying.purchases] == [("from-1", 2), ("from-2", 3)]
