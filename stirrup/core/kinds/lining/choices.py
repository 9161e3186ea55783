"""What can be chosen of a side lining."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.ways import Way, ways
from stirrup.core.document import Id, StockRef
from stirrup.core.fittings.stock import CoverId, SheetId
from stirrup.core.quantities import Length

BattenId = Annotated[Id, StockRef("section", wanted=(("shape", ("timber",)),))]
SHORTEST_M, LOWEST_M = 0.15, 0.05

MADE_OF = ways(
    Way(
        "panels on battens",
        "straight and hard, wires run behind it; takes room, and water behind it must get out",
    ),
    Way(
        "cover on the hull",
        "least weight and room, follows every curve; glue on clean, dry, warm skin, out only in shreds",
    ),
)


class Lining(FittingBase):
    """Choices for the lining of one side."""

    kind: Literal["lining"] = "lining"
    side: Literal["port", "starboard"] = Field("port", title="Side")
    aft: Length = Field(ge=-2, le=40, title="Aft edge, from transom")
    fore: Length = Field(ge=-2, le=40, title="Fore edge")
    low: Length = Field(ge=0, le=5, title="Lower edge above keel line")
    high: Length = Field(ge=0, le=5, title="Upper edge")
    way: Annotated[Literal["panels on battens", "cover on the hull"], MADE_OF] = Field(
        "panels on battens", title="Made of"
    )
    skin: SheetId = Field("pvc-6", title="Panels")
    batten: BattenId = Field("fir-20x40", title="Battens")
    spacing: Length = Field(0.40, ge=0.1, le=1.0, title="Battens every")
    cover: CoverId = Field("none", title="Cover")

    @model_validator(mode="after")
    def _large_enough(self) -> Lining:
        if self.fore < self.aft + SHORTEST_M:
            raise ValueError(
                f"fore edge {self.fore:g} m and aft edge {self.aft:g} m: the fore edge must lie at least "
                f"{SHORTEST_M:g} m forward of the aft edge"
            )
        if self.high < self.low + LOWEST_M:
            raise ValueError(
                f"upper edge {self.high:g} m and lower edge {self.low:g} m: the upper edge must lie at "
                f"least {LOWEST_M:g} m over the lower one"
            )
        return self
