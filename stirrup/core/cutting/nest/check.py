"""What is wrong with a layout, by exact geometry and whatever made it."""

from __future__ import annotations

from collections import Counter

from shapely.strtree import STRtree

from stirrup.core.cutting.cut_job import Bin, CutJob, CutLayout, Lay, laid
from stirrup.core.cutting.nest.stages import stages_of

TOUCH_M = 1e-9  # rounding allowed
TURN_DEG = 1e-9


def faults_of(layout: CutLayout) -> list[str]:
    """What is wrong, in words; empty when it can be cut."""
    job, out = layout.job, []
    wanted = Counter({p.id: p.qty for p in job.parts})
    told = Counter([x.part for b in layout.bins for x in b.lays]) + Counter(layout.unplaced)
    if +wanted != told:
        out.append(f"not every part lies once: {(wanted - told) or (told - wanted)}")
    used = Counter(b.stock for b in layout.bins)
    for stock in job.stocks:
        if stock.count is not None and used[stock.id] > stock.count:
            out.append(f"{stock.id}: {used[stock.id]} used of {stock.count}")
    for number, one in enumerate(layout.bins, start=1):
        out += [f"piece {number}: {fault}" for fault in _bin_faults(job, one)]
    return out


def _bin_faults(job: CutJob, one: Bin) -> list[str]:
    parts, out = {p.id: p for p in job.parts}, []
    stock = next(s for s in job.stocks if s.id == one.stock)
    if not one.lays:
        out.append("nothing lies on it")
    shapes = [laid(parts[x.part], x) for x in one.lays]
    for lay, shape in zip(one.lays, shapes, strict=True):
        if not _may_turn(job, lay):
            out.append(f"{lay.part}: turned by {lay.rotation}{' and over' if lay.flipped else ''}")
        whole = stock.polygon
        inside = whole.buffer(TOUCH_M).covers(shape)
        if not inside or whole.boundary.distance(shape) < job.margin_of(stock) - TOUCH_M:
            out.append(f"{lay.part}: over the margin")
    tree = STRtree(shapes)
    for i, shape in enumerate(shapes):
        for j in tree.query(shape.buffer(job.gap)):
            near = i < j and shape.distance(shapes[j]) < job.gap - TOUCH_M
            if near or (i < j and shape.intersection(shapes[j]).area > TOUCH_M):
                out.append(f"{one.lays[i].part} and {one.lays[j].part}: nearer than {job.gap * 1000:g} mm")
    if job.straight:
        stages = stages_of([s.bounds for s in shapes], stock.polygon.bounds)
        if stages is None or stages > job.stages:
            out.append(f"straight cuts take {stages or 'no number of'} stages; allowed: {job.stages}")
    return out


def _may_turn(job: CutJob, lay: Lay) -> bool:
    part = next(p for p in job.parts if p.id == lay.part)
    if lay.flipped and not part.flip:
        return False
    if part.rotations is None:
        return True
    return any(abs((lay.rotation - r + 180) % 360 - 180) <= TURN_DEG for r in part.rotations)
