"""Cuts: what do I cut from what?"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Annotated, Any

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup

from stirrup.core.buying import scribe_notes
from stirrup.core.cutting.notes import bends_of, member_notes, panel_notes
from stirrup.core.cutting.one_cut import in_order
from stirrup.core.cutting.sheets import SheetLayout, straight_cuts
from stirrup.core.cutting.sticks import left_over_m
from stirrup.core.fit.already import Part, differs, parts_of, ticked
from stirrup.core.fit.cut_up import sheet_cut, stick_cut
from stirrup.core.fit.pinning import looked_closer, stale
from stirrup.core.parts.folding import Bend
from stirrup.core.parts.model import Member, Panel
from stirrup.core.plan.cut import CutPart
from stirrup.core.plan.cutting import SheetRest
from stirrup.core.plan.things import title_of
from stirrup.core.units import write_length
from stirrup.web import links
from stirrup.web.drawing.cuts import sheet_svg, stick_svg
from stirrup.web.forms import fields_of
from stirrup.web.gate import GateRoute
from stirrup.web.pages.api import ChangeAsked, commit_change
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.present import slug
from stirrup.web.problems import Problem
from stirrup.web.render import render
from stirrup.web.screen import CURRENT
from stirrup.web.security import said

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
    members = {m.key: m for b in derived.built for m in b.members}
    labels = {key: m.label for key, m in members.items()}
    done = {c.id for c in opened.plan.cut}
    bends = bends_of(p for b in derived.built for p in b.panels)
    sheets = [_sheets(opened, request, layout, bends) for layout in derived.sheets]
    sticks = [
        {
            "layout": layout,
            "item": catalogue.section(layout.job.stock),
            "drawing": Markup(stick_svg(layout, labels, wide, done)),
            "left": [left_over_m(layout, k) for k in range(len(layout.bars))],
            "one_cut": [in_order([members[key] for key in bar if key in members]) for bar in layout.bars],
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
        left_out = {"id", "photo", "outline", "holes", *(("width", "height") if shaped else ())}
        fields = fields_of(rest, path, opened.units, left_out, derived.catalogue)
        entry = derived.catalogue.entries.get(rest.stock)
        name = entry.name if entry else rest.stock
        out.append({"path": path, "fields": fields, "name": name, "used": used.count(rest.id),
                    "rest": rest})  # fmt: skip
    return out


def cut_lists(opened: OpenBuild) -> list[dict[str, Any]]:
    """Of each thing everything that is cut for it, with what is known of those that are cut already; and
    what was cut for it that nothing needs now."""
    cut = {c.id: c for c in opened.plan.cut}
    derived = opened.derived
    scribed = scribe_notes(
        derived.sheets, derived.built, opened.plan, lambda x: write_length(x, opened.units)
    )
    strays = dict(cut)
    out: list[dict[str, Any]] = []
    for built in opened.derived.built:
        every: list[Part] = [*built.panels, *built.members]
        for part in every:
            strays.pop(part.key, None)
        rows = [_row(opened, part, cut.get(part.key), scribed.get(part.key, "")) for part in every]
        out.append({"id": built.fitting, "rows": rows, "count": sum(r["cut"] is not None for r in rows)})
    for thing in dict.fromkeys(c.thing for c in strays.values()):
        if thing not in {known["id"] for known in out}:
            out.append({"id": thing, "rows": [], "count": 0})
    for known in out:
        known["name"] = title_of(opened.plan, known["id"])
        known["strays"] = [c for c in strays.values() if c.thing == known["id"]]
    return [known for known in out if known["rows"] or known["strays"]]


def _row(opened: OpenBuild, part: Part, cut: CutPart | None, scribed: str) -> dict[str, Any]:
    def length(value: float) -> str:
        return write_length(value, opened.units)

    notes = member_notes(part, length) if isinstance(part, Member) else panel_notes(part, length)
    notes += [scribed] if scribed else []
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
