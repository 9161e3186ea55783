"""What would save a sheet or a stick, and what the rack is good for: fetched when somebody asks."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from stirrup.core.cutting.stick_joint import joints
from stirrup.core.derive import MEMO
from stirrup.core.errors import CoreError
from stirrup.core.from_rack import from_rack
from stirrup.core.memo import alone
from stirrup.core.savings import savings
from stirrup.store.racks import fetch_leftover, leftovers_elsewhere
from stirrup.store.shop import catalogue as catalogue_of
from stirrup.web import links
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import open_build
from stirrup.web.present import change_json
from stirrup.web.render import render
from stirrup.web.security import say_next

router = APIRouter(route_class=GateRoute)

StockId = Annotated[str, Query(max_length=100)]


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
