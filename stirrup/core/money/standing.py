"""How the money stands: what is still to buy, what is ordered, what is paid; by kind, before tax.

What is kept back for what is not known well: a share of what is still to buy, by where its prices come
from (docs/trade-rules.md, “Buying”).
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Container
from decimal import Decimal
from itertools import accumulate
from typing import Literal, get_args

from stirrup.core.money.cost import Cost, cents
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Entry
from stirrup.core.record import dataclass

Kind = Literal[
    "material", "hardware", "consumable", "bought whole", "service", "freight and other", "labour",
    "overhead",
]  # fmt: skip
KINDS: tuple[Kind, ...] = get_args(Kind)
YOURS: tuple[Kind, ...] = ("labour", "overhead")  # told, and not what the boat is bought for
GUESSED, KNOWN = Decimal(15), Decimal(5)  # percent kept back; working values
_KIND_OF: dict[str, Kind] = {
    "sheet": "material", "section": "material", "cloth": "material",
    "fastener": "consumable", "sealant": "consumable", "resin": "consumable", "cover": "consumable",
}  # fmt: skip


def kind_of(entry: Entry | None) -> Kind:
    """Which kind of cost an entry is; what nobody knows is hardware."""
    return _KIND_OF.get(entry.group, "hardware") if entry is not None else "hardware"


@dataclass(frozen=True)
class Row:
    """One kind of cost before tax: still to buy, ordered and not paid, paid."""

    kind: Kind
    planned: Decimal
    ordered: Decimal
    paid: Decimal

    @property
    def all(self) -> Decimal:
        return self.planned + self.ordered + self.paid


def standing(
    cost: Cost, catalogue: Catalogue, labour: Decimal | None = None, overhead: Decimal = Decimal(0)
) -> tuple[Row, ...]:
    """Costs by kind; all but labour and overhead, which are yours, sum up to the cost before tax.
    overhead: percent of all of it: rent, light, wear of tools."""
    sums: dict[Kind, list[Decimal]] = defaultdict(lambda: [Decimal(0)] * 3)
    for line in cost.lines:
        sums[kind_of(line.item)][0] += line.cost
    for _, price in cost.whole:
        sums["bought whole"][0] += price or Decimal(0)
    for p in cost.purchases:
        kind: Kind = "service" if p.service else "freight and other" if p.thing is None else "bought whole"
        if p.item is not None:
            kind = kind_of(catalogue.entries.get(p.item))
        sums[kind][2 if p.paid else 1] += p.amount
    if labour:
        sums["labour"][0] += labour
    if overhead:
        sums["overhead"][0] += cents((cost.net + (labour or 0)) * overhead / 100)
    return tuple(Row(k, *sums[k]) for k in KINDS if any(sums[k]))


def kept_back(cost: Cost, own_prices: Container[str], percent: Decimal | None) -> Decimal:
    """What is kept back of what is still to buy, before tax: a share that somebody set, or by how well
    each price is known. own_prices: ids of entries that the shop has its own price of."""
    if percent is not None:
        return cents(cost.planned * percent / 100)
    out = Decimal(0)
    for line in cost.lines:
        out += line.cost * (KNOWN if line.item.id in own_prices else GUESSED) / 100
    for thing, price in cost.whole:
        out += (price or Decimal(0)) * (KNOWN if thing.price is not None else GUESSED) / 100
    return cents(out)


def by_day(cost: Cost) -> tuple[tuple[str, Decimal], ...]:
    """What had been ordered by each day, before tax; purchases without a day are not in it."""
    days: dict[str, Decimal] = defaultdict(Decimal)
    for p in cost.purchases:
        if p.ordered and p.amount:
            days[p.ordered] += p.amount
    return tuple(zip(sorted(days), accumulate(days[day] for day in sorted(days)), strict=True))
