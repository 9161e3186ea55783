"""Taking her apart: what comes out, in which order, and what goes back on."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response

from stirrup.core.apart import apart
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import CaseName, build_context, open_build
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)


@router.get("/b/{build_id}/survey/apart", name="apart", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def apart_page(request: Request, build_id: int, case: CaseName) -> Response:
    opened = open_build(build_id)
    return render(request, "apart.html", {
        **build_context(opened, request, "survey", case), "apart": apart(opened.plan),
    })  # fmt: skip
