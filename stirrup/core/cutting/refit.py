"""A panel's outline as it was tried in the boat: its lower and upper edges drawn out by gaps at marks."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from shapely import affinity
from shapely.geometry import LineString, Polygon

from stirrup.core.cutting.marking_out import marked_out
from stirrup.core.document import Point2
from stirrup.core.parts.model import Panel, panel_rings

SAME_M = 1e-6
MOST_READ = 8  # marks, and the last one
Gaps = Sequence[tuple[float, float, float]]  # along, at the lower edge, at the upper edge [m]


def marks_of(panel: Panel, inches: bool = False) -> tuple[bool, tuple[float, ...]]:
    """Where gaps are read: at stations of its ordinates, every second or third where they are many, or at
    quarters of its longer side where it has none; whether they run up."""
    out = marked_out(panel, inches)
    if out.stations:
        places = [s.at for s in out.stations]
        kept = places[:: math.ceil(len(places) / MOST_READ)]
        return out.upright, tuple(kept if kept[-1] == places[-1] else [*kept, places[-1]])
    upright = out.size[1] > out.size[0]
    long = max(out.size)
    return upright, tuple(long * k / 4 for k in range(5))


def _edges(ring: list[Point2], at: float) -> tuple[float, float] | None:
    """Lower and upper edge of an outline at a distance along it [m]."""
    x0, x1 = min(p[0] for p in ring), max(p[0] for p in ring)
    inside = min(max(at, x0 + 1e-7), x1 - 1e-7)
    met = Polygon(ring).intersection(LineString([(inside, -100), (inside, 100)]))
    return None if met.is_empty else (float(met.bounds[1]), float(met.bounds[3]))


def _with_marks(ring: list[Point2], places: Sequence[float]) -> list[Point2]:
    """The ring with a corner wherever an edge passes a mark."""
    out: list[Point2] = []
    for a, b in zip(ring, [*ring[1:], ring[0]], strict=True):
        out.append(a)
        lo, hi = sorted((a[0], b[0]))
        between = [p for p in places if lo + SAME_M < p < hi - SAME_M]
        for p in between if a[0] < b[0] else reversed(between):
            share = (p - a[0]) / (b[0] - a[0])
            out.append((p, a[1] + share * (b[1] - a[1])))
    return out


def edges_at(panel: Panel, upright: bool, at: float, corner: Point2) -> tuple[float, float] | None:
    """Lower and upper edge of a panel at a distance along it, both from a corner in its axes [m]; None
    where it does not reach."""
    ring = [(u - corner[0], v - corner[1]) for u, v in panel.outline]
    return _edges([(v, u) for u, v in ring] if upright else ring, at)


def refitted(panel: Panel, upright: bool, gaps: Gaps) -> Panel:
    """The panel with its edges drawn out by gaps at marks, straight in between; holes stay where they are.

    Gaps are given along the box of the outline as it was. What would turn the outline inside out leaves it
    as it was.
    """
    u0, v0, _, _ = panel.polygon.bounds
    ring = [(u - u0, v - v0) for u, v in panel.outline]
    if upright:
        ring = [(v, u) for u, v in ring]
    places, low, high = (np.array(row) for row in zip(*gaps, strict=True))
    moved = []
    for x, y in _with_marks(ring, places.tolist()):
        found = _edges(ring, x)
        if found is None:
            return panel
        if (
            found[1] - found[0] + float(np.interp(x, places, low) + np.interp(x, places, high))
            <= 0
            < (found[1] - found[0])
        ):
            return panel
        upper = y >= (found[0] + found[1]) / 2
        by = float(np.interp(x, places, high if upper else low))
        moved.append((x, y + by if upper else y - by))
    back = [(y, x) for x, y in moved] if upright else moved
    shape = Polygon([(u + u0, v + v0) for u, v in back])
    if not shape.is_valid or shape.area <= 0:
        return panel
    outline, _ = panel_rings(shape)
    return replace(panel, outline=outline)


TURNS = tuple((turn, flip) for flip in (False, True) for turn in (0, 90, 180, 270))
MOST_PLACES = 41


def laid_on(panel: Panel, other: Polygon) -> Polygon:
    """Another outline turned by quarters, turned over where that fits better, and shifted so that it covers
    the panel's own as well as it can: by the middles of their areas, then by small steps."""
    own, best, least = panel.polygon, other, math.inf
    solid = Polygon(other.exterior)
    target = Polygon(own.exterior)
    for turn, flip in TURNS:
        there = affinity.scale(solid, -1, 1, origin=(0, 0)) if flip else solid
        there = affinity.rotate(there, turn, origin=(0, 0))
        a, b = target.centroid, there.centroid
        there = affinity.translate(there, a.x - b.x, a.y - b.y)
        off = float(target.symmetric_difference(there).area)
        # as drawn where another way fits no better
        if off < least * (1 - 1e-3) - 1e-9:
            best, least = there, off
    step = 0.02
    while step > 0.0002:
        tried = [affinity.translate(best, u * step, v * step)
                 for u, v in ((1, 0), (-1, 0), (0, 1), (0, -1))]  # fmt: skip
        offs = [float(target.symmetric_difference(t).area) for t in tried]
        if min(offs) < least - 1e-12:
            least = min(offs)
            best = tried[offs.index(least)]
        else:
            step /= 2
    return best


def gaps_of(panel: Panel, other: Polygon, upright: bool) -> list[tuple[float, float, float]]:
    """Gaps at marks that turn the panel's outline into another one that lies on it: how far along, at its
    lower and its upper edge [m]. Empty where the other one does not reach along all of it."""
    u0, v0, u1, v1 = panel.polygon.bounds
    own = [(u - u0, v - v0) for u, v in panel.outline]
    new = [(float(u) - u0, float(v) - v0) for u, v in list(other.exterior.coords)[:-1]]
    if upright:
        own, new = ([(v, u) for u, v in ring] for ring in (own, new))
    long = v1 - v0 if upright else u1 - u0
    corners = sorted({round(u, 4) for u, _ in own})
    even = [long * k / (MOST_PLACES - 1) for k in range(MOST_PLACES)]
    places = even if len(corners) > MOST_PLACES // 2 else sorted({*corners, *even[::2]})
    out: list[tuple[float, float, float]] = []
    for at in (min(max(p, 0.0), long) for p in places):
        here, there = _edges(own, at), _edges(new, at)
        if here is None or there is None:
            return []
        if not out or at > out[-1][0] + SAME_M:
            out.append((at, here[0] - there[0], there[1] - here[1]))
    return out
