"""Shopping lists: what is still to buy, by the shop where it is had.

A shop is one of the shop's own suppliers, chosen by the cheapest mix; what none of them has a price of
stands on a list by the sort of shop that usually has such things, at the catalogue's price.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Container, Iterable, Mapping
from decimal import Decimal

from stirrup.core.cutting.sticks import StickLayout
from stirrup.core.money.cost import BuyLine, Cost
from stirrup.core.money.mix import Mix, Wanted, Way
from stirrup.core.money.suppliers import SORTS, Offer, Sort, Supplier, usual_sort
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Pack
from stirrup.core.plan.buying import Purchase
from stirrup.core.record import dataclass


@dataclass(frozen=True)
class ToBuy:
    """One line: packs of an item of the catalogue, or a thing that is bought whole (no item).

    key: what it goes by on the page; price: of the whole line before tax, None where nobody knows it;
    taken: the highest number of a purchase of it, so that a second tick is a second tick; alternate: what
    is bought in the item's place.
    """

    key: str
    name: str
    item: str
    thing: str
    packs: tuple[tuple[Pack, int], ...]
    cost: Decimal | None
    line: BuyLine | None = None
    number: str = ""
    taken: int = 0
    alternate: Offer | None = None

    @property
    def called(self) -> str:
        """What is asked for at the counter."""
        return self.name if self.alternate is None else self.alternate.name or self.alternate.number


@dataclass(frozen=True)
class ShopList:
    """What is had at one shop, or at one sort of shop, how it comes and what that costs."""

    name: str
    sort: Sort
    lines: tuple[ToBuy, ...]
    supplier: Supplier | None = None
    way: Way | None = None
    freight: Decimal = Decimal(0)
    to_free: Decimal | None = None

    @property
    def goods(self) -> Decimal:
        """Of what has a price, before tax."""
        return sum((x.cost for x in self.lines if x.cost is not None), Decimal(0))

    @property
    def unpriced(self) -> int:
        """How many lines nobody knows a price of."""
        return sum(x.cost is None for x in self.lines)


def wanted_of(cost: Cost) -> tuple[Wanted, ...]:
    """What is missing, of everything that is sold in packs."""
    return tuple(Wanted(line.item.id, line.missing) for line in cost.lines if line.missing)


def shopping(cost: Cost, mix: Mix, catalogue: Catalogue, numbers: Mapping[tuple[str, str], str]) -> tuple[
    ShopList, ...
]:  # fmt: skip
    """The lists, suppliers first; numbers: what a supplier (first) calls an item (second)."""
    lines = {line.item.id: line for line in cost.lines if line.missing}
    bought = _taken(cost.purchases)
    out, served = [], set[str]()
    for visit in mix.visits:
        had = []
        for c in visit.chosen:
            name = catalogue.find(c.item).name
            number = numbers.get((visit.supplier.id, c.item), "")
            if c.alternate is not None:
                number = c.alternate.number
            had.append(ToBuy(c.item, name, c.item, "", c.packs, c.cost, lines.get(c.item), number,
                             bought.get(c.item, 0), c.alternate))  # fmt: skip
            served.add(c.item)
        s = visit.supplier
        out.append(ShopList(s.name, s.sort, tuple(had), s, visit.way, visit.freight, visit.to_free))
    return (*out, *_usual(cost, lines, served, bought))


def _taken(purchases: Iterable[Purchase]) -> dict[str, int]:
    """The highest number among the purchases of each item or thing: one that was taken back leaves a gap,
    and the next has a number of its own all the same."""
    out: dict[str, int] = defaultdict(int)
    for p in purchases:
        key, number = p.item or f"thing {p.thing}", p.id.rpartition("-")[2]
        if number.isascii() and number.isdigit():
            out[key] = max(out[key], int(number))
    return out


def _usual(
    cost: Cost, lines: Mapping[str, BuyLine], served: Container[str], bought: Mapping[str, int]
) -> list[ShopList]:
    """Lists by sort of shop, of what no supplier has a price of."""
    by: dict[Sort, list[ToBuy]] = defaultdict(list)
    for item, line in lines.items():
        if item not in served:
            price = line.cost if line.packs else None
            by[usual_sort(line.item)].append(
                ToBuy(item, line.item.name, item, "", line.packs, price, line, taken=bought.get(item, 0))
            )
    for thing, whole_price in cost.whole:
        key = f"thing {thing.id}"
        by["boatyard or chandler"].append(
            ToBuy(key, thing.title, "", thing.id, (), whole_price, taken=bought.get(key, 0))
        )
    return [ShopList(sort, sort, tuple(by[sort])) for sort in SORTS if by[sort]]


def bar_pieces(bars: Iterable[StickLayout]) -> dict[str, tuple[float, ...]]:
    """Of each item that is sold in bars, the lengths of its pieces [m], the longest first: whoever sells it
    may cut it."""
    return {
        b.job.stock: tuple(sorted((p.length for p in b.job.pieces), reverse=True)) for b in bars
    }  # fmt: skip
