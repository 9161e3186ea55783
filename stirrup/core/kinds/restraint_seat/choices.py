"""What can be chosen of a restraint seat: its shell as it was measured, and how it is set."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field, model_validator

from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.ways import Way, ways
from stirrup.core.document import Id, StockRef, ThingRef
from stirrup.core.quantities import Angle, Length, Mass

PlateId = Annotated[Id, StockRef("sheet", wanted=(("kind", ("metal",)),))]

SHARE_APART = 0.4  # of the shell's depth, from bracket to bracket
BETWEEN_M = 0.004

JOINED = ways(
    Way("bolted", "comes out for service and can be moved; plates behind, torque looked at each year"),
    Way("welded", "nothing works loose; a qualified welder, and the seat never moves again"),
)


class RestraintSeat(FittingBase):
    """Choices for a restraint seat; it faces the bow."""

    kind: Literal["restraint_seat"] = "restraint_seat"
    on: Annotated[Id | None, ThingRef("floor", "stands on")] = Field(
        None, title="Stands on", description="empty: the bottom of the boat"
    )
    x: Length = Field(ge=-2, le=40, title="Middle, from transom")
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    depth: Length = Field(0.46, ge=0.3, le=0.8, title="Shell's foot, aft to fore")
    width: Length = Field(0.46, ge=0.3, le=0.8, title="Shell, wide")
    high: Length = Field(0.86, ge=0.5, le=1.2, title="Shell, from its foot up")
    slots: Length = Field(0.56, ge=0.3, le=0.8, title="Belt slots over the shell's foot")
    slots_at: Length = Field(
        0.82, ge=0.3, le=1.4, title="Belt slots, over what it stands on",
        description="the same for seats side by side",
    )  # fmt: skip
    recline: Angle = Field(0.0, ge=0, le=30, title="Leans back, degrees")
    plate: PlateId = Field("al-4.8", title="Brackets of")
    bracket: Length = Field(0.08, ge=0.05, le=0.15, title="Brackets wide")
    joined: Annotated[Literal["bolted", "welded"], JOINED] = Field("bolted", title="Brackets to the floor")
    weighs: Mass = Field(100.0, ge=30, le=200, title="Who sits in it weighs")
    times: float = Field(
        12.0, ge=2, le=50, title="Held against, times its weight", description="your class's rules say it"
    )  # fmt: skip
    steers: bool = Field(False, title="Steered from here")

    @model_validator(mode="after")
    def _beside(self) -> RestraintSeat:
        """Brackets stand beside one another."""
        room = SHARE_APART * self.depth * math.cos(self.lean) - BETWEEN_M
        if self.bracket > room + 1e-9:
            raise ValueError(
                f"bracket: read {self.bracket:g} m; accepted: at most {room:.3f} m, so that three stand "
                f"beside one another under {self.depth:g} m"
            )
        return self

    @property
    def lean(self) -> float:
        """How far it leans back [rad]."""
        return math.radians(self.recline)

    @property
    def rear(self) -> float:
        """Height of the aft edge of the shell's foot over what it stands on [m]."""
        return self.slots_at - self.slots * math.cos(self.lean)

    def at(self, along: float, up: float) -> tuple[float, float]:
        """A place of the shell, from the middle of its foot: how far forward of the seat's middle, and how
        high over what it stands on [m]."""
        c, s = math.cos(self.lean), math.sin(self.lean)
        return along * c - up * s, self.rear + (along + self.depth / 2) * s + up * c
