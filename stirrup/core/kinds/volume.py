"""A closed volume that carries: pod, hull extension, collar, foam."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent, of_box
from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import Kind, Path, Site, point_shift, title_of
from stirrup.core.document import Box, Document, Id, Point, Stage
from stirrup.core.errors import CoreError
from stirrup.core.hull.model import KnuckleLine
from stirrup.core.quantities import Density, Money


class BuoyantVolume(Document):
    """A closed volume: pod, hull extension, collar, foam."""

    id: Id
    name: str = Field("", max_length=80)
    lines: tuple[KnuckleLine, ...] | None = Field(None, min_length=2, max_length=60)
    box: Box | None = None
    density: Density = Field(0.0, ge=0, le=3000, description="of the volume")
    stage: Stage | Literal["considered"] = "added"
    option: str = Field("", max_length=40, description="volumes of one option are compared together")
    cost: Money | None = Field(None, ge=0, le=1_000_000, decimal_places=2)

    @property
    def title(self) -> str:
        return self.name or self.id

    @model_validator(mode="after")
    def _one_shape(self) -> BuoyantVolume:
        if (self.box is None) == (self.lines is None):
            raise ValueError("give either box or lines")
        return self


class VolumeKind(Kind[BuoyantVolume]):
    key, title, group = "volume", "Buoyant volume", "buoyancy"
    choices = BuoyantVolume
    about = "A closed volume; what it carries is counted afloat and swamped."

    def _box(self, c: BuoyantVolume, why: str) -> Box:
        if c.box is None:
            raise CoreError(f"there is nothing called “{c.id}” {why}; it may be gone", c.id)
        return c.box

    def extent(self, c: BuoyantVolume, where: Where) -> Extent:
        return of_box(self._box(c, "to be placed"))

    def shift(self, c: BuoyantVolume, by: Point) -> list[tuple[Path, float]]:
        at = self._box(c, "to move").floor_centre
        return point_shift(("box", "floor_centre"), at, by)

    def build(self, c: BuoyantVolume, site: Site) -> Built:
        return Built(c.id)

    def facts(self, c: BuoyantVolume) -> str:
        return title_of(c)


KIND = VolumeKind()
