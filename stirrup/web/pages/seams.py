"""Seams to weld: all of a boat's, in their order, with what their heat reaches."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response

from stirrup.core.plan.things import title_of
from stirrup.core.work.seams import HOW, LENGTHS, in_order
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import CaseName, build_context, open_build
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)


@router.get("/b/{build_id}/layout/seams", name="seams", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def seams_page(request: Request, build_id: int, case: CaseName) -> Response:
    opened = open_build(build_id)
    derived = opened.derived
    seams = in_order(derived.built)
    used = {s.seam.how for s in seams}
    ways = [f"{word.capitalize()}: {HOW[word]}" for word in HOW if word in used]
    heat = [f for f in derived.findings if f.code == "SEAM-HEAT"]
    return render(request, "seams.html", {
        **build_context(opened, request, "layout", case),
        "seams": seams, "ways": ways, "lengths": LENGTHS, "heat": heat,
        "joint": sum(s.seam.long for s in seams), "bead": sum(s.welded_m for s in seams),
        "names": {f.place: title_of(opened.plan, f.place) for f in heat},
    })  # fmt: skip
