"""What can be chosen of a door in a face."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from stirrup.core.contract.base import FittingBase
from stirrup.core.document import Id, StockRef, ThingRef
from stirrup.core.fittings.stock import LatchId, LidId
from stirrup.core.quantities import Length

FoldId = Annotated[Id, StockRef("sheet", wanted=(("kind", ("metal",)),))]
LANDING_M = 0.020  # of a flush one on the flats behind its face: working value

Side = Literal["port", "starboard", "top", "bottom"]


class FaceDoor(FittingBase):
    """Choices for a door in a face."""

    kind: Literal["face_door"] = "face_door"
    deck: Annotated[Id, ThingRef("face", "lies in")] = Field(title="In the face of")
    face: Literal["aft", "fore"] = Field("aft", title="Face")
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    z: Length = Field(ge=0, le=5, title="Middle above keel line")
    clear_width: Length = Field(0.40, ge=0.08, le=2, title="Clear opening, across")
    clear_height: Length = Field(0.20, ge=0.08, le=1, title="Clear opening, up")
    lies: Literal["laps its hole", "flush"] = Field("laps its hole", title="It lies")
    sheet: LidId = Field("as the deck", title="Door of")
    hinge: Side = Field("bottom", title="Hinged")
    latch: LatchId = Field("latch-50", title="Latch")
    deep: Length = Field(
        0.0, ge=0, le=1.5, title="Box behind it, deep", description="0: one reaches under the deck"
    )
    box_of: FoldId = Field("al-2.0", title="Box folded of")

    @property
    def beside(self) -> float:
        """From the clear opening to the edge of the hole in the face [m]."""
        return LANDING_M if self.lies == "flush" else 0.0
