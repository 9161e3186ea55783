"""The inside of the bottom under a place."""

from __future__ import annotations

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
    inside, along = surface.inside, _along(surface)
    near = np.nonzero((along[:, 0] <= x) & (x <= along[:, 1]))[0]
    a, b, c = (inside.corners[near, k] for k in range(3))
    # twice the signed areas of the three triangles that (x, y) makes with the corners in plan
    u = (b[:, 0] - x) * (c[:, 1] - y) - (c[:, 0] - x) * (b[:, 1] - y)
    v = (c[:, 0] - x) * (a[:, 1] - y) - (a[:, 0] - x) * (c[:, 1] - y)
    w = (a[:, 0] - x) * (b[:, 1] - y) - (b[:, 0] - x) * (a[:, 1] - y)
    whole = u + v + w
    hit = np.abs(whole) > 1e-12
    hit &= ((u >= 0) & (v >= 0) & (w >= 0)) | ((u <= 0) & (v <= 0) & (w <= 0))
    if not hit.any():
        return None
    z = (u[hit] * a[hit, 2] + v[hit] * b[hit, 2] + w[hit] * c[hit, 2]) / whole[hit]
    low = int(np.argmin(z))
    normal = inside.normals2[near][hit][low]
    if abs(normal[2]) < STANDABLE * float(np.linalg.norm(normal)):
        return None
    return float(z[low])
