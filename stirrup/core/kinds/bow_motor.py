"""An electric motor at the bow: its shaft lies along the deck and swings over the rail."""

from __future__ import annotations

from stirrup.core.bodies.engine import MotorKind
from stirrup.core.bodies.item import ItemBase
from stirrup.core.bodies.item_kind import First
from stirrup.core.contract.kind import Entry, Placing
from stirrup.core.document import Point, Size


class BowMotorKind(MotorKind):
    key, title = "bow motor", "Bow motor"
    about = "Bolted down right forward; an arm must reach its nuts."
    entries = (
        Entry("bow motor", "Bow motor", 3, "its shaft lies along the deck and swings over the bow, with "
              "its weight right forward", "trolling electric foot pedal"),
    )  # fmt: skip
    firsts = {"bow motor": First((1.10, 0.20, 0.18), 18.0, "motor", 0.84, 0.12)}
    bolted = True
    asked = ("power", "shaft")

    def is_hung(self, c: ItemBase) -> bool:
        return False

    def first_place(self, entry: str, first: First, placing: Placing) -> tuple[Point, Size, float]:
        # it lies over the rail where there is no deck under it
        return placing.spot(first.size, first.share, first.side, first.low, over_rail=True), first.size, 0.0


KIND = BowMotorKind()
