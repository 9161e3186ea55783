"""Structure that is there: decks land on it, notch round it or clear it."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent, of_box, of_ring
from stirrup.core.contract.gives import Built, Floor, Overhead
from stirrup.core.contract.kind import Kind, Path, Site, title_of
from stirrup.core.contract.obstacle import Obstacle, obstacle_of
from stirrup.core.document import Id, Point, Shaped, Stage
from stirrup.core.errors import CoreError
from stirrup.core.findings import plain
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

CARRYING = ("thwart", "other")  # carries a person
OVERHEAD = ("lip", "thwart", "other")  # a head can meet it
NOT_MET = ("rib", "lip")  # by a drill: ribs are drilled between, the lip is higher up
TALLEST_M = 5.0  # what reaches higher has no height of its own: an outline without heights
BESIDE_M = 0.3  # what begins lower than this over somebody's feet is beside him


class Existing(Shaped):
    """Structure that is there: decks land on it, notch round it or clear it."""

    id: Id
    name: str = Field("", max_length=80)
    kind: Literal["rib", "stringer", "lip", "well", "thwart", "other"]
    stage: Stage = "found"

    @property
    def title(self) -> str:
        return self.name or self.id


class StructureKind(Kind[Existing]):
    key, title, group = "structure", "Structure", "existing"
    choices = Existing
    about = "What was in the boat before and stays: ribs, stringers, thwarts, the gunwale's lip, a well."

    def extent(self, c: Existing, where: Where) -> Extent:
        return of_box(c.box) if c.box is not None else of_ring(c.outline or ())

    def shift(self, c: Existing, by: Point) -> list[tuple[Path, float]]:
        raise CoreError(f"“{title_of(c)}” is part of the boat and stays where it is", c.id)

    def build(self, c: Existing, site: Site) -> Built:
        thing = next((o for o in site.obstacles if o.id == c.id), None) or as_obstacle(c)
        if thing.high >= TALLEST_M:
            return Built(c.id, stays=c.kind not in NOT_MET)
        name = plain(thing.name)
        solid = Solid(c.id, "structure", name, Prism(thing.footprint, thing.low, thing.high))
        floor = Floor(thing.footprint, thing.high, thing.low, broad=False)
        over = Overhead(
            thing.footprint, thing.low, thing.low, BESIDE_M, "look", "the gunwale",
            f"underside of {name}", "Sit further inboard, or lower.",
        )  # fmt: skip
        return Built(
            c.id,
            solids=(solid,),
            floors=(floor,) if c.kind in CARRYING else (),
            overhead=(over,) if c.kind in OVERHEAD else (),
            stays=c.kind not in NOT_MET,
            top_m=thing.high,
        )

    def facts(self, c: Existing) -> str:
        return c.kind


def as_obstacle(c: Existing) -> Obstacle:
    """Footprint and heights of a piece of structure."""
    return obstacle_of(c.id, c.title, c.kind, c.box, c.outline)


KIND = StructureKind()
