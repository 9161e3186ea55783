"""Pods, collars or nothing: the same load cases with each choice of buoyant volumes."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from decimal import Decimal

from stirrup.core.afloat.cases import Vessel, build_vessel, ledger
from stirrup.core.afloat.ledger import Entry
from stirrup.core.afloat.report import FloatReport, float_report
from stirrup.core.afloat.righting import both_sides
from stirrup.core.afloat.situation import situation
from stirrup.core.bodies.engine import RISE_FOR_SETBACK
from stirrup.core.contract.gives import Built
from stirrup.core.errors import NoEquilibriumError
from stirrup.core.plan.model import AS_FOUND, LoadCase, Plan
from stirrup.core.plan.things import is_gone, motors
from stirrup.core.record import dataclass

NOTHING = "nothing added"


@dataclass(frozen=True)
class Row:
    """One load case with one choice: report, or why she does not float; area [m·rad]."""

    case: str
    report: FloatReport | None
    error: str
    area_m_rad: float | None


@dataclass(frozen=True)
class Choice:
    """One choice of volumes (or a motor moved aft) over all load cases."""

    name: str
    added_kg: float
    volume_m3: float
    cost: Decimal | None
    rows: tuple[Row, ...]


def option_names(plan: Plan) -> list[str]:
    """Options that can be compared: volumes that are added or considered, by option or name."""
    names = [v.option or v.title for v in plan.buoyancy if v.stage in ("added", "considered")]
    return list(dict.fromkeys(names))


def with_option(plan: Plan, option: str) -> Plan:
    """The plan with the volumes of one option only; those found on the boat stay."""
    kept = []
    for volume in plan.buoyancy:
        if volume.stage in ("found", "removed"):
            kept.append(volume)
        elif (volume.option or volume.title) == option:
            kept.append(volume.model_copy(update={"stage": "added"}))
    return plan.model_copy(update={"buoyancy": tuple(kept)})


def with_setback(plan: Plan, by_m: float) -> Plan:
    """The plan with its motors aft of the middle moved further aft, and raised 1 in 8."""
    items, hung = [], {i.id for i in motors(plan) if not is_gone(i)}
    for item in plan.items:
        x, y, z = item.mass.centre
        if item.id in hung and x < 0.1:
            centre = (x - by_m, y, z + by_m / RISE_FOR_SETBACK)
            item = item.model_copy(update={"mass": item.mass.model_copy(update={"centre": centre})})
        items.append(item)
    return plan.model_copy(update={"items": tuple(items)})


def _row(plan: Plan, vessel: Vessel, base: Sequence[Entry], case: LoadCase) -> Row:
    try:
        here = situation(plan, vessel, base, case)
        report = float_report(case.name, here.state, here.load, here.sheers, here.floods)
        curves = both_sides(case.name, here.solid, here.load, here.density, here.sheers, here.floods, ())
        return Row(case.name, report, "", curves.worse.area_m_rad)
    except NoEquilibriumError as error:
        return Row(case.name, None, str(error), None)


def choice_of(
    name: str, plan: Plan, vessel: Vessel, built: tuple[Built, ...], cases: Iterable[LoadCase]
) -> Choice:
    """All cases for a plan as it stands; `vessel` is that plan's own."""
    base = ledger(plan, vessel, built, as_found=False)
    added = [v for v in vessel.volumes if v.source.stage == "added" and not v.built]
    costs = [v.source.cost for v in added if v.source.cost is not None]
    mass = sum(v.source.density * v.solid.volume_m3 for v in added)
    rows = tuple(_row(plan, vessel, base, c) for c in cases if c.name != AS_FOUND)
    volume = float(sum(v.solid.volume_m3 for v in added))
    return Choice(name, mass, volume, sum(costs, Decimal(0)) if costs else None, rows)


def compare(
    plan: Plan,
    vessel: Vessel,
    built: tuple[Built, ...],
    cases: Sequence[LoadCase],
    setback_m: float = 0.0,
) -> tuple[Choice, ...]:
    """Nothing added, each option, and with `setback_m` also the motor moved further aft."""
    plans = [(NOTHING, with_option(plan, ""))]
    plans += [(name, with_option(plan, name)) for name in option_names(plan)]
    if setback_m > 0:
        plans.append((f"motor {setback_m * 1000:.0f} mm further aft", with_setback(plan, setback_m)))
    return tuple(
        choice_of(name, p, build_vessel(p, vessel.surface, name), built, cases) for name, p in plans
    )
