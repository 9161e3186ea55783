"""The shop and its price list."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from stirrup.core.parts.catalogue import Pack, Prices, find
from stirrup.store.models import Build, Price, Shop
from stirrup.store.session import reading, writing


@reading()
def the_shop() -> Any:
    """The shop of this installation; made on first use."""
    shop = Shop.select().order_by(Shop.id).first()
    return shop or Shop.create(name="Our shop", units="mm")


@reading()
def is_empty() -> bool:
    """Whether there is no build yet."""
    return not Build.select().exists()


@writing()
def set_units(shop_id: int, units: str) -> None:
    """How the shop reads and writes numbers."""
    Shop.update(units=units).where(Shop.id == shop_id).execute()


@reading()
def prices(shop_id: int) -> Prices:
    """The shop's own packs and prices over the catalogue's starting values."""
    rows = Price.select().where(Price.shop == shop_id)
    return Prices({r.item: tuple(Pack(float(q), Decimal(p)) for q, p in r.packs) for r in rows})


@writing()
def set_price(shop_id: int, item_id: str, each: Decimal) -> None:
    """Price of the item's smallest pack; larger packs keep their ratio to it. CoreError."""
    packs = find(item_id).packs
    least = min(packs, key=lambda p: p.quantity)
    scaled = [[p.quantity, str((p.price * each / least.price).quantize(Decimal("0.01")))] for p in packs]
    (
        Price.insert(shop=shop_id, item=item_id, packs=scaled)
        .on_conflict(conflict_target=[Price.shop, Price.item], update={Price.packs: scaled})
        .execute()
    )
