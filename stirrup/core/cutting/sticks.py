"""Members on sticks: the least cost, proven, by cutting patterns.

A bar holds pieces when Σ lengths + kerf·(pieces - 1) <= length - 2·trim.
"""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import dataclass
from decimal import Decimal

from stirrup.core.cutting.bars import whole_bars
from stirrup.core.cutting.patterns import Counted

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
        counted = Counted(tuple(sizes), tuple(demand), (room,), (1.0,), (math.inf,))
        bars, _, bound = whole_bars(counted)
        chosen = min(chosen, [pattern for _, pattern in bars], key=len)
        least = max(least, math.ceil(bound - 1e-6))
        proven = len(chosen) == least
    out: list[tuple[str, ...]] = []
    for pattern in chosen:
        bar = [waiting[s].pop(0) for s, n in zip(sizes, pattern, strict=True)
               for _ in range(min(n, len(waiting[s])))]  # fmt: skip
        if bar:
            out.append(tuple(bar))
    return StickLayout(job, tuple(out), least, proven, tuple(unplaced), proven or not quick)


def left_over_m(layout: StickLayout, bar: tuple[str, ...]) -> float:
    """What remains of a bar after its pieces, kerfs and one trim [m]."""
    lengths = {p.id: p.length for p in layout.job.pieces}
    job = layout.job
    return job.length - job.trim - sum(lengths[i] + job.kerf for i in bar)


def counted(bars: tuple[tuple[str, ...], ...]) -> Counter[str]:
    """How often each piece occurs in a layout."""
    return Counter(piece for bar in bars for piece in bar)
