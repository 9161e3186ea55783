"""From a photo to a flat thing that is on it, by four points that are known on both.

A plane seen by a lens that bends no lines is seen by a projective map: x = (h11 u + h12 v + h13) / w,
y = (h21 u + h22 v + h23) / w, w = h31 u + h32 v + 1; four points give its eight numbers.
Source: direct linear transformation, any textbook of photogrammetry.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from stirrup.core.document import Point2
from stirrup.core.errors import CoreError
from stirrup.core.record import dataclass

FLAT = 1e-3  # twice the area of a triangle of three marks over the square of their spread: nearly in line


@dataclass(frozen=True)
class Projective:
    """A map of the plane: its 3 x 3 matrix, and the sign of w on the side of the horizon that is seen."""

    matrix: NDArray[np.float64]
    side: float = 1.0

    def at(self, u: float, v: float) -> Point2:
        """Where a point goes. Raises CoreError for one on the horizon or beyond it."""
        x, y, w = (self.matrix @ (u, v, 1.0)).tolist()
        if w * self.side <= 1e-9:
            raise CoreError("this mark lies at or over the horizon of the plane; set it nearer", "marks")
        return x / w, y / w

    @property
    def back(self) -> Projective:
        """The map the other way."""
        # M^-1 (x, y, 1) = (u, v, 1) / w: the same sign
        return Projective(np.asarray(np.linalg.inv(self.matrix), float), self.side)

    def finest(self, u: float, v: float, step: float) -> float:
        """How far apart, at most, points land that lie `step` apart at (u, v)."""
        x, y = self.at(u, v)
        near = (self.at(u + step, v), self.at(u, v + step))
        return float(max(np.hypot(a - x, b - y) for a, b in near))


def projective(seen: Sequence[Point2], known: Sequence[Point2]) -> Projective:
    """The map that takes four seen points to four known ones, in order. Raises CoreError where three of
    either lie nearly in line, or where they run round the other way."""
    for points, what in ((seen, "marks on the photo"), (known, "points they stand for")):
        turns = [_turn(points[k], points[(k + 1) % 4], points[(k + 2) % 4]) for k in range(4)]
        spread = max(np.hypot(p[0] - q[0], p[1] - q[1]) for p in points for q in points)
        if spread == 0 or min(map(abs, turns)) < FLAT * spread**2:
            raise CoreError(
                f"three of the {what} lie nearly in one line; set all four further apart", "marks"
            )
        if min(turns) < 0 < max(turns):
            raise CoreError(
                f"the four {what} cross over; accepted: once round, in the order given", "marks"
            )
    # about the middle of the marks, which is in sight whatever the corner of the photo is
    mu, mv = (sum(p[k] for p in seen) / 4 for k in range(2))
    rows, right = [], []
    for (u0, v0), (x, y) in zip(seen, known, strict=True):
        u, v = u0 - mu, v0 - mv
        rows += [[u, v, 1, 0, 0, 0, -u * x, -v * x], [0, 0, 0, u, v, 1, -u * y, -v * y]]
        right += [x, y]
    h = np.linalg.solve(np.array(rows, float), np.array(right, float))
    return Projective(np.append(h, 1.0).reshape(3, 3) @ [[1, 0, -mu], [0, 1, -mv], [0, 0, 1]])


def _turn(a: Point2, b: Point2, c: Point2) -> float:
    """Twice the signed area of a triangle."""
    return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
