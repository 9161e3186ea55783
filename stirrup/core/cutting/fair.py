"""Fair edges: a ring of points as the few lines and arcs that it is meant to be.

Cutting machines follow arcs smoothly and chords one by one; a template of arcs is drawn with a
batten. Points that lie on one circle within the tolerance become one arc, points on one line a
line; corners stay corners.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from stirrup.core.record import dataclass

Array = NDArray[np.float64]

TOLERANCE_M = 0.0001  # of a point from its arc or line; well under a scribed line
CORNER_RAD = math.radians(26)  # a sharper turn between two chords is a corner, no curve
MOST_ARC_RAD = math.pi
LEAST_CHORDS = 3  # three points lie on some circle always
# an arc may stand this far off a chord: more only where all chords are about alike, as they are
# along a curve; a straight edge between two curves is no part of either
MOST_SAGITTA_M, ALIKE = 0.00025, 1.6


@dataclass(frozen=True)
class Piece:
    """From a point to the next piece's: a line, or an arc by its bulge (tangent of a quarter of
    its angle, counter-clockwise positive)."""

    x: float
    y: float
    bulge: float = 0.0


def fair(ring: Sequence[tuple[float, float]], tolerance_m: float = TOLERANCE_M) -> list[Piece]:
    """A closed ring (first point not repeated) [m] as lines and arcs; each given point lies within
    the tolerance of them, and every piece begins at a given point."""
    points = np.array(ring, dtype=float)
    count = len(points)
    if count < 3:
        return [Piece(float(x), float(y)) for x, y in points]
    turn = _turns(points)
    # the longest chord is an edge of its own, and ends where something else begins
    length = np.hypot(*(np.roll(points, -1, axis=0) - points).T)
    sharp = np.abs(turn) > CORNER_RAD
    start = int(np.argmax(sharp)) if sharp.any() else (int(np.argmax(length)) + 1) % count
    around = np.concatenate([points[start:], points[: start + 1]])
    turns = np.concatenate([turn[start:], turn[: start + 1]])
    pieces: list[Piece] = []
    at = 0
    while at < count:
        to, bulge = _farthest(around, turns, at, tolerance_m)
        pieces.append(Piece(float(around[at, 0]), float(around[at, 1]), bulge))
        at = to
    return pieces


def _turns(points: Array) -> Array:
    """Change of heading at each point of a closed ring (n,), counter-clockwise positive."""
    step = np.roll(points, -1, axis=0) - points
    heading = np.arctan2(step[:, 1], step[:, 0])
    change = heading - np.roll(heading, 1)
    return np.asarray((change + math.pi) % (2 * math.pi) - math.pi)


def _farthest(points: Array, turns: Array, at: int, tolerance: float) -> tuple[int, float]:
    """End and bulge of the longest line or arc from a point that keeps to the tolerance."""
    best = (at + 1, 0.0)
    misses = 0
    for to in range(at + 2, len(points)):
        if abs(turns[to - 1]) > CORNER_RAD:
            break
        bulge = _fits(points[at : to + 1], turns[at + 1 : to], tolerance)
        if bulge is None:
            # where a curve begins after a straight run some points more may not fit together
            misses += 1
            if misses > 2:
                break
            continue
        misses = 0
        best = (to, bulge)
    return best


def _fits(points: Array, turns: Array, tolerance: float) -> float | None:
    """Bulge of the line (0) or arc through the ends that all points keep to, else None."""
    a, b = points[0], points[-1]
    chord = b - a
    length = float(np.hypot(*chord))
    if length < 1e-9:
        return None
    along = chord / length
    inner = points[1:-1] - a
    aside = inner @ np.array([-along[1], along[0]])
    if np.abs(aside).max() <= tolerance:
        return 0.0
    one_way = (turns > -1e-9).all() or (turns < 1e-9).all()
    if len(points) <= LEAST_CHORDS or not one_way:
        return None
    # least squares of the circle through both ends: points (u, v) along and aside of the chord
    # lie on u² - L u + v² - 2 k v = 0, k the centre's distance from the chord
    u, v = inner @ along, aside
    k = float((v @ (u * u - length * u + v * v)) / (2 * (v @ v)))
    radius = math.hypot(length / 2, k)
    off = np.abs(np.hypot(u - length / 2, v - k) - radius)
    angle = 2 * math.atan2(length / 2, abs(k))
    deep = np.sign(k) == np.sign(v.sum())  # the centre lies on the arc's own side: over a half circle
    angle = 2 * math.pi - angle if deep else angle
    chords = np.hypot(*np.diff(points, axis=0).T)
    sagitta = radius - math.sqrt(max(radius**2 - (float(chords.max()) / 2) ** 2, 0.0))
    uneven = sagitta > MOST_SAGITTA_M and chords.max() > ALIKE * chords.min()
    if uneven or off.max() > tolerance or angle > MOST_ARC_RAD + 1e-6:
        return None
    return -math.copysign(math.tan(angle / 4), float(v.sum()))


def flattened(pieces: Sequence[Piece], most_sagitta_m: float = 1e-5) -> list[tuple[float, float]]:
    """The ring of lines and arcs as points that lie within the sagitta of it, for looking at."""
    out: list[tuple[float, float]] = []
    for piece, then in zip(pieces, [*pieces[1:], pieces[0]], strict=True):
        out.append((piece.x, piece.y))
        if not piece.bulge:
            continue
        angle = 4 * math.atan(piece.bulge)
        dx, dy = then.x - piece.x, then.y - piece.y
        chord = math.hypot(dx, dy)
        radius = chord / 2 / math.sin(abs(angle) / 2)
        steps = max(2, math.ceil(abs(angle) / (2 * math.acos(max(-1.0, 1 - most_sagitta_m / radius)))))
        # centre to the left of the chord for a counter-clockwise arc of less than a half circle
        away = radius * math.cos(angle / 2) * (1 if angle > 0 else -1)
        cx = (piece.x + then.x) / 2 - away * dy / chord
        cy = (piece.y + then.y) / 2 + away * dx / chord
        first = math.atan2(piece.y - cy, piece.x - cx)
        for step in range(1, steps):
            turn = first + angle * step / steps
            out.append((cx + radius * math.cos(turn), cy + radius * math.sin(turn)))
    return out
