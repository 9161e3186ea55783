"""What can be chosen of pods."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.ways import Way, ways
from stirrup.core.document import Id, ThingRef
from stirrup.core.fittings.laminate import ClothId, ResinId
from stirrup.core.fittings.stock import CoverId, SheetId
from stirrup.core.quantities import Length

LEAST_WIDE_M = 0.08

JOINED = ways(
    Way(
        "welded",
        "on a welded hull: tight and for good; heat draws the transom, foam and wires near it suffer",
        (("skin", "al-3.2"),),
    ),
    Way(
        "bolted",
        "boxes welded on the bench, on and off again without heat in the hull; flanges, and a row of holes "
        "near the water to keep tight",
        (("skin", "al-3.2"),),
    ),
    Way(
        "glassed over",
        "on a moulded hull, no heat; days of cure, dust, and the bond is as good as the grinding",
        (("skin", "ply-12"),),
    ),
)

INSIDES = ways(
    Way(
        "sealed dry",
        "carries when she is swamped; a leak stays unseen, so a plug is pulled on land, every time",
    ),
    Way(
        "drained and aired",
        "no water is locked in and one can look; carries nothing once its vents are under",
    ),
)


class Pods(FittingBase):
    """Choices for a pair of pods."""

    kind: Literal["pods"] = "pods"
    motor: Annotated[Id | None, ThingRef("motor", "is led to")] = Field(None, title="Beside the motor")
    long: Length = Field(0.45, ge=0.1, le=2.5, title="Long, behind the transom")
    inner: Length = Field(0.30, ge=0.02, le=3, title="Inner side, from centreline")
    outer: Length = Field(0.60, ge=0.1, le=4, title="Outer side, from centreline")
    top: Length = Field(gt=0, le=4, title="Top above keel line")
    skin: SheetId = Field("al-3.2", title="Plate")
    joined: Annotated[Literal["welded", "bolted", "glassed over"], JOINED] = Field("welded", title="Joined")
    inside: Annotated[Literal["sealed dry", "drained and aired"], INSIDES] = Field(
        "sealed dry", title="Inside"
    )
    doublers: bool = Field(False, title="Doublers inside the transom behind their sides")
    rails: bool = Field(False, title="Spray rails along their outer lower edges")
    tray: bool = Field(False, title="Tray between them")
    ladder: Literal["none", "port", "starboard"] = Field("none", title="Ladder behind")
    cover: CoverId = Field("none", title="Tread on their tops")
    cloth: ClothId = Field("biaxmat-820", title="Laminate of")
    plies: int = Field(2, ge=1, le=8, title="Plies")
    resin: ResinId = Field("epoxy-medium", title="Resin")

    @model_validator(mode="after")
    def _wide(self) -> Pods:
        if self.outer - self.inner < LEAST_WIDE_M:
            raise ValueError(
                f"outer: read {self.outer:g} m, with its inner side at {self.inner:g} m; accepted: at "
                f"least {LEAST_WIDE_M:g} m further out"
            )
        return self
