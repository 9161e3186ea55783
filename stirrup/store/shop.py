"""The shop and its price list."""

from __future__ import annotations

import json
from collections.abc import Iterable
from decimal import Decimal
from functools import partial
from typing import Any

from stirrup.core.memo import Memo
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Entry, Pack
from stirrup.exchange.catalogue import entries_of, starting
from stirrup.store.models import DATABASE, Build, OwnEntry, Price, Shop
from stirrup.store.session import reading, writing

# catalogues by what lies over what ships: the same object for the same content
KNOWN = Memo(20, common=True)
# and by the digests of that, which cost one look
CATALOGUES = Memo(20, common=True)
# whatever was added to or changed in a shop's catalogue changes them; s: the shop
DIGESTS = """
  (SELECT md5(string_agg(o.item || o.entry::text, ',' ORDER BY o.id))
   FROM own_entry o WHERE o.shop_id = s.id),
  (SELECT md5(string_agg(concat(p.item, p.packs, '/', p.offered), ',' ORDER BY p.item))
   FROM price p WHERE p.shop_id = s.id)
"""


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
def catalogue(shop_id: int) -> Catalogue:
    """The shop's catalogue: its own entries and prices over what ships."""
    return catalogue_of(shop_id, _digests(shop_id))


def _digests(shop_id: int) -> tuple[Any, ...]:
    statement = f"SELECT {DIGESTS} FROM shop s WHERE s.id = %s"
    return tuple(DATABASE.execute_sql(statement, (shop_id,)).fetchone() or ())


def catalogue_of(shop_id: int, digests: tuple[Any, ...]) -> Catalogue:
    """The catalogue of a shop whose content has these digests, as they were read just now."""
    known = CATALOGUES.peek((shop_id, digests))
    if isinstance(known, Catalogue):
        return known
    found = _read(shop_id)
    # somebody may have changed it between the two looks
    return CATALOGUES.put((shop_id, digests), found) if _digests(shop_id) == digests else found


def _read(shop_id: int) -> Catalogue:
    own = [r.entry for r in OwnEntry.select().where(OwnEntry.shop == shop_id).order_by(OwnEntry.id)]
    rows = Price.select().where(Price.shop == shop_id).order_by(Price.item)
    sold = ((r.item, r.offered or r.packs) for r in rows)
    paid = {item: [[float(q), str(p)] for q, p in packs] for item, packs in sold if packs}
    text = json.dumps([own, paid], sort_keys=True)
    return KNOWN.get(text, partial(_catalogue, own, paid))


def _catalogue(own: list[dict[str, Any]], paid: dict[str, list[list[Any]]]) -> Catalogue:
    packs = {i: tuple(Pack(quantity=q, price=Decimal(p)) for q, p in rows) for i, rows in paid.items()}
    return starting().over(entries_of(own)).priced(packs)


@writing()
def set_price(shop_id: int, item_id: str, each: Decimal) -> None:
    """Price of the item's smallest pack; larger packs keep their ratio to it. CoreError."""
    packs = catalogue(shop_id).find(item_id).packs or (Pack(quantity=1, price=each),)
    least = min(packs, key=lambda p: p.quantity)
    ratio = each / least.price if least.price else Decimal(1)
    scaled = [[p.quantity, str((p.price * ratio).quantize(Decimal("0.01")))] for p in packs]
    (
        Price.insert(shop=shop_id, item=item_id, packs=scaled)
        .on_conflict(conflict_target=[Price.shop, Price.item], update={Price.packs: scaled})
        .execute()
    )


@reading()
def own_ids(shop_id: int) -> tuple[frozenset[str], frozenset[str]]:
    """Ids of entries that are the shop's own or changed by it, and of those that it priced."""
    own = {r.item for r in OwnEntry.select(OwnEntry.item).where(OwnEntry.shop == shop_id)}
    paid = {r.item for r in Price.select(Price.item).where(Price.shop == shop_id)}
    return frozenset(own), frozenset(paid)


@writing()
def keep_entries(shop_id: int, entries: Iterable[Entry]) -> None:
    """Entries as the shop's own; a price that was set for one is in its packs from now on."""
    for entry in entries:
        values = entry.model_dump(mode="json")
        (
            OwnEntry.insert(shop=shop_id, item=entry.id, entry=values)
            .on_conflict(conflict_target=[OwnEntry.shop, OwnEntry.item], update={OwnEntry.entry: values})
            .execute()
        )
        _no_price(shop_id, entry.id)


@writing()
def forget_entry(shop_id: int, item_id: str) -> bool:
    """Take the shop's own entry away; what ships shows again. Whether there was one."""
    gone = OwnEntry.delete().where((OwnEntry.shop == shop_id) & (OwnEntry.item == item_id)).execute()
    gone += _no_price(shop_id, item_id)
    return bool(gone)


def _no_price(shop_id: int, item_id: str) -> int:
    """Take away the price that was set for an item; what suppliers ask stays. How many were."""
    here = (Price.shop == shop_id) & (Price.item == item_id)
    Price.update(packs=[]).where(here & Price.offered.is_null(False)).execute()
    return int(Price.delete().where(here & Price.offered.is_null(True)).execute())
