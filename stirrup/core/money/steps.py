"""What is bought, ordered or given back, as changes of the plan."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from decimal import Decimal
from typing import Literal

from pydantic import JsonValue

from stirrup.core.errors import CoreError
from stirrup.core.money.cost import cents
from stirrup.core.money.shopping import ShopList, ToBuy
from stirrup.core.plan.buying import MOST_PACKS, Purchase
from stirrup.core.plan.changes import AddThing, AnyChange, SetValue, Together
from stirrup.core.plan.model import Plan

PATH = ("buying", "purchases")
How = Literal["here", "ordered", "asked"]  # in hand and paid; ordered; a quote is asked for
WORDS: dict[How, str] = {"here": "bought", "ordered": "ordered", "asked": "quote asked"}
_ODD = re.compile(r"[^A-Za-z0-9.-]+")


def _id(line: ToBuy, number: int) -> str:
    """The same for whoever buys the same line, so that two cannot both buy it by accident."""
    stem = _ODD.sub("-", line.thing or line.item).strip("-.")[:44] or "x"
    return f"{'w' if line.thing else 'b'}-{stem}-{line.taken + number}"


def _values(
    line: ToBuy, shop: str, day: str, how: How, promised: str | None
) -> Iterator[dict[str, JsonValue]]:
    """A purchase for each size of pack."""
    sizes: list[tuple[float, int, Decimal | None]] = [(p.quantity, n, p.price) for p, n in line.packs]
    if not sizes:
        least = 1.0 if line.line is None else max(line.line.missing, 0.001)
        sizes = [(least, 1, line.cost)]
    for k, (quantity, packs, price) in enumerate(sizes, start=1):
        yield {
            "id": _id(line, k), "item": line.item or None, "thing": line.thing or None,
            "name": line.called[:80], "supplier": shop[:60], "quantity": min(quantity, 100_000.0),
            "packs": min(packs, MOST_PACKS), "price": None if price is None else str(cents(price)),
            "stage": "quote asked" if how == "asked" else "ordered", "ordered": day,
            "promised": promised if how == "ordered" else None,
            "received": min(packs, MOST_PACKS) if how == "here" else 0, "paid": how == "here",
            "instead": "" if line.alternate is None else line.alternate.instead,
        }  # fmt: skip


def bought(lines: Iterable[ToBuy], shop: str, day: str, how: How, promised: str | None = None) -> Together:
    """Lines of a list bought, ordered or asked for. promised: the day on which what is ordered comes.
    Raises CoreError for none."""
    found = list(lines)
    adds: list[AnyChange] = [
        AddThing(path=PATH, value=v) for line in found for v in _values(line, shop, day, how, promised)
    ]
    if not adds:
        raise CoreError("there is nothing on this list to order", "shop")
    what = found[0].called if len(found) == 1 else f"{len(found)} things"
    return Together(changes=tuple(adds), words=f"{what[:120]}: {WORDS[how]}")


def freight_of(shop: ShopList, plan: Plan, day: str) -> AnyChange | None:
    """The freight of an order, as a purchase of its own; None where there is none."""
    if not shop.freight:
        return None
    return other_cost(plan, f"freight, {shop.name}"[:80], shop.name, shop.freight, day, paid=False)


def other_cost(
    plan: Plan, name: str, shop: str, price: Decimal, day: str, paid: bool = True, service: bool = False
) -> AddThing:
    """Something else that was paid for: freight, a trip, blades; or the work of others."""
    taken = {p.id for p in plan.buying.purchases}
    free = next(f"other-{k}" for k in range(1, len(taken) + 2) if f"other-{k}" not in taken)
    value: dict[str, JsonValue] = {
        "id": free, "name": name, "supplier": shop[:60], "price": str(cents(price)), "ordered": day,
        "received": 1, "paid": paid, "service": service,
    }  # fmt: skip
    return AddThing(path=PATH, value=value)


def came(purchase: Purchase, packs: int) -> SetValue:
    """So many more packs have come. Raises CoreError for more than are waited for, or none."""
    if not 0 < packs <= purchase.waited_for:
        raise CoreError(
            f"read {packs}; accepted: 1 to {purchase.waited_for}, as many as have not come yet"
            if purchase.waited_for else f"all of {purchase.name} has come already", "packs",
        )  # fmt: skip
    return SetValue(path=(*PATH, purchase.id, "received"), value=purchase.received + packs)
