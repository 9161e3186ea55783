"""Panels on sheets: true outlines, with kerf, margin and grain.

Two ways are tried and the cheaper, then fuller, result is kept: exact packing of bounding
boxes (where parts are rectangles it is best), and a bottom-left fill of true outlines on a
raster. Every accepted placement is checked again in double precision.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from decimal import Decimal

import numpy as np
import rectpack
import shapely
from numpy.typing import NDArray
from shapely import affinity
from shapely.geometry import LineString, Polygon, box
from shapely.strtree import STRtree

from stirrup.core.document import Point2
from stirrup.core.memo import kept_property
from stirrup.core.parts.model import Ring

CELL_M = 0.010
TOUCH_M = 1e-7  # rounding allowed when a layout is checked


@dataclass(frozen=True)
class Blank:
    """A part to cut: outline and holes [m], allowed turns [deg], may it be turned over."""

    id: str
    label: str
    outline: Ring
    holes: tuple[Ring, ...] = ()
    rotations: tuple[int, ...] = (0, 180)
    flip: bool = False

    @kept_property
    def polygon(self) -> Polygon:
        return Polygon(self.outline, self.holes)

    @kept_property
    def box(self) -> tuple[float, float, float, float]:
        """Bounding box as drawn: least x and y, greatest x and y [m]."""
        x, y = zip(*self.outline, strict=True)
        return min(x), min(y), max(x), max(y)


@dataclass(frozen=True)
class SheetJob:
    """All blanks of one stock: width along the grain, height, kerf and margin [m]."""

    stock: str
    width: float
    height: float
    blanks: tuple[Blank, ...]
    price: Decimal = Decimal(0)
    kerf: float = 0.003
    margin: float = 0.006


@dataclass(frozen=True)
class Placement:
    """Turn the blank by `rotation` [deg] about (0, 0), mirrored first if flipped, then shift."""

    blank: str
    rotation: int
    x: float
    y: float
    flipped: bool = False


@dataclass(frozen=True)
class SheetLayout:
    """Sheets with their placements, and what fits on none; not settled: set in shelves for now."""

    job: SheetJob
    sheets: tuple[tuple[Placement, ...], ...]
    unplaced: tuple[str, ...] = ()
    settled: bool = True

    @property
    def cost(self) -> Decimal:
        return self.job.price * len(self.sheets)

    @property
    def utilisation(self) -> float:
        """Net area of the placed parts over the area of the sheets used."""
        if not self.sheets:
            return 0.0
        areas = {b.id: b.polygon.area for b in self.job.blanks}
        used = sum(areas[p.blank] for sheet in self.sheets for p in sheet)
        return float(used) / (len(self.sheets) * self.job.width * self.job.height)


def turned(blank: Blank, rotation: float, flipped: bool = False) -> Polygon:
    """The blank's polygon mirrored (x to -x) and turned about (0, 0)."""
    shape = blank.polygon
    if flipped:
        shape = affinity.scale(shape, -1, 1, origin=(0, 0))
    return affinity.rotate(shape, rotation, origin=(0, 0))


def placed(blank: Blank, placement: Placement) -> Polygon:
    """Where the blank lies on its sheet."""
    shape = turned(blank, placement.rotation, placement.flipped)
    return affinity.translate(shape, placement.x, placement.y)


def line_placed(line: tuple[Point2, Point2], placement: Placement) -> tuple[Point2, Point2]:
    """Where a line of a blank lies on its sheet, as `placed` lays its outline."""
    there = LineString(line)
    if placement.flipped:
        there = affinity.scale(there, -1, 1, origin=(0, 0))
    there = affinity.translate(affinity.rotate(there, placement.rotation, origin=(0, 0)), placement.x,
                               placement.y)  # fmt: skip
    (a, b), (c, d) = there.coords
    return ((a, b), (c, d))


def faults(layout: SheetLayout) -> list[str]:
    """What is wrong with a layout, in words; empty when it can be cut. Exact geometry."""
    job, out = layout.job, []
    blanks = {b.id: b for b in job.blanks}
    usable = box(job.margin, job.margin, job.width - job.margin, job.height - job.margin)
    counted = [p.blank for sheet in layout.sheets for p in sheet]
    if sorted(counted + list(layout.unplaced)) != sorted(blanks):
        out.append("not every blank is placed exactly once")
    for number, sheet in enumerate(layout.sheets, start=1):
        shapes = [placed(blanks[p.blank], p) for p in sheet]
        for p, shape in zip(sheet, shapes, strict=True):
            if p.rotation % 360 not in blanks[p.blank].rotations:
                out.append(f"{p.blank}: turned by {p.rotation}")
            if not usable.buffer(TOUCH_M).covers(shape):
                out.append(f"{p.blank}: over the margin of sheet {number}")
        tree = STRtree(shapes)
        for i, shape in enumerate(shapes):
            for j in tree.query(shape.buffer(job.kerf)):
                if i < j and shape.distance(shapes[j]) < job.kerf - TOUCH_M:
                    out.append(f"{sheet[i].blank} and {sheet[j].blank}: nearer than the kerf")
    return out


def _boxes(job: SheetJob, turns: dict[str, int]) -> SheetLayout | None:
    """Bounding boxes packed exactly, each blank at the turn given."""
    scale = 1e5  # whole hundredths of a millimetre
    packer = rectpack.newPacker(rotation=False, pack_algo=rectpack.MaxRectsBssf)
    bounds = {b.id: _bounds(b, turns[b.id]) for b in job.blanks}
    for key, (x0, y0, x1, y1) in bounds.items():
        packer.add_rect(
            math.ceil((x1 - x0 + job.kerf) * scale - 1e-3),
            math.ceil((y1 - y0 + job.kerf) * scale - 1e-3),
            key,
        )
    usable = [
        math.floor((size - 2 * job.margin + job.kerf) * scale + 1e-3) for size in (job.width, job.height)
    ]
    packer.add_bin(*usable, count=len(job.blanks))
    packer.pack()
    sheets = []
    for bin_ in packer:
        spots = []
        for rect in bin_:
            x0, y0, _, _ = bounds[rect.rid]
            spots.append(
                Placement(
                    rect.rid,
                    turns[rect.rid],
                    job.margin + rect.x / scale - x0,
                    job.margin + rect.y / scale - y0,
                )
            )
        sheets.append(tuple(spots))
    layout = SheetLayout(job, tuple(sheets))
    return layout if sum(len(s) for s in sheets) == len(job.blanks) else None


def _shelves(job: SheetJob, turns: dict[str, int]) -> SheetLayout:
    """Boxes in shelves, tallest first: rough, and ready in a millisecond."""
    boxes = sorted(((b.id, _bounds(b, turns[b.id])) for b in job.blanks), key=lambda x: x[1][1] - x[1][3])
    wide, high = job.width - job.margin + job.kerf, job.height - job.margin + job.kerf
    sheets: list[list[Placement]] = []
    shelves: list[list[float]] = []  # sheet, foot, top, used length
    for key, (x0, y0, x1, y1) in boxes:
        w, h = x1 - x0 + job.kerf, y1 - y0 + job.kerf
        shelf = next((s for s in shelves if s[3] + w <= wide + 1e-9 and h <= s[2] - s[1] + 1e-9), None)
        if shelf is None:
            tops = {int(s[0]): s[2] for s in shelves}
            at = next((n for n, top in tops.items() if top + h <= high + 1e-9), len(sheets))
            if at == len(sheets):
                sheets.append([])
            foot = tops.get(at, job.margin)
            shelf = [at, foot, foot + h, job.margin]
            shelves.append(shelf)
        sheets[int(shelf[0])].append(Placement(key, turns[key], shelf[3] - x0, shelf[1] - y0))
        shelf[3] += w
    return SheetLayout(job, tuple(tuple(s) for s in sheets))


def _bounds(blank: Blank, rotation: int) -> tuple[float, float, float, float]:
    """Bounding box of the turned outline; quicker than turning the whole shape."""
    x0, y0, x1, y1 = blank.box
    quarter = {
        0: (x0, y0, x1, y1),
        90: (-y1, x0, -y0, x1),
        180: (-x1, -y1, -x0, -y0),
        270: (y0, -x1, y1, -x0),
    }
    return quarter.get(rotation) or tuple(turned(blank, rotation).bounds)


def _fits_alone(job: SheetJob, blank: Blank, rotation: int) -> bool:
    x0, y0, x1, y1 = _bounds(blank, rotation)
    return x1 - x0 <= job.width - 2 * job.margin + 1e-9 and y1 - y0 <= job.height - 2 * job.margin + 1e-9


@dataclass
class _Raster:
    """Occupied cells of one sheet, with their transform kept for the next search."""

    cells: NDArray[np.bool_]
    shape: tuple[int, int]
    transform: NDArray[np.complex128] | None = None

    def spots(self, mask: NDArray[np.bool_]) -> NDArray[np.int64]:
        """All cells where the mask's corner may lie without touching what is there."""
        if self.transform is None:
            self.transform = np.fft.rfft2(self.cells, self.shape)
        other = np.fft.rfft2(mask[::-1, ::-1], self.shape)
        overlap = np.fft.irfft2(self.transform * other, self.shape)
        rows, columns = mask.shape
        free = overlap[rows - 1 : self.cells.shape[0], columns - 1 : self.cells.shape[1]] < 0.5
        return np.argwhere(free)


def _mask(shape: Polygon, kerf: float) -> NDArray[np.bool_]:
    """Cells touched by the shape grown by half the kerf; its bounds' corner is cell (0, 0)."""
    x0, y0, x1, y1 = shape.bounds
    columns = math.ceil((x1 - x0 + kerf) / CELL_M - 1e-9)
    rows = math.ceil((y1 - y0 + kerf) / CELL_M - 1e-9)
    # round corners are drawn with chords: their middles, not their ends, have to be far enough out
    grown = shape.buffer((kerf / 2 + CELL_M * 0.7072) / math.cos(math.pi / 16), quad_segs=4)
    shapely.prepare(grown)
    x = x0 - kerf / 2 + (np.arange(columns) + 0.5) * CELL_M
    y = y0 - kerf / 2 + (np.arange(rows) + 0.5) * CELL_M
    return np.asarray(shapely.contains_xy(grown, *np.meshgrid(x, y)), dtype=bool)


def _fill(job: SheetJob, order: list[Blank]) -> SheetLayout:
    """Bottom-left fill of true outlines on a raster, one blank after the other."""
    width = job.width - 2 * job.margin + job.kerf
    height = job.height - 2 * job.margin + job.kerf
    grid = (int(height / CELL_M + 1e-9), int(width / CELL_M + 1e-9))
    sheets: list[tuple[_Raster, list[Placement]]] = []
    for blank in order:
        options = []
        for rotation in blank.rotations:
            shape = turned(blank, rotation)
            mask = _mask(shape, job.kerf)
            if mask.shape[0] <= grid[0] and mask.shape[1] <= grid[1]:
                options.append((rotation, shape, mask))
        if not options:
            return SheetLayout(job, ())
        for raster, spots in [*sheets, (_Raster(np.zeros(grid, bool), (grid[0], grid[1])), [])]:
            best = None
            for rotation, shape, mask in options:
                free = raster.spots(mask)
                if len(free) == 0:
                    continue
                reach = free[:, 1] + mask.shape[1]
                k = int(np.lexsort((free[:, 0], reach))[0])
                rank = (int(reach[k]), int(free[k, 0]))
                if best is None or rank < best[0]:
                    best = (rank, rotation, shape, mask, free[k])
            if best is None:
                continue
            _, rotation, shape, mask, (row, column) = best
            raster.cells[row : row + mask.shape[0], column : column + mask.shape[1]] |= mask
            raster.transform = None
            x0, y0, _, _ = shape.bounds
            spots.append(
                Placement(
                    blank.id,
                    rotation,
                    job.margin + column * CELL_M - x0,
                    job.margin + row * CELL_M - y0,
                )
            )
            if all(raster is not known for known, _ in sheets):
                sheets.append((raster, spots))
            break
    return SheetLayout(job, tuple(tuple(spots) for _, spots in sheets))


def _rank(layout: SheetLayout) -> tuple[int, float]:
    """Fewer sheets first; then as little as possible of the last sheet's length."""
    blanks = {b.id: b for b in layout.job.blanks}
    last = max((p.x + _bounds(blanks[p.blank], p.rotation)[2] for p in layout.sheets[-1]), default=0.0)
    return (len(layout.sheets), last)


def _turns(job: SheetJob, upright: bool) -> dict[str, int]:
    """For each blank the allowed turn whose box is lowest (or narrowest)."""
    axis = 2 if upright else 3

    def extent(blank: Blank, rotation: int) -> float:
        bounds = _bounds(blank, rotation)
        return bounds[axis] - bounds[axis - 2]

    return {
        b.id: min(
            (r for r in b.rotations if _fits_alone(job, b, r)),
            key=lambda r, b=b: extent(b, r),  # type: ignore[misc]
        )
        for b in job.blanks
    }


def lay_out(job: SheetJob, quick: bool = False) -> SheetLayout:
    """Fewest sheets found for the job; `quick` sets boxes in shelves.

    Blanks larger than the sheet in every allowed turn are listed as unplaced.
    """
    fits = tuple(b for b in job.blanks if any(_fits_alone(job, b, r) for r in b.rotations))
    placed = {b.id for b in fits}
    unplaced = tuple(b.id for b in job.blanks if b.id not in placed)
    inner = replace(job, blanks=fits)
    if not fits:
        return SheetLayout(job, (), unplaced)
    lying = _turns(inner, False)
    if quick:
        return SheetLayout(job, _shelves(inner, lying).sheets, unplaced, settled=False)
    found = [x for x in (_boxes(inner, turns) for turns in (lying, _turns(inner, True))) if x]
    by_area = sorted(fits, key=lambda b: -b.polygon.area)
    by_length = sorted(fits, key=lambda b: -max(np.ptp(np.array(b.outline), axis=0)))
    found.append(_fill(inner, by_area))
    if by_length != by_area:
        found.append(_fill(inner, by_length))
    found = [x for x in (*found, _shelves(inner, lying)) if x.sheets and not faults(x)]
    best = min(found, key=_rank)
    return SheetLayout(job, best.sheets, unplaced)
