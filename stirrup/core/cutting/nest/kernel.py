"""The inner loops: outlines as strips with spans, and the first place where a part goes in.

A shape is cut into strips of one height across y. Of each strip the spans of x are kept which the shape
covers anywhere in it, exactly: so a place found is free whatever the outlines look like, along x to the
last digit and along y to the height of a strip. Spans of all strips of a shape lie one after another:
those of strip s are `start[s]` to `start[s + 1]`.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from stirrup.core.loops import compiled

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

MOST = 48  # spans in one row of a sheet; where there are more, the narrowest gap between two is given up
TOUCH_M = 1e-11
FAR_M = 1e6


@compiled()
def _in_strip(edges: Floats, low: float, high: float, levels: Floats, at: Floats) -> Floats:
    """Spans (n, 2) of x that the outlines cover anywhere between two heights, sorted and joined."""
    count = 2
    levels[0], levels[1] = low, high
    for k in range(edges.shape[0]):  # each edge starts where another ends
        if low < edges[k, 1] < high:
            levels[count] = edges[k, 1]
            count += 1
    ordered = np.sort(levels[:count])
    spans = np.empty((count * edges.shape[0], 2))
    found = 0
    for k in range(count - 1):
        under, over = ordered[k], ordered[k + 1]
        if over - under < 1e-12:
            continue
        # between two levels no edge ends: the edges across it bound trapezoids, two by two
        crossing = 0
        for e in range(edges.shape[0]):
            x0, y0, x1, y1 = edges[e]
            if min(y0, y1) <= under and max(y0, y1) >= over:
                a = x0 + (x1 - x0) * (under - y0) / (y1 - y0)
                b = x0 + (x1 - x0) * (over - y0) / (y1 - y0)
                at[crossing, 0], at[crossing, 1], at[crossing, 2] = (a + b) / 2, min(a, b), max(a, b)
                crossing += 1
        by_middle = np.argsort(at[:crossing, 0])
        for pair in range(0, crossing - 1, 2):
            spans[found, 0] = at[by_middle[pair], 1]
            spans[found, 1] = at[by_middle[pair + 1], 2]
            found += 1
    return _joined(spans[:found])


@compiled()
def _joined(spans: Floats) -> Floats:
    """Spans sorted, those that touch made one."""
    out = spans[np.argsort(spans[:, 0])]
    count = 0
    for k in range(out.shape[0]):
        if count and out[k, 0] <= out[count - 1, 1] + TOUCH_M:
            out[count - 1, 1] = max(out[count - 1, 1], out[k, 1])
        else:
            out[count] = out[k]
            count += 1
    return out[:count]


@compiled()
def strips(edges: Floats, foot: float, height: float, count: int) -> tuple[Ints, Floats, Floats]:
    """Where the spans of each strip start, and the spans' ends.

    edges: (n, 4) from and to of every edge of all rings; foot: y of the first strip; height of one.
    """
    start = np.zeros(count + 1, dtype=np.int64)
    room = 4 * count + 16
    low, high = np.empty(room), np.empty(room)
    levels, at = np.empty(edges.shape[0] + 2), np.empty((edges.shape[0] + 2, 3))
    used = 0
    for s in range(count):
        spans = _in_strip(edges, foot + s * height, foot + (s + 1) * height, levels, at)
        while used + spans.shape[0] > room:
            low, high = np.concatenate((low, np.empty(room))), np.concatenate((high, np.empty(room)))
            room *= 2
        low[used : used + spans.shape[0]] = spans[:, 0]
        high[used : used + spans.shape[0]] = spans[:, 1]
        used += spans.shape[0]
        start[s + 1] = used
    return start, low[:used].copy(), high[:used].copy()


@compiled()
def first_free(
    count: Ints, low: Floats, high: Floats, start: Ints, lefts: Floats, rights: Floats,
    width: float, from_x: float, tilt: float, limit: float,
) -> tuple[float, int, float, int]:  # fmt: skip
    """The place with the least of x + width + tilt·row under `limit`: x, row, that value; and the work
    done. The row is -1 where there is none.

    count, low, high: the taken spans of the sheet's rows (rows,), (rows, MOST), each row sorted.
    start, lefts, rights: spans of the part's strips, from its least x. Lowest row of equals first.
    """
    rows, tall = count.shape[0], start.shape[0] - 1
    best_x, best_row, work, pushed_by = 0.0, -1, 0, 0
    for row in range(rows - tall + 1):
        most = limit - tilt * row - width
        x, calm, s = from_x, 0, pushed_by
        while calm < tall and x < most:
            moved = False
            for m in range(start[s], start[s + 1]):
                k, last = 0, count[row + s]
                while k < last:
                    if high[row + s, k] > x + lefts[m] + TOUCH_M:
                        if low[row + s, k] >= x + rights[m] - TOUCH_M:
                            break
                        x = high[row + s, k] - lefts[m]
                        moved = True
                    k += 1
            work += 1
            if moved:
                calm, pushed_by = 0, s
            else:
                calm += 1
                s += 1
                if s == tall:
                    s = 0
        if calm >= tall and x < most - TOUCH_M:
            best_x, best_row, limit = x, row, x + width + tilt * row
    return best_x, best_row, limit, work


@compiled()
def take(
    count: Ints, low: Floats, high: Floats, start: Ints, lefts: Floats, rights: Floats, x: float, row: int
) -> None:
    """Mark what a part takes at a place; gaps between two spans of a row that are full go to the part."""
    for s in range(start.shape[0] - 1):
        r = row + s
        for m in range(start[s], start[s + 1]):
            a, b = x + lefts[m], x + rights[m]
            # those that touch it are swallowed
            first = 0
            while first < count[r] and high[r, first] < a - TOUCH_M:
                first += 1
            after = first
            while after < count[r] and low[r, after] <= b + TOUCH_M:
                a, b = min(a, low[r, after]), max(b, high[r, after])
                after += 1
            shift = 1 - (after - first)
            if shift == 1:
                if count[r] == MOST:
                    if first == count[r]:
                        high[r, first - 1] = b
                    else:
                        low[r, first] = a
                    continue
                for k in range(count[r], first, -1):
                    low[r, k], high[r, k] = low[r, k - 1], high[r, k - 1]
            elif shift < 0:
                for k in range(after, count[r]):
                    low[r, k + shift], high[r, k + shift] = low[r, k], high[r, k]
            count[r] += shift
            low[r, first], high[r, first] = a, b
