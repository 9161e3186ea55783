"""First sizes of pods and side collars as buoyant volumes: boxes, to compare with nothing.

Screening shapes: their builders with parts and outlines that follow the side come later.
"""

from __future__ import annotations

from decimal import Decimal
from typing import Any

import numpy as np

from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.changes import AddThing, AnyChange, Together
from stirrup.core.plan.model import Plan

POD_LENGTH_M = 0.45
POD_SHARE = 0.30  # of the transom's breadth, each
POD_KG_M3 = 120.0  # sheet-metal box by its volume, working value
POD_COST = Decimal(260)
COLLAR_ACROSS_M, COLLAR_HIGH_M = 0.12, 0.20
COLLAR_KG_M3 = 45.0  # closed-cell foam in cloth, working value
COLLAR_COST = Decimal(340)
COLLAR_BOXES = 4  # to a side


def _add(id_: str, name: str, option: str, size: list[float], floor: list[float], density: float,
         cost: Decimal) -> AddThing:  # fmt: skip
    value: dict[str, Any] = {
        "id": id_, "name": name, "option": option, "stage": "considered", "density": density,
        "box": {"size": [round(s, 4) for s in size], "floor_centre": [round(f, 4) for f in floor]},
        "cost": str(cost),
    }  # fmt: skip
    return AddThing(path=("buoyancy",), value=value)


def _free(plan: Plan, stem: str) -> str:
    taken = {v.option for v in plan.buoyancy} | {v.id.rsplit("-", 1)[0] for v in plan.buoyancy}
    number = 1
    while f"{stem} {number}" in taken or f"{stem}-{number}" in taken:
        number += 1
    return f"{stem}-{number}"


def new_pods(plan: Plan, surface: HullSurface) -> AnyChange:
    """A pair of pods behind the transom, flush with the bottom, one to each side."""
    low = surface.lines[0]
    half = max(float(line[0][1]) for line in low[:-1])
    across = POD_SHARE * 2 * half
    floor = float(
        np.interp(half - across / 2, [float(p[0][1]) for p in low], [float(p[0][2]) for p in low])
    )
    aft = min(float(line[0][0]) for line in low)
    high = 0.6 * float(low[-1][0][2])
    stem = _free(plan, "pods")
    option = stem.replace("-", " ")
    size = [POD_LENGTH_M, across, high]
    changes = tuple(
        _add(f"{stem}-{word}", f"pod, {word}", option, size,
             [aft - POD_LENGTH_M / 2 - 0.005, side * (half - across / 2), floor], POD_KG_M3,
             POD_COST / 2)
        for word, side in (("port", 1.0), ("starboard", -1.0))
    )  # fmt: skip
    return Together(changes=changes, words=f"{option}: a pair of pods to compare")


def new_collars(plan: Plan, surface: HullSurface) -> AnyChange:
    """Foam collars along both sheers, as boxes end to end outside of the hull."""
    stem = _free(plan, "collars")
    option = stem.replace("-", " ")
    changes: list[AddThing] = []
    for word, side, line in (
        ("port", 1.0, surface.lines[0][-1]),
        ("starboard", -1.0, surface.lines[1][-1]),
    ):
        x = np.linspace(float(line[0][0]), float(line[-1][0]) - 0.15, COLLAR_BOXES + 1)
        for k in range(COLLAR_BOXES):
            within = (line[:, 0] >= x[k]) & (line[:, 0] <= x[k + 1])
            points = line[within]
            outer = float(np.abs(points[:, 1]).max())
            top = float(points[:, 2].min())
            length = float(x[k + 1] - x[k])
            floor = [float(x[k]) + length / 2, side * (outer + COLLAR_ACROSS_M / 2 + 0.002),
                     top - COLLAR_HIGH_M]  # fmt: skip
            changes.append(
                _add(f"{stem}-{word}-{k + 1}", f"collar, {word} {k + 1}", option,
                     [length, COLLAR_ACROSS_M, COLLAR_HIGH_M], floor, COLLAR_KG_M3,
                     COLLAR_COST / (2 * COLLAR_BOXES))
            )  # fmt: skip
    return Together(changes=tuple(changes), words=f"{option}: foam collars to compare")
