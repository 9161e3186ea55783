"""What the parts are cut from and what has to be bought: layouts, needs, things bought whole.

Layouts are remembered by what is cut, in the memory that is handed in.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import replace
from functools import partial
from typing import TypeVar, cast

from stirrup.core.contract.gives import Built
from stirrup.core.cutting.jobs import Job, Layout, Layouts, estimate
from stirrup.core.cutting.pinned import Pin
from stirrup.core.cutting.scribe import MOULDED_M, left_standing
from stirrup.core.cutting.sheets import WORK, Blank, RestSheet, SheetJob, SheetLayout
from stirrup.core.cutting.sticks import Piece, RestStick, StickJob, StickLayout
from stirrup.core.hull.material import made_of
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.memo import ByIdentity, Key, Memo
from stirrup.core.money.cost import Cost, Need, Whole, gather, price_up
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Plain, price_of_least, price_of_one
from stirrup.core.parts.model import Panel, Ring
from stirrup.core.plan.cutting import Cutting
from stirrup.core.plan.model import Plan
from stirrup.core.record import dataclass

T = TypeVar("T", Blank, Piece)
Use = tuple[str, float, str, str]  # item, how much, group, thing
THINGS = ByIdentity(400)


def settled_layout(memo: Memo, job: Job, layouts: Layouts, content: Key | None = None) -> Layout | None:
    """The settled layout of a job, remembered once it is known. content: the job's own, if at hand."""
    key = ("settled", content or Key(job))
    known = cast(Layout | None, memo.peek(key)) or layouts(job)
    return None if known is None else memo.put(key, known)


def _layout(memo: Memo, job: Job, layouts: Layouts) -> Layout:
    """The settled layout where it is known, or seen to be the best at once; else what to count by."""
    content = Key(job)  # a thousand corners are hashed once
    known = cast(Layout | None, memo.peek(("settled", content)))
    if known is not None:
        return known
    if isinstance(job, SheetJob) and job.usual is not job:
        found = settled_layout(memo, job, layouts, content)
        if found is None:
            usual = cast(SheetLayout, _layout(memo, job.usual, layouts))
            found = replace(usual, job=job, more=True) if usual.settled else usual
        return found
    counted = memo.get(("estimate", content), partial(estimate, job))
    return counted if counted.settled else settled_layout(memo, job, layouts, content) or counted


def scribe_m(plan: Plan) -> float:
    """What is left standing on edges along the hull [m]: as somebody said, else by how she is built."""
    if plan.cutting.scribe is not None:
        return plan.cutting.scribe
    return MOULDED_M if made_of(plan.hull.material) == "moulded" else 0.0


def cut_outline(panel: Panel, plan: Plan, surface: HullSurface) -> Ring:
    """The outline that a panel is cut to [m]. One that was tried in the boat is cut as it is."""
    tried = any(f.id == panel.key for f in plan.fitted)
    return panel.outline if tried else left_standing(panel, scribe_m(plan), surface.inside)


def scribe_notes(
    sheets: Iterable[SheetLayout], built: Iterable[Built], plan: Plan, length: Callable[[float], str]
) -> dict[str, str]:
    """What a list of sizes, which are those of where a panel ends, has to say of how it is cut: by the keys
    of panels that are laid out larger."""
    own = {p.key: p.outline for b in built for p in b.panels}
    words = f"cut {length(scribe_m(plan))} outside along the hull, to be scribed"
    return {b.id: words for s in sheets for b in s.job.blanks if b.outline != own.get(b.id, b.outline)}


def blank_of(panel: Panel, outline: Ring) -> Blank:
    """A panel as it is laid out, with the outline that it is cut to."""
    return Blank(panel.key, panel.label, outline, panel.holes, panel.rotations, panel.flip)


def _by_stock(cut: Iterable[tuple[str, T]]) -> dict[str, list[T]]:
    out: dict[str, list[T]] = {}
    for stock, one in cut:
        out.setdefault(stock, []).append(one)
    return out


def _together(of: Iterable[Mapping[str, Sequence[T]]], finished: Collection[str]) -> dict[str, list[T]]:
    """What several things have cut of each stock, less what is finished."""
    out: dict[str, list[T]] = {}
    for thing in of:
        for stock, many in thing.items():
            out.setdefault(stock, []).extend(many)
    if finished:
        left = {stock: [one for one in many if one.id not in finished] for stock, many in out.items()}
        return {stock: many for stock, many in left.items() if many}
    return out


def _blanks_of(fitting: Built, plan: Plan, surface: HullSurface) -> dict[str, list[Blank]]:
    """Its panels as blanks, by their stock; kept with it, since a hand moves one thing of many."""
    allowed, tried = scribe_m(plan), tuple(f.id for f in plan.fitted if f.thing == fitting.fitting)
    key = ("blanks", allowed, surface.key, tried) if allowed else "blanks"
    return fitting.kept.get(key, lambda: _by_stock(
        (p.stock, blank_of(p, cut_outline(p, plan, surface))) for p in fitting.panels
    ))  # fmt: skip


def _pieces_of(fitting: Built) -> dict[str, list[Piece]]:
    """Its members as pieces, by their stock; kept with it."""
    return fitting.kept.get(
        "pieces", lambda: _by_stock((m.stock, Piece(m.key, m.length)) for m in fitting.members)
    )


def sheet_layouts(
    memo: Memo, built: Iterable[Built], catalogue: Catalogue, layouts: Layouts, plan: Plan,
    surface: HullSurface, finished: Collection[str],
) -> tuple[SheetLayout, ...]:  # fmt: skip
    """Every panel on its stock; counted in shelves as long as the settled layout is not known."""
    out, cutting = [], plan.cutting
    for stock_id, blanks in _together((_blanks_of(b, plan, surface) for b in built), finished).items():
        stock = catalogue.sheet(stock_id)
        rests = (r for r in cutting.sheets if r.stock == stock_id)
        job = SheetJob(
            stock_id, stock.width, stock.height, tuple(blanks), price_of_one(stock), cutting.kerf,
            cutting.margin,
            tuple(RestSheet(r.id, r.width, r.height, r.count, r.outline, r.holes) for r in rests),
            cutting.straight,
            tuple(Pin(p.id, p.sheet, p.rotation, p.x, p.y, p.flipped, p.on) for p in cutting.pins
                  if p.stock == stock_id),
            next((c.work for c in cutting.closer if c.id == stock_id), WORK), stock.roll,
        )  # fmt: skip
        out.append(cast(SheetLayout, _layout(memo, job, layouts)))
    return tuple(out)


def stick_layouts(
    memo: Memo, built: Iterable[Built], catalogue: Catalogue, layouts: Layouts, cutting: Cutting,
    finished: Collection[str],
) -> tuple[StickLayout, ...]:  # fmt: skip
    """Every member on its stock; first fit as long as the settled layout is not known."""
    out = []
    for stock_id, pieces in _together((_pieces_of(b) for b in built), finished).items():
        stock = catalogue.section(stock_id)
        rests = (r for r in cutting.sticks if r.stock == stock_id)
        job = StickJob(
            stock_id, stock.length, tuple(pieces), price_of_least(stock), cutting.stick_kerf, cutting.trim,
            tuple(RestStick(r.id, r.length, r.count) for r in rests),
        )  # fmt: skip
        out.append(cast(StickLayout, _layout(memo, job, layouts)))
    return tuple(out)


def bar_layouts(memo: Memo, built: Iterable[Built], layouts: Layouts) -> tuple[StickLayout, ...]:
    """Everything stiff that is sold in bars and cut to length, on its bars."""
    by_item: dict[str, list[Piece]] = {}
    bar: dict[str, float] = {}
    for fitting in built:
        for b in fitting.bought:
            if isinstance(b.entry, Plain) and b.entry.in_bars:
                bar[b.item] = max(p.quantity for p in b.entry.packs)
                by_item.setdefault(b.item, []).append(Piece(b.key, b.quantity))
    jobs = [StickJob(item, bar[item], tuple(pieces)) for item, pieces in by_item.items()]
    return tuple(cast(StickLayout, _layout(memo, job, layouts)) for job in jobs)


Laid = tuple[tuple[SheetLayout, ...], tuple[StickLayout, ...], tuple[StickLayout, ...]]


def all_layouts(
    memo: Memo, built: Sequence[Built], catalogue: Catalogue, layouts: Layouts, plan: Plan,
    surface: HullSurface,
) -> Laid:  # fmt: skip
    """Sheets, sticks, and what is sold in bars, with what is still to be cut from them."""
    cutting = plan.cutting
    finished = cutting.finished(c.id for c in plan.cut)
    return (
        sheet_layouts(memo, built, catalogue, layouts, plan, surface, finished),
        stick_layouts(memo, built, catalogue, layouts, cutting, finished),
        bar_layouts(memo, built, layouts),
    )


def opened_stock(plan: Plan, catalogue: Catalogue) -> dict[str, float]:
    """How many sheets and sticks, or metres of a roll, were bought and are cut up, of what is known."""
    return {stock: n for stock, n in plan.cutting.opened.items() if stock in catalogue.entries}


def _uses_of(fitting: Built) -> tuple[Use, ...]:
    """What is bought for a thing: item, how much (of what is cut from bars nothing: the bars count), group
    and thing, each of these once; kept with it."""

    def found() -> tuple[Use, ...]:
        total: dict[tuple[str, str, str], float] = {}
        for b in fitting.bought:
            if not b.owned:
                from_bars = isinstance(b.entry, Plain) and b.entry.in_bars
                use = (b.item, b.group, b.fitting)
                total[use] = total.get(use, 0.0) + (0.0 if from_bars else b.quantity)
        return tuple((item, much, group, thing) for (item, group, thing), much in total.items())

    return fitting.kept.get("uses", found)


def _things_of(job: SheetJob | StickJob) -> tuple[str, ...]:
    """What is cut for, each thing once; known as long as the layout of the job is."""
    parts: Sequence[Blank | Piece] = job.blanks if isinstance(job, SheetJob) else job.pieces
    return THINGS.get(job, None, lambda: tuple(dict.fromkeys(p.id.split("/")[0] for p in parts)))


def needs_of(
    built: Iterable[Built],
    sheets: Iterable[SheetLayout],
    sticks: Iterable[StickLayout],
    bars: Iterable[StickLayout],
    opened: Mapping[str, float],
) -> tuple[Need, ...]:
    """Stock from the layouts and what of it is cut up already, everything else from the parts."""
    uses = [(stock, count, "hardware", "") for stock, count in opened.items()]
    for layout in sheets:
        if layout.bought:
            uses += [(layout.job.stock, 0.0, "hardware", thing) for thing in _things_of(layout.job)]
            uses.append((layout.job.stock, layout.amount, "hardware", ""))
    for cut in sticks:
        if not cut.bought:
            continue
        uses += [(cut.job.stock, 0.0, "hardware", thing) for thing in _things_of(cut.job)]
        uses.append((cut.job.stock, cut.bought, "hardware", ""))
    for fitting in built:
        uses += _uses_of(fitting)
    uses += [(cut.job.stock, _bought_m(cut), "hardware", "") for cut in bars]
    return gather(uses)


def _bought_m(layout: StickLayout) -> float:
    """How much of a thing sold in bars has to be bought for its pieces [m]: whole bars."""
    bar = layout.job.length
    over = sum(p.length for p in layout.job.pieces if p.length > bar)
    return len(layout.bars) * bar + math.ceil(over / bar) * bar


def bought_whole(plan: Plan, catalogue: Catalogue) -> list[Whole]:
    """What is added to the boat as it is bought, and not yet somebody's own."""

    def known(form: str) -> str:
        entry = catalogue.whole_for(form)
        return entry.id if entry is not None else ""

    things = [
        Whole(i.id, i.title, known(i.form), i.price, f"items/{i.id}")
        for i in plan.items
        if i.stage == "added" and not i.owned
    ]
    tanks = [t for t in plan.tanks if not t.owned]
    things += [Whole(t.id, t.title, known("tank"), t.price, f"tanks/{t.id}") for t in tanks]
    volumes = [v for v in plan.buoyancy if v.stage == "added" and v.cost is not None]
    return things + [Whole(v.id, v.title, "", v.cost, f"buoyancy/{v.id}") for v in volumes]


@dataclass(frozen=True)
class Spent:
    """What the parts are cut from, and what all that is bought costs."""

    sheets: tuple[SheetLayout, ...]
    sticks: tuple[StickLayout, ...]
    bars: tuple[StickLayout, ...]
    cost: Cost


def spent_on(
    memo: Memo, built: Sequence[Built], catalogue: Catalogue, layouts: Layouts, plan: Plan,
    surface: HullSurface, quick: bool,
) -> Spent:  # fmt: skip
    """Layouts, needs and cost of what is built; quick: as an estimate, whatever is known."""
    sheets, sticks, bars = laid = all_layouts(memo, built, catalogue, layouts, plan, surface)
    needs = needs_of(built, sheets, sticks, bars, opened_stock(plan, catalogue))
    whole, wishes = bought_whole(plan, catalogue), plan.wishes
    every: tuple[Layout, ...] = (*sheets, *sticks, *bars)
    settled = not quick and all(s.settled for s in every)
    cost = price_up(needs, catalogue, wishes.tax_percent, wishes.budget, settled, whole, plan.buying)
    return Spent(*laid, cost)
