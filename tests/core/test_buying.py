"""What is bought and what is there comes off what is to buy; every cent is somewhere."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from stirrup.core.buying import needs_of
from stirrup.core.came_to import came_to
from stirrup.core.contract.gives import Built
from stirrup.core.derive import derive
from stirrup.core.errors import CoreError
from stirrup.core.money.cost import Need, Whole, price_up
from stirrup.core.money.mix import cheapest_mix
from stirrup.core.money.shopping import ShopList, ToBuy, shopping, wanted_of
from stirrup.core.money.standing import by_day, kept_back, standing
from stirrup.core.money.steps import bought, came, freight_of, other_cost
from stirrup.core.parts.model import Bought
from stirrup.core.plan.buying import Buying, Owned, Purchase, check_buying
from stirrup.core.plan.changes import AddThing, RemoveThing, apply, conflicts, invert
from stirrup.core.plan.model import Plan
from stirrup.core.where_it_goes import where_it_goes
from stirrup.demo.seed import FILES, demo_plan
from stirrup.exchange.catalogue import starting

STOCK = starting()
DAY = "2026-03-02"


def purchase(**values: Any) -> Purchase:
    return Purchase.model_validate({"id": "p", "item": "latch-50", "name": "latch", **values})


def cost_of(needs: list[Need], buying: Buying, whole: list[Whole] | None = None) -> Any:
    return price_up(needs, STOCK, Decimal(8), None, True, whole or [], buying)


def test_what_a_thing_needs_for_several_joints_is_added_up() -> None:
    latch = STOCK.find("latch-50")

    def some(thing: str, count: float, group: Any = "hardware", owned: bool = False) -> Bought:
        return Bought(f"{thing}/{count}", "", "", thing, latch, count, 0.0, (0.0, 0.0, 0.0), group, owned)

    deck = Built("deck", bought=(some("deck", 10), some("deck", 14), some("deck", 20, "fasteners"),
                                 some("deck", 7, owned=True)))  # fmt: skip
    (need,) = needs_of([deck, Built("seat", bought=(some("seat", 3),))], [], [], [], {})
    # 10 + 14 + 20 of the deck, 3 of the seat; a tenth of the 20 to spare; what is there is not needed
    assert need.quantity == 47 and need.spare == pytest.approx(2)
    assert need.reasons == (("deck", 44), ("seat", 3))


def test_what_is_there_or_on_its_way_is_not_bought_again() -> None:
    buying = Buying(
        purchases=(purchase(packs=3, price=Decimal("18.00")),),
        owned=(Owned(id="o", item="latch-50", quantity=1),),
    )
    cost = cost_of([Need("latch-50", 6, 0, ("h",))], buying)
    (line,) = cost.lines
    # 6 needed, 3 ordered, 1 there: 2 to buy at 18.50 = 37.00; 3 x 18.00 = 54.00 are spent
    assert (line.have, line.missing, line.cost) == (4, 2, Decimal("37.00"))
    assert (cost.net, cost.planned) == (Decimal("91.00"), Decimal("37.00"))
    assert cost.tax == Decimal("7.28")


def test_what_is_only_asked_for_counts_for_nothing() -> None:
    cost = cost_of(
        [Need("latch-50", 2, 0, ())], Buying(purchases=(purchase(packs=2, stage="quote asked"),))
    )
    assert (cost.lines[0].missing, cost.net) == (2, Decimal("37.00"))


def test_nothing_is_bought_just_to_have_some_spare() -> None:
    # 100 rivets and 10 spare; 100 are there
    buying = Buying(owned=(Owned(id="o", item="rivet-4.8x10", quantity=100),))
    assert cost_of([Need("rivet-4.8x10", 100, 10, ())], buying).lines[0].missing == 0
    # of 99 there, eleven are missing: one, and the ten spare
    buying = Buying(owned=(Owned(id="o", item="rivet-4.8x10", quantity=99),))
    assert cost_of([Need("rivet-4.8x10", 100, 10, ())], buying).lines[0].missing == 11


def test_what_is_over_is_told_by_whole_packs() -> None:
    needs = [Need("latch-50", 2, 0, ("h",))]
    over = cost_of(needs, Buying(purchases=(purchase(packs=3, price=Decimal(18)),))).surplus
    assert [(s.item, s.quantity) for s in over] == [("latch-50", 1)]
    assert not cost_of(needs, Buying(purchases=(purchase(packs=2),))).surplus
    # a box of 250 for 210 is not over, there is no smaller one that would do with what is left
    box = purchase(item="rivet-4.8x10", quantity=250, packs=1)
    assert not cost_of([Need("rivet-4.8x10", 210, 21, ())], Buying(purchases=(box,))).surplus
    # what was there before is not over
    own = Buying(owned=(Owned(id="o", item="latch-50", quantity=9),))
    assert not cost_of(needs, own).surplus
    back = purchase(packs=3, received=3, returned=1)
    assert not cost_of(needs, Buying(purchases=(back,))).surplus


def test_a_thing_bought_whole_costs_what_it_cost() -> None:
    seat = Whole("seat", "Seat", "", Decimal(120), "items/seat")
    buying = Buying(purchases=(purchase(item=None, thing="seat", price=Decimal(99)),))
    cost = cost_of([], buying, [seat])
    assert (cost.whole, cost.net) == ((), Decimal(99))
    assert cost_of([], Buying(), [seat]).net == Decimal(120)


def test_a_purchase_without_a_price_is_named() -> None:
    cost = cost_of([], Buying(purchases=(purchase(packs=2),)))
    assert (cost.unpriced, cost.net) == (("latch",), Decimal(0))


@pytest.mark.parametrize(
    ("values", "why"),
    [({"packs": 2, "received": 3}, "at most the 2"), ({"returned": 1}, "at most the 0"),
     ({"stage": "quote asked", "paid": True}, "is ordered"), ({"thing": "seat"}, "either item or thing"),
     ({"ordered": "2026-13-01"}, "pattern"), ({"ordered": "yesterday"}, "pattern")],
)  # fmt: skip
def test_purchases_that_cannot_be(values: dict[str, Any], why: str) -> None:
    with pytest.raises(ValidationError, match=why):
        purchase(**values)


def test_ids_are_used_once() -> None:
    with pytest.raises(ValueError, match=r"buying.purchases\[1\].id: “p” is used twice"):
        check_buying(Buying(purchases=(purchase(), purchase())))


def demo() -> Plan:
    return demo_plan(FILES[0])


def lists(plan: Plan) -> tuple[ShopList, ...]:
    derived = derive(plan, STOCK)
    mix = cheapest_mix(wanted_of(derived.cost), (), ())
    return shopping(derived.cost, mix, STOCK, {})


def test_every_thing_that_is_missing_stands_on_one_list() -> None:
    cost = derive(demo(), STOCK).cost
    found = lists(demo())
    items = [x.item for s in found for x in s.lines if x.item]
    assert sorted(items) == sorted(line.item.id for line in cost.lines if line.missing)
    assert sum(s.goods for s in found) == cost.planned


def test_a_list_that_is_bought_is_empty_and_costs_the_same() -> None:
    plan = demo()
    before = derive(plan, STOCK).cost
    for shop in lists(plan):
        plan = apply(plan, bought(shop.lines, shop.name, DAY, "here"))
    after = derive(plan, STOCK).cost
    assert (lists(plan), after.planned) == ((), Decimal(0))
    assert (after.net, after.total) == (before.net, before.total)


def test_the_same_line_cannot_be_bought_by_two() -> None:
    plan, (first, *_) = demo(), lists(demo())
    line = first.lines[0]
    one, two = (bought([line], first.name, DAY, how) for how in ("here", "ordered"))
    assert conflicts(one, two)
    with pytest.raises(CoreError, match="used twice"):
        apply(apply(plan, one), two)
    other = bought([first.lines[1]], first.name, DAY, "here")
    assert not conflicts(one, other)
    assert apply(apply(plan, one), invert(plan, one)) == plan


def test_what_came_is_at_most_what_was_ordered() -> None:
    ordered = purchase(packs=5, received=2)
    assert came(ordered, 3).value == 5
    for wrong in (0, 4):
        with pytest.raises(CoreError, match=f"read {wrong}; accepted: 1 to 3"):
            came(ordered, wrong)
    with pytest.raises(CoreError, match="has come already"):
        came(purchase(packs=1, received=1), 1)


def test_freight_and_other_costs_are_purchases_too() -> None:
    plan = demo()
    plan = apply(plan, other_cost(plan, "blades", "market", Decimal("9.995"), DAY))
    assert plan.buying.purchases[-1].price == Decimal("10.00")
    shop = ShopList("Yard", "metal supplier", (), freight=Decimal(65))
    change = freight_of(shop, plan, DAY)
    assert change is not None
    plan = apply(plan, change)
    assert [p.id for p in plan.buying.purchases[-2:]] == ["other-1", "other-2"]
    assert freight_of(ShopList("Yard", "metal supplier", ()), plan, DAY) is None


def test_cost_by_kind_sums_up_to_the_cost() -> None:
    plan = demo()
    plan = apply(plan, other_cost(plan, "blades", "", Decimal("12.40"), DAY))
    cost = derive(plan, STOCK).cost
    rows = standing(cost, STOCK)
    assert sum(r.all for r in rows) == cost.net
    assert sum(r.planned for r in rows) == cost.planned
    paid = sum(p.amount for p in plan.buying.purchases if p.paid)
    assert sum(r.paid for r in rows) == paid
    with_work = standing(cost, STOCK, Decimal(400))
    assert with_work[-1].kind == "labour" and with_work[-1].planned == Decimal(400)


def test_shares_of_things_sum_up_with_what_is_bought() -> None:
    derived = derive(demo(), STOCK)
    shares = where_it_goes(derived.cost, derived.built)
    assert sum(s.total for s in shares) == derived.cost.total
    assert sum(s.net for s in shares) == derived.cost.net


def test_what_is_kept_back_goes_by_where_prices_come_from() -> None:
    # 2 x 18.50 = 37.00 by the catalogue: 15 % = 5.55; the shop's own price: 5 % = 1.85
    cost = cost_of([Need("latch-50", 2, 0, ())], Buying())
    assert kept_back(cost, set(), None) == Decimal("5.55")
    assert kept_back(cost, {"latch-50"}, None) == Decimal("1.85")
    assert kept_back(cost, set(), Decimal(20)) == Decimal("7.40")
    # what is bought is known
    assert kept_back(cost_of([], Buying(purchases=(purchase(price=Decimal(9)),))), set(), None) == 0


def test_what_had_been_ordered_by_each_day() -> None:
    rows = (
        purchase(id="a", ordered="2026-03-09", price=Decimal(5), packs=2),
        purchase(id="b", ordered="2026-03-02", price=Decimal(7)),
        purchase(id="c", ordered="2026-03-09", price=Decimal(1)), purchase(id="d", price=Decimal(50)),
    )  # fmt: skip
    found = by_day(cost_of([], Buying(purchases=rows)))
    assert found == (("2026-03-02", Decimal(7)), ("2026-03-09", Decimal(18)))


@given(
    st.lists(
        st.tuples(st.sampled_from(["latch-50", "al-2.5", "rivet-4.8x10"]), st.integers(1, 40),
                  st.decimals(0, 500, places=2), st.booleans()),
        max_size=8,
    ),
    st.integers(0, 12),
)  # fmt: skip
def test_no_cent_is_lost_whatever_is_bought(rows: list[tuple[str, int, Decimal, bool]], need: int) -> None:
    made = tuple(
        purchase(id=f"p{k}", item=item, packs=packs, price=price, received=packs if paid else 0, paid=paid)
        for k, (item, packs, price, paid) in enumerate(rows)
    )
    cost = cost_of([Need("latch-50", need, 0, ("h",))] if need else [], Buying(purchases=made))
    spent = sum((packs * price for _, packs, price, _ in rows), Decimal(0))
    have = sum(packs for item, packs, _, _ in rows if item == "latch-50")
    assert cost.net == spent + max(0, need - have) * Decimal("18.50")
    assert sum(r.all for r in standing(cost, STOCK)) == cost.net


def test_a_line_without_packs_is_bought_by_what_is_missing() -> None:
    line = ToBuy("thing seat", "Seat", "", "seat", (), Decimal("74.00"))
    change = bought([line], "Chandler", DAY, "ordered")
    value = change.changes[0].value  # type: ignore[union-attr]
    asked = bought([line], "Chandler", DAY, "asked", "2026-04-01").changes[0].value  # type: ignore[union-attr]
    assert (asked["stage"], asked["promised"]) == ("quote asked", None)
    assert (value["thing"], value["price"], value["received"]) == ("seat", "74.00", 0)


def test_a_line_that_was_bought_and_taken_back_can_be_bought_again() -> None:
    plan, line = demo(), next(x for x in lists(demo())[0].lines if x.item == "al-2.5")
    # the demo has bought some of it once
    assert line.taken == 1
    plan = apply(plan, bought([line], "Yard", DAY, "asked"))
    plan = apply(plan, RemoveThing(path=("buying", "purchases", "b-al-2.5-1")))
    again = next(x for x in lists(plan)[0].lines if x.item == "al-2.5")
    assert [p.id for p in apply(plan, bought([again], "Yard", DAY, "here")).buying.purchases][-1:] == [
        "b-al-2.5-3"
    ]


def test_a_thing_that_was_bought_and_left_the_plan_keeps_its_name_and_its_cost() -> None:
    values = {"id": "w-x-1", "thing": "gone", "name": "Old seat", "price": "50.00"}
    plan = apply(demo(), AddThing(path=("buying", "purchases"), value=values))
    rows = {r.id: r for r in came_to(derive(plan, STOCK))}
    assert (rows["gone"].title, rows["gone"].planned, rows["gone"].now) == ("Old seat", 0, Decimal(50))
