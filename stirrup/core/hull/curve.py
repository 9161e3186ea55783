"""A smooth curve through readings that does not swing beyond them.

Stands here instead of scipy's, whose import takes longer than a whole command does; the tests hold it
against scipy's.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def slopes(x: Array, y: Array) -> Array:
    """Slope of the curve at each reading; x: (n,) rising, y: (n, m); (n, m).

    Between readings the weighted harmonic mean of the slopes on both sides, none where these differ in
    sign; at the ends three points, held back so that the curve stays between them.
    Source: F. N. Fritsch and J. Butland, SIAM J. Sci. Stat. Comput. 5 (1984), 300 to 304.
    """
    h = np.diff(x)[:, None]
    d = np.diff(y, axis=0) / h
    if len(x) == 2:
        return np.concatenate([d, d])
    w1, w2 = 2 * h[1:] + h[:-1], h[1:] + 2 * h[:-1]
    same = d[:-1] * d[1:] > 0
    safe = np.where(same, d[:-1], 1.0), np.where(same, d[1:], 1.0)
    inner = np.where(same, (w1 + w2) / (w1 / safe[0] + w2 / safe[1]), 0.0)
    first = _end(h[0], h[1], d[0], d[1])
    last = _end(h[-1], h[-2], d[-1], d[-2])
    return np.concatenate([first[None], inner, last[None]])


def _end(h0: Array, h1: Array, d0: Array, d1: Array) -> Array:
    """Slope at an end from the two intervals next to it."""
    slope = ((2 * h0 + h1) * d0 - h0 * d1) / (h0 + h1)
    beyond = (np.sign(d0) != np.sign(d1)) & (np.abs(slope) > 3 * np.abs(d0))
    return np.where(np.sign(slope) != np.sign(d0), 0.0, np.where(beyond, 3 * d0, slope))


def through(x: Array, y: Array, at: Array) -> Array:
    """The curve through readings y (n, m) at x (n,), rising, looked up at (k,); (k, m)."""
    slope = slopes(x, y)
    k = np.clip(np.searchsorted(x, at, side="right") - 1, 0, len(x) - 2)
    h = (x[k + 1] - x[k])[:, None]
    t = (at - x[k])[:, None] / h
    low, high = y[k], y[k + 1]
    # cubic of Hermite on each interval
    return np.asarray(
        low * (1 + 2 * t) * (1 - t) ** 2
        + high * t**2 * (3 - 2 * t)
        + h * (slope[k] * t * (1 - t) ** 2 - slope[k + 1] * t**2 * (1 - t))
    )
