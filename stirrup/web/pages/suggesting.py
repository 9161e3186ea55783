"""The JSON part: first sizes of what is to be placed, and what taking something out would leave."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal

from fastapi import APIRouter
from pydantic import BaseModel, Field

from stirrup.core.arrange.palette import placed as first_placed
from stirrup.core.arrange.removal import GOES, STAYS, guests, removal, removed
from stirrup.core.derive import Derived
from stirrup.core.parts.entries import Section, Sheet
from stirrup.core.plan import suggest
from stirrup.core.plan.changes import AddThing
from stirrup.core.plan.copies import halves, pasted, several
from stirrup.core.plan.model import GROUPS
from stirrup.core.plan.things import title_of
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import open_build
from stirrup.web.present import steps
from stirrup.web.problems import PROBLEMS

FATE_WORDS = {GOES: "take it out too", STAYS: "leave it where it is"}

router = APIRouter(route_class=GateRoute, prefix="/api", responses=PROBLEMS)


class Wanted(BaseModel):
    """What is to be placed, where if that was said, and what the page shows."""

    kind: str
    case: str | None = None
    sel: str = Field("", max_length=4000)
    x: float | None = Field(None, ge=-20, le=60)
    y: float | None = Field(None, ge=-20, le=20)
    things: dict[str, Any] | None = None  # a pack from another build


class Suggested(BaseModel):
    """A change that has not been made, and what to show once it is."""

    change: dict[str, Any]
    sel: str | None = None
    case: str | None = None


class Place(BaseModel):
    """Path of a thing, its steps joined by slashes; what becomes of guests, by their ids."""

    path: str = Field(max_length=4000)
    fates: dict[str, str] = Field(default_factory=dict, max_length=200)


class Left(BaseModel):
    """Something that needs what is taken out, and what may become of it, likeliest first."""

    id: str
    title: str
    words: str
    fates: list[tuple[str, str]]


class Removal(Suggested):
    """The change that takes things out, and what it would leave without its host."""

    guests: list[Left] = []


def _in_use(derived: Derived, which: Literal["sheets", "sticks"]) -> str:
    """The stock of which most is cut; of none the first in the catalogue."""
    if which == "sheets":
        sheets = sorted(derived.sheets, key=lambda x: -len(x.job.blanks))
        return sheets[0].job.stock if sheets else derived.catalogue.of(Sheet)[0].id
    sticks = sorted(derived.sticks, key=lambda x: -len(x.job.pieces))
    return sticks[0].job.stock if sticks else derived.catalogue.of(Section)[0].id


@router.post("/builds/{build_id}/suggest", name="api_suggest")
def suggest_thing(build_id: int, wanted: Wanted) -> Suggested:
    """A first size for whatever is to be placed, or the chosen things once more. Nothing is stored."""
    opened = open_build(build_id)
    plan, surface = opened.plan, opened.derived.surface
    chosen = [s for s in wanted.sel.split(",") if s]
    at = None if wanted.x is None or wanted.y is None else (wanted.x, wanted.y)
    if wanted.kind in ("copy", "mirror"):
        change, new = several(plan, chosen, wanted.kind == "mirror")
        return Suggested(change=change.model_dump(mode="json"), sel=",".join(new))
    if wanted.kind == "halve":
        change, both = halves(plan, chosen[0] if chosen else "")
        return Suggested(change=change.model_dump(mode="json"), sel=",".join(both))
    if wanted.kind == "paste":
        change, new = pasted(plan, wanted.things or {}, chosen[0] if chosen else "")
        return Suggested(change=change.model_dump(mode="json"), sel=",".join(new))
    case = wanted.case or ""
    makers: dict[str, Callable[[], AddThing]] = {
        "case": lambda: suggest.new_case(plan, surface),
        "extra": lambda: suggest.new_extra(plan, case, surface),
        "gear": lambda: suggest.new_gear(plan),
        "place": lambda: suggest.new_place(
            plan, surface, opened.derived.footing.bottom_m, wanted.x, wanted.y
        ),
        "person": lambda: suggest.new_person(plan, case, surface),
        "sheet-rest": lambda: suggest.new_sheet_rest(plan, _in_use(opened.derived, "sheets")),
        "stick-rest": lambda: suggest.new_stick_rest(plan, _in_use(opened.derived, "sticks")),
    }
    if wanted.kind in makers:
        made = makers[wanted.kind]()
        name = str(made.value.get("name")) if wanted.kind == "case" else None
        return Suggested(change=made.model_dump(mode="json"), case=name)
    deck = chosen[0] if chosen else ""
    thing, whole = first_placed(plan, surface, opened.derived.footing, wanted.kind, deck, at)
    return Suggested(change=whole.model_dump(mode="json"), sel=str(thing.value["id"]))


@router.post("/builds/{build_id}/suggest-removal", name="api_removal")
def suggest_removal(build_id: int, place: Place) -> Removal:
    """The change that takes things out with all that hangs on them. Nothing is stored.

    `path`: of one thing, or ids joined by commas; `fates`: of its guests, see the answer.
    """
    plan, path = open_build(build_id).plan, steps(place.path)
    ids = [s for s in place.path.split(",") if s]
    if "/" in place.path:
        change = removal(plan, path, place.fates)
        ids = [path[1]] if len(path) == 2 and path[0] in GROUPS else []
    else:
        change = removed(plan, ids, place.fates)
    left = [
        Left(id=g.id, title=g.title, words=g.tie.relation,
             fates=[(fate, FATE_WORDS.get(fate) or f"move to {title_of(plan, fate)}") for fate in g.fates])
        for g in guests(plan, ids)
    ]  # fmt: skip
    return Removal(change=change.model_dump(mode="json"), guests=left)
