"""A fitting taken apart: each part moved out from where it sits, along the way it comes off."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import MultiPoint, Polygon

from stirrup.core.contract.gives import Built
from stirrup.core.document import Point
from stirrup.core.parts.model import Member, Panel
from stirrup.core.record import dataclass

Array = NDArray[np.float64]
Spot = tuple[float, float]
APART = 0.42  # how far parts go out, as a share of the fitting's largest extent
SIDES = 0.5  # of it for what goes to the boat's sides
STAYS = ("bearer", "strip")  # panels that are set like members
# seen from aft and starboard, from above, all three axes alike: isometric
ACROSS = np.array([1.0, -1.0, 0.0]) / np.sqrt(2)
UP = np.array([1.0, 1.0, 2.0]) / np.sqrt(6)
AWAY = np.array([1.0, 1.0, -1.0]) / np.sqrt(3)


@dataclass(frozen=True)
class Apart:
    """A part as it is drawn: its label, what it is made of, its outlines [m] seen isometrically, each with
    its holes; where it is, and where it belongs."""

    label: str
    stuff: str
    shapes: tuple[tuple[tuple[Spot, ...], ...], ...]
    at: Spot
    home: Spot


def seen(point: Array | Point) -> Spot:
    """A place of the boat on the drawing, across and up [m]: bow to the right and up, port to the left."""
    p = np.asarray(point, dtype=float)
    return float(p @ ACROSS), float(p @ UP)


def taken_apart(built: Built) -> list[Apart]:
    """Every panel and member of a fitting, the farthest first, so that nearer ones lie over them."""
    parts: list[Panel | Member] = [*built.panels, *built.members]
    if not parts:
        return []
    corners = {p.key: _corners(p) for p in parts}
    every = np.concatenate(list(corners.values()))
    low, high = every.min(axis=0), every.max(axis=0)
    middle, apart = (low + high) / 2, APART * float((high - low).max())
    rows = []
    for part in parts:
        centre = corners[part.key].mean(axis=0)
        by = _way(part, centre - middle) * apart
        outlines = _outlines(part, by)
        if outlines:
            stuff = part.sheet.stuff.kind if isinstance(part, Panel) else "metal"
            drawn = Apart(part.label, stuff, outlines, seen(centre + by), seen(centre))
            rows.append((float((centre + by) @ AWAY), drawn))
    return [drawn for _, drawn in sorted(rows, key=lambda row: -row[0])]


def _corners(part: Panel | Member) -> Array:
    if isinstance(part, Panel):
        return np.array([f.frame.at(u, v) for f in part.faces for u, v in f.outline])
    bodies = part.fills or (part.path,)
    return np.array([p for body in bodies for p in body])


def _way(part: Panel | Member, off: Array) -> Array:
    """The way a part comes off, off: from the fitting's middle to its own. A panel goes along its normal,
    side angles to their side; what stands between stays."""
    if isinstance(part, Member):
        side = np.sign(off[1]) if part.role == "side" else 0.0
        return np.array([0.0, SIDES * side, 0.0])
    if part.role in STAYS:
        return np.zeros(3)
    if part.flats:  # off what it is folded about: upward, or to the side that it closes
        side = np.sign(off[1]) if abs(off[1]) > abs(off[2]) else 0.0
        return np.array([0.0, side, 0.0 if side else 1.0])
    normal = np.cross(part.frame.along, part.frame.across)
    normal = normal / np.linalg.norm(normal)
    # what lies in the middle goes up, or forward
    outward = float(normal @ off)
    if abs(outward) < 1e-6:
        outward = float(normal.sum())
    return np.asarray(normal * np.sign(outward))


def _outlines(part: Panel | Member, by: Array) -> tuple[tuple[tuple[Spot, ...], ...], ...]:
    """What is drawn of a part: the face of a panel with its holes, each body of a member."""
    if isinstance(part, Panel):
        # the farthest face first
        faces = sorted(part.faces, key=lambda f: -float(np.array(f.centre) @ AWAY))
        return tuple(
            tuple(tuple(seen(np.array(f.frame.at(u, v)) + by) for u, v in r) for r in (f.outline, *f.holes))
            for f in faces
        )
    hulls = [MultiPoint([seen(np.array(p) + by) for p in body]).convex_hull for body in part.fills]
    flat = [h for h in hulls if isinstance(h, Polygon)]
    return tuple((tuple((x, y) for x, y in h.exterior.coords[:-1]),) for h in flat)
