"""What can be chosen of a bottom liner."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.ways import Way, ways
from stirrup.core.fittings.stock import SheetId
from stirrup.core.quantities import Length

SHORTEST_M = 0.3

MADE = ways(
    Way("plates", "small pieces that one person sets; seams at keel and chine that water gets under"),
    Way(
        "one sheet",
        "no seam along keel and chine; help to handle it, heat to bend it, slits where it must",
    ),
)
RIVETS = ways(
    Way(
        "solid, wet-set",
        "what is usual under water: tight, holds for decades; two people and a bucking bar",
    ),
    Way("blind", "one person; their cores leak and rust, so never under water"),
)

HOLES = ways(
    Way("round", "quick and tight; a plastic sheet pulls at them as it grows and shrinks"),
    Way("slotted", "lets the sheet grow; each slot needs a washer, and sealant round it moves"),
)


class Liner(FittingBase):
    """Choices for a bottom liner."""

    kind: Literal["liner"] = "liner"
    aft: Length = Field(ge=-2, le=40, title="Aft edge, from transom")
    fore: Length = Field(ge=-2, le=40, title="Fore edge")
    skin: SheetId = Field("uhmw-6.4", title="Sheet")
    made: Annotated[Literal["plates", "one sheet"], MADE] = Field(
        "plates",
        title="Of",
        description="one sheet is wrapped about keel and chines, slit where it must be",
    )
    up: Length = Field(0.0, ge=0, le=0.6, title="Up the side over the chine by", description="0: not")
    hull: Length = Field(0.003, ge=0.0005, le=0.05, title="Bottom that it is riveted to, thick")
    rivets: Annotated[Literal["solid, wet-set", "blind"], RIVETS] = Field("solid, wet-set", title="Rivets")
    pitch: Length = Field(0.12, ge=0.03, le=0.6, title="Rivets every")
    holes: Annotated[Literal["round", "slotted"], HOLES] = Field("round", title="Holes in the sheet")
    range_k: float = Field(40.0, ge=0, le=100, title="Coldest to hottest, kelvin")

    @model_validator(mode="after")
    def _long(self) -> Liner:
        if self.fore < self.aft + SHORTEST_M:
            raise ValueError(
                f"fore: read {self.fore:g} m, with its aft edge at {self.aft:g} m; accepted: at least "
                f"{SHORTEST_M:g} m further forward"
            )
        return self
