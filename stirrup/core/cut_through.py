"""What stands where parts meet: everything built, and the hull, cut by an upright plane."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import combinations

import numpy as np
from numpy.typing import NDArray
from shapely import box
from shapely.geometry import LineString, MultiPoint, Polygon
from shapely.geometry.base import BaseGeometry

from stirrup.core.contract.gives import Built
from stirrup.core.contract.shown import DETAIL_WIDE_M, Detail
from stirrup.core.document import Point
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.hull.slices import region, slice_axis
from stirrup.core.parts.model import Member, Panel
from stirrup.core.record import dataclass

Array = NDArray[np.float64]
FAR_M = 60.0
FLAT = 1e-9  # a part that lies in the plane is not cut by it
LEAST_M2 = 1e-7  # a smaller piece is none


@dataclass(frozen=True)
class Cut:
    """A part where the plane cuts it: its label, what it is made of, its outline across and up [m]."""

    label: str
    stuff: str
    ring: tuple[tuple[float, float], ...]


def across(detail: Detail, point: Point) -> tuple[float, float]:
    """A place of the boat on the drawing: across and up [m]."""
    return (point[1] if detail.axis == "x" else point[0], point[2])


def cut_through(surface: HullSurface, built: Iterable[Built], detail: Detail) -> list[Cut]:
    """Everything that a detail shows: the hull's skin first, then panels and members."""
    (u, z), wide, high = detail.middle, DETAIL_WIDE_M, detail.high
    window = box(u - wide / 2, z - high / 2, u + wide / 2, z + high / 2)
    out = [Cut("hull", "metal", ring) for ring in _rings(_hull(surface, detail), window)]
    for one in built:
        for panel in (face for p in one.panels for face in p.faces):
            if not _near(_corners(panel), panel.sheet.thickness, detail):
                continue
            shape = _panel(panel, detail)
            out += [Cut(panel.label, panel.sheet.stuff.kind, ring) for ring in _rings(shape, window)]
        for member in one.members:
            if not _near(member.path, member.section.a + member.section.b, detail):
                continue
            for flat in _member(member, detail):
                out += [Cut(member.label, "metal", ring) for ring in _rings(flat, window)]
    return out


def _corners(panel: Panel) -> list[Point]:
    """Of the box around it in its own axes."""
    u0, v0, u1, v1 = panel.polygon.bounds
    return [panel.frame.at(u, v) for u in (u0, u1) for v in (v0, v1)]


def _near(points: Iterable[Point], reach: float, detail: Detail) -> bool:
    """Whether what lies within reach of these points [m] may be on the drawing."""
    (u, z), half = detail.middle, (DETAIL_WIDE_M / 2, detail.high / 2)
    if detail.axis == "x":
        box_ = ((detail.at, 0.0), (u, half[0]), (z, half[1]))
    else:
        box_ = ((u, half[0]), (detail.at, 0.0), (z, half[1]))
    rows = zip(*points, strict=True)
    return all(
        min(row) - reach <= middle + beside and max(row) + reach >= middle - beside
        for row, (middle, beside) in zip(rows, box_, strict=True)
    )


def _rings(shape: BaseGeometry, window: Polygon) -> list[tuple[tuple[float, float], ...]]:
    seen = shape.intersection(window)
    pieces = [g for g in getattr(seen, "geoms", [seen]) if isinstance(g, Polygon) and g.area > LEAST_M2]
    return [tuple((float(x), float(y)) for x, y in p.exterior.coords[:-1]) for p in pieces]


def _hull(surface: HullSurface, detail: Detail) -> BaseGeometry:
    """The skin of the boat: what is outside of its inside."""
    axis = 0 if detail.axis == "x" else 1
    shapes = [region(slice_axis(s, axis, detail.at), axis) for s in (surface.outside, surface.inside)]
    return shapes[0].difference(shapes[1])


def _panel(panel: Panel, detail: Detail) -> BaseGeometry:
    """A panel cut: along its line in the plane as far as it reaches, and as thick as it is there."""
    axis = 0 if detail.axis == "x" else 1
    origin, along, over = (np.array(v) for v in (panel.frame.origin, panel.frame.along, panel.frame.across))
    lean = np.array([along[axis], over[axis]])
    steep = float(lean @ lean)
    if steep < FLAT:
        return Polygon()
    foot = (detail.at - origin[axis]) * lean / steep
    way = np.array([-lean[1], lean[0]]) / np.sqrt(steep)
    line = LineString([foot - FAR_M * way, foot + FAR_M * way])
    seen = line.intersection(panel.polygon)
    normal = np.cross(along, over)
    normal[axis] = 0.0
    thick = normal * panel.sheet.thickness / 2 / float(normal @ normal)
    out: BaseGeometry = Polygon()
    for stretch in getattr(seen, "geoms", [seen]):
        if isinstance(stretch, LineString) and not stretch.is_empty:
            ends = [origin + u * along + v * over for u, v in (stretch.coords[0], stretch.coords[-1])]
            corners = [ends[0] - thick, ends[1] - thick, ends[1] + thick, ends[0] + thick]
            out = out.union(Polygon([across(detail, (p[0], p[1], p[2])) for p in corners]))
    return out


def _member(member: Member, detail: Detail) -> list[BaseGeometry]:
    """Each convex body of a member cut: the hull of where the lines between its corners meet the plane."""
    axis = 0 if detail.axis == "x" else 1
    out: list[BaseGeometry] = []
    for corners in member.fills:
        points = np.array(corners)
        off = points[:, axis] - detail.at
        if off.min() >= 0 or off.max() <= 0:
            continue
        met = [
            points[i] + off[i] / (off[i] - off[j]) * (points[j] - points[i])
            for i, j in combinations(range(len(points)), 2)
            if off[i] * off[j] < 0
        ]
        flat = MultiPoint([across(detail, (p[0], p[1], p[2])) for p in met]).convex_hull
        if isinstance(flat, Polygon):
            out.append(flat)
    return out
