"""The inside of the bottom under a place."""

from __future__ import annotations

import math
from functools import partial

import numpy as np
from numpy.typing import NDArray

from stirrup.core.hull.mesh import HullSurface
from stirrup.core.loops import compiled

Array = NDArray[np.float64]
FLAT_M2 = 1e-12  # twice the area of a triangle seen edge on
STANDABLE = 0.5  # least upward share of a surface's normal to stand on: slopes up to 60°


def bottom_m(surface: HullSurface, x: float, y: float) -> float | None:
    """Height of the inside of the bottom under (x, y) [m]; None where nobody can stand."""
    return surface.bottoms.get((x, y), partial(_bottom_m, surface, x, y))


def highest_m(surface: HullSurface, corners: tuple[tuple[float, float], ...]) -> float | None:
    """Height of the bottom under the highest of some corners [m]; None outside of the boat."""
    found = [h for x, y in corners if (h := bottom_m(surface, x, y)) is not None]
    return max(found, default=None)


def _bottom_m(surface: HullSurface, x: float, y: float) -> float | None:
    height = float(bottoms_m(surface, x, np.array([y]))[0])
    return None if math.isnan(height) else height


def bottoms_m(surface: HullSurface, x: float, y: Array) -> Array:
    """Height of the inside of the bottom under (x, y), shape of y (n,) [m]; NaN where nobody can stand."""
    inside = surface.inside
    return lowest_m(inside.corners, inside.normals2, float(x), np.ascontiguousarray(y, dtype=float))


def _lowest_by_arrays(corners: Array, normals: Array, x: float, y: Array) -> Array:
    along = corners[:, :, 0]
    near = np.nonzero((along.min(axis=1) <= x) & (x <= along.max(axis=1)))[0]
    if len(near) == 0:
        return np.full(len(y), np.nan)
    a, b, c = (corners[near, k] for k in range(3))
    ay, by, cy = (p[:, 1] - y[:, None] for p in (a, b, c))
    ax, bx, cx = (p[:, 0] - x for p in (a, b, c))
    u, v, w = bx * cy - cx * by, cx * ay - ax * cy, ax * by - bx * ay
    whole = u + v + w
    hit = np.abs(whole) > FLAT_M2
    hit &= ((u >= 0) & (v >= 0) & (w >= 0)) | ((u <= 0) & (v <= 0) & (w <= 0))
    high = (u * a[:, 2] + v * b[:, 2] + w * c[:, 2]) / np.where(hit, whole, 1.0)
    z = np.where(hit, high, np.inf)
    low = z.argmin(axis=1)
    normal = normals[near][low]
    flat = np.abs(normal[:, 2]) >= STANDABLE * np.linalg.norm(normal, axis=1)
    found = z[np.arange(len(y)), low]
    return np.where(flat & np.isfinite(found), found, np.nan)


@compiled(_lowest_by_arrays)
def lowest_m(corners: Array, normals: Array, x: float, y: Array) -> Array:
    """The lowest of all triangles (T, 3, 3) over or under each (x, y), NaN where it is too steep to stand
    on, or where there is none; normals: of the triangles (T, 3), of any length."""
    found, low = np.full(len(y), np.nan), np.full(len(y), np.inf)
    for t in range(len(corners)):
        ax, bx, cx = corners[t, 0, 0] - x, corners[t, 1, 0] - x, corners[t, 2, 0] - x
        if min(ax, bx, cx) > 0 or max(ax, bx, cx) < 0:
            continue
        for k in range(len(y)):
            ay, by, cy = corners[t, 0, 1] - y[k], corners[t, 1, 1] - y[k], corners[t, 2, 1] - y[k]
            # twice the signed areas of the three triangles that (x, y) makes with the corners in plan
            u, v, w = bx * cy - cx * by, cx * ay - ax * cy, ax * by - bx * ay
            whole = u + v + w
            inside = (u >= 0 and v >= 0 and w >= 0) or (u <= 0 and v <= 0 and w <= 0)
            if abs(whole) <= FLAT_M2 or not inside:
                continue
            z = (u * corners[t, 0, 2] + v * corners[t, 1, 2] + w * corners[t, 2, 2]) / whole
            if z < low[k]:
                low[k] = z
                size = math.sqrt(normals[t, 0] ** 2 + normals[t, 1] ** 2 + normals[t, 2] ** 2)
                found[k] = z if abs(normals[t, 2]) >= STANDABLE * size else np.nan
    return found
