"""Boxes in shelves: rough, and ready in a millisecond."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

Spot = tuple[str, float, float]
SLACK_M = 1e-9


def shelved(
    boxes: Sequence[Spot], size: tuple[float, float], rests: Sequence[tuple[str, float, float, int]],
    kerf: float, margin: float,
) -> list[tuple[str, list[Spot]]]:  # fmt: skip
    """Boxes (name, width, height) in their order on as many sheets of a size as it takes, leftovers (id,
    width, height, how many) before them [m]: of each that is used its leftover's id, empty for a sheet, and
    where each box's corner lies."""
    sheets, there = list[_Shelved](), {r[0]: r[3] for r in rests}
    for name, width, height in boxes:
        w, h = width + kerf, height + kerf
        for sheet in sheets:
            if w > sheet.gap and h > sheet.room:
                continue  # most are full: nothing of them has to be looked at
            spot = sheet.spot(kerf, margin, w, h)
            if spot is not None:
                break
        else:
            # the first leftover that takes it; many alike are not looked at one by one
            for rest, wide, high, _ in (r for r in rests if there[r[0]]):
                sheet = _Shelved(rest, wide, high, margin)
                spot = sheet.spot(kerf, margin, w, h)
                if spot is not None:
                    there[rest] -= 1
                    break
            else:
                sheet = _Shelved("", *size, margin)
                spot = sheet.spot(kerf, margin, w, h)
            sheets.append(sheet)
        if spot is not None:
            sheet.spots.append((name, *spot))
    return [(s.rest, s.spots) for s in sheets if s.spots]


@dataclass
class _Shelved:
    """A sheet that is filled shelf by shelf: which leftover it is, its size, how far up the shelves go,
    and of each its foot, its top, how far along it is filled. gap, room: no box is taken that is wider than
    the one and higher than the other."""

    rest: str
    width: float
    height: float
    top: float
    shelves: list[list[float]] = field(default_factory=list)
    spots: list[Spot] = field(default_factory=list)
    gap: float = math.inf
    room: float = math.inf

    def spot(self, kerf: float, margin: float, w: float, h: float) -> tuple[float, float] | None:
        """Where a box of this size, its kerf with it, goes next; taken from then on."""
        wide, high = self.width - margin + kerf, self.height - margin + kerf
        for shelf in self.shelves:
            if shelf[2] + w <= wide + SLACK_M and h <= shelf[1] - shelf[0] + SLACK_M:
                break
        else:
            if self.top + h > high + SLACK_M or margin + w > wide + SLACK_M:
                return None
            shelf = [self.top, self.top + h, margin]
            self.shelves.append(shelf)
            self.top += h
        shelf[2] += w
        self.gap = wide - min(s[2] for s in self.shelves) + SLACK_M
        self.room = high - self.top + SLACK_M
        return shelf[2] - w, shelf[0]
