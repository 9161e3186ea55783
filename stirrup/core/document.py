"""What every part of a build document shares: strict models, points, masses."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from stirrup.core.quantities import Mass
from stirrup.core.record import dataclass

Point = tuple[float, float, float]  # m, boat axes: x forward, y to port, z up
Point2 = tuple[float, float]  # m
LEAST_SIZE_M = 0.001  # of anything: less is a slip of the decimal point
Size = tuple[
    Annotated[float, Field(ge=LEAST_SIZE_M, le=50)],
    Annotated[float, Field(ge=LEAST_SIZE_M, le=50)],
    Annotated[float, Field(ge=LEAST_SIZE_M, le=50)],
]  # m: along x, across y, up z
Id = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[A-Za-z0-9][A-Za-z0-9_.-]*$")]
Name = Annotated[str, Field(min_length=1, max_length=80)]
Status = Literal["weighed", "maker", "computed", "guessed"]
Stage = Literal["found", "added", "removed"]

# 1 sigma as a share of the value; docs/trade-rules.md, “Masses”
SPREAD_BY_STATUS: dict[Status, float] = {
    "weighed": 0.01,
    "maker": 0.03,
    "computed": 0.06,
    "guessed": 0.20,
}


Relation = Literal["lies in", "stands on", "lands on", "is carried by", "is led to", "carries"]


@dataclass(frozen=True)
class ThingRef:
    """Marks a field that names another thing: what that one must offer, how the two stand to one
    another. An optional one can do without."""

    offer: str
    relation: Relation


@dataclass(frozen=True)
class StockRef:
    """Marks a field that names an entry of the catalogue: of which group, which of the values are
    accepted of which of its fields, and what may stand there besides."""

    group: str
    also: tuple[str, ...] = ()
    wanted: tuple[tuple[str, tuple[str, ...]], ...] = ()


class Document(BaseModel):
    """Base of all document models: unknown keys, NaN and infinity are errors."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


class MassPoint(Document):
    """A mass at a place, with how sure it is."""

    value: Mass = Field(gt=0, le=100_000, description="mass")
    centre: Point = Field(description="centre of mass [m]")
    status: Status = Field("guessed", description="how the value is known")
    spread: Mass | None = Field(None, ge=0, description="1 sigma; follows from status when absent")
    centre_spread: Annotated[float, Field(ge=0)] | Point = Field(
        0.0, description="1 sigma of the centre [m], one number or one for each axis"
    )

    @property
    def spread_kg(self) -> float:
        """1 sigma of the mass [kg]."""
        if self.spread is not None:
            return self.spread
        return SPREAD_BY_STATUS[self.status] * self.value

    @property
    def centre_spread_m(self) -> Point:
        """1 sigma of the centre along x, y, z [m]."""
        if isinstance(self.centre_spread, tuple):
            return self.centre_spread
        return (self.centre_spread,) * 3


class Box(Document):
    """A box on the boat's axes, standing on the middle of its floor."""

    size: Size = Field(description="along, across, up [m]")
    floor_centre: Point = Field(description="middle of the floor [m]")

    @property
    def low(self) -> Point:
        (lx, ly, _), (x, y, z) = self.size, self.floor_centre
        return (x - lx / 2, y - ly / 2, z)

    @property
    def high(self) -> Point:
        (lx, ly, lz), (x, y, z) = self.size, self.floor_centre
        return (x + lx / 2, y + ly / 2, z + lz)


class Shaped(Document):
    """Something given either by `box` or by `outline`; exactly one of the two."""

    box: Box | None = None
    outline: tuple[Point | Point2, ...] | None = Field(
        None, min_length=3, description="closed ring [m]; without heights it reaches all the way up"
    )

    @model_validator(mode="after")
    def _one_shape(self) -> Shaped:
        if (self.box is None) == (self.outline is None):
            raise ValueError("give either box or outline")
        return self
