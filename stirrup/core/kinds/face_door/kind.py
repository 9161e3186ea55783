"""A door in the upright face of a deck, with a box behind it or without."""

from __future__ import annotations

from typing import Any

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
from stirrup.core.kinds.face_door.build import build
from stirrup.core.kinds.face_door.choices import FaceDoor
from stirrup.core.kinds.face_door.hung import FACE, LAP_M, RIM_M, hole_of
from stirrup.core.parts.catalogue import Catalogue

STEP_M = 0.05  # a first place is looked for in these steps


class FaceDoorKind(Kind[FaceDoor]):
    key, title = "face_door", "Door in a face"
    choices = FaceDoor
    letter = "G"
    brief = True
    offers = frozenset(["door"])
    entries = (
        Entry("face_door", "Door in the face of a deck", 1, "what lies under a deck is got at without "
              "kneeling on it", "hatch upright locker access panel"),
        Entry("glove box", "Glove box in the face of a deck", 3, "a door with a folded box behind it: "
              "small things stay dry and do not slide under the deck", "tray bin pocket compartment"),
    )  # fmt: skip
    about = (
        "In the upright face under a deck's edge: it laps its hole, or lies flush on flats behind it; "
        "hinge, latch with its place and grip, gasket. The face has its hole, and an arm gets in by it; or "
        "a box folded of one sheet hangs behind it and takes gear."
    )

    def asks(self, c: FaceDoor, host: Document, catalogue: Catalogue) -> Opening | None:
        a, b = c.clear_width / 2, c.clear_height / 2
        return Opening(c.id, c.code, hole_of(c), (c.y - a, c.z - b, c.y + a, c.z + b), FACE[c.face][0],
                       shut=c.deep > 0)  # fmt: skip

    def idle(self, c: FaceDoor, catalogue: Catalogue) -> frozenset[str]:
        """What a box is folded of that is not there."""
        return frozenset() if c.deep else frozenset(["box_of"])

    def extent(self, c: FaceDoor, where: Where) -> Extent:
        """Its clear opening, at the edge of its deck; its box in under that."""
        host = where.extent(c.deck)
        x = 0.0 if host is None else host.x[0 if c.face == "aft" else 1]
        a, b = c.clear_width / 2, c.clear_height / 2
        inner = x - FACE[c.face][1] * c.deep
        return Extent((min(x, inner), max(x, inner)), (c.y - a, c.y + a), (c.z - b, c.z + b))

    def shift(self, c: FaceDoor, by: Point) -> list[tuple[Path, float]]:
        """In its face: across and up."""
        places = ((1, "y", c.y), (2, "z", c.z))
        return [((f,), v + by[k]) for k, f, v in places if abs(by[k]) > FINE_M / 2]

    def sizes(self, c: FaceDoor) -> Sizes:
        return Sizes((None, ("clear_width",), ("clear_height",)), (None, ("y",), ("z",)))

    def mirror(self, value: dict[str, Any]) -> None:
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")
        value["hinge"] = OTHER_SIDE.get(value["hinge"], value["hinge"])

    def put_beside(self, value: dict[str, Any]) -> None:
        value["y"] = round(value["y"] - value["clear_width"] - 2 * (RIM_M + LAP_M), 4)

    def missing(self, entry: str, offered: Any) -> str:
        return "" if offered("face") else "goes into the face under a deck's edge: place a deck first"

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """In the middle of the face of the deck that is chosen, else of one that has a face."""
        decks = [(c, b) for c, b in placing.built("face") if any("/face" in p.key for p in b.panels)]
        if not decks:
            raise CoreError("no deck has a face: give one a face under its edge first", "fittings")
        chosen = next((d for d in decks if d[0].id == placing.host), decks[0])
        deck, built = chosen
        face = next(p for p in built.panels if "/face" in p.key)
        ring = [face.frame.at(u, v) for u, v in face.outline]
        ys, zs = [p[1] for p in ring], [p[2] for p in ring]
        # clear of the lowest part, where the bottom comes up to it
        foot, head = min(zs) + 0.35 * (max(zs) - min(zs)), max(zs) - RIM_M - LAP_M
        glove = entry == "glove box"
        high = min(0.14 if glove else 0.20, max(head - foot, 0.08))
        y = 0.0 if placing.at is None else max(min(placing.at[1], max(ys) - 0.3), min(ys) + 0.3)
        if placing.at is None:
            y = _free(deck.id, face.key, 0.28 if glove else 0.4, (min(ys), max(ys)), placing)
        id_ = placing.id("glove-box" if glove else "door")
        word = "Glove box" if glove else "Door"
        more = {"clear_width": 0.28, "deep": 0.20} if glove else {}
        return {
            "kind": self.key, "id": id_, "name": f"{word} {id_.rsplit('-', 1)[1]}",
            "mark": placing.mark(self.letter), "deck": deck.id,
            "face": "fore" if face.key.endswith("/face-fore") else "aft", "y": round(y, 3),
            "z": round(head - high / 2, 3), "clear_height": round(high, 3),
            **more,
        }  # fmt: skip

    def build(self, c: FaceDoor, site: Site) -> Built:
        return build(c, site)


def _free(deck: str, key: str, wide: float, ends: tuple[float, float], placing: Placing) -> float:
    """The first place across a face where no door is yet: its middle, or beside those there are [m]."""
    side = "fore" if key.endswith("/face-fore") else "aft"
    there = [t for t, _ in placing.built("door") if t.deck == deck and t.face == side]
    taken = [(t.y - t.clear_width / 2 - t.beside, t.y + t.clear_width / 2 + t.beside) for t in there]
    room = wide / 2 + RIM_M + LAP_M
    tries = [0.0, *(s * k * STEP_M for k in range(1, 60) for s in (1, -1))]
    for y in tries:
        inside = ends[0] + room <= y <= ends[1] - room
        if inside and all(y + room <= a or y - room >= b for a, b in taken):
            return y
    return 0.0


KIND = FaceDoorKind()
