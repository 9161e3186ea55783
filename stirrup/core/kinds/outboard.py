"""An outboard on the transom: it tilts, is bolted through, and has a tiller unless a wheel steers."""

from __future__ import annotations

import math
from typing import Any

from shapely import box
from shapely.geometry import Polygon

from stirrup.core.bodies.engine import MotorKind
from stirrup.core.bodies.item import ItemBase
from stirrup.core.contract.kind import Entry, Placing, Site
from stirrup.core.space.room import Room, sector
from stirrup.core.space.shapes import Prism

WRENCH_M = 0.15  # inside the transom for the motor's bolts
TILT_M = 0.45  # from the tilt pivot to the top of the cowl
TILLER_M = 0.95
TILLER_DEG = 40.0


class OutboardKind(MotorKind):
    key, title = "outboard", "Outboard"
    about = (
        "Tilt, wrench room at its bolts and the tiller's swing are checked; its power against the label; "
        "how high it hangs, by its shaft and what it is set back, over a jack plate's travel."
    )
    entries = (
        Entry("motor", "Outboard on the transom", 0, "the heaviest thing aft: the rest is balanced against "
              "it", "engine motor"),
    )  # fmt: skip
    drives = True
    offers = frozenset(["motor"])
    asked = ("power", "shaft", "mounted", "setback", "jack")

    def is_hung(self, c: ItemBase) -> bool:
        return True

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """On the transom as found, its mass a guess until it is read off or weighed."""
        sheer = placing.surface.lines[0][-1][0]
        mass = {"value": 60.0, "status": "guessed", "centre_spread": 0.05,
                "centre": [round(float(sheer[0]) - 0.2, 2), 0.0, round(float(sheer[2]), 2)]}  # fmt: skip
        return {"id": placing.id("motor"), "name": "outboard", "mass": mass, "group": "motor",
                "stage": "found", "form": self.key}  # fmt: skip

    def rooms(self, c: ItemBase, site: Site) -> list[Room]:
        inner = float(site.surface.inside.low[0])
        x, y, z = c.mass.centre
        pivot = (x + 0.12, y, z - 0.05)
        tilt = sector(pivot, (0.0, 1.0), (1.0, 0.0), 0.19, TILT_M, 15.0, 90.0)
        bolts = Prism(box(inner, y - 0.2, inner + WRENCH_M, y + 0.2), z - 0.30, z - 0.05)
        out = [
            self.room(c, "tilts up", tilt),
            self.room(c, "a wrench reaches its bolts", bolts, decks=False),
        ]
        if not site.steered:
            ends = [math.radians(TILLER_DEG * (k / 4 - 1)) for k in range(9)]
            arc = [(x + 0.1 + TILLER_M * math.cos(a), y + TILLER_M * math.sin(a)) for a in ends]
            swing = Prism(Polygon([(x + 0.1, y), *arc]), z + 0.02, z + 0.25)
            out.append(self.room(c, "tiller swings", swing))
        return out


KIND = OutboardKind()
