"""Members on bars of several lengths: the least cost, and what is said about it."""

import itertools
import math
from collections import Counter

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.cutting.bars import BarJob, BarLayout, BarStock, Member, lay_out_bars, least_sum, room_of
from stirrup.core.cutting.diving import dived
from stirrup.core.cutting.knapsack import Knapsack
from stirrup.core.cutting.patterns import Columns, all_patterns
from stirrup.core.cutting.programme import Counted, Programme

LONG, SHORT = BarStock("long", 6.1, 39.0), BarStock("short", 3.05, 22.0)


def job(lengths: list[float], *stocks: BarStock, kerf: float = 0.003, trim: float = 0.005) -> BarJob:
    members = tuple(Member(f"m{k}", v) for k, v in enumerate(lengths))
    return BarJob("a frame", stocks, members, kerf, trim)


def can_be_cut(layout: BarLayout) -> bool:
    """The sum rule for every bar, every piece once, no bar that is not there."""
    task = layout.job
    lengths = {m.id: m.length for m in task.members}
    stocks = {s.id: s for s in task.stocks}
    for bar in layout.bars:
        total = sum(lengths[i] for i in bar.pieces) + task.kerf * (len(bar.pieces) - 1)
        if total > stocks[bar.stock].length - 2 * task.trim + 1e-9:
            return False
    used = Counter(b.stock for b in layout.bars)
    if any(s.count is not None and used[s.id] > s.count for s in task.stocks):
        return False
    told = Counter(i for b in layout.bars for i in b.pieces) + Counter(layout.unplaced)
    return told == Counter({m.id: m.qty for m in task.members})


def test_the_shorter_bar_is_taken_where_it_is_enough() -> None:
    # 2.9 goes on a short one (22); 2.9 + 2.9 on two short ones (44) or on one long one (39)
    assert lay_out_bars(job([2.9], LONG, SHORT)).cost == 22.0
    two = lay_out_bars(job([2.9, 2.9], LONG, SHORT))
    assert (two.cost, two.bound, two.proven) == (39.0, 39.0, True)


def test_leftovers_come_first_and_each_once() -> None:
    rest = BarStock("r1", 1.43, 0.0, 1)
    one = lay_out_bars(job([1.4], LONG, SHORT, rest))
    assert (one.cost, one.bars[0].stock, one.proven) == (0.0, "r1", True)
    # 1.42 is what the leftover holds between its trims; two of them need a bar beside it
    two = lay_out_bars(job([1.42, 1.42], LONG, SHORT, rest))
    assert (two.cost, sorted(b.stock for b in two.bars)) == (22.0, ["r1", "short"])


def test_what_fits_on_nothing_is_named_and_the_rest_is_cut() -> None:
    layout = lay_out_bars(job([7.0, 1.0], LONG))
    assert (layout.unplaced, [b.pieces for b in layout.bars], layout.proven) == (("m0",), [("m1",)], True)


def test_when_all_bars_are_used_the_rest_is_named() -> None:
    layout = lay_out_bars(job([2.0, 2.0, 2.0], BarStock("r", 2.5, 0.0, 2)))
    assert len(layout.bars) == 2 and len(layout.unplaced) == 1 and not layout.proven


def test_the_sum_rule_is_exact_at_its_limit() -> None:
    # two of 3.0435 with one kerf are 6.09, all that is left between the trims
    assert len(lay_out_bars(job([3.0435, 3.0435], LONG)).bars) == 1
    assert len(lay_out_bars(job([3.0435, 3.0436], LONG)).bars) == 2


def test_of_one_member_as_many_are_cut_as_are_wanted() -> None:
    members = (Member("post", 0.75, 9),)
    # eight and their kerfs are 6.021 of the 6.09 of one bar
    layout = lay_out_bars(BarJob("posts", (LONG,), members))
    assert sorted(len(b.pieces) for b in layout.bars) == [1, 8] and layout.proven


def least_by_trying_all(sizes: list[int], stocks: list[tuple[int, float]]) -> float:
    """Least cost of whole-number pieces without kerf or trim: one after the other onto every open bar or a
    new one of any kind."""
    best, stack = math.inf, [(0, (), 0.0)]
    while stack:
        k, loads, cost = stack.pop()
        if cost >= best:
            continue
        if k == len(sizes):
            best = cost
            continue
        for n, left in enumerate(loads):
            if left >= sizes[k]:
                stack.append((k + 1, (*loads[:n], left - sizes[k], *loads[n + 1 :]), cost))
        for room, price in stocks:
            if room >= sizes[k]:
                stack.append((k + 1, (*loads, room - sizes[k]), cost + price))
    return best


@settings(max_examples=40, deadline=None)
@given(st.lists(st.integers(1, 9), min_size=1, max_size=6), st.sampled_from([(7, 4), (9, 6), (12, 7)]))
def test_it_is_the_least_of_trying_all(sizes: list[int], prices: tuple[int, int]) -> None:
    # metres without kerf and trim
    stocks = [(12, float(prices[0])), (9, float(prices[1])), (5, 3.0)]
    bars = [BarStock(f"s{room}", room, price) for room, price in stocks]
    layout = lay_out_bars(job([float(s) for s in sizes], *bars, kerf=0.0, trim=0.0))
    assert can_be_cut(layout) and layout.proven
    assert layout.cost == pytest.approx(least_by_trying_all(sorted(sizes, reverse=True), stocks))


@settings(max_examples=25, deadline=None)
@given(
    st.lists(st.integers(200, 3000), min_size=1, max_size=25),
    st.lists(st.integers(300, 2500), max_size=4),
    st.integers(0, 6),
)
def test_every_layout_can_be_cut_and_none_is_under_its_bound(lengths, rests, kerf: int) -> None:
    leftovers = [BarStock(f"r{k}", v / 1000, 0.0, 1) for k, v in enumerate(rests)]
    task = job([v / 1000 for v in lengths], LONG, SHORT, *leftovers, kerf=kerf / 1000)
    quick, full = lay_out_bars(task, quick=True), lay_out_bars(task)
    assert can_be_cut(quick) and can_be_cut(full)
    assert full.bound - 1e-9 <= full.cost <= quick.cost + 1e-9
    # area says so as well: no metre costs less than in the cheaper bar
    rest = sum(lengths) / 1000 - sum(rests) / 1000
    assert full.bound >= rest * min(39 / 6.1, 22 / 3.05) * 0.98 - 1e-6


def test_a_bound_is_lifted_to_what_whole_bars_cost() -> None:
    # 10 m of bars of 6.1 at 39 and 3.05 at 22: one of each (61) has 9.15 only; two long ones (78), one and
    # two short ones (83) or four short ones (88) hold it
    counted = Counted((1,), (10_000,), (6100, 3050), (39.0, 22.0), (math.inf, math.inf))
    assert least_sum(counted, 0.0) == 78.0
    assert least_sum(counted, 79.0) == 83.0


def test_rooms_are_counted_in_tenths_with_a_kerf_more() -> None:
    # 6.1 less two trims of 5 mm and with 3 mm: 6.093
    assert room_of(job([1.0], LONG), LONG) == 60_930


def test_the_linear_programme_over_its_columns() -> None:
    # 7 + 5 + 3 fill a bar of 15, so four bars hold four of each: 60 / 15 = 4 at least
    columns = Columns(Counted((7, 5, 3), (4, 4, 4), (15,), (1.0,), (math.inf,)))
    bound, priced = columns.generate(lambda _: False, lambda: False)
    assert bound == pytest.approx(4.0) and priced.missing == pytest.approx(0.0)
    chosen, best = columns.chosen(5.0)
    assert chosen is not None and best and len(chosen) == 4


def test_patterns_to_which_nothing_could_be_added() -> None:
    # of two 4 and one 3 a bar of 8 takes 4 + 4 or 4 + 3; a bar of 3 takes the 3
    counted = Counted((4, 3), (2, 1), (8, 3), (1.0, 1.0), (math.inf, math.inf))
    assert set(all_patterns(counted, 10) or []) == {(0, (2, 0)), (0, (1, 1)), (1, (0, 1))}
    assert all_patterns(counted, 2) is None


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.tuples(st.integers(3, 40), st.integers(1, 4), st.integers(0, 9)), min_size=1, max_size=4,
             unique_by=lambda row: row[0]),
    st.integers(40, 90),
)  # fmt: skip
def test_the_most_valuable_pattern_is_that_of_trying_all(rows, room: int) -> None:
    sizes, demand, worth = (list(column) for column in zip(*rows, strict=True))
    knapsack = Knapsack(sizes, demand, 90)
    knapsack.price(np.array(worth, dtype=float))
    every = itertools.product(*(range(d + 1) for d in demand))
    fitting = [c for c in every if sum(n * s for n, s in zip(c, sizes, strict=True)) <= room]
    most = max(sum(n * w for n, w in zip(c, worth, strict=True)) for c in fitting)
    found = knapsack.pattern(room)
    assert found in fitting
    assert sum(n * w for n, w in zip(found, worth, strict=True)) == most == knapsack.best(room)


def test_a_bound_knows_how_full_a_bar_can_be() -> None:
    # pieces of 30: a bar of 100 holds three of them, 90; ten pieces are 300, which three bars of 100 would
    # hold by length alone
    counted = Counted((30,), (10,), (100,), (1.0,), (math.inf,))
    assert counted.fills == (90,)
    assert least_sum(counted, 0.0) == 4.0


def test_the_programme_goes_on_with_other_limits() -> None:
    # pieces of 60 and 40, a bar of 100: with both on one bar, two of each need two bars; alone four
    counted = Counted((60, 40), (2, 2), (100,), (1.0,), (math.inf,))
    programme = Programme(counted)
    alone = [(0, (1, 0)), (0, (0, 2))]
    first = programme.solved(alone)
    # two bars with a long piece each, one with two short ones
    assert (first.value, first.missing) == (pytest.approx(3.0), pytest.approx(0.0))
    both = programme.solved([*alone, (0, (1, 1))])
    assert both.value == pytest.approx(2.0) and both.pieces @ [2, 2] == pytest.approx(2.0)
    programme.ask_for([1, 0], [math.inf], [*alone, (0, (1, 1))])
    less = programme.solved([*alone, (0, (1, 1))])
    # what takes more than is wanted is not used any more
    assert less.value == pytest.approx(1.0) and less.shares == pytest.approx([1.0, 0.0, 0.0])


@given(st.lists(st.integers(8, 60), min_size=1, max_size=9), st.integers(0, 3))
@settings(max_examples=40, deadline=None)
def test_bars_out_of_the_programme_hold_what_is_wanted(sizes: list[int], few: int) -> None:
    lots = Counter(sizes)
    kinds = tuple(sorted(lots, reverse=True))
    counted = Counted(kinds, tuple(lots[k] for k in kinds), (100, 61), (3.0, 2.0), (math.inf, float(few)))
    bars, left = dived(counted, Columns(counted), lambda: False)
    assert not any(left) and sum(s == 1 for s, _ in bars) <= few
    for s, pattern in bars:
        assert sum(n * k for n, k in zip(pattern, kinds, strict=True)) <= counted.rooms[s]
    assert tuple(np.sum([p for _, p in bars], axis=0)) == counted.demand


def test_nothing_is_printed_by_the_way(capfd: pytest.CaptureFixture[str]) -> None:
    lay_out_bars(job([0.31 + 0.07 * k for k in range(40)], LONG, SHORT))
    assert capfd.readouterr() == ("", "")
