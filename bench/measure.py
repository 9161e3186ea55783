"""Time things and keep them as rows of a table."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np


@dataclass
class Table:
    """Rows: what, promised, reached, unit."""

    rows: list[tuple[str, float | None, float, str, bool]] = field(default_factory=list)

    def add(
        self, what: str, promised: float | None, reached: float, unit: str = "ms", least: bool = False
    ) -> None:
        """One measured figure; least: it must be at least what was promised, rounded to a whole."""
        self.rows.append((what, promised, reached, unit, least))
        print(self.line(self.rows[-1]), flush=True)

    @staticmethod
    def line(row: tuple[str, float | None, float, str, bool]) -> str:
        """A row as text."""
        what, promised, reached, unit, least = row
        wanted = "" if promised is None else f"{promised:g} {unit}"
        good = promised is None or (round(reached) >= promised if least else reached <= promised)
        verdict = "" if promised is None else "reached" if good else "MISSED"
        return f"{what:64} {wanted:>10} {reached:9.1f} {unit:3} {verdict}"


def times_ms(
    action: Callable[[], object], repeats: int, prepare: Callable[[], object] | None = None
) -> list[float]:
    """Durations of `repeats` runs [ms]; `prepare` runs before each, untimed."""
    out = []
    for _ in range(repeats):
        if prepare:
            prepare()
        start = time.perf_counter()
        action()
        out.append((time.perf_counter() - start) * 1000)
    return out


def median(values: list[float]) -> float:
    """Middle value."""
    return statistics.median(values)


def p95(values: list[float], least: int = 200) -> float:
    """95 % of the values lie at or below this. Raises ValueError for fewer values than say so much."""
    if len(values) < least:
        raise ValueError(f"{len(values)} values are too few for a 95 %; at least {least}")
    ordered = sorted(values)
    return ordered[min(len(ordered) - 1, round(0.95 * len(ordered)))]


def reference_ms() -> float:
    """How fast this machine is just now: the same small work each time, half Python, half numpy; median of
    nine [ms]. Runs of different days compare by it."""
    grid = np.linspace(0.0, 1.0, 200_000)

    def work() -> None:
        total = 0
        for k in range(60_000):
            total += k * k % 7
        for _ in range(6):
            np.sort(np.sin(grid * 9.0))

    work()
    return median(times_ms(work, 9))


def cold_ms(what: Callable[[], object], forget: Callable[[], None], repeats: int) -> list[float]:
    """Durations of runs each of which knows nothing [ms].

    Raises RuntimeError when one of them took no longer than a warm run would: it knew something.
    """
    what()
    warm = min(times_ms(what, 5))
    cold = times_ms(what, repeats, forget)
    if min(cold) < 3 * warm:
        raise RuntimeError(f"a cold run took {min(cold):.1f} ms, a warm one {warm:.1f}: it hit a cache")
    return cold
