"""One load case with all that weighs and all that displaces, at its equilibrium.

Every study of a case (what moved it, sliding, where to stand) starts here.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from functools import partial

import numpy as np
from numpy.typing import NDArray

from stirrup.core.afloat.aground import at_rest
from stirrup.core.afloat.cases import Vessel, aboard, staying
from stirrup.core.afloat.equilibrium import TOLERANCE, State, equilibrium
from stirrup.core.afloat.ledger import Entry, Load, sum_load
from stirrup.core.afloat.liquid import Liquid
from stirrup.core.document import Point
from stirrup.core.hull.mesh import Solid
from stirrup.core.plan.model import AS_FOUND, LoadCase, Plan
from stirrup.core.record import dataclass

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Situation:
    """A case that floats: entries and liquids one by one, their sum, the solid, the state."""

    case: LoadCase
    entries: tuple[Entry, ...]
    liquids: tuple[Liquid, ...]
    load: Load
    solid: Solid
    density: float
    sheers: Array
    floods: tuple[tuple[str, Point], ...]
    state: State

    def with_load(self, load: Load, tolerance: float = TOLERANCE, near: State | None = None) -> State:
        """Equilibrium under another load, searched from close by. Raises NoEquilibriumError."""
        return equilibrium(self.solid, load, self.density, near or self.state, tolerance)

    def dry_points(self) -> Array:
        """Sheer and flood points (k, 3) that must stay above water [m]."""
        floods = np.array([p for _, p in self.floods], dtype=float).reshape(-1, 3)
        return np.concatenate([self.sheers, floods])


def situation(
    plan: Plan,
    vessel: Vessel,
    base: Iterable[Entry],
    case: LoadCase,
    near: State | None = None,
) -> Situation:
    """The situation of a case over the ledger `base`. Raises NoEquilibriumError.

    base: as found for the case of that name, else planned and empty; people in `case` stand
    where they are to be taken (see ground.settled).
    """
    rows, liquids = aboard(plan, case)
    entries = (*staying(base, case), *rows)
    load = sum_load(entries, liquids)
    solid = vessel.solid(case.name == AS_FOUND)
    rest = partial(equilibrium, solid, density=vessel.density, near=near)
    load, state = at_rest(load, case, vessel.surface, rest)
    return Situation(
        case, entries, liquids, load, solid, vessel.density, vessel.surface.sheers, vessel.floods, state
    )


def lighter(load: Load, entries: Iterable[Entry]) -> Load:
    """A load without some of its rigid masses; spreads are kept (they are not asked for)."""
    rows = list(entries)
    mass = sum(e.mass_kg for e in rows)
    moment = np.array([np.array(e.centre) * e.mass_kg for e in rows]).reshape(-1, 3).sum(axis=0)
    return replace(load, rigid_kg=load.rigid_kg - mass, moment=load.moment - moment)
