"""Studies of a derived plan for the Float page: computed when asked for, remembered by content.

The pipeline itself (derive.py) carries what every page needs; these take longer and only
one page asks for them.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np
from numpy.typing import NDArray

from stirrup.core.afloat.compare import Choice, compare
from stirrup.core.afloat.crewmap import CrewMap, crew_rows
from stirrup.core.afloat.figures import Figure, figures
from stirrup.core.afloat.ground import ground_grid
from stirrup.core.afloat.learn import Lesson, learn_float_check, learn_inclining, learn_weigh_in
from stirrup.core.afloat.moved import Contribution, Remedy, contributions, remedies
from stirrup.core.afloat.righting import BothSides, both_sides
from stirrup.core.afloat.screening import Screening, has_wheel, screen
from stirrup.core.afloat.situation import Situation, situation
from stirrup.core.afloat.slide import Slider
from stirrup.core.afloat.standard import is_ashore
from stirrup.core.afloat.swamped import Swamped, swamped
from stirrup.core.arrange.riders import riding_kg
from stirrup.core.derive import MEMO, Derived
from stirrup.core.fit.gear import Space, Stowed, spaces, stow
from stirrup.core.memo import Key
from stirrup.core.plan.measured import FloatCheck, Measured, WeighIn
from stirrup.core.plan.things import every
from stirrup.core.record import dataclass

Array = NDArray[np.float64]

GRID = (40, 20)  # squares along and across
CURVE_HEELS = tuple(float(h) for h in range(0, 65, 5))


def _key(derived: Derived, case: str) -> tuple[object, ...]:
    """Everything that a study of one case depends on."""
    base = derived.base(case)
    tanks = derived.plan.model_dump_json(include={"tanks"})
    return (derived.vessel.key, Key(base), derived.load_case(case).model_dump_json(), tanks)


def situation_of(derived: Derived, case: str) -> Situation:
    """The case with all that weighs and displaces. Raises NoEquilibriumError, KeyError."""
    near = derived.case(case).state
    make = partial(
        situation, derived.plan, derived.vessel, derived.base(case), derived.load_case(case), near
    )
    return MEMO.get(("situation", *_key(derived, case)), make)


def compare_of(derived: Derived, setback_m: float) -> tuple[Choice, ...]:
    """Every choice of buoyant volumes, and with a setback the motor moved, in all cases afloat."""
    afloat = tuple(c for c in derived.load_cases if not is_ashore(c.name))
    make = partial(compare, derived.plan, derived.vessel, derived.built, afloat, setback_m)
    return MEMO.get(("compare", derived.plan.model_dump_json(), setback_m), make)


def figures_of(derived: Derived, case: str, small_m: float) -> tuple[Figure, ...]:
    """All figures with their workings; empty when she does not float. small_m: see `figures`."""
    result = derived.case(case)
    if result.report is None or result.state is None:
        return ()
    return figures(result.report, result.state, derived.surface, derived.vessel.density, small_m)


def righting_of(derived: Derived, case: str) -> BothSides:
    """Righting arm to both sides with flooding angle, range and area. Raises NoEquilibriumError."""
    here = situation_of(derived, case)
    make = partial(
        both_sides, case, here.solid, here.load, here.density, here.sheers, here.floods, CURVE_HEELS
    )
    return MEMO.get(("righting", *_key(derived, case)), make)


def contributions_of(derived: Derived, case: str) -> tuple[Contribution, ...]:
    """What makes the trim and the list, largest first. Raises NoEquilibriumError."""
    here = situation_of(derived, case)
    names = {f.id: f.name for f in derived.plan.fittings}
    found = {e.id for e in derived.found}
    make = partial(contributions, here, names, found)
    return MEMO.get(("moved", tuple(names.items()), *_key(derived, case)), make)


def remedies_of(derived: Derived, case: str) -> tuple[Remedy, ...]:
    """Single slides that help most. Raises NoEquilibriumError."""
    here = situation_of(derived, case)
    along = riding_kg(every(derived.plan), derived.load_case(case).crew)
    key = ("remedies", tuple(along.items()), *_key(derived, case))
    return MEMO.get(key, partial(remedies, here, along))


def sliders(derived: Derived, case: str) -> list[Slider]:
    """The items that may slide, with how far; a seat weighs what sits on it in the case, too."""
    out = []
    along = riding_kg(every(derived.plan), derived.load_case(case).crew)
    for item in derived.plan.items:
        s = item.slide
        if s is None or item.stage == "removed" or item.in_hull_mass:
            continue
        mass = item.mass.value + along.get(item.id, 0.0)
        out.append(Slider(item.id, item.title, mass, item.mass.centre, s.fore, s.aft, s.port, s.starboard))
    return out


@dataclass(frozen=True)
class Grid:
    """Squares of the crew map: edges along and across [m], ground under their middles."""

    x_edges: tuple[float, ...]
    y_edges: tuple[float, ...]
    ground: Array

    @property
    def x(self) -> Array:
        return np.convolve(self.x_edges, [0.5, 0.5], "valid")

    @property
    def y(self) -> Array:
        return np.convolve(self.y_edges, [0.5, 0.5], "valid")


def grid_of(derived: Derived) -> Grid:
    """The squares of a boat, kept while hull, decks and structure stay."""
    outside = derived.surface.outside
    x = np.linspace(float(outside.low[0]), float(outside.high[0]), GRID[0] + 1)
    y = np.linspace(float(outside.low[1]), float(outside.high[1]), GRID[1] + 1)

    def make() -> Grid:
        empty = Grid(tuple(x.tolist()), tuple(y.tolist()), np.zeros((0, 0)))
        return Grid(empty.x_edges, empty.y_edges, ground_grid(derived.footing, empty.x, empty.y))

    standing = derived.plan.model_dump_json(include={"fittings", "existing"})
    return MEMO.get(("grid", derived.surface.key, standing), make)


def map_rows(derived: Derived, case: str, mass_kg: float, rise_m: float) -> Iterator[CrewMap]:
    """The crew map after each row of squares. Raises NoEquilibriumError."""
    grid = grid_of(derived)
    here = situation_of(derived, case)
    return crew_rows(here, grid.ground, grid.x, grid.y, mass_kg, rise_m)


def swamped_of(derived: Derived) -> Swamped:
    """The planned boat full of water."""
    plan = derived.plan
    text = plan.model_dump_json(include={"items", "fittings", "label"}) + plan.hull.material
    key = ("swamped", derived.vessel.key, Key(derived.planned), text)
    make = partial(swamped, derived.plan, derived.vessel, derived.built, derived.planned)
    return MEMO.get(key, make)


def screening_of(derived: Derived) -> Screening:
    """Capacity screening of the planned boat."""
    rig = derived.plan.propulsion.model_dump_json()
    key = ("screening", derived.vessel.key, Key(derived.planned), rig, has_wheel(derived.plan))
    return MEMO.get(key, partial(screen, derived.plan, derived.vessel, derived.planned))


def lesson_of(derived: Derived, check: Measured) -> Lesson:
    """What one measurement says. Raises NoEquilibriumError, CoreError, KeyError."""
    here = situation_of(derived, check.case)
    if isinstance(check, WeighIn):
        return learn_weigh_in(check, here)
    if isinstance(check, FloatCheck):
        return learn_float_check(check, here)
    report = derived.case(check.case).report
    if report is None:  # situation_of has raised before
        raise KeyError(check.case)
    return learn_inclining(check, here, report)


def _spaces_key(derived: Derived) -> tuple[object, ...]:
    """Everything that gear and litres depend on besides the gear."""
    solid = tuple((s.id, s.role, s.shape.bounds) for s in derived.fit.solids)
    return (derived.surface.key, derived.plan.model_dump_json(include={"fittings"}), Key(solid))


def spaces_of(derived: Derived) -> list[Space]:
    """Closed spaces and their litres."""
    key = ("spaces", *_spaces_key(derived))
    return MEMO.get(key, partial(spaces, derived.things, derived.surface))


def stowed_of(derived: Derived) -> list[Stowed]:
    """Where each piece of gear on the owner's list goes; each remembered by itself."""
    base = _spaces_key(derived)
    out = []
    for gear in derived.plan.wishes.gear:
        find = partial(stow, derived.things, gear, derived.surface)
        out.append(MEMO.get(("stow", gear.model_dump_json(), *base), find))
    return out
