"""From a plan and its parts to what each load case weighs and what carries it."""

from __future__ import annotations

from collections.abc import Iterable
from contextlib import suppress
from dataclasses import replace
from functools import partial
from typing import Any

import numpy as np

from stirrup.core.afloat.aground import at_rest
from stirrup.core.afloat.clip import contains, join
from stirrup.core.afloat.equilibrium import equilibrium
from stirrup.core.afloat.ledger import Entry, Load, Role, add_loads, sum_load
from stirrup.core.afloat.liquid import Liquid
from stirrup.core.afloat.report import FloatReport, float_report
from stirrup.core.afloat.righting import RightingCurve, righting_curve
from stirrup.core.bodies.existing import Existing
from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import Plant
from stirrup.core.document import SPREAD_BY_STATUS, MassPoint, Point
from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import HullSurface, Solid, box_solid, closed_mesh
from stirrup.core.kinds.registry import kind_of
from stirrup.core.memo import ByIdentity
from stirrup.core.parts.model import Bought
from stirrup.core.plan.model import (
    AS_FOUND,
    LIQUIDS,
    RESERVED,
    BuoyantVolume,
    Item,
    LoadCase,
    Plan,
    Tank,
)
from stirrup.core.record import dataclass

SAME, FOUND, PLANNED = ByIdentity(50), ByIdentity(50), ByIdentity(50)


@dataclass(frozen=True)
class Volume:
    """A buoyant volume as a mesh, whether it lies outside the hull, whether it is built as a fitting, and
    whether water gets into it when she is swamped."""

    source: BuoyantVolume
    solid: Solid
    outside: bool
    built: bool = False
    floods: bool = False


@dataclass(frozen=True)
class Vessel:
    """What displaces water: the hull, and closed volumes on it."""

    surface: HullSurface
    volumes: tuple[Volume, ...]
    floods: tuple[tuple[str, Point], ...]
    density: float
    key: str = ""  # tells vessels apart by their content

    def solid(self, as_found: bool) -> Solid:
        """The displacing solid as found, or as planned."""
        there = ("found", "removed") if as_found else ("found", "added")
        parts = [v.solid for v in self.volumes if v.outside and v.source.stage in there]
        return join([self.surface.outside, *parts])


# 1 sigma of what a person weighs with clothes and boots against what he says: working value
CREW_SPREAD = 0.05


def buoyant_solid(volume: BuoyantVolume) -> Solid:
    """Closed mesh of a buoyant volume given by a box or by lines. Raises CoreError."""
    if volume.box is not None:
        return box_solid(volume.box.low, volume.box.high)
    if volume.lines is None:
        raise CoreError("give either box or lines", f"buoyancy.{volume.id}")
    return closed_mesh(volume.lines)[0]


def build_vessel(plan: Plan, surface: HullSurface, key: str = "") -> Vessel:
    """Hull and volumes of a plan. A volume is outside when its centroid is."""
    volumes = []
    for source in plan.buoyancy:
        solid = buoyant_solid(source)
        outside = not contains(surface.outside, solid.centroid_m)
        volumes.append(Volume(source, solid, outside))
    volumes += _built_volumes(plan, surface)
    floods = tuple((f.name, f.at) for f in plan.hull.floods)
    return Vessel(surface, tuple(volumes), floods, plan.water.density, key)


def buoyant_fittings(plan: Plan) -> list[Any]:
    """Fittings that add closed volumes outside of the hull."""
    return [t for t in plan.fittings if kind_of(t).buoyant]


def buoyant_texts(plan: Plan) -> tuple[str, ...]:
    """What tells them apart, written out."""
    return tuple(t.model_dump_json() for t in buoyant_fittings(plan))


def _built_volumes(plan: Plan, surface: HullSurface) -> list[Volume]:
    """What fittings add; one that cannot be built adds nothing, and says so itself."""
    out = []
    for thing in buoyant_fittings(plan):
        with suppress(CoreError):
            for made in kind_of(thing).floats(thing, surface):
                # its plates weigh as parts; the volume itself weighs nothing
                source = BuoyantVolume.model_construct(id=f"{thing.id}/{made.key}", name=thing.name,
                                                       density=0.0, stage="added", option="", cost=None,
                                                       lines=None, box=None)  # fmt: skip
                out.append(Volume(source, made.solid, True, True, made.floods))
    return out


def _entry(id_: str, name: str, group: str, mass: MassPoint, sign: float, source: str,
           role: Role = "thing", plant: Plant = "", loose: bool = True) -> Entry:  # fmt: skip
    return Entry(
        id_,
        name,
        group,
        sign * mass.value,
        mass.spread_kg,
        mass.status,
        mass.centre,
        mass.centre_spread_m,
        source,
        role=role,
        plant=plant,
        loose=loose,
    )


def _moved_entries(item: Item) -> list[Entry]:
    """Of an item that the hull was weighed with and that is moved: off where it was, on where it is."""
    if item.was is None or not item.in_hull_mass or item.stage != "found":
        return []
    there = _entry(item.id, item.title, item.group, item.mass, 1.0, item.id)
    # one thing: how well its mass is known counts once
    gone = replace(there, centre=item.was.at, id=f"{item.id}/was", mass_kg=-there.mass_kg,
                   spread_kg=0.0, name=f"{item.title}, where it was")  # fmt: skip
    return [gone, there]


def _structure_moved(c: Existing) -> list[Entry]:
    """The same of structure, which the hull was always weighed with."""
    if c.was is None or c.box is None or c.weighs <= 0 or c.stage == "removed":
        return []
    spread = SPREAD_BY_STATUS["guessed"] * c.weighs
    up = c.box.size[2] / 2
    (x, y, z), (u, v, w) = c.box.floor_centre, c.was.at
    return [
        Entry(f"{c.id}/was", f"{c.title}, where it was", "structure", -c.weighs, 0.0, "guessed",
              (u, v, w + up), source=c.id, loose=False),
        Entry(c.id, c.title, "structure", c.weighs, spread, "guessed", (x, y, z + up), source=c.id,
              loose=False),
    ]  # fmt: skip


def _item_entry(item: Item, as_found: bool) -> Entry | None:
    """The item's line, or None when it changes nothing.

    A thing that the hull's mass already includes adds nothing while it is there; once
    removed it is subtracted. A removed thing outside the hull's mass counts as found and
    is simply gone in the plan.
    """
    if as_found:
        sign = 0.0 if item.stage == "added" or item.in_hull_mass else 1.0
    elif item.stage == "removed":
        sign = -1.0 if item.in_hull_mass else 0.0
    else:
        sign = 0.0 if item.in_hull_mass else 1.0
    if sign == 0.0:
        return None
    plant = kind_of(item).plant
    loose = item.stage != "removed" and plant != "motor"
    entry = _entry(item.id, item.title, item.group, item.mass, sign, item.id, "thing", plant, loose)
    there = as_found or item.stage == "removed"
    return replace(entry, centre=item.was.at) if item.was is not None and there else entry


def _structure_entry(c: Existing) -> Entry:
    """Structure that goes: the hull was weighed with it."""
    x, y, z = ((a + b) / 2 for a, b in (c.extent.x, c.extent.y, c.extent.z))
    if c.was is not None and c.box is not None:
        x, y, z = c.was.at[0], c.was.at[1], c.was.at[2] + c.box.size[2] / 2
    spread = SPREAD_BY_STATUS["guessed"] * c.weighs
    return Entry(c.id, c.title, "structure", -c.weighs, spread, "guessed", (x, y, z), source=c.id,
                 loose=False)  # fmt: skip


def part_entries(built: Iterable[Built]) -> list[Entry]:
    """One line for each part of each fitting, status computed; kept with what the fitting makes."""
    out: list[Entry] = []
    for fitting in built:
        out += fitting.kept.get("entries", partial(_entries_of, fitting))
    return out


def _entries_of(fitting: Built) -> list[Entry]:
    spread = SPREAD_BY_STATUS["computed"]
    return [
        Entry(p.key, f"{p.label} {p.name}", "fittings", p.mass_kg, spread * p.mass_kg, "computed", p.centre,
              source=p.fitting, shared=p.item if isinstance(p, Bought) else p.stock, role="built",
              loose=False)
        for p in fitting.parts
    ]  # fmt: skip


def _volume_entries(vessel: Vessel, as_found: bool) -> list[Entry]:
    there = ("found", "removed") if as_found else ("found", "added")
    out = []
    for volume in vessel.volumes:
        mass = volume.source.density * volume.solid.volume_m3
        if volume.source.stage in there and mass > 0:
            x, y, z = volume.solid.centroid_m
            centre = (float(x), float(y), float(z))
            spread = SPREAD_BY_STATUS["computed"] * mass
            out.append(
                Entry(volume.source.id, volume.source.name or volume.source.id, "buoyancy", mass,
                      spread, "computed", centre, source=volume.source.id, role="volume", loose=False)
            )  # fmt: skip
    return out


def _standing_rows(plan: Plan, vessel: Vessel, as_found: bool) -> tuple[Entry, ...]:
    rows = [_entry("hull", "bare hull", "bare hull", plan.hull.mass, 1.0, "hull", "hull", "", False)]
    rows += [e for item in plan.items if (e := _item_entry(item, as_found)) is not None]
    if not as_found:
        rows += [e for item in plan.items for e in _moved_entries(item)]
        rows += [e for c in plan.existing for e in _structure_moved(c)]
    there = [t for t in plan.tanks if t.empty_mass > 0 and (t.owned or not as_found)]
    rows += [_tank_entry(tank) for tank in there]
    gone = () if as_found else (c for c in plan.existing if c.stage == "removed" and c.weighs > 0)
    return (*rows, *(_structure_entry(c) for c in gone), *_volume_entries(vessel, as_found))


def _tank_entry(tank: Tank) -> Entry:
    """The empty tank, as if its walls were alike all round: centre of the box."""
    x, y, z = tank.floor_centre
    spread = SPREAD_BY_STATUS["guessed"] * tank.empty_mass
    return Entry(f"tank/{tank.id}", f"{tank.title}, empty", "tanks", tank.empty_mass, spread, "guessed",
                 (x, y, z + tank.size[2] / 2), source=tank.id, role="tank")  # fmt: skip


def ledger(plan: Plan, vessel: Vessel, built: Iterable[Built], as_found: bool) -> list[Entry]:
    """All masses without crew and liquids: as found, or planned and empty."""
    # while a fitting is dragged hull, items and volumes stay the objects they are
    hull = SAME.get(plan.hull, vessel, object)
    if any(c.stage == "removed" or c.was is not None for c in plan.existing):
        hull = SAME.get(plan.existing, hull, object)
    rows = (FOUND if as_found else PLANNED).get(
        plan.items, hull, lambda: _standing_rows(plan, vessel, as_found)
    )
    return list(rows) if as_found else [*rows, *part_entries(built)]


def case_names(plan: Plan) -> list[str]:
    """Names of all cases in the order they are reported."""
    return [*RESERVED, *(c.name for c in plan.cases)]


def aboard(plan: Plan, case: LoadCase) -> tuple[list[Entry], tuple[Liquid, ...]]:
    """Rigid masses and liquids that a case brings along: extras, crew, contents of tanks."""
    rows = [_entry(f"extra/{e.id}", e.title, e.group, e.mass, 1.0, e.id, "extra") for e in case.extra]
    for k, person in enumerate(case.crew):
        name = person.name or f"person {k + 1}"
        rows.append(
            Entry(
                f"crew/{k}",
                name,
                "crew",
                person.mass,
                CREW_SPREAD * person.mass,
                "computed",
                person.centre,
                role="crew",
                loose=False,
            )
        )
    liquids = tuple(
        Liquid(
            tank.id,
            tank.title,
            tank.size,
            tank.floor_centre,
            case.fills[tank.id],
            LIQUIDS[tank.liquid],
            tank.partitions_across + 1,
        )
        for tank in plan.tanks
        if case.fills.get(tank.id, 0.0) > 0 and tank.id not in case.without
    )
    return rows, liquids


def staying(base: Iterable[Entry], case: LoadCase) -> list[Entry]:
    """The ledger less what the case leaves out."""
    return [e for e in base if e.source not in case.without]


def case_load(plan: Plan, vessel: Vessel, built: tuple[Built, ...], case: LoadCase) -> tuple[Load, Solid]:
    """What weighs and what displaces in a case."""
    base = ledger(plan, vessel, built, case.name == AS_FOUND)
    load = add_loads(sum_load(staying(base, case)), sum_load(*aboard(plan, case)))
    solid = vessel.solid(case.name == AS_FOUND)
    if case.lifted:
        load, _ = at_rest(load, case, vessel.surface, partial(equilibrium, solid, density=vessel.density))
    return load, solid


def float_case(plan: Plan, vessel: Vessel, built: tuple[Built, ...], case: LoadCase) -> FloatReport:
    """How she sits in one case. Raises NoEquilibriumError."""
    load, solid = case_load(plan, vessel, built, case)
    state = equilibrium(solid, load, vessel.density)
    return float_report(case.name, state, load, vessel.surface.sheers, vessel.floods)


def righting_case(
    plan: Plan,
    vessel: Vessel,
    built: tuple[Built, ...],
    case: LoadCase,
    heels_deg: tuple[float, ...],
) -> RightingCurve:
    """Righting arm in one case. Raises NoEquilibriumError, CoreError."""
    load, solid = case_load(plan, vessel, built, case)
    return righting_curve(
        case.name, solid, load, vessel.density, vessel.surface.sheers, vessel.floods, heels_deg
    )


def total_mass_kg(entries: Iterable[Entry]) -> float:
    """Sum of a ledger [kg]."""
    return float(np.sum([e.mass_kg for e in entries]))
