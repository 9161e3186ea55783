"""How far the bow hides the water from the helm when she runs."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator

from shapely import box as rectangle
from shapely.geometry import LineString

from stirrup.core.afloat.report import FloatReport
from stirrup.core.contract.gives import Pane
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

XZ = tuple[float, float]
BESIDE_M = 0.1  # what is nearer is looked down on beside the body


def pane_over_m(eye: tuple[float, float], pane: Pane, trim_deg: float) -> float:
    """How far a screen's upper edge stands over the level line of sight, below it negative [m].

    eye: (x, z). Bow up by the trim a, the level line falls by tan a for each metre ahead in the
    boat's axes.
    """
    return pane.top_m - (eye[1] - math.tan(math.radians(trim_deg)) * (pane.edge_m - eye[0]))


def _crossing(body: Solid, y: float) -> tuple[float, float] | None:
    """Where a line along the boat at y enters and leaves a body in plan [m]."""
    flat = body.shape.footprint if isinstance(body.shape, Prism) else rectangle(*body.shape.flat)
    met = flat.intersection(LineString([(-99.0, y), (99.0, y)]))
    return None if met.is_empty else (met.bounds[0], met.bounds[2])


def _edges(bodies: Iterable[Solid], y: float, ahead: float) -> Iterator[tuple[XZ, list[XZ]]]:
    """Of each thing in line with y and forward of `ahead`: its lowest near point and its top
    edges, in (x, z) [m]."""
    for body in bodies:
        span = None if body.clear else _crossing(body, y)
        if span is None or span[1] <= ahead:
            continue
        low, high = body.shape.bounds[2], body.shape.bounds[5]
        yield (max(span[0], ahead), low), [(x, high) for x in span if x > ahead]


@dataclass(frozen=True)
class Outlook:
    """What one looks over: what stands in the boat, her hull, how she floats, and by how much more
    than at rest her bow is up when she runs [deg]."""

    bodies: tuple[Solid, ...]
    surface: HullSurface
    report: FloatReport
    running_trim_deg: float

    @property
    def trim_deg(self) -> float:
        """Bow up when she runs."""
        return self.report.trim_deg + self.running_trim_deg


@dataclass(frozen=True)
class SightLine:
    """Eye, the point that hides the water, and where water is seen again, in (x, z) of the boat."""

    eye: tuple[float, float]
    over: tuple[float, float]
    blind_m: float | None  # ahead of the stem; None: no water is seen at all
    lengths: float | None


def sight_line(eye: tuple[float, float], y: float, outlook: Outlook) -> SightLine:
    """How far ahead of the stem the water is hidden from an eye at (x, z), y when she runs.

    She is turned bow up by the case's trim and the running trim about the middle of her length,
    her draft there kept: H = (x - xm) sin a + (z - zw) cos a over the water, X along it. Of all
    edges ahead (both sheers, near and far top edge of what stands in his line; a deck lies under
    the sheer) the one that is seen highest decides: the ray over it meets H = 0.
    """
    low, high = float(outlook.surface.outside.low[0]), float(outlook.surface.outside.high[0])
    middle = (low + high) / 2
    rest = math.radians(outlook.report.trim_deg)
    level = (outlook.report.draft_at_origin_m - math.sin(rest) * middle) / max(0.2, math.cos(rest))
    a = rest + math.radians(outlook.running_trim_deg)

    def seen(p: tuple[float, float]) -> tuple[float, float]:
        x, z = p[0] - middle, p[1] - level
        return (x * math.cos(a) - z * math.sin(a), x * math.sin(a) + z * math.cos(a))

    ex, eh = seen(eye)
    ahead = eye[0] + BESIDE_M
    points = [(float(x), float(z)) for x, _, z in outlook.surface.sheers if x > ahead]
    for low_edge, edges in _edges(outlook.bodies, y, ahead):
        # what begins over the horizon of the eye hides sky, no water
        if seen(low_edge)[1] < eh:
            points += edges
    steepest, over = -math.inf, (high, level)
    for p in points:
        px, ph = seen(p)
        slope = (ph - eh) / max(px - ex, 1e-6)
        if slope > steepest:
            steepest, over = slope, p
    if steepest >= 0 or eh <= 0:
        return SightLine(eye, over, None, None)
    stem = max(seen((float(x), float(z)))[0] for x, _, z in outlook.surface.sheers)
    blind = max(0.0, ex - eh / steepest - stem)
    return SightLine(eye, over, blind, blind / (high - low))
