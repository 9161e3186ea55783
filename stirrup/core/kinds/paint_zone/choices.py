"""What can be chosen of a zone that is painted."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.schools import OldPaint, School
from stirrup.core.fittings.stock import CoverId
from stirrup.core.quantities import Length

SHORTEST_M = 0.05


class PaintZone(FittingBase):
    """Choices for a painted zone of the hull's skin."""

    kind: Literal["paint_zone"] = "paint_zone"
    face: Literal["outside", "inside"] = Field("outside", title="Face")
    part: Literal["bottom", "sides", "transom"] = Field("sides", title="Of her")
    side: Literal["both", "port", "starboard"] = Field("both", title="Side")
    aft: Length = Field(ge=-2, le=40, title="Aft edge, from transom")
    fore: Length = Field(ge=-2, le=40, title="Fore edge")
    low: Length | None = Field(
        None, ge=-1, le=5, title="Lower edge above keel line", description="empty: all of it"
    )
    high: Length | None = Field(None, ge=-1, le=5, title="Upper edge", description="empty: all of it")
    old: Annotated[OldPaint | None, School("paint")] = Field(
        None, title="Old paint", description="empty: as the build"
    )
    primer: CoverId = Field("primer-etch", title="Primer")
    primed: int = Field(1, ge=0, le=4, title="Coats of primer")
    paint: CoverId = Field("paint-topside", title="Paint")
    coats: int = Field(2, ge=0, le=8, title="Coats of paint")

    @property
    def heights(self) -> tuple[float, float]:
        """From where to where, over the keel line [m]."""
        low = self.low if self.low is not None else -10.0
        return low, self.high if self.high is not None else 10.0

    @model_validator(mode="after")
    def _large_enough(self) -> PaintZone:
        if self.part != "transom" and self.fore < self.aft + SHORTEST_M:
            raise ValueError(
                f"fore edge {self.fore:g} m and aft edge {self.aft:g} m: the fore edge must lie at least "
                f"{SHORTEST_M:g} m forward of the aft edge"
            )
        low, high = self.heights
        if high < low + SHORTEST_M:
            raise ValueError(
                f"upper edge {high:g} m and lower edge {low:g} m: the upper edge must lie at least "
                f"{SHORTEST_M:g} m over the lower one"
            )
        return self
