"""Whole bars out of the linear programme: the bar that it is surest of is taken, and it is asked again for
what is left (diving; Wäscher and Gau 1996 compare such ways)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from stirrup.core.cutting.knapsack import Knapsack
from stirrup.core.cutting.patterns import HAIR, Columns
from stirrup.core.cutting.programme import Column, Counted, Programme

ROUNDS = 6  # of new patterns before a bar is taken


def dived(
    job: Counted, columns: Columns, stop: Callable[[], bool], first: Column | None = None
) -> tuple[list[Column], list[int]]:
    """Bars, and what is left of the demand; patterns that come up are taken up. first: a bar to begin
    with."""
    left, most, bars = list(job.demand), list(job.most), list[Column]()
    programme = Programme(job)
    columns.add(columns.alone())
    taken = None if first is None else (first, 1)
    while any(left) and not stop():
        rest = replace(job, demand=tuple(left), most=tuple(most))
        taken = taken or _surest(rest, columns, programme)
        if taken is None:
            break
        (s, pattern), times = taken
        taken = None
        bars += [(s, pattern)] * times
        most[s] -= times
        left = [n - times * c for n, c in zip(left, pattern, strict=True)]
        programme.ask_for(left, most, list(columns.known))
    return bars, left


def _surest(job: Counted, columns: Columns, programme: Programme) -> tuple[Column, int] | None:
    """The pattern that the linear programme takes most of, after some rounds of new ones, and how often at
    least; None where nothing that is left fits on a bar."""
    knapsack = Knapsack(list(job.sizes), list(job.demand), max(job.rooms))
    for _ in range(ROUNDS):
        priced = programme.solved(list(columns.known))
        knapsack.price(priced.pieces)
        over = np.array([knapsack.best(room) for room in job.rooms]) - job.costs + priced.limits
        good = [s for s in np.flatnonzero(over > HAIR).tolist() if job.most[s] >= 1]
        if not columns.add([(s, knapsack.pattern(job.rooms[s])) for s in good]):
            break
    else:
        priced = programme.solved(list(columns.known))
    best = int(np.argmax(priced.shares)) if len(priced.shares) else 0
    if not len(priced.shares) or priced.shares[best] <= HAIR:
        return None
    surest = list(columns.known)[best]
    fits = min(d // n for n, d in zip(surest[1], job.demand, strict=True) if n)
    return surest, max(1, min(int(priced.shares[best] + HAIR), fits))
