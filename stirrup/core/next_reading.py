"""What to measure next: the readings that blur the float and the deck's outline most.

Each reading is moved by its own spread, inward or downward (to the side that takes
freeboard away), the hull is built anew, and the effects are taken by finite differences; a
reading's share is the variance that measuring it would take away.
"""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from stirrup.core.afloat.equilibrium import QUICK_TOLERANCE, State, equilibrium
from stirrup.core.afloat.ledger import Load
from stirrup.core.errors import CoreError, NoEquilibriumError
from stirrup.core.hull.mesh import HullSurface, build_surface
from stirrup.core.hull.model import READING_SPREAD_M, Hull
from stirrup.core.record import dataclass

Array = NDArray[np.float64]

BOARD_M = 0.01  # this much least freeboard weighs as much ...
OUTLINE_M = 0.01  # ... as this much half-breadth of a deck
Axis = Literal["half-width", "height"]


@dataclass(frozen=True)
class Wanted:
    """A reading that is worth taking: what its spread does to the freeboard and the outline [m]."""

    line: str
    station: int  # from 0
    axis: Axis
    spread_m: float
    board_m: float
    outline_m: float
    share: float  # of the whole variance


def moved(hull: Hull, j: int, k: int, axis: int, by: float, starboard: bool = False) -> Hull:
    """The hull with one coordinate of a line's reading moved [m], no half-width under nothing. starboard:
    of those that were measured apart there."""
    every = (hull.starboard if starboard else hull.lines) or ()
    line = every[j]
    points = [list(p) for p in line.points]
    points[k][axis] = max(0.0, points[k][axis] + by) if axis == 1 else points[k][axis] + by
    changed = line.model_copy(update={"points": tuple((p[0], p[1], p[2]) for p in points)})
    lines = (*every[:j], changed, *every[j + 1 :])
    return hull.model_copy(update={"starboard" if starboard else "lines": lines})


def _figures(surface: HullSurface, load: Load, density: float, near: State) -> tuple[float, Array]:
    """Least freeboard [m], and half-breadths half way up the side, as of a deck's outline [m]."""
    state = equilibrium(surface.outside, load, density, near, QUICK_TOLERANCE)
    board = float((surface.sheers @ state.n).min()) - state.d
    lines = surface.lines[0]
    half = 0.5 * (lines[-1][:, 1] + lines[max(0, len(lines) - 2)][:, 1])
    return board, half


def measure_next(hull: Hull, load: Load, density: float, most: int = 5) -> tuple[Wanted, ...]:
    """The readings that would reduce the spread most, best first; none when all are measured.

    load: what she weighs, planned and empty. Raises NoEquilibriumError when she does not float.
    """
    base = build_surface(hull)
    start = equilibrium(base.outside, load, density)
    board, outline = _figures(base, load, density, start)
    found: list[tuple[float, Wanted]] = []
    for j, line in enumerate(hull.lines):
        for k in range(len(line.points)):
            spread = line.spread_at(k)
            if spread <= READING_SPREAD_M["measured"]:
                continue
            axes: tuple[tuple[int, Axis], ...] = ((1, "half-width"), (2, "height"))
            for axis, name in axes:
                if axis == 1 and line.points[k][1] < 1e-6:
                    continue  # the keel stays on the centreline
                try:
                    shifted = build_surface(moved(hull, j, k, axis, -spread))
                    b, o = _figures(shifted, load, density, start)
                except (CoreError, NoEquilibriumError):
                    continue
                off = float(np.sqrt(np.mean((o - outline) ** 2)))
                weight = ((b - board) / BOARD_M) ** 2 + (off / OUTLINE_M) ** 2
                found.append((weight, Wanted(line.name, k, name, spread, b - board, off, 0.0)))
    total = sum(w for w, _ in found)
    found.sort(key=lambda pair: -pair[0])
    return tuple(
        Wanted(w.line, w.station, w.axis, w.spread_m, abs(w.board_m), w.outline_m,
               weight / total if total > 0 else 0.0)
        for weight, w in found[:most] if math.isfinite(weight)
    )  # fmt: skip
