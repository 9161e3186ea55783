"""What would save a sheet: other ways of cutting, and edges a little shorter, found by trying.

Nothing is stored. A layout is worked out for each way, as close as the one that it is held against.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from decimal import Decimal
from typing import Literal

from shapely import box
from shapely.geometry import Polygon

from stirrup.core.arrange.move import edge_to
from stirrup.core.arrange.size import edges_of, resized
from stirrup.core.contract.extent import LOW_EDGES
from stirrup.core.cutting.sheets import Blank, SheetJob, SheetLayout, lay_out
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.instead import TO_MEND, tried
from stirrup.core.kinds.registry import kind_of
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Sheet, price_of_one
from stirrup.core.plan.changes import AnyChange, SetValue
from stirrup.core.plan.things import title_of
from stirrup.core.plan.where import extent_of
from stirrup.core.record import dataclass

STEPS_M = (0.02, 0.04, 0.06, 0.1)  # by which an edge is tried, the last first
LEVEL_EDGES = ("aft", "fore", "port", "starboard")
MOST_THINGS = 4  # whose edges are tried: those with parts on the sheet that is used least
MOST_PANELS = 6  # tried in two: the largest
NARROW_KERF_M = 0.0015  # of a jigsaw
SAME_THICKNESS_M = 0.0002
LEAST_SHARE = 0.1  # of a sheet: a smaller panel in two saves nothing

What = Literal["edge", "two", "grain", "kerf", "free", "size"]


@dataclass(frozen=True)
class Saving:
    """A way to buy less: what it is, of which part or thing, by how much [m] where that is a length (off a
    roll: how much is cut off); how many sheets are bought then, what it saves, how many more findings want
    mending then; the change that makes it so, where it is one of the plan."""

    what: What
    name: str
    by_m: float
    sheets: int
    saved: Decimal
    to_mend: int = 0
    change: AnyChange | None = None


def savings(derived: Derived, stock: str, shop: Catalogue) -> list[Saving]:
    """What would save at least a sheet of this stock, or buy the same for less; the largest saving first,
    of equals the one with least to mend and the smallest step."""
    layout = next((x for x in derived.sheets if x.job.stock == stock and x.settled and x.bought), None)
    if layout is None:
        return []
    found = [*_other_cuts(layout), *_larger_sheet(derived, layout, shop), *_in_two(layout)]
    found += _shorter(derived, layout, shop)
    return sorted(found, key=lambda s: (-s.saved, max(0, s.to_mend), s.what != "edge", s.by_m))


def _saves(layout: SheetLayout, job: SheetJob) -> SheetLayout | None:
    """The other job laid out, if fewer sheets are bought for it; not tried where its area is too much."""
    clear = (job.width - 2 * job.margin) * (job.height - 2 * job.margin)
    rests = sum(r.polygon.area * r.count for r in job.rests)
    if sum(b.polygon.area for b in job.blanks) > (layout.bought - 1) * clear + rests:
        return None
    other = lay_out(job)
    return other if other.bought < layout.bought and len(other.unplaced) <= len(layout.unplaced) else None


def _other_cuts(layout: SheetLayout) -> Iterator[Saving]:
    """The same parts cut otherwise."""
    job = layout.job
    if job.straight and (free := _saves(layout, replace(job, straight=False))):
        change = SetValue(path=("cutting", "straight"), value=False)
        yield Saving("free", "", 0.0, free.bought, layout.cost - free.cost, change=change)
    if job.kerf > NARROW_KERF_M and (narrow := _saves(layout, replace(job, kerf=NARROW_KERF_M))):
        change = SetValue(path=("cutting", "kerf"), value=NARROW_KERF_M)
        yield Saving("kerf", "", NARROW_KERF_M, narrow.bought, layout.cost - narrow.cost, change=change)
    if any(90 not in b.rotations for b in job.blanks):
        turning = tuple(replace(b, rotations=(0, 90, 180, 270)) for b in job.blanks)
        if across := _saves(layout, replace(job, blanks=turning)):
            yield Saving("grain", "", 0.0, across.bought, layout.cost - across.cost)


def _larger_sheet(derived: Derived, layout: SheetLayout, shop: Catalogue) -> Iterator[Saving]:
    """The same material in sheets of another size, where it costs less in all."""
    now = derived.catalogue.sheet(layout.job.stock)  # the shop may not have what a plan carries
    for other in shop.of(Sheet):
        alike = other.material == now.material and abs(other.thickness - now.thickness) < SAME_THICKNESS_M
        if not alike or (other.width, other.height) == (now.width, now.height):
            continue
        price = price_of_one(other)
        job = replace(layout.job, stock=other.id, width=other.width, height=other.height, price=price,
                      roll=other.roll)  # fmt: skip
        laid = lay_out(job)
        if price and not laid.unplaced and laid.cost < layout.cost:
            by = laid.amount if other.roll else 0.0
            yield Saving("size", other.name, by, laid.bought, layout.cost - laid.cost)


def _in_two(layout: SheetLayout) -> Iterator[Saving]:
    """A large panel in two halves, joined over a support."""
    job = layout.job
    large = sorted(job.blanks, key=lambda b: -b.polygon.area)[:MOST_PANELS]
    for blank in large:
        if blank.polygon.area < LEAST_SHARE * job.width * job.height:
            continue
        halves = _halved(blank)
        if len(halves) != 2:
            continue
        blanks = tuple(b for b in job.blanks if b.id != blank.id) + halves
        if laid := _saves(layout, replace(job, blanks=blanks)):
            yield Saving("two", blank.label, 0.0, laid.bought, layout.cost - laid.cost)


def _halved(blank: Blank) -> tuple[Blank, ...]:
    """The two halves of a blank, cut across its longer side; more pieces where a cut-out is in the way."""
    x0, y0, x1, y1 = blank.box
    middle = ((x0 + x1) / 2, (y0 + y1) / 2)
    long = x1 - x0 >= y1 - y0
    sides = (
        (box(x0, y0, middle[0], y1), box(middle[0], y0, x1, y1))
        if long
        else (box(x0, y0, x1, middle[1]), box(x0, middle[1], x1, y1))
    )
    parts = [blank.polygon.intersection(side) for side in sides]
    return tuple(
        Blank(f"{blank.id}/{k}", blank.label, tuple(p.exterior.coords)[:-1],
              tuple(tuple(r.coords)[:-1] for r in p.interiors), blank.rotations, blank.flip)
        for k, p in enumerate(parts) if isinstance(p, Polygon)
    )  # fmt: skip


def _shorter(derived: Derived, layout: SheetLayout, shop: Catalogue) -> Iterator[Saving]:
    """Edges of things with parts on the sheet that is used least, a little shorter."""
    areas = {b.id: b.polygon.area for b in layout.job.blanks}
    bought = [sheet for k, sheet in enumerate(layout.sheets) if not layout.rest(k)]
    least = min(bought, key=lambda sheet: sum(areas[p.blank] for p in sheet))
    things = dict.fromkeys(p.blank.split("/")[0] for p in least)
    # a thing with much on the others may make room there as well
    largest = sorted(layout.job.blanks, key=lambda b: -areas[b.id])
    things |= dict.fromkeys(b.id.split("/")[0] for b in largest)
    for id_ in list(things)[:MOST_THINGS]:
        if derived.plan.fitting(id_) is None:
            continue
        for edge in LEVEL_EDGES:
            if found := _edge(derived, layout, shop, id_, edge):
                yield found


def _edge(derived: Derived, layout: SheetLayout, shop: Catalogue, id_: str, edge: str) -> Saving | None:
    """The smallest step inward of an edge that saves a sheet."""
    best: Saving | None = None
    for by in reversed(STEPS_M):
        found = _stepped(derived, layout, shop, id_, edge, by)
        if found is None:
            break
        best = found
    return best


def _stepped(
    derived: Derived, layout: SheetLayout, shop: Catalogue, id_: str, edge: str, by: float
) -> Saving | None:
    change = _inward(derived, id_, edge, by)
    if change is None:
        return None
    made = tried(derived, id_, change, shop)
    if made is None:
        return None
    after, step = made
    job = next((x.job for x in after.sheets if x.job.stock == layout.job.stock), None)
    laid = _saves(layout, job) if job else None
    if laid is None:
        return None
    mend = (sum(f.level in TO_MEND for f in d.findings) for d in (after, derived))
    more = next(mend) - next(mend)
    name = f"{edge} edge of {title_of(derived.plan, id_)}"
    return Saving("edge", name, by, laid.bought, layout.cost - laid.cost, more, step)


def _inward(derived: Derived, id_: str, edge: str, by: float) -> AnyChange | None:
    """An edge so much further in, which leaves the opposite one where it is; None where it has no such
    edge, or is locked."""
    plan, surface = derived.plan, derived.surface
    try:
        extent = extent_of(plan, surface, id_)
        value = extent.edge(edge) + (by if edge in LOW_EDGES else -by)
        if edge in edges_of(plan, id_):
            return resized(plan, surface, id_, edge, value)
        if kind_of(plan.thing(id_)).edge_choice(edge) is None or plan.arrangement.of(id_).locked:
            return None
        (change,) = edge_to(plan, surface, id_, edge, value)
    except CoreError:
        return None
    return change
