"""The yard: the shop's builds as small true drawings."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from stirrup.core.derive import derive
from stirrup.core.plan.model import LoadCase
from stirrup.store import builds
from stirrup.store.author import clean_name
from stirrup.store.queue import sources, want
from stirrup.store.shop import catalogue, set_units
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import strip_context, viewer
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)


def yard_context() -> dict[str, Any]:
    """All builds with their strips."""
    who = viewer()
    own = catalogue(who.shop_id)
    rows = []
    for stored in builds.all_builds(who.shop_id):
        derived = derive(stored.plan, own, layouts=sources(who.shop_id))
        if derived.pending:
            want(who.shop_id, stored.id, derived.pending)
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
    return _to(back)


def _to(back: str) -> RedirectResponse:
    """Back to a page of this site, whatever was sent as its address."""
    own = back.startswith("/") and "//" not in back and "\\" not in back
    return RedirectResponse(back if own else "/", 303)


@router.post("/name", name="own_name", include_in_schema=False)
def own_name(
    request: Request, name: Annotated[str, Form(max_length=200)] = "", back: Annotated[str, Form()] = "/"
) -> Response:
    """The name that others see beside what is changed in this browser; an empty one takes it away."""
    request.session["name"] = clean_name(name)
    return _to(back)
