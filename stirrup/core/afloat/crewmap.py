"""Where not to stand: heel and least freeboard for a person on each square of the plan.

The squares are walked to and fro. Each starts from its neighbour's position, moved by that
neighbour's stiffness for the change of moment, and takes Newton steps from there: one
evaluation is nearly always enough.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from stirrup.core.afloat.balance import downhill, up_derivatives, up_vector
from stirrup.core.afloat.equilibrium import CAPSIZE_RAD, State, evaluate
from stirrup.core.afloat.ledger import Load
from stirrup.core.afloat.situation import Situation
from stirrup.core.record import dataclass

Array = NDArray[np.float64]

SETTLED_RAD = 1.5e-3  # a last step smaller than this leaves an error of its square
MOST_STEPS = 12


@dataclass(frozen=True)
class CrewMap:
    """Rows from starboard to port, columns from aft to fore; NaN where nobody can stand.

    x, y: middles of the squares [m]; height_m: of the ground; list_deg, trim_deg,
    freeboard_m: least over both sheers and the openings, all of shape (ny, nx). `over` marks
    squares where she capsizes or sinks under the person.
    """

    x: Array
    y: Array
    height_m: Array
    list_deg: Array
    trim_deg: Array
    freeboard_m: Array
    over: NDArray[np.bool_]


def _nudged(here: Situation, load: Load, start: State, start_load: Load) -> tuple[State, Array] | None:
    """Newton from `start`, a position evaluated under `start_load`, to the equilibrium under
    `load` (which differs in its rigid masses only): the last evaluated state, and the
    position after its last step. None when she falls over or sinks on the way."""
    first, _ = up_derivatives(start.trim, start.heel)
    change = start.gradient.copy()
    change[0] -= load.rigid_kg - start_load.rigid_kg
    change[1:] += first @ (load.moment - start_load.moment)
    state = start
    fine, step = downhill(state.stiffness, change)
    position = np.array([state.d, state.trim, state.heel])
    for _ in range(MOST_STEPS):
        if not fine:
            return None
        position = position + step * min(1.0, 0.2 / max(1e-12, float(np.abs(step[1:]).max())))
        if np.abs(position[1:]).max() > CAPSIZE_RAD:
            return None
        state = evaluate(here.solid, load, here.density, *position.tolist())
        fine, step = downhill(state.stiffness, state.gradient)
        if fine and float(np.abs(step).max()) < SETTLED_RAD:
            return state, position + step
    return None


def crew_map(here: Situation, ground: Array, x: Array, y: Array, mass_kg: float, rise_m: float) -> CrewMap:
    """The map for one more person of `mass_kg`, his body's centre `rise_m` over the ground.

    ground: (ny, nx) heights [m], NaN where nobody can stand; ny at least 1. Whoever is in
    the case already stays where he is.
    """
    *_, whole = crew_rows(here, ground, x, y, mass_kg, rise_m)
    return whole


def crew_rows(
    here: Situation, ground: Array, x: Array, y: Array, mass_kg: float, rise_m: float
) -> Iterator[CrewMap]:
    """The same after each row, so that what is known can be shown while the rest is computed."""
    shape = ground.shape
    heel, trim, board = (np.full(shape, np.nan) for _ in range(3))
    over = np.zeros(shape, dtype=bool)
    points = here.dry_points()
    near, near_load = here.state, here.load
    for row in range(shape[0]):
        columns = range(shape[1]) if row % 2 == 0 else range(shape[1] - 1, -1, -1)
        for column in columns:
            z = ground[row, column]
            if math.isnan(z):
                continue
            person = np.array([x[column], y[row], z + rise_m])
            load = replace(
                here.load,
                rigid_kg=here.load.rigid_kg + mass_kg,
                moment=here.load.moment + mass_kg * person,
            )
            found = _nudged(here, load, near, near_load)
            if found is None and near is not here.state:
                found = _nudged(here, load, here.state, here.load)
            if found is None:
                over[row, column] = True
                continue
            near, (d, t, h) = found
            near_load = load
            trim[row, column], heel[row, column] = math.degrees(t), math.degrees(h)
            board[row, column] = float((points @ up_vector(t, h)).min()) - d
        yield CrewMap(x, y, ground, heel, trim, board, over)
