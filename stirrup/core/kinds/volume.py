"""A closed volume that carries: pod, hull extension, collar, foam."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field, model_validator

from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent, of_box
from stirrup.core.contract.gives import Built, Shape
from stirrup.core.contract.kind import Entry, Kind, Path, Placing, Site, Sizes, off_centre, point_shift
from stirrup.core.document import Box, Document, Id, Point, Stage
from stirrup.core.errors import CoreError
from stirrup.core.hull.model import KnuckleLine
from stirrup.core.quantities import Density, Money

FIRST_M, BESIDE_M = (0.6, 0.25, 0.2), 0.02
FOAM_KG_M3 = 32.0  # poured or in blocks: 2 lb a cubic foot


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
    about = (
        "A closed volume, or a block of foam: what it carries is counted afloat where it lies outside of "
        "her, and when she is swamped. Several of one option are compared together before they are taken "
        "in."
    )
    entries = (
        Entry("volume", "Foam block or closed volume", 1, "carries her when she is swamped: high up and "
              "far out it keeps her upright too", "buoyancy flotation sealed air box"),
    )  # fmt: skip

    def _box(self, c: BuoyantVolume, why: str) -> Box:
        if c.box is None:
            raise CoreError(f"there is nothing called “{c.id}” {why}; it may be gone", c.id)
        return c.box

    def extent(self, c: BuoyantVolume, where: Where) -> Extent:
        return of_box(self._box(c, "to be placed"))

    def shift(self, c: BuoyantVolume, by: Point) -> list[tuple[Path, float]]:
        at = self._box(c, "to move").floor_centre
        return point_shift(("box", "floor_centre"), at, by)

    def sizes(self, c: BuoyantVolume) -> Sizes:
        if c.box is None:
            return super().sizes(c)
        sizes = tuple(("box", "size", str(k)) for k in range(3))
        return Sizes(sizes, tuple(("box", "floor_centre", str(k)) for k in range(3)), floor=True)

    def mirror(self, value: dict[str, Any]) -> None:
        if not value.get("box"):
            raise CoreError("it is given by lines: change them in its file", f"buoyancy.{value['id']}")
        at = value["box"]["floor_centre"]
        at[1] = off_centre(at[1], f"buoyancy.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        """The next one forward."""
        if not value.get("box"):
            raise CoreError("it is given by lines: change them in its file", f"buoyancy.{value['id']}")
        at = value["box"]["floor_centre"]
        at[0] = round(at[0] + value["box"]["size"][0] + BESIDE_M, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """A block of foam on the bottom, at the side, or where it was put."""
        x, y, z = placing.spot(FIRST_M, 0.45, 0.4, True)
        return {
            "id": placing.id("volume"), "name": placing.name("Foam block"), "density": FOAM_KG_M3,
            "box": {"size": list(FIRST_M), "floor_centre": [round(x, 3), round(y, 3), round(z, 3)]},
        }  # fmt: skip

    def build(self, c: BuoyantVolume, site: Site) -> Built:
        """It is drawn, dashed; what it carries is counted by the vessel."""
        if c.box is None:
            return Built(c.id)
        (x0, y0, z0), (x1, y1, z1) = c.box.low, c.box.high
        x, y, _ = c.box.floor_centre
        return Built(
            c.id,
            shapes=(
                Shape("form-line", ((x0, y0, z1), (x1, y0, z1), (x1, y1, z1), (x0, y1, z1))),
                Shape("form-line", ((x0, y, z0), (x1, y, z0), (x1, y, z1), (x0, y, z1)), view="side"),
                Shape("form-line", ((x, y0, z0), (x, y1, z0), (x, y1, z1), (x, y0, z1)), view="across"),
            ),
            top_m=z1,
        )  # fmt: skip

    def facts(self, c: BuoyantVolume) -> str:
        return c.option or c.stage


KIND = VolumeKind()
