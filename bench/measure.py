"""Time things and keep them as rows of a table."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass, field


@dataclass
class Table:
    """Rows: what, promised, reached, unit."""

    rows: list[tuple[str, float | None, float, str]] = field(default_factory=list)

    def add(self, what: str, promised: float | None, reached: float, unit: str = "ms") -> None:
        """One measured figure."""
        self.rows.append((what, promised, reached, unit))
        print(self.line(self.rows[-1]), flush=True)

    @staticmethod
    def line(row: tuple[str, float | None, float, str]) -> str:
        """A row as text."""
        what, promised, reached, unit = row
        wanted = "" if promised is None else f"{promised:g} {unit}"
        verdict = "" if promised is None else "reached" if reached <= promised else "MISSED"
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


def p95(values: list[float]) -> float:
    """95 % of the values lie at or below this."""
    ordered = sorted(values)
    return ordered[min(len(ordered) - 1, round(0.95 * len(ordered)))]
