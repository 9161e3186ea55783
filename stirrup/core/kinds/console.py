"""A console with a wheel: whoever steers stands or sits behind it."""

from __future__ import annotations

from typing import Any

from stirrup.core.bodies.item import ItemBase
from stirrup.core.bodies.item_kind import First, ItemKind
from stirrup.core.bodies.pictures import Line, Picture, circle
from stirrup.core.contract.gives import Helm
from stirrup.core.contract.kind import Entry, Site
from stirrup.core.space.shapes import Prism

_ABOVE = (
    Line("form-line", ((-0.1, -1.0), (-0.1, 1.0)), False),
    Line("form-wheel", circle(24, (-1.15, 0.0), (0.42, 0.55))),
)
_SIDE = (
    Line("form-body", ((-1, 0), (1, 0), (1, 0.92), (0.35, 1.0), (-0.05, 0.98), (-1, 0.72))),
    Line("form-wheel", ((-1.0, 0.70), (-0.55, 0.92)), False),
)
_ACROSS = (
    Line("form-body", ((-1, 0), (1, 0), (0.94, 1.0), (-0.94, 1.0))),
    Line("form-wheel", circle(20, (0.0, 0.70), (0.34, 0.22))),
)


class ConsoleKind(ItemKind):
    key, title = "console", "Console"
    about = "What one steers at: reach to its wheel, thighs or elbows, and the eye line are checked."
    offers = frozenset(["helm"])
    entries = (
        Entry("console", "Console", 2, "sets the walkway beside it and where the cables run",
              "helm wheel steering dash", "helm"),
    )  # fmt: skip
    firsts = {"console": First((0.45, 0.60, 0.90), 24.0, "console", 0.50, -0.35)}
    picture = Picture(_ABOVE, _SIDE, _ACROSS)
    bolted = fastened = marked = True

    def more(self, c: ItemBase, body: Prism | None, site: Site) -> dict[str, Any]:
        x, y, z = c.mass.centre
        along, _, up = c.size or (0.0, 0.0, 0.0)
        # its aft side as if it were not turned: a wheel faces aft
        return {"helms": (Helm((x, y), x - along / 2, z - up / 2, z + up / 2),)}


KIND = ConsoleKind()
