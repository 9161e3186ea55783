"""A seat on a pedestal: it turns, its back folds, feet go ahead of it."""

from __future__ import annotations

from stirrup.core.bodies.item import ItemBase
from stirrup.core.bodies.item_kind import First, ItemKind
from stirrup.core.bodies.sitting import SEAT, behind_wheel, turning
from stirrup.core.contract.kind import Entry, Placing
from stirrup.core.document import Point, Size
from stirrup.core.space.room import Room


class SeatKind(ItemKind):
    """Swept rooms: a circle about the pedestal from the cushion up, the back's sector, the feet."""

    key, title = "seat", "Seat on a pedestal"
    about = "It turns on its pedestal and needs the circle about its corners; its back folds down."
    entries = (
        Entry("helm seat", "Seat on a pedestal", 2, "goes behind the console, with room for knees and for "
              "turning", "chair pedestal", "seat"),
    )  # fmt: skip
    firsts = {"helm seat": First((0.50, 0.50, 0.78), 9.0, "seats", 0.36, -0.35)}
    steered_firsts = ("helm seat",)
    picture = SEAT
    asked = ("steers",)
    pedestal = seat = lent = bolted = fastened = marked = True

    def first_place(self, entry: str, first: First, placing: Placing) -> tuple[Point, Size, float]:
        if placing.at is None:
            placing.at = behind_wheel(placing, first.size)
        return super().first_place(entry, first, placing)

    def sized_rooms(self, c: ItemBase, size: Size) -> list[Room]:
        return [self.room(c, what, shape) for what, shape in turning(c, size)]


KIND = SeatKind()
