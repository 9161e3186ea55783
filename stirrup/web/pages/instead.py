"""Same again in another material, other ways of making it, bought or made: fetched into a thing's sheet
when its box is opened."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response

from stirrup.core.bought_or_made import bought_or_made
from stirrup.core.derive import MEMO, Derived
from stirrup.core.instead import Made, instead
from stirrup.core.memo import alone
from stirrup.core.other_ways import Question, other_ways
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.units import Units
from stirrup.store.shop import catalogue
from stirrup.web.forms import entry_title
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import open_build
from stirrup.web.present import change_json, mass, round_money
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)

Find = Callable[[Derived, str, Catalogue], list[Made]]
LEAST_KG, LEAST_H, LEAST_DEG = 0.05, 0.5, 0.05  # a smaller difference is none


def _row(made: Made, now: Made, units: Units, currency: str) -> dict[str, Any]:
    """What is different from what there is, in words."""
    kg, cost = made.kg - now.kg, made.cost - now.cost
    hours, mend = made.hours - now.hours, made.to_mend - now.to_mend
    told = []
    if abs(kg) >= LEAST_KG:
        told.append(f"{mass(abs(kg), units)} {'heavier' if kg > 0 else 'lighter'}")
    if abs(cost) >= 1:
        told.append(f"about {round_money(abs(cost), currency)} {'more' if cost > 0 else 'less'}")
    if abs(hours) >= LEAST_H:
        told.append(f"{abs(hours):.0f} h {'more' if hours > 0 else 'less'} work")
    if made.trim_deg is not None and now.trim_deg is not None:
        by = made.trim_deg - now.trim_deg
        if abs(by) >= LEAST_DEG:
            told.append(f"trim {abs(by):.1f}° further {'aft' if by > 0 else 'forward'}")
    if mend:
        told.append(f"{abs(mend)} {'more' if mend > 0 else 'fewer'} to mend")
    return {
        "title": entry_title(made.sheet) if made.sheet is not None else made.title,
        "kg": mass(made.kg, units),
        "told": ", ".join(told) or "no other figure changes",
        "change": change_json(made.change) if made.change is not None else "",
        "worse": made.to_mend > now.to_mend,
    }


def _answer(request: Request, build_id: int, thing: str, find: Find, sheets: bool) -> Response:
    """The thing as it is, and what was tried in its place."""
    opened = open_build(build_id)
    own, currency = catalogue(opened.who.shop_id), opened.plan.wishes.currency
    key = (find.__name__, opened.plan.model_dump_json(), own.key, thing)
    with alone():
        rows = MEMO.get(key, lambda: find(opened.derived, thing, own))
    shown = [_row(made, rows[0], opened.units, currency) for made in rows]
    context = {"now": shown[:1], "rows": shown[1:], "sheets": sheets}
    return render(request, "partials/instead.html", context)


@router.get("/b/{build_id}/layout/instead/{fitting}", name="instead", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def instead_page(request: Request, build_id: int, fitting: str) -> Response:
    """The thing in other sheets that are about as stiff."""
    return _answer(request, build_id, fitting, instead, True)


@router.get("/b/{build_id}/layout/bought-or-made/{thing}", name="bought_or_made",
            response_class=HTMLResponse, include_in_schema=False)  # fmt: skip
def bought_or_made_page(request: Request, build_id: int, thing: str) -> Response:
    """The thing beside other kinds that do the same job, bought or made."""
    return _answer(request, build_id, thing, bought_or_made, False)


def _way_rows(question: Question, units: Units, currency: str) -> dict[str, Any]:
    """One choice: the way it is made now, and each other one with what comes of it."""
    now = question.now.made
    assert now is not None, "a thing as it is, is"
    rows = [
        {"way": t.way, "cannot": True, "worse": True}
        if t.made is None
        else {"way": t.way, **_row(t.made, now, units, currency)}
        for t in question.others
    ]
    return {"title": question.title, "now": question.now.way, "rows": rows}


@router.get("/b/{build_id}/layout/ways/{fitting}", name="other_ways", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def ways_page(request: Request, build_id: int, fitting: str) -> Response:
    """The thing in each way that its kind is made in."""
    opened = open_build(build_id)
    own, currency = catalogue(opened.who.shop_id), opened.plan.wishes.currency
    key = ("other ways", opened.plan.model_dump_json(), own.key, fitting)
    with alone():
        found = MEMO.get(key, lambda: other_ways(opened.derived, fitting, own))
    named = {e.id: entry_title(e) for e in own.entries.values()}
    context = {"questions": [_way_rows(q, opened.units, currency) for q in found], "named": named}
    return render(request, "partials/ways.html", context)
