"""How far the bow hides the water from the helm when she runs."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from shapely.geometry import LineString, Polygon

from stirrup.core.afloat.report import FloatReport
from stirrup.core.arrange.where import footprint
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.model import Item, Plan

XZ = tuple[float, float]
BESIDE_M = 0.1  # what is nearer is looked down on beside the body


def screen_over_m(eye: tuple[float, float], screen: Item, trim_deg: float) -> float:
    """How far a screen's upper edge stands over the level line of sight, below it negative [m].

    eye: (x, z); the edge lies at the aft end of its box, a screen being raked aft. Bow up by the
    trim a, the level line falls by tan a for each metre ahead in the boat's axes.
    """
    assert screen.size is not None
    edge = min(p[0] for p in footprint(screen))
    top = screen.mass.centre[2] + screen.size[2] / 2
    return top - (eye[1] - math.tan(math.radians(trim_deg)) * (edge - eye[0]))


def _crossing(item: Item, y: float) -> tuple[float, float] | None:
    """Where a line along the boat at y enters and leaves an item's box in plan [m]."""
    ring = footprint(item)
    if not ring:
        return None
    met = Polygon(ring).intersection(LineString([(-99.0, y), (99.0, y)]))
    return None if met.is_empty else (met.bounds[0], met.bounds[2])


def _edges(plan: Plan, y: float, ahead: float) -> Iterator[tuple[XZ, list[XZ]]]:
    """Of each thing in line with y and forward of `ahead`: its lowest near point and its top
    edges, in (x, z) [m]."""
    for item in plan.items:
        # a screen is looked through
        if item.size is None or item.stage == "removed" or item.form == "screen":
            continue
        span = _crossing(item, y)
        if span is None or span[1] <= ahead:
            continue
        z, half = item.mass.centre[2], item.size[2] / 2
        yield (max(span[0], ahead), z - half), [(x, z + half) for x in span if x > ahead]


@dataclass(frozen=True)
class SightLine:
    """Eye, the point that hides the water, and where water is seen again, in (x, z) of the boat."""

    eye: tuple[float, float]
    over: tuple[float, float]
    blind_m: float | None  # ahead of the stem; None: no water is seen at all
    lengths: float | None


def sight_line(
    eye: tuple[float, float], y: float, plan: Plan, surface: HullSurface, report: FloatReport
) -> SightLine:
    """How far ahead of the stem the water is hidden from an eye at (x, z), y when she runs.

    She is turned bow up by the case's trim and the running trim about the middle of her length,
    her draft there kept: H = (x - xm) sin a + (z - zw) cos a over the water, X along it. Of all
    edges ahead (both sheers, near and far top edge of what stands in his line; a deck lies under
    the sheer) the one that is seen highest decides: the ray over it meets H = 0.
    """
    low, high = float(surface.outside.low[0]), float(surface.outside.high[0])
    middle = (low + high) / 2
    rest = math.radians(report.trim_deg)
    level = (report.draft_at_origin_m - math.sin(rest) * middle) / max(0.2, math.cos(rest))
    a = rest + math.radians(plan.propulsion.running_trim)

    def seen(p: tuple[float, float]) -> tuple[float, float]:
        x, z = p[0] - middle, p[1] - level
        return (x * math.cos(a) - z * math.sin(a), x * math.sin(a) + z * math.cos(a))

    ex, eh = seen(eye)
    ahead = eye[0] + BESIDE_M
    points = [(float(x), float(z)) for x, _, z in surface.sheers if x > ahead]
    for low_edge, edges in _edges(plan, y, ahead):
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
    stem = max(seen((float(x), float(z)))[0] for x, _, z in surface.sheers)
    blind = max(0.0, ex - eh / steepest - stem)
    return SightLine(eye, over, blind, blind / (high - low))
