"""Which parts of a build stand in one another or in the hull's skin: by separating directions."""

from __future__ import annotations

import numpy as np
import shapely
from scipy.spatial import ConvexHull
from shapely.geometry import Polygon

from stirrup.core.derive import Derived
from stirrup.core.hull.slices import region, waterplane
from stirrup.core.parts.model import Panel

Body = np.ndarray


def panel_bodies(panel: Panel) -> list[Body]:
    """Triangles of the outline less the holes, as thick as the sheet: (6, 3) each."""
    t = panel.sheet.thickness / 2
    normal = np.cross(panel.frame.along, panel.frame.across)
    out = []
    for piece in shapely.get_parts(shapely.constrained_delaunay_triangles(panel.polygon.simplify(0.0002))):
        flat = np.array([panel.frame.at(u, v) for u, v in piece.exterior.coords[:3]])
        out.append(np.concatenate([flat - normal * t, flat + normal * t]))
    return out


def depth(a: Body, b: Body) -> float:
    """How far two convex bodies stand in one another [m]: the least move that parts them.

    Along every facet's normal of either and every pair's cross direction; 0 when apart.
    """
    low, high = np.maximum(a.min(0), b.min(0)), np.minimum(a.max(0), b.max(0))
    if (high - low).min() <= 0:
        return 0.0
    normals = [ConvexHull(p, qhull_options="QJ").equations[:, :3] for p in (a, b)]
    ways = np.concatenate([*normals, np.eye(3)])
    crossed = np.cross(normals[0][:, None], normals[1][None]).reshape(-1, 3)
    size = np.linalg.norm(crossed, axis=1)
    ways = np.concatenate([ways, crossed[size > 1e-9] / size[size > 1e-9, None]])
    pa, pb = a @ ways.T, b @ ways.T
    share = np.minimum(pa.max(0) - pb.min(0), pb.max(0) - pa.min(0))
    return max(0.0, float(share.min()))


def bodies(derived: Derived) -> list[tuple[str, Body]]:
    """Label and convex bodies of every panel and member; what is bent lies along the hull."""
    out = []
    for built in derived.built:
        for panel in (face for p in built.panels if p.role != "bent" for face in p.faces):
            out += [(panel.label, body) for body in panel_bodies(panel)]
        for member in built.members:
            out += [(member.label, np.array(body)) for body in member.fills]
    return out


def crossings(derived: Derived, allowed: float = 0.0005) -> dict[tuple[str, str], float]:
    """ByIdentity of parts that stand in one another by more than is allowed, with the amount [m]."""
    there = bodies(derived)
    low = np.array([b.min(0) for _, b in there])
    high = np.array([b.max(0) for _, b in there])
    shared = np.minimum(high[:, None], high[None]) - np.maximum(low[:, None], low[None])
    found: dict[tuple[str, str], float] = {}
    for i, j in np.argwhere((shared > allowed).all(axis=2)):
        a, b = there[i][0], there[j][0]
        if i < j and a != b:
            deep = depth(there[i][1], there[j][1])
            if deep > max(allowed, found.get((a, b), 0.0)):
                found[(a, b)] = deep
    return found


def through_skin(derived: Derived, allowed: float = 0.0005) -> dict[str, float]:
    """Parts with a corner outside of the hull's inside at its own height, with the amount [m]."""
    inside = derived.surface.inside
    levels: dict[float, Polygon] = {}
    found: dict[str, float] = {}
    for label, body in bodies(derived):
        for x, y, z in body:
            key = round(float(z), 5)
            if key not in levels:
                shape = region(waterplane(inside, key, fair=True), 2)
                levels[key] = shape
            out = float(levels[key].distance(shapely.Point(x, y)))
            if out > max(allowed, found.get(label, 0.0)):
                found[label] = out
    return found
