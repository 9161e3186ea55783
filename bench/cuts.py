"""How well and how soon things are laid out, against boxes packed by a library in the same run.

The jobs are made up here: a casting deck, ribs and stringers, mixed panels with leftovers, many panels.
"""

from __future__ import annotations

import math
import time
from dataclasses import replace
from random import Random

from bench.measure import Table
from stirrup.core.cutting.bars import BarJob, BarStock, Member, lay_out_bars
from stirrup.core.cutting.cut_job import CutJob, CutLayout, Part, Stock
from stirrup.core.cutting.nest.boxes import LOOSE, STRAIGHT, packed
from stirrup.core.cutting.nest.check import faults_of
from stirrup.core.cutting.nest.fill import Budget
from stirrup.core.cutting.nest.search import Search
from stirrup.core.cutting.nest.straight import rectangle_of
from stirrup.core.parts.model import Ring

WIDE, HIGH = 2.44, 1.22
SETS = 8  # of members, drawn by a seed each


def _box(w: float, h: float) -> Ring:
    return ((0.0, 0.0), (w, 0.0), (w, h), (0.0, h))


PLY = Stock("ply-12", _box(WIDE, HIGH), cost=84.0)


def _bow_half(length: float, aft: float, fore: float) -> Ring:
    """Half of a deck in the bow: straight along the centreline, its side curving in to the stem."""
    curve = [(length * t, fore + (aft - fore) * (1 - t**2.2)) for t in (k / 12 for k in range(13))]
    return ((0.0, 0.0), (length, 0.0), *reversed(curve))


def _rib(width: float, rise: float, floor: float) -> Ring:
    """A rib: level on top, its bottom a vee."""
    return ((0.0, rise), (width / 2, 0.0), (width, rise), (width, rise + floor), (0.0, rise + floor))


def casting_deck() -> CutJob:
    """Six panels of one deck: two halves that run into the bow, two wings, two faces."""
    cut = [
        Part("deck port", _bow_half(1.5, 0.68, 0.1)),
        Part("deck starboard", tuple((x, -y) for x, y in reversed(_bow_half(1.5, 0.68, 0.1)))),
        Part("wing port", ((0.0, 0.0), (1.2, 0.0), (0.5, 0.38), (0.0, 0.38))),
        Part("wing starboard", ((0.0, 0.0), (1.2, 0.0), (1.2, 0.38), (0.7, 0.38))),
        Part("face", ((0.0, 0.0), (0.62, 0.0), (0.54, 0.26), (0.08, 0.26))),
        Part("step", ((0.0, 0.0), (0.58, 0.0), (0.48, 0.24), (0.10, 0.24))),
    ]
    return CutJob("casting deck", (PLY,), tuple(cut))


def ribs_and_stringers() -> CutJob:
    """44 narrow pieces: ribs with a vee, stringers that run to a point."""
    rng = Random(44)
    ribs = [Part(f"rib {k}", _rib(0.75 + 0.015 * k, 0.07 + 0.001 * k, 0.02)) for k in range(22)]
    runs = []
    for k in range(22):
        w = 0.6 + 0.4 * rng.random()
        runs.append(Part(f"stringer {k}", ((0.0, 0.0), (w, 0.0), (0.25 * w, 0.06), (0.0, 0.06))))
    return CutJob("ribs and stringers", (PLY,), tuple(ribs + runs))


def mixed_panels() -> CutJob:
    """60 panels, two sizes of sheet, three leftovers."""
    rng = Random(60)
    cut = []
    for k in range(60):
        w, h = 0.2 + 0.7 * rng.random(), 0.12 + 0.4 * rng.random()
        shape = rng.choice(
            (_box(w, h), ((0.0, 0.0), (w, 0.0), (w * 0.55, h), (0.0, h)), _bow_half(w, h, h * 0.3))
        )
        cut.append(Part(f"panel {k}", shape, rotations=(0.0, 90.0, 180.0, 270.0)))
    stocks = (
        PLY, Stock("half sheet", _box(1.22, 1.22), cost=47.0),
        Stock("rest 1", _box(1.1, 0.6), count=1), Stock("rest 2", _box(0.8, 0.8), count=1),
        Stock("rest 3", ((0.0, 0.0), (1.4, 0.0), (1.4, 0.3), (0.5, 0.7), (0.0, 0.7)), count=1),
    )  # fmt: skip
    return CutJob("mixed panels", stocks, tuple(cut))


def many_panels() -> CutJob:
    """120 panels of true outlines."""
    rng = Random(120)
    cut = []
    for k in range(120):
        w, a = 0.35 + 0.83 * rng.random(), 0.15 + 0.40 * rng.random()
        b = a * (0.15 + 0.5 * rng.random())
        shape = rng.choice((((0.0, 0.0), (w, 0.0), (w, b), (0.0, a)), _bow_half(w, a, b)))
        cut.append(Part(f"panel {k}", shape))
    return CutJob("many panels", (PLY,), tuple(cut))


def boxes_cost(job: CutJob) -> float:
    """The least cost that the library finds for the parts' boxes, in any of its ways."""
    rooms = [rectangle_of(job, s) if s.square else None for s in job.stocks]
    costs = {s: stock.cost for s, stock in enumerate(job.stocks)}
    found = [packed(job, a, rooms) for a in (STRAIGHT if job.straight else LOOSE)]
    return min((sum(costs[f.stock] for f in one) for one in found if one), default=math.inf)


def measured(job: CutJob, seconds: float) -> tuple[float, float, CutLayout]:
    """Seconds to the first layout and to the last improvement, and the layout at the end of the time."""
    start, said = time.perf_counter(), list[float]()
    search = Search(job, Budget(stop=lambda: time.perf_counter() - start > seconds))
    layout = search.run(lambda _: said.append(time.perf_counter() - start))
    if faults_of(layout):
        raise RuntimeError(f"{job.name}: {faults_of(layout)[0]}")
    return said[0], said[-1], layout


def run(table: Table) -> None:
    """Measure layouts of sheets and of sticks."""
    measured(casting_deck(), 1.0)  # the compiled loops are loaded once, when the worker starts
    for job, seconds, promised in (
        (casting_deck(), 1.0, 1), (ribs_and_stringers(), 6.0, 1), (many_panels(), 10.0, 10),
    ):  # fmt: skip
        first, _, layout = measured(job, seconds)
        sheets, boxes = len(layout.bins), boxes_cost(job) / PLY.cost
        table.add(f"{job.name}, first layout", 300, first * 1000)
        table.add(f"{job.name} in {seconds:g} s, boxes need {boxes:g}", promised, sheets, "sheets")
    job = mixed_panels()
    first, _, layout = measured(job, 5.0)
    table.add("mixed panels, first layout", 300, first * 1000)
    saved = 100 * (1 - layout.cost / boxes_cost(job))
    table.add("mixed panels in 5 s, cheaper than boxes by", 15, saved, "%", least=True)
    for job in (casting_deck(), ribs_and_stringers(), mixed_panels(), many_panels()):
        straight = replace(job, straight=True)
        _, _, layout = measured(straight, 5.0)
        any_depth = replace(straight, stages=99)
        dearer = 100 * (layout.cost / boxes_cost(any_depth) - 1)
        table.add(f"{job.name}, straight cuts in 5 s, dearer than boxes by", 0, dearer, "%")
    for count, promised_s in ((60, 2.0), (90, 4.0)):
        took, proven = list[float](), 0
        for seed in range(SETS):
            sticks, start = members(count, seed), time.perf_counter()
            bars = lay_out_bars(sticks)
            took.append(time.perf_counter() - start)
            proven += bars.proven
        table.add(
            f"{count} members, 3 lengths, 10 leftovers, slowest of {SETS}", promised_s, max(took), "s"
        )
        table.add("  of these proven to be the cheapest", SETS, proven, "sets", least=True)


def members(count: int, seed: int) -> BarJob:
    """Members of a frame in whole millimetres, bars of three lengths, ten leftovers."""
    rng = Random(1000 * count + seed)
    cut = tuple(Member(f"m{k}", rng.randint(250, 2600) / 1000) for k in range(count))
    bars = (BarStock("6.1", 6.1, 39.0), BarStock("3.05", 3.05, 21.0), BarStock("4", 4.0, 27.0))
    rests = tuple(BarStock(f"rest {k}", rng.randint(500, 2500) / 1000, 0.0, 1) for k in range(10))
    return BarJob("frame", bars + rests, cut)
