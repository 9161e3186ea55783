"""What can be chosen of an engine's beds."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.ways import Way, ways
from stirrup.core.document import Id, ThingRef
from stirrup.core.fittings.done_ways import LAMINATED_OR_WELDED
from stirrup.core.fittings.laminate import ClothId, ResinId
from stirrup.core.fittings.stock import AngleId, SheetId
from stirrup.core.quantities import Angle, Length
from stirrup.core.record import dataclass

FOOT_M = (0.12, 0.08)  # of a foot of an engine, along and across: working value; the engine's decide
BESIDE_FOOT_M = 0.03  # of bed at either end of a foot, and between a foot and a relief: working value
ACROSS = {"M8": 0.008, "M10": 0.010, "M12": 0.012}

LEAST_LONG_M = 0.3
Gap = Annotated[Length | None, Field(ge=0, le=0.01)]


@dataclass(frozen=True)
class Bed:
    """One bed as a girder along the bottom: see `fittings/girder.py`."""

    id: str
    name: str
    code: str
    aft: float
    fore: float
    ends_y: tuple[float, float]
    top: float
    rises: float
    core: str
    layers: int
    gap: float
    taper: float
    limber: float
    limber_every: float
    joined: str
    cloth: str
    plies: int
    resin: str
    hollow: float = 0.0


FEET_HELD = ways(
    Way("bolts through an angle", "can be taken out and put back for ever; nuts must be reached"),
    Way(
        "coach screws",
        "quick, nothing to reach behind; each time out they hold less, and need solid wood",
    ),
)


class EngineBed(FittingBase):
    """Choices for the two beds of an engine, one on either side of it."""

    kind: Literal["engine_bed"] = "engine_bed"
    engine: Annotated[Id, ThingRef("motor", "is carried by")] = Field(title="Of engine")
    aft: Length = Field(ge=-2, le=40, title="Aft end, from transom")
    fore: Length = Field(ge=-2, le=40, title="Fore end")
    y: Length = Field(0.0, ge=-5, le=5, title="Middle between them, to port")
    feet: Length = Field(ge=-2, le=40, title="Middle of its feet, from transom")
    apart: Length = Field(0.50, ge=0.1, le=3, title="Feet apart, along")
    across: Length = Field(0.56, ge=0.1, le=2, title="Feet apart, across")
    top: Length = Field(gt=0, le=5, title="Top above keel line, aft end")
    rises: Angle = Field(0.0, ge=-15, le=15, title="Its top rises forward, degrees",
                         description="as the shaft does")  # fmt: skip
    core: SheetId = Field("ply-18", title="Core of")
    layers: int = Field(3, ge=1, le=6, title="Layers of each")
    gap: Length = Field(0.006, ge=0, le=0.02, title="Bed of putty under them, thick")
    taper: Length = Field(0.10, ge=0, le=1, title="Tapered at their ends over")
    limber: Length = Field(0.04, ge=0, le=0.2, title="Limber hole in each, wide", description="0: none")
    relief: Length | None = Field(
        None, ge=-2, le=40, title="Relief in their tops, middle from transom",
        description="for an exhaust, or a wrench; empty: none"
    )  # fmt: skip
    relief_long: Length = Field(0.15, ge=0.02, le=1, title="Relief, long")
    relief_deep: Length = Field(0.03, ge=0.005, le=0.3, title="Relief, deep")
    joined: Annotated[Literal["laminated over", "welded"], LAMINATED_OR_WELDED] = Field(
        "laminated over", title="Joined to the bottom"
    )
    cloth: ClothId = Field("biaxmat-820", title="Laminate of")
    plies: int = Field(3, ge=1, le=10, title="Plies")
    resin: ResinId = Field("epoxy-medium", title="Resin")
    held: Annotated[Literal["bolts through an angle", "coach screws"], FEET_HELD] = Field(
        "bolts through an angle", title="Feet held by"
    )
    angle: AngleId = Field("angle-60x60x5", title="Angle at each foot")
    bolt: Literal["M8", "M10", "M12"] = Field("M10", title="Bolts or screws")
    shims: Length = Field(0.004, ge=0, le=0.03, title="Shims under its feet, as planned")
    speed: int = Field(4000, ge=300, le=9000, title="Turns at full power, 1/min")
    coupling: Length = Field(0.10, ge=0.03, le=0.5, title="Coupling, across")
    gap_top: Gap = Field(None, title="Gap at the coupling, top")
    gap_bottom: Gap = Field(None, title="Gap, bottom")
    gap_port: Gap = Field(None, title="Gap, port")
    gap_starboard: Gap = Field(None, title="Gap, starboard")

    @model_validator(mode="after")
    def _possible(self) -> EngineBed:
        if self.fore - self.aft < LEAST_LONG_M:
            raise ValueError(
                f"fore: read {self.fore:g} m, with the aft end at {self.aft:g} m; accepted: at least "
                f"{LEAST_LONG_M:g} m further forward"
            )
        return self

    def one(self, hand: float) -> Bed:
        """The bed on one side, port +1."""
        y = self.y + hand * self.across / 2
        return Bed(
            self.id, self.name, self.code, self.aft, self.fore, (y, y), self.top, self.rises, self.core,
            self.layers, self.gap, self.taper, self.limber, self.fore - self.aft, self.joined, self.cloth,
            self.plies, self.resin,
        )  # fmt: skip

    @property
    def places(self) -> tuple[float, float]:
        """Middles of its aft and its fore feet, from the transom [m]."""
        return (self.feet - self.apart / 2, self.feet + self.apart / 2)
