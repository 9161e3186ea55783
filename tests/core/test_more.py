"""What a change buys: counts and prices by hand."""

from decimal import Decimal

from stirrup.core.money.more import More, bought_of, more_of
from tests.boats import DECK, derive, plan

D = Decimal


def test_what_is_more_and_what_is_less_the_dearest_first() -> None:
    before = {"al": (2, D(172)), "ply": (1, D(84)), "angle": (3, D(39)), "same": (1, D(5))}
    after = {"al": (3, D(172)), "angle": (1, D(39)), "pvc": (1, D("60.50")), "same": (1, D(5))}
    al, ply, pvc = More("al", 1, D(172)), More("ply", -1, D(-84)), More("pvc", 1, D("60.50"))
    assert more_of(before, after) == (al, ply, More("angle", -2, D(-78)), pvc)
    assert more_of(before, before) == () and more_of({}, {}) == ()


def test_another_price_alone_buys_nothing_more() -> None:
    assert more_of({"al": (2, D(172))}, {"al": (2, D(180))}) == ()


def test_taken_back_it_is_the_other_way_round() -> None:
    before, after = {"al": (2, D(172))}, {"al": (4, D(172))}
    there, back = more_of(before, after), more_of(after, before)
    assert [(m.stock, -m.count, -m.cost) for m in back] == [(m.stock, m.count, m.cost) for m in there]


def test_of_a_boat_it_is_what_its_layouts_buy() -> None:
    derived = derive(plan(fittings=[DECK]))
    bought = bought_of(derived.sheets, derived.sticks)
    for layout in (*derived.sheets, *derived.sticks):
        assert bought[layout.job.stock] == (layout.bought, layout.job.price)
    assert sum(c * p for c, p in bought.values()) == sum(x.cost for x in (*derived.sheets, *derived.sticks))
