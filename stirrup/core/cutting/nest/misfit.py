"""Why a part lies on nothing: by how much it is too large, or that nothing is left for it."""

from __future__ import annotations

from collections import Counter

from stirrup.core.cutting.cut_job import CutJob, CutLayout, Part, turned
from stirrup.core.record import dataclass

HAIR_M = 1e-9


@dataclass(frozen=True)
class Misfit:
    """A part without a place: how many of it, the stock that it comes nearest to fitting on, by how much
    it is too long and too wide for it [m]; both 0 where it is the stock's number or outline."""

    part: str
    count: int
    stock: str
    long_m: float
    wide_m: float

    @property
    def text(self) -> str:
        """In words, lengths in millimetres."""
        many = f"{self.part}{f' ({self.count} of it)' if self.count > 1 else ''}"
        if not self.stock:
            return f"{many}: there is no stock at all"
        over = [
            f"{value * 1000:.1f} mm too {word}"
            for value, word in ((self.long_m, "long"), (self.wide_m, "wide"))
            if value > 0
        ]
        if over:
            return f"{many}: {' and '.join(over)} for “{self.stock}”, which comes nearest, with its margin"
        return f"{many}: nothing is left that it goes on"


def too_large(job: CutJob, part: Part) -> bool:
    """Whether it is longer or wider than every stock, in every turn."""
    nearest = _misfit(job, part, 1)
    return not nearest.stock or nearest.long_m + nearest.wide_m > 0


def misfits(layout: CutLayout) -> tuple[Misfit, ...]:
    """What is left without a place, and why."""
    parts = {p.id: p for p in layout.job.parts}
    return tuple(_misfit(layout.job, parts[i], n) for i, n in Counter(layout.unplaced).items())


def _misfit(job: CutJob, part: Part, count: int) -> Misfit:
    best = (float("inf"), "", 0.0, 0.0)
    for stock in job.stocks:
        room, margin = stock.polygon.bounds, job.margin_of(stock)
        wide, high = room[2] - room[0] - 2 * margin, room[3] - room[1] - 2 * margin
        for rotation in part.turns:
            x0, y0, x1, y1 = turned(part.polygon, rotation).bounds
            over = max(0.0, x1 - x0 - wide), max(0.0, y1 - y0 - high)
            long_m, wide_m = (v if v > HAIR_M else 0.0 for v in over)
            if long_m + wide_m < best[0]:
                best = (long_m + wide_m, stock.id, long_m, wide_m)
    return Misfit(part.id, count, *best[1:])
