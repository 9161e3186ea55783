"""Quotes and bills: what do I tell the customer, and what was agreed?"""

from __future__ import annotations

import re
from datetime import datetime, timedelta
from decimal import Decimal
from typing import Annotated, Literal

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from stirrup.core.errors import CoreError
from stirrup.core.quoting import Paper, bill_of, change_order, days_of, quoted
from stirrup.core.units import write_mass
from stirrup.exchange.amounts import written
from stirrup.store import builds
from stirrup.store import papers as store
from stirrup.store.papers import Given, accepted, quote_in_force
from stirrup.store.queue import want
from stirrup.web import links
from stirrup.web.forms import fields_of
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build, worked_out
from stirrup.web.pages.prints import as_pdf, page_html
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)
Token = Annotated[str, Form(min_length=8, max_length=80)]


def _days(more: int) -> tuple[str, str]:
    """Today, and so many days from now."""
    day = datetime.now().astimezone().date()
    return day.isoformat(), (day + timedelta(days=more)).isoformat()


def now_as_quote(opened: OpenBuild) -> Paper:
    """The plan as a quote of today. Raises CoreError while it cannot be told."""
    terms = opened.plan.buying.terms
    return quoted(opened.derived, terms, opened.stored.number, *_days(terms.days))


def _waiting(given: list[Given], force: Given | None) -> list[Given]:
    """Change orders to a quote that have no answer yet."""
    return [g for g in given if force is not None and g.of == force.id and g.state == "given"
            and g.paper.kind == "change order"]  # fmt: skip


def _changed(opened: OpenBuild, given: list[Given], force: Given, settled: bool = False) -> Paper | None:
    """What has changed since the last paper that was accepted: the plan then and now, on the terms of the
    quote and at today's prices. Raises CoreError while it cannot be told."""
    shop, build = opened.who.shop_id, opened.stored.id
    last = max(g.paper.revision for g in given if g.id == force.id or (
        g.of == force.id and g.paper.kind == "change order" and g.state == "accepted"))  # fmt: skip
    then = worked_out(builds.plan_at(shop, build, last), opened.who, settled=settled)
    if then.pending:
        want(shop, build, then.pending)
    terms, dates = force.paper.terms, _days(force.paper.terms.days)
    before = quoted(then, terms, last, *dates)
    now = quoted(opened.derived, terms, opened.stored.number, *dates)
    return change_order(now, [before], force.number)


@router.get("/b/{build_id}/money/quotes", name="quotes", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def quotes_page(request: Request, build_id: int, case: CaseName) -> Response:
    return _page(request, open_build(build_id), case)


def _page(
    request: Request, opened: OpenBuild, case: str | None = None, problem: CoreError | None = None
) -> Response:
    given = store.papers(opened.who.shop_id, opened.stored.id)
    now, order, why = None, None, ""
    try:
        now = now_as_quote(opened)
    except CoreError as error:
        why = error.message
    force = quote_in_force(given)
    if not why and force is not None:
        try:
            order = _changed(opened, given, force)
        except CoreError as error:
            why = error.message
    waiting = _waiting(given, force)
    terms = opened.plan.buying.terms
    context = {
        **build_context(opened, request, "money", case),
        "sub": "quotes", "given": given[::-1], "now": now, "why": why, "force": force, "order": order,
        "waiting": waiting, "problem": problem, "cost": opened.derived.cost,
        "fields": fields_of(terms, "buying/terms", opened.units),
        "billed": {(g.of, g.stage) for g in given if g.paper.kind == "bill"},
        "numbers": {g.id: g.number for g in given}, "today": _days(0)[0],
        "days": {g.id: days_of(g.paper.hours) for g in given},
        "agreed_total": sum((x.total for x in accepted(given, force)), Decimal(0)) if force else None,
        "order_days": days_of(order.hours) if order else 0.0,
        "gain": lambda kg: write_mass(kg, opened.units),
        "token": f"{opened.stored.number}-{len(given)}",
    }  # fmt: skip
    return render(request, "quotes.html", context, 422 if problem else 200)


def _back(build_id: int, to: str = "") -> Response:
    return RedirectResponse(links.to("quotes", build_id) + (f"#{to}" if to else ""), 303)


@router.post("/b/{build_id}/money/quotes", name="give_paper", include_in_schema=False)
def give_paper(
    request: Request, build_id: int, base: Annotated[int, Form()],
    kind: Annotated[Literal["quote", "change order"], Form()], token: Token,
) -> Response:  # fmt: skip
    """The plan as it is now is given as a quote, or what has changed as a change order.

    base: the revision that was looked at; another one is shown first.
    """
    opened = open_build(build_id, settled=True)
    try:
        if base != opened.stored.number:
            raise CoreError("the plan was changed meanwhile: look at the figures, then give it", "quote")
        now = now_as_quote(opened)
        made: Paper | None = now
        of = None
        if kind == "change order":
            given = store.papers(opened.who.shop_id, build_id)
            force = quote_in_force(given)
            if force is None:
                raise CoreError("no quote has been accepted that could be changed", "quote")
            if _waiting(given, force):
                # both accepted, what is in both would be charged twice
                raise CoreError("a change order has no answer yet: note that first", "quote")
            made, of = _changed(opened, given, force, settled=True), force.id
            if made is None:
                raise CoreError("nothing has changed since it was agreed", "quote")
        assert made is not None
        if not made.lines:
            raise CoreError("there is nothing in the plan to quote yet", "quote")
        kept = store.give(opened.who.shop_id, build_id, made, token, of)
    except CoreError as error:
        return _page(request, opened, problem=error)
    return _back(build_id, f"paper-{kept.id}")


@router.post("/b/{build_id}/money/quotes/{paper_id}/state", name="paper_state", include_in_schema=False)
def paper_state(
    request: Request, build_id: int, paper_id: int,
    state: Annotated[Literal["accepted", "declined"], Form()],
) -> Response:  # fmt: skip
    """The customer says yes or no."""
    opened = open_build(build_id)
    try:
        store.set_state(opened.who.shop_id, build_id, paper_id, state)
    except CoreError as error:
        return _page(request, opened, problem=error)
    return _back(build_id, f"paper-{paper_id}")


@router.post("/b/{build_id}/money/quotes/{paper_id}/bill", name="bill_stage", include_in_schema=False)
def bill_stage(
    request: Request, build_id: int, paper_id: int, stage: Annotated[int, Form(ge=0, le=20)]
) -> Response:
    """A stage of what was accepted is billed, once."""
    opened = open_build(build_id)
    shop = opened.who.shop_id
    source = store.paper(shop, build_id, paper_id)
    try:
        if source.state != "accepted":
            raise CoreError(f"{source.number} is not accepted yet", "stage")
        made = bill_of(source.paper, stage, source.number, _days(0)[0])
        kept = store.give(shop, build_id, made, f"bill-{paper_id}-{stage}", paper_id, stage)
    except CoreError as error:
        return _page(request, opened, problem=error)
    return _back(build_id, f"paper-{kept.id}")


@router.post("/b/{build_id}/money/quotes/{paper_id}/paid", name="bill_paid", include_in_schema=False)
def bill_paid(build_id: int, paper_id: int, paid: bool = Form(False)) -> Response:
    """A bill is paid, or was not after all."""
    opened = open_build(build_id)
    store.set_paid(opened.who.shop_id, build_id, paper_id, paid)
    return _back(build_id, f"paper-{paper_id}")


def paper_html(paper: Paper, number: str, shop: str, gain: str) -> str:
    """The paper as a page to be printed, amounts as it has them written. gain: what the boat gains in
    mass, in shop units; empty where that is not told."""
    context = {
        "x": paper, "title": f"{paper.kind.capitalize()} {number}", "shop": shop, "gain": gain,
        "money": lambda amount: written(amount, paper.currency, paper.amounts),
        "percent": lambda value: f"{value.normalize():f} %",
    }  # fmt: skip
    return page_html("paper", context)


@router.get("/b/{build_id}/money/quotes/{paper_id}.pdf", name="paper_pdf", include_in_schema=False)
def paper_as_pdf(request: Request, build_id: int, paper_id: int) -> Response:
    """A paper as PDF, as it was given."""
    opened = open_build(build_id)
    given = store.paper(opened.who.shop_id, build_id, paper_id)
    kg = given.paper.added_kg
    gain = f"{'+' if kg >= 0 else '-'} {write_mass(abs(kg), opened.units)}"
    name = re.sub(r"[^a-z0-9]+", "-", f"{given.paper.kind} {given.number}".casefold())
    page = paper_html(given.paper, given.number, opened.who.shop_name, gain)
    return as_pdf(request, opened.who, f"{name}.pdf", page)
