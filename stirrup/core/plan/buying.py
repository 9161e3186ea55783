"""What is bought for a boat and what is there for her: the list of what to buy is what is missing then."""

from __future__ import annotations

from collections import defaultdict
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, model_validator

from stirrup.core.document import Document, Id, Name
from stirrup.core.plan.terms import Terms
from stirrup.core.quantities import Day, Money, Percent

MOST_PURCHASES, MOST_OWNED, MOST_PINS, MOST_PACKS, MOST_DIFFERS = 600, 300, 300, 10_000, 120
ShopName = Annotated[str, Field(max_length=60)]
Stage = Literal["quote asked", "ordered"]


class Purchase(Document):
    """Packs of one thing from one shop: what was asked, is ordered, has come and has gone back, or on to
    another boat.

    item: entry of the catalogue; thing: of what is bought whole, its id in the plan; neither: freight,
    a trip, blades, whatever else it costs. instead: where it is something else in the item's place, how it
    differs.
    """

    id: Id
    item: Id | None = None
    thing: Id | None = None
    name: Name
    supplier: ShopName = Field("", title="From")
    quantity: float = Field(1.0, ge=0.001, le=100_000, title="In one pack")
    packs: int = Field(1, ge=1, le=MOST_PACKS, title="Packs")
    price: Money | None = Field(
        None, ge=0, le=1_000_000, decimal_places=2, title="Price of a pack, before tax",
        description="empty: not known yet",
    )  # fmt: skip
    stage: Stage = Field("ordered", title="It is")
    ordered: Day | None = Field(None, title="Ordered on")
    promised: Day | None = Field(None, title="Promised for")
    number: str = Field("", max_length=40, title="Their number")
    received: int = Field(0, ge=0, le=MOST_PACKS, title="Packs that have come")
    returned: int = Field(0, ge=0, le=MOST_PACKS, title="Packs that went back")
    handed: int = Field(0, ge=0, le=MOST_PACKS, title="Packs that went to another boat")
    paid: bool = Field(False, title="Paid")
    receipt: Id | None = None
    instead: str = Field("", max_length=MOST_DIFFERS, title="In place of it: how it differs")
    service: bool = Field(False, title="Work that somebody else does: a weld, a bend")

    @model_validator(mode="after")
    def _sound(self) -> Purchase:
        if self.item is not None and self.thing is not None:
            raise ValueError("give either item or thing")
        if self.received > self.packs:
            raise ValueError(f"received: read {self.received}; accepted: at most the {self.packs} ordered")
        if self.returned > self.received:
            raise ValueError(f"returned: read {self.returned}; accepted: at most the {self.received} there")
        there = self.received - self.returned
        if self.handed > there:
            raise ValueError(f"handed: read {self.handed}; accepted: at most the {there} there")
        if self.service and (self.item is not None or self.thing is not None):
            raise ValueError("service: work of others is no item and no thing")
        if self.stage != "ordered" and (self.received or self.paid):
            raise ValueError("stage: what has come or is paid is ordered")
        return self

    @property
    def kept(self) -> int:
        """Packs that are there or on their way, and stay; none of what is only asked for."""
        return self.packs - self.returned - self.handed if self.stage == "ordered" else 0

    @property
    def at_hand(self) -> int:
        """Packs that have come and are here still."""
        return self.received - self.returned - self.handed

    @property
    def amount(self) -> Decimal:
        """What those cost before tax, as far as it is known."""
        return self.kept * (self.price or Decimal(0))

    @property
    def waited_for(self) -> int:
        """Packs that are ordered and have not come."""
        return self.packs - self.received if self.stage == "ordered" else 0


class Owned(Document):
    """What is in the shop already: a box part full, a can, a roll."""

    id: Id
    item: Id
    quantity: float = Field(1.0, ge=0, le=100_000, title="How much of it")
    place: str = Field("", max_length=60, title="Where it is")
    until: Day | None = Field(None, title="Good until")


class Pin(Document):
    """An item that is bought at one shop and nowhere else; both by their ids."""

    id: Id
    supplier: Id


class Stead(Document):
    """An item in whose place an alternate will do, by its id."""

    id: Id


class Buying(Document):
    """What is bought, what is there, and what getting it costs."""

    purchases: tuple[Purchase, ...] = Field((), max_length=MOST_PURCHASES)
    owned: tuple[Owned, ...] = Field((), max_length=MOST_OWNED)
    pins: tuple[Pin, ...] = Field((), max_length=MOST_PINS)
    steads: tuple[Stead, ...] = Field((), max_length=MOST_PINS)
    terms: Terms = Terms()
    per_km: Money = Field(Decimal("0.50"), ge=0, le=100, decimal_places=2, title="A kilometre driven costs")
    road_hour: Money | None = Field(
        None, ge=0, le=1000, decimal_places=2, title="An hour on the road costs",
        description="empty: nothing",
    )  # fmt: skip
    reserve: Percent | None = Field(
        None, ge=0, le=100, decimal_places=2, title="Kept back, percent of what is still to buy",
        description="empty: by how well prices are known",
    )  # fmt: skip

    @property
    def there(self) -> dict[str, float]:
        """Of each item how much is there or on its way."""
        out: dict[str, float] = defaultdict(float)
        for own in self.owned:
            out[own.item] += own.quantity
        for p in self.purchases:
            if p.item is not None and p.kept:
                out[p.item] += p.kept * p.quantity
        return dict(out)

    @property
    def whole(self) -> frozenset[str]:
        """Things of the plan that are bought whole, and bought."""
        return frozenset(p.thing for p in self.purchases if p.thing is not None and p.kept)


def check_buying(buying: Buying) -> None:
    """Raise ValueError for an id that stands twice in one of the lists."""
    for group in ("purchases", "owned", "pins", "steads"):
        seen: set[str] = set()
        for k, x in enumerate(getattr(buying, group)):
            if x.id in seen:
                raise ValueError(f"buying.{group}[{k}].id: “{x.id}” is used twice")
            seen.add(x.id)
