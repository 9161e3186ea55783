"""Boxes packed by a library: to start from where parts are rectangles, and never to be worse than."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import product
from typing import Any

import rectpack

from stirrup.core.cutting.cut_job import CutJob, Lay, Part, laid, turned
from stirrup.core.cutting.nest.fill import Filled
from stirrup.core.cutting.nest.stages import stages_of
from stirrup.core.cutting.nest.straight import Rect

SCALE = 1e5  # whole hundredths of a millimetre
HAIR = 1e-5  # of one of them: what rounding made of a whole number
LOOSE: tuple[Any, ...] = (
    rectpack.MaxRectsBssf,
    rectpack.MaxRectsBl,
    rectpack.MaxRectsBaf,
    rectpack.MaxRectsBlsf,
)
STRAIGHT: tuple[Any, ...] = tuple(
    getattr(rectpack, f"Guillotine{fit}{split}")
    for fit, split in product(("Bssf", "Blsf", "Baf"), ("Sas", "Las", "Slas", "Llas", "Maxas", "Minas"))
)
Turn = tuple[float, float, float, float, float]  # rotation, corner, size with the gap


def _turns(job: CutJob, part: Part) -> list[Turn]:
    """The turn in which it lies lowest, and one a quarter from it if that is allowed."""
    out = []
    for rotation in part.turns:
        x0, y0, x1, y1 = turned(part.polygon, rotation).bounds
        out.append((rotation, x0, y0, x1 - x0 + job.gap, y1 - y0 + job.gap))
    lying = min(out, key=lambda t: t[4])
    other = [t for t in out if abs((t[0] - lying[0]) % 180 - 90) < 1e-9]
    return [lying, *other[:1]]


def packed(job: CutJob, algorithm: Any, rooms: Sequence[Rect | None]) -> tuple[Filled, ...] | None:
    """Every part's box in the rectangles of the stocks, cheapest by area first; None where it does not
    work out: something is left, or straight cuts would take more stages than allowed."""
    items = [(p, _turns(job, p)) for p in job.parts for _ in range(p.qty)]
    both = all(len(turns) == 2 for _, turns in items)
    packer = rectpack.newPacker(rotation=both, pack_algo=algorithm)
    for n, (_, turns) in enumerate(items):
        packer.add_rect(*(math.ceil(v * SCALE - HAIR) for v in turns[0][3:]), n)
    stocks = sorted(range(len(job.stocks)), key=lambda s: job.stocks[s].cost / job.stocks[s].polygon.area)
    for s in stocks:
        room = rooms[s]
        if room is not None and (job.straight or job.stocks[s].square):
            size = (math.floor((room[k + 2] - room[k] + job.gap) * SCALE + HAIR) for k in (0, 1))
            count = job.stocks[s].count
            packer.add_bin(*size, count=len(items) if count is None else min(count, len(items)), bid=s)
    packer.pack()
    out = tuple(_filled(job, items, bin_, rooms[bin_.bid]) for bin_ in packer if len(bin_))
    if sum(len(f.items) for f in out) != len(items):
        return None
    if job.straight and any(_too_many_stages(job, f) for f in out):
        return None
    return out


def _filled(job: CutJob, items: list[tuple[Part, list[Turn]]], bin_: Any, room: Any) -> Filled:
    lays, area, reach = [], 0.0, 0.0
    for rect in bin_:
        part, turns = items[rect.rid]
        wide = math.ceil(turns[0][3] * SCALE - HAIR)
        high = math.ceil(turns[0][4] * SCALE - HAIR)
        turn = turns[0] if (rect.width, rect.height) == (wide, high) else turns[-1]
        lays.append(
            Lay(part.id, turn[0], room[0] + rect.x / SCALE - turn[1], room[1] + rect.y / SCALE - turn[2])
        )
        area += part.polygon.area
        reach = max(reach, (rect.x + rect.width) / SCALE)
    return Filled(bin_.bid, tuple(r.rid for r in bin_), tuple(lays), area, reach)


def _too_many_stages(job: CutJob, filled: Filled) -> bool:
    parts = {p.id: p for p in job.parts}
    boxes = [laid(parts[x.part], x).bounds for x in filled.lays]
    stages = stages_of(boxes, job.stocks[filled.stock].polygon.bounds)
    return stages is None or stages > job.stages
