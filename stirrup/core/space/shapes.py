"""Two kinds of shape that can get in one another's way: upright prisms and swept sectors."""

from __future__ import annotations

from collections.abc import Iterable
from struct import Struct

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import box as rectangle
from shapely.geometry import MultiPoint, Polygon

from stirrup.core.document import Point, Point2
from stirrup.core.kept import kept_property
from stirrup.core.memo import Key
from stirrup.core.record import dataclass
from stirrup.core.space.convex import Convex, body, upright, ways_clear

Array = NDArray[np.float64]
Bounds = tuple[float, float, float, float, float, float]  # x0, y0, z0, x1, y1, z1

# way a shape can go to get clear: axis and sign
WAYS: dict[str, tuple[int, int]] = {
    "forward": (0, 1),
    "aft": (0, -1),
    "to port": (1, 1),
    "to starboard": (1, -1),
    "up": (2, 1),
    "down": (2, -1),
}
SIX = Struct("6d")
MANY_CORNERS = 24
PART_M = 0.05  # beyond the other shape
TOUCH_M = 0.001  # shapes that share less than this touch, and that is no clash


@dataclass(frozen=True)
class Prism:
    """A footprint in plan between two heights [m], the least and the greatest.

    rise: of its two faces for each metre forward, where they do not lie level.
    """

    footprint: Polygon
    low: float
    high: float
    rise: float = 0.0

    @kept_property
    def bounds(self) -> Bounds:
        x0, y0, x1, y1 = self.footprint.bounds
        return (x0, y0, self.low, x1, y1, self.high)

    @kept_property
    def box(self) -> bytes:
        """Its bounds as they lie in an array."""
        return SIX.pack(*self.bounds)

    @kept_property
    def key(self) -> Key:
        """Tells shapes apart by their content."""
        return Key((self.footprint.wkb, self.low, self.high, self.rise))

    def lean(self, rise: float) -> Prism:
        """The same with all of it raised by `rise` for each metre forward of x = 0."""
        x0, _, x1, _ = self.footprint.bounds
        ends = [self.over(x) for x in (x0, x1)]
        low = min(z + rise * x for x, (z, _) in zip((x0, x1), ends, strict=True))
        high = max(z + rise * x for x, (_, z) in zip((x0, x1), ends, strict=True))
        return Prism(self.footprint, low, high, self.rise + rise)

    def over(self, x: float) -> tuple[float, float]:
        """Heights of its lower and its upper face at x [m]."""
        if not self.rise:
            return self.low, self.high
        x0, _, x1, _ = self.footprint.bounds
        lowest, highest = (x0, x1) if self.rise > 0 else (x1, x0)
        return self.low + self.rise * (x - lowest), self.high + self.rise * (x - highest)

    def between(self, x0: float, x1: float) -> tuple[float, float]:
        """The range of heights that it fills from one x to another [m]."""
        if not self.rise:
            return self.low, self.high
        ends = (self.over(x0), self.over(x1))
        return min(z for z, _ in ends), max(z for _, z in ends)

    @kept_property
    def convex(self) -> bool:
        """Whether the footprint is convex and without holes."""
        return bool(not self.footprint.interiors and self.around.area - self.footprint.area < 1e-6)

    @kept_property
    def around(self) -> Polygon:
        """Convex hull of the footprint."""
        return self.footprint.convex_hull

    @kept_property
    def slimmer(self) -> Polygon:
        """The footprint less a touch all round."""
        return self.footprint.buffer(-TOUCH_M)

    @kept_property
    def body(self) -> Convex:
        """The prism over the convex hull of the footprint."""
        ring = shapely.get_coordinates(self.around.exterior)[:-1]
        if not self.rise:
            return upright(ring, self.low, self.high)
        faces = [np.column_stack([ring, [self.over(x)[k] for x, _ in ring]]) for k in (0, 1)]
        return body(np.concatenate(faces))

    @kept_property
    def straight(self) -> bool:
        """Whether it is a box on the boat's axes."""
        x0, y0, x1, y1 = self.footprint.bounds
        return bool(not self.rise and abs(self.footprint.area - (x1 - x0) * (y1 - y0)) < 1e-9)


@dataclass(frozen=True)
class Swept:
    """A convex body by its corners, such as the sector that a lid sweeps; points: (n, 3) [m]."""

    corners: tuple[Point, ...]

    @kept_property
    def key(self) -> Key:
        """Tells shapes apart by their content."""
        return Key(self.corners)

    @kept_property
    def points(self) -> Array:
        return np.array(self.corners)

    def lean(self, rise: float) -> Swept:
        """The same with all of it raised by `rise` for each metre forward of x = 0."""
        return Swept(tuple((x, y, z + rise * x) for x, y, z in self.corners))

    @kept_property
    def body(self) -> Convex:
        """The convex body of the corners."""
        return body(self.points)

    @kept_property
    def bounds(self) -> Bounds:
        # a few corners are looked through before an array of them is made
        xs, ys, zs = zip(*self.corners, strict=True)
        return (min(xs), min(ys), min(zs), max(xs), max(ys), max(zs))

    @kept_property
    def box(self) -> bytes:
        """Its bounds as they lie in an array."""
        return SIX.pack(*self.bounds)

    @property
    def flat(self) -> tuple[float, float, float, float]:
        """The box around it in plan."""
        return (self.bounds[0], self.bounds[1], self.bounds[3], self.bounds[4])

    @property
    def straight(self) -> bool:
        return False

    @kept_property
    def _seen(self) -> dict[tuple[int, int], list[Point2]]:
        return {}

    def outline(self, axes: tuple[int, int]) -> list[Point2]:
        """Its outline seen along the third axis [m]; empty edge on."""
        if axes not in self._seen:
            hull = MultiPoint(self.points[:, list(axes)]).convex_hull
            flat = hull.exterior.coords[:-1] if isinstance(hull, Polygon) else []
            self._seen[axes] = [(float(x), float(y)) for x, y in flat]
        return self._seen[axes]


Shape = Prism | Swept


def bounds_of(shapes: Iterable[Shape]) -> Array:
    """(n, 6) bounds of shapes."""
    return np.frombuffer(b"".join([shape.box for shape in shapes])).reshape(-1, 6)


def meeting(p: Array, q: Array) -> list[list[int]]:
    """Numbers of the boxes of p and q, (n, 6) and (m, 6) bounds, that share more than a touch: all at once,
    in the order of p."""
    low = np.maximum(p[:, None, :3], q[None, :, :3])
    high = np.minimum(p[:, None, 3:], q[None, :, 3:])
    hits: list[list[int]] = np.argwhere((high - low > TOUCH_M).all(axis=2)).tolist()
    return hits


def near(a: Bounds, b: Bounds) -> bool:
    """Whether the boxes around two shapes share more than a touch."""
    return all(a[k] + TOUCH_M < b[k + 3] and b[k] + TOUCH_M < a[k + 3] for k in range(3))


def _box_exits(a: Bounds, b: Bounds) -> dict[str, float]:
    out = {}
    for way, (axis, sign) in WAYS.items():
        out[way] = b[axis + 3] - a[axis] if sign > 0 else a[axis + 3] - b[axis]
    return out


def _part_near(a: Shape, b: Shape) -> Shape | None:
    """Of a large curved prism only what lies about the other shape: its hundred corners are slow."""
    if isinstance(a, Swept) or len(a.footprint.exterior.coords) <= MANY_CORNERS:
        return a
    x0, y0, _, x1, y1, _ = b.bounds
    part = a.footprint.intersection(rectangle(x0 - PART_M, y0 - PART_M, x1 + PART_M, y1 + PART_M))
    pieces = [g for g in getattr(part, "geoms", [part]) if isinstance(g, Polygon) and not g.is_empty]
    if not pieces:
        return None
    largest = max(pieces, key=lambda g: g.area)
    x0, _, x1, _ = largest.bounds
    return Prism(largest.simplify(0.001), *a.between(x0, x1), a.rise)


def _ways_clear(a: Shape, b: Shape) -> tuple[list[float], list[float]] | None:
    """How one of two shapes that are near one another gets clear, along each axis and against it [m]; None
    where they share no more than a touch."""
    near_a, near_b = _part_near(a, b), _part_near(b, a)
    return None if near_a is None or near_b is None else ways_clear(near_a.body, near_b.body, TOUCH_M)


def exits(a: Shape, b: Shape) -> dict[str, float] | None:
    """How far `a` must go each way to be clear of `b` [m]; None when they share no more than a touch.

    Exact for boxes and convex bodies (Minkowski difference). For a curved deck or rail the
    distances sideways are those of the box around what is shared: they may be more than needed.
    """
    if not near(a.bounds, b.bounds):
        return None
    if a.straight and b.straight:
        return _box_exits(a.bounds, b.bounds)
    if isinstance(a, Prism) and isinstance(b, Prism) and not (a.convex and b.convex):
        common = a.footprint.intersection(b.footprint)
        if common.area < TOUCH_M * TOUCH_M:
            return None
        x0, y0, x1, y1 = common.bounds
        (a_low, a_high), (low, high) = a.between(x0, x1), b.between(x0, x1)
        if (a.rise or b.rise) and not (a_low + TOUCH_M < high and low + TOUCH_M < a_high):
            return None
        ax0, ay0, _, ax1, ay1, _ = a.bounds
        return _box_exits((ax0, ay0, a_low, ax1, ay1, a_high), (x0, y0, low, x1, y1, high))
    found = _ways_clear(a, b)
    if found is None:
        return None
    up, down = found
    return {way: (up if sign > 0 else down)[axis] for way, (axis, sign) in WAYS.items()}


def meet(a: Shape, b: Shape) -> bool:
    """Whether two shapes share more than a touch: whether there is anything for `exits` to find."""
    if not near(a.bounds, b.bounds):
        return False
    if a.straight and b.straight:
        return True
    if isinstance(a, Prism) and isinstance(b, Prism) and not (a.convex and b.convex):
        return exits(a, b) is not None
    return _ways_clear(a, b) is not None


UP_COUNTS = 4.0  # things stand on something: they are rather moved four times as far than up or down


def least(found: dict[str, float], ways: tuple[str, ...] = tuple(WAYS)) -> tuple[str, float]:
    """The way out that is easiest to go and its length [m]: the shortest, up and down counted fourfold."""
    way = min(ways, key=lambda w: found[w] * (UP_COUNTS if WAYS[w][0] == 2 else 1.0))
    return way, found[way]


_BACK = {"forward": "aft", "to port": "to starboard", "up": "down"}
BACK = _BACK | {back: way for way, back in _BACK.items()}


def the_other_way(found: dict[str, float]) -> dict[str, float]:
    """The same exits seen from the other shape: what one goes forward, the other goes aft."""
    return {BACK[way]: amount for way, amount in found.items()}
