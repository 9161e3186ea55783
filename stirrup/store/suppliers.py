"""The suppliers of a shop and their prices: every price stays with its day, the newest counts.

What suppliers ask for an item of the catalogue is written beside its price at once (`price.offered`), so
that nobody who reads the catalogue looks through thousands of rows.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import reduce
from operator import or_
from typing import Any

from peewee import EXCLUDED, fn

from stirrup.core.errors import CoreError
from stirrup.core.money.suppliers import MOST_SUPPLIERS, Offer, Supplier, best_packs
from stirrup.store.models import OfferRow, Price, SupplierRow
from stirrup.store.session import reading, writing

AT_ONCE = 500  # rows of one statement


@reading()
def suppliers(shop_id: int) -> tuple[Supplier, ...]:
    """All suppliers of a shop, by name."""
    rows = SupplierRow.select().where(SupplierRow.shop == shop_id).order_by(SupplierRow.id)
    found = (Supplier.model_validate_json(r.values) if isinstance(r.values, str)
             else Supplier.model_validate(r.values) for r in rows)  # fmt: skip
    return tuple(sorted(found, key=lambda s: (s.name.casefold(), s.id)))


@writing()
def keep_supplier(shop_id: int, supplier: Supplier) -> None:
    """A new supplier, or new values of one. Raises CoreError for one too many."""
    known = SupplierRow.select().where(SupplierRow.shop == shop_id)
    if known.count() >= MOST_SUPPLIERS and not known.where(SupplierRow.key == supplier.id).exists():
        raise CoreError(f"there are {MOST_SUPPLIERS} shops already; accepted: no more", "name")
    values = supplier.model_dump(mode="json")
    (
        SupplierRow.insert(shop=shop_id, key=supplier.id, values=values)
        .on_conflict(
            conflict_target=[SupplierRow.shop, SupplierRow.key], update={SupplierRow.values: values}
        )
        .execute()
    )


@writing()
def forget_supplier(shop_id: int, key: str) -> None:
    """A supplier and all its prices go."""
    here = (OfferRow.shop == shop_id) & (OfferRow.supplier == key)
    items = [r.item for r in OfferRow.select(OfferRow.item).where(here & OfferRow.item.is_null(False))]
    OfferRow.delete().where(here).execute()
    SupplierRow.delete().where((SupplierRow.shop == shop_id) & (SupplierRow.key == key)).execute()
    _price(shop_id, items)


@reading()
def columns_of(shop_id: int, key: str) -> dict[str, Any]:
    """Which columns of a supplier's price lists are what, as it was taken over last; else empty."""
    row = SupplierRow.get_or_none((SupplierRow.shop == shop_id) & (SupplierRow.key == key))
    return dict(row.columns) if row is not None and row.columns else {}


@writing()
def keep_columns(shop_id: int, key: str, columns: Mapping[str, Any]) -> None:
    """Remember which columns of a supplier's price lists are what."""
    here = (SupplierRow.shop == shop_id) & (SupplierRow.key == key)
    SupplierRow.update(columns=dict(columns)).where(here).execute()


def _offer(row: Any) -> Offer:
    return Offer(
        supplier=row.supplier, item=row.item, name=row.name, number=row.number, quantity=row.quantity,
        price=row.price, on=row.day, source=row.source, instead=row.instead,
    )  # fmt: skip


def _newest(wanted: Any) -> Any:
    """The newest row of every pack."""
    pack = (OfferRow.supplier, OfferRow.ref, OfferRow.quantity)
    return OfferRow.select().where(wanted).distinct(*pack).order_by(*pack, OfferRow.day.desc())


@reading()
def offers(shop_id: int, items: Iterable[str]) -> tuple[Offer, ...]:
    """The newest price of every pack of some items."""
    wanted = (OfferRow.shop == shop_id) & OfferRow.item.in_(list(items) or [""])
    return tuple(_offer(r) for r in _newest(wanted))


@reading()
def offers_of(shop_id: int, supplier: str, find: str, most: int) -> tuple[tuple[Offer, ...], int]:
    """The newest price of what a supplier has, those first that are known to be something of the
    catalogue; find: words of their name or number. And how many there are."""
    wanted = (OfferRow.shop == shop_id) & (OfferRow.supplier == supplier)
    for word in find.split():
        texts = (OfferRow.name, OfferRow.number, OfferRow.item)
        wanted &= reduce(or_, (text.contains(word) for text in texts))
    newest = _newest(wanted).alias("newest")
    rows = OfferRow.select().join(newest, on=(OfferRow.id == newest.c.id))
    count = int(rows.count())
    order = (OfferRow.item.is_null(), OfferRow.name, OfferRow.quantity)
    return tuple(_offer(r) for r in rows.order_by(*order).limit(most)), count


@reading()
def history(shop_id: int, item: str) -> tuple[Offer, ...]:
    """Every price of an item that was ever kept, the newest first."""
    wanted = (OfferRow.shop == shop_id) & (OfferRow.item == item)
    order = (OfferRow.day.desc(), OfferRow.supplier, OfferRow.quantity)
    return tuple(_offer(r) for r in OfferRow.select().where(wanted).order_by(*order).limit(200))


@reading()
def counts(shop_id: int) -> dict[str, tuple[int, int]]:
    """How many things each supplier has a price of, and of how many it is known what they are."""
    rows: Any = (
        OfferRow.select(
            OfferRow.supplier, fn.COUNT(fn.DISTINCT(OfferRow.ref)), fn.COUNT(fn.DISTINCT(OfferRow.item))
        )
        .where(OfferRow.shop == shop_id)
        .group_by(OfferRow.supplier)
    )
    return {supplier: (int(n), int(known)) for supplier, n, known in rows.tuples()}


@reading()
def known_refs(shop_id: int, supplier: str) -> dict[str, tuple[str, str]]:
    """What a supplier's things are in the catalogue, as far as anybody has said it, and how they differ
    where they only stand in its place."""
    here = (OfferRow.shop == shop_id) & (OfferRow.supplier == supplier) & OfferRow.item.is_null(False)
    rows = OfferRow.select(OfferRow.ref, OfferRow.item, OfferRow.instead).where(here).order_by(OfferRow.id)
    return {r.ref: (r.item, r.instead) for r in rows}


@reading()
def offered(shop_id: int) -> frozenset[str]:
    """Items of the catalogue whose price is what suppliers ask."""
    here = (Price.shop == shop_id) & Price.offered.is_null(False)
    return frozenset(r.item for r in Price.select(Price.item).where(here))


@writing()
def keep_offers(shop_id: int, new: Sequence[Offer], told: Callable[[int, int], None] | None = None) -> None:
    """Prices, all or none; what was said of a pack on the same day before is overwritten. told: is called
    with how many are kept so far, of how many."""
    packs = {(o.supplier, o.ref, o.quantity, o.on): o for o in new}  # the last of equal ones
    values = [
        {"shop": shop_id, "supplier": o.supplier, "ref": o.ref, "name": o.name, "number": o.number,
         "item": o.item, "quantity": o.quantity, "price": o.price, "day": o.on, "source": o.source,
         "instead": o.instead}
        for o in packs.values()
    ]  # fmt: skip
    target = [OfferRow.shop, OfferRow.supplier, OfferRow.ref, OfferRow.quantity, OfferRow.day]
    renewed = {f: getattr(EXCLUDED, f.column_name) for f in (OfferRow.price, OfferRow.name,
               OfferRow.number, OfferRow.item, OfferRow.source, OfferRow.instead)}  # fmt: skip
    for k in range(0, len(values), AT_ONCE):
        rows = OfferRow.insert_many(values[k : k + AT_ONCE])
        rows.on_conflict(conflict_target=target, update=renewed).execute()
        if told is not None:
            told(min(k + AT_ONCE, len(values)), len(values))
    _price(shop_id, (o.item for o in packs.values() if o.item is not None))


@writing()
def is_what(shop_id: int, supplier: str, ref: str, item: str | None, instead: str = "") -> None:
    """Say what of the catalogue a supplier's thing is, or that it is none of it; instead: how it differs,
    where it only stands in its place."""
    here = (OfferRow.shop == shop_id) & (OfferRow.supplier == supplier) & (OfferRow.ref == ref)
    before = [r.item for r in OfferRow.select(OfferRow.item).where(here) if r.item is not None]
    OfferRow.update(item=item, instead=instead if item else "").where(here).execute()
    _price(shop_id, [*before, *([item] if item else [])])


@writing()
def forget_offer(shop_id: int, supplier: str, ref: str, quantity: float) -> None:
    """A shop has a pack no longer: all its prices go."""
    here = (OfferRow.shop == shop_id) & (OfferRow.supplier == supplier) & (OfferRow.ref == ref)
    here &= OfferRow.quantity == quantity
    items = [r.item for r in OfferRow.select(OfferRow.item).where(here) if r.item is not None]
    OfferRow.delete().where(here).execute()
    _price(shop_id, items)


def _price(shop_id: int, items: Iterable[str]) -> None:
    """What suppliers ask now, beside the price of each of these items."""
    wanted = sorted(set(items))
    there: dict[str, list[Offer]] = {item: [] for item in wanted}
    for offer in offers(shop_id, wanted):
        if not offer.instead:
            there[str(offer.item)].append(offer)
    for item, found in there.items():
        sold = [[p.quantity, str(p.price)] for p in best_packs(found)] or None
        here = (Price.shop == shop_id) & (Price.item == item)
        if sold is None:
            Price.update(offered=None).where(here).execute()
            continue
        (
            Price.insert(shop=shop_id, item=item, packs=[], offered=sold)
            .on_conflict(conflict_target=[Price.shop, Price.item], update={Price.offered: sold})
            .execute()
        )
    Price.delete().where(
        (Price.shop == shop_id) & Price.item.in_(wanted or [""]) & Price.offered.is_null(True)
        & (Price.packs == [])
    ).execute()  # fmt: skip
