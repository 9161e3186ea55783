"""Whether a stiff thing gets from above a deck to a place under it, in one upright plane.

It is swept through configuration space: at every tilt the obstacles are grown by the thing's outline, and
what is free and connected from above the deck to under it is a way in. Cells are 25 mm, and tilts so fine
that no end moves further, so answers are good to about a cell.
"""

from __future__ import annotations

import math

import numpy as np
import scipy
from numpy.typing import NDArray

from stirrup.core.loops import compiled
from stirrup.core.record import dataclass

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]
Ints = NDArray[np.int64]
CELL_M = 0.025
TILT_DEG = 5.0


@dataclass(frozen=True)
class Plane:
    """A vertical plane through an opening: what is free in it on a grid of (u, z)."""

    u: Array
    z: Array
    free: Mask
    under: float
    top: float
    span: tuple[float, float]


def _spread_by_arrays(blocked: Mask, first: Ints, last: Ints) -> Mask:
    rows, columns = blocked.shape
    middle, out = len(first) // 2, np.zeros_like(blocked)
    sums = np.concatenate([np.zeros((rows, 1), int), blocked.cumsum(axis=1)], axis=1)
    at = np.arange(columns)
    for k, (a, b) in enumerate(zip(first.tolist(), last.tolist(), strict=True)):
        low, high = np.clip(at + a, 0, columns), np.clip(at + b + 1, 0, columns)
        hit = sums[:, high] > sums[:, low]
        by = k - middle
        to = slice(max(0, -by), max(0, min(rows, rows - by)))
        if to.start < to.stop:
            out[to] |= hit[to.start + by : to.stop + by]
    return out


@compiled(_spread_by_arrays)
def spread(blocked: Mask, first: Ints, last: Ints) -> Mask:
    """Cells about which some blocked cell lies within a shape. blocked: (rows, columns); the shape has an
    odd number of rows, its middle one at the cell, each from column `first` to `last` beside that, (n,);
    beyond the grid nothing is blocked."""
    rows, columns = blocked.shape
    middle = len(first) // 2
    pad = max(np.abs(first).max(), np.abs(last).max())
    there = np.zeros((rows, columns + 2 * pad), np.uint8)
    there[:, pad : pad + columns] = blocked
    # what is blocked from a cell on to so many beside it; rows of the shape in the order of their widths
    hit, wide = there.copy(), 0
    out = np.zeros((rows, columns), np.uint8)
    for k in np.argsort(last - first):
        while wide < last[k] - first[k]:
            wide += 1
            for i in range(rows):
                row, beside = hit[i], there[i, wide:]
                for j in range(len(beside)):
                    row[j] |= beside[j]
        if last[k] < first[k]:
            continue
        by, at = k - middle, pad + first[k]
        for i in range(max(0, -by), min(rows, rows - by)):
            row, beside = out[i], hit[i + by, at : at + columns]
            for j in range(len(beside)):
                row[j] |= beside[j]
    return out.astype(np.bool_)


def _grown(blocked: Mask, long: float, thick: float, angle: float) -> Mask:
    """Cells where the middle of a thing cannot be: obstacles grown by its outline."""
    reach = math.ceil((abs(long * math.cos(angle)) + abs(thick * math.sin(angle))) / 2 / CELL_M) + 1
    rise = math.ceil((abs(long * math.sin(angle)) + abs(thick * math.cos(angle))) / 2 / CELL_M) + 1
    gu, gz = np.meshgrid(np.arange(-reach, reach + 1), np.arange(-rise, rise + 1))
    c, s = math.cos(angle), math.sin(angle)
    # a cell counts once the thing's outline is past its middle; thinner than a cell it would have gaps
    shape: Mask = (np.abs(gu * c + gz * s) * CELL_M < long / 2 - CELL_M / 4) & (
        np.abs(gz * c - gu * s) * CELL_M < max(thick / 2 - CELL_M / 4, CELL_M / 2 * (abs(c) + abs(s)))
    )
    first = np.where(shape.any(axis=1), shape.argmax(axis=1), 1) - reach
    last = np.where(shape.any(axis=1), reach - shape[:, ::-1].argmax(axis=1), -reach)
    return spread(blocked, first, last)


def way_in(plane: Plane, long: float, thick: float) -> tuple[float, float, float] | None:
    """Where the middle of a thing can lie under the deck: u, z [m] and tilt [rad], if it gets there."""
    # so fine that the ends of the thing move by less than a cell from one tilt to the next
    count = math.ceil(180.0 / min(TILT_DEG, math.degrees(CELL_M / (long / 2))))
    angles = np.linspace(-90.0, 90.0, count, endpoint=False)
    free, start, goal = [], [], []
    zz = plane.z[:, None]
    edge = ~plane.free
    for degrees in angles:
        a = math.radians(float(degrees))
        half = (abs(long * math.sin(a)) + abs(thick * math.cos(a))) / 2
        side = (abs(long * math.cos(a)) + abs(thick * math.sin(a))) / 2 - CELL_M / 2
        within = (plane.u - side >= plane.span[0]) & (plane.u + side <= plane.span[1])
        open_ = ~_grown(edge, long, thick, a)
        free.append(open_)
        start.append(open_ & (zz - half >= plane.top))
        goal.append(open_ & within & (zz + half <= plane.under + CELL_M / 2) & (abs(degrees) <= 45))
    # the thing is the same at -90 and 90 degrees: the first tilt once more at the end
    stack = np.stack([*free, free[0]])
    pieces, number = scipy.ndimage.label(stack, structure=np.ones((3, 3, 3)))
    reached = set(np.flatnonzero(np.bincount(pieces[:-1][np.stack(start)])).tolist()) - {0}
    while True:
        pairs = {(int(p), int(q)) for p, q in zip(pieces[0][free[0]], pieces[-1][free[0]], strict=True)}
        more = {q for p, q in pairs if p in reached} | {p for p, q in pairs if q in reached}
        if more <= reached:
            break
        reached |= more
    known = np.zeros(number + 1, dtype=bool)
    known[list(reached)] = True
    there = known[pieces[:-1]] & np.stack(goal)
    if not there.any():
        return None
    # it comes to rest as level as it can, and as low
    places = np.argwhere(there)
    tilt, row, column = places[np.lexsort((places[:, 1], np.abs(angles[places[:, 0]])))[0]]
    return float(plane.u[column]), float(plane.z[row]), math.radians(float(angles[tilt]))
