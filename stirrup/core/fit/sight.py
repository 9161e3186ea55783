"""How far the bow hides the water from the helm when she runs."""

from __future__ import annotations

import math
from dataclasses import dataclass

from stirrup.core.afloat.report import FloatReport
from stirrup.core.arrange.where import footprint
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.model import Item, Plan


def screen_over_m(eye: tuple[float, float], screen: Item, trim_deg: float) -> float:
    """How far a screen's upper edge stands over the level line of sight, below it negative [m].

    eye: (x, z); the edge lies at the aft end of its box, a screen being raked aft. Bow up by the
    trim a, the level line falls by tan a for each metre ahead in the boat's axes.
    """
    assert screen.size is not None
    edge = min(p[0] for p in footprint(screen))
    top = screen.mass.centre[2] + screen.size[2] / 2
    return top - (eye[1] - math.tan(math.radians(trim_deg)) * (edge - eye[0]))


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
    her draft there kept: H = (x - xm) sin a + (z - zw) cos a over the water, X along it; the ray
    from the eye over the highest point ahead meets H = 0.
    """
    low, high = float(surface.outside.low[0]), float(surface.outside.high[0])
    middle = (low + high) / 2
    rest = math.radians(report.trim_deg)
    level = (report.draft_at_origin_m - math.sin(rest) * middle) / max(0.2, math.cos(rest))
    a = rest + math.radians(plan.propulsion.running_trim)

    def seen(p: tuple[float, float]) -> tuple[float, float]:
        x, z = p[0] - middle, p[1] - level
        return (x * math.cos(a) - z * math.sin(a), x * math.sin(a) + z * math.cos(a))

    line = surface.lines[0][-1]
    sheer = [*line[:-1:4], line[-1]]
    points = [(float(p[0]), float(p[2])) for p in sheer if p[0] > eye[0] + 0.1]
    for item in plan.items:
        ring = footprint(item)
        # a screen is looked through
        if not ring or item.size is None or item.stage == "removed" or item.form == "screen":
            continue
        if min(p[1] for p in ring) <= y <= max(p[1] for p in ring) and min(p[0] for p in ring) > eye[0]:
            points.append((min(p[0] for p in ring), item.mass.centre[2] + item.size[2] / 2))
    ex, eh = seen(eye)
    steepest, over = -math.inf, (high, level)
    for p in points:
        px, ph = seen(p)
        slope = (ph - eh) / max(px - ex, 1e-6)
        if slope > steepest:
            steepest, over = slope, p
    if steepest >= 0 or eh <= 0:
        return SightLine(eye, over, None, None)
    stem = seen((high, float(surface.lines[0][-1][-1][2])))[0]
    blind = max(0.0, ex - eh / steepest - stem)
    return SightLine(eye, over, blind, blind / (high - low))
