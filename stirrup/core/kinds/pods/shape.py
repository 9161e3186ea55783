"""Pods laid out: eight corners each, from the transom aft, flush with the bottom."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.fittings.edges import largest
from stirrup.core.hull.mesh import HullSurface, Solid, hexahedron
from stirrup.core.hull.slices import region, waterplane
from stirrup.core.kinds.pods.choices import Pods
from stirrup.core.record import dataclass

Array = NDArray[np.float64]
HEIGHTS = 9
LEAST_HIGH_M = 0.05
# faces by the bits of their corners (fore 1, port 2, top 4), each in order round it: the side of the hull
# is the transom's own
FACES = {
    "bottom": (0, 1, 3, 2), "top": (4, 5, 7, 6), "starboard side": (0, 1, 5, 4), "port side": (2, 3, 7, 6),
    "aft end": (0, 2, 6, 4),
}  # fmt: skip
ALL_FACES = {**FACES, "fore end": (1, 3, 7, 5)}  # of a box that is closed before it is put on


@dataclass(frozen=True)
class Pod:
    """One pod: +1 port, -1 starboard; its corners (8, 3) [m]."""

    hand: int
    corners: Array

    @property
    def solid(self) -> Solid:
        """Its closed mesh."""
        return hexahedron(self.corners)

    def face(self, name: str) -> tuple[Point, ...]:
        """Corners of a face in order."""
        return tuple((float(x), float(y), float(z)) for x, y, z in self.corners[list(FACES[name])])


def _aft_at(surface: HullSurface, z: float) -> float | None:
    """x of the aft end of the hull's outside at a height [m]."""
    shape = largest(region(waterplane(surface.outside, z, fair=True), 2))
    return None if shape.is_empty else float(shape.bounds[0])


def _transom(surface: HullSurface, c: Pods) -> tuple[float, float]:
    """x at the keel line's height and lean for each metre up, of the outside of the transom."""

    def find() -> tuple[float, float] | None:
        low, high = float(surface.outside.low[2]) + 1e-3, float(surface.lines[0][-1][0][2])
        found = [(float(z), at) for z in np.linspace(low, max(low + 0.05, 0.8 * high), HEIGHTS)
                 if (at := _aft_at(surface, float(z))) is not None]  # fmt: skip
        if len(found) < 2:
            return None
        (z0, x0), (z1, x1) = found[0], found[-1]
        lean = (x1 - x0) / (z1 - z0)
        return x0 - lean * z0, lean

    there = surface.bottoms.get("outside of the transom", find)
    if there is None:
        raise CoreError("the hull has no transom that pods could stand behind", f"fittings.{c.id}.top")
    return there


def _foot(surface: HullSurface, x: float, y: float) -> float | None:
    """Height of the outside of the bottom under (x, y) at the transom [m]."""
    outside = surface.outside
    a, b, c = (outside.corners[:, k] for k in range(3))
    ax, ay = a[:, 0] - x, a[:, 1] - y
    bx, by = b[:, 0] - x, b[:, 1] - y
    cx, cy = c[:, 0] - x, c[:, 1] - y
    u, v, w = bx * cy - cx * by, cx * ay - ax * cy, ax * by - bx * ay
    whole = u + v + w
    hit = (np.abs(whole) > 1e-12) & (
        ((u >= -1e-12) & (v >= -1e-12) & (w >= -1e-12)) | ((u <= 1e-12) & (v <= 1e-12) & (w <= 1e-12))
    )
    if not hit.any():
        return None
    z = (u * a[:, 2] + v * b[:, 2] + w * c[:, 2])[hit] / whole[hit]
    return float(z.min())


def lay_out(c: Pods, surface: HullSurface) -> tuple[Pod, Pod]:
    """Port, then starboard. Raises CoreError where there is no bottom to be flush with."""
    x0, lean = _transom(surface, c)
    place, just = f"fittings.{c.id}", x0 + 0.03
    pods = []
    for hand in (1, -1):
        ys = sorted((hand * c.inner, hand * c.outer))
        feet = [_foot(surface, just + max(0.0, lean) * 0.1, y) for y in ys]
        if any(z is None for z in feet):
            raise CoreError(f"{c.outer:.3f} m from the centreline there is no bottom at the transom",
                            f"{place}.outer")  # fmt: skip
        lows = [float(z) for z in feet if z is not None]
        if c.top - max(lows) < LEAST_HIGH_M:
            raise CoreError(f"its top at {c.top:.3f} m leaves less than {LEAST_HIGH_M * 1000:.0f} mm over "
                            f"the bottom, which is at {max(lows):.3f} m there", f"{place}.top")  # fmt: skip
        aft = min(x0 + lean * z for z in (*lows, c.top)) - c.long
        rows = []
        for i in range(8):
            y, z = ys[i >> 1 & 1], (c.top if i >> 2 & 1 else lows[i >> 1 & 1])
            rows.append((x0 + lean * z if i & 1 else aft, y, z))
        pods.append(Pod(hand, np.array(rows)))
    return pods[0], pods[1]
