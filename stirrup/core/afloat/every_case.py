"""How she floats in each load case, remembered by what she and the case weigh."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial

from stirrup.core.afloat.aground import at_rest
from stirrup.core.afloat.cases import Vessel, aboard, staying
from stirrup.core.afloat.equilibrium import QUICK_TOLERANCE, TOLERANCE, State, equilibrium
from stirrup.core.afloat.ledger import Entry, Load, add_loads, sum_load
from stirrup.core.afloat.report import FloatReport, float_report
from stirrup.core.errors import NoEquilibriumError
from stirrup.core.memo import Key, Memo
from stirrup.core.plan.model import AS_FOUND, LoadCase, Plan
from stirrup.core.record import dataclass

MEMO = Memo()
# last floating position of each case: only where the search starts, never a result
NEARBY: dict[str, State] = {}


@dataclass(frozen=True)
class CaseResult:
    """A load case afloat, or why it is not; its state lets a neighbour start close by."""

    name: str
    report: FloatReport | None
    error: str = ""
    state: State | None = None


def _solve(
    vessel: Vessel,
    case: LoadCase,
    load: Load,
    near: State | None,
    quick: bool,
) -> CaseResult:
    name = case.name
    last = f"{vessel.key}|{name}"
    near = NEARBY.get(last, near) if quick else near
    try:
        solid = vessel.solid(name == AS_FOUND)
        tolerance = QUICK_TOLERANCE if quick else TOLERANCE
        rest = partial(equilibrium, solid, density=vessel.density, near=near, tolerance=tolerance)
        load, state = at_rest(load, case, vessel.surface, rest)
        if len(NEARBY) > 1000:
            NEARBY.clear()
        NEARBY[last] = state
    except NoEquilibriumError as error:
        return CaseResult(name, None, str(error))
    report = float_report(name, state, load, vessel.surface.sheers, vessel.floods)
    return CaseResult(name, report, state=state)


def every_case(
    plan: Plan,
    vessel: Vessel,
    planned: tuple[Entry, ...],
    found: tuple[Entry, ...],
    cases: Iterable[LoadCase],
    quick: bool,
    ask: Callable[[], None],
) -> tuple[CaseResult, ...]:
    """How she floats in every case; each starts from the position of "planned, empty", which is close.
    ask: called before each one, may give up."""
    results: list[CaseResult] = []
    near: State | None = None
    keys = {False: Key(planned), True: Key(found)}
    sums = {False: sum_load(planned), True: MEMO.get(("sum", keys[True]), partial(sum_load, found))}
    for case in cases:
        ask()
        as_found = case.name == AS_FOUND
        base = found if as_found else planned
        kept = staying(base, case) if case.without else base
        rows, liquids = aboard(plan, case)
        known = sum_load(kept) if case.without else sums[as_found]
        load = add_loads(known, sum_load(rows, liquids))
        solve = partial(_solve, vessel, case, load, near, quick)
        key = ("float", vessel.key, keys[as_found], case.model_dump_json(), liquids, quick)
        results.append(MEMO.get(key, solve))
        near = near or results[-1].state
    return tuple(results)
