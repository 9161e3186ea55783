"""What can be chosen of a bottom liner."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from stirrup.core.contract.base import FittingBase
from stirrup.core.fittings.stock import SheetId
from stirrup.core.quantities import Length

SHORTEST_M = 0.3


class Liner(FittingBase):
    """Choices for a bottom liner."""

    kind: Literal["liner"] = "liner"
    aft: Length = Field(ge=-2, le=40, title="Aft edge, from transom")
    fore: Length = Field(ge=-2, le=40, title="Fore edge")
    skin: SheetId = Field("uhmw-6.4", title="Sheet")
    made: Literal["plates", "one sheet"] = Field(
        "plates",
        title="Of",
        description="one sheet is wrapped about keel and chines, slit where it must be",
    )
    up: Length = Field(0.0, ge=0, le=0.6, title="Up the side over the chine by", description="0: not")
    hull: Length = Field(0.003, ge=0.0005, le=0.05, title="Bottom that it is riveted to, thick")
    rivets: Literal["solid, wet-set", "blind"] = Field("solid, wet-set", title="Rivets")
    pitch: Length = Field(0.12, ge=0.03, le=0.6, title="Rivets every")
    holes: Literal["round", "slotted"] = Field("round", title="Holes in the sheet")
    range_k: float = Field(40.0, ge=0, le=100, title="Coldest to hottest, kelvin")

    @model_validator(mode="after")
    def _long(self) -> Liner:
        if self.fore < self.aft + SHORTEST_M:
            raise ValueError(
                f"fore: read {self.fore:g} m, with its aft edge at {self.aft:g} m; accepted: at least "
                f"{SHORTEST_M:g} m further forward"
            )
        return self
