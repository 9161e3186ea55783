"""From needs to packs to cost, against the budget."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable, Mapping
from decimal import ROUND_HALF_UP, Decimal
from functools import lru_cache

import numpy as np
import scipy
from numpy.typing import NDArray

from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Entry, Latch, Pack, price_of_least
from stirrup.core.plan.buying import Buying, Purchase
from stirrup.core.record import dataclass

Array = NDArray[np.float64]
CENT = Decimal("0.01")
PLENTY = 1e-9
WHOLE_UNITS = ("piece", "sheet", "stick")  # what is bought in whole ones
NOTHING = Buying()
MOST_TRIES = 500  # combinations of packs; as quick as setting up a programme
# bought beyond the need; docs/trade-rules.md, “Buying” (fasteners) and starting values
SPARE = {"fasteners": 0.10, "cover": 0.10, "consumables": 0.10, "hardware": 0.0}


def cents(amount: Decimal) -> Decimal:
    """Rounded to cents, half up."""
    return amount.quantize(CENT, ROUND_HALF_UP)


@dataclass(frozen=True)
class Need:
    """How much of an item is used, by which fittings, and how much spare is bought; amounts: by each of
    these, 0 where that is not counted so, as of sheets."""

    item: str
    quantity: float
    spare: float
    fittings: tuple[str, ...]
    amounts: tuple[float, ...] = ()

    @property
    def reasons(self) -> tuple[tuple[str, float], ...]:
        """Who needs it, and how much."""
        amounts = self.amounts or (0.0,) * len(self.fittings)
        return tuple((f, a) for f, a in zip(self.fittings, amounts, strict=True) if f)


@dataclass(frozen=True)
class BuyLine:
    """One line of the shopping list: packs still to buy, what they hold, what they cost before tax.

    have: how much is there or on its way; missing: how much has to be bought, with what is spare.
    """

    item: Entry
    need: Need
    packs: tuple[tuple[Pack, int], ...]
    cost: Decimal
    have: float = 0.0
    missing: float = 0.0

    @property
    def bought(self) -> float:
        return sum(p.quantity * n for p, n in self.packs)

    @property
    def one_key(self) -> int:
        """How many locks have to be ordered keyed alike, so that one key opens all; 0 for fewer."""
        count = math.ceil(self.need.quantity - PLENTY)
        return count if isinstance(self.item, Latch) and self.item.locks and count > 1 else 0


@dataclass(frozen=True)
class Whole:
    """A thing that is bought as it is: a seat, a motor. price: typed for this one, if it was."""

    id: str
    title: str
    item: str  # of the catalogue; empty when it has none for it
    price: Decimal | None
    path: str  # of the thing in the plan


@dataclass(frozen=True)
class Surplus:
    """What is there or on its way and nothing in the plan needs: of which item how much."""

    item: str
    name: str
    unit: str
    quantity: float


@dataclass(frozen=True)
class Cost:
    """Totals. `settled` is false while sheet counts are quick estimates.

    whole: things that are still to be bought as they are, with their prices; None where nobody knows
    one yet: the total is then without it, and says so. What is bought already counts at what it cost.
    """

    lines: tuple[BuyLine, ...]  # of everything that is needed, also where nothing is missing
    net: Decimal
    tax: Decimal
    total: Decimal
    budget: Decimal | None
    settled: bool = True
    whole: tuple[tuple[Whole, Decimal | None], ...] = ()
    purchases: tuple[Purchase, ...] = ()
    surplus: tuple[Surplus, ...] = ()

    @property
    def planned(self) -> Decimal:
        """What is still to buy, before tax."""
        return self.net - sum((p.amount for p in self.purchases), Decimal(0))

    @property
    def unpriced(self) -> tuple[str, ...]:
        """Titles of things without a price."""
        lines = (line.item.name for line in self.lines if line.missing and not line.item.packs)
        bought = (p.name for p in self.purchases if p.kept and p.price is None)
        return (*lines, *(thing.title for thing, price in self.whole if price is None), *bought)

    @property
    def left(self) -> Decimal | None:
        return None if self.budget is None else self.budget - self.total


def cheapest_packs(quantity: float, packs: Iterable[Pack]) -> tuple[tuple[Pack, int], ...]:
    """Cheapest combination of packs that holds at least `quantity`; ties: less left over.

    All combinations of the larger packs are tried, the smallest fills up; where these are too many, an
    integer programme finds it. Raises ValueError without packs.
    """
    ordered = sorted(packs, key=lambda p: -p.quantity)
    if not ordered:
        raise ValueError("an item needs at least one pack")
    if quantity <= 0:
        return ()
    tries = math.prod(_full(quantity, p) + 1 for p in ordered[:-1])
    counts = _tried(quantity, ordered) if tries <= MOST_TRIES else _programmed(quantity, ordered)
    return tuple((p, n) for p, n in zip(ordered, counts, strict=True) if n)


def _full(left: float, pack: Pack) -> int:
    """How many of one pack hold a quantity."""
    return max(0, math.ceil(left / pack.quantity - 1e-9))


def _tried(quantity: float, ordered: list[Pack]) -> tuple[int, ...]:
    """Numbers of packs, by trying all."""

    def choose(k: int, left: float) -> tuple[Decimal, float, tuple[int, ...]]:
        pack, full = ordered[k], _full(left, ordered[k])
        if k == len(ordered) - 1:
            return (pack.price * full, pack.quantity * full, (full,))
        options = []
        for n in range(full + 1):
            price, held, rest = choose(k + 1, left - n * pack.quantity)
            options.append((price + pack.price * n, held + n * pack.quantity, (n, *rest)))
        return min(options, key=lambda option: option[:2])

    return choose(0, quantity)[2]


def _programmed(quantity: float, ordered: list[Pack]) -> tuple[int, ...]:
    """Numbers of packs, by two integer programmes: the least price, then the least that holds for it."""
    prices = np.array([float(p.price) for p in ordered])
    sizes = np.array([p.quantity for p in ordered])
    most = scipy.optimize.Bounds(0, np.array([_full(quantity, p) for p in ordered]))
    enough = scipy.optimize.LinearConstraint(sizes, lb=quantity * (1 - 1e-9))

    def least(of: Array, *limits: scipy.optimize.LinearConstraint) -> tuple[int, ...]:
        found = scipy.optimize.milp(
            of, constraints=[enough, *limits], bounds=most, integrality=np.ones(len(of), dtype=int),
            options={"mip_rel_gap": 0.0},
        )  # fmt: skip
        if found.x is None:  # no programme for what can always be held: numbers beyond its reach
            return _tried(quantity, ordered)
        return tuple(int(n) for n in np.rint(found.x))

    cheapest = float(np.array(least(prices)) @ prices)
    return least(sizes, scipy.optimize.LinearConstraint(prices, ub=cheapest + float(CENT) / 2))


@lru_cache(maxsize=2000)
def cheapest_of(quantity: float, packs: tuple[Pack, ...]) -> tuple[tuple[Pack, int], ...]:
    """The same, remembered."""
    return cheapest_packs(quantity, packs)


def gather(uses: Iterable[tuple[str, float, str, str]]) -> tuple[Need, ...]:
    """Sum uses (item, quantity, group, fitting) by item, with the group's spare added."""
    total: dict[str, float] = defaultdict(float)
    spare: dict[str, float] = defaultdict(float)
    by: dict[str, dict[str, float]] = defaultdict(dict)
    for item, quantity, group, fitting in uses:
        total[item] += quantity
        spare[item] += quantity * SPARE.get(group, 0.0)
        by[item][fitting] = by[item].get(fitting, 0.0) + quantity
    return tuple(Need(i, total[i], spare[i], tuple(by[i]), tuple(by[i].values())) for i in total)


def price_up(
    needs: Iterable[Need],
    catalogue: Catalogue,
    tax_percent: Decimal,
    budget: Decimal | None,
    settled: bool = True,
    whole: Iterable[Whole] = (),
    buying: Buying = NOTHING,
) -> Cost:
    """Packs and cost of all needs and of things bought whole, less what is there; tax on the sum."""
    there = buying.there
    lines = tuple(_line(need, catalogue, there.get(need.item, 0.0)) for need in needs)
    priced = tuple((t, _price_of(t, catalogue)) for t in whole if t.id not in buying.whole)
    net = sum((line.cost for line in lines), Decimal(0))
    net += sum((price for _, price in priced if price is not None), Decimal(0))
    net += sum((p.amount for p in buying.purchases), Decimal(0))
    tax = cents(net * tax_percent / 100)
    left = _left_over(lines, there, catalogue, buying) if there else ()
    return Cost(lines, net, tax, net + tax, budget, settled, priced, buying.purchases, left)


def _line(need: Need, catalogue: Catalogue, have: float) -> BuyLine:
    """One line; where there is enough of it for the work itself, nothing is bought to have some spare."""
    wanted, item = need.quantity + need.spare, catalogue.find(need.item)
    missing = 0.0 if have and have >= need.quantity - PLENTY else max(0.0, wanted - have)
    if item.unit in WHOLE_UNITS:
        missing = math.ceil(missing - PLENTY)
    packs = cheapest_of(missing, item.packs) if item.packs else ()
    cost = cents(sum((p.price * n for p, n in packs), Decimal(0)))
    return BuyLine(item, need, packs, cost, have, missing)


def _left_over(
    lines: Iterable[BuyLine], there: Mapping[str, float], catalogue: Catalogue, buying: Buying
) -> tuple[Surplus, ...]:
    """What is bought for this boat, and beyond what she needs with what is spare."""
    named = {p.item: p.name for p in buying.purchases if p.kept}
    wanted = {line.item.id: line.need.quantity + line.need.spare for line in lines}
    out = []
    for item, name in named.items():
        if item is None:
            continue
        entry = catalogue.entries.get(item)
        own = sum(o.quantity for o in buying.owned if o.item == item)
        over = there[item] - max(wanted.get(item, 0.0), own)
        least = min((p.quantity for p in entry.packs), default=1.0) if entry else 1.0
        if over >= least - PLENTY:
            out.append(Surplus(item, entry.name if entry else name, entry.unit if entry else "piece", over))
    return tuple(out)


def _price_of(thing: Whole, catalogue: Catalogue) -> Decimal | None:
    if thing.price is not None:
        return cents(thing.price)
    return cents(price_of_least(catalogue.find(thing.item))) if thing.item else None
