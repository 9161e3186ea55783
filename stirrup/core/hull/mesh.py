"""From knuckle lines to a closed triangle mesh, outside and inside of the skin.

The rules (interpolation, rulings, bulge, closing strips, inside) are those of the build
file's documentation; see docs/formulas.md, "Hull surface".
"""

from __future__ import annotations

import math
from dataclasses import field
from functools import lru_cache, partial

import numpy as np
from numpy.typing import NDArray

from stirrup.core.errors import CoreError
from stirrup.core.hull.curve import through
from stirrup.core.hull.integrals import whole
from stirrup.core.hull.model import Hull, KnuckleLine
from stirrup.core.kept import Attached, kept_property
from stirrup.core.record import dataclass

Array = NDArray[np.float64]
Ints = NDArray[np.int64]

STEPS = 16  # columns for each station interval
WELD_M = 1e-9  # points nearer than this are one point
# a bulged strip gets enough chords that the area under an arc is within 0.07 %
ARC_STEP_RAD = 0.065

AFT, FORE, TOP, PAD = 1000, 1001, 1002, 1003  # face groups besides side and strip


@dataclass(frozen=True)
class Solid:
    """A closed triangle mesh, outward oriented.

    vertices: (V, 3) [m]; triangles: (T, 3) indices; groups: (T,) which strip or end.
    diagonals: (D, 2) edges, lower index first, that only cut a four-sided patch in two: the
    surface that is meant runs through the others.
    """

    vertices: Array
    triangles: Ints
    groups: Ints
    diagonals: Ints = field(default_factory=lambda: np.empty((0, 2), dtype=np.int64))

    @kept_property
    def cut_across(self) -> frozenset[int]:
        """The diagonals for looking up, each as lower vertex times the count of vertices and the other."""
        low, high = self.diagonals.T
        return frozenset((low * len(self.vertices) + high).tolist())

    @kept_property
    def corners(self) -> Array:
        """(T, 3, 3) the corners of every triangle."""
        return np.asarray(self.vertices[self.triangles])

    @kept_property
    def normals2(self) -> Array:
        """(T, 3) outward normals of length twice the triangle's area [m2]."""
        a, b, c = self.corners[:, 0], self.corners[:, 1], self.corners[:, 2]
        return np.asarray(np.cross(b - a, c - a))

    @kept_property
    def _whole(self) -> tuple[float, Array]:
        return whole(self.vertices, self.triangles)

    @property
    def volume_m3(self) -> float:
        """Enclosed volume by the divergence theorem."""
        return self._whole[0]

    @property
    def centroid_m(self) -> Array:
        """Centre of the volume (3,) by the divergence theorem."""
        return self._whole[1] / self._whole[0]

    def lean(self, rise: float) -> Solid:
        """The same with all of it raised by `rise` for each metre forward of x = 0."""
        moved = self.vertices.copy()
        moved[:, 2] += rise * moved[:, 0]
        return Solid(moved, self.triangles, self.groups, self.diagonals)

    def extent(self, n: Array) -> tuple[float, float]:
        """Least and greatest n·r over all vertices [m]; n: (3,)."""
        reach = self.vertices @ n
        return float(reach.min()), float(reach.max())

    @kept_property
    def low(self) -> Array:
        return np.asarray(self.vertices.min(axis=0))

    @kept_property
    def high(self) -> Array:
        return np.asarray(self.vertices.max(axis=0))

    def area_m2(self, *groups: int) -> float:
        """Area of the faces of these groups [m2]."""
        twice = np.linalg.norm(self.normals2, axis=1)
        return float(twice[np.isin(self.groups, groups)].sum() / 2)


def refine(line: KnuckleLine) -> Array:
    """Points of one line at 16 steps for each station interval, shape (n, 3).

    x is linear in the station parameter; y and z follow it by PCHIP in x for "smooth"
    lines (monotone, no overshoot; Fritsch and Carlson 1980), linearly for "straight".
    """
    points = np.array(line.points, dtype=float)
    count = len(points)
    u = np.arange((count - 1) * STEPS + 1) / STEPS
    x = np.interp(u, np.arange(count), points[:, 0])
    if line.along == "straight":
        yz = np.column_stack([np.interp(u, np.arange(count), points[:, i]) for i in (1, 2)])
    else:
        yz = through(points[:, 0], points[:, 1:], x)
    yz[::STEPS] = points[:, 1:]
    x[::STEPS] = points[:, 0]
    return np.column_stack([x, yz])


def _arc_rows(low: Array, high: Array, sagitta: Array) -> list[Array]:
    """Rows strictly between two lines, on circular arcs of given sagitta (see Hull docs)."""
    chord = high - low
    length = np.linalg.norm(chord, axis=1)
    limit = np.minimum(np.abs(sagitta), length / 2)
    if not np.any(limit > WELD_M):
        return []
    half_angle = 2 * np.arctan2(2 * limit, length)  # sagitta = L/2 tan(angle/4), whole angle
    steps = max(4, math.ceil(2 * float(half_angle.max()) / ARC_STEP_RAD))
    out = np.column_stack([np.zeros(len(chord)), chord[:, 2], -chord[:, 1]])
    norm = np.linalg.norm(out, axis=1)
    out /= np.where(norm > 0, norm, 1)[:, None]
    flat = half_angle < 1e-9
    safe = np.where(flat, 1.0, half_angle)
    radius = length / 2 / np.sin(safe)
    rows = []
    for k in range(1, steps):
        angle = safe * (2 * k / steps - 1)
        share = np.where(flat, k / steps, 0.5 + np.sin(angle) / np.sin(safe) / 2)
        rise = np.where(flat, 0.0, radius * (np.cos(angle) - np.cos(safe)))
        rows.append(low + share[:, None] * chord + (np.sign(sagitta) * rise)[:, None] * out)
    return rows


def _grid(lines: tuple[KnuckleLine, ...]) -> tuple[Array, list[int]]:
    """All rows from keel to sheer, shape (rows, columns, 3), and the strip of each gap."""
    rows = [refine(lines[0])]
    strips: list[int] = []
    for j, line in enumerate(lines[1:]):
        high = refine(line)
        stations = np.arange(len(line.points))
        u = np.arange(len(high)) / STEPS
        bulge = line.bulge_below
        given = bulge if isinstance(bulge, tuple) else (bulge,) * len(stations)
        between = _arc_rows(rows[-1], high, np.interp(u, stations, given))
        rows += [*between, high]
        strips += [j] * (len(between) + 1)
    return np.array(rows), strips


def _quads(a: Ints, b: Ints, c: Ints, d: Ints) -> Ints:
    """Two triangles for each quad a b c d, cut along a-c; shape (2n, 3)."""
    a, b, c, d = (np.ravel(v) for v in (a, b, c, d))
    return np.concatenate([np.column_stack([a, b, c]), np.column_stack([a, c, d])])


def _edges(*pairs: tuple[Ints, Ints]) -> Ints:
    """Edges (n, 2) between vertices, the lower index first, each once."""
    both = np.concatenate([np.column_stack([np.ravel(a), np.ravel(b)]) for a, b in pairs])
    return np.unique(np.sort(both, axis=1), axis=0)


def _diagonals(cells: list[tuple[Ints, Ints, Ints, Ints]]) -> Ints:
    """Edges a-c of the cells a b c d that are no side of any: a cell that has shrunk to a
    triangle has a side there."""
    sides = _edges(*(pair for a, b, c, d in cells for pair in ((a, b), (b, c), (c, d), (d, a))))
    across = _edges(*((a, c) for a, _, c, _ in cells))
    known = set(map(tuple, sides.tolist()))
    kept = [e for e in map(tuple, across.tolist()) if e not in known]
    return np.array(kept, dtype=np.int64).reshape(-1, 2)


def _weld(
    points: Array,
    triangles: Ints,
    groups: Ints,
    cells: list[tuple[Ints, Ints, Ints, Ints]] | None = None,
) -> Solid:
    keys = np.round(points / WELD_M).astype(np.int64)
    _, first, index = np.unique(keys, axis=0, return_index=True, return_inverse=True)
    index = index.reshape(-1)
    triangles = index[triangles]
    across = np.empty((0, 2), dtype=np.int64)
    if cells:
        across = _diagonals([(index[a], index[b], index[c], index[d]) for a, b, c, d in cells])
    a, b, c = triangles.T
    real = (a != b) & (b != c) & (c != a)
    solid = Solid(points[first], triangles[real], groups[real], across)
    if not abs(solid.volume_m3) > 1e-9:
        raise CoreError("the lines enclose no volume", "hull.lines")
    if solid.volume_m3 < 0:
        solid = Solid(solid.vertices, solid.triangles[:, ::-1].copy(), solid.groups, across)
    return solid


@dataclass(frozen=True)
class HullSurface:
    """Hull as computed with: closed outside, closed inside, and lines for drawing.

    `lines[side][j]` is line j refined, shape (n, 3), side 0 port, side 1 starboard.
    """

    outside: Solid
    lines: tuple[tuple[Array, ...], tuple[Array, ...]]
    names: tuple[str, ...]
    thickness: dict[int, float]
    mirrored: bool
    key: str = ""  # tells surfaces apart by their content
    # what follows from it alone: areas by height, lines as drawn, bottom by place, sections by x
    levels: Attached = field(default_factory=partial(Attached, 160), compare=False, repr=False)
    kept: Attached = field(default_factory=partial(Attached, 60), compare=False, repr=False)
    bottoms: Attached = field(default_factory=partial(Attached, 20_000), compare=False, repr=False)
    sections: Attached = field(default_factory=partial(Attached, 64), compare=False, repr=False)
    leaning: Attached = field(default_factory=partial(Attached, 8), compare=False, repr=False)
    sites: Attached = field(default_factory=partial(Attached, 8), compare=False, repr=False)

    @kept_property
    def inside(self) -> Solid:
        """Every strip moved inward along its normal by its skin, mitred at the lines."""
        return self.inside_at(1.0)

    @kept_property
    def _inward(self) -> Array:
        return _inward(self.outside, self.thickness)

    def inside_at(self, factor: float) -> Solid:
        """The inside of a skin `factor` times as thick."""
        return _moved_in(self.outside, factor * self._inward, self.mirrored)

    def lean(self, rise: float) -> HullSurface:
        """The hull with all of it raised by `rise` for each metre forward of x = 0: what lies level in
        it falls by as much in the boat. Always the same one for the same rise."""

        def make() -> HullSurface:
            up = rise * np.array([0.0, 0.0, 1.0])
            port, starboard = (tuple(line + line[:, :1] * up for line in side) for side in self.lines)
            key = f"{self.key}/{rise!r}" if self.key else ""
            out = HullSurface(self.outside.lean(rise), (port, starboard), self.names, self.thickness,
                              self.mirrored, key)  # fmt: skip
            # its skin is as thick as it was: the inside leans, it is not made anew
            out.__dict__["inside"] = self.inside.lean(rise)
            return out

        return self.leaning.get(rise, make)

    @kept_property
    def sheers(self) -> Array:
        """Points of both sheers, port first, shape (2n, 3)."""
        return np.concatenate([self.lines[0][-1], self.lines[1][-1]])

    def sheer_at(self, x: float, side: float) -> tuple[float, float, float]:
        """The point of a sheer nearest to x, to port (side +1) or starboard (-1) [m]."""
        line = self.lines[0 if side > 0 else 1][-1]
        found = line[int(np.abs(line[:, 0] - x).argmin())]
        return float(found[0]), float(found[1]), float(found[2])

    @property
    def strips(self) -> int:
        return len(self.names) - 1


def group_of(side: int, strip: int) -> int:
    """Face group of a strip: side 0 port, 1 starboard."""
    return side * 100 + strip


def _half_widths(line: KnuckleLine) -> KnuckleLine:
    """A starboard line with positive half-widths, however it was given."""
    return line.model_copy(update={"points": tuple((x, abs(y), z) for x, y, z in line.points)})


def closed_mesh(
    port: tuple[KnuckleLine, ...], starboard: tuple[KnuckleLine, ...] | None = None
) -> tuple[Solid, tuple[tuple[Array, ...], tuple[Array, ...]]]:
    """Closed mesh of the outside and the refined lines of both sides.

    Ends are closed by strips from port to starboard, the top by strips between the
    sheers, and the bottom between the lowest lines where these stand off the centreline.
    Raises CoreError when nothing is enclosed.
    """
    left, strips = _grid(port)
    if starboard is None:
        right = left * np.array([1.0, -1.0, 1.0])
    else:
        right, other = _grid(tuple(_half_widths(line) for line in starboard))
        right = right * np.array([1.0, -1.0, 1.0])
        if other != strips:
            raise CoreError("bulge_below must be given on both sides or none", "hull.starboard")
    rows, columns, _ = left.shape
    number = np.arange(rows * columns).reshape(rows, columns)
    p, s = number, number + rows * columns
    faces: list[tuple[Ints, int]] = []
    cells: list[tuple[Ints, Ints, Ints, Ints]] = []
    for i, strip in enumerate(strips):
        left_cells = (p[i, :-1], p[i + 1, :-1], p[i + 1, 1:], p[i, 1:])
        mirror = (s[i, :-1], s[i + 1, :-1], s[i + 1, 1:], s[i, 1:])
        faces.append((_quads(*left_cells), group_of(0, strip)))
        faces.append((_quads(*mirror)[:, ::-1], group_of(1, strip)))
        cells += [left_cells, mirror]
    faces.append((_quads(p[:-1, 0], s[:-1, 0], s[1:, 0], p[1:, 0]), AFT))
    faces.append((_quads(p[:-1, -1], s[:-1, -1], s[1:, -1], p[1:, -1])[:, ::-1], FORE))
    faces.append((_quads(p[-1, :-1], s[-1, :-1], s[-1, 1:], p[-1, 1:]), TOP))
    faces.append((_quads(p[0, :-1], s[0, :-1], s[0, 1:], p[0, 1:])[:, ::-1], PAD))
    triangles = np.concatenate([f for f, _ in faces])
    groups = np.concatenate([np.full(len(f), g) for f, g in faces])
    points = np.concatenate([left.reshape(-1, 3), right.reshape(-1, 3)])
    ends = [0]
    for j in range(1, len(port)):
        ends.append(ends[-1] + strips.count(j - 1))
    lines = (tuple(left[i] for i in ends), tuple(right[i] for i in ends))
    return _weld(points, triangles, groups, cells), lines


def build_surface(hull: Hull, key: str = "") -> HullSurface:
    """Surface of a hull document. Raises CoreError when it encloses nothing."""
    solid, lines = closed_mesh(hull.lines, hull.starboard)
    skin = hull.skin
    thickness = {
        group_of(side, j): skin.bottom if j + 1 <= hull.side_from else skin.side
        for side in (0, 1)
        for j in range(len(hull.lines) - 1)
    }
    end = skin.side if skin.transom is None else skin.transom
    thickness |= {AFT: end, FORE: skin.side, TOP: 0.0, PAD: skin.bottom}
    names = tuple(line.name for line in hull.lines)
    return HullSurface(solid, lines, names, thickness, hull.starboard is None, key)


def box_solid(low: tuple[float, ...], high: tuple[float, ...]) -> Solid:
    """Closed mesh of a box between two corners [m]."""
    cube = _unit_box()
    corners = np.where(cube.vertices > 0.5, np.array(high, dtype=float), np.array(low, dtype=float))
    return Solid(corners, cube.triangles, cube.groups)


def hexahedron(corners: Array) -> Solid:
    """Closed mesh between eight corners (8, 3) [m]; corner i lies aft or fore by its lowest bit, to
    starboard or to port by the next, below or above by the third."""
    cube = _unit_box()
    # the welded box has its corners in its own order
    order = (cube.vertices > 0.5) @ np.array([1, 2, 4])
    return Solid(np.asarray(corners, dtype=float)[order], cube.triangles, cube.groups)


@lru_cache(maxsize=1)
def _unit_box() -> Solid:
    """The box between (0, 0, 0) and (1, 1, 1): all others are meshed as it is."""
    corner = np.array([[float(i >> k & 1) for k in range(3)] for i in range(8)])
    faces = [(0, 2, 3, 1), (4, 5, 7, 6), (0, 1, 5, 4), (2, 6, 7, 3), (0, 4, 6, 2), (1, 3, 7, 5)]
    a, b, c, d = np.array(faces).T
    return _weld(corner, _quads(a, b, c, d), np.zeros(12, dtype=np.int64))


def _inward(outside: Solid, thickness: dict[int, float]) -> Array:
    """Shift of every vertex (n, 3) to the planes of its face groups, each moved in by its skin.

    The shift is the shortest one that satisfies n·shift = -thickness for the mean normal
    of every group that meets there; nearly parallel groups are averaged (pseudo-inverse).
    """
    groups = np.unique(outside.groups)
    count = len(outside.vertices)
    normals = np.zeros((count, len(groups), 3))
    for k, group in enumerate(groups):
        chosen = outside.groups == group
        for corner in range(3):
            np.add.at(normals[:, k], outside.triangles[chosen, corner], outside.normals2[chosen])
        if group in (AFT, FORE):
            # a flat bottom meets the end in strips without area: take the end's own direction
            touched = np.unique(outside.triangles[chosen])
            bare = touched[np.linalg.norm(normals[touched, k], axis=1) <= 1e-12]
            normals[bare, k] = outside.normals2[chosen].sum(axis=0)
    length = np.linalg.norm(normals, axis=2)
    present = length > 1e-12
    normals /= np.where(present, length, 1.0)[:, :, None]
    normals[~present] = 0.0
    wanted = np.where(present, [-thickness[int(g)] for g in groups], 0.0)
    return np.asarray(np.einsum("vij,vj->vi", np.linalg.pinv(normals, rcond=0.02), wanted))


def _moved_in(outside: Solid, shift: Array, mirrored: bool) -> Solid:
    """The solid with its vertices shifted inward, port and starboard kept apart."""
    moved = outside.vertices + shift
    if mirrored:
        # near a sharp stem the offset would cross the centreline: there is no inside there
        moved[:, 1] = np.where(moved[:, 1] * outside.vertices[:, 1] < 0, 0.0, moved[:, 1])
        moved[outside.vertices[:, 1] == 0, 1] = 0.0
    return Solid(moved, outside.triangles, outside.groups, outside.diagonals)
