"""Time things and keep them as rows of a table."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass, field


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


def p95(values: list[float]) -> float:
    """95 % of the values lie at or below this."""
    ordered = sorted(values)
    return ordered[min(len(ordered) - 1, round(0.95 * len(ordered)))]


def pace_ms() -> float:
    """How fast this machine is just now: a plain loop of ten thousand additions, best of five [ms]."""

    def loop() -> None:
        total = 0
        for k in range(10_000):
            total += k

    return min(times_ms(loop, 5))


def rounds(table: Table, what: str, promised: float, one: Callable[[], list[float]], count: int) -> None:
    """The promise is judged on all rounds together; the calmest and roughest are told beside it.

    A shared machine may be half as fast from one minute to the next, so its pace is told too.
    """
    every, paces = [], [pace_ms()]
    for _ in range(count):
        every.append(one())
        paces.append(pace_ms())
    values = [value for taken in every for value in taken]
    table.add(f"{what}, median of {len(values)}", None, median(values))
    table.add(f"{what}, 95 % of {len(values)}", promised, p95(values))
    table.add(f"{what}, 95 %, calmest of {len(every)} rounds", None, min(p95(r) for r in every))
    table.add(f"{what}, 95 %, roughest round", None, max(p95(r) for r in every))
    table.add("    10 000 additions between the rounds, least", None, min(paces))
    table.add("    10 000 additions between the rounds, most", None, max(paces))
