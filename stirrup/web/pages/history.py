"""History: revisions in words, named, looked at beside the plan as it is, and gone back to."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup

from stirrup.core.derive import Derived
from stirrup.core.findings import count
from stirrup.core.plan.differences import changes_between, way_to
from stirrup.core.plan.model import LoadCase, Plan
from stirrup.core.plan.words import describe
from stirrup.core.record import dataclass
from stirrup.core.units import Units
from stirrup.core.work.hours import effort
from stirrup.store import builds
from stirrup.web.drawing.boat import plan_view, profile_view
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import (
    CaseName,
    OpenBuild,
    build_context,
    chosen_case,
    open_build,
    viewer,
    worked_out,
)
from stirrup.web.render import render
from stirrup.web.screen import CURRENT

router = APIRouter(route_class=GateRoute)

SHOWN = 200
DIFFERENCES = 60  # lines; beyond that their number


@dataclass(frozen=True)
class Side:
    """One of two plans side by side, in the same load case where both have it."""

    title: str
    derived: Derived
    case: LoadCase
    views: dict[str, Markup]


def _side(title: str, derived: Derived, case: str, units: Units) -> Side:
    chosen = chosen_case(derived, case)
    views = {
        "profile": Markup(profile_view(derived, chosen, units, wide=CURRENT.get().pair)),
        "plan": Markup(plan_view(derived, chosen, units, wide=CURRENT.get().pair)),
    }
    return Side(title, derived, chosen, views)


def _rows(left: Side, right: Side) -> list[dict[str, Any]]:
    """Figures of both in SI with their units; None where she does not float."""
    reports = [s.derived.case(s.case.name).report for s in (left, right)]

    def of(name: str) -> list[float | None]:
        return [None if r is None else float(getattr(r, name)) for r in reports]

    added = [s.derived.added_kg for s in (left, right)]
    mended = [float(count(s.derived.findings).open) for s in (left, right)]
    return [
        {"title": "Added", "unit": "kg", "values": added},
        {"title": "Trim, bow up +", "unit": "deg", "values": of("trim_deg")},
        {"title": "List, port down +", "unit": "deg", "values": of("list_deg")},
        {"title": "Least freeboard", "unit": "m", "values": of("freeboard_least_m")},
        {"title": "To stop at or mend", "unit": "count", "values": mended},
        {"title": "Hands-on work", "unit": "h",
         "values": [effort(s.derived.built).hours for s in (left, right)]},
    ]  # fmt: skip


def differences(before: Plan, after: Plan, units: Units) -> list[str]:
    """Every difference in words, told as changes of `before`."""
    return [describe(before, change, units) for change in changes_between(before, after)]


def _other(opened: OpenBuild, number: int, build: int) -> tuple[str, Plan] | None:
    """What stands beside the plan as it is: a revision of it, or another boat of the yard."""
    if build and build != opened.stored.id:
        stored = builds.load(opened.who.shop_id, build)
        return stored.plan.name, stored.plan
    if number:
        plan = builds.plan_at(opened.who.shop_id, opened.stored.id, number)
        return f"revision {number}", plan
    return None


@router.get("/b/{build_id}/history", name="history", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def history_page(
    request: Request, build_id: int, case: CaseName, number: int = 0, build: int = 0
) -> Response:
    # costs that are compared are counted, not estimated
    opened = open_build(build_id, settled=bool(number or build))
    units, shop = opened.units, opened.who.shop_id
    context = build_context(opened, request, "history", case)
    beside: dict[str, Any] = {"left": None}
    other = _other(opened, number, build)
    if other is not None:
        title, plan = other
        name = context["case"].name
        left = _side(title, worked_out(plan, opened.who, settled=True), name, units)
        right = _side("as it is now", opened.derived, name, units)
        told = differences(opened.plan, plan, units)
        beside = {
            "left": left, "right": right, "rows": _rows(left, right),
            "costs": [left.derived.cost.total, right.derived.cost.total],
            "told": told[:DIFFERENCES], "more": max(0, len(told) - DIFFERENCES),
        }  # fmt: skip
    return render(request, "history.html", {
        **context,
        "steps": builds.history(shop, build_id, SHOWN),
        "others": [(s.id, s.plan.name) for s in builds.all_builds(shop) if s.id != build_id],
        "number": number,
        "other_build": build,
        **beside,
    })  # fmt: skip


@router.post("/b/{build_id}/history/name", name="name_revision", include_in_schema=False)
def name_revision(
    request: Request,
    build_id: int,
    number: Annotated[int, Form()],
    name: Annotated[str, Form(max_length=80)] = "",
) -> Response:
    """Name a revision, so that it is found again."""
    builds.name_revision(viewer().shop_id, build_id, number, name)
    back = request.url_for("history", build_id=build_id).path
    return RedirectResponse(f"{back}#revision-{number}", 303)


@router.post("/b/{build_id}/history/adopt", name="adopt", include_in_schema=False)
def adopt(
    request: Request,
    build_id: int,
    base: Annotated[int, Form()],
    number: Annotated[int, Form()] = 0,
    build: Annotated[int, Form()] = 0,
) -> Response:
    """Make the plan what a revision was, or what another boat is; one step that can be undone."""
    opened = open_build(build_id)
    back = request.url_for("history", build_id=build_id).path
    other = _other(opened, number, build)
    if other is None:
        return RedirectResponse(back, 303)
    title, plan = other
    if build:  # another boat lends everything but her name
        plan = plan.model_copy(update={"name": opened.plan.name})
    words = f"back to {title}" if number else f"as {title} is"
    change = way_to(opened.plan, plan, words)
    if change is not None:
        builds.commit(opened.who.shop_id, build_id, base, change, lambda *_: words, None)
    return RedirectResponse(back, 303)
