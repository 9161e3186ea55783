"""An angle bent along the side of a hull: what it fills, how it is cut and opened."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import combinations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Polygon

from stirrup.core.document import Point
from stirrup.core.fittings.edges import inside_region, opening_angles_deg, relief_slots
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.loops import compiled
from stirrup.core.parts.entries import Section
from stirrup.core.parts.model import Bent
from stirrup.core.space.many import Eights

Array = NDArray[np.float64]
Body = tuple[Point, ...]
BODY_M = 0.0003  # a bent angle's bodies may stand this far off its curve


def cut_and_opened(
    surface: HullSurface, under: float, source: Section, path: Array, piece: tuple[float, float]
) -> Bent:
    """How a piece of an angle bent along `path` (n, 2) is cut and opened. under: height of its flange's
    upper face; piece: from where to where along the path [m]."""
    low, high = piece
    slots = relief_slots(path, source.b).slots
    opening = opening_angles_deg(surface, under, path, source.a)
    return Bent(tuple(s - low for s in slots if low < s < high), opening)


def _stretches_by_arrays(
    path: Array, foot: Array, side: float, under: float, size: tuple[float, float, float]
) -> Array:
    a, b, t = size
    run = np.gradient(path, axis=0) if len(path) > 2 else np.repeat(np.diff(path, axis=0), 2, axis=0)
    inward = np.column_stack([run[:, 1], -run[:, 0]]) * side / np.linalg.norm(run, axis=1)[:, None]

    def quads(share: float, wide: float, leg: float) -> Array:
        outer, inner = path + (foot - path) * share, path + (foot - path) * share * leg + inward * wide
        out = np.full((len(path) - 1, 4, 3), under - a * share)
        for k, corners in enumerate((outer[:-1], outer[1:], inner[1:], inner[:-1])):
            out[:, k, :2] = corners
        return out

    flange = np.concatenate([quads(0.0, b, 0.0), quads(t / a, b, 0.0)], axis=1)
    leg = np.concatenate([quads(t / a, t, 1.0), quads(1.0, t, 1.0)], axis=1)
    return np.concatenate([flange, leg])


@compiled(_stretches_by_arrays)
def stretches(
    path: Array, foot: Array, side: float, under: float, size: tuple[float, float, float]
) -> Array:
    """Flange, then leg, of each stretch of an angle bent along `path` (n, 2): four corners above and four
    below, from the side inward, (2 n - 2, 8, 3) [m]. foot: where the side is at the leg's edge, (n, 2);
    side: port +1; under: of the flange's upper face; size: of the leg, of the flange, how thick."""
    a, b, t = size
    n = len(path)
    out = np.empty((2 * n - 2, 8, 3))
    for p in range(n):
        low, high = max(p - 1, 0), min(p + 1, n - 1)
        along, across = path[high, 0] - path[low, 0], path[high, 1] - path[low, 1]
        length = np.sqrt(along * along + across * across)
        u, v = across * side / length, -along * side / length
        for part in range(2):
            for face in range(2):
                if part == 0:  # the flange is level, its inner edge plumb
                    share, wide, leans = (t / a if face else 0.0), b, 0.0
                else:
                    share, wide, leans = (1.0 if face else t / a), t, 1.0
                x, y = (foot[p, 0] - path[p, 0]) * share, (foot[p, 1] - path[p, 1]) * share
                outer = (path[p, 0] + x, path[p, 1] + y)
                inner = (path[p, 0] + x * leans + u * wide, path[p, 1] + y * leans + v * wide)
                for back in range(2):  # the stretch that begins here, and the one that ends here
                    k = p - back
                    if 0 <= k < n - 1:
                        row, corner = part * (n - 1) + k, 4 * face
                        first, last = (corner + 1, corner + 2) if back else (corner, corner + 3)
                        out[row, first, 0], out[row, first, 1] = outer
                        out[row, last, 0], out[row, last, 1] = inner
                        out[row, first, 2] = out[row, last, 2] = under - a * share
    return out


def bent_bodies(surface: HullSurface, under: float, source: Section, path: Array) -> Eights:
    """What an angle bent along `path` (n, 2) fills: flange and leg of each short stretch [m]."""
    a, b, t = source.a, source.b, source.t
    side = 1.0 if path[:, 1].mean() > 0 else -1.0
    path = shapely.get_coordinates(LineString(path).simplify(BODY_M))
    foot = _nearest(inside_region(surface, under - a), path)
    whole = stretches(path, foot, side, under, (a, b, t))
    aft, fore = path[0, 0], path[-1, 0]
    beyond = (whole[:, :, 0].min(axis=1) < aft) | (whole[:, :, 0].max(axis=1) > fore)
    return Eights(
        whole[~beyond], [body for k in np.flatnonzero(beyond) for body in _cut_off(whole[k], aft, fore)]
    )


def _cut_off(corners: Array, aft: float, fore: float) -> list[Body]:
    """A stretch whose ends are cut off athwart, as a stick's are: four corners above, four below, (8, 3);
    nothing where all of one face lies beyond the cut."""
    faces = [_between(face.tolist(), aft, fore) for face in (corners[:4], corners[4:])]
    return [(*faces[0], *faces[1])] if all(faces) else []


def _between(corners: Sequence[Sequence[float]], aft: float, fore: float) -> list[Point]:
    """Corners of what lies of a level convex face between two stations, and maybe points within it."""
    out = [(x, y, z) for x, y, z in corners if aft <= x <= fore]
    # every edge is one of these pairs, and what they cross within the face does no harm
    for (x0, y0, z), (x1, y1, _) in combinations(corners, 2):
        for at in (aft, fore):
            if (x0 - at) * (x1 - at) < 0:
                out.append((at, y0 + (at - x0) / (x1 - x0) * (y1 - y0), z))
    return out


def _nearest(shape: Polygon, points: Array) -> Array:
    """Points of an outline nearest to others, (n, 2) each; the same points where there is none."""
    if shape.is_empty:
        return points
    lines = shapely.shortest_line(shapely.points(points), shape.exterior)
    return np.asarray(shapely.get_coordinates(lines)[1::2])
