"""Gear: does it go in, and where can it lie? Litres of the spaces under decks and in boxes.

A straight, boxy thing goes through a hatch, a door in a face or an open end, in the upright plane through
its middle: see `way_in.py`.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from itertools import permutations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import box as rectangle
from shapely.geometry import Polygon

from stirrup.core.contract.gives import WALL_M, Below, Doorway, Floor, Hold, Hole
from stirrup.core.document import Point2
from stirrup.core.fit.way_in import CELL_M, Plane, way_in
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.hull.slices import buttock, region, section
from stirrup.core.plan.model import Gear
from stirrup.core.plan.placed import Placed
from stirrup.core.record import dataclass
from stirrup.core.space.solid import Solid

Array = NDArray[np.float64]

OPEN_M = 10.0  # wide enough for everything
DOOR_M = 0.02  # from a face to its doors, which are in it
STATIONS = 25


@dataclass(frozen=True)
class Space:
    """A closed space: whose, its name, litres, the longest straight thing that lies in it [m]."""

    id: str
    name: str
    litres: float
    longest_m: float


@dataclass(frozen=True)
class Stowed:
    """Where a piece of gear goes: through what, in what, from where to where [m]; or that it does not."""

    gear: Gear
    space: str = ""
    through: str = ""
    along: bool = True
    low: float = 0.0
    high: float = 0.0
    under: bool = False  # a deck, rather than in a box
    hint: str = ""
    # where it lies, seen from above (x, y) and from the side (x, z) [m]
    from_above: tuple[Point2, ...] = ()
    from_side: tuple[Point2, ...] = ()
    home: str = ""  # id of the thing that it lies in

    @property
    def fits(self) -> bool:
        return bool(self.space)


def through_opening(p: float, q: float, a: float, b: float) -> bool:
    """Whether a section p x q passes an opening a x b, turned in its plane if need be [m].

    Source: the rectangle that fits in a rectangle, Carver 1957.
    """
    p, q = max(p, q), min(p, q)
    a, b = max(a, b), min(a, b)
    if p <= a + 1e-9 and q <= b + 1e-9:
        return True
    if p <= a or q > b:
        return False
    return (
        b >= (2 * p * q * a + (p * p - q * q) * math.sqrt(p * p + q * q - a * a)) / (p * p + q * q) - 1e-9
    )


def goes_into_box(gear: Gear, size: Sequence[float]) -> bool:
    """Whether it lies in a box with its lid open: edge by edge, or turned flat in plan."""
    return _laid_in_box(gear, [s - 2 * WALL_M for s in size]) is not None


def lies_in(gear: Gear, hold: Hold) -> bool:
    """Whether it lies in a box with its lid open."""
    return _laid_in_box(gear, hold.clear) is not None


def _laid_in_box(gear: Gear, inner: Sequence[float]) -> tuple[float, float, float] | None:
    """Its edges along, across and up as it lies in a box of this inner size; None when it does not."""
    orders = list(permutations((gear.length, gear.width, gear.height)))
    for a, b, c in orders:  # square to the walls if it can be
        if c <= inner[2] + 1e-9 and a <= inner[0] + 1e-9 and b <= inner[1] + 1e-9:
            return a, b, c
    for a, b, c in orders:
        if c <= inner[2] + 1e-9 and through_opening(a, b, inner[0], inner[1]):
            return a, b, c
    return None


def _turned(at: Point2, half: Point2, angle: float) -> tuple[Point2, ...]:
    """Corners of a rectangle about a point, turned by an angle [rad]."""
    c, s = math.cos(angle), math.sin(angle)
    signs = ((-1, -1), (1, -1), (1, 1), (-1, 1))
    return tuple(
        (at[0] + c * a * half[0] - s * b * half[1], at[1] + s * a * half[0] + c * b * half[1])
        for a, b in signs
    )


def _in_box(gear: Gear, thing: Placed, hold: Hold, laid: tuple[float, float, float]) -> Stowed:
    """Gear in a box or locker, along its longer way."""
    a, b, c = laid
    x, y, z = hold.at
    straight = a <= hold.clear[0] + 1e-9 and b <= hold.clear[1] + 1e-9
    # what is too long for its walls lies from corner to corner
    askew = 0.0 if straight else math.atan2(hold.size[1], hold.size[0]) * (1 if a >= b else -1)
    above = _turned((x, y), (a / 2, b / 2), math.radians(hold.turn) + askew)
    floor = z - hold.clear[2] / 2
    low, high = min(p[0] for p in above), max(p[0] for p in above)
    side = ((low, floor), (high, floor), (high, floor + c), (low, floor + c))
    half = hold.size[0] / 2
    return Stowed(gear, thing.title, "its lid", True, x - half, x + half, from_above=above, from_side=side,
                  home=thing.id)  # fmt: skip


def _grid(low: float, high: float) -> Array:
    return np.arange(low + CELL_M / 2, high, CELL_M)


def _plane(
    rings: Iterable[Polygon], deck: _Deck, span: tuple[float, float], hole: tuple[float, float] | None,
    blocks: Iterable[tuple[float, float, float, float]], long: float, walls: tuple[_Wall, ...],
) -> Plane | None:  # fmt: skip
    """Free cells of a plane: inside both edges of the strip, less the deck, its face and other things."""
    under, top = deck.below.free_m, deck.floor.top_m
    shapes = [r for r in rings if not r.is_empty]
    if len(shapes) < 2:
        return None
    u = _grid(span[0] - long - 0.1, span[1] + long + 0.1)
    z = _grid(min(s.bounds[1] for s in shapes) - 0.1, top + long + 0.3)
    gu, gz = np.meshgrid(u, z)
    free = np.logical_and.reduce([shapely.contains_xy(s, gu, gz) for s in shapes])
    free |= gz > max(s.bounds[3] for s in shapes)
    slab = (gz > under) & (gz < top) & (gu > span[0]) & (gu < span[1])
    if hole is not None:
        slab &= ~((gu > hole[0]) & (gu < hole[1]))
    free &= ~slab
    for wall in walls:
        shut = (np.abs(gu - wall.at) < 0.6 * CELL_M) & (gz < top)
        if wall.gap is not None:
            shut &= ~((gz > wall.gap[0]) & (gz < wall.gap[1]))
        free &= ~shut
    for u0, u1, z0, z1 in blocks:
        free &= ~((gu > u0) & (gu < u1) & (gz > z0) & (gz < z1))
    return Plane(u, z, free, under, top, span)


def _blocks(
    there: Iterable[Solid], axis: int, low: float, high: float
) -> list[tuple[float, float, float, float]]:
    """Other things in a strip from low to high across the plane's axis: u0, u1, z0, z1."""
    out = []
    for solid in there:
        b = solid.shape.bounds
        if solid.stands and b[1 - axis] < high and b[4 - axis] > low:
            out.append((b[axis], b[axis + 3], b[2], b[5]))
    return out


def _orders(gear: Gear) -> list[tuple[float, float, float]]:
    """Longest edge first, the other two both ways: long, thick in the plane, wide across it."""
    a, b, c = sorted((gear.length, gear.width, gear.height), reverse=True)
    return [(a, b, c), (a, c, b)] if abs(b - c) > 1e-6 else [(a, b, c)]


def _walls(deck: _Deck, door: Doorway | None) -> tuple[_Wall, ...]:
    """Faces that shut a deck's ends, one of them with the door that something is put through."""
    below, (x0, _, x1, _) = deck.below, deck.floor.region.bounds
    return tuple(
        _Wall(x, door.up if door is not None and abs(door.x - x) < DOOR_M else None)
        for x, end in ((x0, below.aft), (x1, below.fore)) if end.shut
    )  # fmt: skip


@dataclass(frozen=True)
class _Deck:
    """A floor with a space under it: its thing, and the openings in it by name."""

    thing: Placed
    floor: Floor
    below: Below
    holes: tuple[tuple[str, Hole], ...]


@dataclass(frozen=True)
class _Wall:
    """A face across the plane: where, and from which height to which it has a door [m]."""

    at: float
    gap: Point2 | None = None


@dataclass(frozen=True)
class _Way:
    """A way under a deck: a hatch, a door in a face, or an open end."""

    name: str
    hatch: Hole | None = None
    door: Doorway | None = None

    def strip(self, along: bool) -> tuple[float, float]:
        """Middle of the strip in which something goes through, and how wide that is [m]."""
        if self.hatch is not None:
            h = self.hatch
            return (h.y, h.width) if along else (h.x, h.length)
        if self.door is not None:
            low, high = self.door.across
            return ((low + high) / 2, high - low)
        return (0.0, OPEN_M)

    def hole(self, along: bool) -> Point2 | None:
        """Of a hatch: from where to where along the plane [m]."""
        h = self.hatch
        if h is None:
            return None
        centre, half = (h.x, h.length / 2) if along else (h.y, h.width / 2)
        return (centre - half, centre + half)


def _decks(things: Sequence[Placed]) -> list[_Deck]:
    return [
        _Deck(t, f, f.below, tuple((g.title, h) for g in things for h in g.built.holes if h.host == t.id))
        for t in things
        for f in t.built.floors
        if f.below is not None and not f.region.is_empty
    ]


def _ways(deck: _Deck) -> list[_Way]:
    """Hatches, doors in its faces, and an end that is open."""
    shut = deck.below.aft.shut and deck.below.fore.shut
    out = [_Way(title, hole) for title, hole in deck.holes]
    out += [_Way("a door in its face", None, door) for door in deck.below.doors]
    return out if shut else [*out, _Way("its open end")]


def _under_deck(
    gear: Gear, deck: _Deck, way: _Way, surface: HullSurface, there: Sequence[Solid]
) -> Stowed | None:
    x0, y0, x1, y1 = deck.floor.region.bounds
    for long, thick, wide in _orders(gear):
        for along in (True, False) if way.hatch is not None else (True,):
            middle, across = way.strip(along)
            if wide > across + 1e-9:
                continue
            low, high = middle - wide / 2, middle + wide / 2
            cut = buttock if along else section
            rings = [_largest(cut(surface.inside, at), 1 if along else 0) for at in (low, high)]
            span = (x0, x1) if along else (y0, y1)
            if long > math.hypot(span[1] - span[0], deck.floor.top_m):
                continue
            others = _blocks(there, 0 if along else 1, low, high)
            # through a hatch only: what is open at the ends is tried by itself
            walls = tuple(map(_Wall, span)) if way.hatch is not None else _walls(deck, way.door)
            plane = _plane(rings, deck, span, way.hole(along), others, long, walls)
            lies = way_in(plane, long, thick) if plane is not None else None
            if lies is not None:
                ring = _turned(lies[:2], (long / 2, thick / 2), lies[2])
                return _under(gear, deck.thing, way.name, along, ring, (low, high))
    return None


def _under(
    gear: Gear,
    space: Placed,
    through: str,
    along: bool,
    ring: tuple[Point2, ...],
    across: tuple[float, float],
) -> Stowed:
    """Gear under a deck. ring: in the plane that it went in by, (u, z); across: its other extent."""
    u0, u1 = min(p[0] for p in ring), max(p[0] for p in ring)
    x, y = ((u0, u1), across) if along else (across, (u0, u1))
    above = ((x[0], y[0]), (x[1], y[0]), (x[1], y[1]), (x[0], y[1]))
    z0, z1 = min(p[1] for p in ring), max(p[1] for p in ring)
    side = ring if along else ((x[0], z0), (x[1], z0), (x[1], z1), (x[0], z1))
    return Stowed(gear, space.title, through, along, u0, u1, under=True, from_above=above, from_side=side,
                  home=space.id)  # fmt: skip


def _largest(loops: list[Array], axis: int) -> Polygon:
    shape = region(loops, axis)
    pieces = [g for g in getattr(shape, "geoms", [shape]) if isinstance(g, Polygon)]
    return max(pieces, key=lambda g: g.area, default=Polygon())


def _boxes(things: Iterable[Placed]) -> list[tuple[Placed, Hold]]:
    return [(t, t.built.hold) for t in things if t.built.hold is not None]


def stow(things: Sequence[Placed], gear: Gear, surface: HullSurface) -> Stowed:
    """The first place that takes a piece of gear: a box, then under decks through their openings."""
    there = [s for t in things for s in t.built.solids]
    for thing, hold in _boxes(things):
        laid = _laid_in_box(gear, hold.clear)
        if laid is not None:
            return _in_box(gear, thing, hold, laid)
    decks = _decks(things)
    for deck in decks:
        for way in _ways(deck):
            found = _under_deck(gear, deck, way, surface, there)
            if found is not None:
                return found
    return Stowed(gear, hint=_hint(things, gear))


def _hint(things: Iterable[Placed], gear: Gear) -> str:
    """What to do about a thing that finds no way in."""
    _, b, c = sorted((gear.length, gear.width, gear.height), reverse=True)
    holes = [h for t in things for h in t.built.holes]
    if holes and any(through_opening(b, c, h.length, h.width) for h in holes):
        return "It passes a hatch, but finds no straight room beyond: clear the space, or lay it open."
    if holes:
        return "No hatch lets it through: make one larger, or leave a deck's face open."
    return "There is no closed space with an opening yet: place a deck with a hatch, or a box."


def _under_deck_litres(surface: HullSurface, x0: float, x1: float, under: float) -> tuple[float, float]:
    """Volume [m3] between the hull's inside and a level, and the longest level line at half height."""
    xs = np.linspace(x0 + 1e-4, x1 - 1e-4, STATIONS)
    areas, deep = [], []
    for x in xs:
        shape = region(section(surface.inside, float(x)), 0)
        part = shape.intersection(rectangle(-20, -20, 20, under))
        areas.append(part.area)
        deep.append(under - part.bounds[1] if not part.is_empty else 0.0)
    usable = xs[np.array(deep) > 0.1]
    longest = float(usable[-1] - usable[0]) if len(usable) > 1 else 0.0
    return float(np.trapezoid(areas, xs)), longest


def spaces(things: Sequence[Placed], surface: HullSurface) -> list[Space]:
    """Every closed space with its litres: under decks (less their members), and boxes."""
    out = []
    for deck in _decks(things):
        x0, _, x1, _ = deck.floor.region.bounds
        volume, longest = _under_deck_litres(surface, float(x0), float(x1), deck.below.free_m)
        out.append(Space(deck.thing.id, f"under {deck.thing.title}", volume * 1000, longest))
    for thing, hold in _boxes(things):
        inner = hold.clear
        litres = inner[0] * inner[1] * inner[2] * 1000
        out.append(Space(thing.id, thing.title, litres, max(inner[0], inner[1])))
    return out
