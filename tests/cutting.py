"""A layout looked at by its numbers alone: what the documentation says of a placement, and shapely."""

from collections import Counter
from collections.abc import Callable

from shapely import affinity
from shapely.geometry import Polygon, box

from stirrup.core.cutting.cut_job import CutJob, CutLayout, Part, Stock

Ring = tuple[tuple[float, float], ...]
OFF_M = 1e-9


def rectangle(width: float, height: float) -> Ring:
    return ((0.0, 0.0), (width, 0.0), (width, height), (0.0, height))


def sheet(width: float = 2.44, height: float = 1.22, cost: float = 84.0, **more) -> Stock:
    return Stock(more.pop("id", "sheet"), rectangle(width, height), cost=cost, **more)


def parts(*outlines: Ring, **more) -> tuple[Part, ...]:
    return tuple(Part(f"p{k}", outline, **more) for k, outline in enumerate(outlines))


def where(part: Part, lay) -> Polygon:
    """Mirrored x to -x if flipped, turned counter-clockwise about (0, 0), then shifted."""
    shape = Polygon(part.outline, part.holes)
    if lay.flipped:
        shape = affinity.affine_transform(shape, [-1, 0, 0, 1, 0, 0])
    return affinity.translate(affinity.rotate(shape, lay.rotation, origin=(0, 0)), lay.x, lay.y)


def wrong(layout: CutLayout) -> list[str]:
    """Everything in it that could not be cut."""
    job, out = layout.job, []
    stocks, known = {s.id: s for s in job.stocks}, {p.id: p for p in job.parts}
    told = Counter(x.part for b in layout.bins for x in b.lays) + Counter(layout.unplaced)
    if told != Counter({p.id: p.qty for p in job.parts}):
        out.append(f"not every part once: {told}")
    for stock, n in Counter(b.stock for b in layout.bins).items():
        if stocks[stock].count is not None and n > stocks[stock].count:
            out.append(f"{stock}: {n} used")
    for one in layout.bins:
        whole, margin = (
            stocks[one.stock].polygon,
            job.margin if stocks[one.stock].margin is None else stocks[one.stock].margin,
        )
        shapes = [where(known[x.part], x) for x in one.lays]
        for lay, shape in zip(one.lays, shapes, strict=True):
            part = known[lay.part]
            if lay.flipped and not part.flip:
                out.append(f"{part.id}: turned over")
            if part.rotations is not None and lay.rotation not in part.rotations:
                out.append(f"{part.id}: turned by {lay.rotation}")
            if shape.difference(whole).area > 1e-12 or whole.boundary.distance(shape) < margin - OFF_M:
                out.append(f"{part.id}: over the edge")
        for i, a in enumerate(shapes):
            for j in range(i):
                if a.distance(shapes[j]) < max(job.kerf, job.spacing) - OFF_M:
                    out.append(f"{one.lays[i].part} and {one.lays[j].part}: {a.distance(shapes[j])}")
        if job.straight and depth([s.bounds for s in shapes], whole.bounds) > job.stages:
            out.append("more stages than allowed")
    return out


def depth(boxes: list[tuple[float, ...]], room: tuple[float, ...], near: float = 1e-7) -> float:
    """Stages of edge-to-edge cuts, tried every way: infinite where there is none. Each level either way."""

    def cut(inside: list[tuple[float, ...]], region: list[float], axis: int, left: int) -> float:
        alone = len(inside) == 1
        if alone and all(abs(a - b) < near for a, b in zip(inside[0], region, strict=True)):
            return 0
        if left == 0:
            return float("inf")
        groups: list[list[tuple[float, ...]]] = []
        for one in sorted(inside, key=lambda b: b[axis]):
            if groups and one[axis] < max(b[axis + 2] for b in groups[-1]) - near:
                groups[-1].append(one)
            else:
                groups.append([one])
        worst = 0.0
        for group in groups:
            inner = list(region)
            inner[axis], inner[axis + 2] = min(b[axis] for b in group), max(b[axis + 2] for b in group)
            worst = max(worst, cut(group, inner, 1 - axis, left - 1))
        return 1 + worst

    return min(cut(boxes, list(room), axis, 12) for axis in (0, 1))


def searched(
    job: CutJob, work: float = 20, seed: int = 0, tell: Callable[[CutLayout], None] = lambda _: None
):
    """A layout with so many units of work."""
    from stirrup.core.cutting.nest.fill import Budget
    from stirrup.core.cutting.nest.search import Search

    return Search(job, Budget(work), seed).run(tell)


def inside(x0: float, y0: float, x1: float, y1: float) -> Ring:
    """A box as a ring."""
    return tuple(box(x0, y0, x1, y1).exterior.coords)[:-1]
