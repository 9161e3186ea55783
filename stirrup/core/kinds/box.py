"""A free thing: a box of a size and a mass, called whatever it is."""

from __future__ import annotations

from stirrup.core.bodies.item_kind import First, ItemKind
from stirrup.core.contract.kind import Entry


class BoxKind(ItemKind):
    key, title = "box", "Free thing"
    alike = False  # an anchor does nothing that a life jacket does
    about = "Anything with a size and a mass: name it, size it, weigh it."
    entries = (
        Entry("anchor", "Anchor and line", 4, "right forward and low", "rode rope chain"),
        Entry("item", "Anything else", 4, "name it, size it, weigh it", "free thing box toolbox dog"),
    )
    offers = frozenset(["loose"])
    firsts = {
        "anchor": First((0.50, 0.35, 0.20), 9.0, "gear", 0.84, 0.0, True),
        "item": First((0.40, 0.30, 0.30), 10.0, "gear", 0.50),
    }


KIND = BoxKind()
