"""What a plan says of a tank: read by every kind that stands on, round or over one."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from stirrup.core.document import Document, Id, Point, Size
from stirrup.core.quantities import Mass, Money

# kg/m3 at 15 °C: working values
LIQUIDS: dict[str, float] = {
    "petrol": 745.0,
    "diesel": 840.0,
    "fresh water": 1000.0,
    "water": 1000.0,
    "salt water": 1025.0,
}
FUELS = ("petrol", "diesel")
WALL_M, WALL_DENSITY = 0.005, 955.0  # moulded polyethylene; starting value


class Tank(Document):
    """A box tank: its contents, and what it weighs and costs empty unless that is an item's."""

    id: Id
    name: str = Field("", max_length=80)
    size: Size
    floor_centre: Point
    liquid: Literal["petrol", "diesel", "fresh water", "water", "salt water"]
    partitions_across: int = Field(0, ge=0, le=20)
    empty_mass: Mass = Field(0.0, ge=0, le=1000, title="Weighs empty")
    price: Money | None = Field(
        None, ge=0, le=1_000_000, decimal_places=2, title="Price", description="empty: the catalogue's"
    )
    owned: bool = Field(True, title="Already yours: costs nothing")

    @property
    def title(self) -> str:
        return self.name or self.id

    @property
    def is_fuel(self) -> bool:
        return self.liquid in FUELS

    @property
    def density(self) -> float:
        """Of what it holds [kg/m3]."""
        return LIQUIDS[self.liquid]


def empty_tank_kg(size: Size) -> float:
    """What a moulded box tank weighs empty: area of its six walls x thickness x density [kg]."""
    a, b, c = size
    return round(2 * (a * b + b * c + a * c) * WALL_M * WALL_DENSITY, 1)
