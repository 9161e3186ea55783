"""Panels on sheets: true outlines, with kerf, margin and grain.

As few sheets as can be found (cutting/nest); a layout to count by is ready in a millisecond. Every
placement is checked again by exact geometry (`faults`).
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import replace
from decimal import Decimal

from shapely import affinity
from shapely.geometry import LineString, Polygon

from stirrup.core.cutting import cut_job
from stirrup.core.cutting.cut_job import Bin, CutJob, CutLayout, Lay, Part, Stock
from stirrup.core.cutting.nest.check import faults_of
from stirrup.core.cutting.nest.fill import Budget
from stirrup.core.cutting.nest.search import Search
from stirrup.core.cutting.nest.stages import StraightCut, cuts_of
from stirrup.core.cutting.pinned import Pin, left_around, lying, standing
from stirrup.core.cutting.roll import cut_off, pieces
from stirrup.core.cutting.shelves import shelved
from stirrup.core.document import Point2
from stirrup.core.kept import KeptHash, kept_property
from stirrup.core.parts.model import Ring
from stirrup.core.record import dataclass

WORK = 100  # units of a search that does not come to an end before: some tenths of a second
PINNED = "pinned"  # and so does a sheet with parts that stay
BOUGHT = "to buy"  # what a sheet that is bought goes by among the leftovers; no id has a space


# how far a search is, from 0 to 1; answers whether it is to stop
Told = Callable[[float], bool]


@dataclass(frozen=True)
class Blank(KeptHash):
    """A part to cut: outline and holes [m], allowed turns [deg], may it be turned over."""

    id: str
    label: str
    outline: Ring
    holes: tuple[Ring, ...] = ()
    rotations: tuple[int, ...] = (0, 180)
    flip: bool = False
    __hash__ = KeptHash.__hash__

    @kept_property
    def polygon(self) -> Polygon:
        return Polygon(self.outline, self.holes)

    @kept_property
    def box(self) -> tuple[float, float, float, float]:
        """Bounding box as drawn: least x and y, greatest x and y [m]."""
        x, y = zip(*self.outline, strict=True)
        return min(x), min(y), max(x), max(y)

    @kept_property
    def ways(self) -> tuple[tuple[int, tuple[float, float, float, float]], ...]:
        """Its turns with the box of each [m], the lowest first; of equal ones the first that is allowed."""
        found = ((turn, _bounds(self, turn)) for turn in self.rotations)
        return tuple(sorted(found, key=lambda way: way[1][3] - way[1][1]))


@dataclass(frozen=True)
class RestSheet:
    """A leftover of the stock: width along the grain, height [m], how many alike; its outline and holes
    where it is no rectangle, from (0, 0) on."""

    id: str
    width: float
    height: float
    count: int = 1
    outline: Ring = ()
    holes: tuple[Ring, ...] = ()

    @property
    def ring(self) -> Ring:
        """Its outline, of a rectangle too."""
        return self.outline or _rectangle(self.width, self.height)

    @property
    def polygon(self) -> Polygon:
        """What there is of it."""
        return Polygon(self.ring, self.holes)


def _rectangle(wide: float, high: float) -> Ring:
    return ((0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high))


@dataclass(frozen=True)
class SheetJob:
    """All blanks of one stock: width along the grain, height, kerf and margin [m]; leftovers that are
    used first; whether every cut goes from edge to edge. roll: `width` is the most that is cut off one, the
    price that of a metre."""

    stock: str
    width: float
    height: float
    blanks: tuple[Blank, ...]
    price: Decimal = Decimal(0)
    kerf: float = 0.003
    margin: float = 0.006
    rests: tuple[RestSheet, ...] = ()
    straight: bool = False
    pins: tuple[Pin, ...] = ()
    work: int = WORK
    roll: bool = False

    @property
    def usual(self) -> SheetJob:
        """The same with as much searching as every job gets."""
        return self if self.work == WORK else replace(self, work=WORK)

    @property
    def stays(self) -> tuple[Pin, ...]:
        """The parts that stay where they were put; none where every cut goes from edge to edge."""
        if not self.pins or self.straight:
            return ()
        stocks = {r.id: (r.polygon, r.count) for r in self.rests}
        return standing(
            self.pins, {b.id: b.polygon for b in self.blanks},
            {**stocks, "": (Polygon(_rectangle(self.width, self.height)), None)}, self.margin, self.kerf,
        )  # fmt: skip

    @property
    def sizes(self) -> tuple[tuple[float, float], ...]:
        """Of everything that blanks may be cut from [m]."""
        return ((self.width, self.height), *((r.width, r.height) for r in self.rests))


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
    """Sheets with their placements, and what fits on none; not settled: set in shelves for now.

    on: for each sheet the leftover that it is, empty for one that is bought.
    """

    job: SheetJob
    sheets: tuple[tuple[Placement, ...], ...]
    unplaced: tuple[str, ...] = ()
    settled: bool = True
    on: tuple[str, ...] = ()
    more: bool = False  # a closer one is being looked for

    def rest(self, number: int) -> str:
        """The leftover that a sheet is, by its id; empty for one that is bought. Counted from 0."""
        return self.on[number] if self.on else ""

    def size(self, number: int) -> tuple[float, float]:
        """Width and height of a sheet [m]; counted from 0. Off a roll: as much as is cut off."""
        known = {r.id: (r.width, r.height) for r in self.job.rests}
        return known.get(self.rest(number), (self.lengths[number], self.job.height))

    @kept_property
    def lengths(self) -> tuple[float, ...]:
        """How long each sheet is that is bought [m]: off a roll what its parts reach to, in steps as it is
        sold."""
        if not self.job.roll:
            return (self.job.width,) * len(self.sheets)
        blanks = {b.id: b for b in self.job.blanks}
        out = []
        for sheet in self.sheets:
            reach = max((placed(blanks[p.blank], p).bounds[2] for p in sheet), default=0.0)
            out.append(cut_off(reach + self.job.margin, self.job.width))
        return tuple(out)

    def stock(self, number: int) -> Polygon:
        """What there is of a sheet before it is cut; counted from 0."""
        known = {r.id: r for r in self.job.rests}
        rest = known.get(self.rest(number))
        return Polygon(_rectangle(*self.size(number))) if rest is None else rest.polygon

    @property
    def amount(self) -> float:
        """How much has to be bought: sheets, or metres off a roll."""
        if not self.job.roll:
            return float(self.bought)
        return round(sum(x for k, x in enumerate(self.lengths) if not self.rest(k)), 6)

    @property
    def bought(self) -> int:
        """How many sheets have to be bought."""
        return sum(not self.rest(k) for k in range(len(self.sheets)))

    @property
    def cost(self) -> Decimal:
        return (self.job.price * Decimal(f"{self.amount:g}")).quantize(Decimal("0.01"))

    @property
    def utilisation(self) -> float:
        """Net area of the placed parts over the area of the sheets used."""
        if not self.sheets:
            return 0.0
        areas = {b.id: b.polygon.area for b in self.job.blanks}
        used = sum(areas[p.blank] for sheet in self.sheets for p in sheet)
        return float(used / sum(self.stock(k).area for k in range(len(self.sheets))))


def turned(blank: Blank, rotation: float, flipped: bool = False) -> Polygon:
    """The blank's polygon mirrored (x to -x) and turned about (0, 0)."""
    return cut_job.turned(blank.polygon, rotation, flipped)


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


def straight_cuts(layout: SheetLayout, number: int) -> tuple[tuple[StraightCut, list[str]], ...]:
    """The cuts that take a sheet apart, from edge to edge, in order, each with the blanks on the piece
    that it takes off; sheets are counted from 0. Empty where the layout is not one for straight cuts, or
    not settled yet."""
    job = layout.job
    if not job.straight or not layout.settled:
        return ()
    if any(r.id == layout.rest(number) and r.outline for r in job.rests):
        return ()  # cut to a rectangle first, wherever it lies in it
    blanks = {b.id: b for b in job.blanks}
    boxes = [tuple(placed(blanks[p.blank], p).bounds) for p in layout.sheets[number]]
    cuts = cuts_of(boxes, (0.0, 0.0, *layout.size(number)), job.kerf) or ()
    return tuple((c, [layout.sheets[number][k].blank for k in c.holds(boxes)]) for c in cuts)


def faults(layout: SheetLayout) -> list[str]:
    """What is wrong with a layout, in words; empty when it can be cut. Exact geometry."""
    bins = (
        Bin(layout.rest(k) or BOUGHT, tuple(Lay(p.blank, p.rotation, p.x, p.y, p.flipped) for p in sheet))
        for k, sheet in enumerate(layout.sheets)
    )
    return faults_of(CutLayout(_as_cut(layout.job), tuple(bins), layout.unplaced))


def _shelves(job: SheetJob, lying: Lying) -> SheetLayout:
    """Boxes in shelves, tallest first, leftovers first: rough, and ready in a millisecond."""
    boxes = sorted(lying.items(), key=lambda x: x[1][1][1] - x[1][1][3])
    sizes = [(key, x1 - x0, y1 - y0) for key, (_, (x0, y0, x1, y1)) in boxes]
    rests = [(r.id, r.width, r.height, r.count) for r in job.rests if not r.outline]
    used = shelved(sizes, (job.width, job.height), rests, job.kerf, job.margin)
    sheets = tuple(
        tuple(Placement(key, lying[key][0], x - lying[key][1][0], y - lying[key][1][1])
              for key, x, y in spots)
        for _, spots in used
    )  # fmt: skip
    return SheetLayout(job, sheets, on=tuple(on for on, _ in used))


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


Lying = dict[str, tuple[int, tuple[float, float, float, float]]]


def _lying(job: SheetJob) -> Lying:
    """For each blank the allowed turn whose box is lowest, and that box; without those that fit nowhere."""
    edges = 2 * job.margin - 1e-9
    rooms = [(wide - edges, high - edges) for wide, high in job.sizes]
    out: Lying = {}
    for blank in job.blanks:
        for rotation, bounds in blank.ways:
            wide, high = bounds[2] - bounds[0], bounds[3] - bounds[1]
            if any(wide <= w and high <= h for w, h in rooms):
                out[blank.id] = (rotation, bounds)
                break
    return out


def _budget(job: SheetJob, told: Told | None) -> Budget:
    """As much work as a job asks for, told of from time to time."""
    budget = Budget(job.work)
    if told is not None:
        budget.stop = lambda: told(budget.share)
    return budget


def lay_out(job: SheetJob, quick: bool = False, told: Told | None = None) -> SheetLayout:
    """Fewest sheets found for the job; `quick` sets boxes in shelves. told: see `Told`; what is best so far
    comes back when it says so.

    Blanks larger than the sheet in every allowed turn are listed as unplaced.
    """
    lying = _lying(job)
    unplaced = tuple(b.id for b in job.blanks if b.id not in lying)
    inner = replace(job, blanks=tuple(b for b in job.blanks if b.id in lying)) if unplaced else job
    if not lying:
        return SheetLayout(job, (), unplaced)
    counted = _shelves(inner, lying)
    if quick:
        return SheetLayout(job, counted.sheets, unplaced, settled=False, on=counted.on)
    stays = inner.stays
    if stays:
        return _around(job, inner, stays, unplaced, told)
    best = Search(_as_cut(inner), _budget(job, told)).run()
    sheets = (_placements(b.lays) for b in best.bins)
    on = tuple("" if b.stock.startswith(BOUGHT) else b.stock for b in best.bins)
    found = SheetLayout(job, tuple(sheets), (*unplaced, *best.unplaced), on=on)
    if counted.amount < found.amount and not faults(counted):  # never more than was counted
        return SheetLayout(job, counted.sheets, unplaced, on=counted.on)
    return found


def _as_cut(job: SheetJob) -> CutJob:
    """The job as one among many kinds of stock: as few sheets as can be, whatever they cost."""

    stocks = [Stock(BOUGHT, _rectangle(job.width, job.height), (), job.width if job.roll else 1.0, None)]
    if job.roll:
        area = sum(b.polygon.area for b in job.blanks)
        tried = pieces(area, job.height, job.margin, job.width)
        stocks += [Stock(f"{BOUGHT} {x:g}", _rectangle(x, job.height), (), x, None) for x in tried]
    stocks += [Stock(r.id, r.ring, r.holes, 0.0, r.count) for r in job.rests]
    parts = (
        Part(b.id, b.outline, b.holes, 1, tuple(float(r) for r in b.rotations), b.flip) for b in job.blanks
    )
    return CutJob(
        job.stock, tuple(stocks), tuple(parts), kerf=job.kerf, margin=job.margin, straight=job.straight
    )


def _around(
    job: SheetJob, inner: SheetJob, stays: tuple[Pin, ...], unplaced: tuple[str, ...], told: Told | None
) -> SheetLayout:
    """What is pinned on its sheets, and the rest around it and on others."""
    fixed = {p.part for p in stays}
    blanks = {b.id: b for b in inner.blanks}
    of: dict[int, list[Pin]] = {}
    for pin in stays:
        of.setdefault(pin.sheet, []).append(pin)
    used = Counter(pins[0].on for pins in of.values())
    rest_of = {r.id: r for r in inner.rests}
    whole = Polygon(_rectangle(inner.width, inner.height))
    around, begun = [], {}
    for number, pins in sorted(of.items()):
        name = f"{PINNED} {number}"
        begun[name] = pins
        stock = rest_of[pins[0].on].polygon if pins[0].on else whole
        left = left_around(
            stock, [lying(blanks[p.part].polygon, p) for p in pins], inner.margin, inner.kerf
        )
        if not left.is_empty:
            ring, *holes = (tuple(r.coords[:-1]) for r in (left.exterior, *left.interiors))
            around.append(Stock(name, ring, tuple(holes), 0.0, 1))
    rests = tuple(replace(r, count=r.count - used[r.id]) for r in inner.rests if r.count > used[r.id])
    loose = tuple(b for b in inner.blanks if b.id not in fixed)
    cut = _as_cut(replace(inner, blanks=loose, rests=rests, pins=()))
    whole_job = replace(cut, stocks=(*around, *cut.stocks))
    found = Search(whole_job, _budget(job, told)).run() if loose else None
    bins = {b.stock: b.lays for b in found.bins if b.stock in begun} if found else {}
    sheets, on = [], []
    for name, pins in begun.items():
        there = [Placement(p.part, p.rotation, p.x, p.y, p.flipped) for p in pins]
        sheets.append((*there, *_placements(bins.get(name, ()))))
        on.append(pins[0].on)
    for one in found.bins if found else ():
        if one.stock not in begun:
            sheets.append(_placements(one.lays))
            on.append("" if one.stock.startswith(BOUGHT) else one.stock)
    missing = found.unplaced if found else ()
    return SheetLayout(job, tuple(sheets), (*unplaced, *missing), on=tuple(on))


def _placements(lays: Iterable[Lay]) -> tuple[Placement, ...]:
    return tuple(Placement(x.part, round(x.rotation), x.x, x.y, x.flipped) for x in lays)
