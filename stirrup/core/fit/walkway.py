"""The narrowest place on the way forward, found on the plan.

The free floor is laid out in cells; of all ways from the stern to the bow the one whose
narrowest place is widest counts, and that place is then measured exactly.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np
import scipy
import shapely
from shapely.geometry import LineString, Polygon
from shapely.geometry import Point as FlatPoint
from shapely.ops import nearest_points

from stirrup.core.afloat.ground import Footing
from stirrup.core.document import Point2
from stirrup.core.findings import Finding, Level, Quantity, declare, plain
from stirrup.core.fittings.edges import inside_region
from stirrup.core.memo import Memo
from stirrup.core.plan.placed import Placed
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Prism

declare("layout", {"WALKWAY": "the way forward"}, acceptable=True, pace="behind")

FOUND = Memo(64)

CELL_M = 0.025
SIDE = "side"
WALK_LEAST_M, WALK_EASY_M = 0.30, 0.45  # docs/trade-rules.md, “People”
OPPOSITE = -0.7  # cosine of the angle at which two sides lie to both hands of a place
LOW_M = 0.20  # what is lower is stepped over
ENDS = (0.10, 0.82)  # shares of the length: what stands beyond is not on the way
SIDE_M = 0.30  # the sides of the boat are met at this height over the bottom


@dataclass(frozen=True)
class Passage:
    """Width of the narrowest place [m], the two points it is measured between, ids of what is there.

    Width 0 between nothing: there is no way at all.
    """

    width_m: float
    a: Point2
    b: Point2
    between: tuple[str, str]


def _cells(room: Polygon) -> tuple[np.ndarray, np.ndarray]:
    x0, y0, x1, y1 = room.bounds
    return np.arange(x0 + CELL_M / 2, x1, CELL_M), np.arange(y0 + CELL_M / 2, y1, CELL_M)


def _joined(open_: np.ndarray, start: np.ndarray, end: np.ndarray) -> bool:
    """Whether some of the start hangs together with some of the end."""
    pieces, count = scipy.ndimage.label(open_, structure=np.ones((3, 3)))
    begun = np.zeros(count + 1, dtype=bool)
    begun[pieces[start & open_]] = True
    return bool(begun[pieces[end & open_]].any())


def narrowest(
    room: Polygon, things: Sequence[tuple[str, Polygon]], start_x: float, end_x: float
) -> Passage | None:
    """The narrowest place on the best way from abaft start_x to ahead of end_x [m].

    room: inside of the boat where people's legs are; things: id and footprint of what stands in
    it. None when nothing does.
    """
    if room.is_empty or not things:
        return None
    blocked = Passage(0.0, (start_x, 0.0), (end_x, 0.0), ("", ""))
    xs, ys = _cells(room)
    gx, gy = np.meshgrid(xs, ys)
    free = shapely.contains_xy(room, gx, gy)
    for _, flat in things:
        free &= ~shapely.contains_xy(flat, gx, gy)
    start, end = free & (gx <= start_x), free & (gx >= end_x)
    if not start.any() or not end.any():
        return None
    if not _joined(free, start, end):
        return blocked
    away = scipy.ndimage.distance_transform_edt(np.pad(free, 1))[1:-1, 1:-1]
    levels = np.unique(away[free])
    low, high = 0, len(levels) - 1
    while low < high:
        middle = (low + high + 1) // 2
        if _joined(away >= levels[middle], start, end):
            low = middle
        else:
            high = middle - 1
    return _measured(room, things, away, levels[low], start, end, xs, ys)


def _measured(
    room: Polygon, things: Sequence[tuple[str, Polygon]], away: np.ndarray, level: float, start: np.ndarray,
    end: np.ndarray, xs: np.ndarray, ys: np.ndarray,
) -> Passage | None:  # fmt: skip
    """The place itself: cells of that level without which the way is cut, then exactly."""
    wide = away >= level
    pieces, count = scipy.ndimage.label(wide & np.isclose(away, level), structure=np.ones((3, 3)))
    sides = [*things, (SIDE, room.exterior)]
    best: Passage | None = None
    for number in range(1, count + 1):
        piece = pieces == number
        if _joined(wide & ~piece, start & ~piece, end & ~piece):
            continue
        for row, column in np.argwhere(piece):
            passage = _across(FlatPoint(float(xs[column]), float(ys[row])), sides)
            if passage is not None and (best is None or passage.width_m < best.width_m - 1e-9):
                best = passage
    return best


def _across(spot: FlatPoint, sides: Sequence[tuple[str, shapely.Geometry]]) -> Passage | None:
    """From the nearest side to the nearest one on the other hand of a place.

    The shortest line between the two is taken where it runs past the place; they may be nearer
    to one another somewhere else.
    """
    found = sorted(((spot.distance(shape), name, shape) for name, shape in sides), key=lambda s: s[0])
    _, name, first = found[0]
    a = nearest_points(spot, first)[1]
    to_a = np.array([a.x - spot.x, a.y - spot.y])
    for _, other, shape in found[1:]:
        b = nearest_points(spot, shape)[1]
        to_b = np.array([b.x - spot.x, b.y - spot.y])
        if float(to_a @ to_b) > OPPOSITE * float(np.linalg.norm(to_a) * np.linalg.norm(to_b)):
            continue
        p, q = nearest_points(first, shape)
        if LineString([p, q]).distance(spot) > 1.5 * CELL_M:
            p, q = a, b
        # named in the order of the plan, whichever happens to be nearer by a hair
        order = [n for n, _ in sides]
        if order.index(other) < order.index(name):
            p, q, name, other = q, p, other, name
        return Passage(float(p.distance(q)), (p.x, p.y), (q.x, q.y), (name, other))
    return None


def _on_the_way(things: Iterable[Placed], footing: Footing) -> list[tuple[str, Polygon]]:
    """Ids and footprints of what stands higher than a step over what is under it."""
    low, high = float(footing.surface.outside.low[0]), float(footing.surface.outside.high[0])
    first, last = (low + share * (high - low) for share in ENDS)
    out = []
    for solid in (s for t in things for s in t.built.solids if s.role == "body"):
        if not isinstance(solid.shape, Prism):
            continue
        middle = solid.shape.footprint.centroid
        if not first < middle.x < last:
            continue
        ground = footing.at(middle.x, middle.y)
        if ground is not None and solid.shape.high > ground.height_m + LOW_M:
            out.append((solid.id, solid.shape.footprint))
    return out


def passage(placed: Sequence[Placed], footing: Footing) -> Passage | None:
    """The narrowest place on the way past everything that stands in the boat."""
    things = _on_the_way(placed, footing)
    if not things:
        return None
    inside = footing.surface.inside
    room = inside_region(footing.surface, round(float(inside.low[2]) + SIDE_M, 3))
    start = min(f.bounds[0] for _, f in things) - 0.05
    end = max(f.bounds[2] for _, f in things) + 0.05
    key = (footing.surface.key, tuple((i, f.bounds, f.area) for i, f in things))
    return FOUND.get(key, lambda: narrowest(room, things, start, end))


def walkway_findings(things: Iterable[Placed], found: Passage | None) -> list[Finding]:
    """Whether a person gets past what stands in the boat; found: its narrowest place."""
    if found is None:
        return []
    known = {t.id: plain(t.title) for t in things} | {SIDE: "the side"}
    names = [known.get(i, i) for i in found.between]
    place = next((i for i in found.between if i not in (SIDE, "")), "crew")
    values = {"width": Quantity(found.width_m, "m"), "least": Quantity(WALK_LEAST_M, "m"),
              "easy": Quantity(WALK_EASY_M, "m")}  # fmt: skip
    if found.width_m < 0.02:
        return [
            Finding(
                "WALKWAY",
                "mend",
                place,
                "No way forward",
                "What stands there closes the way from one end to the other; {least} is the least.",
                values,
                "Open a way past it.",
            )
        ]
    text = (
        f"{{width}} between {names[0]} and {names[1]}; {{least}} is the least, {{easy}} lets a person turn."
    )
    if found.width_m >= WALK_EASY_M:
        return [Finding("WALKWAY", "fine", place, "Easy way forward", text, values)]
    level: Level = "look" if found.width_m >= WALK_LEAST_M else "mend"
    title = "Narrow way forward" if level == "look" else "Too narrow to pass"
    return [Finding("WALKWAY", level, place, title, text, values, "Move one of them.")]
