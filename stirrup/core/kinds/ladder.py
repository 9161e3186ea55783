"""A boarding ladder: the way back in over the transom or the side."""

from __future__ import annotations

from typing import Any

from stirrup.core.bodies.item import ItemBase
from stirrup.core.bodies.item_kind import First, ItemKind
from stirrup.core.bodies.pictures import BOX, Line, Picture
from stirrup.core.contract.kind import Entry, Site
from stirrup.core.space.shapes import Prism

_RUNGS = tuple(Line("form-line", ((-1, z), (1, z)), False) for z in (0.2, 0.45, 0.7, 0.95))


class LadderKind(ItemKind):
    key, title = "ladder", "Boarding ladder"
    about = "Somebody who climbs in by it is a load case of its own: he lies on its upper end for a moment."
    entries = (
        Entry("ladder", "Boarding ladder", 4, "the way back in: look what she does when somebody climbs it",
              "steps swim climb"),
    )  # fmt: skip
    firsts = {"ladder": First((0.12, 0.38, 0.80), 6.0, "gear", 0.0, 0.45)}
    picture = Picture((), (Line("form-body", BOX), *_RUNGS))
    inside = False
    lent = True

    def first_place(self, entry: str, first: First, placing: Any) -> Any:
        """Hung on the transom, its upper end at the sheer, unless it was put elsewhere."""
        sheer = placing.surface.lines[0][-1][0]
        x, y = placing.at or (float(placing.surface.outside.low[0]) - first.size[0] / 2, first.side)
        top = float(sheer[2])
        return (round(x, 3), round(y, 3), round(top - first.size[2], 3)), first.size, 0.0

    def more(self, c: ItemBase, body: Prism | None, site: Site) -> dict[str, Any]:
        if body is None:
            return {}
        x, y, _ = c.mass.centre
        return {"climbs": ((x, y, body.high),)}


KIND = LadderKind()
