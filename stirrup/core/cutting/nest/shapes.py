"""Parts and stock as the inner loops want them: grown by half the gap, cut into strips."""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely import affinity, box
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from stirrup.core.cutting.cut_job import CutJob, Lay, Part, Stock, turned
from stirrup.core.cutting.nest.kernel import FAR_M, MOST, Floats, Ints, strips
from stirrup.core.record import dataclass

SHARP = 1.5  # a corner sharper than a square one is grown to a flat end, so far out times half the gap
HAIR_M = 1e-10  # of a sum of lengths that fits exactly


@dataclass(frozen=True)
class Turned:
    """A part at one turn: its spans from its own corner, what it measures, and where that corner is."""

    rotation: float
    flipped: bool
    start: Ints
    lefts: Floats
    rights: Floats
    width: float
    corner: tuple[float, float]

    @property
    def rows(self) -> int:
        """How many strips it is high."""
        return len(self.start) - 1


@dataclass(frozen=True)
class Shape:
    """All turns that a part may lie in, its area [m2], and which other parts are the same as it."""

    part: Part
    area: float
    turns: tuple[Turned, ...]
    same: int


@dataclass(frozen=True)
class Ground:
    """Stock with nothing on it yet: taken spans of its rows, where its first row and x begin, its area."""

    stock: Stock
    count: Ints
    low: Floats
    high: Floats
    corner: tuple[float, float]
    area: float


@dataclass(frozen=True)
class World:
    """How a job is looked at: the height of a strip [m], and whether the strips lie along y instead."""

    cell: float
    upright: bool = False

    def seen(self, shape: BaseGeometry) -> BaseGeometry:
        """The shape as it is looked at: x and y exchanged if upright."""
        return affinity.affine_transform(shape, [0, 1, 1, 0, 0, 0]) if self.upright else shape

    def lay(self, part: Part, turn: Turned, ground: Ground, x: float, row: int) -> Lay:
        """Where a part lies whose corner is at `x` in a row of the ground."""
        dx, dy = x - turn.corner[0], ground.corner[1] + row * self.cell - turn.corner[1]
        return Lay(part.id, turn.rotation, *((dy, dx) if self.upright else (dx, dy)), turn.flipped)


def _edges(shape: BaseGeometry) -> Floats:
    """Every edge of every ring: (n, 4)."""
    rings = [r for p in shapely.get_parts(shape) for r in (p.exterior, *p.interiors)]
    points = [np.asarray(r.coords) for r in rings]
    return np.concatenate([np.hstack((p[:-1], p[1:])) for p in points]) if points else np.empty((0, 4))


def grown(shape: BaseGeometry, by: float) -> BaseGeometry:
    """The shape and everything within `by` [m] of it; corners are kept, sharp ones end flat."""
    return shape.buffer(by, join_style="mitre", mitre_limit=SHARP) if by > 0 else shape


def _at_turn(job: CutJob, part: Part, world: World, rotation: float, flipped: bool) -> Turned:
    shape = grown(world.seen(turned(part.polygon, rotation, flipped)), job.gap / 2)
    x0, y0, x1, y1 = shape.bounds
    count = max(1, math.ceil((y1 - y0 - HAIR_M) / world.cell))
    start, low, high = strips(_edges(shape), y0, world.cell, count)
    return Turned(rotation, flipped, start, low - x0, high - x0, x1 - x0, (x0, y0))


def shape_of(job: CutJob, part: Part, world: World, same: int) -> Shape:
    """A part at all its turns; those that look alike are kept once."""
    sides = (False, True) if part.flip else (False,)
    turns: list[Turned] = []
    for flipped in sides:
        for rotation in part.turns:
            turn = _at_turn(job, part, world, rotation, flipped)
            if not any(_alike(turn, other) for other in turns):
                turns.append(turn)
    return Shape(part, part.polygon.area, tuple(turns), same)


def _alike(a: Turned, b: Turned) -> bool:
    return (
        len(a.start) == len(b.start)
        and np.array_equal(a.start, b.start)
        and np.allclose(a.lefts, b.lefts, rtol=0, atol=1e-9)
        and np.allclose(a.rights, b.rights, rtol=0, atol=1e-9)
    )


def usable(job: CutJob, stock: Stock) -> Polygon:
    """Where parts grown by half the gap may lie: the margin kept, half the gap given back.

    In a corner that goes in, giving back more than was taken would let a part nearer the edge than it
    may be; there the margin is at least half the gap.
    """
    inset = job.margin_of(stock) - job.gap / 2
    whole = stock.polygon
    convex = whole.convex_hull.area - whole.area < 1e-12
    if inset < 0:
        return whole.buffer(-inset, join_style="mitre", mitre_limit=1e3) if convex else whole
    return whole.buffer(-inset, join_style="mitre", mitre_limit=1e3) if inset > 0 else whole


def ground_of(job: CutJob, stock: Stock, world: World) -> Ground | None:
    """The stock as rows; None where its margin leaves nothing."""
    free = world.seen(usable(job, stock))
    if free.is_empty:
        return None
    x0, y0, x1, y1 = free.bounds
    rows = math.floor((y1 - y0 + HAIR_M) / world.cell)
    if rows < 1:
        return None
    low, high = np.full((rows, MOST), FAR_M), np.full((rows, MOST), FAR_M)
    count = np.zeros(rows, dtype=np.int64)
    start, lefts, rights = strips(_edges(box(x0 - 1, y0 - 1, x1 + 1, y1 + 1) - free), y0, world.cell, rows)
    for row in range(rows):
        spans = slice(start[row], min(start[row + 1], start[row] + MOST))
        count[row] = spans.stop - spans.start
        low[row, : count[row]], high[row, : count[row]] = lefts[spans], rights[spans]
        # outside there is nothing to lie on
        low[row, 0], high[row, count[row] - 1] = -FAR_M, FAR_M
    return Ground(stock, count, low, high, (x0, y0), stock.polygon.area)
