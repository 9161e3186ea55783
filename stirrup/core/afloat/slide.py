"""The balance solver: the smallest moves that bring trim and list to a target.

At the target attitude n (and the draft at which her weight is displaced there) the centre
of buoyancy and the tanks' contents are known, and balance asks n_i·(M - ρVB) = 0 for both
angles: two equations that are linear in the moves. So the least Σ |move| is a linear
program, exact for any size of angle; no linearisation of the float is involved. When the
target is out of reach the moment that is left is made as small as it can be first.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import scipy
from numpy.typing import NDArray

from stirrup.core.afloat.balance import up_derivatives, up_vector
from stirrup.core.afloat.clip import cut
from stirrup.core.afloat.equilibrium import State
from stirrup.core.afloat.ledger import Load
from stirrup.core.afloat.situation import Situation
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.record import dataclass

Array = NDArray[np.float64]

SHORTEST_MOVE_M = 0.0005
REACHED_DEG = 0.02


@dataclass(frozen=True)
class Slider:
    """A mass that may slide: how far forward, aft, to port, to starboard from `centre` [m]."""

    id: str
    name: str
    mass_kg: float
    centre: Point
    fore: float = 0.0
    aft: float = 0.0
    port: float = 0.0
    starboard: float = 0.0


@dataclass(frozen=True)
class Move:
    """How far one thing goes forward and to port [m]."""

    id: str
    name: str
    dx: float
    dy: float


@dataclass(frozen=True)
class Balanced:
    """The moves, what trim and list become, and whether the target is reached [deg]."""

    moves: tuple[Move, ...]
    trim_deg: float
    list_deg: float
    reached: bool
    state: State
    travel_m: float


def _moment_at(here: Situation, trim: float, heel: float) -> tuple[Array, Array]:
    """n_i (2, 3), and the moment that is out of balance there without any move (3,)."""
    n = up_vector(trim, heel)
    low, high = here.solid.extent(n)
    mass = here.load.mass_kg

    def short(d: float) -> float:
        return here.density * cut(here.solid, n, d).volume_m3 - mass

    if short(high) < 0:
        raise CoreError("she is too heavy to float at the wanted trim and list", "target")
    d = float(scipy.optimize.brentq(short, low, high, xtol=1e-10))
    part = cut(here.solid, n, d)
    moment = here.load.moment - here.density * part.moment
    for liquid in here.liquids:
        moment = moment + liquid.mass_kg * liquid.settle(n)[0]
    first, _ = up_derivatives(trim, heel)
    return first, np.asarray(moment)


def _program(pull: Array, target: Array, bounds: Array) -> Array:
    """Least Σ move (k,) ≥ 0 with pull @ move = target, or with the least that is left over."""
    count = pull.shape[1]
    slack = np.concatenate([np.eye(2), -np.eye(2)], axis=1)
    both = np.concatenate([pull, slack], axis=1)
    free = [(0.0, float(b)) for b in bounds] + [(0.0, None)] * 4
    left = scipy.optimize.linprog(
        np.concatenate([np.zeros(count), np.ones(4)]), A_eq=both, b_eq=target, bounds=free
    )
    if left.x is None:
        raise CoreError("no set of moves could be found", "target")
    rest = left.x[count:]
    capped = [(0.0, float(b)) for b in bounds] + [(0.0, float(r) + 1e-9) for r in rest]
    least = scipy.optimize.linprog(
        np.concatenate([np.ones(count), np.zeros(4)]), A_eq=both, b_eq=target, bounds=capped
    )
    return np.asarray(left.x[:count] if least.x is None else least.x[:count])


def balance_by_sliding(
    here: Situation, sliders: Sequence[Slider], trim_deg: float = 0.0, list_deg: float = 0.0
) -> Balanced:
    """Least total travel of `sliders` that gives the wanted trim and list.

    Raises CoreError when nothing may slide or the target angles are out of range, and
    NoEquilibriumError when she does not float after the moves.
    """
    if not sliders:
        raise CoreError("nothing may slide yet: tick at least one thing and say how far", "sliders")
    if abs(trim_deg) > 20 or abs(list_deg) > 20:
        raise CoreError("accepted: a target within 20 degrees", "target")
    first, moment = _moment_at(here, math.radians(trim_deg), math.radians(list_deg))
    # four ways for each thing, each a variable that is not negative
    ways = np.array([[1.0, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0]])
    columns = [first @ (s.mass_kg * way) for s in sliders for way in ways]
    bounds = np.array([b for s in sliders for b in (s.fore, s.aft, s.port, s.starboard)])
    scale = max(1.0, here.load.mass_kg)
    answer = _program(np.array(columns).T / scale, -(first @ moment) / scale, bounds).reshape(-1, 4)
    moves = []
    shifted = here.load.moment.copy()
    for slider, (fore, aft, port, starboard) in zip(sliders, answer, strict=True):
        dx, dy = float(fore - aft), float(port - starboard)
        shifted += slider.mass_kg * np.array([dx, dy, 0.0])
        if max(abs(dx), abs(dy)) >= SHORTEST_MOVE_M:
            moves.append(Move(slider.id, slider.name, dx, dy))
    load: Load = replace(here.load, moment=shifted)
    state = here.with_load(load)
    trim, heel = math.degrees(state.trim), math.degrees(state.heel)
    reached = abs(trim - trim_deg) < REACHED_DEG and abs(heel - list_deg) < REACHED_DEG
    travel = sum(abs(m.dx) + abs(m.dy) for m in moves)
    return Balanced(tuple(moves), trim, heel, reached, state, travel)
