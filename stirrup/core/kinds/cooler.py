"""A cooler: its lid needs room to swing."""

from __future__ import annotations

from stirrup.core.bodies.item_kind import First
from stirrup.core.bodies.lidded import LiddedKind
from stirrup.core.contract.kind import Entry


class CoolerKind(LiddedKind):
    key, title = "cooler", "Cooler"
    about = "Loose, with a lid; it takes gear and is lifted out."
    entries = (Entry("cooler", "Cooler", 4, "its lid needs room to swing", "ice box"),)
    offers = frozenset(["loose"])
    firsts = {"cooler": First((0.38, 0.62, 0.40), 12.0, "gear", 0.42)}


KIND = CoolerKind()
