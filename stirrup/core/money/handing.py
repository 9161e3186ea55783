"""What is over for one boat goes to another, with what it cost: no cent is lost between them."""

from __future__ import annotations

import math
from collections.abc import Iterable

from pydantic import JsonValue

from stirrup.core.errors import CoreError
from stirrup.core.money.cost import Cost
from stirrup.core.plan.buying import Buying, Owned, Purchase
from stirrup.core.plan.changes import AddThing, AnyChange, SetValue, Together
from stirrup.core.plan.model import Plan
from stirrup.core.record import dataclass

PURCHASES, OWNED = ("buying", "purchases"), ("buying", "owned")
NEXT = 1e-9


@dataclass(frozen=True)
class Spare:
    """Packs of a purchase that are here, nothing needs, and another boat is missing."""

    purchase: Purchase
    packs: int

    @property
    def quantity(self) -> float:
        return self.packs * self.purchase.quantity


def _free(ids: Iterable[str], stem: str) -> str:
    taken = set(ids)
    return next(f"{stem}-{k}" for k in range(1, len(taken) + 2) if f"{stem}-{k}" not in taken)


def spare_for(buying: Buying, cost: Cost, other: Cost) -> tuple[Spare, ...]:
    """What could go from a boat to another: of each item that is over at the one and missing at the other
    whole packs, the last bought first, no more than are over."""
    over = {s.item: s.quantity for s in cost.surplus}
    wanted = {line.item.id: line.missing for line in other.lines if line.missing}
    out = []
    for item in over.keys() & wanted.keys():
        left, want = over[item], wanted[item]
        for p in reversed(buying.purchases):
            if p.item != item or not p.at_hand or want <= NEXT:
                continue
            packs = min(p.at_hand, int(left / p.quantity + NEXT), math.ceil(want / p.quantity - NEXT))
            if packs > 0:
                out.append(Spare(p, packs))
                left, want = left - packs * p.quantity, want - packs * p.quantity
    return tuple(sorted(out, key=lambda s: (s.purchase.name, s.purchase.id)))


def handed_on(source: Plan, target: Plan, id_: str, much: float, day: str) -> tuple[AnyChange, AnyChange]:
    """Packs of a purchase, or some of what is owned, from a boat to another: what changes in the plans of
    both. Raises CoreError for what is not there, or not so much of it."""
    bought = next((p for p in source.buying.purchases if p.id == id_), None)
    if bought is not None:
        return _packs_on(source, target, bought, much, day)
    own = next((o for o in source.buying.owned if o.id == id_), None)
    if own is None:
        raise CoreError("this is not there any more; look at the page again", "id")
    return _some_on(source, target, own, much)


def _packs_on(
    source: Plan, target: Plan, bought: Purchase, much: float, day: str
) -> tuple[AnyChange, AnyChange]:
    if bought.item is None:
        raise CoreError(f"{bought.name} belongs to this boat alone", "id")
    if much != int(much) or not 0 < much <= bought.at_hand:
        raise CoreError(
            f"read {much:g}; accepted: 1 to {bought.at_hand}, whole packs that are here" if bought.at_hand
            else f"nothing of {bought.name} is here", "much",
        )  # fmt: skip
    packs = int(much)
    value: dict[str, JsonValue] = {
        "id": _free((p.id for p in target.buying.purchases), "from"), "item": bought.item,
        "name": bought.name, "supplier": source.name[:60], "quantity": bought.quantity, "packs": packs,
        "price": None if bought.price is None else str(bought.price), "ordered": day, "received": packs,
        "paid": bought.paid, "instead": bought.instead,
    }  # fmt: skip
    gone = SetValue(path=(*PURCHASES, bought.id, "handed"), value=bought.handed + packs)
    return (
        Together(changes=(gone,), words=f"{packs} × {bought.name}: to {target.name}"[:200]),
        Together(changes=(AddThing(path=PURCHASES, value=value),),
                 words=f"{packs} × {bought.name}: from {source.name}"[:200]),
    )  # fmt: skip


def _some_on(source: Plan, target: Plan, own: Owned, much: float) -> tuple[AnyChange, AnyChange]:
    if not 0 < much <= own.quantity + NEXT:
        raise CoreError(f"read {much:g}; accepted: up to the {own.quantity:g} that are here", "much")
    left = max(0.0, own.quantity - much)
    place = f"from {source.name}" + (f", {own.place}" if own.place else "")
    value: dict[str, JsonValue] = {
        "id": _free((o.id for o in target.buying.owned), "own"), "item": own.item, "quantity": much,
        "place": place[:60], "until": own.until,
    }  # fmt: skip
    gone = SetValue(path=(*OWNED, own.id, "quantity"), value=left)
    return (
        Together(changes=(gone,), words=f"{much:g} of {own.item}: to {target.name}"[:200]),
        Together(changes=(AddThing(path=OWNED, value=value),),
                 words=f"{much:g} of {own.item}: from {source.name}"[:200]),
    )  # fmt: skip
