"""Marking sheet: positions to mark on the boat, on the page, on paper, as a PDF."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response

from stirrup.core.errors import CoreError
from stirrup.core.marking import Marks, marking
from stirrup.core.units import read_length_m, write_length
from stirrup.exchange.marking_sheet import marking_pdf
from stirrup.web.gate import GateRoute
from stirrup.web.pages.files import download, file_name
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.present import in_shop_units
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)

OFFSET_M = 0.1
PITCH_M = {"mm": 0.2, "in": 0.2032, "ft-in": 0.2032}


def _marks(opened: OpenBuild, pitch: str, offset: str) -> tuple[tuple[Marks, ...], CoreError | None]:
    """Marks for what was typed, or for the usual values and what is wrong."""
    usual = PITCH_M.get(opened.units.length, 0.2)
    try:
        pitch_m = read_length_m(pitch, opened.units) if pitch.strip() else usual
        offset_m = read_length_m(offset, opened.units) if offset.strip() else OFFSET_M
        return marking(opened.derived, pitch_m, offset_m), None
    except CoreError as error:
        return marking(opened.derived, usual, OFFSET_M), error


@router.get("/b/{build_id}/layout/marks", name="marks", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def marks_page(
    request: Request, build_id: int, case: CaseName, pitch: str = "", offset: str = ""
) -> Response:
    opened = open_build(build_id)
    things, problem = _marks(opened, pitch, offset)
    units = opened.units
    context: dict[str, Any] = {
        **build_context(opened, request, "layout", case),
        "things": things,
        "pitch": pitch or write_length(PITCH_M.get(units.length, 0.2), units),
        "offset": offset or write_length(OFFSET_M, units),
        "problem": in_shop_units(problem.message, units) if problem else "",
    }
    response = render(request, "marks.html", context)
    response.status_code = 422 if problem else 200
    return response


@router.get("/b/{build_id}/marks.pdf", name="marks_pdf", include_in_schema=False)
def marks_pdf(build_id: int, pitch: str = "", offset: str = "") -> Response:
    opened = open_build(build_id)
    things, problem = _marks(opened, pitch, offset)
    if problem is not None:
        raise problem
    content = marking_pdf(f"{opened.plan.name}: positions to mark", things, opened.units)
    name = file_name(opened.plan.name, "-marks.pdf")
    return download(content, "application/pdf", name)
