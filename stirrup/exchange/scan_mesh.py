"""Scan meshes in: STL, OBJ, PLY; sections of them."""

from __future__ import annotations

import io
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.hull.scan import (
    Scanned,
    Section,
    cuts,
    guess_frame,
    guess_picks,
    scan_readings,
    upright,
)
from stirrup.core.hull.symmetry import onto_middle
from stirrup.core.record import dataclass

if TYPE_CHECKING:
    import trimesh

Array = NDArray[np.float64]

KINDS = ("stl", "obj", "ply")
MOST_FACES = 1_500_000
FARTHEST = 1e7  # of a point, in the units of the file
UNITS_M = {"mm": 0.001, "cm": 0.01, "m": 1.0, "in": 0.0254, "ft": 0.3048}
SAMPLES = 6000  # points over the surface: for its picture, and to find the plane of symmetry by


def read_scan(content: bytes, file_name: str) -> trimesh.Trimesh:
    """A mesh from a file's bytes. Raises CoreError naming what was read and what is accepted."""
    # loaded when first needed: it is slow to import
    import trimesh

    kind = file_name.rpartition(".")[2].lower()
    if kind not in KINDS:
        raise CoreError(f"read “{file_name}”; accepted: a mesh as .stl, .obj or .ply", "scan")
    try:
        mesh: Any = trimesh.load(io.BytesIO(content), file_type=kind, force="mesh", process=False)
    except Exception as error:  # the readers raise whatever they stumble over
        raise CoreError(f"“{file_name}” cannot be read as {kind.upper()}: {error}", "scan") from None
    if not isinstance(mesh, trimesh.Trimesh) or len(mesh.faces) < 20:
        raise CoreError(
            f"“{file_name}” holds no surface; accepted: a mesh with faces, not bare points", "scan"
        )
    if len(mesh.faces) > MOST_FACES:
        raise CoreError(
            f"{len(mesh.faces):,} faces; accepted: up to {MOST_FACES:,}: thin the scan out", "scan"
        )
    if not np.isfinite(mesh.vertices).all() or np.abs(mesh.vertices).max() > FARTHEST:
        raise CoreError(f"“{file_name}” holds points that are not numbers, or far from all else", "scan")
    if mesh.faces.min() < 0 or mesh.faces.max() >= len(mesh.vertices):
        raise CoreError(f"“{file_name}” is damaged: it has faces on points that are not there", "scan")
    if not mesh.area > 0:
        raise CoreError(f"“{file_name}” holds no surface: all its faces are without area", "scan")
    return mesh


def guess_unit(extent: float) -> str:
    """The unit in which the longest extent is that of a small boat (2.4 to 9 m)."""
    for unit in ("m", "mm", "in", "cm", "ft"):
        if 2.4 <= extent * UNITS_M[unit] <= 9:
            return unit
    return "mm"


def even_points(mesh: trimesh.Trimesh) -> tuple[Array, Array]:
    """Points evenly over the surface and the normals there, the same at each call."""
    from trimesh.sample import sample_surface

    points, faces = sample_surface(mesh, SAMPLES, seed=1)
    return np.asarray(points, dtype=np.float64), np.asarray(mesh.face_normals[faces])


@dataclass(frozen=True)
class Looked:
    """A scan as a page shows it: points in its own axes, guessed frame, middle and picks."""

    points: Array
    frame: Array
    middle: Array
    picks: tuple[Point, Point, Point]


def look_at(mesh: trimesh.Trimesh) -> Looked:
    """A picture of the scan and a guess how it lies."""
    points, normals = even_points(mesh)
    frame, middle = guess_frame(points, normals)
    return Looked(points, frame, middle, guess_picks(points, normals))


def sections(placed: trimesh.Trimesh) -> list[Section]:
    """Sections of a scan that stands upright, in metres. Raises CoreError for its length."""
    from trimesh import intersections

    low, high = placed.bounds[:, 0]
    xs = cuts(float(low), float(high))
    cut: Any = intersections.mesh_multiplane
    flat, transforms, _ = cut(placed, [0.0, 0.0, 0.0], [1.0, 0.0, 0.0], xs)
    out = []
    for x, segments, transform in zip(xs, flat, transforms, strict=True):
        # back from the plane's own axes to the boat's
        points = np.asarray(segments).reshape(-1, 2) @ np.asarray(transform)[:3, :2].T
        back = points + np.asarray(transform)[:3, 3]
        out.append(Section(float(x), back[:, 1:].reshape(-1, 2, 2)))
    return out


@dataclass(frozen=True)
class ScanWishes:
    """How a scan becomes readings: unit, three picks in its own axes, lines, stations."""

    unit: str
    picks: tuple[Point, Point, Point]
    lines: str = "keel, chine, sheer"
    stations: int = 9
    centre: bool = True  # turn her onto the plane of symmetry


@dataclass(frozen=True)
class ScanResult:
    """Readings with the sections they were taken from, and the turn onto the middle [degrees]."""

    scanned: Scanned
    sections: list[Section]
    turned_deg: float


def scan_result(mesh: trimesh.Trimesh, wishes: ScanWishes) -> ScanResult:
    """Readings of a scan. Raises CoreError whose place is the wish that does not fit."""
    if wishes.unit not in UNITS_M:
        raise CoreError(f"read “{wishes.unit}”; accepted: {', '.join(UNITS_M)}", "unit")
    import trimesh

    turn, at = upright(*wishes.picks)
    scale = UNITS_M[wishes.unit]
    placed = trimesh.Trimesh((mesh.vertices - at) @ turn.T * scale, mesh.faces, process=False)
    cuts(
        float(placed.bounds[0, 0]), float(placed.bounds[1, 0])
    )  # the unit is wrong before anything else is
    turned = 0.0
    if wishes.centre:
        small, shift = onto_middle(*even_points(placed))
        turned = float(np.degrees(np.arccos(min(1.0, (np.trace(small) - 1) / 2))))
        placed = trimesh.Trimesh((placed.vertices - shift) @ small.T, mesh.faces, process=False)
    found = sections(placed)
    # lengths and heights count from the keel at the transom, wherever the pick was
    x, _, z = scan_readings(found, wishes.lines, wishes.stations).port[0].points[0]
    found = [Section(s.x - x, s.segments - (0.0, z)) for s in found]
    return ScanResult(scan_readings(found, wishes.lines, wishes.stations), found, turned)
