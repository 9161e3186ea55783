"""What can be chosen of a stringer of a section."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from stirrup.core.contract.base import FittingBase
from stirrup.core.document import Id, StockRef
from stirrup.core.quantities import Length

LEAST_LONG_M = 0.3
Metal = StockRef("section", wanted=(("shape", ("angle", "channel", "square tube", "hat", "flat")),))
SectionId = Annotated[Id, Metal]


class SectionStringer(FittingBase):
    """Choices for a stringer of a section."""

    kind: Literal["section_stringer"] = "section_stringer"
    aft: Length = Field(ge=-2, le=40, title="Aft end, from transom")
    fore: Length = Field(ge=-2, le=40, title="Fore end")
    y: Length = Field(ge=-5, le=5, title="From centreline, aft", description="to port +")
    y_fore: Length | None = Field(
        None, ge=-5, le=5, title="From centreline, fore", description="empty: parallel to it"
    )
    section: SectionId = Field("channel-40x20x3", title="Section")
    joined: Literal["welded", "riveted, wet-set"] = Field("welded", title="Joined to the bottom")
    pitch: Length = Field(0.075, ge=0.02, le=0.4, title="Rivets every")

    @model_validator(mode="after")
    def _long(self) -> SectionStringer:
        if self.fore - self.aft < LEAST_LONG_M:
            raise ValueError(
                f"fore: read {self.fore:g} m, with its aft end at {self.aft:g} m; accepted: at least "
                f"{LEAST_LONG_M:g} m further forward"
            )
        return self

    @property
    def ends_y(self) -> tuple[float, float]:
        """Off the centreline at its aft and its fore end [m]."""
        return self.y, self.y if self.y_fore is None else self.y_fore
