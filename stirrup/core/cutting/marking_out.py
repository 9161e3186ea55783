"""Marking out: how a panel is drawn on its sheet with tape and square.

Corners, ordinates of its curves, cut-outs, bends, and diagonals that prove it square; all of it measured
from the left and the lower edge of the box around it, as it is drawn.
"""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np
import shapely
from shapely import box
from shapely.geometry import LineString, Polygon

from stirrup.core.cutting.fair import Piece, fair
from stirrup.core.document import Point, Point2
from stirrup.core.parts.model import Frame, Panel, Ring
from stirrup.core.record import dataclass

CORNER_DEG = 8.0  # a smaller change of heading is drawn with the batten
STRAIGHT_M = 0.0005  # an edge that leaves its chord by more has ordinates
LEVEL_M, LEAST_EDGE_M = 0.0002, 0.03  # of an edge that runs along the box: off it, and how long
SAME_M = 0.0003  # between a shape and the one that it is told as
ALIKE, ROUND = 0.01, 0.95  # of a circle of chords: its corners' distances, its area for its girth
FEWEST, MOST = 5, 24  # stations along a panel
STEPS_M = (0.02, 0.025, 0.05, 0.1, 0.2, 0.25, 0.5)
STEPS_IN = tuple(n * 0.0254 for n in (1, 2, 3, 4, 6, 12, 24))
TOWARDS = (("forward", "aft"), ("to port", "to starboard"), ("up", "down"))
SEEN = (("from ahead", "from aft"), ("from port", "from starboard"), ("from above", "from below"))


@dataclass(frozen=True)
class Cutout:
    """A hole: what it is like, its middle, its size along and up, and the radius of its corners [m]."""

    what: str
    at: Point2
    size: Point2
    radius: float = 0.0


@dataclass(frozen=True)
class Station:
    """Ordinates of a panel's edge at a distance along it: the lower and the upper one [m]."""

    at: float
    low: float
    high: float


@dataclass(frozen=True)
class Diagonal:
    """From one corner to another, by their numbers from 1 [m]."""

    one: int
    other: int
    length: float


@dataclass(frozen=True)
class MarkedOut:
    """A panel to be drawn on its sheet: the size of its box, what it is as a whole where that has a name,
    corners, stations (upright: they run up instead of along, as its curves do), cut-outs, diagonals, bends;
    from where it is seen; which way its right and its upper edge look in the boat."""

    size: Point2
    whole: Cutout | None
    corners: tuple[Point2, ...]
    stations: tuple[Station, ...]
    upright: bool
    cutouts: tuple[Cutout, ...]
    diagonals: tuple[Diagonal, ...]
    bends: tuple[tuple[Point2, Point2], ...]
    seen: str
    right: str
    top: str
    # from the left and from below: edges that run along the box, where they end in a curve too
    straight: tuple[tuple[float, ...], tuple[float, ...]] = ((), ())


def marked_out(panel: Panel, inches: bool = False) -> MarkedOut:
    """A panel to be drawn on its sheet. inches: stations come at whole inches."""
    u0, v0, u1, v1 = panel.polygon.bounds
    ring = tuple((u - u0, v - v0) for u, v in panel.outline)
    whole = told_as(ring)
    corners = () if whole and whole.what == "round" else tuple(_corners(ring))
    size, run = (u1 - u0, v1 - v0), (0.0, 0.0) if whole else _curves(ring, corners)
    upright = run[1] > run[0]
    stations = _stations(ring, upright, inches) if max(run) > 0 else ()
    cutouts = tuple(_cutout(tuple((u - u0, v - v0) for u, v in hole)) for hole in panel.holes)
    bends = tuple(((b.start[0] - u0, b.start[1] - v0), (b.end[0] - u0, b.end[1] - v0)) for b in panel.bends)
    seen, right, top = _looks(panel.frame)
    return MarkedOut(size, whole, corners, stations, upright, cutouts, _diagonals(corners, size), bends,
                     seen, right, top, (_straight(ring, 0), _straight(ring, 1)))  # fmt: skip


def _straight(ring: Ring, axis: int) -> tuple[float, ...]:
    """Places along an axis of edges that run square to it [m]."""
    ends = zip(ring, (*ring[1:], ring[0]), strict=True)
    return tuple(sorted({
        round(a[axis], 5) for a, b in ends
        if abs(a[axis] - b[axis]) < LEVEL_M and abs(a[1 - axis] - b[1 - axis]) >= LEAST_EDGE_M
    }))  # fmt: skip


def told_as(ring: Ring) -> Cutout | None:
    """A ring that is a circle, or a rectangle along the axes with rounded corners or sharp; else None."""
    shape = Polygon(ring)
    x0, y0, x1, y1 = shape.bounds
    size, at = (x1 - x0, y1 - y0), ((x0 + x1) / 2, (y0 + y1) / 2)
    away = [math.dist(at, p) for p in ring]
    girth = 4 * math.pi * shape.area / shape.length**2  # 1 for a circle
    if max(away) - min(away) < ALIKE * max(away) and girth > ROUND:
        return Cutout("round", at, (2 * max(away), 2 * max(away)), max(away))
    missing = max(size[0] * size[1] - shape.area, 0.0)
    radius = math.sqrt(missing / (4 - math.pi))
    if radius < 10 * SAME_M and missing < SAME_M * (size[0] + size[1]):
        return Cutout("rectangle", at, size)
    if radius * 2 > min(size):
        return None
    rounded = box(x0, y0, x1, y1).buffer(-radius, join_style="mitre").buffer(radius, quad_segs=16)
    if shape.hausdorff_distance(rounded) > 0.002:
        return None
    return Cutout("rectangle with rounded corners", at, size, radius)


def _cutout(ring: Ring) -> Cutout:
    found = told_as(ring)
    if found is not None:
        return found
    x0, y0, x1, y1 = Polygon(ring).bounds
    return Cutout("cut-out, see its file", ((x0 + x1) / 2, (y0 + y1) / 2), (x1 - x0, y1 - y0))


def _headings(a: Piece, b: Piece) -> tuple[float, float]:
    """Headings at both ends of the line or arc from a piece's point to the next one's [rad]."""
    chord, half = math.atan2(b.y - a.y, b.x - a.x), 2 * math.atan(a.bulge)
    return chord - half, chord + half


def _corners(ring: Ring) -> list[Point2]:
    """Where the outline changes its heading by more than a batten does."""
    pieces = fair(ring)
    around = [*pieces, pieces[0]]
    ways = [_headings(a, b) for a, b in pairwise(around)]
    out = []
    for k, piece in enumerate(pieces):
        turn = (ways[k][0] - ways[k - 1][1] + math.pi) % (2 * math.pi) - math.pi
        if abs(math.degrees(turn)) > CORNER_DEG:
            out.append((piece.x, piece.y))
    # the first one is at the left below
    first = min(range(len(out)), key=lambda n: math.hypot(*out[n]), default=0)
    return [*out[first:], *out[:first]]


def _curves(ring: Ring, corners: tuple[Point2, ...]) -> Point2:
    """How far the edges that leave their chords run, along and up, in all [m]."""
    if len(corners) < 2:
        x0, y0, x1, y1 = Polygon(ring).bounds
        return (x1 - x0, y1 - y0)
    places = [ring.index(c) for c in corners]
    run = [0.0, 0.0]
    for k, start in enumerate(places):
        end = places[(k + 1) % len(places)]
        between = ring[start : end + 1] if end > start else (*ring[start:], *ring[: end + 1])
        chord = LineString([between[0], between[-1]])
        if shapely.distance(chord, shapely.points(between)).max() > STRAIGHT_M:
            run[0] += abs(between[-1][0] - between[0][0])
            run[1] += abs(between[-1][1] - between[0][1])
    return (run[0], run[1])


def _step_m(long: float, inches: bool) -> float:
    """The widest step that gives enough stations, a whole number of millimetres or inches."""
    steps = STEPS_IN if inches else STEPS_M
    fitting = [s for s in steps if long / s >= FEWEST] or [steps[0]]
    wide = [s for s in fitting if long / s <= MOST]
    return min(wide) if wide else max(fitting)


def _stations(ring: Ring, upright: bool, inches: bool) -> tuple[Station, ...]:
    """Where the outline lies at even distances along it, and at both of its ends."""
    shape = Polygon([(v, u) for u, v in ring] if upright else ring)
    x0, y0, x1, y1 = shape.bounds
    step = _step_m(x1 - x0, inches)
    marks = [*np.arange(0.0, x1 - x0, step), x1 - x0]
    if len(marks) > 2 and marks[-1] - marks[-2] < step / 4:
        del marks[-2]
    out = []
    for at in marks:
        # at the very ends the line may lie along an edge or touch a corner
        inside = min(max(x0 + at, x0 + 1e-7), x1 - 1e-7)
        met = shape.intersection(LineString([(inside, y0 - 1), (inside, y1 + 1)]))
        if not met.is_empty:
            _, low, _, high = met.bounds
            out.append(Station(float(at), float(low - y0), float(high - y0)))
    return tuple(out)


def _diagonals(corners: tuple[Point2, ...], size: Point2) -> tuple[Diagonal, ...]:
    """Between the corners that lie nearest to those of the box, crosswise."""
    if len(corners) < 4:
        return ()
    box_ = ((0.0, 0.0), (size[0], 0.0), size, (0.0, size[1]))
    found = [int(np.argmin([math.dist(c, at) for c in corners])) for at in box_]
    if len(set(found)) < 4:
        return ()
    return tuple(
        Diagonal(a + 1, b + 1, math.dist(corners[a], corners[b]))
        for a, b in ((found[0], found[2]), (found[1], found[3]))
    )


def _looks(frame: Frame) -> tuple[str, str, str]:
    """From where a panel is seen as it is drawn, and which way its right and its upper edge look."""
    (a, b, c), (d, e, f) = frame.along, frame.across
    normal = (b * f - c * e, c * d - a * f, a * e - b * d)
    (seen_axis, seen_way), right, top = (_main(v) for v in (normal, frame.along, frame.across))
    return (SEEN[seen_axis][seen_way], TOWARDS[right[0]][right[1]], TOWARDS[top[0]][top[1]])


def _main(way: Point) -> tuple[int, int]:
    """The axis that a direction mostly goes along, and 1 where it goes against it."""
    axis = int(np.argmax(np.abs(np.array(way))))
    return axis, int(way[axis] < 0)
