"""What was measured on the real boat: weigh-ins, float checks, inclinings.

Each names the load case that was aboard; results and comparisons are in afloat/learn.py.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from stirrup.core.document import Document, Id, Name
from stirrup.core.quantities import Angle, Length, Mass

Reading = Annotated[Length, Field(gt=-5, lt=5)]


class Scale(Document):
    """One scale under the boat."""

    force: Mass = Field(gt=0, le=100_000, title="Scale shows")
    x: Length = Field(ge=-5, le=30, title="From transom")
    y: Length = Field(0.0, ge=-5, le=5, title="To port")


class _Check(Document):
    id: Id
    case: Name = "planned, empty"
    note: str = Field("", max_length=200)


class WeighIn(_Check):
    """Two or more scale readings at known places."""

    kind: Literal["weigh_in"] = "weigh_in"
    scales: tuple[Scale, ...] = Field(min_length=2, max_length=8)
    spread: Mass = Field(0.5, gt=0, le=500, title="Scale may be off by")


class FloatCheck(_Check):
    """Freeboards in still water: bow centre and both transom corners, sheer to water."""

    kind: Literal["float_check"] = "float_check"
    bow: Reading = Field(title="Freeboard at the bow")
    port: Reading = Field(title="At the transom, port")
    starboard: Reading = Field(title="At the transom, starboard")
    spread: Length = Field(0.005, gt=0, le=0.5, title="A reading may be off by")


class Inclining(_Check):
    """A known mass moved sideways, and the change of heel it makes."""

    kind: Literal["inclining"] = "inclining"
    mass: Mass = Field(gt=0, le=5000, title="Mass moved")
    distance: Length = Field(gt=0, le=5, title="Moved sideways by")
    heel_deg: Angle = Field(gt=0, le=20, title="Heel changed by, degrees")
    spread_deg: Angle = Field(0.1, gt=0, le=5, title="May be off by, degrees")


Measured = Annotated[WeighIn | FloatCheck | Inclining, Field(discriminator="kind")]
