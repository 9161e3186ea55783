"""What stands within reach of a welding torch: what has to move, and who watches. A screening."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from stirrup.core.contract.kind import Heat
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Quantity, declare, plain
from stirrup.core.parts.model import Panel
from stirrup.core.plan.placed import Placed

declare("layout", {"SEAM-HEAT": "what the heat of a seam reaches"}, acceptable=True, pace="behind")

Array = NDArray[np.float64]
SAMPLE_M = 0.05  # along a seam
MANY = 5  # names in one sentence
# what becomes of a panel by what it is made of, where its kind says nothing of itself
PANELS = {
    "wood": Heat(0.15, "its wood chars"),
    "plastic": Heat(0.15, "its board softens, and some of it burns"),
    "composite": Heat(0.15, "its resin softens"),
    "foam": Heat(0.3, "its foam burns, and its smoke is poison"),
}


def _points(path: Sequence[Point]) -> Array:
    """A path at even steps (n, 3) [m]."""
    corners = np.array(path)
    out = [corners[:1]]
    for a, b in pairwise(corners):
        steps = max(1, int(np.ceil(np.linalg.norm(b - a) / SAMPLE_M)))
        out.append(a + np.linspace(1 / steps, 1, steps)[:, None] * (b - a))
    return np.concatenate(out)


def _to_box(points: Array, bounds: Sequence[float] | Array) -> float:
    """From points to a box, the least [m]."""
    low, high = np.array(bounds[:3]), np.array(bounds[3:])
    off = np.maximum(np.maximum(low - points, points - high), 0.0)
    return float(np.linalg.norm(off, axis=1).min())


def _to_line(points: Array, a: Point, b: Point) -> float:
    """From points to a straight stretch, the least [m]."""
    start, way = np.array(a), np.subtract(b, a)
    size = float(way @ way)
    share = np.clip((points - start) @ way / size, 0.0, 1.0) if size > 0 else np.zeros(len(points))
    return float(np.linalg.norm(points - start - share[:, None] * way, axis=1).min())


def away_m(points: Array, thing: Placed) -> float | None:
    """How far a thing is from a seam, by the boxes round its pieces and what of it is led; None for what
    takes no room [m]."""
    found = [_to_box(points, piece.bounds) for s in thing.built.solids for piece in s.pieces or (s.shape,)]
    found += [_to_line(points, a, b) for a, b in thing.built.led]
    return min(found, default=None)


def _round(panel: Panel) -> Array:
    """The box round a panel, its thickness on either side of it (6,) [m]."""
    frame, outline = panel.frame, np.array(panel.outline)
    places = np.array(frame.origin) + outline @ np.array((frame.along, frame.across))
    half = panel.sheet.thickness / 2
    return np.concatenate((places.min(axis=0) - half, places.max(axis=0) + half))


def _nearest(points: Array, other: Placed) -> tuple[float, str] | None:
    """How far what minds heat of a thing is from a seam, and what becomes of it: as its kind says, or the
    nearest of its panels that are not metal; None where nothing of it is reached."""
    minds = other.kind.minds_heat(other.choices)
    if minds is not None:
        away = away_m(points, other)
        return (away, minds.words) if away is not None and away < minds.reach else None
    near = (
        (_to_box(points, _round(face)), PANELS[panel.sheet.kind])
        for panel in other.built.panels
        if panel.sheet.kind in PANELS
        for face in panel.faces
    )
    return min(((away, heat.words) for away, heat in near if away < heat.reach), default=None)


def _reached(thing: Placed, others: Sequence[Placed]) -> Iterator[tuple[float, Placed, str]]:
    """Others that mind the heat of its seams: how far, which, and what becomes of it."""
    points = np.concatenate([_points(s.path) for s in thing.built.seams])
    for other in others:
        found = None if other.id == thing.id else _nearest(points, other)
        if found is not None:
            yield found[0], other, found[1]


def heat_findings(things: Sequence[Placed]) -> list[Finding]:
    """Of each thing that is welded in. Source: docs/trade-rules.md, “Welding”."""
    out = []
    for thing in things:
        if not thing.built.seams:
            continue
        near = sorted(_reached(thing, things), key=lambda found: found[0])
        name = plain(thing.title)
        if not near:
            out.append(Finding("SEAM-HEAT", "fine", thing.id, "Nothing that burns is near its seams",
                               f"Of what is planned nothing that minds heat is near {name}. Look behind "
                               "the seam all the same: coatings and trapped foam are not on the plan.",
                               {}))  # fmt: skip
            continue
        values = {f"away{k}": Quantity(away, "m") for k, (away, _, _) in enumerate(near[:MANY])}
        listed = "; ".join(f"{plain(other.title)}, {{away{k}}} away: {words}"
                           for k, (_, other, words) in enumerate(near[:MANY]))  # fmt: skip
        more = f"; and {len(near) - MANY} more" if len(near) > MANY else ""
        out.append(Finding("SEAM-HEAT", "look", thing.id, "The heat of its seams reaches something",
                           f"{listed}{more}.", values,
                           "Take it out before the torch is lit, or weld this first; somebody on the other "
                           "side of the skin with an extinguisher, and an hour's watch.",
                           other=near[0][1].id))  # fmt: skip
    return out
