"""A hatch's edge at true scale, at its latch and at its hinge."""

from __future__ import annotations

from stirrup.core.contract.shown import Detail, Measure
from stirrup.core.document import Point, Point2
from stirrup.core.kinds.hatch.choices import Hatch, Side, beside_m, over_m
from stirrup.core.kinds.hatch.hardware import TOWARDS
from stirrup.core.record import dataclass

HIGH_M = 0.07
INWARD_M, DOWN_M = 0.026, 0.016  # of the drawing's middle from the cut-out's edge and the deck's top


@dataclass(frozen=True)
class Lies:
    """Where a lid lies: top of the deck, the gap round it and the landing that gets built [m]."""

    top: float
    gap: float
    landing: float


def edges_shown(c: Hatch, lies: Lies, latch: Side, latch_at: Point2) -> tuple[Detail, Detail]:
    """The edge at the latch, then the one at the hinge. latch: on which side it is; latch_at: its
    middle [m]."""
    return (
        _edge(c, "Edge at the latch", latch, lies, latch_at),
        _edge(c, "Edge at the hinge", c.hinge, lies, None),
    )


def _edge(c: Hatch, title: str, side: Side, lies: Lies, latch_at: Point2 | None) -> Detail:
    dx, dy = TOWARDS[side]
    sign, clear = float(dx + dy), (c.clear_length if dx else c.clear_width) / 2
    middle, top, gap = c.x if dx else c.y, lies.top, lies.gap

    def at(from_opening: float) -> Point:
        """A place so far outside of the clear opening's edge."""
        u = middle + sign * (clear + from_opening)
        return (u, c.y, top) if dx else (c.x, u, top)

    beside, over = beside_m(c), over_m(c, gap)
    rows = [("gap", at(beside), at(over))] if gap else []
    if c.lies == "on the deck":
        rows.append(("laps", at(0.0), at(over)))
    else:
        rows.append(("landing", at(beside), at(beside - lies.landing)))
    if c.lies == "flush, over a gutter":
        rows.append(("gutter", at(c.gutter), at(0.0)))
    if latch_at is not None:
        rows.append(("latch from the lid's edge", at(over), (*latch_at, top)))
    edge = middle + sign * (clear + beside)
    return Detail(
        title, "y" if dx else "x", c.y if dx else c.x, (edge - sign * INWARD_M, top - DOWN_M), HIGH_M,
        tuple(Measure(words, a, b) for words, a, b in rows),
    )  # fmt: skip
