"""What would save a stick: one member in two, joined over a support, found by trying.

The lengths tried are those that the other sticks leave: "25 in missing on the fourth stick: a joint here
saves it".
"""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from stirrup.core.cutting.sticks import Piece, StickJob, StickLayout, lay_out_sticks, left_over_m
from stirrup.core.record import dataclass

LEAST_M = 0.15  # of a part of a member in two: room for a splice; working value
MOST_PIECES = 6  # tried in two: those on the stick that is used least, and the longest
MOST_PLACES = 12


@dataclass(frozen=True)
class Joint:
    """A member in two: its id, how far from its first end the joint is [m], how many sticks are bought then
    and what that saves; missing: by how much what any stick leaves is too short without it [m]."""

    piece: str
    at: float
    sticks: int
    saved: Decimal
    missing: float


def _free(layout: StickLayout, number: int) -> float:
    """The longest piece that still comes out of a stick, its saw's cut beside it [m]."""
    return left_over_m(layout, number) - layout.job.trim


def _places(layout: StickLayout, piece: Piece) -> list[float]:
    """Where a joint might be: at what a stick leaves, from either end; the most even first."""
    out = {piece.length / 2}
    for number, bar in enumerate(layout.bars):
        if piece.id in bar:
            continue
        free = _free(layout, number)
        out |= {free, piece.length - free}
    fit = (at for at in out if LEAST_M <= at <= piece.length - LEAST_M)
    return sorted(fit, key=lambda at: abs(at - piece.length / 2))[:MOST_PLACES]


def _in_two(job: StickJob, piece: Piece, at: float) -> StickJob:
    parts = (Piece(f"{piece.id}/1", at), Piece(f"{piece.id}/2", piece.length - at))
    return replace(job, pieces=(*(p for p in job.pieces if p.id != piece.id), *parts))


def joints(layout: StickLayout) -> list[Joint]:
    """Members of which one in two saves a stick, the most even joints first; empty where none does."""
    job = layout.job
    if not layout.settled or layout.bought < 2:
        return []
    by = {p.id: p for p in job.pieces}
    bought = [k for k in range(len(layout.bars)) if not layout.rest(k)]
    least = min(bought, key=lambda k: sum(by[i].length for i in layout.bars[k]))
    longest = sorted(job.pieces, key=lambda p: -p.length)
    tried = list(dict.fromkeys([*(by[i] for i in layout.bars[least]), *longest]))[:MOST_PIECES]
    spare = max((_free(layout, k) for k in range(len(layout.bars)) if k != least), default=0.0)
    there = layout.bars[least]
    missing = max(0.0, sum(by[i].length for i in there) + job.kerf * (len(there) - 1) - spare)
    found = []
    for piece in tried:
        for at in _places(layout, piece):
            other = lay_out_sticks(_in_two(job, piece, at))
            if other.bought < layout.bought and len(other.unplaced) <= len(layout.unplaced):
                found.append(Joint(piece.id, at, other.bought, layout.cost - other.cost, missing))
                break
    return sorted(found, key=lambda j: abs(j.at / by[j.piece].length - 0.5))
