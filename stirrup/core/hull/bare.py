"""The bare hull's mass before it is weighed: skin by area, and an allowance for structure."""

from __future__ import annotations

import numpy as np

from stirrup.core.document import MassPoint
from stirrup.core.hull.mesh import TOP, HullSurface

STRUCTURE = 0.90  # ribs, transom, seats, rails over the skin: 0.6 to 1.2; docs/trade-rules.md, “Masses”


def bare_hull(surface: HullSurface, density: float, structure: float = STRUCTURE) -> MassPoint:
    """Mass point "guessed": Σ area x thickness x density, times 1 + structure.

    density: of the skin [kg/m3]. The centre is that of the skin.
    """
    outside = surface.outside
    area = np.linalg.norm(outside.normals2, axis=1) / 2
    thick = np.array([0.0 if g == TOP else surface.thickness[int(g)] for g in outside.groups])
    weight = area * thick * density
    middle = outside.corners.mean(axis=1)
    skin = float(weight.sum())
    centre = weight @ middle / skin
    value = max(0.1, skin * (1 + structure))
    place = (round(float(centre[0]), 3), 0.0, round(float(centre[2]), 3))
    return MassPoint(value=round(value, 1), centre=place, status="guessed", centre_spread=0.05)
