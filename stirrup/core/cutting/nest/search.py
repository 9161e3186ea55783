"""Least cost found: some pieces of stock are emptied, what lay there is laid anew, and better is kept.

A first answer comes from a few orders of the parts; from then on single pieces of stock, most often the
emptiest one and a few others, are filled again in orders that are shaken a little (ruin and recreate:
Schrimpf and others 2000). The figure that is followed is cost, then how unevenly the stock is filled
(Falkenauer 1996: full pieces and one that is nearly empty lead to one piece less), then how much of the
emptiest one stays in one piece.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

import numpy as np
from shapely.geometry import Polygon

from stirrup.core.cutting.cut_job import Bin, CutJob, CutLayout
from stirrup.core.cutting.nest.bound import bound_of
from stirrup.core.cutting.nest.boxes import LOOSE, STRAIGHT, packed
from stirrup.core.cutting.nest.fill import Budget, Filled, OutOfWorkError, Table
from stirrup.core.cutting.nest.misfit import too_large
from stirrup.core.cutting.nest.shapes import World, usable
from stirrup.core.cutting.nest.straight import StraightTable, rectangle_of
from stirrup.core.record import dataclass

# height of a strip [m], strips along y instead, how often it is looked at so: a finer look takes longer
LOOKS = ((0.004, False, 0.8), (0.002, False, 0.1), (0.004, True, 0.08), (0.001, False, 0.02))
STRAIGHT_LOOKS = ((0.001, False, 0.5), (0.001, True, 0.5))
MANY = 300  # pieces to cut: from so many on an answer is wanted before their outlines are looked at
MOST_EMPTIED = 3
SHAKE = 0.35  # of a part's area, up or down, in the order of a new filling
TILTS_M = (0.0, 0.0005, 0.004)  # for each strip: fills a corner rather than one end
WARMTH = 0.02  # a filling that is worse by so much may be kept at first

Rank = tuple[float, float, float, float]


@dataclass(frozen=True)
class Answer:
    """Stock as it is filled, and the pieces that go on none."""

    filled: tuple[Filled, ...]
    left: tuple[int, ...]


class Search:
    """One job, looked at in several ways; what is best so far; the rest of the work allowed."""

    def __init__(self, job: CutJob, budget: Budget, seed: int = 0) -> None:
        hopeless = {p.id for p in job.parts if too_large(job, p)}
        self.hopeless = tuple(p.id for p in job.parts if p.id in hopeless for _ in range(p.qty))
        self.whole, self.budget = job, budget
        self.job = job = replace(job, parts=tuple(p for p in job.parts if p.id not in hopeless))
        self.rng = np.random.default_rng(seed)
        self.tables = dict[World, Table | StraightTable]()
        looks = STRAIGHT_LOOKS if job.straight else LOOKS
        self.worlds = [World(_cell(job, about, upright), upright) for about, upright, _ in looks]
        self.chances = [chance for _, _, chance in looks]
        sizes = (*SIZES, *ACROSS) if job.straight else SIZES
        self.sizes = [[size(p.polygon) for p in job.parts for _ in range(p.qty)] for size in sizes]
        self.areas = self.sizes[0]
        self.stock_areas = [s.polygon.area for s in job.stocks]
        self.bound = bound_of(self.job)
        self.rooms = [rectangle_of(job, s) if job.straight or s.square else None for s in job.stocks]

    def table(self, world: World) -> Table | StraightTable:
        """The job as it is looked at in this way."""
        if world not in self.tables:
            straight = self.job.straight
            self.tables[world] = (
                StraightTable.of(self.job, world, self.rooms) if straight else Table.of(self.job, world)
            )
        return self.tables[world]

    def rank(self, answer: Answer) -> Rank:
        """What is followed, less is better."""
        cost = sum(self.job.stocks[f.stock].cost for f in answer.filled)
        shares = [f.area / self.stock_areas[f.stock] for f in answer.filled]
        rest = min(answer.filled, key=lambda f: f.area / self.stock_areas[f.stock]).reach if shares else 0.0
        left = sum(self.areas[i] for i in answer.left)
        return left, round(cost, 9), len(shares) - sum(s * s for s in shares), rest

    # ------------------------------------------------------------------ filling

    def refill(
        self, table: Table | StraightTable, order: Sequence[int], used: Counter[int], tilt: float
    ) -> Answer:
        """The items on stock that is left over from what is used, one piece after the other."""
        used, filled, order = Counter(used), list[Filled](), list(order)
        useless = set[int]()  # nothing of what is left goes on these, nor will it of less
        while order:
            tried = list[Filled]()
            for group in self._stocks(used, useless):
                for stock in group:
                    found = table.fill(stock, order, tilt, self.budget)
                    tried += [found] if found else []
                    useless |= set() if found else {stock}
                if tried:
                    break
            if not tried:
                break
            chosen = self._choose(tried, len(order))
            used[chosen.stock] += 1
            filled.append(chosen)
            gone = set(chosen.items)
            order = [i for i in order if i not in gone]
        return Answer(tuple(filled), tuple(order))

    def _stocks(self, used: Counter[int], useless: set[int]) -> list[list[int]]:
        """What to try, one group after the other: each that costs nothing by itself, the largest first;
        then everything that is to be had."""
        stocks = self.job.stocks
        there = [
            s for s, stock in enumerate(stocks)
            if s not in useless and (stock.count is None or used[s] < stock.count)
        ]  # fmt: skip
        free = sorted((s for s in there if stocks[s].cost <= 0), key=lambda s: -self.stock_areas[s])
        return [[s] for s in free] + [[s for s in there if stocks[s].cost > 0]]

    def _choose(self, tried: list[Filled], wanted: int) -> Filled:
        """The cheapest that holds everything; else the one that gives most for its cost."""
        costs = [self.job.stocks[f.stock].cost for f in tried]
        whole = [k for k, f in enumerate(tried) if len(f.items) == wanted]
        best = min(range(len(tried)), key=lambda k: (costs[k] / tried[k].area, -tried[k].area))
        if whole:
            least = min(whole, key=lambda k: costs[k])
            # the rest after the other one needs a piece of stock as well
            if costs[least] <= costs[best] + min(costs):
                return tried[least]
        return tried[best]

    # ------------------------------------------------------------------ searching

    def firsts(self) -> Iterator[Answer]:
        """Answers from a few orders, largest first in one sense or another, and from boxes; where there is
        very much to cut, one from shelves comes before them."""
        if len(self.areas) > MANY and not self.job.straight:
            shelves = StraightTable.of(self.job, World(1.0), self.rooms)
            lowest = sorted(range(len(self.areas)), key=lambda i: (-self.sizes[2][i], i))
            yield self.refill(shelves, lowest, Counter(), 0.0)
        for world in self.worlds[:2] if self.job.straight else self.worlds[:1]:
            for sizes in self.sizes:
                order = sorted(range(len(sizes)), key=lambda i: (-sizes[i], i))
                found = self.refill(self.table(world), order, Counter(), 0.0)
                if found.left and not self.job.straight:
                    used = Counter(f.stock for f in found.filled)
                    rest = self.refill(self.table(self.worlds[-1]), found.left, used, 0.0)
                    found = Answer(found.filled + rest.filled, rest.left)
                yield found
        for algorithm in STRAIGHT if self.job.straight else LOOSE:
            self.budget.spend(len(self.areas) ** 2)
            found_boxed = packed(self.job, algorithm, self.rooms)
            if found_boxed is not None:
                yield Answer(found_boxed, ())

    def step(self, now: Answer) -> Answer:
        """Another answer near to this one."""
        rng, filled = self.rng, list(now.filled)
        several = int(rng.integers(1, min(MOST_EMPTIED, len(filled)) + 1))
        shares = np.array([f.area / self.stock_areas[f.stock] for f in filled])
        odds = 1.05 - shares
        emptied = set(rng.choice(len(filled), size=several, replace=False, p=odds / odds.sum()).tolist())
        if rng.random() < 0.5:
            emptied.add(int(np.argmin(shares)))
        items = [i for k in sorted(emptied) for i in filled[k].items] + list(now.left)
        world = self.worlds[int(rng.choice(len(self.worlds), p=self.chances))]
        size = int(rng.integers(len(self.sizes))) if self.job.straight else 0
        sizes = self.sizes[size]
        weight = {i: sizes[i] * (1 + SHAKE * float(rng.uniform(-1, 1))) for i in items}
        order = sorted(items, key=lambda i: (-weight[i], i))
        kept = tuple(f for k, f in enumerate(filled) if k not in emptied)
        tilt = TILTS_M[int(rng.integers(len(TILTS_M)))]
        again = self.refill(self.table(world), order, Counter(f.stock for f in kept), tilt)
        return replace(again, filled=kept + again.filled)

    def done(self, answer: Answer) -> bool:
        """Whether nothing can be cheaper, and everything lies."""
        rank = self.rank(answer)
        return rank[0] == 0 and rank[1] <= self.bound.cost + 1e-9

    def run(self, better: Callable[[CutLayout], None] = lambda _: None) -> CutLayout:
        """Search until the work is done or nothing can be cheaper; `better` is told of each improvement."""
        best = Answer((), tuple(range(len(self.areas))))
        try:
            for found in self.firsts():
                self.budget.patient = False
                if self.rank(found) < self.rank(best):
                    best = found
                    better(self.layout(best))
            for found in self._better(best):
                best = found
                better(self.layout(best))
        except OutOfWorkError:
            pass
        return self.layout(best)

    def _better(self, best: Answer) -> Iterator[Answer]:
        """Answers, each better than the last."""
        now, warmth = best, WARMTH
        while best.filled and not self.done(best):
            other, warmth = self.step(now), warmth * 0.999
            mine, theirs = self.rank(now), self.rank(other)
            as_cheap = theirs[:2] == mine[:2]
            close = theirs[2] < mine[2] + warmth * float(self.rng.random()) or theirs[2:] <= mine[2:]
            if theirs[:2] < mine[:2] or (as_cheap and close):
                now = other
            if theirs < self.rank(best):
                best = other
                yield best

    def layout(self, answer: Answer) -> CutLayout:
        """As it is told to others."""
        names = [p.id for p in self.job.parts for _ in range(p.qty)]
        bins = tuple(Bin(self.job.stocks[f.stock].id, f.lays) for f in answer.filled)
        left = self.hopeless + tuple(names[i] for i in answer.left)
        return CutLayout(self.whole, bins, left, self.bound)


SIZES: tuple[Callable[[Polygon], float], ...] = (
    lambda p: float(p.area),
    lambda p: max(_extent(p)),
    lambda p: min(_extent(p)),
    lambda p: math.prod(_extent(p)),
)

# shelves are filled best from the highest part on: along either side of the stock
ACROSS: tuple[Callable[[Polygon], float], ...] = (lambda p: _extent(p)[1], lambda p: _extent(p)[0])


def _extent(polygon: Polygon) -> tuple[float, float]:
    x0, y0, x1, y1 = polygon.bounds
    return x1 - x0, y1 - y0


def _cell(job: CutJob, about: float, upright: bool) -> float:
    """Height of a strip near `about` that goes into the first stock a whole and even number of times: a
    part as high as the stock, or half of it, fits to the last digit."""
    free = next((u for s in job.stocks if not (u := usable(job, s)).is_empty), None)
    if free is None:
        return about
    high = _extent(free)[0 if upright else 1]
    return high / max(2, 2 * round(high / about / 2))
