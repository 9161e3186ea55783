"""Straight cuts: stock filled so that a saw or a shear, which goes from edge to edge, can take it apart.

First shelves across the whole piece, then columns in each shelf, then what stands over one another in
a column: three stages. With two every part of a shelf is as high as it; with four a column's parts may
be narrower than it (Gilmore and Gomory 1965).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import field

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from stirrup.core.cutting.cut_job import CutJob, Lay, Part, Stock, turned
from stirrup.core.cutting.nest.fill import Budget, Filled
from stirrup.core.cutting.nest.shapes import World
from stirrup.core.record import dataclass

EQUAL_M = 1e-10
GRID_M = 0.005  # in which the largest rectangle of an offcut is looked for
Rect = tuple[float, float, float, float]


@dataclass(frozen=True)
class Boxed:
    """A part at one turn as its box: size with the gap added [m], where the box's corner is."""

    rotation: float
    flipped: bool
    wide: float
    high: float
    corner: tuple[float, float]


@dataclass
class Column:
    """What stands over one another in a shelf."""

    x: float
    wide: float
    top: float


@dataclass
class Shelf:
    """A strip across the whole piece: from where, how high, its columns, how far it is filled."""

    foot: float
    high: float
    end: float
    columns: list[Column] = field(default_factory=list)


def rectangle_of(job: CutJob, stock: Stock) -> Rect | None:
    """Where parts may lie that are cut out straight: least and greatest x and y [m]; the largest
    rectangle along the axes that is found in an offcut, None where there is none."""
    free = stock.polygon.buffer(-job.margin_of(stock), join_style="mitre", mitre_limit=1e3)
    if free.is_empty:
        return None
    return tuple(free.bounds) if stock.square else largest_rectangle(free)


def largest_rectangle(free: BaseGeometry, grid_m: float = GRID_M) -> Rect | None:
    """The largest rectangle along the axes whose corners lie on a grid, by heights over each row of it."""
    x0, y0, x1, y1 = free.bounds
    columns, rows = int((x1 - x0) / grid_m), int((y1 - y0) / grid_m)
    if columns < 1 or rows < 1:
        return None
    x, y = np.meshgrid(x0 + np.arange(columns) * grid_m, y0 + np.arange(rows) * grid_m)
    shapely.prepare(free)
    inside = shapely.covers(free, shapely.box(x, y, x + grid_m, y + grid_m))
    heights, best, most = np.zeros(columns + 1, dtype=np.int64), None, 0
    for row in range(rows):
        heights[:columns] = np.where(inside[row], heights[:columns] + 1, 0)
        open_at: list[tuple[int, int]] = []  # from which column, how high; higher ones later
        for column, high in enumerate(heights):
            start = column
            while open_at and open_at[-1][1] >= high:
                start, tall = open_at.pop()
                if tall * (column - start) > most:
                    most, best = tall * (column - start), (start, row + 1 - tall, column, row + 1)
            open_at.append((start, int(high)))
    if best is None:
        return None
    a, b, c, d = best
    return x0 + a * grid_m, y0 + b * grid_m, x0 + c * grid_m, y0 + d * grid_m


@dataclass
class StraightTable:
    """A job for straight cuts: the boxes of every piece to be cut, the rectangle of every stock."""

    job: CutJob
    world: World  # upright: shelves along y
    boxes: list[tuple[Part, tuple[Boxed, ...]]] = field(default_factory=list)
    rooms: list[Rect | None] = field(default_factory=list)

    @classmethod
    def of(cls, job: CutJob, world: World, rooms: Sequence[Rect | None]) -> StraightTable:
        """Everything of the job; rooms: the rectangle of every stock, as `rectangle_of` gives it."""
        table = cls(job, world)
        for part in job.parts:
            table.boxes += [(part, tuple(_boxed(job, part, world)))] * part.qty
        table.rooms = [(r[1], r[0], r[3], r[2]) if r and world.upright else r for r in rooms]
        return table

    def fill(self, stock: int, order: Sequence[int], _tilt: float, budget: Budget) -> Filled | None:
        """What of the items goes on one piece of this stock, in their order; None where nothing does."""
        room = self.rooms[stock]
        if room is None:
            return None
        budget.spend(0)
        shelves, items, lays, area = list[Shelf](), list[int](), list[Lay](), 0.0
        for item in order:
            part, turns = self.boxes[item]
            budget.spend(100 * len(shelves))
            found = self._place(room, shelves, turns)
            if found is None:
                continue
            turn, x, y = found
            items.append(item)
            dx, dy = x - turn.corner[0], y - turn.corner[1]
            lays.append(
                Lay(part.id, turn.rotation, *((dy, dx) if self.world.upright else (dx, dy)), turn.flipped)
            )
            area += part.polygon.area
        if not items:
            return None
        return Filled(stock, tuple(items), tuple(lays), area, shelves[-1].foot + shelves[-1].high - room[1])

    def _place(
        self, room: Rect, shelves: list[Shelf], turns: tuple[Boxed, ...]
    ) -> tuple[Boxed, float, float] | None:
        """Over others in a column, else in the shelf that it fills best, else on a new one."""
        gap, stages = self.job.gap, self.job.stages
        right, top = room[2] + gap, room[3] + gap
        best: tuple[float, Boxed, Shelf, Column | None] | None = None
        for turn in turns:
            for shelf in shelves:
                for column in shelf.columns if stages >= 3 else ():
                    narrower = column.wide - turn.wide
                    if narrower < -EQUAL_M or (narrower > EQUAL_M and stages < 4):
                        continue
                    spare = shelf.foot + shelf.high - column.top - turn.high
                    if spare >= -EQUAL_M and (best is None or spare + narrower - 1e3 < best[0]):
                        best = (spare + narrower - 1e3, turn, shelf, column)
                lower = shelf.high - turn.high
                if (
                    lower < -EQUAL_M
                    or shelf.end + turn.wide > right + EQUAL_M
                    or (lower > EQUAL_M and stages < 3)
                ):
                    continue
                if best is None or lower < best[0]:
                    best = (lower, turn, shelf, None)
        if best is None:
            foot = shelves[-1].foot + shelves[-1].high if shelves else room[1]
            fits = [
                t for t in turns if room[0] + t.wide <= right + EQUAL_M and foot + t.high <= top + EQUAL_M
            ]
            if not fits:
                return None
            turn = min(fits, key=lambda t: t.high)
            shelves.append(Shelf(foot, turn.high, room[0]))
            best = (0.0, turn, shelves[-1], None)
        _, turn, shelf, over = best
        column = over or Column(shelf.end, turn.wide, shelf.foot)
        if over is None:
            shelf.columns.append(column)
            shelf.end += turn.wide
        y = column.top
        column.top += turn.high
        return turn, column.x, y


def _boxed(job: CutJob, part: Part, world: World) -> list[Boxed]:
    """The part's boxes at all its turns, each size once."""
    out: list[Boxed] = []
    for rotation in part.turns:
        shape = world.seen(turned(part.polygon, rotation))
        x0, y0, x1, y1 = shape.bounds
        wide, high = x1 - x0 + job.gap, y1 - y0 + job.gap
        if not any(abs(b.wide - wide) < EQUAL_M and abs(b.high - high) < EQUAL_M for b in out):
            out.append(Boxed(rotation, False, wide, high, (x0, y0)))
    return out
