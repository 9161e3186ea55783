"""The yard: the shop's builds as small true drawings."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from stirrup.core.derive import derive
from stirrup.core.plan.model import LoadCase
from stirrup.store import builds
from stirrup.store.shop import prices, set_units
from stirrup.web.pages.frame import DbRoute, render, strip_context, viewer

router = APIRouter(route_class=DbRoute)


def yard_context() -> dict[str, Any]:
    """All builds with their strips."""
    who = viewer()
    own = prices(who.shop_id)
    rows = []
    for stored in builds.all_builds(who.shop_id):
        derived = derive(stored.plan, own)
        case = LoadCase(name="planned, empty")
        rows.append({"stored": stored, **strip_context(derived, case, who.units)})
    return {"who": who, "units": who.units, "rows": rows}


@router.get("/", name="yard", response_class=HTMLResponse, include_in_schema=False)
def yard(request: Request) -> Response:
    return render(request, "yard.html", yard_context())


@router.get("/favicon.ico", include_in_schema=False)
def favicon() -> Response:
    return Response(status_code=204)


@router.post("/units", name="units", include_in_schema=False)
def units(request: Request, system: Annotated[str, Form()], back: Annotated[str, Form()] = "/") -> Response:
    who = viewer()
    if system in ("ft-in", "in", "mm"):
        set_units(who.shop_id, system)
    return RedirectResponse(back if back.startswith("/") and "//" not in back else "/", 303)
