"""Outlines out of loose lines: ends that meet are joined, what lies in another is its hole.

Who reads a drawing gives runs of points, closed or open, in metres. All that cannot be taken is said, with
its place in the drawing.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from scipy.spatial import cKDTree
from shapely import polygonize_full
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.strtree import STRtree
from shapely.validation import explain_validity

from stirrup.core.document import Point2

LEAST_M2 = 1e-6  # a square millimetre: less is dust of the drawing
SHORT_M = 1e-9
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

    for a, b in cKDTree(ends).query_pairs(tolerance):
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
    tree, near = cKDTree(ends), []
    for end in (line.coords[0], line.coords[-1]):
        away, _ = tree.query(end, k=min(8, len(ends)))
        near += [float(d) for d in np.atleast_1d(away) if tolerance < d < NEAR_M]
    return f"; the next end is {min(near) * 1000:.2f} mm off" if near else ""


def _nested(rings: Sequence[Polygon], problems: list[str]) -> list[Polygon]:
    """Rings with what lies in them as holes; what lies in a hole is an outline again."""
    ordered = sorted(rings, key=lambda r: -r.area)
    kept: list[Polygon] = []
    for ring in ordered:
        # drawn twice: one of them
        if not any(abs(k.area - ring.area) < LEAST_M2 and k.symmetric_difference(ring).area < LEAST_M2
                   for k in kept):  # fmt: skip
            kept.append(ring)
    tree = STRtree(kept)
    inside: list[list[int]] = [[] for _ in kept]
    crossing: set[int] = set()
    for k, ring in enumerate(kept):
        for other in tree.query(ring):
            n = int(other)
            if n >= k:
                continue
            if kept[n].buffer(SHORT_M).contains(ring):
                inside[k].append(n)
            elif kept[n].intersection(ring).area > LEAST_M2:
                crossing |= {k, n}
                at = ring.representative_point()
                problems.append(f"two outlines lie across one another near {_at((at.x, at.y))}")
    out = []
    for k, ring in enumerate(kept):
        if k in crossing or len(inside[k]) % 2:
            continue
        within = (n for n in range(k + 1, len(kept)) if k in inside[n] and n not in crossing)
        holes = [kept[n].exterior.coords for n in within if len(inside[n]) == len(inside[k]) + 1]
        out.append(Polygon(ring.exterior.coords, holes))
    return out
