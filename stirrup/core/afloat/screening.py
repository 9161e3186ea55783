"""Capacity: what the maker's label leaves, and screening figures where there is no label.

The screening follows the United States small-boat safe-loading rules (33 CFR 183 subparts
C and D, boats under 20 ft). All numbers below are the published rule as remembered; they
are named data so that they can be checked and corrected in one place. It is screening: not
a label; other countries have other rules, and a changed boat may need a new assessment.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import scipy
from numpy.typing import NDArray

from stirrup.core.afloat.cases import Vessel
from stirrup.core.afloat.clip import cut
from stirrup.core.afloat.equilibrium import equilibrium
from stirrup.core.afloat.ledger import Entry, add_loads, sum_load
from stirrup.core.errors import NoEquilibriumError
from stirrup.core.hull.mesh import AFT
from stirrup.core.kinds.registry import kind_of
from stirrup.core.plan.model import Plan
from stirrup.core.plan.things import motors, motors_kg, present
from stirrup.core.record import dataclass
from stirrup.core.units import FOOT_M, HP_KW, INCH_M, POUND_KG

Array = NDArray[np.float64]

LONGEST_FT = 20.0
DISPLACEMENT_SHARE = 5.0  # (maximum displacement - boat weight) / 5
SMALL_LB = 550.0  # persons mass below which stability decides as well
SIDE_SHARE = 0.6  # what one side carries until water comes aboard is divided by it
SIDE_OF_HALF_BEAM = 0.75  # how far out people sit along one side, of the half beam: working value
PERSON_LB, ROUND_LB = 141.0, 32.0
# factor (length x transom width, ft²) up to -> horsepower
SMALL_POWER = ((35, 3.0), (39, 5.0), (42, 7.5), (45, 10.0), (52, 15.0))
FLAT_STEP_DOWN_TO = 52
REMOTE = (2.0, -90.0)  # 2 x factor - 90, remote steering and a high transom
FLAT = (0.5, -15.0)  # flat-bottom hard chine
OTHER = (0.8, -25.0)
HIGH_TRANSOM_M = 20 * INCH_M
POWER_STEP_HP = 5.0
FLAT_DEG = 3.0  # deadrise at the transom up to which the bottom counts as flat
PLACE_M2 = 0.5  # of the waterplane at the float plane for each person: working value
SEAT_M = 0.42  # seat over the inside of the bottom: working value


@dataclass(frozen=True)
class Screening:
    """Masses [kg], lengths [m], power [kW].

    capacity, persons and power are None where the rule does not apply: why_not says why. The number
    of persons alone is None where it would be more than she has room for: see persons_why.
    side_kg: what the weaker side carries over 0.6, where the persons' mass asks for that test.
    """

    boat_kg: float
    displacement_kg: float
    float_plane_m: float
    capacity_kg: float | None
    motor_kg: float
    persons_kg: float | None
    side_kg: float | None
    persons: int | None
    length_m: float
    transom_m: float
    factor: float
    flat: bool
    power_kw: float | None
    why_not: str = ""
    power_rule: str = ""
    persons_why: str = ""

    @property
    def power_hp(self) -> float | None:
        """The same power in horsepower."""
        return None if self.power_kw is None else self.power_kw / HP_KW

    @property
    def small_kg(self) -> float:
        """Persons' mass under which stability decides as well."""
        return SMALL_LB * POUND_KG


@dataclass(frozen=True)
class Remainder:
    """What a load case leaves of the label [kg]; negative: over."""

    case: str
    persons_kg: float
    gear_kg: float
    left_persons_kg: float | None
    left_total_kg: float | None


def persons_number(persons_kg: float) -> int:
    """Number of persons: (lb + 32) / 141 to the nearest whole number, halves upward."""
    return max(0, math.floor((persons_kg / POUND_KG + ROUND_LB) / PERSON_LB + 0.5))


def power_factor(length_m: float, transom_m: float) -> float:
    """Length x transom width in square feet, rounded to the nearest whole number."""
    return float(round(length_m / FOOT_M * transom_m / FOOT_M))


def power_hp(factor: float, flat: bool, remote_and_high: bool) -> float:
    """Horsepower by the published table, rounded up to the next 5 above it."""
    for k, (most, power) in enumerate(SMALL_POWER):
        if factor <= most:
            step_down = flat and factor <= FLAT_STEP_DOWN_TO and k > 0
            return SMALL_POWER[k - 1][1] if step_down else power
    slope, offset = REMOTE if remote_and_high else FLAT if flat else OTHER
    value = slope * factor + offset
    return math.ceil(value / POWER_STEP_HP - 1e-9) * POWER_STEP_HP


def power_words(factor: float, flat: bool, remote_and_high: bool) -> str:
    """The rule that power_hp applies to a factor, in words."""
    if factor <= SMALL_POWER[-1][0]:
        return "from the table for factors up to 52" + (
            ", one step lower for a flat bottom" if flat else ""
        )
    slope, offset = REMOTE if remote_and_high else FLAT if flat else OTHER
    why = (
        "wheel and high transom"
        if remote_and_high
        else "flat bottom, hard chine"
        if flat
        else "other boats"
    )
    return f"{slope:g} × factor − {-offset:g} ({why}), up to the next {POWER_STEP_HP:g} hp"


def _transom(vessel: Vessel) -> tuple[float, float]:
    """Widest breadth of the transom [m] and deadrise beside it [deg]."""
    outside = vessel.surface.outside
    corners = outside.corners[outside.groups == AFT]
    wide = float(np.ptp(corners[..., 1])) if len(corners) else 0.0
    port = vessel.surface.lines[0]
    rise = math.degrees(math.atan2(port[1][0][2] - port[0][0][2], max(1e-9, port[1][0][1] - port[0][0][1])))
    return wide, rise


def float_plane(vessel: Vessel) -> tuple[float, float, float]:
    """Static float plane: the highest level plane before water enters [m], the mass of water
    displaced there [kg], and its area [m²]."""
    points = [float(vessel.surface.sheers[:, 2].min()), *(p[2] for _, p in vessel.floods)]
    level = min(points)
    up = np.array([0.0, 0.0, 1.0])
    found = cut(vessel.solid(False), up, level)
    return level, vessel.density * found.volume_m3, found.area_m2


def _side_mass(vessel: Vessel, empty: Sequence[Entry]) -> float | None:
    """Mass along one side at seat height at which water comes aboard [kg], the lesser of both, and at
    most four times what she weighs and 200 kg: one with her weight far below stays dry with that, too.

    None where she takes water without anybody aboard.
    """
    surface, solid = vessel.surface, vessel.solid(False)
    sheers = surface.sheers
    x = float(sheers[:, 0].min() + sheers[:, 0].max()) / 2
    z = float(surface.inside.low[2]) + SEAT_M
    base = sum_load(empty)
    points = np.concatenate([sheers, np.array([p for _, p in vessel.floods]).reshape(-1, 3)])

    def dry(mass: float, y: float) -> float:
        load = add_loads(base, sum_load([Entry("side", "side", "crew", mass, 0, "computed", (x, y, z))]))
        try:
            state = equilibrium(solid, load, vessel.density)
        except NoEquilibriumError:
            return -1.0
        return float((points @ state.n).min()) - state.d

    low, high = 0.1, 4 * base.mass_kg + 200
    sides = [SIDE_OF_HALF_BEAM * float(edge) for edge in (sheers[:, 1].max(), sheers[:, 1].min())]
    if any(dry(low, y) <= 0 for y in sides):
        return None
    wet = [y for y in sides if dry(high, y) <= 0]
    return min(
        (float(scipy.optimize.brentq(dry, low, high, args=(y,), xtol=0.05)) for y in wet), default=high
    )


def _why_not(plan: Plan, length_m: float) -> str:
    """Why the rule says nothing about this boat; empty where it does."""
    if plan.propulsion.kind == "inboard":
        return "inboards have a formula of their own"
    if plan.propulsion.kind == "none":
        return "boats that are rowed or paddled have a formula of their own"
    if length_m / FOOT_M >= LONGEST_FT:
        return "the rule is for boats under 20 ft"
    return ""


def has_wheel(plan: Plan) -> bool:
    """Whether she is steered from a wheel: said so, or something with a wheel is aboard."""
    aboard = any("helm" in kind_of(t).offers for t in present(plan))
    return plan.propulsion.remote_steering or aboard


def screen(plan: Plan, vessel: Vessel, empty: Sequence[Entry]) -> Screening:
    """Screening figures for the planned boat.

    empty: ledger "planned, empty". Motor with controls, batteries and portable tanks are
    what the kinds of things say they count as.
    """
    motor = sum(e.mass_kg for e in empty if e.plant)
    boat = sum(e.mass_kg for e in empty) - motor
    level, displacement, area = float_plane(vessel)
    outside = vessel.surface.outside
    length = float(outside.high[0] - outside.low[0])
    wide, rise = _transom(vessel)
    factor, flat = power_factor(length, wide), rise <= FLAT_DEG
    if why := _why_not(plan, length):
        return Screening(
            boat, displacement, level, None, motor, None, None, None, length, wide, factor, flat, None, why
        )
    capacity = max(0.0, (displacement - boat) / DISPLACEMENT_SHARE)
    persons = max(0.0, capacity - motor)
    side = None
    if persons < SMALL_LB * POUND_KG:
        carried = _side_mass(vessel, empty)
        side = 0.0 if carried is None else carried / SIDE_SHARE
        persons = min(persons, side)
    height = plan.propulsion.transom_height
    if height is None:
        keel, sheer = (float(vessel.surface.lines[0][k][0][2]) for k in (0, -1))
        height = min((p[2] for _, p in vessel.floods), default=sheer) - keel
    high = has_wheel(plan) and height >= HIGH_TRANSOM_M
    power = power_hp(factor, flat, high) * HP_KW
    count, most = persons_number(persons), math.floor(area / PLACE_M2)
    crowded = ""
    if count > most:
        crowded = f"the formula gives {count}, and at {PLACE_M2:g} m² for each she has room for {most}"
    return Screening(
        boat, displacement, level, capacity, motor, persons, side, None if crowded else count, length, wide,
        factor, flat, power, "", power_words(factor, flat, high), crowded,
    )  # fmt: skip


def remainders(
    plan: Plan, added_kg: float, cases: Sequence[tuple[str, float, float]]
) -> tuple[Remainder, ...]:
    """What each case (name, crew mass, other mass brought along [kg]) leaves of the label.

    Permanently added mass counts against the total.
    """
    label = plan.label
    motor = motors_kg(plan)
    out = []
    for name, crew, gear in cases:
        persons = None if label is None or label.persons_kg is None else label.persons_kg - crew
        total = None
        if label is not None and label.total_kg is not None:
            total = label.total_kg - crew - gear - motor - max(0.0, added_kg - _added_motor(plan))
        out.append(Remainder(name, crew, gear, persons, total))
    return tuple(out)


def _added_motor(plan: Plan) -> float:
    """Added motor mass less the removed: it is in the label's motor already."""
    sign = {"added": 1.0, "removed": -1.0, "found": 0.0}
    return sum(sign[i.stage] * i.mass.value for i in motors(plan))
