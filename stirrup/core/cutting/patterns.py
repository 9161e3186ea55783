"""Cutting patterns of bars: the linear programme that prices pieces, and whole bars chosen by them."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np
import scipy
from numpy.typing import NDArray

from stirrup.core.cutting.knapsack import Knapsack
from stirrup.core.cutting.programme import Column, Counted, Priced, Programme

Floats = NDArray[np.float64]
ROUNDS = 300
HAIR = 1e-7
PASSES = 40  # of choosing bars one after the other by what pieces are worth
NOISE = 0.3  # in what they are worth then
MOST_EMPTIED = 5
SHAKE = 0.25  # of what a piece is worth, or a power of it, when a few bars are cut anew


@dataclass
class Columns:
    """The patterns known of a job."""

    job: Counted
    known: dict[Column, None] = field(default_factory=dict)
    _programme: Programme | None = None

    def add(self, columns: list[Column]) -> int:
        """Take these up; how many were new."""
        before = len(self.known)
        self.known.update(dict.fromkeys(columns))
        return len(self.known) - before

    def alone(self) -> list[Column]:
        """Each piece by itself, on the shortest bar there is that takes it."""
        job, out = self.job, list[Column]()
        for k, size in enumerate(job.sizes):
            takes = [s for s, room in enumerate(job.rooms) if room >= size and job.most[s] >= 1]
            if takes:
                shortest = min(takes, key=lambda s: job.rooms[s])
                out.append((shortest, tuple(int(n == k) for n in range(len(job.sizes)))))
        return out

    def priced(self) -> Priced:
        """The linear programme over the patterns known, from where its last answer was; what is not placed
        costs more than anything."""
        if self._programme is None:
            self._programme = Programme(self.job)
        return self._programme.solved(list(self.known))

    def refined(self, job: Counted) -> Columns:
        """The same patterns for the job in finer units; what is known of the one is known of the other."""
        return Columns(job, self.known, self._programme)

    def generate(self, enough: Callable[[float], bool], stop: Callable[[], bool]) -> tuple[float, Priced]:
        """Add patterns until none is worth more than its bar; a bound on the cost, the last prices.

        enough: whether a bound is as good as is wanted.
        """
        job, bound = self.job, 0.0
        self.add(self.alone())
        knapsack = Knapsack(list(job.sizes), list(job.demand), max(job.rooms))
        for _ in range(ROUNDS):
            priced = self.priced()
            knapsack.price(priced.pieces)
            worth = np.array([knapsack.best(room) for room in job.rooms])
            bound = max(bound, self._bound(priced, worth))
            over = worth - np.array(job.costs) + priced.limits
            new = [(s, knapsack.pattern(job.rooms[s])) for s in np.flatnonzero(over > HAIR).tolist()]
            if not new or enough(bound) or stop() or not self.add(new + self._beside(new, priced.pieces)):
                break
        return bound, priced

    def _bound(self, priced: Priced, worth: Floats) -> float:
        """What no layout can cost less than, at any prices: scaled down until no unlimited bar gains
        (Farley 1990), less what the bars of which there are few gain."""
        job = self.job
        costs, most = np.array(job.costs), np.array(job.most)
        unlimited = np.isinf(most)
        with np.errstate(divide="ignore"):
            shares = np.where(unlimited & (worth > 0), costs / np.maximum(worth, 1e-300), np.inf)
        scale = min(1.0, float(np.min(shares, initial=np.inf)))
        gains = np.where(
            unlimited, 0.0, np.where(unlimited, 0.0, most) * np.maximum(0.0, scale * worth - costs)
        )
        return scale * float(priced.pieces @ np.array(job.demand)) - float(np.sum(gains))

    def _beside(self, new: list[Column], worth: Floats) -> list[Column]:
        """Patterns for what is left beside a new one: together they are nearer to a whole layout."""
        longest = max(range(len(self.job.rooms)), key=lambda s: self.job.rooms[s])
        first = next((p for s, p in new if s == longest), new[0][1])
        left = [d - c for d, c in zip(self.job.demand, first, strict=True)]
        return one_after_another(self.job, left, worth, lambda s: s == longest)[0] if any(left) else []

    def chosen(self, seconds: float) -> tuple[list[Column] | None, bool]:
        """The cheapest whole bars among the patterns known, and whether there is none cheaper of them."""
        job, columns = self.job, list(self.known)
        limited = [s for s, most in enumerate(job.most) if most < math.inf]
        rows = [np.array([p for _, p in columns], dtype=float).T]
        rows += [np.array([[float(c == s) for c, _ in columns]]) for s in limited]
        found = scipy.optimize.milp(
            np.array([job.costs[s] for s, _ in columns]), integrality=np.ones(len(columns), dtype=np.int64),
            constraints=scipy.optimize.LinearConstraint(
                scipy.sparse.csr_array(np.vstack(rows)),
                lb=[float(d) for d in job.demand] + [-np.inf] * len(limited),
                ub=[np.inf] * len(job.demand) + [job.most[s] for s in limited],
            ),
            options={"time_limit": seconds, "mip_rel_gap": 0.0},
        )  # fmt: skip
        if found.x is None:
            return None, False
        return [columns[k] for k, v in enumerate(found.x) for _ in range(round(v))], found.status == 0


def all_patterns(job: Counted, limit: int) -> list[Column] | None:
    """Every pattern to which no wanted piece could be added, of every stock; None above the limit."""
    out: list[Column] = []

    def fill(stock: int, k: int, left: int, chosen: list[int]) -> bool:
        if k == len(job.sizes):
            if any(chosen) and all(
                s > left or c >= d for s, c, d in zip(job.sizes, chosen, job.demand, strict=True)
            ):
                out.append((stock, tuple(chosen)))
            return len(out) <= limit
        for count in range(min(job.demand[k], left // job.sizes[k]), -1, -1):
            if not fill(stock, k + 1, left - count * job.sizes[k], [*chosen, count]):
                return False
        return True

    return out if all(fill(s, 0, max(0, room), []) for s, room in enumerate(job.rooms)) else None


def one_after_another(
    job: Counted, demand: list[int], worth: Floats, allowed: Callable[[int], bool] = lambda _: True
) -> tuple[list[Column], list[int]]:
    """Bars one after the other, each the one whose pieces are worth most for its cost; and what is left."""
    left, used, bars = list(demand), [0] * len(job.rooms), list[Column]()
    while any(left):
        there = [s for s in range(len(job.rooms)) if used[s] < job.most[s] and allowed(s)]
        if not there:
            break
        kept = [k for k, n in enumerate(left) if n]
        knapsack = Knapsack(
            [job.sizes[k] for k in kept], [left[k] for k in kept], max(job.rooms[s] for s in there)
        )
        knapsack.price(worth[kept])
        gains = [(knapsack.best(job.rooms[s]), job.costs[s], s) for s in there]
        gains = [g for g in gains if g[0] > 0]
        if not gains:
            break
        s = _for_its_cost(gains, float(worth[kept] @ np.array([left[k] for k in kept])))
        pattern = [0] * len(left)
        for k, n in zip(kept, knapsack.pattern(job.rooms[s]), strict=True):
            pattern[k] = n
        used[s] += 1
        bars.append((s, tuple(pattern)))
        left = [n - c for n, c in zip(left, pattern, strict=True)]
    return bars, left


def _for_its_cost(gains: list[tuple[float, float, int]], everything: float) -> int:
    """Which stock to take: the cheapest that holds all that is left, if nothing that is worth more for its
    cost is cheaper; gains: worth, cost and which."""
    _, cost, best = max(gains, key=lambda g: (g[0] / max(g[1], 1e-9), g[0]))
    whole = [(c, s) for worth, c, s in gains if worth >= everything - HAIR]
    return min(whole)[1] if whole and min(whole)[0] <= cost + min(g[1] for g in gains) else best


def shaken(
    job: Counted, bars: list[Column], rounds: int, good: Callable[[list[Column]], bool]
) -> list[Column]:
    """Bars of the same pieces at less cost: a few bars are emptied and their pieces cut anew, again and
    again; what is cheaper is kept, and of equals what leaves the rest in one piece."""
    rng = np.random.default_rng(0)
    sizes, rooms = np.array(job.sizes), np.array(job.rooms)

    def rest(bars: list[Column]) -> int:
        return sum(int(rooms[s] - sizes @ np.array(p)) ** 2 for s, p in bars)

    for _ in range(rounds):
        if len(bars) < 2 or good(bars):
            break
        several = rng.choice(
            len(bars), size=min(len(bars), int(rng.integers(2, MOST_EMPTIED + 1))), replace=False
        )
        gone = [bars[k] for k in several.tolist()]
        demand = np.sum([p for _, p in gone], axis=0)
        used = [sum(s == t for t, _ in bars) - sum(s == t for t, _ in gone) for s in range(len(rooms))]
        there = replace(job, most=tuple(m - u for m, u in zip(job.most, used, strict=True)))
        worth = sizes * (1 + SHAKE ** float(rng.uniform(1, 3)) * rng.uniform(-1, 1, len(sizes)))
        other, left = one_after_another(there, demand.tolist(), worth)
        if any(left):
            continue
        before, after = job.cost(gone), job.cost(other)
        if after < before - HAIR or (after <= before + HAIR and rest(other) >= rest(gone)):
            bars = [b for k, b in enumerate(bars) if k not in set(several.tolist())] + other
    return bars
