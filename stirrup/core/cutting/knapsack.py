"""The most valuable pieces for a length, each at most so often as it is wanted."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from stirrup.core.loops import compiled

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
SAME = 1e-12


@compiled()
def _solve(sizes: Ints, worths: Floats, best: Floats, taken: NDArray[np.bool_]) -> None:
    """Fill `best`, the most worth for every length, and whether each lot was the last one taken for it."""
    best[:] = 0.0
    taken[:] = False
    for k in range(len(sizes)):
        size, worth = sizes[k], worths[k]
        if worth <= 0.0:
            continue
        for room in range(len(best) - 1, size - 1, -1):
            more = best[room - size] + worth
            if more > best[room] + SAME:
                best[room] = more
                taken[k, room] = True


class Knapsack:
    """Bounded knapsack by dynamic programming over the length, for every length up to the longest.

    Exact, and its time is known beforehand: longest x Σ log2 demand. (Branch and bound needs a minute for
    some sets of a dozen nearly equal lengths.) Lengths in whole units.
    """

    def __init__(self, sizes: list[int], demand: list[int], longest: int) -> None:
        rows = [(k, lot) for k, n in enumerate(demand) for lot in _lots(min(n, longest // sizes[k]))]
        self._pieces = len(sizes)
        self._piece = np.array([k for k, _ in rows], dtype=np.int64)
        self._lot = np.array([lot for _, lot in rows], dtype=np.int64)
        self._size = np.array([sizes[k] for k, _ in rows], dtype=np.int64)[: len(rows)] * self._lot
        self._best: Floats = np.zeros(longest + 1)
        self._taken: NDArray[np.bool_] = np.zeros((len(rows), longest + 1), dtype=np.bool_)

    def price(self, values: Floats) -> None:
        """Work out the best for what each piece is worth."""
        _solve(self._size, values[self._piece] * self._lot, self._best, self._taken)

    def best(self, room: int) -> float:
        """What the best pieces for this length are worth together."""
        return float(self._best[room]) if room >= 0 else 0.0

    def pattern(self, room: int) -> tuple[int, ...]:
        """How many of each piece these are."""
        pattern, at = [0] * self._pieces, room
        for row in range(len(self._piece) - 1, -1, -1):
            if self._taken[row, at]:
                pattern[int(self._piece[row])] += int(self._lot[row])
                at -= int(self._size[row])
        return tuple(pattern)


def _lots(wanted: int) -> list[int]:
    """Numbers that add up to everything from 1 to `wanted`: 1, 2, 4, … and the rest."""
    out, lot = list[int](), 1
    while wanted > 0:
        out.append(min(lot, wanted))
        wanted, lot = wanted - out[-1], 2 * lot
    return out
