"""What the parts are cut from and what has to be bought: layouts, needs, things bought whole.

Layouts are remembered by what is cut, in the memory that is handed in.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from functools import partial
from typing import cast

from stirrup.core.contract.gives import Built
from stirrup.core.cutting.sheets import Blank, SheetJob, SheetLayout, lay_out
from stirrup.core.cutting.sticks import Piece, StickJob, StickLayout, lay_out_sticks
from stirrup.core.memo import Memo
from stirrup.core.money.cost import Need, Whole, gather
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Plain, price_of_least
from stirrup.core.plan.model import Plan

# a settled layout of a job, or None while it is not known yet: what `lay_out` gives at once,
# others look up and have it worked out elsewhere
Layouts = Callable[[SheetJob], SheetLayout | None]


def settled_layout(memo: Memo, job: SheetJob, layouts: Layouts) -> SheetLayout | None:
    """The settled layout of a job, remembered once it is known."""
    key = ("sheets", job)
    known = memo.peek(key) or layouts(job)
    return None if known is None else memo.get(key, lambda: cast(SheetLayout, known))


def _blanks(built: Iterable[Built]) -> dict[str, list[Blank]]:
    by_stock: dict[str, list[Blank]] = {}
    for fitting in built:
        for p in fitting.panels:
            blank = Blank(p.key, p.label, p.outline, p.holes, p.rotations, p.flip)
            by_stock.setdefault(p.stock, []).append(blank)
    return by_stock


def sheet_layouts(
    memo: Memo, built: Iterable[Built], catalogue: Catalogue, layouts: Layouts
) -> tuple[SheetLayout, ...]:
    """Every panel on its stock; counted in shelves as long as the settled layout is not known."""
    out = []
    for stock_id, blanks in _blanks(built).items():
        stock = catalogue.sheet(stock_id)
        job = SheetJob(stock_id, stock.width, stock.height, tuple(blanks), price_of_least(stock))
        settled = settled_layout(memo, job, layouts)
        out.append(settled or memo.get(("shelves", job), partial(lay_out, job, True)))
    return tuple(out)


def stick_layouts(
    memo: Memo, built: Iterable[Built], catalogue: Catalogue, quick: bool
) -> tuple[StickLayout, ...]:
    """Every member on its stock; quick: first fit."""
    by_stock: dict[str, list[Piece]] = {}
    for fitting in built:
        for m in fitting.members:
            by_stock.setdefault(m.stock, []).append(Piece(m.key, m.length))
    out = []
    for stock_id, pieces in by_stock.items():
        stock = catalogue.section(stock_id)
        job = StickJob(stock_id, stock.length, tuple(pieces), price_of_least(stock))
        out.append(memo.get(("sticks", job, quick), partial(lay_out_sticks, job, quick)))
    return tuple(out)


def needs_of(
    memo: Memo,
    built: Iterable[Built],
    sheets: Iterable[SheetLayout],
    sticks: Iterable[StickLayout],
) -> tuple[Need, ...]:
    """Stock from the layouts, everything else from the parts."""
    uses: list[tuple[str, float, str, str]] = []
    for layout in sheets:
        if layout.sheets:
            for fitting in dict.fromkeys(b.id.split("/")[0] for b in layout.job.blanks):
                uses.append((layout.job.stock, 0.0, "hardware", fitting))
            uses.append((layout.job.stock, len(layout.sheets), "hardware", ""))
    for bars in sticks:
        for fitting in dict.fromkeys(p.id.split("/")[0] for p in bars.job.pieces):
            uses.append((bars.job.stock, 0.0, "hardware", fitting))
        uses.append((bars.job.stock, len(bars.bars), "hardware", ""))
    rigid: dict[str, list[Piece]] = {}
    bars_of: dict[str, float] = {}
    for fitting_built in built:
        for b in fitting_built.bought:
            if isinstance(b.entry, Plain) and b.entry.stiff and b.entry.packs:
                bars_of[b.item] = max(p.quantity for p in b.entry.packs)
                rigid.setdefault(b.item, []).append(Piece(b.key, b.quantity))
                uses.append((b.item, 0.0, b.group, b.fitting))
            else:
                uses.append((b.item, b.quantity, b.group, b.fitting))
    for id_, pieces in rigid.items():
        uses.append((id_, _from_bars(memo, id_, bars_of[id_], tuple(pieces)), "hardware", ""))
    return gather(uses)


def _from_bars(memo: Memo, item: str, bar: float, pieces: tuple[Piece, ...]) -> float:
    """How much of a thing sold in bars has to be bought for pieces of it [m]: whole bars of length bar."""
    job = StickJob(item, bar, pieces)
    found = memo.get(("bars", job), partial(lay_out_sticks, job, False))
    over = sum(p.length for p in pieces if p.length > bar)
    return len(found.bars) * bar + math.ceil(over / bar) * bar


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
