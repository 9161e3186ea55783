"""Stringer of a section: where it runs, and a first one."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

from shapely.geometry import Polygon

from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import Entry, Placing, Site
from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.errors import CoreError
from stirrup.core.fittings.edges import breadth_at, inside_region
from stirrup.core.fittings.splayed_kind import SplayedKind
from stirrup.core.hull.bottom import bottom_m
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.section_stringer.build import build
from stirrup.core.kinds.section_stringer.choices import SectionStringer
from stirrup.core.kinds.section_stringer.laid import STATIONS, lay, size_of
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Section

UNKNOWN_M = (0.04, 0.04)  # of a section that the catalogue does not know
FIRST_SHARE = (0.10, 0.60, 0.40)  # of her length, and of her half breadth


class SectionStringerKind(SplayedKind[SectionStringer]):
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
