"""Painted zone: where it lies, and a first one."""

from __future__ import annotations

from typing import Any

from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import FINE_M, OTHER_SIDE, Entry, Kind, Path, Placing, Site
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.kinds.paint_zone.build import build
from stirrup.core.kinds.paint_zone.choices import PaintZone
from stirrup.core.parts.catalogue import Catalogue


class PaintZoneKind(Kind[PaintZone]):
    key, title = "paint_zone", "Painted zone"
    choices = PaintZone
    letter = "Z"
    brief = True
    spans = True
    entries = (
        Entry("paint_zone", "Painted zone of the hull", 4, "bottom, sides or transom, outside or in: area, "
              "coats, masking, hours", "topside primer coat colour wrap antifouling"),
    )  # fmt: skip
    about = (
        "Bottom, sides or transom, outside or inside, between edges: its area and the edges to mask "
        "follow from the hull. Old paint comes off, only where it is loose, or is keyed; coats of primer "
        "and paint are bought by its area, and what stays aboard dry is weighed. Inside, it comes before "
        "linings, floors and wires."
    )

    def extent(self, c: PaintZone, where: Where) -> Extent:
        solid = where.surface.outside
        half = float(solid.high[1])
        y = {"both": (-half, half), "port": (0.0, half), "starboard": (-half, 0.0)}[c.side]
        low, high = c.heights
        z = (max(low, float(solid.low[2])), min(high, float(solid.high[2])))
        if c.part == "transom":
            return Extent((float(solid.low[0]), float(solid.low[0])), (-half, half), z)
        return Extent((c.aft, c.fore), y, z)

    def shift(self, c: PaintZone, by: Point) -> list[tuple[Path, float]]:
        out: list[tuple[Path, float]] = []
        if abs(by[0]) > FINE_M / 2 and c.part != "transom":
            out += [(("aft",), c.aft + by[0]), (("fore",), c.fore + by[0])]
        if abs(by[2]) > FINE_M / 2:
            ends = (("low", c.low), ("high", c.high))
            out += [((name,), at + by[2]) for name, at in ends if at is not None]
        return out

    def edge_choice(self, edge: str) -> Path | None:
        return (edge,) if edge in ("aft", "fore") else None

    def lone(self, c: PaintZone) -> bool:
        return c.part == "transom"

    def mirror(self, value: dict[str, Any]) -> None:
        if value["side"] == "both":
            raise CoreError("it is on both sides of the centreline", f"fittings.{value['id']}")
        value["side"] = OTHER_SIDE[value["side"]]

    def put_beside(self, value: dict[str, Any]) -> None:
        long = value["fore"] - value["aft"]
        value["aft"], value["fore"] = round(value["fore"], 4), round(value["fore"] + long, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Both sides outside, over the aft half of her length; about where it was put."""
        low, high = placing.surface.outside.low, placing.surface.outside.high
        aft, fore = float(low[0]), float((low[0] + high[0]) / 2)
        if placing.at is not None:
            half = (fore - aft) / 2
            aft, fore = placing.at[0] - half, placing.at[0] + half
        id_ = placing.id("paint")
        return {
            "kind": self.key, "id": id_, "name": f"Paint {id_.rsplit('-', 1)[1]}",
            "mark": placing.mark(self.letter), "aft": round(aft, 2), "fore": round(fore, 2),
        }  # fmt: skip

    def idle(self, c: PaintZone, catalogue: Catalogue) -> frozenset[str]:
        """A transom has no sides and no ends; a coat of nothing is none."""
        out = {"side", "aft", "fore"} if c.part == "transom" else set()
        out |= {"primed"} if c.primer == "none" else set()
        return frozenset(out | ({"coats"} if c.paint == "none" else set()))

    def facts(self, c: PaintZone) -> str:
        return f"{c.part}, {c.face}"

    def build(self, c: PaintZone, site: Site) -> Built:
        return build(c, site)


KIND = PaintZoneKind()
