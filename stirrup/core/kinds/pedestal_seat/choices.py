"""What can be chosen of a seat on a pedestal."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from stirrup.core.contract.base import FittingBase
from stirrup.core.document import Id, StockRef, ThingRef
from stirrup.core.quantities import Angle, Length

SeatId = Annotated[Id, StockRef("bought", wanted=(("form", ("seat",)),))]
PedestalId = Annotated[Id, StockRef("pedestal")]
PlateId = Annotated[Id, StockRef("sheet", wanted=(("kind", ("metal",)),))]
Under = Literal["backing plate", "large washers", "screws"]


class PedestalSeat(FittingBase):
    """Choices for a seat on a pedestal."""

    kind: Literal["pedestal_seat"] = "pedestal_seat"
    on: Annotated[Id | None, ThingRef("floor", "stands on")] = Field(
        None, title="Stands on", description="empty: the bottom of the boat"
    )
    x: Length = Field(ge=-2, le=40, title="Middle, from transom")
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    turn: Angle = Field(0.0, ge=-180, le=180, title="Turned, degrees", description="0: faces the bow")
    seat: SeatId = Field("seat-fold", title="Seat")
    pedestal: PedestalId = Field("pedestal-330", title="Pedestal")
    set_to: Length | None = Field(
        None, ge=0.02, le=1, title="Set to", description="of one that goes up and down; empty: half way"
    )
    slide: bool = Field(False, title="Slides fore and aft")
    under: Under = Field("backing plate", title="Under the floor")
    plate: PlateId = Field("al-3.2", title="Backing plate of")
    steers: bool = Field(False, title="Steered from here")
