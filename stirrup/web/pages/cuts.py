"""Cuts: what do I cut from what?"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import HTMLResponse, JSONResponse, RedirectResponse, Response
from markupsafe import Markup
from pydantic import BaseModel, Field

from stirrup.core.cutting.notes import bends_of, member_notes, panel_notes
from stirrup.core.cutting.sheets import Placement, SheetLayout, placed, straight_cuts
from stirrup.core.cutting.stick_joint import joints
from stirrup.core.cutting.sticks import left_over_m
from stirrup.core.derive import MEMO
from stirrup.core.errors import CoreError
from stirrup.core.fit.already import Part, differs, parts_of, ticked
from stirrup.core.fit.cut_up import sheet_cut, stick_cut
from stirrup.core.fit.pinning import at_corner, let_go, looked_closer, pinned, sheet_kept, stale
from stirrup.core.from_rack import from_rack
from stirrup.core.memo import alone
from stirrup.core.parts.folding import Bend
from stirrup.core.parts.model import Member, Panel
from stirrup.core.plan.changes import AnyChange
from stirrup.core.plan.cut import CutPart
from stirrup.core.plan.cutting import SheetRest
from stirrup.core.plan.things import title_of
from stirrup.core.savings import savings
from stirrup.core.units import read_length_m, write_length
from stirrup.store import layouts
from stirrup.store.builds import NotThereError
from stirrup.store.racks import fetch_leftover, leftovers_elsewhere
from stirrup.store.shop import catalogue as catalogue_of
from stirrup.web import links
from stirrup.web.drawing.cuts import sheet_svg, stick_svg
from stirrup.web.forms import fields_of
from stirrup.web.gate import GateRoute
from stirrup.web.pages.api import ChangeAsked, commit_change
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.present import change_json, slug
from stirrup.web.problems import Problem
from stirrup.web.render import render
from stirrup.web.screen import CURRENT
from stirrup.web.security import said, say_next

router = APIRouter(route_class=GateRoute)

CUT, NOT_CUT = "cut", "not"
NO_TOOLS = {"sheets", "sticks", "done", "pins", "closer"}  # of the fields of how things are cut
StockId = Annotated[str, Query(max_length=100)]


@router.get("/b/{build_id}/cuts", name="cuts", response_class=HTMLResponse, include_in_schema=False)
def cuts(request: Request, build_id: int, case: CaseName) -> Response:
    opened = open_build(build_id)
    derived, units = opened.derived, opened.units
    catalogue = derived.catalogue
    wide = CURRENT.get().sheets
    labels = {m.key: m.label for b in derived.built for m in b.members}
    done = {c.id for c in opened.plan.cut}
    bends = bends_of(p for b in derived.built for p in b.panels)
    sheets = [_sheets(opened, request, layout, bends) for layout in derived.sheets]
    sticks = [
        {
            "layout": layout,
            "item": catalogue.section(layout.job.stock),
            "drawing": Markup(stick_svg(layout, labels, wide, done)),
            "left": [left_over_m(layout, k) for k in range(len(layout.bars))],
            "labels": labels,
            "lengths": {piece.id: piece.length for piece in layout.job.pieces},
        }
        for layout in derived.sticks
    ]
    context = {
        **build_context(opened, request, "cuts", case),
        "sheet_groups": sheets,
        "stick_groups": sticks,
        "lists": cut_lists(opened),
        "places": {r.id: r.place for r in opened.plan.cutting.rests},
        "tool_fields": fields_of(opened.plan.cutting, "cutting", units, NO_TOOLS, catalogue),
        "rack": _rack(opened),
        "cut_up": _cut_up(opened),
        "told": said(request, f"cuts {build_id}"),
    }
    return render(request, "cuts.html", context)


def _sheets(
    opened: OpenBuild, request: Request, layout: SheetLayout, bends: Mapping[str, Sequence[Bend]]
) -> dict[str, Any]:
    """Everything that is told of the sheets of one stock."""
    stock, wide = opened.derived.catalogue.sheet(layout.job.stock), CURRENT.get().sheets
    done, every = {c.id for c in opened.plan.cut}, range(len(layout.sheets))
    return {
        "layout": layout,
        "item": stock,
        "drawings": [Markup(sheet_svg(layout, stock, k, opened.units, wide, done, bends)) for k in every],
        "labels": {b.id: b.label for b in layout.job.blanks},
        "cuts": [straight_cuts(layout, k) for k in every],
        "kept": {p.part for p in layout.job.stays},
        "loose": stale(opened.plan, layout),
        "looked": looked_closer(opened.plan, layout) is None,
        "told": said(request, f"pins {opened.stored.id} {layout.job.stock}"),
    }


def _cut_up(opened: OpenBuild) -> list[dict[str, Any]]:
    """Sheets and sticks that are cut already, with what was cut from them."""
    entries, labels = opened.derived.catalogue.entries, {c.id: c.label for c in opened.plan.cut}
    return [
        {
            "path": f"cutting/done/{d.id}",
            "name": entries[d.stock].name if d.stock in entries else d.stock,
            "own": d.own,
            "parts": [labels[k] for k in d.parts if k in labels],
        }
        for d in opened.plan.cutting.done
    ]


def _rack(opened: OpenBuild) -> list[dict[str, Any]]:
    """The leftovers that are there for this boat, with the form of each and whether it is used."""
    derived, out = opened.derived, list[dict[str, Any]]()
    used = [on for sheet in derived.sheets for on in sheet.on]
    used += [on for stick in derived.sticks for on in stick.on]
    for rest in opened.plan.cutting.rests:
        path = f"cutting/{'sheets' if isinstance(rest, SheetRest) else 'sticks'}/{rest.id}"
        shaped = isinstance(rest, SheetRest) and bool(rest.outline)
        left_out = {"id", "outline", "holes", *(("width", "height") if shaped else ())}
        fields = fields_of(rest, path, opened.units, left_out, derived.catalogue)
        entry = derived.catalogue.entries.get(rest.stock)
        name = entry.name if entry else rest.stock
        out.append({"path": path, "fields": fields, "name": name, "used": used.count(rest.id)})
    return out


@router.get("/b/{build_id}/cuts/savings", name="savings", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def savings_part(request: Request, build_id: int, stock: StockId) -> Response:
    """What would save a sheet of one stock, found by trying: fetched when somebody asks."""
    opened = open_build(build_id, settled=True)
    own = catalogue_of(opened.who.shop_id)
    key = ("savings", opened.plan.model_dump_json(), own.key, stock)
    with alone():
        rows = MEMO.get(key, lambda: savings(opened.derived, stock, own))
    context = {
        "rows": rows,
        "changes": [change_json(s.change) if s.change is not None else "" for s in rows],
        "units": opened.units,
        "currency": opened.plan.wishes.currency,
    }
    return render(request, "partials/savings.html", context)


@router.get("/b/{build_id}/cuts/joints", name="joints", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def joints_part(request: Request, build_id: int, stock: StockId) -> Response:
    """Which member in two would save a stick, found by trying: fetched when somebody asks."""
    opened = open_build(build_id, settled=True)
    layout = next((s for s in opened.derived.sticks if s.job.stock == stock), None)
    key = ("joints", layout)
    with alone():
        rows = MEMO.get(key, lambda: joints(layout)) if layout is not None else []
    context = {
        "rows": rows,
        "labels": {m.key: m.label for b in opened.derived.built for m in b.members},
        "units": opened.units,
        "currency": opened.plan.wishes.currency,
    }
    return render(request, "partials/joints.html", context)


@router.get("/b/{build_id}/cuts/rack", name="rack_part", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def rack_part(request: Request, build_id: int) -> Response:
    """What can still be built from the rack, and what lies on the racks of other builds: fetched when
    somebody asks."""
    opened = open_build(build_id)
    key = ("from rack", opened.plan.model_dump_json(), opened.derived.catalogue.key)
    with alone():
        rows = MEMO.get(key, lambda: from_rack(opened.derived))
    context = {
        "stored": opened.stored,
        "units": opened.units,
        "rows": rows,
        "any": bool(opened.plan.cutting.rests),
        "elsewhere": leftovers_elsewhere(opened.who.shop_id, build_id),
        "names": {k: e.name for k, e in opened.derived.catalogue.entries.items()},
    }
    return render(request, "partials/rack.html", context)


@router.post("/b/{build_id}/cuts/fetch", name="rest_form", include_in_schema=False)
def rest_form(
    request: Request,
    build_id: int,
    other: Annotated[int, Form(ge=1)],
    rest: Annotated[str, Form(max_length=60)],
) -> Response:
    """A leftover of another build comes onto this one's rack, and is gone from there."""
    opened = open_build(build_id)
    try:
        told = fetch_leftover(opened.who.shop_id, build_id, other, rest)
    except CoreError as error:
        told = error.message
    say_next(request, f"cuts {build_id}", told)
    return RedirectResponse(f"{links.to('cuts', build_id)}#rack", 303)


def cut_lists(opened: OpenBuild) -> list[dict[str, Any]]:
    """Of each thing everything that is cut for it, with what is known of those that are cut already; and
    what was cut for it that nothing needs now."""
    cut = {c.id: c for c in opened.plan.cut}
    strays = dict(cut)
    out: list[dict[str, Any]] = []
    for built in opened.derived.built:
        every: list[Part] = [*built.panels, *built.members]
        for part in every:
            strays.pop(part.key, None)
        rows = [_row(opened, part, cut.get(part.key)) for part in every]
        out.append({"id": built.fitting, "rows": rows, "count": sum(r["cut"] is not None for r in rows)})
    for thing in dict.fromkeys(c.thing for c in strays.values()):
        if thing not in {known["id"] for known in out}:
            out.append({"id": thing, "rows": [], "count": 0})
    for known in out:
        known["name"] = title_of(opened.plan, known["id"])
        known["strays"] = [c for c in strays.values() if c.thing == known["id"]]
    return [known for known in out if known["rows"] or known["strays"]]


def _row(opened: OpenBuild, part: Part, cut: CutPart | None) -> dict[str, Any]:
    def length(value: float) -> str:
        return write_length(value, opened.units)

    notes = member_notes(part, length) if isinstance(part, Member) else panel_notes(part, length)
    known = None if cut is None else differs(part, cut)
    return {"part": part, "panel": isinstance(part, Panel), "notes": notes, "cut": known}


@router.post("/b/{build_id}/cuts/used", name="used_form", include_in_schema=False)
def used_form(
    build_id: int,
    base: Annotated[int, Form()],
    stock: Annotated[str, Form(max_length=100)],
    number: Annotated[int, Form(ge=1, le=1000)],
    parts: Annotated[str, Form(max_length=40_000)],
) -> Response:
    """A sheet or a stick is cut as it was shown: `number` counts from 1, `parts` are its keys, one a line.

    Where the layout is another one by now nothing is stored: somebody would note what he did not cut.
    """
    opened = open_build(build_id, settled=True)
    plan, built = opened.plan, opened.derived.built
    change, there = None, list[str]()
    for sheet in opened.derived.sheets:
        if sheet.job.stock == stock and number <= len(sheet.sheets):
            there = [p.blank for p in sheet.sheets[number - 1]]
            change = sheet_cut(plan, built, sheet, number - 1)
    for stick in opened.derived.sticks:
        if stick.job.stock == stock and number <= len(stick.bars):
            there = list(stick.bars[number - 1])
            change = stick_cut(plan, built, stick, number - 1)
    if change is None or sorted(there) != sorted(parts.split()):
        told = (
            "Its layout has changed since this page was shown. Look at it again before you note it as cut."
        )
        raise Problem(409, "Not noted as cut", told)
    commit_change(opened.who, build_id, ChangeAsked(base=base, change=change.model_dump(mode="json")))
    return RedirectResponse(f"{links.to('cuts', build_id)}#cut-up", 303)


class PinForm(BaseModel):
    """A part put on a sheet (`number` counts from 1), by x and y of its own axes [m], or, typed, by how far
    its left and its lower edge are from the sheet's; a whole sheet kept (`keep`), or parts let go: one of
    them, all of its stock."""

    base: int
    stock: Annotated[str, Field(max_length=100)]
    number: Annotated[int, Field(ge=1, le=1000)] = 1
    part: Annotated[str, Field(max_length=100)] = ""
    rotation: int = 0
    x: Annotated[float, Field(ge=-40, le=40)] = 0.0
    y: Annotated[float, Field(ge=-40, le=40)] = 0.0
    flipped: bool = False
    left: Annotated[str, Field(max_length=40)] = ""
    below: Annotated[str, Field(max_length=40)] = ""
    act: Literal["put", "keep", "let go", "let all go"] = "put"


@router.post("/b/{build_id}/cuts/pins", name="pin_form", include_in_schema=False)
def pin_form(request: Request, build_id: int, form: Annotated[PinForm, Form()]) -> Response:
    """A part stays where it was dragged, or it is said why it cannot; the rest is laid out around it."""
    opened = open_build(build_id, settled=True)
    layout = next((s for s in opened.derived.sheets if s.job.stock == form.stock), None)
    back = f"{links.to('cuts', build_id)}#stock-{slug(form.stock)}"
    try:
        change = _pinning(opened, layout, form)
    except CoreError as error:
        say_next(request, f"pins {build_id} {form.stock}", error.message)
        return RedirectResponse(back, 303)
    if change is not None:
        asked = ChangeAsked(base=form.base, change=change.model_dump(mode="json"))
        commit_change(opened.who, build_id, asked)
    return RedirectResponse(back, 303)


def _layout_of(opened: OpenBuild, stock: str) -> SheetLayout:
    found = next((s for s in opened.derived.sheets if s.job.stock == stock), None)
    if found is None:
        raise NotThereError("nothing is cut from this sheet any more; load the page again")
    return found


@router.post("/b/{build_id}/cuts/search", name="search_form", include_in_schema=False)
def search_form(
    build_id: int,
    base: Annotated[int, Form()],
    stock: Annotated[str, Form(max_length=100)],
    act: Annotated[Literal["closer", "stop"], Form()],
) -> Response:
    """Look longer for a close layout of one stock, or end that with what is best so far."""
    opened = open_build(build_id)
    layout = _layout_of(opened, stock)
    if act == "stop":
        layouts.stop(opened.who.shop_id, layout.job)
    else:
        change = looked_closer(opened.plan, layout)
        if change is not None:
            asked = ChangeAsked(base=base, change=change.model_dump(mode="json"))
            commit_change(opened.who, build_id, asked)
    return RedirectResponse(f"{links.to('cuts', build_id)}#stock-{slug(stock)}", 303)


@router.get("/b/{build_id}/cuts/search", name="search_state", include_in_schema=False)
def search_state(build_id: int, stock: StockId) -> Response:
    """How far the search for a closer layout is: from 0 to 1, null where none goes on."""
    opened = open_build(build_id)
    layout = _layout_of(opened, stock)
    share = layouts.progress(opened.who.shop_id, layout.job) if layout.more else None
    return JSONResponse({"share": share, "sheets": layout.bought})


@router.get("/b/{build_id}/cuts/numbers", name="pin_numbers", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def pin_numbers(
    request: Request, build_id: int, stock: StockId, number: Annotated[int, Query(ge=1, le=1000)]
) -> Response:
    """Where the parts of a sheet lie, to be moved by numbers: fetched when somebody asks."""
    opened = open_build(build_id, settled=True)
    layout = next((s for s in opened.derived.sheets if s.job.stock == stock), None)
    if layout is None or number > len(layout.sheets):
        raise NotThereError("this sheet is not there any more; load the page again")
    by = {b.id: b for b in layout.job.blanks}
    context = {
        "stored": opened.stored,
        "layout": layout,
        "number": number,
        "corners": {
            x.blank: [write_length(v, opened.units) for v in placed(by[x.blank], x).bounds[:2]]
            for x in layout.sheets[number - 1]
        },
        "item": opened.derived.catalogue.sheet(stock),
        "labels": {b.id: b.label for b in layout.job.blanks},
        "turns": {b.id: b.rotations for b in layout.job.blanks},
        "kept": {p.part for p in layout.job.stays},
    }
    return render(request, "partials/put.html", context)


def _pinning(opened: OpenBuild, layout: SheetLayout | None, form: PinForm) -> AnyChange | None:
    """Raises CoreError with why a part cannot lie there."""
    plan, units = opened.plan, opened.units
    if form.act == "let go":
        return let_go(plan, [form.part])
    if form.act == "let all go":
        return let_go(plan, [p.id for p in plan.cutting.pins if p.stock == form.stock])
    if layout is None:
        raise CoreError("nothing is cut from this sheet any more: look again", "stock")
    if form.act == "keep":
        return sheet_kept(plan, layout, form.number - 1)
    put = Placement(form.part, form.rotation % 360, form.x, form.y, form.flipped)
    if form.left or form.below:
        corner = (read_length_m(form.left, units), read_length_m(form.below, units))
        put = at_corner(layout, form.part, form.rotation % 360, form.flipped, corner)
    return pinned(plan, layout, form.number - 1, put, units)


@router.post("/b/{build_id}/cuts/ticks", name="tick_form", include_in_schema=False)
def tick_form(
    build_id: int,
    base: Annotated[int, Form()],
    tick: Annotated[str, Form(max_length=200)] = "",
    every: Annotated[str, Form(max_length=200)] = "",
) -> Response:
    """Note a part as cut or take that back, or note all of a thing that is not cut yet; then the list
    again, at the same place.

    tick: "cut" or "not", a space, and the key of a part; every: the id of a thing. What is gone changes
    nothing.
    """
    opened = open_build(build_id)
    word, _, name = (CUT, "", every) if every else tick.partition(" ")
    keys = [name] if word in (CUT, NOT_CUT) else []
    if every:  # those that have a tick keep what is known of them
        known = {c.id for c in opened.plan.cut}
        there = parts_of(opened.derived.built).items()
        keys = [key for key, part in there if part.fitting == every and key not in known]
    change = ticked(opened.plan, opened.derived.built, keys, word == CUT)
    if change is not None:
        asked = ChangeAsked(base=base, change=change.model_dump(mode="json"))
        commit_change(opened.who, build_id, asked)
    return RedirectResponse(f"{links.to('cuts', build_id)}#{slug(name)}", 303)
