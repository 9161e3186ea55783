"""Lining of a side: where it lies, and a first one."""

from __future__ import annotations

from typing import Any

from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import FINE_M, OTHER_SIDE, Entry, Heat, Kind, Path, Placing, Site
from stirrup.core.document import Point
from stirrup.core.fittings.edges import inside_region
from stirrup.core.kinds.lining.build import build
from stirrup.core.kinds.lining.choices import Lining
from stirrup.core.parts.catalogue import Catalogue

FIRST_SHARE = (0.30, 0.60)  # of the boat's length
UNDER_SHEER_M, FIRST_HIGH = 0.06, 0.45  # its upper edge; its lower one by the sheer's height


class LiningKind(Kind[Lining]):
    key, title = "lining", "Lining of a side"
    choices = Lining
    letter = "W"
    spans = True
    entries = (
        Entry("lining", "Lining of a side", 2, "hides wires and foam; what lies behind it goes in first",
              "wall panel ceiling covering vinyl carpet"),
    )  # fmt: skip
    about = (
        "Panels on battens that are bedded on the side, or a cover glued to it; the strip of the side is "
        "laid flat by triangles, so what is cut bends into it. How far the side is off it is told."
    )

    def extent(self, c: Lining, where: Where) -> Extent:
        """Between the side at its upper edge and where that is narrowest."""
        room = inside_region(where.surface, c.high)
        half = 0.0 if room.is_empty else float(room.bounds[3] if c.side == "port" else room.bounds[1])
        return Extent((c.aft, c.fore), (min(half, 0.0), max(half, 0.0)), (c.low, c.high))

    def shift(self, c: Lining, by: Point) -> list[tuple[Path, float]]:
        out: list[tuple[Path, float]] = []
        if abs(by[0]) > FINE_M / 2:
            out += [(("aft",), c.aft + by[0]), (("fore",), c.fore + by[0])]
        if abs(by[2]) > FINE_M / 2:
            out += [(("low",), c.low + by[2]), (("high",), c.high + by[2])]
        return out

    def edge_choice(self, edge: str) -> Path | None:
        choice = {"aft": "aft", "fore": "fore", "bottom": "low", "top": "high"}.get(edge)
        return (choice,) if choice else None

    def mirror(self, value: dict[str, Any]) -> None:
        value["side"] = OTHER_SIDE[value["side"]]

    def put_beside(self, value: dict[str, Any]) -> None:
        long = value["fore"] - value["aft"]
        value["aft"], value["fore"] = round(value["fore"], 4), round(value["fore"] + long, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Amidships under the sheer, to port; or on the side where it was put."""
        low, high = placing.surface.outside.low, placing.surface.outside.high
        long = float(high[0] - low[0])
        aft, fore = (float(low[0]) + share * long for share in FIRST_SHARE)
        side = "port"
        if placing.at is not None:
            half = (fore - aft) / 2
            aft, fore = placing.at[0] - half, placing.at[0] + half
            side = "port" if placing.at[1] >= 0 else "starboard"
        sheer = min(float(p[2]) for p in placing.surface.lines[0][-1] if aft - 0.5 <= p[0] <= fore + 0.5)
        id_ = placing.id("lining")
        return {
            "kind": self.key, "id": id_, "name": f"Lining {id_.rsplit('-', 1)[1]}",
            "mark": placing.mark(self.letter), "side": side, "aft": round(aft, 2), "fore": round(fore, 2),
            "low": round(FIRST_HIGH * sheer, 2), "high": round(sheer - UNDER_SHEER_M, 2),
        }  # fmt: skip

    def idle(self, c: Lining, catalogue: Catalogue) -> frozenset[str]:
        return frozenset(["skin", "batten", "spacing"]) if c.way == "cover on the hull" else frozenset()

    def minds_heat(self, c: Lining) -> Heat | None:
        return Heat(0.15, "it chars")

    def facts(self, c: Lining) -> str:
        return c.way

    def build(self, c: Lining, site: Site) -> Built:
        return build(c, site)


KIND = LiningKind()
