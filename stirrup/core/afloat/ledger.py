"""The weight ledger: every mass with its spread, and their sums."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from struct import Struct
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from stirrup.core.afloat.liquid import Liquid
from stirrup.core.contract.kind import Plant
from stirrup.core.kept import KeptHash, kept_property
from stirrup.core.loops import compiled
from stirrup.core.record import dataclass

Array = NDArray[np.float64]
Ints = NDArray[np.int64]
# what an entry is to the float
Role = Literal["hull", "built", "thing", "tank", "volume", "extra", "crew", "content"]

ROW = Struct("8d")
GROWTH = 0.05
LEVEL = 0.05  # 1 sigma of a gauge or of a look into the tank, of its height: working value


@dataclass(frozen=True)
class Entry(KeptHash):
    """One line of the ledger. `mass_kg` is negative for what is taken out.

    group: a heading, for people; role: what it is to the float; plant: what the capacity rule counts
    it as; loose: it may be slid for balance. shared: name of what its error is shared with, as all
    parts of one stock err together by its thickness and density; empty: its error is its own.
    """

    id: str
    name: str
    group: str
    mass_kg: float
    spread_kg: float
    status: str
    centre: tuple[float, float, float]
    centre_spread: tuple[float, float, float] = (0.0, 0.0, 0.0)
    source: str = ""  # the fitting or item it comes from
    shared: str = ""
    role: Role = "thing"
    plant: Plant = ""
    loose: bool = True
    __hash__ = KeptHash.__hash__

    @kept_property
    def row(self) -> bytes:
        """Mass, its error, centre, error of the centre: eight numbers as they lie in an array, so that a
        thousand of them are one at once."""
        return ROW.pack(self.mass_kg, self.spread_kg, *self.centre, *self.centre_spread)


@dataclass(frozen=True)
class Load:
    """Everything that weighs: rigid masses summed, liquids apart because they move.

    rigid_kg and moment: Σ m and Σ m r (3,) of the rigid part [kg, kg·m];
    covariance: (4, 4) of (Σ m, Σ m r) [kg, kg·m].
    """

    rigid_kg: float
    moment: Array
    covariance: Array
    liquids: tuple[Liquid, ...] = ()

    @kept_property
    def mass_kg(self) -> float:
        return self.rigid_kg + sum(x.mass_kg for x in self.liquids)

    @kept_property
    def tanks(self) -> Array:
        """The liquids as rows for the compiled search, see descent.py (k, 9)."""
        rows = [
            (x.size[0], x.size[1] / x.cells, x.size[2], x.fill, x.density, x.cells, *x.floor_centre)
            for x in self.liquids
        ]
        return np.array(rows, dtype=float).reshape(-1, 9)


def _level_error(x: Liquid) -> Array:
    """Error of mass and moments by that of the level (4,) [kg, kg·m]."""
    length, breadth, height = x.size
    full = length * breadth * height * x.density
    along, across, floor = x.floor_centre
    return LEVEL * full * np.array([1.0, along, across, floor + x.fill * height / 2])


def sum_load(entries: Iterable[Entry], liquids: tuple[Liquid, ...] = ()) -> Load:
    """Add a ledger up. Independent spreads: var(m) = Σ s², and with M = Σ m r the
    first-order covariance Σ [s² (1, r)(1, r)ᵀ + m² diag(0, sr²)]. What shares an error adds up
    first: each group counts with v vᵀ, v = Σ s (1, r) of its rows. What is taken out of a group
    errs the other way. Liquids: level known to ± LEVEL of the tank, centre as when level.

    Source: first-order propagation of errors; docs/trade-rules.md, “Masses”.
    """
    rows = list(entries)
    values = np.frombuffer(b"".join([e.row for e in rows])).reshape(-1, 8)
    groups: dict[str | int, int] = {}
    of = [groups.setdefault(entry.shared or k, len(groups)) for k, entry in enumerate(rows)]
    mass, moment, covariance = _added_up(values, np.array(of, dtype=np.int64), len(groups))
    for liquid in liquids:
        error = _level_error(liquid)
        covariance += error[:, None] * error
    return Load(mass, moment, covariance, liquids)


def _added_up_by_arrays(values: Array, of: Ints, groups: int) -> tuple[float, Array, Array]:
    mass, spread, place, shift = values[:, 0], values[:, 1], values[:, 2:5], values[:, 5:]
    error = np.column_stack([np.ones(len(values)), place]) * (spread * np.sign(mass))[:, None]
    joint = np.zeros((groups, 4))
    np.add.at(joint, of, error)
    covariance = joint.T @ joint
    covariance[1:, 1:] += np.diag((mass**2) @ (shift**2))
    return float(mass.sum()), mass @ place, covariance


@compiled(_added_up_by_arrays)
def _added_up(values: Array, of: Ints, groups: int) -> tuple[float, Array, Array]:
    """Mass [kg], moment (3,) [kg·m] and covariance (4, 4) of rows of mass, its error, centre and the error
    of that (n, 8); of: which of the groups each errs with (n,)."""
    mass, moment, own = 0.0, np.zeros(3), np.zeros(4)
    joint = np.zeros((groups, 4))
    for k in range(len(values)):
        m = values[k, 0]
        error = values[k, 1] * np.sign(m)
        mass += m
        joint[of[k], 0] += error
        for a in range(3):
            moment[a] += m * values[k, 2 + a]
            joint[of[k], 1 + a] += error * values[k, 2 + a]
            own[1 + a] += (m * values[k, 5 + a]) ** 2
    covariance = np.diag(own)
    for g in range(groups):
        for i in range(4):
            for j in range(4):
                covariance[i, j] += joint[g, i] * joint[g, j]
    return mass, moment, covariance


def add_loads(a: Load, b: Load) -> Load:
    """Two independent sums as one: masses, moments and covariances add."""
    return Load(
        a.rigid_kg + b.rigid_kg,
        a.moment + b.moment,
        a.covariance + b.covariance,
        (*a.liquids, *b.liquids),
    )


@dataclass(frozen=True)
class Difference:
    """What one thing adds to a ledger, or takes from it [kg]."""

    name: str
    kg: float


def differences(
    planned: Iterable[Entry], found: Iterable[Entry], names: Mapping[str, str]
) -> list[Difference]:
    """What makes the planned ledger heavier than the one as found, thing by thing, the largest
    first; the sum of all is the difference of the two. names: of fittings, by id, whose parts
    are one line."""
    total: dict[str, float] = {}
    title: dict[str, str] = {}
    for rows, sign in ((planned, 1.0), (found, -1.0)):
        for e in rows:
            key = e.source if e.source in names else e.id
            total[key] = total.get(key, 0.0) + sign * e.mass_kg
            title.setdefault(key, names.get(key, e.name))
    lines = [Difference(title[k], kg) for k, kg in total.items() if abs(kg) > 1e-9]
    return sorted(lines, key=lambda d: -abs(d.kg))


def growth_kg(entries: Iterable[Entry], found: Iterable[str]) -> float:
    """Growth allowance: 5 % of computed and guessed additions, until a float check [kg].

    found: ids that were aboard as found. Never part of the sums. Source: docs/trade-rules.md,
    “Masses”.
    """
    there = set(found)
    return GROWTH * sum(
        e.mass_kg for e in entries
        if e.id not in there and e.status in ("computed", "guessed") and e.mass_kg > 0
    )  # fmt: skip


def centre_spread_m(load: Load) -> Array:
    """1 sigma of the centre of gravity of the rigid masses along each axis (3,) [m]."""
    centre = load.moment / load.rigid_kg
    lever = np.column_stack([-centre, np.eye(3)]) / load.rigid_kg
    return np.asarray(np.sqrt(np.diag(lever @ load.covariance @ lever.T)))
