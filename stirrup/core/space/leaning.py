"""Whether a flat piece that fits across a boat gets in past the narrow place over it, leaning over.

It moves in its own plane: its place and lean are searched on a grid, the boat's section grown by the piece
at every lean. Cells are 15 mm and pieces a cell smaller, so answers are good to about a cell.
"""

from __future__ import annotations

import numpy as np
import scipy
import shapely
from numpy.typing import NDArray
from shapely import affinity
from shapely.geometry import Polygon

Mask = NDArray[np.bool_]
Line = NDArray[np.float64]
CELL_M = 0.015
MOST_DEG, STEP_DEG = 60.0, 3.0
ROUND_M = 0.3  # of free room on every side of the section


def _filled(shape: Polygon, y: Line, z: Line) -> Mask:
    """Cells whose middles lie in a shape."""
    yy, zz = np.meshgrid(y, z)
    return np.asarray(shapely.contains_xy(shape, yy.ravel(), zz.ravel()).reshape(yy.shape))


def _piece(shape: Polygon) -> Mask:
    """Cells of a piece about its middle, odd in number either way."""
    half = max(abs(v) for v in shape.bounds)
    n = int(np.ceil(half / CELL_M))
    line: Line = np.arange(-n, n + 1, dtype=float) * CELL_M
    return _filled(shape, line, line)


def leaning(piece: Polygon, section: Polygon, sheer: float) -> float | None:
    """The least lean with which a piece gets from over the sheer to its place [degrees], 0: straight down.

    piece, section: (y, z) [m], the piece where it will be. None where no lean up to 60 degrees does.
    """
    middle = piece.envelope.centroid
    about = affinity.translate(piece.buffer(-CELL_M), -middle.x, -middle.y)
    if about.is_empty:
        return 0.0
    reach = float(np.hypot(*(np.array(piece.bounds[2:]) - np.array(piece.bounds[:2])))) / 2
    y0, z0, y1, _ = section.bounds
    y = np.arange(y0 - ROUND_M - reach, y1 + ROUND_M + reach, CELL_M)
    z = np.arange(z0 - ROUND_M, sheer + 2 * reach + ROUND_M, CELL_M)
    walls = ~_filled(section, y, z) & (z[:, None] < sheer)
    count = round(MOST_DEG / STEP_DEG)
    free = []
    for k in range(-count, count + 1):
        shape = _piece(affinity.rotate(about, k * STEP_DEG, origin=(0.0, 0.0)))
        met = scipy.signal.fftconvolve(walls.astype(float), shape[::-1, ::-1].astype(float), mode="same")
        free.append(met < 0.5)
    stack = np.stack(free)
    home = (count, int(np.abs(z - middle.y).argmin()), int(np.abs(y - middle.x).argmin()))
    over = z >= sheer + reach
    for most in range(count + 1):
        part = stack[count - most : count + most + 1]
        pieces, _ = scipy.ndimage.label(part, structure=np.ones((3, 3, 3)))
        here = pieces[(most, *home[1:])]
        if here and (pieces[:, over, :] == here).any():
            return most * STEP_DEG
    return None
