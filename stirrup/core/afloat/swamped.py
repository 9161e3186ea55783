"""Swamped: the hull open to the water, what floats is material and closed volumes.

The hull displaces only its own material: outside mesh less inside mesh, open at the top,
with the skin made as thick as the hull's mass asks (ribs and rails spread over it). Items
displace their mass over their density; a thing without a density counts with its full
weight. Foam and other closed volumes displace what they are.

Submerged weight of a solid: m (1 - ρw/ρ); flotation needed: Σ submerged weights /
(ρw - ρfoam). Source: docs/trade-rules.md, “Swamped”. Screening, not an assessment.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

import numpy as np
from numpy.typing import NDArray

from stirrup.core.afloat.cases import Vessel
from stirrup.core.afloat.clip import join
from stirrup.core.afloat.equilibrium import State, equilibrium
from stirrup.core.afloat.ledger import Entry, sum_load
from stirrup.core.contract.gives import Built
from stirrup.core.errors import NoEquilibriumError
from stirrup.core.hull.mesh import Solid, box_solid
from stirrup.core.parts.entries import Resin
from stirrup.core.parts.model import Bought, Member, Panel
from stirrup.core.plan.model import Plan
from stirrup.core.record import dataclass

Array = NDArray[np.float64]

FOAM_KG_M3 = 32.0  # closed-cell foam, working value
DROP_M3 = 1e-7  # a tenth of a millilitre
PERSONS_SHARE = 0.5  # of the persons' mass that hangs on a swamped boat: working value
# kg/m3, by words found in the hull's material; working values
HULL_DENSITY = {"5052": 2680.0, "5083": 2660.0, "alumin": 2680.0, "laminate": 1600.0,
                "fiberglass": 1600.0, "glass": 1600.0, "wood": 650.0, "ply": 600.0}  # fmt: skip


@dataclass(frozen=True)
class Sunken:
    """One line of the flotation sum: mass, density (None: not known), submerged weight [kg]."""

    name: str
    mass_kg: float
    density: float | None
    submerged_kg: float


@dataclass(frozen=True)
class Swamped:
    """The swamped boat. Volumes in m3; angles are None when she sinks, `error` says why then.

    sheer_m: lowest sheer point over the water (negative: under).
    """

    lines: tuple[Sunken, ...]
    submerged_kg: float
    persons_kg: float
    needed_m3: float
    present_m3: float
    foam_density: float
    height_m: float | None
    trim_deg: float | None
    list_deg: float | None
    sheer_m: float | None
    error: str = ""

    @property
    def short_m3(self) -> float:
        """Flotation that is missing [m3]; negative when there is more than needed."""
        return self.needed_m3 - self.present_m3


def submerged_kg(mass_kg: float, density: float, water: float) -> float:
    """Weight under water of a solid: m (1 - ρw/ρ) [kg]; negative for what floats."""
    return mass_kg * (1 - water / density)


def hull_density(material: str) -> float | None:
    """Density of the hull's material by its name [kg/m3]; None when it is not known."""
    word = material.lower()
    return next((d for key, d in HULL_DENSITY.items() if key in word), None)


def _part_density(part: Panel | Member | Bought) -> float | None:
    if isinstance(part, Panel):
        return part.sheet.stuff.density
    if isinstance(part, Member):
        return part.section.stuff.density
    entry = part.entry
    # foam fills what it is poured into; of other hardware nobody knows how much water it keeps out
    return entry.density if isinstance(entry, Resin) and entry.chemistry == "polyurethane" else None


def _block(volume: float, centre: Sequence[float]) -> Solid:
    half = volume ** (1 / 3) / 2
    low = tuple(c - half for c in centre)
    return box_solid(low, tuple(c + half for c in centre))


def _reversed(solid: Solid) -> Solid:
    return Solid(solid.vertices, solid.triangles[:, ::-1].copy(), solid.groups)


def _densities(plan: Plan, built: Iterable[Built]) -> dict[str, float | None]:
    """Density of each line of the ledger that has one, by its id."""
    out: dict[str, float | None] = {"hull": hull_density(plan.hull.material)}
    for item in plan.items:
        density = item.density
        if density is None and item.volume_buoyant:
            density = item.mass.value / item.volume_buoyant
        if density is None and item.in_hull_mass:
            density = out["hull"]  # a part of the hull is of what the hull is of
        out[item.id] = density
    for fitting in built:
        for part in fitting.parts:
            out[part.key] = _part_density(part)
    return out


def _solids(
    plan: Plan, vessel: Vessel, entries: Sequence[Entry], density: dict[str, float | None]
) -> list[Solid]:
    gone = [e for e in entries if e.mass_kg < 0]
    less = sum(-e.mass_kg / known for e in gone if (known := density.get(e.id)))
    solids = _shell(plan, vessel, density["hull"], less)
    for entry in entries:
        known = density.get(entry.id)
        # what is smaller than a drop displaces nothing that could be seen
        if entry.id != "hull" and known and entry.mass_kg / known > DROP_M3:
            solids.append(_block(entry.mass_kg / known, entry.centre))
    solids += [v.solid for v in vessel.volumes if v.source.stage in ("found", "added") and not v.floods]
    return solids


def _shell(plan: Plan, vessel: Vessel, density: float | None, less_m3: float = 0.0) -> list[Solid]:
    """The hull's material as outside less inside; nothing when its density is not known.

    less_m3: volume of what was taken out of the hull's mass; it displaces nothing any more.
    """
    surface = vessel.surface
    if density is None:
        return []
    wanted = max(plan.hull.mass.value / density - less_m3, 1e-6)
    factor, inside = 1.0, surface.inside
    for _ in range(4):  # the volume is all but linear in the thickness
        material = surface.outside.volume_m3 - inside.volume_m3
        if material <= 1e-9:
            return [_block(wanted, plan.hull.mass.centre)]
        if abs(material / wanted - 1) < 1e-6:
            break
        factor *= wanted / material
        inside = surface.inside_at(factor)
    return [surface.outside, _reversed(inside)]


def _floating(solids: list[Solid], entries: Sequence[Entry], water: float) -> State:
    whole = join(solids)
    load = sum_load(entries)
    limit = water * whole.volume_m3
    if load.mass_kg >= limit:
        short = load.mass_kg - limit
        raise NoEquilibriumError(
            f"swamped she sinks: {load.mass_kg:.0f} kg, and all that is in her displaces "
            f"{limit:.0f} kg; {short:.0f} kg of buoyancy are missing",
            short,
        )
    return equilibrium(whole, load, water)


def swamped(plan: Plan, vessel: Vessel, built: Sequence[Built], entries: Sequence[Entry]) -> Swamped:
    """The planned boat full of water, tanks and crew left out.

    entries: the ledger "planned, empty". The persons' share and the flotation needed are
    for the persons on the label, or for none without one.
    """
    water = vessel.density
    density = _densities(plan, built)
    lines = []
    for entry in entries:
        if entry.role == "volume":
            continue  # foam's own mass is in (ρw - ρfoam)
        known = density.get(entry.id)
        under = submerged_kg(entry.mass_kg, known, water) if known else entry.mass_kg
        lines.append(Sunken(entry.name, entry.mass_kg, known, under))
    lines.sort(key=lambda s: -abs(s.submerged_kg))
    persons = PERSONS_SHARE * (plan.label.persons_kg or 0.0) if plan.label else 0.0
    total = sum(s.submerged_kg for s in lines) + persons
    there = [v for v in vessel.volumes if v.source.stage in ("found", "added") and not v.floods]
    present = sum(v.solid.volume_m3 for v in there)
    foam = sum(v.source.density * v.solid.volume_m3 for v in there) / present if present else FOAM_KG_M3
    needed = max(0.0, total / (water - foam)) if water > foam else math.inf
    figures = (tuple(lines), total, persons, needed, present, foam)
    try:
        state = _floating(_solids(plan, vessel, entries, density), entries, water)
    except NoEquilibriumError as error:
        return Swamped(*figures, None, None, None, None, str(error))
    board = float((vessel.surface.sheers @ state.n).min()) - state.d
    return Swamped(*figures, state.d, math.degrees(state.trim), math.degrees(state.heel), board)
