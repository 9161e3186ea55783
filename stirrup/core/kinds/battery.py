"""A battery: heavy, low, and it must come out again."""

from __future__ import annotations

from stirrup.core.bodies.item import ItemBase
from stirrup.core.bodies.item_kind import First, ItemKind
from stirrup.core.bodies.pictures import BOX, Line, Picture, circle
from stirrup.core.contract.gives import Lift
from stirrup.core.contract.kind import Entry, Heat

_POST = ((-0.62, 1.0), (-0.62, 1.12), (-0.38, 1.12), (-0.38, 1.0))


class BatteryKind(ItemKind):
    key, title = "battery", "Battery"
    about = "Heavy and low; a way out through a hatch or an open end is looked for."
    entries = (
        Entry("battery", "Battery", 3, "heavy and low, and it must come out again through a hatch",
              "power box"),
    )  # fmt: skip
    firsts = {"battery": First((0.33, 0.18, 0.24), 24.0, "battery", 0.08, 0.35, True)}
    picture = Picture(
        tuple(Line("form-post", circle(10, (x, -0.45), (0.12, 0.2))) for x in (-0.6, 0.6)),
        (
            Line("form-body", BOX),
            Line("form-post", _POST),
            Line("form-post", tuple((-x, z) for x, z in _POST)),
        ),
    )
    plant = "battery"
    offers = frozenset(["battery"])
    marked = True
    release = 0.0
    released_because = "first of all: no sparks while anything else is undone; minus pole first"
    lifted = Lift((0.0, 0.0, 0.0), "mend")

    def minds_heat(self, c: ItemBase) -> Heat | None:
        return Heat(0.5, "its gas burns: out of the boat")


KIND = BatteryKind()
