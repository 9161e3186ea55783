"""What is bolted on: cleats, rod holders, rails, lights. Its nuts have to be reached."""

from __future__ import annotations

from stirrup.core.bodies.item_kind import First, ItemKind
from stirrup.core.bodies.pictures import BOX, Line, Picture
from stirrup.core.contract.kind import Entry

_BOLTS = tuple(Line("form-post", ((x, y), (x + 0.1, y)), False) for x in (-0.8, 0.7) for y in (-0.6, 0.6))


class FixtureKind(ItemKind):
    key, title = "fixture", "Fitting, bolted on"
    alike = False
    about = (
        "A cleat, rail, holder or light: whether an arm reaches its nuts is looked at; its place is marked."
    )
    entries = (
        Entry("cleat", "Cleat", 4, "its load goes to a backing plate: look what is behind", "mooring"),
        Entry("rod holder", "Rod holder", 4, "keep its line clear of people and lids", "rods rack"),
        Entry("grab rail", "Grab rail", 4, "where a hand goes when she jumps", "handrail handle"),
        Entry("light", "Light", 4, "navigation lights where the rules want them, seen all round",
              "lamp navigation anchor"),
    )  # fmt: skip
    firsts = {
        "cleat": First((0.15, 0.05, 0.05), 0.35, "gear", 0.85, 0.0),
        "rod holder": First((0.10, 0.10, 0.22), 0.30, "gear", 0.35, 0.60),
        "grab rail": First((0.30, 0.05, 0.08), 0.40, "gear", 0.45, -0.60),
        "light": First((0.08, 0.08, 0.08), 0.15, "gear", 0.90, 0.0),
    }
    picture = Picture(_BOLTS, (Line("form-body", BOX),))
    inside = False  # on a rail it hangs over the side
    bolted = fastened = marked = True


KIND = FixtureKind()
