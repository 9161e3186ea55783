"""A tray folded of one sheet: a base, four walls, flanges outward at their heads, tabs in its corners.

Laid out from the middle of the base's outer face: u along it, v across, w into the tray's depth. The two
long walls, those at either end of v, carry tabs that lie inside of the short ones and are riveted there.
Source of its flat pattern: docs/trade-rules.md, “Folds”.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property
from itertools import product

from stirrup.core.contract.base import Named
from stirrup.core.document import Point, Point2
from stirrup.core.errors import CoreError
from stirrup.core.fittings.crate import rectangle
from stirrup.core.parts.entries import Sheet
from stirrup.core.parts.folding import Bend, allowance_m, least_radius_m
from stirrup.core.parts.model import Frame, Panel, Ring
from stirrup.core.record import dataclass

SQUARE_DEG = 90.0
TAB_M = 0.02  # of a tab beyond its bend: room for a row of rivets; working value
RELIEF_M = 0.001  # flanges and tabs end this far before a bend line does: working value
PLAY_M = 0.0002  # between a tab and the wall that it lies on


@dataclass(frozen=True)
class Tray:
    """A tray: whose, its sheet, its outer size along u, v and w [m], how far its flanges reach out from
    the inner faces of its walls [m], and where it is: the middle of its base's outer face, its axes."""

    c: Named
    sheet: Sheet
    size: tuple[float, float, float]
    flange: float
    at: Point
    along: Point
    across: Point

    @property
    def t(self) -> float:
        return self.sheet.thickness

    @cached_property
    def radius(self) -> float:
        """Inside radius of its bends: the least that its sheet takes [m]. Raises CoreError for what does
        not fold."""
        radius = least_radius_m(self.sheet)
        if radius is None:
            raise CoreError(f"{self.sheet.name} does not fold: take sheet metal that does",
                            f"fittings.{self.c.id}")  # fmt: skip
        return radius

    @cached_property
    def back(self) -> float:
        """From an outer edge to where its bend begins [m]: R + t for a right angle."""
        return self.radius + self.t

    @cached_property
    def takes(self) -> float:
        """Of flat sheet that goes into a bend [m]."""
        return allowance_m(SQUARE_DEG, self.radius, self.t)

    @cached_property
    def base(self) -> Point2:
        """What stays flat of the base, half of it, along u and v [m]."""
        return (self.size[0] / 2 - self.back, self.size[1] / 2 - self.back)

    @cached_property
    def long(self) -> float:
        """Half of a long wall's length [m]: its tabs lie inside of the short walls."""
        return self.base[0] - self.t - PLAY_M

    @cached_property
    def short(self) -> float:
        """Half of a short wall's length [m]."""
        return self.base[1] - RELIEF_M

    @cached_property
    def wall(self) -> float:
        """What is flat of a wall, from its foot's bend to that of its flange, or to its head [m]."""
        return self.size[2] - (2 if self.flange else 1) * self.back

    @cached_property
    def lip(self) -> float:
        """What is flat of a flange [m]."""
        return self.flange - self.back if self.flange else 0.0

    @cached_property
    def tab(self) -> tuple[float, float]:
        """Foot and head of a tab, over the foot of its wall's flat [m]."""
        return (RELIEF_M, self.wall - RELIEF_M)

    @property
    def inner(self) -> tuple[float, float, float]:
        """Clear inside between walls and tabs, and over its base [m]."""
        a, b, deep = self.size
        return (a - 4 * self.t - 2 * PLAY_M, b - 2 * self.t, deep - self.t)

    @cached_property
    def up(self) -> Point:
        """Unit vector into its depth."""
        (a, b, c), (d, e, f) = self.along, self.across
        return (b * f - c * e, c * d - a * f, a * e - b * d)

    def place(self, u: float, v: float, w: float) -> Point:
        """A place in the boat."""
        o, a, b, n = self.at, self.along, self.across, self.up
        return (
            o[0] + u * a[0] + v * b[0] + w * n[0],
            o[1] + u * a[1] + v * b[1] + w * n[1],
            o[2] + u * a[2] + v * b[2] + w * n[2],
        )


def outer_size(inner: tuple[float, float, float], t: float) -> tuple[float, float, float]:
    """Outer size of a tray for its clear inside, by the thickness of its sheet [m]."""
    return (inner[0] + 4 * t + 2 * PLAY_M, inner[1] + 2 * t, inner[2] + t)


def folded(tray: Tray, key: str, code: str, word: str) -> Panel:
    """The tray as a panel: its flat pattern with bends, and its faces as they stand. Raises CoreError for
    a sheet that does not fold, and where nothing is left between two bends."""
    c = tray.c
    parts = [*tray.base, tray.long, tray.short, tray.wall, *([tray.lip] if tray.flange else [])]
    if min(parts) < 2 * RELIEF_M:
        raise CoreError(f"its walls or flanges are shorter than the bends of {tray.sheet.name} take",
                        f"fittings.{c.id}")  # fmt: skip
    frame = Frame(tray.place(0.0, 0.0, tray.t / 2), tray.along, tray.across)

    names = (f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id)

    def made(ring: tuple[Point2, ...], at: Frame) -> Panel:
        return Panel(*names, tray.sheet, ring, (), at)

    flats = (made(rectangle(2 * tray.base[0], 2 * tray.base[1]), frame),
             *(made(rectangle(*size), at) for size, at in _standing(tray)))  # fmt: skip
    return Panel(*names, tray.sheet, _pattern(tray), (), frame, (0, 90, 180, 270),
                 bends=tuple(_bends(tray)), flats=flats)  # fmt: skip


def _pattern(tray: Tray) -> Ring:
    """Its flat pattern about the middle of its base, counterclockwise."""
    (hu, hv), take, half, short = tray.base, tray.takes, tray.long, tray.short
    reach = take + tray.wall + (take + tray.lip if tray.flange else 0.0)
    low, high = (hv + take + z for z in tray.tab)
    out = half + take + TAB_M
    # round a quarter of it, from the flange of a short wall to that of a long one
    quarter = ((hu + reach, short), (hu, short), (hu, hv), (half, hv), (half, low), (out, low), (out, high),
               (half, high), (half, hv + reach))  # fmt: skip
    back = quarter[::-1]
    return (*quarter, *((-u, v) for u, v in back), *((-u, -v) for u, v in quarter),
            *((u, -v) for u, v in back))  # fmt: skip


def _bends(tray: Tray) -> Iterator[Bend]:
    """In the order in which a brake gets at them: flanges, tabs, the long walls, then the short ones, which
    come up outside of the tabs."""
    (hu, hv), half, turn = tray.base, tray.takes / 2, 0
    head = tray.takes + tray.wall
    low, high = (hv + tray.takes + z for z in tray.tab)

    def bend(a: Point2, b: Point2, up: bool) -> Bend:
        nonlocal turn
        turn += 1
        return Bend(a, b, SQUARE_DEG, tray.radius, turn, up)

    if tray.flange:
        for s in (1.0, -1.0):
            v, u = s * (hv + head + half), s * (hu + head + half)
            yield bend((-tray.long, v), (tray.long, v), False)
            yield bend((u, -tray.short), (u, tray.short), False)
    for s, e in product((1.0, -1.0), repeat=2):
        u = e * (tray.long + half)
        yield bend((u, s * low), (u, s * high), True)
    for s in (1.0, -1.0):
        yield bend((-tray.long, s * (hv + half)), (tray.long, s * (hv + half)), True)
    for e in (1.0, -1.0):
        yield bend((e * (hu + half), -tray.short), (e * (hu + half), tray.short), True)


def _standing(tray: Tray) -> Iterator[tuple[Point2, Frame]]:
    """Walls, tabs and flanges as they stand: size along and across their frame [m], and that."""
    (a, b, deep), t, up = tray.size, tray.t, tray.up
    middle = tray.back + tray.wall / 2
    for s in (1.0, -1.0):
        yield ((2 * tray.long, tray.wall),
               Frame(tray.place(0.0, s * (b - t) / 2, middle), tray.along, up))  # fmt: skip
        yield ((2 * tray.short, tray.wall),
               Frame(tray.place(s * (a - t) / 2, 0.0, middle), tray.across, up))  # fmt: skip
        if tray.flange:
            out = t - tray.back - tray.lip / 2  # inside of the outer faces
            yield ((2 * tray.long, tray.lip),
                   Frame(tray.place(0.0, s * (b / 2 - out), deep - t / 2), tray.along,
                         tray.across))  # fmt: skip
            yield ((tray.lip, 2 * tray.short),
                   Frame(tray.place(s * (a / 2 - out), 0.0, deep - t / 2), tray.along,
                         tray.across))  # fmt: skip
    foot, head = tray.tab
    for s, e in product((1.0, -1.0), repeat=2):
        u, v = e * (tray.long + tray.back - t / 2), s * (b / 2 - tray.back - TAB_M / 2)
        yield ((TAB_M, head - foot),
               Frame(tray.place(u, v, tray.back + (foot + head) / 2), tray.across, up))  # fmt: skip
