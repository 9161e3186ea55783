"""Anything bought or loose that weighs and has a place: motor, battery, cooler, seat, anchor."""

from __future__ import annotations

import math
from functools import lru_cache

from pydantic import Field, model_validator
from shapely.geometry import Polygon

from stirrup.core.bodies.fate import Fate
from stirrup.core.bodies.was import Was
from stirrup.core.document import Document, Id, MassPoint, Point2, Size, Stage
from stirrup.core.quantities import Angle, Density, Length, Money, Power, Volume
from stirrup.core.space.shapes import Prism


class Slide(Document):
    """How far a thing may be moved from where it is, for the balance solver."""

    fore: Length = Field(0.0, ge=0, le=20, title="Forward")
    aft: Length = Field(0.0, ge=0, le=20, title="Aft")
    port: Length = Field(0.0, ge=0, le=5, title="To port")
    starboard: Length = Field(0.0, ge=0, le=5, title="To starboard")


class ItemBase(Document):
    """What every item has. `form` says which kind it is; `group` is only a heading in the ledger."""

    id: Id
    name: str = Field("", max_length=80)
    mass: MassPoint
    group: str = Field("gear", max_length=40, description="heading in the ledger; decides nothing")
    stage: Stage = "found"
    in_hull_mass: bool = False
    density: Density | None = Field(None, gt=0, description="for the swamped state")
    volume_buoyant: Volume | None = Field(None, ge=0)
    slide: Slide | None = None
    form: str = Field("box", title="Form")
    size: Size | None = Field(None, description="of its box: along, across, up, before it is turned [m]")
    turn: Angle = Field(0.0, ge=-180, le=180, title="Turned to port, degrees")
    steers: bool = Field(False, title="Steered from here", description="of a seat")
    price: Money | None = Field(
        None, ge=0, le=1_000_000, decimal_places=2, title="Price", description="empty: the catalogue's"
    )
    owned: bool = Field(False, title="Already yours: costs nothing")
    off: bool = Field(False, title="Comes off for the work, goes back on")
    bag: str = Field("", max_length=120, title="Screws and parts in its bag")
    was: Was | None = Field(None, description="where it stood when she was found, of one that is moved")
    becomes: Fate = Field("waste", title="What becomes of it")
    brings: Money | None = Field(None, ge=0, le=1_000_000, decimal_places=2, title="Brings when sold")
    power: Power | None = Field(None, gt=0, le=1000, title="Power", description="of a motor")
    shaft: Length | None = Field(None, gt=0, le=2.5, title="Shaft length", description="of a motor")
    mounted: Length | None = Field(
        None, ge=0, le=2.5, title="Mounting top, over the keel", description="at the transom"
    )
    setback: Length = Field(0.0, ge=0, le=1.5, title="Set back from the transom")
    jack: Length = Field(0.0, ge=0, le=0.4, title="Its jack plate travels")

    @property
    def title(self) -> str:
        return self.name or self.id

    @model_validator(mode="after")
    def _possible(self) -> ItemBase:
        if self.in_hull_mass and self.stage == "added":
            raise ValueError(
                "in_hull_mass is true for an added item; only found or removed items "
                "can be part of the hull's mass"
            )
        if self.was is not None and self.stage == "added":
            raise ValueError(
                f"was: read a former place of an item that is {self.stage}; accepted: of one found"
            )
        return self


def footprint(item: ItemBase) -> tuple[Point2, ...]:
    """Corners of an item's box in plan, counterclockwise, turned as it stands; () without a size."""
    if item.size is None:
        return ()
    x, y, _ = item.mass.centre
    along, across = item.size[0] / 2, item.size[1] / 2
    c, s = math.cos(math.radians(item.turn)), math.sin(math.radians(item.turn))
    corners = ((-along, -across), (along, -across), (along, across), (-along, across))
    return tuple((x + c * a - s * b, y + s * a + c * b) for a, b in corners)


def item_prism(item: ItemBase) -> Prism | None:
    """The solid of an item; None without a size."""
    if item.size is None:
        return None
    return _upright(footprint(item), item.mass.centre[2], item.size[2] / 2)


@lru_cache(maxsize=1000)
def _upright(ring: tuple[Point2, ...], middle: float, half: float) -> Prism:
    return Prism(Polygon(ring), middle - half, middle + half)
