"""A cutting job as numbers, and its linear programme: how many bars of each pattern, in fractions.

The programme is kept from one question to the next, so that new patterns and other limits are answered from
where the last answer was.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from stirrup.core.cutting.knapsack import Knapsack
from stirrup.core.kept import kept_property
from stirrup.core.record import dataclass

Pattern = tuple[int, ...]
Column = tuple[int, Pattern]  # which stock, how many of each piece
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Counted:
    """A job in whole units of length, a kerf added to every piece and every bar: so that the sum rule is
    plain. Sizes are different, longest first; most: bars there are of each stock."""

    sizes: tuple[int, ...]
    demand: tuple[int, ...]
    rooms: tuple[int, ...]
    costs: tuple[float, ...]
    most: tuple[float, ...]

    @property
    def length(self) -> int:
        """All pieces together."""
        return sum(s * d for s, d in zip(self.sizes, self.demand, strict=True))

    @kept_property
    def fills(self) -> tuple[int, ...]:
        """How full a bar of each stock can be: pieces seldom add up to a short one."""
        knapsack = Knapsack(list(self.sizes), list(self.demand), max(self.rooms))
        knapsack.price(np.array(self.sizes, dtype=float))
        return tuple(round(knapsack.best(room)) for room in self.rooms)

    def coarse(self, unit: int) -> Counted:
        """The same in larger units: what fits here fits there."""
        sizes = tuple(-(-s // unit) for s in self.sizes)
        return Counted(sizes, self.demand, tuple(r // unit for r in self.rooms), self.costs, self.most)

    def cost(self, bars: list[Column]) -> float:
        """What these bars cost."""
        return sum(self.costs[s] for s, _ in bars)


@dataclass
class Priced:
    """What the linear programme says: its value, what each piece is worth, what one more bar of each
    stock would save, how much goes on no bar, how many of each pattern it takes."""

    value: float
    pieces: Floats
    limits: Floats
    missing: float
    shares: Floats


@lru_cache(maxsize=1)
def _silent() -> Any:
    """The solver's class, loaded when first needed, made to say nothing: it greets whoever reads what a
    command prints, as soon as it may call back."""
    import highspy

    class Silent(highspy.Highs):
        def enableCallbacks(self) -> None:
            self.setOptionValue("output_flag", False)

    return Silent


class Programme:
    """Bars of each pattern so that all pieces are had for the least cost; what is not placed costs more
    than anything. Rows: pieces, then stocks of which there are few; columns: pieces that are not placed,
    then patterns."""

    def __init__(self, job: Counted) -> None:
        self.job = job
        self._limited = [s for s, most in enumerate(job.most) if most < math.inf]
        self._row = {s: len(job.sizes) + k for k, s in enumerate(self._limited)}
        self._columns = 0
        self._highs = _silent()()
        for name, value in (("threads", 1), ("solver", "simplex")):
            self._highs.setOptionValue(name, value)
        for wanted in job.demand:
            self._highs.addRow(float(wanted), math.inf, 0, [], [])
        for s in self._limited:
            self._highs.addRow(-math.inf, job.most[s], 0, [], [])
        dear = 10 * (max(job.costs) + 1)
        for k in range(len(job.sizes)):
            self._highs.addCol(dear, 0.0, math.inf, 1, [k], [1.0])

    def solved(self, columns: Sequence[Column]) -> Priced:
        """The answer with these patterns: those that were there before, in their order, and new ones
        behind them."""
        for s, pattern in columns[self._columns :]:
            rows = [k for k, n in enumerate(pattern) if n]
            values = [float(pattern[k]) for k in rows]
            if s in self._row:
                rows, values = [*rows, self._row[s]], [*values, 1.0]
            self._highs.addCol(self.job.costs[s], 0.0, math.inf, len(rows), rows, values)
        self._columns = len(columns)
        self._highs.run()
        found, pieces = self._highs.getSolution(), len(self.job.sizes)
        duals, amounts = np.array(found.row_dual), np.array(found.col_value)
        limits = np.zeros(len(self.job.rooms))
        limits[self._limited] = duals[pieces:]
        return Priced(
            float(self._highs.getInfo().objective_function_value), duals[:pieces], limits,
            float(np.sum(amounts[:pieces])), amounts[pieces:],
        )  # fmt: skip

    def ask_for(self, demand: Sequence[int], most: Sequence[float], columns: Sequence[Column]) -> None:
        """Other demand and other limits: patterns that take more than that are not used any more."""
        for k, wanted in enumerate(demand):
            self._highs.changeRowBounds(k, float(wanted), math.inf)
        for s, row in self._row.items():
            self._highs.changeRowBounds(row, -math.inf, most[s])
        for j, (s, pattern) in enumerate(columns[: self._columns]):
            fits = most[s] >= 1 and all(n <= d for n, d in zip(pattern, demand, strict=True))
            self._highs.changeColBounds(len(self.job.sizes) + j, 0.0, math.inf if fits else 0.0)
