"""What can be chosen of a transom that is rebuilt."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.ways import Way, ways
from stirrup.core.document import Id, ThingRef
from stirrup.core.fittings.done_ways import TRANSOM_CORES
from stirrup.core.fittings.laminate import ClothId, ResinId
from stirrup.core.fittings.stock import SheetId
from stirrup.core.quantities import Length

LEAST_NOTCH_M = 0.3  # no motor's bracket is narrower

INNER_FACES = ways(
    Way("laminated", "one thick plate with its core, sealed; grinding, cure between rounds, dust"),
    Way(
        "plate",
        "done in an evening and spreads the bolts; water behind it stays there unless it is bedded all "
        "over",
    ),
    Way(
        "bare",
        "cheapest and quickest; every edge and hole of the core must be sealed, and be looked at each year",
    ),
)

JOINED = ways(
    Way("tabbed", "carries as one piece with sides and bottom; grinding, out again only with a grinder"),
    Way(
        "bolted in",
        "comes out again, no heat and no dust; every hole is one more to seal, bolts want to be looked at",
    ),
)

MOTOR_HELD = ways(
    Way("four bolts", "cannot walk off; four holes through the core to be sealed, upper ones easiest"),
    Way(
        "clamped",
        "off in a minute and nothing to seal; the clamps work loose and want a lock and a safety line",
    ),
)

BACKINGS = ways(
    Way("large washers", "cheap and quick; they sink into a soft core"),
    Way("backing plate", "spreads the load on two bolts each; bedded, its edges rounded"),
)


class Transom(FittingBase):
    """Choices for a transom that is rebuilt."""

    kind: Literal["transom"] = "transom"
    motor: Annotated[Id | None, ThingRef("motor", "carries")] = Field(None, title="Carries the motor")
    top: Length = Field(gt=0, le=5, title="Mounting top, above keel line")
    notch: Length = Field(0.0, ge=0, le=4, title="That high over a breadth of",
                          description="0: from side to side")  # fmt: skip
    corner: Length = Field(0.05, ge=0, le=0.3, title="Its corners, radius")
    core: Annotated[SheetId, TRANSOM_CORES] = Field("ply-18", title="Core of")
    layers: int = Field(2, ge=1, le=5, title="Layers")
    outer: Length = Field(0.005, ge=0, le=0.05, title="Outer skin that stays, thick")
    gap: Length = Field(0.004, ge=0, le=0.03, title="Gap to the hull, bedded")
    inside: Annotated[Literal["laminated", "plate", "bare"], INNER_FACES] = Field(
        "laminated", title="Inner face"
    )
    cloth: ClothId = Field("biaxmat-820", title="Laminate of")
    plies: int = Field(2, ge=1, le=10, title="Plies")
    plate: SheetId = Field("al-3.2", title="Plate")
    resin: ResinId = Field("epoxy-medium", title="Resin")
    joined: Annotated[Literal["tabbed", "bolted in"], JOINED] = Field("tabbed", title="Joined to the hull")
    tape: ClothId = Field("tape-150", title="Tabs of")
    motor_held: Annotated[Literal["four bolts", "clamped"], MOTOR_HELD] = Field(
        "four bolts", title="Motor held by"
    )
    backing: Annotated[Literal["large washers", "backing plate"], BACKINGS] = Field(
        "backing plate", title="Under its nuts"
    )
    propeller: Length = Field(0.28, ge=0.1, le=0.6, title="Propeller, across")

    @model_validator(mode="after")
    def _broad(self) -> Transom:
        if 0 < self.notch < LEAST_NOTCH_M:
            raise ValueError(
                f"notch: read {self.notch:g} m; accepted: 0 for all of it, or at least {LEAST_NOTCH_M:g} m"
            )
        return self
