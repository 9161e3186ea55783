"""What can be chosen of a floor."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from stirrup.core.contract.schools import Edges, Lies, School
from stirrup.core.contract.ways import Way, ways
from stirrup.core.document import Id, StockRef
from stirrup.core.fittings.cover import turns_over, wrapped_m
from stirrup.core.fittings.fall import rise_of
from stirrup.core.fittings.level_kind import LevelBase
from stirrup.core.fittings.stock import AngleId, CoverId, SheetId
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.quantities import Angle, Length

# a bearer takes screws in its edge: no thin sheet, no metal
BearerId = Annotated[Id, StockRef("sheet", wanted=(("kind", ("wood", "plastic", "composite")),))]

FIXED = ways(
    Way("screwed down", "quiet and stiff, ties the bearers; whoever looks under it draws every screw"),
    Way(
        "lifts out",
        "the bilge is at hand; it may rattle, and wants latches so that it stays when she is swamped",
    ),
)


class FloorChoices(LevelBase):
    """Choices for a floor."""

    kind: Literal["floor"] = "floor"
    lies: Annotated[Lies | None, School("floors")] = Field(None, title="It lies")
    fall: Angle = Field(0.6, ge=0.1, le=5, title="It falls aft by, degrees")
    skin: SheetId = Field("ply-12", title="Skin")
    bearers: BearerId = Field("ply-12", title="Bearers of")
    spacing: Length = Field(0.35, ge=0.1, le=1.0, title="Bearers every")
    side_gap: Length | None = Field(
        None, ge=0, le=0.1, title="Gap to side", description="empty: 5 mm for metal, else 3 mm and a "
        "wrapped cover"
    )  # fmt: skip
    limber: Length = Field(0.04, ge=0.0, le=0.2, title="Limber holes, wide")
    fixed: Annotated[Literal["screwed down", "lifts out"], FIXED] = Field("screwed down", title="Fixed")
    members: AngleId = Field("angle-40x40x3", title="Angles round openings")
    fastener_pitch: Length = Field(0.15, ge=0.02, le=0.4, title="Fasteners every")
    cover: CoverId = Field("none", title="Cover")
    edges: Annotated[Edges | None, School("edges")] = Field(None, title="Cover at its edges")

    @property
    def rise(self) -> float:
        return rise_of(self.fall) if self.lies == "falls aft" else 0.0


def idle_choices(c: FloorChoices, catalogue: Catalogue) -> frozenset[str]:
    """How often what lifts out is fastened; how a cover ends that has no edge to turn; by how much it
    falls that lies level."""
    idle = {"fastener_pitch": c.fixed == "lifts out", "edges": not turns_over(catalogue, c.cover),
            "fall": c.lies == "level"}  # fmt: skip
    return frozenset(name for name, so in idle.items() if so)


def gap_m(c: FloorChoices, catalogue: Catalogue) -> float:
    """Gap to the side: as chosen, else by what the skin is made of and what wraps its edge [m]."""
    if c.side_gap is not None:
        return c.side_gap
    metal = catalogue.sheet(c.skin).stuff.kind == "metal"
    return 0.005 if metal else 0.003 + wrapped_m(catalogue, c.cover, c.edges)
