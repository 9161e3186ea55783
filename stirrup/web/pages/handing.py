"""What is over for one boat, and which of the others is missing it."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from stirrup.core.errors import CoreError
from stirrup.core.memo import of_build
from stirrup.core.money.cost import Cost
from stirrup.core.money.handing import Spare, handed_on, spare_for
from stirrup.store import builds
from stirrup.store.session import writing
from stirrup.store.shop import catalogue
from stirrup.web import links
from stirrup.web.gate import GateRoute
from stirrup.web.pages.api import ChangeAsked, commit_change
from stirrup.web.pages.frame import OpenBuild, open_build, viewer, worked_out
from stirrup.web.pages.shopping import today
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)
MOST_BOATS = 12  # that are asked whether they could use something, or have it over


def _others(opened: OpenBuild) -> Iterator[tuple[builds.Stored, Cost]]:
    """The boats that were worked on last, with what they cost, but those that cannot be worked out."""
    shop = opened.who.shop_id
    own = catalogue(shop)
    for other in builds.recent(shop, MOST_BOATS):
        if other == opened.stored.id:
            continue
        with suppress(CoreError, builds.NotThereError), of_build(str(other)):
            stored = builds.load(shop, other)
            yield stored, worked_out(stored.plan, opened.who, own).cost


def _rows(
    source: builds.Stored, target: builds.Stored, found: tuple[Spare, ...], opened: OpenBuild
) -> list[dict[str, Any]]:
    known = opened.derived.catalogue.entries
    return [
        {"source": source, "target": target, "spare": s, "unit": known[i].unit if i in known else "piece"}
        for s in found if (i := s.purchase.item or "")
    ]  # fmt: skip


@router.get("/b/{build_id}/money/use", name="who_could_use", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def who_could_use(request: Request, build_id: int) -> Response:
    """Which of the other boats is missing what is over here; asked for by opening a box."""
    opened, rows = open_build(build_id), list[dict[str, Any]]()
    cost = opened.derived.cost
    for other, needs in _others(opened) if cost.surplus else ():
        found = spare_for(opened.plan.buying, cost, needs)
        rows += _rows(opened.stored, other, found, opened)
    return render(request, "partials/who_could_use.html", {"rows": rows, "to_here": False})


@router.get("/b/{build_id}/money/over", name="who_has_it", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def who_has_it(request: Request, build_id: int) -> Response:
    """Which of the other boats has over what is missing here; asked for by opening a box."""
    opened, rows = open_build(build_id), list[dict[str, Any]]()
    for other, cost in _others(opened):
        found = spare_for(other.plan.buying, cost, opened.derived.cost) if cost.surplus else ()
        rows += _rows(other, opened.stored, found, opened)
    return render(request, "partials/who_could_use.html", {"rows": rows, "to_here": True})


@router.post("/b/{build_id}/money/hand-over", name="hand_over", include_in_schema=False)
def hand_over(
    build_id: int, base: Annotated[int, Form()], id: Annotated[str, Form(max_length=60)],
    much: Annotated[float, Form(gt=0, le=100_000)], to: Annotated[int, Form()],
    back: Annotated[Literal["bought", "shopping"], Form()] = "bought",
) -> Response:  # fmt: skip
    """Packs of a purchase, or some of what is owned, to another boat: a change of both, or of none."""
    if to == build_id:
        raise CoreError("this is the boat that has it; choose another", "to")
    who = viewer()
    with writing():
        builds.hold(who.shop_id, (build_id, to))
        source, target = builds.load(who.shop_id, build_id), builds.load(who.shop_id, to)
        given, taken = handed_on(source.plan, target.plan, id, much, today())
        commit_change(who, build_id, ChangeAsked(base=base, change=given.model_dump(mode="json")))
        commit_change(who, to, ChangeAsked(base=target.number, change=taken.model_dump(mode="json")))
    return RedirectResponse(links.to(back, to if back == "shopping" else build_id), 303)
