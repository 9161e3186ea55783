"""The cheapest mix of shops: by hand, and against every way of choosing shops."""

from __future__ import annotations

from decimal import Decimal
from itertools import product

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.money.mix import Mix, Wanted, cheapest_mix
from stirrup.core.money.suppliers import Offer, Supplier, best_packs, usual_sort
from stirrup.exchange.catalogue import starting

DAY = "2026-03-02"


def shop(key: str, **values: object) -> Supplier:
    return Supplier.model_validate({"id": key, "name": key.title(), **values})


def offer(
    supplier: str, item: str, price: str, quantity: float = 1.0, name: str = "", instead: str = ""
) -> Offer:
    return Offer(supplier=supplier, item=item, quantity=quantity, price=Decimal(price), on=DAY, name=name,
                 instead=instead)  # fmt: skip


NEAR = shop("near", delivers=False, fetched=True, km=10.0, hours=0.5, town="Mill End")
FAR = shop("far", freight=Decimal(30), free_from=Decimal(200))
PER_KM, HOUR = Decimal("0.50"), Decimal(20)


def test_freight_is_worth_it_only_when_the_saving_is_larger() -> None:
    offers = [offer("near", "latch", "20.00"), offer("far", "latch", "15.00")]
    # near: a trip of 10 km x 0.50 + 0.5 h x 20 = 15.00; 4 latches 80 + 15 = 95
    # far: 4 x 15 = 60 + 30 freight = 90
    few = cheapest_mix([Wanted("latch", 4)], [NEAR, FAR], offers, PER_KM, HOUR)
    assert (few.total, few.proven, [v.supplier.id for v in few.visits]) == (Decimal(90), True, ["far"])
    # 2 latches: near 40 + 15 = 55, far 30 + 30 = 60
    fewer = cheapest_mix([Wanted("latch", 2)], [NEAR, FAR], offers, PER_KM, HOUR)
    assert (fewer.total, fewer.trips) == (Decimal(55), (("Mill End", Decimal("15.00")),))
    # 14 latches are 210: delivered for nothing
    many = cheapest_mix([Wanted("latch", 14)], [NEAR, FAR], offers, PER_KM, HOUR)
    assert (many.total, many.visits[0].way) == (Decimal(210), "free")


def test_what_comes_along_on_a_trip_costs_no_second_one() -> None:
    yard = shop("yard", delivers=False, fetched=True, km=24.0, town="mill end ")
    offers = [offer("near", "latch", "20.00"), offer("yard", "angle", "39.00")]
    both = cheapest_mix([Wanted("latch", 1), Wanted("angle", 1)], [NEAR, yard], offers, PER_KM)
    # one trip, as long as the longer: 24 km x 0.50 = 12.00
    assert both.trips == (("Mill End", Decimal("12.00")),)
    assert both.total == Decimal("71.00")


def test_packs_are_the_cheapest_of_the_shop() -> None:
    offers = [offer("far", "rivet", "11.50", 50), offer("far", "rivet", "46.00", 250)]
    mix = cheapest_mix([Wanted("rivet", 280)], [FAR], offers)
    (choice,) = mix.visits[0].chosen
    assert [(p.quantity, n) for p, n in choice.packs] == [(250, 1), (50, 1)]
    assert mix.total == Decimal("46.00") + Decimal("11.50") + 30


def test_a_little_more_would_save_the_freight() -> None:
    mix = cheapest_mix([Wanted("latch", 12)], [FAR], [offer("far", "latch", "15.00")])
    assert (mix.visits[0].goods, mix.visits[0].to_free) == (Decimal(180), Decimal(20))
    mix = cheapest_mix([Wanted("latch", 10)], [FAR], [offer("far", "latch", "15.00")])
    assert mix.visits[0].to_free is None  # 50 more to save 30


def test_a_pin_holds_as_long_as_the_shop_has_it() -> None:
    offers = [offer("near", "latch", "20.00"), offer("far", "latch", "15.00")]
    pinned = cheapest_mix([Wanted("latch", 14)], [NEAR, FAR], offers, PER_KM, HOUR, {"latch": "near"})
    assert [v.supplier.id for v in pinned.visits] == ["near"]
    gone = cheapest_mix([Wanted("latch", 14)], [NEAR, FAR], offers[1:], PER_KM, HOUR, {"latch": "near"})
    assert [v.supplier.id for v in gone.visits] == ["far"]


def test_an_alternate_is_taken_only_where_somebody_said_that_it_will_do() -> None:
    offers = [
        offer("far", "latch", "20.00"),
        offer("far", "latch", "12.00", name="plain latch", instead="no lock"),
        offer("far", "latch", "50.00", 5, name="plain latch", instead="no lock"),
    ]
    wanted = [Wanted("latch", 6)]
    proper = cheapest_mix(wanted, [FAR], offers)
    # 6 x 20 = 120; the alternate would be a box of five and one: 50 + 12 = 62
    assert proper.visits[0].chosen[0].alternate is None and proper.visits[0].goods == Decimal(120)
    (told,) = proper.alternates["latch"]
    assert (told.cost, told.alternate and told.alternate.instead) == (Decimal(62), "no lock")
    other = cheapest_mix(wanted, [FAR], offers, steads={"latch"})
    (choice,) = other.visits[0].chosen
    assert (choice.cost, other.alternates, other.proven) == (Decimal(62), {}, True)
    # what it is for is never mixed of both: 20 + 50 would hold six too, were it one thing
    assert {p.price for p, _ in choice.packs} == {Decimal(50), Decimal(12)}


def test_the_proper_thing_is_taken_where_an_alternate_costs_the_same() -> None:
    other = offer("far", "latch", "20.00", name="plain", instead="no lock")
    offers = [other, offer("far", "latch", "20.00")]
    mix = cheapest_mix([Wanted("latch", 1)], [FAR], offers, steads={"latch"})
    assert mix.visits[0].chosen[0].alternate is None


def test_what_only_an_alternate_could_be_is_not_served_and_told() -> None:
    offers = [offer("far", "latch", "9", name="x", instead="white")]
    mix = cheapest_mix([Wanted("latch", 1)], [FAR], offers)
    assert mix.unserved == ("latch",) and mix.alternates["latch"][0].cost == Decimal(9)


def test_a_shop_that_delivers_only_large_orders_is_left_out_or_filled() -> None:
    large = shop("large", minimum=Decimal(100))
    offers = [
        offer("large", "latch", "15.00"),
        offer("near", "latch", "20.00"),
        offer("large", "oar", "60"),
    ]
    one = cheapest_mix([Wanted("latch", 1)], [NEAR, large], offers, PER_KM)
    assert [v.supplier.id for v in one.visits] == ["near"]
    three = cheapest_mix([Wanted("latch", 3), Wanted("oar", 1)], [NEAR, large], offers, PER_KM)
    assert three.visits[0].goods == Decimal(105)
    assert cheapest_mix([Wanted("oar", 1)], [large], offers).unserved == ("oar",)
    alone = cheapest_mix([Wanted("oar", 1), Wanted("latch", 1)], [NEAR, large], offers, PER_KM)
    assert (alone.unserved, [v.supplier.id for v in alone.visits]) == (("oar",), ["near"])


def test_what_nobody_has_is_told() -> None:
    mix = cheapest_mix([Wanted("oar", 1), Wanted("latch", 1)], [FAR], [offer("far", "latch", "15.00")])
    assert (mix.unserved, mix.total) == (("oar",), Decimal(45))
    assert cheapest_mix([], [FAR], []).proven


@st.composite
def markets(draw: st.DrawFn) -> tuple[list[Wanted], list[Supplier], list[Offer]]:
    shops = [
        shop(
            f"s{k}", freight=Decimal(draw(st.integers(0, 40))), delivers=k == 0 or draw(st.booleans()),
            free_from=draw(st.sampled_from([None, Decimal(30), Decimal(80)])), fetched=True,
            km=float(draw(st.integers(0, 60))), town=draw(st.sampled_from(["", "Mill End"])),
        )
        for k in range(draw(st.integers(1, 3)))
    ]  # fmt: skip
    wanted = [Wanted(f"i{k}", draw(st.integers(1, 6))) for k in range(draw(st.integers(1, 4)))]
    offers = [
        offer(s.id, w.item, f"{draw(st.integers(1, 4000)) / 100:.2f}") for s in shops for w in wanted
        if s is shops[0] or draw(st.booleans())
    ]  # fmt: skip
    return wanted, shops, offers


def by_trying(wanted: list[Wanted], shops: list[Supplier], offers: list[Offer]) -> Decimal:
    """The least of all ways of sharing the items out among the shops, and of each of bringing them."""
    price = {(o.item, o.supplier): o.price for o in offers}
    best = None
    for homes in product(*([s for s in shops if (w.item, s.id) in price] for w in wanted)):
        goods = {s.id: Decimal(0) for s in homes}
        for w, s in zip(wanted, homes, strict=True):
            goods[s.id] += price[w.item, s.id] * int(w.quantity)
        used = list({s.id: s for s in homes}.values())
        for ways in product(("order", "trip"), repeat=len(used)):
            cost, trips = sum(goods.values(), Decimal(0)), dict[str, Decimal]()
            for s, way in zip(used, ways, strict=True):
                if way == "order":
                    if not s.delivers:
                        break
                    free = s.free_from is not None and goods[s.id] >= s.free_from
                    cost += 0 if free else s.freight
                else:
                    town = s.town or s.id
                    trips[town] = max(trips.get(town, Decimal(0)), s.trip(PER_KM, Decimal(0)))
            else:
                total = cost + sum(trips.values(), Decimal(0))
                best = total if best is None else min(best, total)
    assert best is not None
    return best


@given(markets())
def test_no_way_of_choosing_shops_is_cheaper(
    market: tuple[list[Wanted], list[Supplier], list[Offer]],
) -> None:
    mix: Mix = cheapest_mix(*market, PER_KM)
    assert mix.proven
    assert mix.total == by_trying(*market) == mix.bound
    had = sorted(c.item for v in mix.visits for c in v.chosen)
    assert had == sorted(w.item for w in market[0])


def test_best_packs_take_the_lowest_price_of_each_size() -> None:
    offers = [offer("a", "x", "12", 10), offer("b", "x", "11", 10), offer("b", "x", "1.50")]
    assert [(p.quantity, p.price) for p in best_packs(offers)] == [(1, Decimal("1.50")), (10, Decimal(11))]


def test_shops_that_nobody_reaches_are_refused() -> None:
    with pytest.raises(ValueError, match="delivers, or you can fetch"):
        shop("none", delivers=False)


@pytest.mark.parametrize(
    ("item", "sort"),
    [("al-2.5", "metal supplier"), ("ply-12", "builder's market"), ("angle-40x40x3", "metal supplier"),
     ("rivet-4.8x10", "builder's market"), ("latch-50", "boatyard or chandler"),
     ("pvc-12", "boatyard or chandler")],
)  # fmt: skip
def test_where_such_things_are_usually_bought(item: str, sort: str) -> None:
    assert usual_sort(starting().find(item)) == sort
