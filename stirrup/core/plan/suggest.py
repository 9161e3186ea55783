"""First sizes for things that are placed, and what goes along when one is removed."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.changes import AddThing, AnyChange, SetValue, Together
from stirrup.core.plan.model import RESERVED, LoadCase, Plan
from stirrup.core.plan.stowing import brought


def _free(taken: set[str], stem: str) -> str:
    number = 1
    while f"{stem}-{number}" in taken:
        number += 1
    return f"{stem}-{number}"


def _ids(plan: Plan) -> set[str]:
    groups = (plan.items, plan.tanks, plan.buoyancy, plan.existing, plan.fittings)
    return {thing.id for group in groups for thing in group}


def free_id(plan: Plan, stem: str) -> str:
    """The next free id of a stem."""
    return _free(_ids(plan), stem)


def free_mark(plan: Plan, letter: str) -> str:
    """The next free short code of a letter."""
    marks = {f.code for f in plan.fittings}
    number = 1
    while f"{letter}{number}" in marks:
        number += 1
    return f"{letter}{number}"


def _person(plan: Plan, surface: HullSurface, place: int) -> dict[str, Any]:
    """Somebody standing amidships on whatever is there: a deck, else the bottom."""
    x = float(surface.outside.low[0] + 0.4 * (surface.outside.high[0] - surface.outside.low[0]))
    y = (0.0, 0.3, -0.3)[place % 3]
    return {"at": [round(x + 0.35 * (place // 3), 2), y, 0.12], "posture": "standing"}


def new_case(plan: Plan, surface: HullSurface) -> AddThing:
    """A load case with one person aboard."""
    names = {c.name for c in plan.cases}
    number = 1
    while f"case {number}" in names:
        number += 1
    crew = [_person(plan, surface, 0)]
    return AddThing(path=("cases",), value={"name": f"case {number}", "crew": crew})


def new_person(plan: Plan, case: str, surface: HullSurface) -> AddThing:
    """One more person in a case. Raises CoreError for a case that cannot be changed."""
    found = next((c for c in plan.cases if c.name == case), None)
    if found is None:
        raise CoreError(f"“{case}” always is without crew; add a load case first", "cases")
    value = _person(plan, surface, len(found.crew))
    return AddThing(path=("cases", case, "crew"), value=value)


def new_extra(plan: Plan, case: str, surface: HullSurface) -> AddThing:
    """Something brought along in one case only. Raises CoreError."""
    found = next((c for c in plan.cases if c.name == case), None)
    if found is None:
        raise CoreError(f"“{case}” always is bare; add a load case first", "cases")
    taken = _ids(plan) | {e.id for e in found.extra}
    middle = float(surface.outside.low[0] + surface.outside.high[0]) / 2
    id_ = _free(taken, "extra")
    mass = {"value": 10.0, "centre": [round(middle, 2), 0.0, 0.25], "status": "guessed"}
    value = {"id": id_, "name": f"Extra {id_.rsplit('-', 1)[1]}", "mass": mass, "group": "gear",
             "stage": "found"}  # fmt: skip
    return AddThing(path=("cases", case, "extra"), value=value)


def new_place(
    plan: Plan,
    surface: HullSurface,
    bottom_m: Callable[[float, float], float | None],
    x: float | None,
    y: float | None,
) -> AddThing:
    """A place of the survey at (x, y) on the bottom; amidships when none is given."""
    low, high = surface.outside.low, surface.outside.high
    x = float(low[0] + high[0]) / 2 if x is None else x
    y = 0.0 if y is None else y
    ground = bottom_m(x, y)
    at = [round(x, 3), round(y, 3), round(ground if ground is not None else 0.1, 3)]
    taken = {p.id for p in plan.condition} | _ids(plan)
    value: dict[str, Any] = {"id": _free(taken, "place"), "kind": "wet", "at": at}
    return AddThing(path=("condition",), value=value)


def new_gear(plan: Plan) -> AddThing:
    """A piece of gear on the owner's list."""
    id_ = _free({g.id for g in plan.wishes.gear}, "gear")
    value: dict[str, Any] = {"id": id_, "name": f"Gear {id_.rsplit('-', 1)[1]}"}
    return AddThing(path=("wishes", "gear"), value=value)


def new_sheet_rest(plan: Plan, stock: str) -> AddThing:
    """A leftover of a sheet, of a size to be typed over."""
    id_ = _free({r.id for r in plan.cutting.rests}, "rest")
    value: dict[str, Any] = {"id": id_, "stock": stock, "width": 0.6, "height": 0.4}
    return AddThing(path=("cutting", "sheets"), value=value)


def new_stick_rest(plan: Plan, stock: str) -> AddThing:
    """A leftover of a stick, of a length to be typed over."""
    id_ = _free({r.id for r in plan.cutting.rests}, "rest")
    return AddThing(path=("cutting", "sticks"), value={"id": id_, "stock": stock, "length": 1.0})


def own_case(plan: Plan, case: LoadCase) -> AddThing:
    """A case that follows the plan, copied into the plan to be changed; the standard one stays."""
    if case.name in RESERVED:
        raise CoreError(f"“{case.name}” always is without crew; add a load case first", "cases")
    taken = {c.name for c in plan.cases}
    stem = f"{case.name[:60]}, yours"
    names = (stem if k == 1 else f"{stem} {k}" for k in range(1, len(taken) + 2))
    name = next(n for n in names if n not in taken)
    own = brought(plan, case).model_dump(mode="json")  # what is stowed comes into it by itself
    return AddThing(path=("cases",), value={**own, "name": name})


def moved_person(
    plan: Plan,
    case: LoadCase,
    number: int,
    x: float,
    y: float,
    ground: Callable[[float, float], object | None],
) -> AnyChange:
    """Somebody of a case goes to (x, y) [m] and stands or sits on what is there.

    case: with everybody on his feet; ground: what is under a place, None beside the boat. A
    standard case is copied for it, and stays. Raises CoreError for a person that is not there
    and for a place with nothing to stand on.
    """
    if not 0 <= number < len(case.crew):
        raise CoreError(f"there is no person {number + 1} in “{case.name}”", "cases")
    person = case.crew[number]
    name = person.name or f"person {number + 1}"
    own = next((c for c in plan.cases if c.name == case.name), None)
    at = [round(x, 4), round(y, 4), round(person.at[2], 4)]
    settle = person.posture == "standing"
    if settle and ground(x, y) is None:
        raise CoreError(f"{name}: there is nothing to stand on there", "cases")
    words = f"{case.name}: {name} moved"
    if own is None:
        value = own_case(plan, case).value
        crew = value["crew"]
        assert isinstance(crew, list)
        crew[number] = {**crew[number], "at": at, "settle": settle}  # type: ignore[dict-item]
        return Together(changes=(AddThing(path=("cases",), value=value),), words=words)
    path = ("cases", case.name, "crew", str(number))
    changes: list[AnyChange] = [SetValue(path=(*path, "at"), value=list(at))]
    if own.crew[number].settle != settle:
        changes.append(SetValue(path=(*path, "settle"), value=settle))
    return Together(changes=tuple(changes), words=words)
