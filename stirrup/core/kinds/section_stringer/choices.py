"""What can be chosen of a stringer of a section."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from stirrup.core.document import Id, StockRef
from stirrup.core.fittings.splayed_kind import SplayedBase
from stirrup.core.quantities import Length

Metal = StockRef("section", wanted=(("shape", ("angle", "channel", "square tube", "hat", "flat")),))
SectionId = Annotated[Id, Metal]


class SectionStringer(SplayedBase):
    """Choices for a stringer of a section."""

    kind: Literal["section_stringer"] = "section_stringer"
    section: SectionId = Field("channel-40x20x3", title="Section")
    joined: Literal["welded", "riveted, wet-set"] = Field("welded", title="Joined to the bottom")
    pitch: Length = Field(0.075, ge=0.02, le=0.4, title="Rivets every")
