"""A windscreen on a console: one looks clearly over it or clearly through it."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from stirrup.core.bodies.item import ItemBase, footprint
from stirrup.core.bodies.item_kind import First, ItemKind
from stirrup.core.bodies.pictures import Line, Picture
from stirrup.core.contract.gives import Overhead, Pane
from stirrup.core.contract.kind import Entry, Placing, Site
from stirrup.core.document import Point, Size
from stirrup.core.errors import CoreError
from stirrup.core.findings import plain
from stirrup.core.space.shapes import Prism

NO_CONSOLE = "needs a console to stand on: place one first"
EDGE_M = 0.04  # a pane is this much narrower than its console
BESIDE_M = 0.3  # what begins lower than this over somebody's feet is beside him

# seen from above a pane curves round, its edge raked aft
_PANE = tuple((1 - 2 * abs(k) ** 2.5, 0.96 * k) for k in (step / 8 for step in range(-8, 9)))
_ABOVE = (
    Line("form-glass", _PANE, False),
    Line("form-line", tuple((p - 0.5, 0.8 * q) for p, q in _PANE), False),
)
# the pane raked aft, with a side to it, in a frame on the console
_SIDE = (
    Line("form-glass", ((1.0, 0.06), (-0.55, 1.0), (-2.2, 1.0), (-2.6, 0.06))),
    Line("form-pane", ((1.0, 0.0), (-0.55, 1.0)), False),
    Line("form-line", ((1.15, 0.03), (-2.7, 0.03)), False),
)
_ACROSS = (Line("form-glass", ((-1, 0.0), (1, 0.0), (0.9, 1.0), (-0.9, 1.0))),)


class ScreenKind(ItemKind):
    key, title = "screen", "Windscreen"
    about = "Stands on a console; its upper edge must not lie in the line of sight."
    entries = (
        Entry("windscreen", "Windscreen", 2, "stands on the console: look clearly over it or clearly "
              "through it", "screen glass shield"),
    )  # fmt: skip
    firsts = {"windscreen": First((0.18, 0.56, 0.32), 3.0, "console", 0.50)}
    picture = Picture(_ABOVE, _SIDE, _ACROSS)
    lent = clear = True

    def missing(self, entry: str, offered: Callable[[str], bool]) -> str:
        return "" if offered("helm") else NO_CONSOLE

    def first_place(self, entry: str, first: First, placing: Placing) -> tuple[Point, Size, float]:
        """The fore edge of the nearest console's top, as wide as it and turned with it."""
        there = [(c, b) for c, b in placing.built("helm") if b.helms and not b.region.is_empty]
        if not there:
            raise CoreError(NO_CONSOLE, "kind")
        at = placing.at
        near = there[0] if at is None else min(there, key=lambda p: math.dist(at, p[1].helms[0].at))
        console, helm = near[0], near[1].helms[0]
        # a bought one may be turned; a built one stands square
        turn = float(getattr(console, "turn", 0.0))
        x0, y0, x1, y1 = near[1].region.bounds
        own = console.size if isinstance(console, ItemBase) else None
        along, across = own[:2] if own is not None else (x1 - x0, y1 - y0)
        size = (first.size[0], round(max(0.1, across - EDGE_M), 3), first.size[2])
        ahead, angle = along / 2 - size[0] / 2, math.radians(turn)
        foot = (
            round(helm.at[0] + ahead * math.cos(angle), 3),
            round(helm.at[1] + ahead * math.sin(angle), 3),
            round(helm.top_m, 3),
        )
        return foot, size, turn

    def more(self, c: ItemBase, body: Prism | None, site: Site) -> dict[str, Any]:
        if body is None:
            return {}
        x, y, _ = c.mass.centre
        # a screen is raked aft: its upper edge lies at the aft end of its box
        pane = Pane((x, y), min(p[0] for p in footprint(c)), body.high)
        over = Overhead(
            body.footprint, body.low, body.high, BESIDE_M, "mend", "the screen",
            f"foot of {plain(c.title)}", "Move it forward, or sit further aft.",
        )  # fmt: skip
        return {"panes": (pane,), "overhead": (over,)}


KIND = ScreenKind()
