"""How a thing with a box looks: lines given in shares of its size, put where it stands."""

from __future__ import annotations

import math

from stirrup.core.bodies.item import ItemBase, footprint
from stirrup.core.contract.gives import Shape
from stirrup.core.document import Point, Point2
from stirrup.core.record import dataclass

TURNED_DEG = 20.0  # beyond this angle the side view shows the box only
HEAVY_KG = 4.0  # lighter things without a size are not drawn
BOX: tuple[Point2, ...] = ((-1, 0), (1, 0), (1, 1), (-1, 1))


@dataclass(frozen=True)
class Line:
    """A line of a picture: role, points in shares, whether it is closed.

    From above shares of half length and half width; from the side x from -1 aft to 1 fore, z from 0
    to 1; across from -1 port to 1 starboard, z from 0 to 1.
    """

    role: str
    points: tuple[Point2, ...]
    closed: bool = True


@dataclass(frozen=True)
class Picture:
    """A thing from above (over its footprint), from the side, and in a section (empty: as from the
    side)."""

    above: tuple[Line, ...] = ()
    side: tuple[Line, ...] = (Line("form-body", BOX),)
    across: tuple[Line, ...] = ()


def circle(count: int, at: Point2, half: Point2) -> tuple[Point2, ...]:
    """Points round an ellipse about `at`."""
    steps = (2 * math.pi * k / count for k in range(count))
    return tuple((at[0] + half[0] * math.cos(a), at[1] + half[1] * math.sin(a)) for a in steps)


def pictured(item: ItemBase, picture: Picture) -> tuple[Shape, ...]:
    """The shapes of an item in all views: its picture, or a dot where it has no size."""
    if item.size is None:
        if item.mass.value < HEAVY_KG:
            return ()
        return (Shape("dot", (item.mass.centre,)), Shape("item-dot", (item.mass.centre,), view="side"))
    return (*_above(item, picture), *_side(item, picture), *_across(item, picture))


def _above(item: ItemBase, picture: Picture) -> list[Shape]:
    assert item.size is not None
    x, y, z = item.mass.centre
    a, b = item.size[0] / 2, item.size[1] / 2
    c, s = math.cos(math.radians(item.turn)), math.sin(math.radians(item.turn))
    out = [Shape("form-body", tuple((u, v, z) for u, v in footprint(item)))]
    for line in picture.above:
        ring = tuple((x + c * a * p - s * b * q, y + s * a * p + c * b * q, z) for p, q in line.points)
        out.append(Shape(line.role, ring, closed=line.closed))
    return out


def _side(item: ItemBase, picture: Picture) -> list[Shape]:
    assert item.size is not None
    ring = [p[0] for p in footprint(item)]
    y, low, tall = item.mass.centre[1], item.mass.centre[2] - item.size[2] / 2, item.size[2]
    x, half = (min(ring) + max(ring)) / 2, (max(ring) - min(ring)) / 2
    turned = abs(math.remainder(item.turn, 360.0))
    flip = -1.0 if turned > 180 - TURNED_DEG else 1.0
    lines = picture.side if turned < TURNED_DEG or flip < 0 else (Line("form-body", BOX),)
    return [
        Shape(s.role, tuple((x + flip * half * p, y, low + tall * q) for p, q in s.points), view="side",
              closed=s.closed)
        for s in lines
    ]  # fmt: skip


def _across(item: ItemBase, picture: Picture) -> list[Shape]:
    assert item.size is not None
    ring = [p[1] for p in footprint(item)]
    x, low, tall = item.mass.centre[0], item.mass.centre[2] - item.size[2] / 2, item.size[2]
    middle, half = (min(ring) + max(ring)) / 2, (max(ring) - min(ring)) / 2

    def at(p: float, q: float) -> Point:
        return (x, middle - half * p, low + tall * q)

    return [
        Shape(s.role, tuple(at(p, q) for p, q in s.points), view="across", closed=s.closed)
        for s in picture.across or picture.side
    ]
