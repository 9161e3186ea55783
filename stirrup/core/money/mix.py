"""From which shops everything is had for the least money, freight and trips counted.

Something else in an item's place (an alternate) is taken only of items where somebody said that it will
do. Each item comes from one shop, in the packs that are cheapest there: nobody buys a hundred screws in one
town and twenty in another. An integer programme chooses the shops: of each at most one order, with its
freight or (from some amount on) without, or one visit; a trip costs what the furthest shop of a town costs.
What it finds is proven to be the least, or stands beside the bound that is.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Container, Iterable, Mapping, Sequence
from dataclasses import field, replace
from decimal import Decimal
from typing import Literal

import numpy as np
import scipy
from numpy.typing import NDArray

from stirrup.core.money.cost import CENT, PLENTY, cents, cheapest_of
from stirrup.core.money.suppliers import Offer, Supplier
from stirrup.core.parts.entries import Pack
from stirrup.core.record import dataclass

Array = NDArray[np.float64]
Way = Literal["freight", "free", "fetched"]
WAYS: tuple[Way, ...] = ("freight", "free", "fetched")
SECONDS = 2.0


@dataclass(frozen=True)
class Wanted:
    """How much of an item has to be had."""

    item: str
    quantity: float


@dataclass(frozen=True)
class Choice:
    """An item from one shop: its packs there, and what they cost before tax. alternate: what it is there,
    where it only stands in the item's place, and how it differs."""

    item: str
    supplier: str
    packs: tuple[tuple[Pack, int], ...]
    cost: Decimal
    alternate: Offer | None = None


@dataclass(frozen=True)
class Visit:
    """What is had from one shop, how it comes, and its freight."""

    supplier: Supplier
    way: Way
    chosen: tuple[Choice, ...]
    freight: Decimal

    @property
    def goods(self) -> Decimal:
        return sum((c.cost for c in self.chosen), Decimal(0))

    @property
    def to_free(self) -> Decimal | None:
        """How much more would save the freight, where that is less than the freight itself."""
        if self.way != "freight" or self.supplier.free_from is None:
            return None
        more = self.supplier.free_from - self.goods
        return more if more < self.freight else None


@dataclass(frozen=True)
class Mix:
    """Shops with what is had there, trips with what they cost, items that no shop has.

    bound: no mix costs less; proven: this one costs no more than that. others: of each item what it costs
    at every shop that has it, the cheapest first. alternates: of items for which nobody said that one will
    do, what could stand in their place, the cheapest first.
    """

    visits: tuple[Visit, ...]
    trips: tuple[tuple[str, Decimal], ...]
    unserved: tuple[str, ...]
    bound: Decimal
    proven: bool
    others: Mapping[str, tuple[Choice, ...]]
    alternates: Mapping[str, tuple[Choice, ...]] = field(default_factory=dict)

    @property
    def total(self) -> Decimal:
        """Goods, freight and trips, before tax."""
        return sum((v.goods for v in self.visits), Decimal(0)) + self.carriage

    @property
    def carriage(self) -> Decimal:
        """Freight and trips, before tax."""
        out = sum((v.freight for v in self.visits), Decimal(0))
        return out + sum((cost for _, cost in self.trips), Decimal(0))


@dataclass(frozen=True)
class _Task:
    """What the programme is about: where each item may come from, and what the shops' trips cost."""

    choices: tuple[Choice, ...]
    shops: tuple[Supplier, ...]
    trips: tuple[Decimal, ...]  # of each shop
    towns: tuple[str, ...]


def town_of(supplier: Supplier) -> str:
    """What shops that are one trip have in common."""
    return supplier.town.strip().casefold() or f"{supplier.id} "  # no id has a space


def _choices(
    wanted: Iterable[Wanted], shops: Mapping[str, Supplier], offers: Iterable[Offer],
    pins: Mapping[str, str],
) -> dict[str, tuple[Choice, ...]]:  # fmt: skip
    """Of each item what it costs at every shop that has it, the cheapest first. The packs of one choice
    are all of the same: the item itself, or one alternate."""
    packs: dict[str, dict[tuple[str, str], list[Offer]]] = defaultdict(lambda: defaultdict(list))
    for o in offers:
        if o.supplier in shops and o.item is not None:
            packs[o.item][o.supplier, o.ref if o.instead else ""].append(o)
    out = {}
    for w in wanted:
        pinned = {k: v for k, v in packs[w.item].items() if k[0] == pins.get(w.item)}
        found = []
        for (s, ref), of_it in (pinned or packs[w.item]).items():
            sold = tuple(Pack(quantity=o.quantity, price=o.price) for o in of_it)
            taken = cheapest_of(w.quantity, sold)
            cost = cents(sum((p.price * n for p, n in taken), Decimal(0)))
            found.append(Choice(w.item, s, taken, cost, of_it[0] if ref else None))
        out[w.item] = tuple(sorted(found, key=lambda c: (c.cost, c.alternate is not None)))
    return out


def cheapest_mix(
    wanted: Iterable[Wanted], suppliers: Sequence[Supplier], offers: Iterable[Offer],
    per_km: Decimal = Decimal(0), hour: Decimal = Decimal(0), pins: Mapping[str, str] | None = None,
    seconds: float = SECONDS, steads: Container[str] = (),
) -> Mix:  # fmt: skip
    """The cheapest mix of shops. offers: one price for each pack of a shop; pins: items that come from one
    shop and no other, by their ids (of no effect where that shop has none); steads: items in whose place an
    alternate will do. Items that could only be had by an order smaller than what a shop delivers are not
    served."""
    needs = [w for w in wanted if w.quantity > PLENTY]
    shops = {s.id: s for s in suppliers}
    every_offer = list(offers)
    asked = [o for o in every_offer if o.instead and o.item not in steads]
    found = _mixed(
        needs, shops, [o for o in every_offer if not o.instead or o.item in steads], (per_km, hour),
        pins or {}, seconds,
    )  # fmt: skip
    return replace(found, alternates=_choices(needs, shops, asked, {})) if asked else found


def _mixed(
    needs: Sequence[Wanted], shops: Mapping[str, Supplier], offers: Iterable[Offer],
    road: tuple[Decimal, Decimal], pins: Mapping[str, str], seconds: float,
) -> Mix:  # fmt: skip
    """The cheapest mix of what may be bought."""
    others = _choices(needs, shops, offers, pins)
    unserved = tuple(i for i, c in others.items() if not c)
    every = tuple(c for found in others.values() for c in found)
    while every:
        used = tuple(s for s in shops.values() if any(c.supplier == s.id for c in every))
        towns = tuple(dict.fromkeys(town_of(s) for s in used))
        task = _Task(every, used, tuple(s.trip(*road) for s in used), towns)
        solved = _solved(task, seconds)
        if solved is not None:
            return _read(task, *solved, unserved, others)
        # a shop that cannot be reached with all that it has: what only it has is not to be had
        low = next((s for s in used if _too_small(s, every)), None)
        if low is None:
            break
        unserved += tuple(i for i, f in others.items() if {c.supplier for c in f} == {low.id})
        every = tuple(c for c in every if c.supplier != low.id)
        others = {i: tuple(c for c in f if c.supplier != low.id) for i, f in others.items()}
    missing = tuple(dict.fromkeys((*unserved, *(c.item for c in every))))
    return Mix((), (), missing, Decimal(0), not every, others)


def _too_small(supplier: Supplier, choices: Iterable[Choice]) -> bool:
    """Whether everything that a shop has is less than what it delivers."""
    has = sum((c.cost for c in choices if c.supplier == supplier.id), Decimal(0))
    return not supplier.fetched and has < supplier.minimum


class _Rows:
    """Rows of a programme, each at least some value."""

    def __init__(self) -> None:
        self.row: list[int] = []
        self.column: list[int] = []
        self.value: list[float] = []
        self.least: list[float] = []

    def add(self, at_least: float, entries: Iterable[tuple[int, float]]) -> None:
        """One more row: the sum of values by column is at least so much."""
        for column, value in entries:
            self.row.append(len(self.least))
            self.column.append(column)
            self.value.append(value)
        self.least.append(at_least)

    def constraint(self, columns: int) -> scipy.optimize.LinearConstraint:
        """All rows, of so many columns."""
        matrix = np.zeros((len(self.least), columns))
        np.add.at(matrix, (self.row, self.column), self.value)
        return scipy.optimize.LinearConstraint(scipy.sparse.csr_matrix(matrix), lb=np.array(self.least))


def _solved(task: _Task, seconds: float) -> tuple[Array, float, bool] | None:
    """Values of all variables, the bound, and whether it is proven; None where there is none.

    Variables: each choice, taken or not; of each shop whether it comes with freight, without, or is
    fetched; of each town what its trip costs.
    """
    n, k, t = len(task.choices), len(task.shops), len(task.towns)
    number = {s.id: i for i, s in enumerate(task.shops)}
    ways = [(n + i, n + k + i, n + 2 * k + i) for i in range(k)]
    goods: dict[int, list[tuple[int, float]]] = defaultdict(list)
    of_item: dict[str, list[int]] = defaultdict(list)
    rows = _Rows()
    for j, c in enumerate(task.choices):
        shop = number[c.supplier]
        goods[shop].append((j, float(c.cost)))
        of_item[c.item].append(j)
        rows.add(0.0, [(j, -1.0), *((w, 1.0) for w in ways[shop])])
    for held in of_item.values():
        rows.add(1.0, [(j, 1.0) for j in held])
    for i, s in enumerate(task.shops):
        freight, free, fetched = ways[i]
        rows.add(-1.0, [(w, -1.0) for w in ways[i]])
        if s.minimum:
            rows.add(0.0, [*goods[i], (freight, -float(s.minimum)), (free, -float(s.minimum))])
        if s.free_from is not None:
            rows.add(0.0, [*goods[i], (free, -float(s.free_from))])
        trip = n + 3 * k + task.towns.index(town_of(s))
        rows.add(0.0, [(trip, 1.0), (fetched, -float(task.trips[i]))])
    cost = np.concatenate([
        [float(c.cost) for c in task.choices], [float(s.freight) for s in task.shops], np.zeros(2 * k),
        np.ones(t),
    ])  # fmt: skip
    upper = np.concatenate([
        np.ones(n), [float(s.delivers) for s in task.shops],
        [float(s.delivers and s.free_from is not None) for s in task.shops],
        [float(s.fetched) for s in task.shops], np.full(t, np.inf),
    ])  # fmt: skip
    found = scipy.optimize.milp(
        cost, integrality=np.concatenate([np.ones(n + 3 * k), np.zeros(t)]),
        bounds=scipy.optimize.Bounds(0, upper), constraints=rows.constraint(len(cost)),
        options={"time_limit": seconds, "mip_rel_gap": 0.0},
    )  # fmt: skip
    if found.x is None:
        return None
    return np.asarray(found.x), float(found.mip_dual_bound), found.status == 0


def _read(
    task: _Task, x: Array, bound: float, proven: bool, unserved: tuple[str, ...],
    others: Mapping[str, tuple[Choice, ...]],
) -> Mix:  # fmt: skip
    """What the values of the variables say."""
    n, k = len(task.choices), len(task.shops)
    taken: dict[str, Choice] = {}
    for j, c in enumerate(task.choices):
        if round(x[j]) and (c.item not in taken or c.cost < taken[c.item].cost):
            taken[c.item] = c
    visits = []
    for i, s in enumerate(task.shops):
        chosen = tuple(c for c in taken.values() if c.supplier == s.id)
        if chosen:
            way = WAYS[int(np.argmax([x[n + i], x[n + k + i], x[n + 2 * k + i]]))]
            visits.append(Visit(s, way, chosen, s.freight if way == "freight" else Decimal(0)))
    trips: dict[str, tuple[str, Decimal]] = {}
    for i, s in enumerate(task.shops):
        if any(v.supplier is s and v.way == "fetched" for v in visits):
            name, cost = trips.get(town_of(s), (s.town or s.name, Decimal(0)))
            trips[town_of(s)] = (name, max(cost, task.trips[i]))
    mix = Mix(tuple(visits), tuple(trips.values()), unserved, Decimal(0), proven, others)
    least = Decimal(math.floor(bound * 100)) * CENT
    return replace(mix, bound=mix.total if proven else min(least, mix.total))
