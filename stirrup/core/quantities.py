"""What a field of the document is: annotated types that forms, words, entry and the schema read.

`x: Length = Field(ge=0, title="From transom")`; in metres, and so on for each below.
"""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import Field, GetJsonSchemaHandler

from stirrup.core.record import dataclass

What = Literal["length", "mass", "angle", "power", "volume", "density", "money", "percent", "force", "day"]
UNITS: dict[What, str] = {
    "length": "m",
    "mass": "kg",
    "angle": "deg",
    "power": "kW",
    "volume": "m3",
    "density": "kg/m3",
    "money": "in the shop's currency",
    "percent": "%",
    "force": "N",
    "day": "year-month-day",
}

DAY = r"^[12][0-9]{3}-(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])$"


@dataclass(frozen=True)
class Is:
    """Marks what a number is; the schema says its unit."""

    what: What

    def __get_pydantic_json_schema__(self, schema: Any, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        return {**handler(schema), "unit": UNITS[self.what]}


Length = Annotated[float, Is("length")]  # m
Mass = Annotated[float, Is("mass")]  # kg
Angle = Annotated[float, Is("angle")]  # degrees
Power = Annotated[float, Is("power")]  # kW
Volume = Annotated[float, Is("volume")]  # m3
Density = Annotated[float, Is("density")]  # kg/m3
Force = Annotated[float, Is("force")]  # N
Money = Annotated[Decimal, Is("money")]
Percent = Annotated[Decimal, Is("percent")]
Day = Annotated[str, Is("day"), Field(pattern=DAY)]  # of the calendar, as 2026-03-14
