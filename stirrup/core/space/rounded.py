"""Rectangles with rounded corners: openings, lids and doors."""

from __future__ import annotations

from functools import partial

from shapely import box
from shapely.geometry import Polygon

from stirrup.core.memo import Memo

LEAST_M = 1e-4  # a smaller radius is a sharp corner; and what is left of a side between two
KNOWN = Memo(400, common=True)


def rounded(x: float, y: float, long: float, wide: float, radius: float) -> Polygon:
    """A rectangle about (x, y), `long` along the first axis and `wide` along the second, with rounded
    corners [m]; a radius that is too large for it is made smaller."""
    radius = min(radius, long / 2 - LEAST_M, wide / 2 - LEAST_M)
    key = (x, y, long, wide, radius)
    # a hand that drags something else asks for the same ones at every step
    return KNOWN.get(key, partial(_rounded, *key))


def _rounded(x: float, y: float, long: float, wide: float, radius: float) -> Polygon:
    sharp = box(x - long / 2, y - wide / 2, x + long / 2, y + wide / 2)
    if radius <= LEAST_M:
        return sharp
    return sharp.buffer(-radius, join_style="mitre").buffer(radius, quad_segs=8)
