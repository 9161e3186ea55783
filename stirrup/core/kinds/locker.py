"""A locker: a dry box, tackle box or rod box with a lid, fastened down."""

from __future__ import annotations

from stirrup.core.bodies.item_kind import First
from stirrup.core.bodies.lidded import LiddedKind
from stirrup.core.contract.kind import Entry


class LockerKind(LiddedKind):
    key, title = "locker", "Box with a lid"
    about = "Bought with its lid and fastened down; what it takes is told on the gear page."
    entries = (
        Entry("dry box", "Dry box or tackle", 4, "under the bow deck it also trims her down forward",
              "locker storage", "box"),
        Entry("rod box", "Rod box", 4, "long: look early where it can lie straight",
              "locker rods skis ladder", "rods"),
    )  # fmt: skip
    firsts = {
        "dry box": First((0.45, 0.35, 0.30), 8.0, "gear", 0.66, 0.0, True),
        "rod box": First((2.10, 0.28, 0.20), 14.0, "gear", 0.30, 0.55),
    }
    marked = True


KIND = LockerKind()
