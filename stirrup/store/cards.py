"""What the yard shows of each boat: kept with the revision that it was worked out for.

So a yard of many boats opens without working any of them out. A card holds for one revision, one state
of the shop's catalogue and one version of the program; otherwise it is made anew.
"""

from __future__ import annotations

import hashlib
from functools import lru_cache
from pathlib import Path
from typing import Any

from peewee import JOIN, fn

import stirrup.core
from stirrup.core.record import dataclass
from stirrup.store.models import Build, Card
from stirrup.store.session import reading, writing


@lru_cache(maxsize=1)
def version() -> str:
    """Tells programs apart that may work out other figures: by all of the core, demo and catalogue."""
    digest = hashlib.sha256()
    root = Path(stirrup.core.__path__[0]).parent
    for path in sorted([*root.rglob("*.py"), *(root / "catalogue").rglob("*.*")]):
        if path.is_file() and path.suffix != ".pyc":
            digest.update(path.read_bytes())
    return digest.hexdigest()[:16]


def meaning_of(catalogue_key: str) -> str:
    """What a card depends on besides its revision."""
    return f"{version()} {catalogue_key}"


@dataclass(frozen=True)
class Listed:
    """A boat of the yard by number and name, and its card where that still holds."""

    id: int
    number: int
    name: str
    shown: dict[str, Any] | None


@reading()
def listed(shop_id: int, meaning: str) -> list[Listed]:
    """All boats of a shop, in the order they were made."""
    holds = (Card.build == Build.id) & (Card.number == Build.number) & (Card.meaning == meaning)
    name = fn.jsonb_extract_path_text(Build.plan, "name")
    rows: Any = (
        Build.select(Build.id, Build.number, name, Card.shown)
        .join(Card, JOIN.LEFT_OUTER, on=holds)
        .where(Build.shop == shop_id)
        .order_by(Build.id)
    )
    return [Listed(int(i), int(n), str(called), shown) for i, n, called, shown in rows.tuples()]


@writing()
def keep(shop_id: int, build_id: int, number: int, meaning: str, shown: dict[str, Any]) -> None:
    """The card of a revision, in place of any other of its boat."""
    values = {"number": number, "meaning": meaning, "shown": shown}
    if Build.select().where(Build.id == build_id).exists():  # the boat may be gone
        new = Card.insert(build=build_id, shop=shop_id, **values)
        new.on_conflict(conflict_target=[Card.build], update=values).execute()
