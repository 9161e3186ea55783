"""What kinds of items answer alike: place, size, copy, body, picture, first place."""

from __future__ import annotations

from typing import Any

from shapely.geometry import Polygon

from stirrup.core.bodies.fate import OF_GOING
from stirrup.core.bodies.item import ItemBase, footprint, item_prism
from stirrup.core.bodies.pictures import Picture, pictured
from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Bolts, Built, Foot, Hold, Lift, Marked, Seat
from stirrup.core.contract.kind import (
    ASIDE_M,
    Kind,
    Path,
    Placing,
    Site,
    Sizes,
    off_centre,
    point_shift,
    title_of,
)
from stirrup.core.document import MassPoint, Point, Point2, Size
from stirrup.core.errors import CoreError
from stirrup.core.findings import plain
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.record import dataclass
from stirrup.core.space.room import Room
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

PEDESTAL_M = 0.10  # half the width of a pedestal's foot


@dataclass(frozen=True)
class First:
    """First size of an item [m], its mass [kg], heading, and where: share of the length, side [m];
    low: it stands on the bottom, under a deck if there is one."""

    size: Size
    mass_kg: float
    group: str
    share: float
    side: float = 0.0
    low: bool = False


class ItemKind(Kind[ItemBase]):
    """An item. What differs from kind to kind is data here, or a method that a module overrides."""

    group = "items"
    choices = ItemBase
    firsts: dict[str, First] = {}  # by the palette's key
    picture = Picture()
    inside = True  # has to lie within the hull
    pedestal = False  # stands on a foot in its middle
    seat = False  # somebody sits on it
    lent = False  # somebody may be where it is
    clear = False  # one looks through it
    company = ""
    bolted = False
    fastened = False  # not taken out for an evening's drilling
    marked = False  # its place is marked out in the boat
    lifted: Lift | None = None
    holds = False  # takes gear

    def extent(self, c: ItemBase, where: Where) -> Extent:
        x, y, z = c.mass.centre
        ring = footprint(c) or ((x, y),)
        up = c.size[2] / 2 if c.size else 0.0
        xs, ys = [p[0] for p in ring], [p[1] for p in ring]
        return Extent((min(xs), max(xs)), (min(ys), max(ys)), (z - up, z + up))

    def shift(self, c: ItemBase, by: Point) -> list[tuple[Path, float]]:
        return point_shift(("mass", "centre"), c.mass.centre, by)

    def sizes(self, c: ItemBase) -> Sizes:
        if c.size is None:
            raise CoreError(f"“{title_of(c)}” has no size yet: give it one first", c.id)
        if abs(c.turn) % 180 > 1e-6:
            raise CoreError(f"“{title_of(c)}” is turned: type its size instead", c.id)
        return Sizes(
            tuple(("size", str(k)) for k in range(3)), tuple(("mass", "centre", str(k)) for k in range(3))
        )

    def mirror(self, value: dict[str, Any]) -> None:
        centre = value["mass"]["centre"]
        centre[1] = off_centre(centre[1], f"items.{value['id']}")
        value["turn"] = -value["turn"] if abs(value["turn"]) < 180 else value["turn"]
        if value.get("slide"):
            slide = value["slide"]
            slide["port"], slide["starboard"] = slide["starboard"], slide["port"]

    def put_beside(self, value: dict[str, Any]) -> None:
        centre = value["mass"]["centre"]
        centre[0] = round(centre[0] + ASIDE_M, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        first = self.firsts[entry]
        foot, size, turn = self.first_place(entry, first, placing)
        x, y, z = foot
        mass = MassPoint(value=first.mass_kg, centre=(x, y, round(z + size[2] / 2, 3)), status="guessed")
        item = ItemBase(
            id=placing.id(entry.replace(" ", "-")),
            name=placing.name(entry),
            mass=mass,
            group=first.group,
            stage="added",
            form=self.key,
            size=size,
            turn=turn,
            steers=entry in self.steered_firsts,
        )
        return item.model_dump(mode="json")

    steered_firsts: tuple[str, ...] = ()

    def first_place(self, entry: str, first: First, placing: Placing) -> tuple[Point, Size, float]:
        """Middle of its floor, its size and turn."""
        return placing.spot(first.size, first.share, first.side, first.low), first.size, 0.0

    def rooms(self, c: ItemBase, site: Site) -> list[Room]:
        """The rooms that its use needs; none without a size, unless the kind says otherwise."""
        return [] if c.size is None else self.sized_rooms(c, c.size)

    def sized_rooms(self, c: ItemBase, size: Size) -> list[Room]:
        """The rooms of one that has a size."""
        return []

    def room(self, c: ItemBase, what: str, shape: Any, decks: bool = True) -> Room:
        """A room of it."""
        body = item_prism(c)
        return Room(c.id, what, shape, decks, plain(c.title), company=self.company, body=body)

    def more(self, c: ItemBase, body: Prism | None, site: Site) -> dict[str, Any]:
        """What a kind gives besides: fields of Built."""
        return {}

    def build(self, c: ItemBase, site: Site) -> Built:
        """An item's body and all that its kind says of it; see the class."""
        body, name = item_prism(c), plain(c.title)
        give: dict[str, Any] = {
            "shapes": pictured(c, self.picture),
            "rooms": tuple(self.rooms(c, site)),
            "top_m": c.mass.centre[2] + (c.size[2] / 2 if c.size else 0.0),
            "seats": self.seats(c),
        }
        if body is not None and c.size is not None:
            solid = Solid(c.id, "body", name, body, self.company, lent=self.lent, clear=self.clear)
            give |= {
                "solids": (solid,),
                "region": body.footprint,
                "foot": Foot(body, self._standing(c)) if self.inside else None,
                "lift": self.lifted and Lift(c.size, self.lifted.level),
                "bolts": self._bolts(c, body) if self.bolted and c.stage == "added" else None,
                "hold": Hold(c.mass.centre, c.size, c.turn) if self.holds else None,
                "marked": (self._mark(c, body),) if self.marked and c.stage == "added" else (),
                "stays": self.fastened and c.stage == "found",
            }
        return Built(c.id, **(give | self.more(c, body, site)))

    def seats(self, c: ItemBase) -> tuple[Seat, ...]:
        if not self.seat:
            return ()
        region = Polygon(footprint(c)) if c.size is not None else Polygon()
        return (Seat(c.mass.centre, region, c.steers),)

    def _standing(self, c: ItemBase) -> tuple[Point2, ...]:
        """Corners of what touches the bottom: of a pedestal, else its own."""
        if not self.pedestal:
            return footprint(c)
        x, y, _ = c.mass.centre
        return tuple((x + a * PEDESTAL_M, y + b * PEDESTAL_M) for a in (-1, 1) for b in (-1, 1))

    def _bolts(self, c: ItemBase, body: Prism) -> Bolts:
        middle = body.footprint.centroid
        return Bolts(self._standing(c), body.low, (middle.x, middle.y))

    def _mark(self, c: ItemBase, body: Prism) -> Marked:
        return Marked(body.low, corners=footprint(c), turn=c.turn)

    def idle(self, c: ItemBase, catalogue: Catalogue) -> frozenset[str]:
        """What becomes of it is asked of what goes; what it brings, of what is sold."""
        if c.stage != "removed":
            return OF_GOING
        return frozenset() if c.becomes == "sold" else frozenset({"brings"})

    def facts(self, c: ItemBase) -> str:
        return c.form
