"""A bench seat on a box of its own: it seats two, feet go ahead of it."""

from __future__ import annotations

from stirrup.core.bodies.item import ItemBase
from stirrup.core.bodies.item_kind import First, ItemKind
from stirrup.core.bodies.pictures import BOX, Line, Picture
from stirrup.core.bodies.sitting import feet_ahead
from stirrup.core.contract.kind import Entry
from stirrup.core.document import Size
from stirrup.core.space.room import Room

_BACK = Line("form-back", ((-0.98, -0.92), (-0.98, 0.92), (-0.72, 0.86), (-0.72, -0.86)))


class BenchKind(ItemKind):
    key, title = "bench", "Bench seat"
    about = "Seats two side by side; whoever sits on it goes along when it is moved."
    entries = (
        Entry("bench", "Bench seat", 2, "seats two; feet need room ahead of it", "thwart box", "bench"),
    )
    firsts = {"bench": First((0.45, 1.00, 0.42), 18.0, "seats", 0.30)}
    picture = Picture((_BACK,), (Line("form-body", BOX), Line("form-line", ((-1, 0.84), (1, 0.84)), False)))
    asked = ("steers",)
    seat = lent = fastened = marked = True

    def sized_rooms(self, c: ItemBase, size: Size) -> list[Room]:
        return [self.room(c, "feet go ahead of it", feet_ahead(c, size))]


KIND = BenchKind()
