"""Stock off a roll: how much is cut off, and which lengths may do."""

from __future__ import annotations

import math

SOLD_M = 0.1  # off a roll, in steps of
LONGER = (1.0, 1.04, 1.1, 1.2, 1.35, 1.6, 2.0, 3.0)  # than the least that a roll could do with: tried


def cut_off(reach: float, longest: float) -> float:
    """How much is cut off a roll for parts that reach so far with their margin [m]; at most `longest`."""
    return min(longest, round(math.ceil(reach / SOLD_M - 1e-6) * SOLD_M, 6))


def pieces(area: float, wide: float, margin: float, longest: float) -> tuple[float, ...]:
    """Lengths of a roll that may do, shorter than all of it [m]: from what an area of parts takes on.

    area: of the parts [m²]; wide: the roll, margin: left out at each edge [m]."""
    least = area / wide + 2 * margin
    found = dict.fromkeys(cut_off(max(least * more, SOLD_M), longest) for more in LONGER)
    return tuple(x for x in found if x < longest - SOLD_M / 2)
