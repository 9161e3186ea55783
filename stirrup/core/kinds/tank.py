"""A box tank: what it holds, and what it weighs and costs empty unless that is an item's."""

from __future__ import annotations

from typing import Any

from shapely import box

from stirrup.core.bodies.tank import FUELS, Tank, empty_tank_kg
from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Shape
from stirrup.core.contract.kind import (
    ASIDE_M,
    Entry,
    Heat,
    Kind,
    Path,
    Placing,
    Site,
    Sizes,
    off_centre,
    point_shift,
)
from stirrup.core.document import Point, Size
from stirrup.core.findings import plain
from stirrup.core.space.room import Room
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

FILLER_M = 0.06  # over a tank for the hand at filler and gauge

# by the palette's key: stem of the id, first size [m], share of the length, liquid
_FIRST: dict[str, tuple[str, Size, float, str]] = {
    "fuel tank": ("fuel", (0.60, 0.50, 0.16), 0.22, "petrol"),
    "livewell": ("livewell", (0.40, 0.60, 0.32), 0.10, "water"),
}


class TankKind(Kind[Tank]):
    key, title, group = "tank contents", "Tank", "tanks"
    choices = Tank
    offers = frozenset(["liquid"])
    about = "A box of liquid: its free surface counts afloat, and how full it is in each load case."
    entries = (
        Entry("fuel tank", "Fuel tank", 3, "near the middle of her length, so that burning it off does not "
              "change the trim", "petrol"),
        Entry("livewell", "Livewell", 3, "full it outweighs a person: try it in the load cases",
              "water bait fish"),
    )  # fmt: skip

    def extent(self, c: Tank, where: Where) -> Extent:
        (along, across, up), (x, y, z) = c.size, c.floor_centre
        return Extent((x - along / 2, x + along / 2), (y - across / 2, y + across / 2), (z, z + up))

    def shift(self, c: Tank, by: Point) -> list[tuple[Path, float]]:
        return point_shift(("floor_centre",), c.floor_centre, by)

    def sizes(self, c: Tank) -> Sizes:
        places = tuple(("floor_centre", str(k)) for k in range(3))
        return Sizes(tuple(("size", str(k)) for k in range(3)), places, floor=True)

    def mirror(self, value: dict[str, Any]) -> None:
        at = value["floor_centre"]
        at[1] = off_centre(at[1], f"tanks.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        at = value["floor_centre"]
        at[0] = round(at[0] + ASIDE_M, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        stem, size, share, liquid = _FIRST[entry]
        at = placing.spot(size, share, 0.0, True)
        id_ = placing.id(stem)
        name = f"{entry} {id_.rsplit('-', 1)[1]}" if placing.all_of("liquid") else entry
        data = {"id": id_, "name": name, "size": size,
                "floor_centre": at, "liquid": liquid, "owned": False,
                "empty_mass": empty_tank_kg(size)}  # fmt: skip
        return Tank.model_validate(data).model_dump(mode="json")

    def build(self, c: Tank, site: Site) -> Built:
        (along, across, up), (x, y, z) = c.size, c.floor_centre
        flat = box(x - along / 2, y - across / 2, x + along / 2, y + across / 2)
        rooms: tuple[Room, ...] = ()
        if c.liquid in FUELS:
            over = Prism(flat, z + up + 0.002, z + up + FILLER_M)
            rooms = (Room(c.id, "a hand reaches filler and gauge", over, name=plain(c.title)),)
        body = Solid(c.id, "tank", plain(c.title), Prism(flat, z, z + up))
        return Built(c.id, shapes=_shapes(c), solids=(body,), rooms=rooms, top_m=z + up, region=flat)

    def minds_heat(self, c: Tank) -> Heat | None:
        if c.is_fuel:
            return Heat(0.5, "fuel burns, and the vapour of an empty tank explodes: out of the boat")
        return Heat(0.15, "its walls soften")

    def facts(self, c: Tank) -> str:
        return "tank"


def _shapes(c: Tank) -> tuple[Shape, ...]:
    (along, across, up), (x, y, z) = c.size, c.floor_centre
    x0, x1, y0, y1, z1 = x - along / 2, x + along / 2, y - across / 2, y + across / 2, z + up
    return (
        Shape("tank", ((x0, y0, z), (x1, y0, z), (x1, y1, z), (x0, y1, z))),
        Shape("tank", ((x0, y, z), (x1, y, z), (x1, y, z1), (x0, y, z1)), view="side"),
        Shape("tank", ((x, y0, z), (x, y1, z), (x, y1, z1), (x, y0, z1)), view="across"),
    )


KIND = TankKind()
