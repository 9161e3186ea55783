"""What can be chosen of a stringer of a section."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from stirrup.core.contract.ways import Way, ways
from stirrup.core.document import Id, StockRef
from stirrup.core.fittings.splayed_kind import SplayedBase
from stirrup.core.quantities import Length

Metal = StockRef("section", wanted=(("shape", ("angle", "channel", "square tube", "hat", "flat")),))
SectionId = Annotated[Id, Metal]

JOINED = ways(
    Way("welded", "stiff and tight; draws a thin bottom, so it is stitched by turns; a qualified welder"),
    Way(
        "riveted, wet-set",
        "no heat, anybody with a helper; each hole through the bottom is one to keep tight",
    ),
)


class SectionStringer(SplayedBase):
    """Choices for a stringer of a section."""

    kind: Literal["section_stringer"] = "section_stringer"
    section: SectionId = Field("channel-40x20x3", title="Section")
    joined: Annotated[Literal["welded", "riveted, wet-set"], JOINED] = Field(
        "welded", title="Joined to the bottom"
    )
    pitch: Length = Field(0.075, ge=0.02, le=0.4, title="Rivets every")
