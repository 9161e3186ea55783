"""What hangs or stands under a floor, and the plates of a seat's bolts that would meet it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from shapely.geometry import Polygon

from stirrup.core.contract.base import Named
from stirrup.core.contract.gives import Built
from stirrup.core.document import Point2
from stirrup.core.findings import Finding, Fix, Quantity, declare, plain
from stirrup.core.parts.model import Panel
from stirrup.core.space.shapes import TOUCH_M

declare("layout", {"SEAT-PLATE": "where a seat's backing plate goes"}, acceptable=True)


def _met(plate: Panel, host: Built) -> list[tuple[str, float, float]]:
    """What a plate meets: its mark, how far forward and how far aft one moves to be clear of it [m]."""
    ring = [plate.frame.at(u, v) for u, v in plate.outline]
    low, high = (tuple(f(p[k] for p in ring) for k in (0, 1)) for f in (min, max))
    return [
        (label, x1 - low[0], high[0] - x0)
        for label, (x0, y0), (x1, y1) in standing_under(host)
        if x0 < high[0] - TOUCH_M
        and low[0] < x1 - TOUCH_M
        and y0 < high[1] - TOUCH_M
        and low[1] < y1 - TOUCH_M
    ]


def in_the_way(c: Named, plates: Sequence[Panel], host: Built | None) -> list[Finding]:
    """Bearers and members of its floor where its backing plates go."""
    met = [m for p in plates for m in _met(p, host)] if host is not None else []
    if not met:
        return []
    names = ", ".join(plain(label) for label in dict.fromkeys(label for label, _, _ in met))
    ahead, back = max(a for _, a, _ in met), max(b for _, _, b in met)
    by = ahead if ahead <= back else -back
    values = {"by": Quantity(abs(by), "m")}
    way = "forward" if by > 0 else "aft"
    fix = Fix(f"Move it {{by}} {way}", c.id, (by, 0.0, 0.0))
    return [
        Finding("SEAT-PLATE", "look", c.id, "Its backing plate meets what carries the floor",
                f"{names}: where the plate goes.", values,
                f"Move it {{by}} {way}, cut the plate in two beside it, or bolt through large washers.",
                fixes=(fix,))
    ]  # fmt: skip


Under = tuple[str, Point2, Point2]


def standing_under(host: Built) -> tuple[Under, ...]:
    """What hangs or stands under a floor: its mark and the box around it in plan. Kept with the floor,
    whose guests all ask."""
    return host.kept.get("standing under", lambda: tuple(_standing_under(host)))


def under_near(host: Built, at: Point2, reach: float) -> tuple[Under, ...]:
    """What of it comes within a reach of a place along and across the boat [m]."""
    x, y = at
    return tuple(
        one for one in standing_under(host)
        if one[1][0] <= x + reach and x - reach <= one[2][0]
        and one[1][1] <= y + reach and y - reach <= one[2][1]
    )  # fmt: skip


def _standing_under(host: Built) -> Iterator[Under]:
    for panel in host.panels:
        if panel.role in ("bearer", "strip"):
            half = 0.0 if panel.level else panel.sheet.thickness / 2
            places = [panel.frame.at(u, v) for u, v in panel.outline]
            xs, ys = [p[0] for p in places], [p[1] for p in places]
            yield panel.label, (min(xs) - half, min(ys)), (max(xs) + half, max(ys))
    for member in host.members:
        if member.role == "side":
            continue
        places = [p for body in member.fills for p in body]
        if places:
            xs, ys = [p[0] for p in places], [p[1] for p in places]
            yield member.label, (min(xs), min(ys)), (max(xs), max(ys))


def holes_in(host: Built) -> list[Polygon]:
    """Holes of a floor's level panels, in plan. Kept with the floor: what is bolted to it asks more
    than once."""
    return host.kept.get("holes in", lambda: _holes_in(host))


def _holes_in(host: Built) -> list[Polygon]:
    return [
        Polygon([panel.frame.at(u, v)[:2] for u, v in ring])
        for panel in host.panels
        if panel.level
        for ring in panel.holes
    ]


def is_cut(host: Built, hole: Polygon) -> bool:
    """Whether a level panel of the host has the hole."""
    middle = hole.centroid
    return any(there.buffer(1e-6).covers(middle) for there in holes_in(host))


class Met(NamedTuple):
    """What carries a floor where a hole is to be: marks; how far forward (+) or aft (-) is clear [m]."""

    labels: tuple[str, ...] = ()
    by: float = 0.0


def carried_over(host: Built, hole: Polygon) -> Met:
    """What hangs or stands under a floor where a hole goes through it."""
    x0, y0, x1, y1 = hole.bounds
    met = [(label, a[0], b[0]) for label, a, b in standing_under(host)
           if a[0] < x1 and x0 < b[0] and a[1] < y1 and y0 < b[1]]  # fmt: skip
    if not met:
        return Met()
    ahead, back = max(b for _, _, b in met) - x0, x1 - min(a for _, a, _ in met)
    return Met(tuple(dict.fromkeys(label for label, _, _ in met)), ahead if ahead <= back else -back)
