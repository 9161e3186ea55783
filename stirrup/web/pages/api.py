"""The JSON part: preview, change, undo, redo, and the derived figures for inspection."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query
from fastapi.responses import JSONResponse
from pydantic import BaseModel, ConfigDict, Field

from stirrup.core.arrange.followers import Around, followed
from stirrup.core.arrange.snap import Snap
from stirrup.core.derive import derive_vessel
from stirrup.core.errors import CoreError
from stirrup.core.memo import Statistics, statistics
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.plan import suggest
from stirrup.core.plan.changes import (
    AddThing,
    AnyChange,
    SetValue,
    Together,
    apply,
    index_of,
    invert,
    read_change,
    touches,
)
from stirrup.core.plan.copies import packed
from stirrup.core.plan.entry import kind_at, read_entry
from stirrup.core.plan.model import Plan
from stirrup.core.plan.readings import is_reading, read_table
from stirrup.core.plan.words import describe
from stirrup.core.units import SYSTEMS, Units, write_length
from stirrup.exchange.summary import summary
from stirrup.store import builds
from stirrup.store.shop import catalogue
from stirrup.web.forms import make_field, show_value
from stirrup.web.gate import GateRoute
from stirrup.web.pages.arranging import Arrange, arranged
from stirrup.web.pages.frame import (
    Viewer,
    chosen_case,
    open_build,
    refuse_dead_end,
    viewer,
    worked_out,
)
from stirrup.web.present import steps
from stirrup.web.problems import PROBLEMS, Problem

MOST_FIELDS = 12  # told while dragging; the page shows one thing's form

router = APIRouter(route_class=GateRoute, prefix="/api", responses=PROBLEMS)


class Typed(BaseModel):
    """Text as typed into the field at `path` ("fittings/bow-deck/aft")."""

    model_config = ConfigDict(extra="forbid")
    path: str = Field(max_length=300)
    text: str = Field(max_length=400)


class Stepped(BaseModel):
    """Somebody of a load case put down at (x, y) [m]; where his feet are follows from that."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    number: int = Field(ge=0, le=60)
    x: float = Field(ge=-20, le=60)
    y: float = Field(ge=-20, le=20)


class Pasted(BaseModel):
    """A table pasted into the field at `path`: what its columns are, and whether rows are
    the stations of a line or the lines of a station."""

    model_config = ConfigDict(extra="forbid")
    path: str = Field(max_length=300)
    text: str = Field(max_length=40_000)
    columns: list[str] = Field(max_length=6)
    by: Literal["line", "station"] = "line"


class ChangeAsked(BaseModel):
    """A change, made on revision `base`: a command, typed text, or a person put elsewhere."""

    model_config = ConfigDict(extra="forbid")
    base: int = Field(ge=0)
    change: dict[str, Any] | None = None
    typed: Typed | None = None
    person: Stepped | None = None
    pasted: Pasted | None = None
    arrange: Arrange | None = None
    token: str | None = Field(None, max_length=60)
    # what the page shows, so that the answer can carry its parts
    page: str = "layout"
    case: str | None = None
    sel: str = Field("", max_length=4000)
    at: float | None = None
    room: bool = False
    frame: bool = False
    line: str = ""
    side: Literal["lines", "starboard"] = "lines"


class Done(BaseModel):
    """The revision after the change, what was merged over, and a load case that it made."""

    number: int
    words: str
    merged: list[str]
    read_as: str | None = None
    case: str | None = None


def new_case(change: AnyChange) -> str | None:
    """Name of the load case that a change adds: it is the one to look at."""
    parts = change.changes if isinstance(change, Together) else (change,)
    added = [p.value.get("name") for p in parts if isinstance(p, AddThing) and p.path == ("cases",)]
    return str(added[0]) if added else None


def change_of(
    asked: ChangeAsked, plan: Plan, units: Units, shop: Catalogue
) -> tuple[AnyChange, tuple[Snap, ...]]:
    """What is asked for, with what follows in survey and bonds; and what a drag was caught by."""
    snaps: tuple[Snap, ...] = ()
    around = Around(lambda: derive_vessel(plan).surface, shop)
    if asked.arrange is not None:
        change, snaps = arranged(plan, derive_vessel(plan).surface, asked.arrange, units)
    else:
        change = _asked_change(asked, plan, units)
    return followed(plan, around, change), snaps


def _as_it_was(plan: Plan, change: AnyChange, text: str, units: Units) -> AnyChange:
    """A change whose text is what the field showed leaves what the shop's units rounded off: a form that is
    sent as it was read changes nothing."""
    if not isinstance(change, SetValue) or not isinstance(change.value, int | float):
        return change
    try:
        kind, before = kind_at(plan, change.path), invert(plan, change)
    except CoreError:
        return change  # storing it says what is wrong
    if not isinstance(before, SetValue) or not isinstance(before.value, int | float):
        return change
    return before if show_value(before.value, kind, units) == text else change


def _asked_change(asked: ChangeAsked, plan: Plan, units: Units) -> AnyChange:
    if asked.typed is not None:
        change = read_entry(plan, steps(asked.typed.path), asked.typed.text, units)
        return _as_it_was(plan, change, asked.typed.text.strip(), units)
    if asked.pasted is not None:
        p = asked.pasted
        return read_table(plan, steps(p.path), p.text, tuple(p.columns), p.by, units)
    if asked.person is not None:
        derived = worked_out(plan, viewer())
        shown = chosen_case(derived, asked.case)
        at = (asked.person.number, asked.person.x, asked.person.y)
        return suggest.moved_person(plan, shown, *at, derived.footing.at)
    if asked.change is None:
        raise CoreError("give change, typed, pasted, person or arrange", "change")
    return read_change(asked.change)


def value_text(plan: Plan, asked: ChangeAsked, change: AnyChange, units: Units) -> str | None:
    """How the new value reads, for the field it was typed into; None where the field shows
    something else than the value (a full width, a height down from a string)."""
    path = steps(asked.typed.path) if asked.typed else ()
    if is_reading(path) and index_of(path[-1]) is None:
        return None
    if change.do == "together":
        change = change.changes[0]
    if change.do != "set" or not isinstance(change.value, int | float | str):
        return None
    try:
        return make_field("", change.value, kind_at(plan, change.path), units).value
    except CoreError:
        return None


def moved_texts(
    plan: Plan, asked: ChangeAsked, change: AnyChange, units: Units
) -> dict[str, tuple[str, str]]:
    """What the fields of moved things read now, and the same in the other unit; the page's fields follow a
    drag by it."""
    if asked.arrange is None:
        return {}
    parts = change.changes if isinstance(change, Together) else (change,)
    out = {}
    for part in parts[:MOST_FIELDS]:
        if isinstance(part, SetValue) and isinstance(part.value, int | float):
            field = make_field("", part.value, kind_at(plan, part.path), units)
            out["/".join(part.path)] = (field.value, field.read_as)
    return out


def commit_change(who: Viewer, build_id: int, asked: ChangeAsked) -> tuple[builds.Stored, AnyChange]:
    """Commit, or refuse with both versions shown. Raises Problem."""
    stored = builds.load(who.shop_id, build_id)
    change, _ = change_of(asked, stored.plan, who.units, catalogue(who.shop_id))
    try:
        after = apply(stored.plan, change)
    except CoreError:
        after = None  # it may be stored already, or somebody was quicker: the store knows, and says so
    if after is not None:
        refuse_dead_end(after, who)

    def words(plan: Plan, made: AnyChange) -> str:
        return describe(plan, made, who.units)

    try:
        return builds.commit(who.shop_id, build_id, asked.base, change, words, asked.token), change
    except builds.StaleEditError as error:
        raise Problem(
            409,
            "Changed meanwhile",
            "The same thing was changed in another window. Nothing of yours was stored yet.",
            code="stale",
            theirs=error.theirs,
            yours=describe(stored.plan, change, who.units),
            number=error.number,
            things=["/".join(t) for t in touches(change)],
        ) from None


@router.post("/builds/{build_id}/changes", name="api_change")
def make_change(build_id: int, asked: ChangeAsked) -> Done:
    """Make a change; it is stored when this answers."""
    who = viewer()
    stored, change = commit_change(who, build_id, asked)
    words = stored.can_undo or ""
    read_as = value_text(stored.plan, asked, change, who.units)
    return Done(
        number=stored.number, words=words, merged=list(stored.merged), read_as=read_as,
        case=new_case(change),
    )  # fmt: skip


class ReadAs(BaseModel):
    """How a typed text reads: in the shop's units, and in the other one."""

    read_as: str
    other: str


@router.post("/builds/{build_id}/read", name="api_read")
def read_typed(build_id: int, typed: Typed) -> ReadAs:
    """How a text would be read at a place; nothing is changed."""
    who = viewer()
    _, plan = builds.current(who.shop_id, build_id)
    change = read_entry(plan, steps(typed.path), typed.text, who.units)
    asked = ChangeAsked(base=0, typed=typed)
    text = value_text(plan, asked, change, who.units) or ""
    value = change.value if isinstance(change, SetValue) else None
    length = bool(text) and kind_at(plan, steps(typed.path)).kind == "length"
    other = ""
    if length and isinstance(value, int | float):
        other = write_length(value, SYSTEMS["mm" if who.units.length != "mm" else "in"])
    return ReadAs(read_as=text, other=other)


@router.post("/builds/{build_id}/undo", name="api_undo")
def undo(build_id: int) -> Done:
    """Take the latest change back."""
    stored = builds.undo(viewer().shop_id, build_id)
    return Done(number=stored.number, words=stored.can_redo or "", merged=[])


@router.post("/builds/{build_id}/redo", name="api_redo")
def redo(build_id: int) -> Done:
    """Make the change that was undone last again."""
    stored = builds.redo(viewer().shop_id, build_id)
    return Done(number=stored.number, words=stored.can_undo or "", merged=[])


@router.get("/builds/{build_id}/things", name="api_things")
def pack_of_things(build_id: int, sel: Annotated[str, Query(max_length=4000)] = "") -> dict[str, Any]:
    """Chosen things as plain values, to be brought to another build."""
    return packed(open_build(build_id).plan, [s for s in sel.split(",") if s])


@router.get("/remembered", name="api_remembered")
def remembered() -> Statistics:
    """What this process keeps at hand: of how many builds, how much of it, how often a look found it."""
    return statistics()


@router.get("/builds/{build_id}", name="api_build")
def derived_build(build_id: int) -> JSONResponse:
    """Everything derived from the build as it is stored, for inspection."""
    opened = open_build(build_id, settled=True)
    return JSONResponse({"number": opened.stored.number, **summary(opened.derived)})


@router.get("/builds/{build_id}/history", name="api_history")
def history(build_id: int) -> list[dict[str, Any]]:
    """Revisions in words, latest first."""
    steps = builds.history(viewer().shop_id, build_id)
    return [
        {"number": s.number, "kind": s.kind, "words": s.words, "author": s.author, "at": s.at.isoformat()}
        for s in steps
    ]
