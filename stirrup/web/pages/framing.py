"""Framing: where each member of a fitting is set, drawn and as a list, with the order of fixing."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup

from stirrup.core.cutting.notes import member_notes
from stirrup.core.framing_plan import Datum, FramingPlan, SetOut, datums, framing_plan
from stirrup.core.parts.model import Member
from stirrup.core.units import Units, write_length
from stirrup.exchange.framing_sheet import framing_sheet
from stirrup.exchange.paper import paper_dxf, paper_pdf, paper_svg
from stirrup.store.builds import NotThereError
from stirrup.web.drawing import framing
from stirrup.web.drawing.exploded import exploded_view
from stirrup.web.gate import GateRoute
from stirrup.web.pages.drawn import details_of
from stirrup.web.pages.files import download, file_name
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.problems import Problem
from stirrup.web.render import render
from stirrup.web.screen import CURRENT

router = APIRouter(route_class=GateRoute)

KINDS = {"svg": "image/svg+xml", "pdf": "application/pdf", "dxf": "image/vnd.dxf"}


def _plan_of(opened: OpenBuild, fitting: str) -> FramingPlan:
    """The framing plan of a fitting. Raises NotThereError."""
    built = opened.derived.fitting(fitting)
    found = framing_plan(built) if built is not None else None
    if found is None:
        raise NotThereError(f"there is no framed fitting “{fitting}” in this boat")
    return found


def _hooked(offered: tuple[Datum, ...], tape: str) -> Datum:
    """Where the tape is hooked; at the transom for a word that nobody knows."""
    return next((d for d in offered if d.key == tape), offered[0])


def _notes(placed: SetOut, units: Units) -> list[str]:
    """How its ends are cut and its flange is slotted; a bearer's outline is on the sheets."""
    if not isinstance(placed.part, Member):
        return ["outline: see Cuts"]
    return member_notes(placed.part, lambda x: write_length(x, units))


@router.get("/b/{build_id}/layout/framing/{fitting}", name="framing", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def framing_page(
    request: Request, build_id: int, fitting: str, case: CaseName, tape: str = "transom"
) -> Response:
    opened = open_build(build_id)
    plan, derived, units = _plan_of(opened, fitting), opened.derived, opened.units
    built, wide = derived.fitting(fitting), CURRENT.get().column
    assert built is not None
    thing, offered = opened.plan.fitting(fitting), datums(built, derived.surface)
    datum = _hooked(offered, tape)
    others = [f for f in opened.plan.fittings if f.id != fitting]
    framed = [f for f in others if (b := derived.fitting(f.id)) and framing_plan(b)]
    context = {
        **build_context(opened, request, "layout", case),
        "thing": thing,
        "framing": plan,
        "others": framed,
        "datum": datum,
        "datums": offered,
        "apart": Markup(exploded_view(built, wide)),
        "details": details_of(opened, built),
        "plan_drawing": Markup(framing.plan_view(plan, built, datum, units, wide)),
        "side_drawing": Markup(framing.side_view(plan, units, wide)),
        "notes": {s.label: _notes(s, units) for s in plan.members},
    }
    return render(request, "framing.html", context)


@router.get("/b/{build_id}/framing/{fitting}.{kind}", name="framing_file", include_in_schema=False)
def framing_file(build_id: int, fitting: str, kind: str, tape: str = "transom") -> Response:
    """The framing plan on one sheet of paper at a round scale."""
    if kind not in KINDS:
        raise Problem(404, "There is no such drawing", "It comes as svg, pdf or dxf.")
    opened = open_build(build_id)
    plan = _plan_of(opened, fitting)
    built, thing = opened.derived.fitting(fitting), opened.plan.fitting(fitting)
    assert built is not None and thing is not None
    title = f"{opened.plan.name}, {thing.code} {thing.name}"
    datum = _hooked(datums(built, opened.derived.surface), tape)
    sheet = framing_sheet(plan, built, title, opened.units, datum)
    content = paper_pdf(sheet) if kind == "pdf" else {"svg": paper_svg, "dxf": paper_dxf}[kind](sheet)
    return download(content, KINDS[kind], file_name(opened.plan.name, f"-{thing.code}-framing.{kind}"))
