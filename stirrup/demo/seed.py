"""Put the demo boats into an empty database."""

from __future__ import annotations

from pathlib import Path

from stirrup.core.plan.model import Plan
from stirrup.exchange.buildfile import parse
from stirrup.store import builds
from stirrup.store.models import DATABASE, Shop
from stirrup.store.session import writing
from stirrup.store.shop import is_empty, the_shop

FOLDER = Path(__file__).parent
FILES = (
    "sedge-hopper.stirrup.json", "teal-mule.stirrup.json", "old-copper.stirrup.json",
    "grey-riffle.stirrup.json",
)  # fmt: skip
SEED_LOCK = 72002
SHOP = "Alder Spit Boat Shed"


def demo_plan(name: str) -> Plan:
    """One demo boat by file name."""
    return parse((FOLDER / name).read_bytes())


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
        return True
