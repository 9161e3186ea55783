"""Liner: where it lies, and a first one."""

from __future__ import annotations

from typing import Any

from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.kinds.liner.build import build
from stirrup.core.kinds.liner.choices import Liner
from stirrup.core.parts.catalogue import Catalogue

FORE_SHARE = 0.7  # of her length, for a first one: forward of that she rises


class LinerKind(Kind[Liner]):
    key, title = "liner", "Bottom liner"
    choices = Liner
    letter = "U"
    spans = alone = True
    entries = (
        Entry("liner", "Bottom liner of slippery sheet", 0, "goes under her while she lies turned over, "
                                                            "before "
              "anything is built in", "uhmw polyethylene skid jet sled bottom"),
    )  # fmt: skip
    about = (
        "Plates of slippery sheet under the bottom, from keel to chine and a strip up the side, each "
        "between the hull's own lines and laid flat by its rulings; or one sheet that is slit and bent "
        "about her. Solid rivets by their grip, set wet; what it grows with heat is held by a close grid "
        "or taken up by slots."
    )

    def extent(self, c: Liner, where: Where) -> Extent:
        half = max(float(line[:, 1].max()) for line in where.surface.lines[0])
        low = float(where.surface.outside.low[2])
        return Extent((c.aft, c.fore), (-half, half), (low - 0.01, low))

    def shift(self, c: Liner, by: Point) -> list[tuple[Path, float]]:
        if abs(by[0]) <= FINE_M / 2:
            return []
        ends: list[tuple[Path, float]] = [(("aft",), c.aft + by[0]), (("fore",), c.fore + by[0])]
        return ends[::-1] if by[0] > 0 else ends

    def edge_choice(self, edge: str) -> Path | None:
        return (edge,) if edge in ("aft", "fore") else None

    def mirror(self, value: dict[str, Any]) -> None:
        raise CoreError("it lies on both sides of the centreline", f"fittings.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        raise CoreError("a bottom is lined once", f"fittings.{value['id']}")

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """From the transom to where she begins to rise."""
        keel = placing.surface.lines[0][0]
        low, high = float(keel[:, 0].min()), float(keel[:, 0].max())
        return {
            "kind": self.key, "id": placing.id("liner"), "name": "Bottom liner",
            "mark": placing.mark(self.letter), "aft": round(low, 3),
            "fore": round(low + FORE_SHARE * (high - low), 3),
        }  # fmt: skip

    def idle(self, c: Liner, catalogue: Catalogue) -> frozenset[str]:
        return frozenset()

    def facts(self, c: Liner) -> str:
        return c.rivets

    def build(self, c: Liner, site: Site) -> Built:
        return build(c, site)


KIND = LinerKind()
