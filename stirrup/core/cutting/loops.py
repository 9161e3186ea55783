"""Outlines out of loose lines: ends that meet are joined, what lies in another is its hole.

Who reads a drawing gives runs of points, closed or open, in metres. All that cannot be taken is said, with
its place in the drawing.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

import numpy as np
import scipy
from shapely import polygonize_full
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.strtree import STRtree
from shapely.validation import explain_validity

from stirrup.core.document import Point2
from stirrup.core.record import dataclass

LEAST_M2 = 1e-6  # a square millimetre: less is dust of the drawing
SHORT_M = 1e-9
SAME_M = 1e-5
MOST_ALIKE, MOST_CROSSING = 3, 50
MOST_RINGS = 1500
MOST_MEETING = 40  # ends at one place, on the average
NEAR_M = 0.02  # a gap that somebody may have meant to be none
MOST_SAID = 20


@dataclass(frozen=True)
class Joined:
    """Outlines with their holes [m], the largest first, and what could not be taken, in words with places
    in millimetres of the drawing."""

    outlines: tuple[Polygon, ...]
    problems: tuple[str, ...]


def _at(point: Sequence[float]) -> str:
    return f"({point[0] * 1000:.1f}, {point[1] * 1000:.1f})"


def _long(run: Sequence[Point2]) -> float:
    return sum(math.dist(a, b) for a, b in pairwise(run))


def join(runs: Sequence[Sequence[Point2]], tolerance: float) -> Joined:
    """Loops of the runs, whose ends are joined where they are no further apart than `tolerance` [m]."""
    problems: list[str] = []
    rings: list[Polygon] = []
    loose: list[Sequence[Point2]] = []
    for raw in runs:
        run = [p for k, p in enumerate(raw) if not k or math.dist(p, raw[k - 1]) > SHORT_M]
        if len(run) < 2 or _long(run) < SHORT_M:
            continue
        if len(run) > 3 and math.dist(run[0], run[-1]) <= tolerance:
            rings.append(Polygon([*run[:-1], run[0]]))
        else:
            loose.append(run)
    rings += _joined(loose, tolerance, problems)
    sound = []
    for ring in rings:
        if ring.is_valid:
            if ring.area >= LEAST_M2:
                sound.append(ring)
        elif ring.envelope.area >= LEAST_M2:
            why = explain_validity(ring).split("[")
            x, y = (
                (float(v) for v in why[1].rstrip("]").split()[:2])
                if len(why) > 1
                else ring.exterior.coords[0]
            )
            problems.append(f"an outline crosses or touches itself at {_at((x, y))}")
    return Joined(tuple(_nested(sound, problems)), _cut_short(problems))


def _cut_short(problems: list[str]) -> tuple[str, ...]:
    more = len(problems) - MOST_SAID
    return tuple(problems) if more <= 0 else (*problems[:MOST_SAID], f"and {more} more")


def _joined(loose: Sequence[Sequence[Point2]], tolerance: float, problems: list[str]) -> list[Polygon]:
    """Faces that open runs close once their ends are pulled together."""
    if not loose:
        return []
    ends = np.array([p for run in loose for p in (run[0], run[-1])])
    root = np.arange(len(ends))

    def top(k: int) -> int:
        while root[k] != k:
            root[k] = root[root[k]]
            k = int(root[k])
        return k

    tree = scipy.spatial.cKDTree(ends)
    if tree.count_neighbors(tree, tolerance) > MOST_MEETING * len(ends):
        problems.append("so many lines end on one another that nobody can tell which go on: draw it once")
        return []
    for a, b in tree.query_pairs(tolerance):
        root[max(top(a), top(b))] = min(top(a), top(b))
    lines = []
    for n, run in enumerate(loose):
        first, last = (ends[top(2 * n + k)] for k in (0, 1))
        path = [(float(first[0]), float(first[1])), *run[1:-1], (float(last[0]), float(last[1]))]
        if _long(path) > SHORT_M:
            lines.append(LineString(path))
    faces, cuts, dangles, invalid = polygonize_full(lines)
    for left in (cuts, dangles, invalid):
        for line in left.geoms:
            a, b = line.coords[0], line.coords[-1]
            problems.append(
                f"a line from {_at(a)} to {_at(b)} closes no outline{_gap(line, ends, tolerance)}"
            )
    return list(faces.geoms)


def _gap(line: BaseGeometry, ends: np.ndarray, tolerance: float) -> str:
    """How far off the next end of another line is, where that is near."""
    tree, near = scipy.spatial.cKDTree(ends), []
    for end in (line.coords[0], line.coords[-1]):
        away, _ = tree.query(end, k=min(8, len(ends)))
        near += [float(d) for d in np.atleast_1d(away) if tolerance < d < NEAR_M]
    return f"; the next end is {min(near) * 1000:.2f} mm off" if near else ""


def _once(rings: Sequence[Polygon]) -> list[Polygon]:
    """The rings, the largest first, of those drawn twice one."""
    known: dict[tuple[int, ...], list[Polygon]] = {}
    out = []
    for ring in sorted(rings, key=lambda r: -r.area):
        place = tuple(round(v / SAME_M) for v in (*ring.bounds, ring.area))
        alike = known.setdefault(place, [])
        if not any(a.symmetric_difference(ring).area < LEAST_M2 for a in alike[:MOST_ALIKE]):
            alike.append(ring)
            out.append(ring)
    return out


def _nested(rings: Sequence[Polygon], problems: list[str]) -> list[Polygon]:
    """Rings with what lies in them as holes; what lies in a hole is an outline again."""
    kept = _once(rings)
    if not kept:
        return []
    if len(kept) > MOST_RINGS:
        problems.insert(0, f"{len(kept)} closed lines; accepted: up to {MOST_RINGS}, holes too")
        return []
    tree = STRtree(kept)
    inside: list[set[int]] = [set() for _ in kept]
    outer, inner = tree.query(kept, predicate="covers")
    for a, b in zip(outer.tolist(), inner.tolist(), strict=True):
        if a != b:
            inside[b].add(a)
    crossing: set[int] = set()
    for a, b in zip(*(side.tolist() for side in tree.query(kept, predicate="overlaps")), strict=True):
        if a < b and kept[a].intersection(kept[b]).area > LEAST_M2:
            crossing |= {a, b}
            at = kept[b].representative_point()
            problems.append(f"two outlines lie across one another near {_at((at.x, at.y))}")
            if len(crossing) > MOST_CROSSING:
                break
    holes: dict[int, list[int]] = {}
    for n, around in enumerate(inside):
        if len(around) % 2 and n not in crossing:
            # the one right around it lies in all others that do
            holes.setdefault(max(around, key=lambda k: len(inside[k])), []).append(n)
    return [
        Polygon(ring.exterior.coords, [kept[n].exterior.coords for n in holes.get(k, ())])
        for k, ring in enumerate(kept)
        if k not in crossing and not len(inside[k]) % 2
    ]
