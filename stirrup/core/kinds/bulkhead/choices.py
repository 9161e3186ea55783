"""What can be chosen of a bulkhead."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from stirrup.core.contract.base import FittingBase
from stirrup.core.fittings.done_ways import TABBED_OR_WELDED
from stirrup.core.fittings.laminate import ClothId, ResinId
from stirrup.core.fittings.stock import SheetId
from stirrup.core.quantities import Length

LEAST_WAY_M = 0.1  # a hand
LEAST_CORNER_M = 0.05  # of a way through: a sharper one starts a crack


class Bulkhead(FittingBase):
    """Choices for a bulkhead."""

    kind: Literal["bulkhead"] = "bulkhead"
    x: Length = Field(ge=-2, le=40, title="Aft face, from transom")
    top: Length = Field(gt=0, le=5, title="Top above keel line")
    skin: SheetId = Field("ply-12", title="Sheet")
    gap: Length = Field(0.005, ge=0.0, le=0.02, title="Gap to the hull, bedded")
    limber: Length = Field(0.04, ge=0, le=0.2, title="Limber hole, wide", description="0: none")
    wide: Length = Field(0.0, ge=0, le=3, title="Way through, wide", description="0: none")
    high: Length = Field(0.30, ge=0.05, le=2, title="Way through, high")
    sill: Length = Field(0.12, ge=0, le=3, title="Way through, over the bottom")
    corner: Length = Field(0.06, ge=0, le=0.5, title="Way through, corner radius")
    open_top: bool = Field(
        False, title="Open at the top", description="with no sill: two wings with nothing between"
    )
    hand: Length = Field(0.0, ge=0, le=0.4, title="Hand hole on either side, across", description="0: none")
    hand_out: Length = Field(0.55, ge=0.05, le=4, title="Hand holes, from centreline")
    hand_up: Length = Field(0.25, ge=0.05, le=4, title="Hand holes, over the bottom")
    cables: int = Field(0, ge=0, le=6, title="Cable holes on either side")
    cable_out: Length = Field(0.35, ge=0.03, le=4, title="Cable holes, from centreline")
    cable_up: Length = Field(0.20, ge=0, le=4, title="Lowest cable hole, over the bottom")
    halves: bool = Field(False, title="In two halves, butted on the centreline")
    joined: Annotated[Literal["tabbed", "welded"], TABBED_OR_WELDED] = Field(
        "tabbed", title="Joined to the hull"
    )
    tape: ClothId = Field("tape-150", title="Tabs of")
    plies: int = Field(2, ge=1, le=8, title="Plies on either side")
    resin: ResinId = Field("epoxy-medium", title="Resin")

    @model_validator(mode="after")
    def _rounded(self) -> Bulkhead:
        if 0 < self.wide < LEAST_WAY_M:
            raise ValueError(
                f"wide: read {self.wide:g} m; accepted: 0 for none, or at least {LEAST_WAY_M:g} m"
            )
        if 0 < self.hand < LEAST_WAY_M:
            raise ValueError(
                f"hand: read {self.hand:g} m; accepted: 0 for none, or at least {LEAST_WAY_M:g} m"
            )
        if self.open_top and not self.wide:
            raise ValueError("open_top: read true without a way through; give that a breadth first")
        if self.wide and not 2 * self.corner <= min(self.wide, self.high) + 1e-9:
            raise ValueError(
                f"corner: read {self.corner:g} m; accepted: at most half of the way through, "
                f"{min(self.wide, self.high) / 2:g} m"
            )
        return self
