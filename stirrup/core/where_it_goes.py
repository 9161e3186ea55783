"""Where the money goes: each line of the shopping list shared out among the things that use it.

Sheets by the area that is cut for a thing, sticks by length, everything else by how much of it. Every cent
is somebody's: what rounding leaves goes to whoever lost most by it, so that the shares are the total.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from decimal import ROUND_DOWN, Decimal

from stirrup.core.buying import bought_whole
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.money.cost import CENT, Cost, cents, price_up
from stirrup.core.plan.model import Plan
from stirrup.core.plan.things import title_of
from stirrup.core.record import dataclass

STOCK = ""  # what no thing of the plan uses any more: cut up, or bought ahead


@dataclass(frozen=True)
class Share:
    """What a thing costs before tax and with it; `id` is empty for stock that none uses."""

    id: str
    net: Decimal
    total: Decimal


def shared(amount: Decimal, weights: Mapping[str, float]) -> dict[str, Decimal]:
    """An amount in whole cents shared out by weights, none of them less than 0: the sum is the amount. By
    the greatest remainders; of equal ones the first by name. Nothing to share by: all of it is stock."""
    whole = sum(weights.values())
    if whole <= 0 or amount == 0:
        return {STOCK: amount} if amount else {}
    exact = {k: amount * Decimal(repr(w)) / Decimal(repr(whole)) for k, w in weights.items() if w > 0}
    out = {k: v.quantize(CENT, ROUND_DOWN) for k, v in exact.items()}
    left = int((amount - sum(out.values())) / CENT)
    for k in sorted(exact, key=lambda k: (out[k] - exact[k], k))[:left]:
        out[k] += CENT
    return out


def used(built: Iterable[Built]) -> dict[str, dict[str, float]]:
    """By item and thing how much is used: m² of sheets, m of sticks, what else is bought."""
    out: dict[str, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    for thing in built:
        for panel in thing.panels:
            out[panel.stock][thing.fitting] += panel.area_m2
        for member in thing.members:
            out[member.stock][thing.fitting] += member.length
        for part in thing.bought:
            if not part.owned:
                out[part.item][thing.fitting] += part.quantity
    return out


def where_it_goes(cost: Cost, built: Iterable[Built]) -> tuple[Share, ...]:
    """Shares of all things, the dearest first; their sums are the cost's own."""
    by = used(built)
    net: dict[str, Decimal] = defaultdict(Decimal)
    of_item: dict[str, Decimal] = defaultdict(Decimal)  # bought or not, so that cents fall alike
    for line in cost.lines:
        of_item[line.item.id] += line.cost
    for p in cost.purchases:
        if p.item is not None:
            of_item[p.item] += p.amount
        else:
            net[p.thing or STOCK] += p.amount
    for item, all_of_it in of_item.items():
        for thing, amount in shared(all_of_it, by.get(item, {})).items():
            net[thing] += amount
    for whole, price in cost.whole:
        if price is not None:
            net[whole.id] += price
    taxes = shared(cost.tax, {k: float(v) for k, v in net.items()})
    rows = [Share(k, v, v + taxes.pop(k, Decimal(0))) for k, v in net.items()]
    if taxes:  # a tax on nothing
        rows.append(Share(STOCK, Decimal(0), sum(taxes.values(), Decimal(0))))
    return tuple(sorted((r for r in rows if r.total), key=lambda r: (-r.total, r.id)))


def title_in(plan: Plan, id_: str) -> str:
    """What a share is called: a thing's title, or what was bought as one that has left the plan."""
    if plan.thing(id_) is None:
        return next((p.name for p in plan.buying.purchases if p.thing == id_), id_)
    return title_of(plan, id_)


def as_planned(derived: Derived) -> Cost:
    """What a plan costs at today's prices, as if nothing of it had been bought."""
    cost = derived.cost
    needs = [line.need for line in cost.lines]
    whole = bought_whole(derived.plan, derived.catalogue)
    percent = derived.plan.wishes.tax_percent
    return price_up(needs, derived.catalogue, percent, cost.budget, cost.settled, whole)


def work_cost(hours: float, rate: Decimal) -> Decimal:
    """What hours of work cost at so much an hour: of tenths of an hour, as they are shown, in cents."""
    return cents(Decimal(f"{hours:.1f}") * rate)
