"""A hatch in a deck: its lid flush on landings, over a gutter, or on top; with hinge, latch, gasket."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from shapely import box

from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Opening
from stirrup.core.contract.kind import (
    FINE_M,
    OTHER_SIDE,
    Entry,
    Kind,
    Path,
    Placing,
    Site,
    Sizes,
    off_centre,
)
from stirrup.core.document import Document, Point
from stirrup.core.errors import CoreError
from stirrup.core.kinds.hatch.build import build
from stirrup.core.kinds.hatch.choices import Hatch, opening
from stirrup.core.parts.catalogue import Catalogue

SHARE = 0.38  # of a deck's length, where a first one goes
# of a first one: up to which thickness of lid its grip reaches [m], with the gasket's share left
LATCHES = (("latch-50", 0.005), ("latch-57", 0.015))
APART_M, EDGE_M = 0.16, 0.08  # left between two openings, and to the deck's edge, of a first place
BETWEEN_M = 0.10  # left between a hatch and its copy


class HatchKind(Kind[Hatch]):
    key, title = "hatch", "Hatch"
    choices = Hatch
    letter = "H"
    brief = True
    about = (
        "A lid in a deck, hinged and latched, with a gasket; members frame its opening. It lies flush on "
        "landings, flush over a gutter whose drains lead the water to the bilge, or on the deck, which it "
        "laps. It hangs by a continuous hinge, lift-off ones, or concealed ones, whose corner has to clear "
        "the deck."
    )
    entries = (
        Entry("hatch", "Drop-in hatch", 1, "decides where cross members and tracks go, so place it before "
              "cutting the deck", "lid door opening flush"),
        Entry("dry hatch", "Hatch over a gutter", 1, "for what must stay dry: a gutter inside of its "
              "landing takes the water", "lid opening rain drain"),
        Entry("lap hatch", "Hatch on the deck", 1, "the plain one: its lid laps the deck, and a toe finds "
              "it", "lid opening overlapping"),
    )  # fmt: skip
    lies = {"hatch": "flush", "dry hatch": "flush, over a gutter", "lap hatch": "on the deck"}

    def asks(self, c: Hatch, host: Document, catalogue: Catalogue) -> Opening | None:
        return opening(c, host, catalogue)

    def idle(self, c: Hatch, catalogue: Catalogue) -> frozenset[str]:
        """How a runner is cut that is not there; how far it opens where nothing stops it; the size of a
        gutter that it has not; the axis of hinges that show."""
        held = c.support in ("one strut", "two struts")
        used = {"runner_cut_back": c.runner > 0, "opens": held, "gutter": c.lies == "flush, over a gutter",
                "axis_inside": c.hinges == "concealed"}  # fmt: skip
        return frozenset(name for name, there in used.items() if not there)

    def extent(self, c: Hatch, where: Where) -> Extent:
        """Its clear opening, at the top of what it lies in."""
        host = where.extent(c.deck)
        top = host.top_at(c.x) if host is not None else 0.0
        a, b = c.clear_length / 2, c.clear_width / 2
        return Extent((c.x - a, c.x + a), (c.y - b, c.y + b), (top, top))

    def shift(self, c: Hatch, by: Point) -> list[tuple[Path, float]]:
        places = ((0, "x", c.x), (1, "y", c.y))
        return [((f,), v + by[k]) for k, f, v in places if abs(by[k]) > FINE_M / 2]

    def sizes(self, c: Hatch) -> Sizes:
        return Sizes((("clear_length",), ("clear_width",), None), (("x",), ("y",), None))

    def mirror(self, value: dict[str, Any]) -> None:
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")
        value["hinge"] = OTHER_SIDE.get(value["hinge"], value["hinge"])

    def put_beside(self, value: dict[str, Any]) -> None:
        value["x"] = round(value["x"] + value["clear_length"] + BETWEEN_M, 4)

    def missing(self, entry: str, offered: Callable[[str], bool]) -> str:
        return "" if offered("opening") else "needs a deck to sit in: place a raised deck first"

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """In the middle of a deck, or where it was put in the deck that is there."""
        decks = [(d, e) for d in placing.all_of("opening") if (e := placing.extent(d.id)) is not None]
        at = placing.at
        if not decks:
            raise CoreError("a hatch sits in a deck: place a raised deck first", "fittings")
        if at is not None:
            decks = [(d, e) for d, e in decks if e.x[0] <= at[0] <= e.x[1]]
            if not decks:
                raise CoreError("there is no deck there: a hatch sits in a deck", "at")
        decks.sort(key=lambda pair: _how_full(placing, pair[0].id))
        chosen = [(d, e) for d, e in decks if d.id == placing.host]
        length, width = _first_size(*(chosen or decks)[0])
        free = None if at is not None else _free(placing, chosen or decks)
        deck, x, y = free or (*_middle(*(chosen or decks)[0]), 0.0)
        id_ = placing.id("hatch")
        return {
            "kind": self.key, "id": id_, "name": f"Hatch {id_.rsplit('-', 1)[1]}",
            "mark": placing.mark(self.letter), "deck": deck.id,
            "x": round(at[0] if at else x, 2), "y": round(at[1] if at else y, 2),
            "clear_length": length, "clear_width": width, "lies": self.lies[entry],
            "latch": _latch(placing, deck.id),
        }  # fmt: skip

    def build(self, c: Hatch, site: Site) -> Built:
        return build(c, site)


def _how_full(placing: Placing, id_: str) -> tuple[bool, int]:
    """Raised decks before floors, and those with fewest holes first."""
    floors = next((b.floors for d, b in placing.built("opening") if d.id == id_), ())
    return (not any(f.below for f in floors), len(placing.holes(id_)))


def _latch(placing: Placing, id_: str) -> str:
    """One whose grip suits a lid of its deck's own sheet."""
    panels = next((b.panels for d, b in placing.built("opening") if d.id == id_), ())
    thick = max((p.sheet.thickness for p in panels if p.level), default=0.0)
    return next((latch for latch, most in LATCHES if thick <= most), LATCHES[-1][0])


def _first_size(deck: Any, extent: Extent) -> tuple[float, float]:
    """Clear opening of a first one, by what its deck has room for [m]."""
    aft, fore = extent.x
    return round(min(0.45, 0.4 * (fore - aft)), 2), round(min(0.40, 0.25 * extent.y[1] * 2), 2)


def _middle(deck: Any, extent: Extent) -> tuple[Any, float]:
    return deck, extent.x[0] + SHARE * (extent.x[1] - extent.x[0])


def _free(placing: Placing, decks: list[tuple[Any, Extent]]) -> tuple[Any, float, float] | None:
    """A first place with room for members all round, clear of other openings; none where there is none."""
    made = {d.id: b for d, b in placing.built("opening")}
    for deck, extent in decks:
        length, width = _first_size(deck, extent)
        region, holes = made[deck.id].region, placing.holes(deck.id)
        taken = [box(*h.outline).buffer(APART_M, join_style="mitre") for h in holes]
        aft, fore = extent.x
        for share in (SHARE, 0.62, 0.3, 0.75, 0.5):
            x = aft + share * (fore - aft)
            for y in (k * (width + APART_M) for k in (0.0, 0.5, -0.5, 1.0, -1.0)):
                here = box(x - length / 2, y - width / 2, x + length / 2, y + width / 2)
                room = here.buffer(EDGE_M, join_style="mitre")
                if region.covers(room) and not any(here.intersects(other) for other in taken):
                    return deck, x, y
    return None


KIND = HatchKind()
