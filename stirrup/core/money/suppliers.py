"""Suppliers, how their things come to the shop, and what they ask for packs."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal
from typing import Annotated, Literal, get_args

from pydantic import Field, model_validator

from stirrup.core.document import Document, Id
from stirrup.core.parts.entries import Entry, Fastener, Pack, Section, Sheet
from stirrup.core.plan.buying import MOST_DIFFERS
from stirrup.core.quantities import Day, Money

Sort = Literal["metal supplier", "boatyard or chandler", "builder's market", "online"]
SORTS: tuple[Sort, ...] = get_args(Sort)
MOST_SUPPLIERS, MOST_PACKS = 60, 12


class Supplier(Document):
    """A shop: what bringing things from there costs. Shops in one town are one trip, the longest of
    theirs."""

    id: Id
    name: Annotated[str, Field(min_length=1, max_length=60)] = Field(title="Name")
    sort: Sort = Field("boatyard or chandler", title="What it is")
    delivers: bool = Field(True, title="Delivers")
    freight: Money = Field(Decimal(0), ge=0, le=100_000, decimal_places=2, title="Freight of an order")
    free_from: Money | None = Field(
        None, ge=0, le=1_000_000, decimal_places=2, title="No freight from",
        description="empty: never free",
    )  # fmt: skip
    minimum: Money = Field(
        Decimal(0), ge=0, le=1_000_000, decimal_places=2, title="Least order that they deliver"
    )
    days: int = Field(0, ge=0, le=365, title="Days until it comes")
    fetched: bool = Field(False, title="You can fetch there")
    km: float = Field(0.0, ge=0, le=5000, title="There and back, km")
    hours: float = Field(0.0, ge=0, le=100, title="There and back, hours")
    town: str = Field("", max_length=40, title="Town", description="those in one town are one trip")

    @model_validator(mode="after")
    def _reached(self) -> Supplier:
        if not (self.delivers or self.fetched):
            raise ValueError("delivers: a shop delivers, or you can fetch there, or both")
        return self

    def trip(self, per_km: Decimal, hour: Decimal) -> Decimal:
        """What driving there and back costs, to the cent."""
        driven = Decimal(repr(self.km)) * per_km + Decimal(repr(self.hours)) * hour
        return driven.quantize(Decimal("0.01"))


class Offer(Document):
    """A pack at a shop: what they call it, what of the catalogue it is, how much is in it, its price before
    tax, and since when. instead: where it is not the item but could stand in its place, how it differs."""

    supplier: Id
    item: Id | None = None
    name: str = Field("", max_length=200)
    number: str = Field("", max_length=60)  # theirs, to order by
    quantity: float = Field(1.0, ge=0.001, le=100_000)
    price: Money = Field(ge=0, le=1_000_000, decimal_places=4)
    on: Day
    source: str = Field("", max_length=120)
    instead: str = Field("", max_length=MOST_DIFFERS)

    @property
    def ref(self) -> str:
        """What the shop knows it by: its number, else its name, else what of the catalogue it is."""
        return (self.number or self.name or self.item or "").casefold()


def best_packs(offers: Iterable[Offer]) -> tuple[Pack, ...]:
    """The packs that offers of one item come in, each at its best price, the smallest first."""
    best: dict[float, Decimal] = {}
    for o in offers:
        best[o.quantity] = min(o.price, best.get(o.quantity, o.price))
    return tuple(Pack(quantity=q, price=best[q]) for q in sorted(best))[:MOST_PACKS]


def usual_sort(entry: Entry | None) -> Sort:
    """Where such things are usually bought, as long as nobody has said it."""
    if isinstance(entry, Section):
        return "metal supplier" if entry.stuff.kind == "metal" else "builder's market"
    if isinstance(entry, Sheet):
        usual: dict[str, Sort] = {"metal": "metal supplier", "wood": "builder's market"}
        return usual.get(entry.kind, "boatyard or chandler")
    return "builder's market" if isinstance(entry, Fastener) else "boatyard or chandler"
