"""Stringer of a section: where it runs, and a first one."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

from shapely.geometry import Polygon

from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site, off_centre
from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.fittings.edges import breadth_at, inside_region
from stirrup.core.hull.bottom import bottom_m
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.section_stringer.build import build
from stirrup.core.kinds.section_stringer.choices import SectionStringer
from stirrup.core.kinds.section_stringer.laid import STATIONS, lay, size_of
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Section

UNKNOWN_M = (0.04, 0.04)  # of a section that the catalogue does not know
FIRST_SHARE = (0.10, 0.60, 0.40)  # of her length, and of her half breadth


class SectionStringerKind(Kind[SectionStringer]):
    key, title = "section_stringer", "Stringer of a section"
    choices = SectionStringer
    letter = "J"
    carves = True
    entries = (
        Entry("section_stringer", "Stringer of a metal section", 1, "stiffens a thin bottom; floor bearers "
              "land on it", "longitudinal hat channel tube angle structure aluminium"),
    )  # fmt: skip
    about = (
        "An angle, channel, tube or hat laid along the bottom, straight or splayed, bent to it and told "
        "how far, in lengths of a stick; welded in stitches, or riveted wet. Bulkheads, bearers and decks "
        "are cut round it."
    )

    def extent(self, c: SectionStringer, where: Where) -> Extent:
        known = where.catalogue.entries.get(c.section)
        wide, high = size_of(known) if isinstance(known, Section) else UNKNOWN_M
        y0, y1 = sorted(c.ends_y)
        found = bottom_m(where.surface, (c.aft + c.fore) / 2, (y0 + y1) / 2)
        low = float(where.surface.inside.low[2]) if found is None else found
        return Extent((c.aft, c.fore), (y0 - wide / 2, y1 + wide / 2), (low, low + high))

    def shift(self, c: SectionStringer, by: Point) -> list[tuple[Path, float]]:
        out: list[tuple[Path, float]] = []
        if abs(by[0]) > FINE_M / 2:
            ends: list[tuple[Path, float]] = [(("aft",), c.aft + by[0]), (("fore",), c.fore + by[0])]
            out += ends[::-1] if by[0] > 0 else ends
        if abs(by[1]) > FINE_M / 2:
            out.append((("y",), c.y + by[1]))
            if c.y_fore is not None:
                out.append((("y_fore",), c.y_fore + by[1]))
        return out

    def edge_choice(self, edge: str) -> Path | None:
        return (edge,) if edge in ("aft", "fore") else None

    def mirror(self, value: dict[str, Any]) -> None:
        if value.get("y_fore") is not None:
            value["y_fore"] = -value["y_fore"]
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        """The next one outboard, or inboard of one far out."""
        hand = 1.0 if value["y"] >= 0 else -1.0
        by = hand * (0.25 if abs(value["y"]) < 0.3 else -0.25)
        value["y"] = round(value["y"] + by, 4)
        if value.get("y_fore") is not None:
            value["y_fore"] = round(value["y_fore"] + by, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Part of the way out on one side, over the middle of her."""
        surface = placing.surface
        low, high = float(surface.outside.low[0]), float(surface.outside.high[0])
        aft, fore = (low + share * (high - low) for share in FIRST_SHARE[:2])
        room = breadth_at(inside_region(surface, float(surface.inside.low[2]) + 0.14), (aft + fore) / 2)
        if room is None:
            raise CoreError("there is no room along her bottom", "fittings")
        y = placing.at[1] if placing.at else FIRST_SHARE[2] * room[1]
        return {
            "kind": self.key, "id": placing.id("section-stringer"), "name": placing.name("Stringer"),
            "mark": placing.mark(self.letter), "aft": round(aft, 3), "fore": round(fore, 3),
            "y": round(y, 3),
        }  # fmt: skip

    def idle(self, c: SectionStringer, catalogue: Catalogue) -> frozenset[str]:
        return frozenset({"pitch"} if c.joined == "welded" else ())

    def facts(self, c: SectionStringer) -> str:
        return c.joined

    def stands_as(self, c: SectionStringer, surface: HullSurface,
                  catalogue: Catalogue) -> tuple[Obstacle, ...]:  # fmt: skip
        """In stretches, since it follows the bottom."""
        laid = lay(c, surface, catalogue.section(c.section))
        half, out = laid.wide / 2, []
        for a, b in pairwise(range(0, STATIONS, 4)):
            corners = [(a, half), (b, half), (b, -half), (a, -half)]
            ring = [laid.at(k, side, 0.0)[:2] for k, side in corners]
            feet = laid.foot[a : b + 1, 2]
            out.append(Obstacle(c.id, c.name, "stringer", Polygon(ring), float(feet.min()),
                                float(feet.max()) + laid.high))  # fmt: skip
        return tuple(out)

    def build(self, c: SectionStringer, site: Site) -> Built:
        return build(c, site)


KIND = SectionStringerKind()
