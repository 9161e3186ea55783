"""The yard: the shop's builds as small true drawings."""

from __future__ import annotations

import time
from decimal import Decimal
from typing import Annotated, Any

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup

from stirrup.core.derive import Derived, derive
from stirrup.core.errors import CoreError
from stirrup.core.memo import of_build
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.plan.model import PLANNED_EMPTY, LoadCase
from stirrup.core.units import Units
from stirrup.store import builds, cards
from stirrup.store.author import clean_name
from stirrup.store.queue import sources, want
from stirrup.store.shop import catalogue, set_units
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import strip_context, viewer
from stirrup.web.render import render

# a new price makes every card anew, and a page of sixty boats does not wait for them
AT_ONCE_S = 0.5

router = APIRouter(route_class=GateRoute)


def card_of(derived: Derived, units: Units) -> dict[str, Any]:
    """What the yard shows of a boat, as plain values in SI units."""
    strip = strip_context(derived, LoadCase(name=PLANNED_EMPTY), units)
    report, worst, cost = strip["report"], strip["worst"], derived.cost
    return {
        "added_kg": derived.added_kg,
        "trim_deg": None if report is None else report.trim_deg,
        "freeboard_m": None if worst is None else worst.report.freeboard_least_m,
        "total": str(cost.total),
        "budget": None if cost.budget is None else str(cost.budget),
        "currency": derived.plan.wishes.currency,
        "settled": cost.settled,
        "wants": strip["counts"].words,
        "drawing": strip["silhouette"] + strip["stern"],
    }


def _made(shop_id: int, build_id: int, own: Catalogue, units: Units) -> tuple[str, dict[str, Any]]:
    """Name and card of a boat whose own does not hold any more; kept once all of it is known."""
    stored = builds.load(shop_id, build_id)
    derived = derive(stored.plan, own, layouts=sources(shop_id))
    shown = card_of(derived, units)
    if derived.pending:
        want(shop_id, build_id, derived.pending)
    else:
        cards.keep(shop_id, build_id, stored.number, cards.meaning_of(own.key), shown)
    return stored.plan.name, shown


def _worked_out(shop_id: int, boat: cards.Listed, own: Catalogue, units: Units) -> dict[str, Any]:
    """A row of a boat that has no card; where it cannot be worked out, why."""
    try:
        with of_build(str(boat.id)):
            return _row(boat.id, *_made(shop_id, boat.id, own, units))
    except CoreError as error:
        return {**_row(boat.id, boat.name, None), "waits": False, "problem": error.message}


def _row(build_id: int, name: str, shown: dict[str, Any] | None) -> dict[str, Any]:
    """One boat of the page; without a card its name alone."""
    if shown is None:
        return {"id": build_id, "name": name, "waits": True}
    money = {k: None if shown[k] is None else Decimal(shown[k]) for k in ("total", "budget")}
    return {"id": build_id, "name": name, "waits": False, **shown, **money,
            "drawing": Markup(shown["drawing"])}  # fmt: skip


def yard_context(whole: bool = False) -> dict[str, Any]:
    """All builds with their cards. Those that do not hold any more are made while the page has time for
    it, or all of them; the others come behind the page, one by one."""
    who, begun = viewer(), time.monotonic()
    own = catalogue(who.shop_id)
    rows = []
    for boat in cards.listed(who.shop_id, cards.meaning_of(own.key)):
        if boat.shown is None and (whole or time.monotonic() - begun < AT_ONCE_S):
            rows.append(_worked_out(who.shop_id, boat, own, who.units))
        else:
            rows.append(_row(boat.id, boat.name, boat.shown))
    return {"who": who, "units": who.units, "rows": rows, "waiting": sum(r["waits"] for r in rows)}


@router.get("/", name="yard", response_class=HTMLResponse, include_in_schema=False)
def yard(request: Request, whole: bool = False) -> Response:
    return render(request, "yard.html", yard_context(whole))


@router.get("/b/{build_id}/card", name="boat_card", response_class=HTMLResponse, include_in_schema=False)
def boat_card(request: Request, build_id: int) -> Response:
    """One boat of the yard, for a page that had no time to make its card."""
    who = viewer()
    stored = builds.load(who.shop_id, build_id)
    boat = cards.Listed(build_id, stored.number, stored.plan.name, None)
    row = _worked_out(who.shop_id, boat, catalogue(who.shop_id), who.units)
    return render(request, "partials/boat.html", {"row": row, "units": who.units})


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
