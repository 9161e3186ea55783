"""What can be chosen of a raised deck."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from stirrup.core.contract.schools import Edges, School
from stirrup.core.document import Id, StockRef, ThingRef
from stirrup.core.fittings.cover import turns_over, wrapped_m
from stirrup.core.fittings.fall import rise_of
from stirrup.core.fittings.level_kind import LevelBase
from stirrup.core.fittings.stock import AngleId, CoverId, RivetId
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.quantities import Angle, Length

PostId = Annotated[
    Id, StockRef("section", wanted=(("shape", ("square tube", "round tube", "angle", "timber")),))
]


class RaisedDeck(LevelBase):
    """Choices for a raised deck."""

    kind: Literal["raised_deck"] = "raised_deck"
    reaches: Literal["from side to side", "along port", "along starboard"] = Field(
        "from side to side", title="It reaches"
    )
    inner: Length = Field(0.40, ge=0, le=4, title="Inner edge, from centreline")
    rises: Angle = Field(0.0, ge=-6, le=6, title="It rises forward by, degrees",
                         description="0: level")  # fmt: skip
    grain: Literal["as it fits", "along the boat"] = Field("as it fits", title="Grain of a wooden skin")
    side_gap: Length | None = Field(
        None,
        ge=0,
        le=0.1,
        title="Gap to side",
        description="empty: 5 mm for metal, else 3 mm and a wrapped cover",
    )
    members: AngleId = Field("angle-40x40x3", title="Members")
    spacing: Length = Field(0.35, ge=0.1, le=1.5, title="Cross members every")
    fastener_pitch: Length = Field(0.075, ge=0.02, le=0.4, title="Fasteners every")
    rivet: RivetId = Field("auto", title="Rivet, skin to member")
    cover: CoverId = Field("none", title="Cover")
    edges: Annotated[Edges | None, School("edges")] = Field(None, title="Cover at its edges")
    face: bool = Field(True, title="Face under the aft edge")
    face_fore: bool = Field(False, title="Face under the fore edge")
    face_inner: bool = Field(True, title="Face under the inner edge")
    face_foot: Length | None = Field(
        None, ge=0, le=5, title="Foot of a face", description="empty: down to the hull"
    )
    posts: int = Field(0, ge=0, le=3, title="Posts under a cross member")
    post_every: int = Field(1, ge=1, le=6, title="Under every so many", description="1: under each")
    post_of: PostId = Field("square-25x2", title="Posts of")
    posts_on: Annotated[Id | None, ThingRef("floor", "stands on")] = Field(
        None, title="Posts stand on", description="empty: the bottom of the boat"
    )
    toe: Length = Field(0.0, ge=0, le=0.2, title="Toe kick, deep", description="0: none")
    toe_high: Length = Field(0.1, ge=0.05, le=0.25, title="Toe kick, high")

    @property
    def hand(self) -> float:
        return {"along port": 1.0, "along starboard": -1.0}.get(self.reaches, 0.0)

    @property
    def toed(self) -> bool:
        """Whether it has a face that may stand back over toes: along a side its inner one."""
        return self.face_inner if self.hand else self.face or self.face_fore

    @property
    def rise(self) -> float:
        return rise_of(self.rises) if self.rises else 0.0


def idle_choices(c: RaisedDeck, catalogue: Catalogue) -> frozenset[str]:
    """The grain of what has none; the foot of no face; how a cover ends that has no edge to turn."""
    idle = {
        "grain": not catalogue.is_wood(c.skin),
        "face_foot": not (c.face or c.face_fore or (c.hand and c.face_inner)),
        "toe": not c.toed,
        "toe_high": not (c.toe and c.toed),
        "inner": not c.hand,
        "face_inner": not c.hand,
        **dict.fromkeys(("post_every", "post_of", "posts_on"), not c.posts),
        "edges": not turns_over(catalogue, c.cover),
    }
    return frozenset(name for name, so in idle.items() if so)


def gap_m(c: RaisedDeck, catalogue: Catalogue) -> float:
    """Gap to the side: as chosen, else by what the skin is made of and what wraps its edge [m]."""
    if c.side_gap is not None:
        return c.side_gap
    if catalogue.sheet(c.skin).stuff.kind == "metal":
        return 0.005
    return 0.003 + wrapped_m(catalogue, c.cover, c.edges)
