"""A boat whose forefoot stands on the ground: the ground carries part of her.

An upright force at a point of the boat acts like mass taken away there: the position of rest is that
of the lighter load, and GM of it counts the loss of stability. Source: statics of grounding.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from stirrup.core.afloat.equilibrium import State
from stirrup.core.afloat.ledger import Entry, Load, add_loads, sum_load
from stirrup.core.document import Point
from stirrup.core.errors import NoEquilibriumError
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.model import LoadCase

BEACH = 1 / 8  # rise of the ground forward: working value
NEAR_M = 0.0002
FIRST_SHARE = 0.02  # of her mass, that the first try takes away
MOST_GROWTH = 1.7  # of the force from one try to the next
MOST_STEPS = 20


def forefoot(surface: HullSurface) -> Point:
    """Where rising ground touches first: the point of the keel line lowest over a beach."""
    port, starboard = (np.array(side[0]) for side in surface.lines)
    x, y, z = port[int(np.argmin(port[:, 2] - BEACH * port[:, 0]))].tolist()
    other = starboard[int(np.argmin(np.abs(starboard[:, 0] - x))), 1]
    return (x, (y + float(other)) / 2, z)


def at_rest(
    load: Load, case: LoadCase, surface: HullSurface, solve: Callable[[Load], State]
) -> tuple[Load, State]:
    """What weighs on the water and the position of rest in a case. Raises NoEquilibriumError."""
    if case.lifted:
        return grounded(load, forefoot(surface), case.lifted, solve)
    return load, solve(load)


def grounded(
    load: Load, place: Point, lifted_m: float, solve: Callable[[Load], State]
) -> tuple[Load, State]:
    """Load and position when the ground lifts a point by this much over where it floats [m].

    solve: position of rest of a load. The force is found by the secant rule. Raises
    NoEquilibriumError when she floats in none, or the ground would have to carry her all.
    """

    def height(state: State) -> float:
        return float(np.array(place) @ state.n) - state.d

    def less(force: float) -> Load:
        ground = Entry("ground", "the ground", "ground", -force, 0.0, "computed", place)
        return add_loads(load, sum_load([ground]))

    state = solve(load)
    want = height(state) + lifted_m
    known, force = (0.0, -lifted_m), FIRST_SHARE * load.mass_kg
    for _ in range(MOST_STEPS):
        if not 0 < force < 0.9 * load.mass_kg:
            break
        try:
            state = solve(less(force))
        except NoEquilibriumError:
            # too much: she would stand on end, or go over
            force = (known[0] + force) / 2
            continue
        off = height(state) - want
        if abs(off) < NEAR_M:
            return less(force), state
        slope = (off - known[1]) / (force - known[0])
        step = -off / slope if slope > 0 else force
        known, force = (force, off), min(force + step, MOST_GROWTH * force)
    raise NoEquilibriumError("the ground would have to carry her")
