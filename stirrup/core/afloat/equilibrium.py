"""Floating equilibrium by Newton's method on the potential energy.

Unknowns u = (d, t, h): height of the water plane n·r = d, trim t (bow up positive), heel h
(port side down positive), with the water's up-vector in boat axes
n = (sin t, -cos t sin h, cos t cos h). Energy over g:

    E(u) = m (n·G - d) + ρ ∫ (d - n·r) dV      over the volume under the plane

dE/dd = ρV - m, dE/di = q·n_i with q = m G - ρ V B, and the exact stiffness
K_dd = ρA, K_di = -ρ S·n_i, K_ij = ρ n_iᵀ I n_j + q·n_ij, with S = ∫ r dA and I = ∫ r rᵀ dA
over the cut water plane; a tank's free surface J takes ρt n_iᵀ J n_j off. Derivation in
docs/formulas.md. A minimum of E is a stable equilibrium, so descending finds only those.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from stirrup.core.afloat.balance import balance, downhill, up_derivatives, up_vector
from stirrup.core.afloat.clip import Cut, cut
from stirrup.core.afloat.descent import descended, settled
from stirrup.core.afloat.ledger import Load
from stirrup.core.errors import NoEquilibriumError
from stirrup.core.hull.mesh import Solid
from stirrup.core.record import dataclass

Array = NDArray[np.float64]

__all__ = ["State", "equilibrium", "evaluate", "held_at_heel", "up_derivatives", "up_vector"]

CAPSIZE_RAD = math.radians(60)
STEP_RAD = 0.25  # longest step of an angle
TOLERANCE = 1e-10  # of mass, and of mass times metres
QUICK_TOLERANCE = 1e-6  # while dragging: far under what a strip shows
KICK_RAD = 0.02  # off an unstable upright position


@dataclass(frozen=True)
class State:
    """The boat held at (d, trim, heel) [m, rad]: energy, gradient and stiffness over g.

    `rigid_stiffness` leaves the tanks' free surfaces out; q = Σ m r - ρ ∫ r dV (3,).
    """

    d: float
    trim: float
    heel: float
    n: Array
    cut: Cut
    energy: float
    gradient: Array
    stiffness: Array
    rigid_stiffness: Array
    q: Array
    moment: Array


def evaluate(solid: Solid, load: Load, density: float, d: float, trim: float, heel: float) -> State:
    """Energy, gradient (3,) and exact stiffness (3, 3) at one position."""
    n = up_vector(trim, heel)
    part = cut(solid, n, d)
    quick, liquids, slosh = settled(load.tanks, n)
    moment = load.moment + liquids
    if not quick:
        moment, slosh = load.moment, np.zeros((3, 3))
        for liquid in load.liquids:
            centre, surface = liquid.settle(n)
            moment = moment + liquid.mass_kg * centre
            slosh = slosh + liquid.density * surface
    energy, gradient, full, rigid, q = balance(
        density,
        load.mass_kg,
        moment,
        slosh,
        np.array([d, trim, heel]),
        part.volume_m3,
        part.moment,
        part.area_m2,
        part.first,
        part.second,
    )
    return State(d, trim, heel, n, part, energy, gradient, full, rigid, q, moment)


def _newton_step(stiffness: Array, gradient: Array, mass: float) -> Array:
    """Step downhill: -K⁻¹ g where K is positive definite, else with |eigenvalues| of K."""
    definite, step = downhill(stiffness, gradient)
    if definite:
        return np.asarray(step)
    values, vectors = np.linalg.eigh(stiffness)
    floor = max(1e-9 * mass, 1e-6 * float(np.abs(values).max()))
    return np.asarray(-vectors @ ((vectors.T @ gradient) / np.maximum(np.abs(values), floor)))


def _descend(
    solid: Solid, load: Load, density: float, start: Array, free: int, tolerance: float = TOLERANCE
) -> State:
    """Damped Newton from a position (d, trim, heel) on the first `free` unknowns until the gradient
    vanishes: compiled, and here where that cannot."""
    mass = load.mass_kg
    low, high = solid.extent(up_vector(float(start[1]), float(start[2])))
    limits = np.array([0.4 * (high - low), STEP_RAD, STEP_RAD])[:free]
    rested, at = descended(
        solid.vertices, solid.triangles, load.tanks, density, mass, load.moment, start, limits, tolerance
    )  # fmt: skip
    state = evaluate(solid, load, density, *(at if rested else start).tolist())
    if rested:
        return state
    for _ in range(200):
        gradient = state.gradient[:free]
        size = float(np.abs(gradient).max())
        if size <= tolerance * mass:
            return state
        step = _newton_step(np.ascontiguousarray(state.stiffness[:free, :free]), gradient, mass)
        step /= max(1.0, float((np.abs(step) / limits).max()))
        slope = float(step @ gradient)
        scale = 1.0
        while True:
            position = np.array([state.d, state.trim, state.heel])
            position[:free] += scale * step
            trial = evaluate(solid, load, density, *position.tolist())
            # near the minimum the energy is flat to rounding: then the gradient decides
            better = trial.energy <= state.energy + 1e-4 * scale * slope
            calmer = np.abs(trial.gradient[:free]).max() <= 0.5 * size
            if better or (calmer and abs(slope) < 1e-9 * mass) or scale < 1e-6:
                break
            scale /= 2
        state = trial
    raise NoEquilibriumError("the search for a floating position did not settle")


def check_floats(solid: Solid, load: Load, density: float) -> None:
    """Raise NoEquilibriumError, saying by how much, when she is too heavy to float at all."""
    limit = density * solid.volume_m3
    if load.mass_kg >= limit:
        excess = load.mass_kg - limit
        raise NoEquilibriumError(
            f"she sinks: {load.mass_kg:.1f} kg aboard, and pushed under to the sheer the hull "
            f"carries {limit:.1f} kg; take at least {excess:.1f} kg out",
            excess,
        )
    if load.mass_kg <= 0:
        raise NoEquilibriumError(f"the masses add up to {load.mass_kg:.1f} kg; more than 0 needed")


def starting_position(
    solid: Solid, load: Load, density: float, trim: float = 0.0, heel: float = 0.0
) -> Array:
    """(d, trim, heel) of a first water plane: height by the share of the volume that must be under."""
    low, high = solid.extent(up_vector(trim, heel))
    share = load.mass_kg / (density * solid.volume_m3)
    return np.array([low + (high - low) * share**0.6, trim, heel])


def position_of(state: State) -> Array:
    """(d, trim, heel) [m, rad]."""
    return np.array([state.d, state.trim, state.heel])


def equilibrium(
    solid: Solid,
    load: Load,
    density: float,
    near: State | None = None,
    tolerance: float = TOLERANCE,
) -> State:
    """The stable position reached from upright (or from `near`, a position close by).

    solid: everything that displaces water; density: of the water [kg/m3]; tolerance: of
    the residuals, as a share of the mass (and of mass times one metre).
    Raises NoEquilibriumError when she sinks, or leans or trims beyond 60 degrees.
    """
    check_floats(solid, load, density)
    at = starting_position(solid, load, density) if near is None else position_of(near)
    for _ in range(12):
        state = _descend(solid, load, density, at, 3, tolerance)
        # a minimum is where the stiffness has Cholesky's factors
        stable, _ = downhill(state.stiffness, state.gradient)
        if stable and _upright(state):
            return state
        if stable:
            break
        _, vectors = np.linalg.eigh(state.stiffness)
        # balanced on an edge: fall off it, to port when nothing decides
        way = vectors[:, 0]
        way = way * (1.0 if (way[2] if abs(way[2]) > abs(way[1]) else way[1]) >= 0 else -1.0)
        way = way * KICK_RAD / float(np.abs(way[1:]).max())
        at = position_of(state) + way
    heel, trim = math.degrees(state.heel), math.degrees(state.trim)
    if abs(heel) > 60:
        side = "port" if heel > 0 else "starboard"
        raise NoEquilibriumError(
            f"she capsizes: no stable position within 60 degrees of upright (falls to {side}); "
            "lower the weights or take some off"
        )
    raise NoEquilibriumError(
        f"she stands on end: no stable position with less than 60 degrees of trim "
        f"({trim:.0f} degrees); move weight towards the middle"
    )


def _upright(state: State) -> bool:
    return abs(state.heel) <= CAPSIZE_RAD and abs(state.trim) <= CAPSIZE_RAD


def held_at_heel(solid: Solid, load: Load, density: float, near: State, heel: float) -> State:
    """Free to sink and trim, held at `heel` [rad]; starts from `near`."""
    return _descend(solid, load, density, np.array([near.d, near.trim, heel]), 2)
