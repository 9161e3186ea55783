"""What kinds of level panels from side to side answer alike: their ends and height, moved and dragged."""

from __future__ import annotations

import math
from typing import Any, Generic, TypeVar

from pydantic import Field, model_validator
from shapely.geometry import Polygon

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Handle
from stirrup.core.contract.kind import FINE_M, Kind, Path, Site
from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.fittings.edges import breadth_at, inside_region
from stirrup.core.fittings.fall import leaned, leaning_site
from stirrup.core.fittings.stock import SheetId
from stirrup.core.quantities import Length

SHORTEST_M = 0.15


class LevelBase(FittingBase):
    """Choices that level panels share."""

    kind: str = ""
    aft: Length | None = Field(
        None, ge=-2, le=40, title="Aft edge, from transom", description="empty: along the transom"
    )
    fore: Length | None = Field(None, ge=-2, le=40, title="Fore edge", description="empty: to the bow")
    height: Length = Field(
        gt=0, le=5, title="Top above keel line", description="at its aft edge, where it is not level"
    )
    skin: SheetId = Field("al-2.5", title="Skin")

    @model_validator(mode="after")
    def _long_enough(self) -> LevelBase:
        if self.fore is not None and self.aft is not None and self.fore < self.aft + SHORTEST_M:
            raise ValueError(
                f"fore edge {self.fore:g} m and aft edge {self.aft:g} m: "
                "the fore edge must lie at least 0.15 m forward of the aft edge"
            )
        return self

    @property
    def rise(self) -> float:
        """How much it rises for each metre forward; less than nothing where it falls."""
        return 0.0

    @property
    def hand(self) -> float:
        """Along which side it lies: port +1, starboard -1; 0 from side to side."""
        return 0.0

    @property
    def from_x(self) -> float:
        """Where its height is told: its aft edge, or the transom's foot [m]."""
        return 0.0 if self.aft is None else self.aft

    def top_at(self, x: float) -> float:
        """Height of its top at x [m]."""
        return self.height + self.rise * (x - self.from_x)

    def ends_m(self, hull: Polygon) -> tuple[float, float]:
        """Aft and fore edge over the hull's inside at this height [m]: an edge left open, or set
        beyond the hull, follows transom or bow."""
        x0, _, x1, _ = hull.bounds
        aft = x0 if self.aft is None else max(self.aft, x0)
        return float(aft), float(x1 if self.fore is None else min(self.fore, x1))


C = TypeVar("C", bound=LevelBase)


class LevelKind(Kind[C], Generic[C]):
    """A level panel that takes its outline from the hull: no second one beside it."""

    spans = alone = True
    deep_m = 0.15  # of what carries it, at most
    one_only = "it reaches from side to side: place another one, it takes its outline from the hull"

    def extent(self, c: C, where: Where) -> Extent:
        """Across the widest of the hull at its height."""
        thick = where.catalogue.thickness_m(c.skin)
        surface = where.surface.lean(-c.rise) if c.rise else where.surface
        room = inside_region(surface, c.top_at(0.0) - thick)
        if room.is_empty:
            aft = c.from_x
            ends, sides = (aft, aft if c.fore is None else c.fore), (0.0, 0.0)
        else:
            _, y0, _, y1 = room.bounds
            ends, sides = c.ends_m(room), self.breadth(c, (float(y0), float(y1)))
        tops = [c.top_at(x) for x in ends]
        return Extent(ends, sides, (min(tops) - thick, max(tops)), c.rise)

    def breadth(self, c: C, hull: tuple[float, float]) -> tuple[float, float]:
        """Its least and greatest y, of those of the hull's inside there [m]."""
        return hull

    def shift(self, c: C, by: Point) -> list[tuple[Path, float]]:
        """An edge that follows transom or bow stays there."""
        ends = (("aft", c.aft), ("fore", c.fore)) if abs(by[0]) > FINE_M / 2 else ()
        out: list[tuple[Path, float]] = [((end,), at + by[0]) for end, at in ends if at is not None]
        return [*out, (("height",), c.height + by[2])] if abs(by[2]) > FINE_M / 2 else out

    def edge_choice(self, edge: str) -> Path | None:
        choice = {"aft": "aft", "fore": "fore", "top": "height"}.get(edge)
        return (choice,) if choice else None

    def meets(self, c: C, obstacle: Obstacle) -> bool:
        """What reaches up to what carries it, between its ends."""
        x0, _, x1, _ = obstacle.footprint.bounds
        ends = (x0 if c.aft is None else c.aft, x1 if c.fore is None else c.fore)
        lowest = min(c.top_at(x) for x in ends) - self.deep_m
        return bool(x1 > ends[0] and x0 < ends[1] and obstacle.high > lowest)

    def build(self, c: C, site: Site) -> Built:
        """Level in its hull; what rises or falls is built level in a hull that leans the other way."""
        rise = c.rise
        if not rise:
            return self.build_level(c, site)
        low, high = site.surface.outside.low[0], site.surface.outside.high[0]
        ends = (float(low) if c.aft is None else c.aft, float(high) if c.fore is None else c.fore)
        lying = c.model_copy(update={"height": c.top_at(0.0)})
        try:
            return leaned(self.build_level(lying, leaning_site(site, rise, ends)), rise)
        except CoreError as error:
            if error.place != f"fittings.{c.id}.height":
                raise
            degrees = math.degrees(math.atan(rise))
            raise CoreError(
                f"{c.height:.3f} m high at its aft edge and rising {degrees:.1f} degrees forward, it meets "
                "no hull", error.place
            ) from error  # fmt: skip

    def build_level(self, c: C, site: Site) -> Built:
        """What it makes where it lies level."""
        raise NotImplementedError

    def mirror(self, value: dict[str, Any]) -> None:
        raise CoreError(self.one_only, f"fittings.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        raise CoreError(self.one_only, f"fittings.{value['id']}")


def level_handles(outline: Polygon, aft: float, fore: float, z: float) -> tuple[Handle, ...]:
    """Aft edge, fore edge and height, to be dragged."""

    def athwart(x: float) -> tuple[Point, Point]:
        span = breadth_at(outline, x) or (0.0, 0.0)
        return ((x, span[1], z), (x, span[0], z))

    return (
        Handle("aft", "x", athwart(aft + 1e-4), "aft edge", "aft"),
        Handle("fore", "x", athwart(fore - 1e-3), "fore edge", "fore"),
        Handle("height", "z", ((aft, 0.0, z), (fore, 0.0, z)), "height", "top"),
    )
