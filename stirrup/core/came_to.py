"""What she came to against what was planned, thing by thing; and prices learned on the way."""

from __future__ import annotations

from decimal import Decimal

from stirrup.core.derive import Derived
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.plan.buying import Purchase
from stirrup.core.record import dataclass
from stirrup.core.where_it_goes import STOCK, as_planned, title_in, where_it_goes

SAME = Decimal("0.005")


@dataclass(frozen=True)
class CameTo:
    """One thing before tax: at the catalogue's prices, and with what was paid for what is bought."""

    id: str
    title: str
    planned: Decimal
    now: Decimal

    @property
    def more(self) -> Decimal:
        return self.now - self.planned


@dataclass(frozen=True)
class Learned:
    """A price that differs from the catalogue's: of which purchase, what a pack is there."""

    purchase: Purchase
    before: Decimal


def came_to(derived: Derived) -> tuple[CameTo, ...]:
    """Every thing, the largest difference first. What is bought and nothing needs is a line of its own."""
    cost, plan = derived.cost, derived.plan
    before = {s.id: s.net for s in where_it_goes(as_planned(derived), derived.built)}
    after = {s.id: s.net for s in where_it_goes(cost, derived.built)}
    rows = [
        CameTo(i, title_in(plan, i) if i != STOCK else "freight, and what nothing needs",
               before.get(i, Decimal(0)), after.get(i, Decimal(0)))
        for i in dict.fromkeys((*after, *before))
    ]  # fmt: skip
    return tuple(sorted(rows, key=lambda r: (-abs(r.more), -r.now, r.id)))


def learned(derived: Derived, shop: Catalogue) -> tuple[Learned, ...]:
    """What was paid for a pack that costs something else in the shop's catalogue: the last of each pack."""
    last: dict[tuple[str, float], Purchase] = {}
    for p in derived.plan.buying.purchases:
        if p.item is None or p.instead or not p.kept or p.price is None:
            continue
        if p.item in shop.entries:
            last[p.item, p.quantity] = p
    out = []
    for (item, quantity), p in last.items():
        pack = next((k for k in shop.entries[item].packs if abs(k.quantity - quantity) < 1e-9), None)
        if pack is not None and abs(pack.price - (p.price or Decimal(0))) >= SAME:
            out.append(Learned(p, pack.price))
    return tuple(out)
