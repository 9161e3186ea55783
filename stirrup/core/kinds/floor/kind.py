"""Floor: how it is placed, and its paragraph."""

from __future__ import annotations

from typing import Any

from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import Entry, Placing, Site
from stirrup.core.fittings.edges import inside_region
from stirrup.core.fittings.level_kind import LevelKind
from stirrup.core.hull.bottom import bottom_m
from stirrup.core.kinds.floor.build import build
from stirrup.core.kinds.floor.choices import FloorChoices, idle_choices
from stirrup.core.parts.catalogue import Catalogue

OVER_BOTTOM_M = 0.06  # of a first one over the bottom amidships
BROAD = 0.8  # of the hull's breadth half a depth higher, that a first one reaches
STEP_M = 0.01
BEFORE_DECK_M = 0.005
SHARE = 0.62  # of the boat's length, where there is no deck to end at


class FloorKind(LevelKind[FloorChoices]):
    deep_m = 5.0  # its bearers stand on the bottom
    key, title = "floor", "Floor"
    choices = FloorChoices
    letter = "F"
    offers = frozenset(["floor", "opening", "sole"])
    entries = (
        Entry("floor", "Floor", 1, "all that comes later stands on it, and steps and seats count from it",
              "sole cockpit bottom boards"),
    )  # fmt: skip
    about = (
        "Level or falling aft, on bearers that are cut to the bottom with limber holes and bedded on it; "
        "parted over pairs of bearers and over strips; screwed down, or it lifts out. Hatches land on "
        "angles."
    )

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """From the transom to the aft edge of a deck, low over the bottom, where it is broad."""
        surface = placing.surface
        low, high = surface.outside.low, surface.outside.high
        middle = float(low[0] + 0.35 * (high[0] - low[0]))
        height = round((bottom_m(surface, middle, 0.0) or float(low[2])) + OVER_BOTTOM_M, 2)
        most = height + (float(high[2]) - height) / 2
        broad = _breadth(placing, most)
        while height < most and _breadth(placing, height) < BROAD * broad:
            height = round(height + STEP_M, 2)
        decks = [b.floors[0].region.bounds[0] for _, b in placing.built("floor")
                 if b.floors and b.floors[0].broad and b.floors[0].top_m > height]  # fmt: skip
        ahead = [float(x) for x in decks if x > middle]
        fore = min(ahead) - BEFORE_DECK_M if ahead else float(low[0]) + SHARE * float(high[0] - low[0])
        id_ = placing.id("floor")
        return {
            "kind": self.key, "id": id_, "name": f"Floor {id_.rsplit('-', 1)[1]}",
            "mark": placing.mark(self.letter), "aft": None, "fore": round(fore, 3), "height": height,
        }  # fmt: skip

    def idle(self, c: FloorChoices, catalogue: Catalogue) -> frozenset[str]:
        return idle_choices(c, catalogue)

    def build_level(self, c: FloorChoices, site: Site) -> Built:
        """Its parts and findings, level in its hull."""
        return build(c, site)


def _breadth(placing: Placing, z: float) -> float:
    room = inside_region(placing.surface, z)
    return 0.0 if room.is_empty else float(room.bounds[3] - room.bounds[1])


KIND = FloorKind()
