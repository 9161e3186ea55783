"""Gear and storage: fetched into the Layout sheet when its box is opened."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response

from stirrup.core.studies import spaces_of, stowed_of
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import open_build
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)


@router.get("/b/{build_id}/layout/gear", name="gear", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def gear(request: Request, build_id: int) -> Response:
    opened = open_build(build_id)
    return render(
        request,
        "partials/gear.html",
        {
            "stowed": stowed_of(opened.derived),
            "spaces": spaces_of(opened.derived),
            "units": opened.units,
            "stored": opened.stored,
        },
    )
