"""What moved it: the things that make the trim and the list, ranked, each with a remedy.

Every contribution is exact: the equilibrium without the thing, searched from the one with
it (two or three Newton steps).
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from typing import Literal

import numpy as np

from stirrup.core.afloat.balance import up_derivatives
from stirrup.core.afloat.equilibrium import QUICK_TOLERANCE, State
from stirrup.core.afloat.ledger import Entry, Load
from stirrup.core.afloat.situation import Situation, lighter
from stirrup.core.errors import NoEquilibriumError
from stirrup.core.record import dataclass

LONGEST_SLIDE_M = 1.5
Axis = Literal["x", "y"]


@dataclass(frozen=True)
class Contribution:
    """Trim and list that a thing makes: with it less without it [deg, kg]."""

    id: str
    name: str
    group: str
    mass_kg: float
    trim_deg: float
    list_deg: float
    added: bool  # planned, and not brought along by the case


@dataclass(frozen=True)
class Remedy:
    """Slide one thing by `by_m` along an axis; what trim or list becomes [deg]."""

    id: str
    name: str
    axis: Axis
    by_m: float
    before_deg: float
    after_deg: float


def _grouped(entries: Iterable[Entry]) -> dict[str, list[Entry]]:
    """Parts of one fitting count as one thing; everything else for itself."""
    out: dict[str, list[Entry]] = {}
    for entry in entries:
        key = entry.source if entry.role == "built" and entry.source else entry.id
        out.setdefault(key, []).append(entry)
    return out


def _angles(state: State) -> tuple[float, float]:
    return math.degrees(state.trim), math.degrees(state.heel)


def contributions(
    here: Situation, names: dict[str, str] | None = None, found: Iterable[str] = ()
) -> tuple[Contribution, ...]:
    """One line for each thing of the case but the bare hull, largest first.

    names: titles of fittings by id; found: ids that were aboard as found. A thing without
    which she would not float is left out.
    """
    there = set(found)
    out = []
    trim, heel = _angles(here.state)
    things: list[tuple[str, str, str, float, Load, bool]] = []
    for key, rows in _grouped(here.entries).items():
        if rows[0].role == "hull":
            continue
        name = (names or {}).get(key, rows[0].name)
        things.append((key, name, rows[0].group, sum(r.mass_kg for r in rows), lighter(here.load, rows),
                       rows[0].role != "crew"))  # fmt: skip
    for liquid in here.liquids:
        rest = tuple(x for x in here.liquids if x.id != liquid.id)
        things.append((liquid.id, f"{liquid.name}, {liquid.fill * 100:.0f} % full", "tank content",
                       liquid.mass_kg, replace(here.load, liquids=rest), False))  # fmt: skip
    for key, name, group, mass, load, stays in things:
        try:
            without = here.with_load(load, QUICK_TOLERANCE)
        except NoEquilibriumError:
            continue
        t, h = _angles(without)
        out.append(Contribution(key, name, group, mass, trim - t, heel - h, stays and key not in there))
    out.sort(key=lambda c: -(abs(c.trim_deg) + abs(c.list_deg)))
    return tuple(out)


def _shifted(load: Load, mass_kg: float, axis: int, by_m: float) -> Load:
    moment = load.moment.copy()
    moment[axis] += mass_kg * by_m
    return replace(load, moment=moment)


def _slide_for(
    here: Situation, entry: Entry, mass_kg: float, axis: int, low: float, high: float
) -> float | None:
    """How far to slide one mass so that the angle of this axis vanishes, within limits [m].

    First order by the exact stiffness: δu = -K⁻¹ (0, n_i·e m δ).
    """
    first, _ = up_derivatives(here.state.trim, here.state.heel)
    push = np.concatenate([[0.0], first[:, axis] * mass_kg])
    rate = -np.linalg.solve(here.state.stiffness, push)
    angle, slope = (here.state.trim, rate[1]) if axis == 0 else (here.state.heel, rate[2])
    if abs(slope) < 1e-9:
        return None
    wanted = float(np.clip(-angle / slope, -LONGEST_SLIDE_M, LONGEST_SLIDE_M))
    place = entry.centre[axis]
    moved = float(np.clip(place + wanted, low, high)) - place
    return moved if abs(moved) >= 0.02 else None


def remedies(
    here: Situation, along: Mapping[str, float] | None = None, per_axis: int = 3
) -> tuple[Remedy, ...]:
    """For trim and for list the single slides that help most, within the inside of the boat.

    Things that are built in, and people, are left where they are. along: what goes with a thing
    when it moves, as people do with their seat [kg], by its id.
    """
    low, high = here.sheers[:, 0].min() + 0.2, here.sheers[:, 0].max() - 0.4
    port, starboard = float(here.sheers[:, 1].max()) - 0.25, float(here.sheers[:, 1].min()) + 0.25
    limits: Sequence[tuple[int, float, float]] = ((0, float(low), float(high)), (1, starboard, port))
    out: list[Remedy] = []
    before = _angles(here.state)
    for axis, least, most in limits:
        found = []
        for entry in here.entries:
            if not entry.loose or entry.mass_kg <= 2 or not (least <= entry.centre[axis] <= most):
                continue
            mass = entry.mass_kg + (along or {}).get(entry.id, 0.0)
            by = _slide_for(here, entry, mass, axis, least, most)
            if by is None:
                continue
            try:
                after = here.with_load(_shifted(here.load, mass, axis, by), QUICK_TOLERANCE)
            except NoEquilibriumError:
                continue
            angle = _angles(after)[axis]
            if abs(angle) < abs(before[axis]) - 0.05:
                way: Axis = "x" if axis == 0 else "y"
                found.append(Remedy(entry.id, entry.name, way, by, before[axis], angle))
        found.sort(key=lambda r: (round(abs(r.after_deg), 2), abs(r.by_m)))
        out += found[:per_axis]
    return tuple(out)
