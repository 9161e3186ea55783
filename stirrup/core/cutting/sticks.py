"""Members on sticks: the least cost, proven, by cutting patterns.

A bar holds pieces when Σ lengths + kerf·(pieces - 1) <= length - 2·trim. All maximal
patterns of one stick are listed and an integer programme chooses among them (Gilmore and
Gomory 1961); with too many patterns, columns are generated from the linear programme and
the answer is proven only when it meets the bound.
"""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import dataclass
from decimal import Decimal

import numpy as np
import scipy
from numpy.typing import NDArray

PATTERN_LIMIT = 4000
SEARCH_S = 2.0  # for choosing among the patterns; then the answer stands unproven
TENTH_MM = 10_000  # lengths are counted in tenths of a millimetre, rounded up


@dataclass(frozen=True)
class Piece:
    id: str
    length: float  # m


@dataclass(frozen=True)
class StickJob:
    """Pieces to cut from sticks of one length [m]; kerf and trim at each end [m]."""

    stock: str
    length: float
    pieces: tuple[Piece, ...]
    price: Decimal = Decimal(0)
    kerf: float = 0.003
    trim: float = 0.005


@dataclass(frozen=True)
class StickLayout:
    """Bars with the ids of their pieces; `proven` when no cheaper layout exists; not settled: first
    fit, for now."""

    job: StickJob
    bars: tuple[tuple[str, ...], ...]
    bound: int
    proven: bool
    unplaced: tuple[str, ...] = ()
    settled: bool = True

    @property
    def cost(self) -> Decimal:
        return self.job.price * len(self.bars)


def _whole(length_m: float) -> int:
    return math.ceil(length_m * TENTH_MM - 1e-6)


def _patterns(sizes: list[int], demand: list[int], room: int) -> list[tuple[int, ...]] | None:
    """Maximal patterns, largest size first; None when there are more than the limit."""
    out: list[tuple[int, ...]] = []

    def fill(k: int, left: int, chosen: list[int]) -> bool:
        if k == len(sizes):
            # maximal: no further piece that is still wanted would fit
            if all(s > left or c >= d for s, c, d in zip(sizes, chosen, demand, strict=True)):
                out.append(tuple(chosen))
            return len(out) <= PATTERN_LIMIT
        for count in range(min(demand[k], left // sizes[k]), -1, -1):
            if not fill(k + 1, left - count * sizes[k], [*chosen, count]):
                return False
        return True

    return out if fill(0, room, []) else None


def _first_fit(sizes: list[int], demand: list[int], room: int) -> list[tuple[int, ...]]:
    """First-fit decreasing: an answer at once, and starting columns."""
    bars: list[tuple[int, list[int]]] = []
    for k, size in enumerate(sizes):
        for _ in range(demand[k]):
            for n, (left, counts) in enumerate(bars):
                if size <= left:
                    counts[k] += 1
                    bars[n] = (left - size, counts)
                    break
            else:
                counts = [0] * len(sizes)
                counts[k] = 1
                bars.append((room - size, counts))
    return [tuple(counts) for _, counts in bars]


def _least(sizes: list[int], demand: list[int], room: int) -> int:
    """Bars that are needed at least, whatever the pattern (bound L2 of Martello and Toth, 1990).

    For each k: pieces over room - k have a bar each that nothing over k shares; those over half a bar
    have one each too, and what is left in these takes some of the pieces from k to half a bar.
    """
    rows = list(zip(sizes, demand, strict=True))
    best = math.ceil(sum(s * d for s, d in rows) / room)
    for k in (s for s in sizes if 2 * s <= room):
        alone = sum(d for s, d in rows if s > room - k)
        halves = [(s, d) for s, d in rows if room - k >= s and 2 * s > room]
        shared = sum(d for _, d in halves)
        free = shared * room - sum(s * d for s, d in halves)
        small = sum(s * d for s, d in rows if k <= s and 2 * s <= room)
        best = max(best, alone + shared + max(0, math.ceil((small - free) / room)))
    return max(best, sum(d for s, d in rows if 2 * s > room))


def _price_in(duals: list[float], sizes: list[int], demand: list[int], room: int) -> tuple[int, ...]:
    """Most valuable pattern for the duals: bounded knapsack by dynamic programming over the room.

    Exact, and its time is known beforehand: room x Σ log2 demand. (Branch and bound needs a
    minute for some sets of a dozen nearly equal lengths.)
    """
    best = np.zeros(room + 1)
    taken: list[tuple[int, int, NDArray[np.bool_]]] = []
    for k, (size, wanted) in enumerate(zip(sizes, demand, strict=True)):
        left, lot = min(wanted, room // size), 1
        while left > 0 and duals[k] > 0:
            lot = min(lot, left)
            more = best[: room + 1 - lot * size] + lot * duals[k]
            better = more > best[lot * size :] + 1e-12
            best[lot * size :][better] = more[better]
            taken.append((k, lot, better))
            left, lot = left - lot, 2 * lot
    pattern, at = [0] * len(sizes), room
    for k, lot, better in reversed(taken):
        start = at - lot * sizes[k]
        if start >= 0 and better[start]:
            pattern[k] += lot
            at = start
    return tuple(pattern)


def _generate(sizes: list[int], demand: list[int], room: int) -> tuple[list[tuple[int, ...]], float]:
    """Columns of the linear programme and its bound on the number of bars."""
    columns = list(dict.fromkeys(_first_fit(sizes, demand, room)))
    for _ in range(400):
        matrix = np.array(columns, dtype=float).T
        result = scipy.optimize.linprog(
            np.ones(len(columns)), A_ub=-matrix, b_ub=-np.array(demand, dtype=float)
        )
        duals = [-float(v) for v in result.ineqlin.marginals]
        new = _price_in(duals, sizes, demand, room)
        value = sum(d * n for d, n in zip(duals, new, strict=True))
        if value <= 1 + 1e-7 or new in columns:
            return columns, float(result.fun or 0.0) / max(1.0, value)
        columns.append(new)
    return columns, sum(s * d for s, d in zip(sizes, demand, strict=True)) / room


def lay_out_sticks(job: StickJob, quick: bool = False) -> StickLayout:
    """Fewest bars for the job; `quick` takes first-fit decreasing as it comes.

    Pieces longer than a bar are listed as unplaced.
    """
    kerf = _whole(job.kerf)
    # with one kerf added to every piece and to the bar, the sum rule becomes plain
    room = math.floor((job.length - 2 * job.trim) * TENTH_MM + 1e-6) + kerf
    waiting: dict[int, list[str]] = {}
    unplaced = []
    for piece in job.pieces:
        size = _whole(piece.length) + kerf
        if size > room:
            unplaced.append(piece.id)
        else:
            waiting.setdefault(size, []).append(piece.id)
    if not waiting:
        return StickLayout(job, (), 0, True, tuple(unplaced))
    sizes = sorted(waiting, reverse=True)
    demand = [len(waiting[s]) for s in sizes]
    least = _least(sizes, demand, room)
    chosen = _first_fit(sizes, demand, room)
    proven = len(chosen) == least
    if not proven and not quick:
        chosen, bound, proven = _programme(sizes, demand, room, chosen)
        least = max(least, bound)
        proven = proven or len(chosen) == least
    bars = []
    for pattern in chosen:
        bar = [waiting[s].pop(0) for s, n in zip(sizes, pattern, strict=True)
               for _ in range(min(n, len(waiting[s])))]  # fmt: skip
        if bar:
            bars.append(tuple(bar))
    return StickLayout(job, tuple(bars), least, proven, tuple(unplaced), proven or not quick)


def _programme(
    sizes: list[int], demand: list[int], room: int, fallback: list[tuple[int, ...]]
) -> tuple[list[tuple[int, ...]], int, bool]:
    """Bars, bound and whether proven, by the integer programme over cutting patterns."""
    columns = _patterns(sizes, demand, room)
    exact, bound = columns is not None, 0.0
    if columns is None:
        columns, bound = _generate(sizes, demand, room)
    result = scipy.optimize.milp(
        np.ones(len(columns)),
        constraints=scipy.optimize.LinearConstraint(
            np.array(columns, dtype=float).T, lb=np.array(demand, dtype=float)
        ),
        integrality=np.ones(len(columns), dtype=np.int64),
        options={"time_limit": SEARCH_S},
    )
    chosen = fallback
    if result.x is not None and round(result.fun) < len(fallback):
        chosen = [columns[k] for k, v in enumerate(result.x) for _ in range(round(v))]
    least = len(chosen) if exact and result.status == 0 else math.ceil(bound - 1e-6)
    return chosen, least, least == len(chosen)


def left_over_m(layout: StickLayout, bar: tuple[str, ...]) -> float:
    """What remains of a bar after its pieces, kerfs and one trim [m]."""
    lengths = {p.id: p.length for p in layout.job.pieces}
    job = layout.job
    return job.length - job.trim - sum(lengths[i] + job.kerf for i in bar)


def counted(bars: tuple[tuple[str, ...], ...]) -> Counter[str]:
    """How often each piece occurs in a layout."""
    return Counter(piece for bar in bars for piece in bar)
