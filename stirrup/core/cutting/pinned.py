"""Parts that stay where somebody put them on a sheet: the rest is laid out around them.

A sheet with pinned parts is a piece of stock of its own, with holes where they lie; it is there once and
costs nothing more, since it is bought whatever else goes on it.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from shapely import affinity
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from stirrup.core.cutting.cut_job import turned
from stirrup.core.record import dataclass

TOUCH_M = 1e-9
FINE_M = 1e-7


@dataclass(frozen=True)
class Pin:
    """A part where it stays: on which sheet, counted from 1 among those with pins, and of which leftover,
    empty for one that is bought; turned by `rotation` [deg] about (0, 0), mirrored first if flipped, then
    shifted [m]."""

    part: str
    sheet: int
    rotation: int
    x: float
    y: float
    flipped: bool = False
    on: str = ""


def lying(shape: Polygon, pin: Pin) -> Polygon:
    """Where a pinned part lies."""
    return affinity.translate(turned(shape, pin.rotation, pin.flipped), pin.x, pin.y)


def off_sheet(stock: Polygon, shape: Polygon, margin: float) -> bool:
    """Whether a part is nearer the edge of its stock than its margin."""
    inside = stock.buffer(TOUCH_M).covers(shape)
    return not inside or stock.boundary.distance(shape) < margin - FINE_M


def met(shape: Polygon, others: Iterable[tuple[str, Polygon]], gap: float) -> list[str]:
    """Which others a part is nearer to than a saw's cut."""
    near = gap - FINE_M
    return [name for name, other in others
            if shape.distance(other) < near or shape.intersection(other).area > TOUCH_M]  # fmt: skip


def standing(
    pins: Sequence[Pin], shapes: dict[str, Polygon], stocks: dict[str, tuple[Polygon, int | None]],
    margin: float, gap: float,
) -> tuple[Pin, ...]:  # fmt: skip
    """The pins that can stay, in their order: of parts and stock that are there, clear of the edge and of
    one another. stocks: of each leftover, "" for what is bought, its shape and how many there are."""
    kept: list[Pin] = []
    for pin in pins:
        shape, stock = shapes.get(pin.part), stocks.get(pin.on)
        if shape is None or stock is None or any(k.part == pin.part for k in kept):
            continue
        beside = [k for k in kept if k.sheet == pin.sheet]
        if any(k.on != pin.on for k in beside):
            continue
        used = {k.sheet for k in kept if k.on == pin.on}
        if stock[1] is not None and pin.sheet not in used and len(used) >= stock[1]:
            continue
        there = lying(shape, pin)
        others = [(k.part, lying(shapes[k.part], k)) for k in beside]
        if not off_sheet(stock[0], there, margin) and not met(there, others, gap):
            kept.append(pin)
    return tuple(kept)


def left_around(stock: Polygon, shapes: Sequence[Polygon], margin: float, gap: float) -> Polygon:
    """A piece of stock with holes where parts lie on it, such that what keeps its margin to a hole keeps
    the saw's cut to the part; the largest piece of it where they divide it."""
    left: BaseGeometry = stock - unary_union([_hole(s, margin, gap) for s in shapes])
    if left.is_empty:
        return Polygon()
    pieces = [left] if isinstance(left, Polygon) else [p for p in left.geoms if isinstance(p, Polygon)]
    return max(pieces, key=lambda p: float(p.area))


def _hole(shape: Polygon, margin: float, gap: float) -> BaseGeometry:
    by = gap - margin
    solid = Polygon(shape.exterior)
    if by >= 0:
        return solid.buffer(by, join_style="mitre") if by else solid
    smaller = solid.buffer(by, join_style="mitre")
    # what has necks narrower than that keeps its whole outline
    if (
        smaller.is_empty
        or solid.difference(smaller.buffer(-by, join_style="mitre", mitre_limit=10)).area > FINE_M
    ):
        return solid
    return smaller
