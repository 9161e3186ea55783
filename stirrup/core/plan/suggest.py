"""First sizes for things that are placed, and what goes along when one is removed."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from stirrup.core.errors import CoreError
from stirrup.core.fittings.edges import inside_region
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.changes import AddThing, AnyChange, SetValue, Together
from stirrup.core.plan.model import RESERVED, LoadCase, Plan


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


def new_deck(plan: Plan, surface: HullSurface, at: float | None = None) -> AddThing:
    """A bow deck over the foremost third, a little over half way up the side.

    at: x that it shall cover [m]; near the stern its aft edge follows the transom.
    """
    low, high = surface.outside.low, surface.outside.high
    sheer = min(float(p[2]) for p in surface.lines[0][-1])
    height = round(max(0.05, 0.72 * sheer), 2)
    shape = inside_region(surface, height - 0.003)
    x1 = shape.bounds[2] if not shape.is_empty else float(high[0])
    aft = round(float(low[0]) + 0.62 * (x1 - float(low[0])), 2)
    fore = round(x1 - 0.25, 2)
    stern = False
    if at is not None and at < aft:
        middle = (float(low[0]) + x1) / 2
        half = 0.16 * (x1 - float(low[0]))
        stern = at < middle - half
        aft = round(float(low[0]) if stern else at - half, 2)
        fore = round(max(aft + 2 * half, at + 0.1), 2)
    id_ = _free(_ids(plan), "deck")
    value: dict[str, Any] = {
        "kind": "raised_deck", "id": id_, "name": f"Deck {id_.rsplit('-', 1)[1]}",
        "mark": free_mark(plan, "D"), "aft": None if stern else aft, "fore": fore, "height": height,
        # what is looked at stands under the edge that people see
        "face": not stern, "face_fore": stern,
    }  # fmt: skip
    return AddThing(path=("fittings",), value=value)


def new_hatch(
    plan: Plan, deck_id: str, surface: HullSurface, at: tuple[float, float] | None = None
) -> AddThing:
    """A hatch in the middle of a deck, or about (x, y) [m] in the deck that is there.

    Raises CoreError when there is no deck.
    """
    decks = [f for f in plan.fittings if f.kind == "raised_deck"]
    deck = next((d for d in decks if d.id == deck_id), decks[0] if decks else None)
    if at is not None:
        under = [
            d for d in decks
            if (-9 if d.aft is None else d.aft) <= at[0] <= (40 if d.fore is None else d.fore)
        ]  # fmt: skip
        if not under:
            raise CoreError("there is no deck there: a hatch sits in a deck", "at")
        deck = next((d for d in under if d.id == deck_id), under[0])
    if deck is None:
        raise CoreError("a hatch sits in a deck: place a raised deck first", "fittings")
    region = inside_region(surface, deck.height - 0.003)
    aft, fore = deck.ends_m(region) if not region.is_empty else (deck.aft or 0.0, deck.fore or 1.0)
    id_ = _free(_ids(plan), "hatch")
    length = round(min(0.45, 0.4 * (fore - aft)), 2)
    value: dict[str, Any] = {
        "kind": "hatch", "id": id_, "name": f"Hatch {id_.rsplit('-', 1)[1]}",
        "mark": free_mark(plan, "H"), "deck": deck.id,
        "x": round(at[0] if at else aft + 0.38 * (fore - aft), 2),
        "y": round(at[1], 2) if at else 0.0,
        "clear_length": length, "clear_width": round(min(0.40, 0.25 * region.bounds[3] * 2), 2),
    }  # fmt: skip
    return AddThing(path=("fittings",), value=value)


def new_item(plan: Plan, surface: HullSurface) -> AddThing:
    """A loose item amidships, its mass a guess to be put right."""
    middle = float(surface.outside.low[0] + surface.outside.high[0]) / 2
    id_ = _free(_ids(plan), "item")
    mass = {"value": 10.0, "centre": [round(middle, 2), 0.0, 0.25], "status": "guessed"}
    value: dict[str, Any] = {
        "id": id_, "name": f"Item {id_.rsplit('-', 1)[1]}", "mass": mass, "group": "gear",
        "stage": "added",
    }  # fmt: skip
    return AddThing(path=("items",), value=value)


def new_motor(plan: Plan, surface: HullSurface) -> AddThing:
    """An outboard on the transom as found, its mass a guess until it is read off or weighed."""
    sheer = surface.lines[0][-1][0]
    mass = {"value": 60.0, "status": "guessed", "centre_spread": 0.05,
            "centre": [round(float(sheer[0]) - 0.2, 2), 0.0, round(float(sheer[2]), 2)]}  # fmt: skip
    value: dict[str, Any] = {
        "id": _free(_ids(plan), "motor"), "name": "outboard", "mass": mass, "group": "motor",
        "stage": "found",
    }  # fmt: skip
    return AddThing(path=("items",), value=value)


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
    value = dict(new_item(plan, surface).value)
    id_ = _free(taken, "extra")
    value |= {"id": id_, "name": f"Extra {id_.rsplit('-', 1)[1]}", "stage": "found"}
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


def own_case(plan: Plan, case: LoadCase) -> AddThing:
    """A case that follows the plan, copied into the plan to be changed; the standard one stays."""
    if case.name in RESERVED:
        raise CoreError(f"“{case.name}” always is without crew; add a load case first", "cases")
    taken = {c.name for c in plan.cases}
    stem = f"{case.name[:60]}, yours"
    names = (stem if k == 1 else f"{stem} {k}" for k in range(1, len(taken) + 2))
    name = next(n for n in names if n not in taken)
    return AddThing(path=("cases",), value={**case.model_dump(mode="json"), "name": name})


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
