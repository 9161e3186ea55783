"""What a change buys: sheets and sticks more or fewer than before it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from decimal import Decimal

from stirrup.core.cutting.sheets import SheetLayout
from stirrup.core.cutting.sticks import StickLayout
from stirrup.core.record import dataclass

Bought = Mapping[str, tuple[int, Decimal]]  # of each stock how many are bought, and the price of one


@dataclass(frozen=True)
class More:
    """Of a stock so many more (or fewer, less than nothing) are bought, for so much more."""

    stock: str
    count: int
    cost: Decimal


def bought_of(sheets: Iterable[SheetLayout], sticks: Iterable[StickLayout]) -> Bought:
    """How many sheets and sticks of each stock are bought."""
    # what comes off a roll is bought by the metre, a little more or less with every change
    every: list[SheetLayout | StickLayout] = [*(x for x in sheets if not x.job.roll), *sticks]
    return {layout.job.stock: (layout.bought, layout.job.price) for layout in every}


def more_of(before: Bought, after: Bought) -> tuple[More, ...]:
    """What is bought after a change that was not before it, and what not any more; the dearest first. At
    the price of what is bought after it, or was before where nothing is."""
    out = []
    for stock in dict.fromkeys([*after, *before]):
        count = after.get(stock, (0, Decimal(0)))[0] - before.get(stock, (0, Decimal(0)))[0]
        if count:
            price = after[stock][1] if stock in after else before[stock][1]
            out.append(More(stock, count, count * price))
    return tuple(sorted(out, key=lambda m: (-abs(m.cost), m.stock)))
