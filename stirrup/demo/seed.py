"""Put the demo boats into an empty database."""

from __future__ import annotations

import csv
import tomllib
from decimal import Decimal
from pathlib import Path

from stirrup.core.money.suppliers import Offer, Supplier
from stirrup.core.plan.model import Plan
from stirrup.exchange.buildfile import parse
from stirrup.store import builds, suppliers
from stirrup.store.models import DATABASE, Shop
from stirrup.store.session import writing
from stirrup.store.shop import is_empty, the_shop

FOLDER = Path(__file__).parent
FILES = (
    "sedge-hopper.stirrup.json", "teal-mule.stirrup.json", "old-copper.stirrup.json",
    "grey-riffle.stirrup.json",
)  # fmt: skip
PRICES_OF = "2026-10-05"
SEED_LOCK = 72002
SHOP = "Alder Spit Boat Shed"


def demo_plan(name: str) -> Plan:
    """One demo boat by file name."""
    return parse((FOLDER / name).read_bytes())


def demo_shops() -> tuple[list[Supplier], list[Offer]]:
    """The demo's shops and what they ask."""
    shops = tomllib.loads((FOLDER / "shops.toml").read_text("utf-8"))["shop"]
    decimals = ("freight", "free_from", "minimum")
    rows = csv.DictReader((FOLDER / "prices.csv").read_text("utf-8").splitlines())
    offers = [
        Offer(supplier=r["shop"], item=r["id"], name=r["name"], number=r["number"],
              quantity=float(r["pack"]), price=Decimal(r["price"]), on=PRICES_OF, source="their list",
              instead=r["instead"])
        for r in rows
    ]  # fmt: skip
    return [
        Supplier(**{k: Decimal(v) if k in decimals else v for k, v in s.items()}) for s in shops
    ], offers


def seed() -> bool:
    """Seed when there is no build at all; returns whether it did."""
    with writing():
        # of two that start at once the second waits, as long as it takes, and finds the boats there
        DATABASE.obj.execute_sql("SET LOCAL lock_timeout = 0; SET LOCAL statement_timeout = 0")
        DATABASE.obj.execute_sql("SELECT pg_advisory_xact_lock(%s)", (SEED_LOCK,))
        if not is_empty():
            return False
        shop = the_shop()
        Shop.update(name=SHOP, units="ft-in").where(Shop.id == shop.id).execute()
        for name in FILES:
            builds.create(shop.id, demo_plan(name), "the demo boat")
        shops, offers = demo_shops()
        for supplier in shops:
            suppliers.keep_supplier(shop.id, supplier)
        suppliers.keep_offers(shop.id, offers)
        return True
