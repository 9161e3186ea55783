"""Quotes, change orders and bills: worked out by hand, and no cent lost whatever is agreed."""

from __future__ import annotations

from decimal import Decimal
from functools import cache

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.derive import Derived, derive
from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import RemoveThing, SetValue, Together, apply
from stirrup.core.plan.model import Plan
from stirrup.core.plan.terms import Terms
from stirrup.core.quoting import (
    Line,
    Paper,
    Tax,
    _staged,
    agreed,
    bill_of,
    change_order,
    quoted,
    read_stages,
)
from stirrup.core.where_it_goes import as_planned, where_it_goes
from stirrup.demo.seed import FILES, demo_plan
from stirrup.exchange.catalogue import starting

D = Decimal


@cache
def sedge() -> Plan:
    return demo_plan(FILES[0])


@cache
def derived_of(height: float = 0.0) -> Derived:
    plan = sedge()
    if height:
        plan = apply(plan, SetValue(path=("fittings", "bow-deck", "height"), value=height))
    return derive(plan, starting())


def quote(derived: Derived | None = None, **terms: object) -> Paper:
    return quoted(derived or derived_of(), Terms.model_validate(terms), 7, "2026-03-02", "2026-04-01")


def line(id_: str, goods: str, hours: float = 0.0, work: str = "0") -> Line:
    return Line(id=id_, title=id_, goods=D(goods), hours=hours, work=D(work))


def plain(*lines: Line, percent: str = "8", overhead: str = "0", kg: float = 0.0) -> Paper:
    """A paper of lines, taxed alike."""
    net = sum((x.net for x in lines), D(0)) + D(overhead)
    tax = (net * D(percent) / 100).quantize(D("0.01"))
    return Paper(
        kind="quote", customer="", day="2026-03-02", currency="$", revision=1, lines=lines,
        overhead=D(overhead), taxes=(Tax(on="all of it", percent=D(percent), of=net, amount=tax),),
        added_kg=kg,
    )  # fmt: skip


def test_a_quote_is_cost_with_margin_and_hours() -> None:
    paper = quote(margin=D(20), rate=D(50), overhead=D(10))
    planned = as_planned(derived_of())
    shares = {s.id: s.net for s in where_it_goes(planned, derived_of().built)}
    deck = next(x for x in paper.lines if x.id == "bow-deck")
    assert deck.goods == (shares["bow-deck"] * D("1.2")).quantize(D("0.01"), "ROUND_HALF_UP")
    assert deck.work == D(str(deck.hours)) * 50
    lines = sum(x.net for x in paper.lines)
    assert paper.overhead == (lines * D("0.1")).quantize(D("0.01"), "ROUND_HALF_UP")
    assert paper.net == lines + paper.overhead
    assert paper.total == paper.net + paper.taxes[0].amount
    # the demo's tax is 8 percent, and work is taxed as goods where nothing else is said
    assert [(t.on, t.percent, t.of) for t in paper.taxes] == [("all of it", D(8), paper.net)]
    assert sum(s.amount for s in paper.stages) == paper.total


def test_nothing_on_top_is_what_it_costs() -> None:
    paper = quote(margin=D(0))
    planned = as_planned(derived_of())
    assert (paper.net, paper.total) == (planned.net, planned.total)
    # two ball studs too many, 4.20 each, are not the customer's
    assert derived_of().cost.net - planned.net == D("8.40")
    assert paper.work == 0 and paper.hours > 10


def test_work_may_be_taxed_otherwise() -> None:
    paper = quote(rate=D(40), work_tax=D(0))
    goods, work = paper.taxes
    assert (goods.on, work.on, work.amount, work.of) == ("goods", "work", 0, paper.work)
    assert goods.of + work.of == paper.net
    none = quote(work_tax=D(5))  # no work is charged: nothing of it is taxed
    assert [t.on for t in none.taxes] == ["goods"]


@pytest.mark.parametrize(
    ("text", "read"),
    [("Deposit 40; On handing over 60", [("Deposit", 40), ("On handing over", 60)]), ("", []),
     ("All of it 100 %;", [("All of it", 100)]),
     ("Deck 2 in 33.33; rest 66.67", [("Deck 2 in", D("33.33")), ("rest", D("66.67"))])],
)  # fmt: skip
def test_stages_as_they_are_typed(text: str, read: list[tuple[str, object]]) -> None:
    assert list(read_stages(text)) == read


@pytest.mark.parametrize(
    ("text", "why"),
    [("Deposit", "read “Deposit”"), ("Deposit 40", "are 40 percent"), ("a 50; b 60", "are 110 percent"),
     (";".join(f"s{k} 10" for k in range(10)), "read 10 stages"), ("40", "read “40”")],
)  # fmt: skip
def test_stages_that_are_not_all_of_it_are_refused(text: str, why: str) -> None:
    with pytest.raises(CoreError, match=why):
        read_stages(text)


def test_what_changed_is_told_thing_by_thing() -> None:
    before = plain(line("deck", "500.00", 10, "400.00"), line("seat", "80.00"), kg=40.0)
    now = plain(line("deck", "530.00", 11.5, "460.00"), line("box", "60.00"), kg=46.5)
    order = change_order(now, [before], "Q-0001")
    assert order is not None
    rows = {x.id: (x.goods, x.hours, x.work) for x in order.lines}
    assert rows == {
        "deck": (D(30), 1.5, D(60)), "seat": (D(-80), 0.0, D(0)), "box": (D(60), 0.0, D(0)),
    }  # fmt: skip
    # 70 more before tax; 980 at 8 % were 78.40, 1,050 are 84.00
    assert (order.net, order.taxes[0].amount, order.total) == (D(70), D("5.60"), D("75.60"))
    assert (order.added_kg, order.of, order.kind) == (6.5, "Q-0001", "change order")
    assert change_order(now, [before, order], "Q-0001") is None
    assert {k: v.net for k, v in agreed([before, order]).items() if v.net} == {
        "deck": D(990), "box": D(60)
    }  # fmt: skip


def test_a_plan_that_is_as_agreed_has_no_change_order() -> None:
    assert change_order(quote(rate=D(40)), [quote(rate=D(40))], "Q-0001") is None


def test_a_plan_that_changes_leaves_the_quote_as_it_is() -> None:
    before = quote(rate=D(40))
    kept = before.model_dump_json()
    gone = Together(changes=(RemoveThing(path=("items", sedge().items[-1].id)),))
    changed = derive(apply(sedge(), gone), starting())
    now = quote(changed, rate=D(40))
    order = change_order(now, [before], "Q-0001")
    assert before.model_dump_json() == kept
    assert Paper.model_validate_json(kept) == before
    if order is not None:
        assert order.total == now.total - before.total


def test_what_was_paid_for_a_thing_is_not_the_customer_s() -> None:
    dearer = SetValue(path=("buying", "purchases", "b-latch-50-1", "price"), value="99.00")
    now = quote(derive(apply(sedge(), dearer), starting()), rate=D(40))
    assert change_order(now, [quote(rate=D(40))], "Q-0001") is None


def test_a_quote_holds_the_terms_that_it_was_given_on() -> None:
    paper = quote(margin=D(10))
    # the demo says nothing of an hour; its tax is 8 percent
    assert (paper.terms.margin, paper.terms.rate, paper.terms.tax) == (D(10), D(0), D(8))
    richer = derive(apply(sedge(), SetValue(path=("wishes", "rate"), value="45")), starting())
    assert quote(richer).terms.rate == D(45)
    later = quoted(richer, paper.terms, 8, "2026-03-02", "2026-04-01")
    assert change_order(later, [paper], "Q-0001") is None


def test_stages_billed_one_by_one_are_the_quote() -> None:
    paper = quote(rate=D(41), margin=D("12.5"), overhead=D("3.3"), work_tax=D("5.5"),
                  stages="Deposit 33.33; half 33.33; end 33.34")  # fmt: skip
    bills = [bill_of(paper, k, "Q-0001", "2026-05-05") for k in range(3)]
    assert [b.total for b in bills] == [s.amount for s in paper.stages]
    assert sum(b.total for b in bills) == paper.total
    assert sum(b.net for b in bills) == paper.net
    for k in range(2):
        assert sum(b.taxes[k].amount for b in bills) == paper.taxes[k].amount
    with pytest.raises(CoreError, match="no stage 4"):
        bill_of(paper, 3, "Q-0001", "2026-05-05")


CENTS = st.integers(-500_000, 500_000).map(lambda n: D(n) / 100)


@given(
    st.lists(st.tuples(st.sampled_from("abcd"), CENTS, CENTS), max_size=5, unique_by=lambda r: r[0]),
    st.lists(st.tuples(st.sampled_from("abcd"), CENTS, CENTS), max_size=5, unique_by=lambda r: r[0]),
    st.lists(st.integers(1, 50), min_size=1, max_size=6),
    st.sampled_from(["0", "7.7", "8", "19", "20"]),
)  # fmt: skip
def test_no_cent_is_lost_between_quote_change_orders_and_bills(
    first: list[tuple[str, D, D]], second: list[tuple[str, D, D]], weights: list[int], percent: str
) -> None:
    def paper(rows: list[tuple[str, D, D]]) -> Paper:
        return plain(*(line(i, str(g), 1.0, str(w)) for i, g, w in rows), percent=percent)

    whole = sum(weights)
    parts = [(D(w * 100) / whole).quantize(D("0.01")) for w in weights[:-1]]
    parts.append(100 - sum(parts))
    before = paper(first)
    now = paper(second)
    order = change_order(now, [before], "Q-0001")
    sum_ = before.total + (order.total if order else 0)
    assert sum_ == now.total
    stages = read_stages("; ".join(f"part {p}" for p in parts if p > 0))
    if sum(p for _, p in stages) != 100:
        return
    for one in (before, order):
        if one is None:
            continue
        staged = one.model_copy(update={"stages": _staged(one.total, stages)})
        bills = [bill_of(staged, k, "Q", "2026-03-03") for k in range(len(stages))]
        assert sum((b.total for b in bills), D(0)) == one.total
        assert sum((b.net for b in bills), D(0)) == one.net


def test_a_quote_without_stages_is_paid_at_once() -> None:
    paper = quote(stages="")
    assert [(s.percent, s.amount) for s in paper.stages] == [(D(100), paper.total)]
    assert bill_of(paper, 0, "Q-0001", "2026-05-05").total == paper.total
