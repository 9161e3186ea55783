"""The hull's own lines at given stations, and which of them is the chine."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from stirrup.core.hull.mesh import HullSurface

Array = NDArray[np.float64]


def line_at(line: Array, xs: Array) -> Array:
    """Points of a line at x, (n, 3); beyond its ends NaN."""
    order = np.argsort(line[:, 0])
    x = line[order, 0]
    out = [np.interp(xs, x, line[order, k], left=np.nan, right=np.nan) for k in (1, 2)]
    return np.column_stack([xs, *out])


def is_bottom(inner: Array, outer: Array) -> bool:
    """Whether the strip between two lines (n, 3) looks more down than outboard, in the mean."""
    there = ~(np.isnan(inner).any(axis=1) | np.isnan(outer).any(axis=1))
    if not there.any():
        return False
    out, up = (float(np.abs(outer[there, k] - inner[there, k]).mean()) for k in (1, 2))
    return out > up


def chine_of(lines: Sequence[Array]) -> int:
    """Number of the line where the bottom ends, of lines at the same stations from the keel to the sheer;
    0 where her sides begin at the keel."""
    number = 0
    while number + 1 < len(lines) - 1 and is_bottom(lines[number], lines[number + 1]):
        number += 1
    return number


def lines_at(surface: HullSurface, hand: int, xs: Array) -> list[Array]:
    """All lines of one side, port +1, at x [m]."""
    return [line_at(line, xs) for line in surface.lines[0 if hand > 0 else 1]]
