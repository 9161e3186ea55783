"""Bulkhead: where it stands, and a first one."""

from __future__ import annotations

from typing import Any

from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site
from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.fittings.edges import breadth_at, inside_region
from stirrup.core.kinds.bulkhead.build import build
from stirrup.core.kinds.bulkhead.choices import Bulkhead
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Sheet

SHARE, HIGH_SHARE = 0.55, 0.75  # of her length, of her side, for a first one
THICKEST_M = 0.1  # of any sheet
NEXT_M = 1.2  # from one to the next: bays of about that length tie long stringers
WELDED = {"skin": "al-3.2", "joined": "welded"}  # of a first one in a hull of metal
TABS = ("tape", "plies", "resin", "gap")


class BulkheadKind(Kind[Bulkhead]):
    key, title = "bulkhead", "Bulkhead"
    choices = Bulkhead
    letter = "V"
    spans = True
    entries = (
        Entry("bulkhead", "Bulkhead", 1, "ties bottom and sides; decks and floors come after it", "ring "
              "frame partition structure"),
    )  # fmt: skip
    about = (
        "A sheet across the boat, cut to the inside of the hull with a gap to bed it in, notched over what "
        "stands there, with a limber hole and a way through whose ring and corners are looked at. "
        "Open at the top it is a floor's height of ring, and without a sill two wings. Tabbed "
        "on both sides, or welded; in one piece where that comes in between the sides, straight "
        "down or leaning, under a deck that is there from its edge on; else in two halves over a strap."
    )

    def extent(self, c: Bulkhead, where: Where) -> Extent:
        entry = where.catalogue.entries.get(c.skin)
        t = entry.thickness if isinstance(entry, Sheet) else 0.012
        found = breadth_at(inside_region(where.surface, c.top), c.x) or (0.0, 0.0)
        return Extent((c.x, c.x + t), found, (float(where.surface.inside.low[2]), c.top))

    def shift(self, c: Bulkhead, by: Point) -> list[tuple[Path, float]]:
        out: list[tuple[Path, float]] = []
        if abs(by[0]) > FINE_M / 2:
            out.append((("x",), c.x + by[0]))
        if abs(by[2]) > FINE_M / 2:
            out.append((("top",), c.top + by[2]))
        return out

    def mirror(self, value: dict[str, Any]) -> None:
        raise CoreError("it lies across the centreline: there is no other side", f"fittings.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        """The next one forward, an even bay on."""
        value["x"] = round(value["x"] + NEXT_M, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """A little forward of the middle, to three quarters of her side; or where it was put."""
        low, high = placing.surface.outside.low, placing.surface.outside.high
        x = placing.at[0] if placing.at else float(low[0] + SHARE * (high[0] - low[0]))
        sheer = placing.surface.sheer_at(x, 1.0)[2]
        keel = float(placing.surface.inside.low[2])
        id_ = placing.id("bulkhead")
        return {
            "kind": self.key, "id": id_, "name": f"Bulkhead {id_.rsplit('-', 1)[1]}",
            "mark": placing.mark(self.letter), "x": round(x, 3),
            "top": round(keel + HIGH_SHARE * (sheer - keel), 3),
            **(WELDED if placing.hull_of == "metal" else {}),
        }  # fmt: skip

    def idle(self, c: Bulkhead, catalogue: Catalogue) -> frozenset[str]:
        """Tabs of what is welded; sizes of a way through that is not there."""
        out = set(TABS) if c.joined == "welded" else set()
        out |= set() if c.cables else {"cable_out", "cable_up"}
        out |= set() if c.hand else {"hand_out", "hand_up"}
        out |= {"high"} if c.open_top else set()
        return frozenset(out | (set() if c.wide else {"high", "sill", "corner", "open_top"}))

    def meets(self, c: Bulkhead, obstacle: Obstacle) -> bool:
        x0, _, x1, _ = obstacle.footprint.bounds
        return bool(x0 < c.x + THICKEST_M and x1 > c.x and obstacle.low < c.top)

    def ties_across(self, c: Bulkhead) -> float | None:
        return None if c.open_top and not c.sill else c.x

    def facts(self, c: Bulkhead) -> str:
        if c.open_top and c.wide:
            return "ring open at the top" if c.sill else "two wings"
        return "in two halves" if c.halves else "in one piece"

    def build(self, c: Bulkhead, site: Site) -> Built:
        return build(c, site)


KIND = BulkheadKind()
