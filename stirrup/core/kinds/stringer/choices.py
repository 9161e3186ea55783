"""What can be chosen of a stringer."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from stirrup.core.fittings.done_ways import LAMINATED_OR_WELDED, STRINGER_CORES
from stirrup.core.fittings.laminate import ClothId, ResinId
from stirrup.core.fittings.splayed_kind import SplayedBase
from stirrup.core.fittings.stock import CoreId
from stirrup.core.quantities import Angle, Length


class Stringer(SplayedBase):
    """Choices for a stringer."""

    kind: Literal["stringer"] = "stringer"
    top: Length = Field(gt=0, le=5, title="Top above keel line, aft end")
    rises: Angle = Field(0.0, ge=-10, le=10, title="Its top rises forward, degrees")
    core: Annotated[CoreId, STRINGER_CORES] = Field("ply-18", title="Core of")
    layers: int = Field(2, ge=1, le=6, title="Layers")
    hollow: Length = Field(
        0.0, ge=0, le=0.2, title="Hollow between its layers, wide", description="under a cap; 0: none"
    )
    doubled: bool = Field(False, title="Doublers behind the joints of a single layer")
    notch: Length = Field(
        0.0, ge=0, le=1, title="Notch in its top, long", description="for a pump; 0: none"
    )
    notch_at: Length = Field(0.4, ge=0, le=40, title="Notch, middle from its aft end")
    notch_deep: Length = Field(0.03, ge=0.005, le=0.3, title="Notch, deep")
    gap: Length = Field(0.006, ge=0, le=0.02, title="Bed of putty under it, thick")
    taper: Length = Field(0.15, ge=0, le=2, title="Tapered at its ends over")
    limber: Length = Field(0.04, ge=0, le=0.2, title="Limber holes, wide", description="0: none")
    limber_every: Length = Field(0.8, ge=0.1, le=5, title="A limber hole every")
    joined: Annotated[Literal["laminated over", "welded"], LAMINATED_OR_WELDED] = Field(
        "laminated over", title="Joined to the bottom"
    )
    cloth: ClothId = Field("biaxmat-820", title="Laminate of")
    plies: int = Field(2, ge=1, le=10, title="Plies")
    resin: ResinId = Field("epoxy-medium", title="Resin")

    @model_validator(mode="after")
    def _cored(self) -> Stringer:
        if self.hollow and self.layers < 2:
            raise ValueError(f"hollow: read {self.hollow:g} m with one layer; accepted: with two or more")
        if self.hollow and self.notch:
            raise ValueError(
                f"notch: read {self.notch:g} m in a hollow one, whose cap lies there; accepted: 0"
            )
        return self
