"""The inside of the bottom under a place."""

from __future__ import annotations

import math
from functools import partial

import numpy as np
from numpy.typing import NDArray

from stirrup.core.hull.mesh import HullSurface

Array = NDArray[np.float64]
STANDABLE = 0.5  # least upward share of a surface's normal to stand on: slopes up to 60°


def bottom_m(surface: HullSurface, x: float, y: float) -> float | None:
    """Height of the inside of the bottom under (x, y) [m]; None where nobody can stand."""
    return surface.bottoms.get((x, y), partial(_bottom_m, surface, x, y))


def highest_m(surface: HullSurface, corners: tuple[tuple[float, float], ...]) -> float | None:
    """Height of the bottom under the highest of some corners [m]; None outside of the boat."""
    found = [h for x, y in corners if (h := bottom_m(surface, x, y)) is not None]
    return max(found, default=None)


def _along(surface: HullSurface) -> Array:
    """(T, 2) least and greatest x of every triangle of the inside."""

    def find() -> Array:
        x = surface.inside.corners[:, :, 0]
        return np.column_stack([x.min(axis=1), x.max(axis=1)])

    return surface.bottoms.get("along", find)


def _bottom_m(surface: HullSurface, x: float, y: float) -> float | None:
    height = float(bottoms_m(surface, x, np.array([y]))[0])
    return None if math.isnan(height) else height


def bottoms_m(surface: HullSurface, x: float, y: Array) -> Array:
    """Height of the inside of the bottom under (x, y), shape of y (n,) [m]; NaN where nobody can stand."""
    inside, along = surface.inside, _along(surface)
    near = np.nonzero((along[:, 0] <= x) & (x <= along[:, 1]))[0]
    a, b, c = (inside.corners[near, k] for k in range(3))
    ay, by, cy = (p[:, 1] - y[:, None] for p in (a, b, c))
    ax, bx, cx = (p[:, 0] - x for p in (a, b, c))
    # twice the signed areas of the three triangles that (x, y) makes with the corners in plan
    u, v, w = bx * cy - cx * by, cx * ay - ax * cy, ax * by - bx * ay
    whole = u + v + w
    hit = np.abs(whole) > 1e-12
    hit &= ((u >= 0) & (v >= 0) & (w >= 0)) | ((u <= 0) & (v <= 0) & (w <= 0))
    high = (u * a[:, 2] + v * b[:, 2] + w * c[:, 2]) / np.where(hit, whole, 1.0)
    z = np.where(hit, high, np.inf)
    if len(near) == 0:
        return np.full(len(y), np.nan)
    low = z.argmin(axis=1)
    normal = inside.normals2[near][low]
    flat = np.abs(normal[:, 2]) >= STANDABLE * np.linalg.norm(normal, axis=1)
    found = z[np.arange(len(y)), low]
    return np.where(flat & np.isfinite(found), found, np.nan)
