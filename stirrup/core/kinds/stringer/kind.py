"""Stringer: where it runs, and a first one."""

from __future__ import annotations

from typing import Any

from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import FINE_M, Entry, Path, Placing, Site
from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.fittings.edges import breadth_at, inside_region
from stirrup.core.fittings.girder import obstacle_of, thick_of
from stirrup.core.fittings.splayed_kind import SplayedKind
from stirrup.core.hull.bottom import bottom_m
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.stringer.build import build
from stirrup.core.kinds.stringer.choices import Stringer
from stirrup.core.parts.catalogue import Catalogue

AFT_SHARE, FORE_SHARE, SIDE_SHARE = 0.06, 0.62, 0.45  # of her length and half breadth, for a first one
HIGH_M = 0.14
WELDED = {"core": "al-4.8", "layers": 1, "joined": "welded"}  # of a first one in a hull of metal
LAMINATE = ("cloth", "plies", "resin", "gap")


class StringerKind(SplayedKind[Stringer]):
    key, title = "stringer", "Stringer, new"
    choices = Stringer
    letter = "J"
    carves = True
    entries = (
        Entry("stringer_new", "Stringer, new", 0, "carries floor and engine, ties the bottom; bulkheads "
              "and bearers are cut round it", "longitudinal girder keelson bearer rot"),
    )  # fmt: skip
    about = (
        "Along the bottom, straight or splayed, its top level or rising. Its core in layers of sheet, "
        "each cut to the bottom under it and bevelled, in lengths that the sheet has, joints of one layer "
        "apart from those of the next, or over doublers; solid, of foam, or hollow under a cap; tapered "
        "ends, limber holes, a notch for a pump. Bedded and laminated over, or welded. "
        "Bulkheads, bearers and decks are cut round it."
    )

    def extent(self, c: Stringer, where: Where) -> Extent:
        half = thick_of(c, where.catalogue.thickness_m(c.core)) / 2
        y0, y1 = sorted(c.ends_y)
        floor = bottom_m(where.surface, (c.aft + c.fore) / 2, (y0 + y1) / 2)
        low = float(where.surface.inside.low[2]) if floor is None else floor
        return Extent((c.aft, c.fore), (y0 - half, y1 + half), (min(low, c.top - 0.01), c.top))

    def shift(self, c: Stringer, by: Point) -> list[tuple[Path, float]]:
        out = super().shift(c, by)
        return [*out, (("top",), c.top + by[2])] if abs(by[2]) > FINE_M / 2 else out

    def edge_choice(self, edge: str) -> Path | None:
        return ("top",) if edge == "top" else super().edge_choice(edge)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Half way out on one side, from near the transom to where the bow begins; or where it was put."""
        surface = placing.surface
        low, high = float(surface.outside.low[0]), float(surface.outside.high[0])
        aft, fore = (low + share * (high - low) for share in (AFT_SHARE, FORE_SHARE))
        keel = float(surface.inside.low[2])
        room = breadth_at(inside_region(surface, keel + HIGH_M), (aft + fore) / 2)
        if room is None:
            raise CoreError("there is no room along her bottom", "fittings")
        y = placing.at[1] if placing.at else SIDE_SHARE * room[1]
        floors = [z for x in (aft, (aft + fore) / 2, fore) if (z := bottom_m(surface, x, y)) is not None]
        return {
            "kind": self.key, "id": placing.id("stringer"), "name": placing.name("Stringer"),
            "mark": placing.mark(self.letter), "aft": round(aft, 3), "fore": round(fore, 3),
            "y": round(y, 3), "top": round(max(floors, default=keel) + HIGH_M, 3),
            **(WELDED if placing.hull_of == "metal" else {}),
        }  # fmt: skip

    def idle(self, c: Stringer, catalogue: Catalogue) -> frozenset[str]:
        out = set(LAMINATE) if c.joined == "welded" else set()
        out |= set() if c.notch else {"notch_at", "notch_deep"}
        out |= {"doubled"} if c.layers > 1 else set()
        out |= {"hollow"} if c.layers < 2 else set()
        return frozenset(out | (set() if c.limber else {"limber_every"}))

    def facts(self, c: Stringer) -> str:
        hollow = ", hollow" if c.hollow else ""
        return f"{c.layers} layers{hollow}" if c.layers > 1 else "one layer"

    def stands_as(self, c: Stringer, surface: HullSurface, catalogue: Catalogue) -> tuple[Obstacle, ...]:
        return (obstacle_of(c, surface, catalogue),)

    def build(self, c: Stringer, site: Site) -> Built:
        return build(c, site)


KIND = StringerKind()
