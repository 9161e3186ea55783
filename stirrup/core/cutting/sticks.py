"""Members on sticks: the least cost, proven, by cutting patterns.

A bar holds pieces when Σ lengths + kerf·(pieces - 1) <= length - 2·trim.
"""

from __future__ import annotations

import math
from collections import Counter
from decimal import Decimal

from stirrup.core.cutting.bars import whole_bars
from stirrup.core.cutting.programme import Counted
from stirrup.core.record import dataclass

TENTH_MM = 10_000  # lengths are counted in tenths of a millimetre, rounded up


@dataclass(frozen=True)
class Piece:
    id: str
    length: float  # m


@dataclass(frozen=True)
class RestStick:
    """A leftover of a stick: length [m], how many alike."""

    id: str
    length: float
    count: int = 1


@dataclass(frozen=True)
class StickJob:
    """Pieces to cut from sticks of one length [m]; kerf and trim at each end [m]; leftovers first."""

    stock: str
    length: float
    pieces: tuple[Piece, ...]
    price: Decimal = Decimal(0)
    kerf: float = 0.003
    trim: float = 0.005
    rests: tuple[RestStick, ...] = ()


@dataclass(frozen=True)
class StickLayout:
    """Bars with the ids of their pieces; `proven` when no cheaper layout exists; not settled: first
    fit, for now. on: for each bar the leftover that it is, empty for one that is bought; bound: bars that
    have to be bought at least."""

    job: StickJob
    bars: tuple[tuple[str, ...], ...]
    bound: int
    proven: bool
    unplaced: tuple[str, ...] = ()
    settled: bool = True
    on: tuple[str, ...] = ()

    def rest(self, number: int) -> str:
        """The leftover that a bar is, by its id; empty for one that is bought. Counted from 0."""
        return self.on[number] if self.on else ""

    def length(self, number: int) -> float:
        """Length of a bar [m]; counted from 0."""
        return {r.id: r.length for r in self.job.rests}.get(self.rest(number), self.job.length)

    @property
    def bought(self) -> int:
        """How many bars have to be bought."""
        return sum(not self.rest(k) for k in range(len(self.bars)))

    @property
    def cost(self) -> Decimal:
        return self.job.price * self.bought


def _whole(length_m: float) -> int:
    return math.ceil(length_m * TENTH_MM - 1e-6)


def _first_fit(
    sizes: list[int], demand: list[int], rooms: list[int], counts: list[int]
) -> list[tuple[int, tuple[int, ...]]]:
    """First-fit decreasing, an answer at once: for each bar which room it is, and how many of each size.

    rooms: of a bar that is bought, then of each leftover; counts: how many there are of each of these.
    """
    bars: list[tuple[int, int, list[int]]] = []
    there = list(counts)
    for k, size in enumerate(sizes):
        for _ in range(demand[k]):
            at = next((n for n, (_, left, _) in enumerate(bars) if size <= left), None)
            if at is None:
                at = len(bars)
                rest = next((n for n, left in enumerate(there) if left and size <= rooms[n + 1]), None)
                which = 0 if rest is None else rest + 1
                if rest is not None:
                    there[rest] -= 1
                bars.append((which, rooms[which], [0] * len(sizes)))
            which, left, pieces = bars[at]
            pieces[k] += 1
            bars[at] = (which, left - size, pieces)
    return [(which, tuple(pieces)) for which, _, pieces in bars]


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
    """Fewest bars to buy for the job; `quick` takes first-fit decreasing as it comes.

    Pieces longer than a bar are listed as unplaced.
    """
    kerf = _whole(job.kerf)
    # with one kerf added to every piece and to the bar, the sum rule becomes plain
    rooms = [
        math.floor((length - 2 * job.trim) * TENTH_MM + 1e-6) + kerf
        for length in (job.length, *(r.length for r in job.rests))
    ]
    waiting: dict[int, list[str]] = {}
    unplaced = []
    for piece in job.pieces:
        size = _whole(piece.length) + kerf
        # what only a leftover is long enough for may find it taken
        if size > rooms[0]:
            unplaced.append(piece.id)
        else:
            waiting.setdefault(size, []).append(piece.id)
    if not waiting:
        return StickLayout(job, (), 0, True, tuple(unplaced))
    sizes = sorted(waiting, reverse=True)
    demand = [len(waiting[s]) for s in sizes]
    counts = [r.count for r in job.rests]
    chosen, least, proven = _chosen(sizes, demand, rooms, counts, quick)
    bars: list[tuple[str, tuple[str, ...]]] = []
    for which, pattern in chosen:
        bar = [waiting[s].pop(0) for s, n in zip(sizes, pattern, strict=True)
               for _ in range(min(n, len(waiting[s])))]  # fmt: skip
        if bar:
            bars.append((job.rests[which - 1].id if which else "", tuple(bar)))
    return StickLayout(
        job, tuple(b for _, b in bars), least, proven, tuple(unplaced), proven or not quick,
        tuple(on for on, _ in bars),
    )  # fmt: skip


def _chosen(
    sizes: list[int], demand: list[int], rooms: list[int], counts: list[int], quick: bool
) -> tuple[list[tuple[int, tuple[int, ...]]], int, bool]:
    """The bars, how many have to be bought at least, and whether these are no more."""
    chosen = _first_fit(sizes, demand, rooms, counts)
    bought = sum(which == 0 for which, _ in chosen)
    if len(rooms) == 1:
        least = _least(sizes, demand, rooms[0])
    else:
        given = sum(room * n for room, n in zip(rooms[1:], counts, strict=True))
        length = sum(s * d for s, d in zip(sizes, demand, strict=True)) - given
        least = max(0, math.ceil(length / rooms[0]))
    if bought > least and not quick:
        costs = (1.0, *(0.0 for _ in rooms[1:]))
        most = (math.inf, *(float(n) for n in counts))
        bars, left, bound = whole_bars(Counted(tuple(sizes), tuple(demand), tuple(rooms), costs, most))
        if not any(left) and sum(which == 0 for which, _ in bars) < bought:
            chosen = bars
        least = max(least, math.ceil(bound - 1e-6))
        bought = sum(which == 0 for which, _ in chosen)
    return chosen, least, bought == least


def left_over_m(layout: StickLayout, number: int) -> float:
    """What remains of a bar after its pieces, kerfs and one trim [m]; bars are counted from 0."""
    lengths = {p.id: p.length for p in layout.job.pieces}
    job = layout.job
    return layout.length(number) - job.trim - sum(lengths[i] + job.kerf for i in layout.bars[number])


def counted(bars: tuple[tuple[str, ...], ...]) -> Counter[str]:
    """How often each piece occurs in a layout."""
    return Counter(piece for bar in bars for piece in bar)
