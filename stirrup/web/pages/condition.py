"""Survey, second sheet: condition of the boat, what was taken out, label, wishes, gear."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup

from stirrup.core.contract.schools import Schools
from stirrup.core.errors import CoreError
from stirrup.core.plan.condition import REMEDY, WRONG
from stirrup.core.plan.entry import FieldKind
from stirrup.core.plan.model import Item, Label, Plan
from stirrup.core.plan.survey import taken_out
from stirrup.core.plan.things import motors
from stirrup.core.units import Units, read_mass_kg
from stirrup.store import builds
from stirrup.web.drawing.lines import condition_plan
from stirrup.web.forms import HIDDEN, Field, fields_of, make_field, mass_fields
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.render import render
from stirrup.web.screen import CURRENT
from stirrup.web.security import said

router = APIRouter(route_class=GateRoute)


def _place_rows(plan: Plan, units: Units) -> list[dict[str, Any]]:
    length = FieldKind("length", "")
    rows = []
    for place in plan.condition:
        path = f"condition/{place.id}"
        at = [
            make_field(f"{path}/at/{k}", place.at[k], length, units, title)
            for k, title in enumerate(("From transom", "To port", "Above keel line"))
        ]
        item = next((i for i in plan.items if i.id == place.removed), None)
        rest = fields_of(place, path, units, {"id", "at", "photo", "removed", "kind"})
        kinds = FieldKind("choice", "", False, WRONG)
        kind = make_field(f"{path}/kind", place.kind, kinds, units, "What is wrong")
        rows.append(
            {"place": place, "remedy": REMEDY[place.kind], "fields": [kind, *at, *rest], "item": item}
        )
    return rows


def _gear_rows(plan: Plan, units: Units) -> list[tuple[str, list[Field]]]:
    return [
        (f"wishes/gear/{g.id}", [
            make_field(f"wishes/gear/{g.id}/name", g.name, FieldKind("text", "Name"), units),
            *fields_of(g, f"wishes/gear/{g.id}", units, HIDDEN | {"home"}),
        ])
        for g in plan.wishes.gear
    ]  # fmt: skip


def _motor_fields(item: Item, units: Units) -> list[Field]:
    path = f"items/{item.id}"
    name = make_field(f"{path}/name", item.name, FieldKind("text", "Name"), units)
    return [name, *mass_fields(item.mass, f"{path}/mass", units)]


def _context(
    opened: OpenBuild, request: Request, case: str | None, problem: str, typed: dict[str, str]
) -> dict[str, Any]:
    plan, units = opened.plan, opened.units
    return {
        **build_context(opened, request, "survey", case),
        "sub": "condition",
        "places": _place_rows(plan, units),
        "picture": Markup(condition_plan(opened.derived, units, CURRENT.get().column)),
        "label_fields": fields_of(plan.label or Label(), "label", units),
        "wish_fields": fields_of(plan.wishes, "wishes", units, {"gear"}),
        "school_fields": fields_of(plan.schools, "schools", units),
        "school_notes": [(f.title, f.description) for f in Schools.model_fields.values()],
        "gear": _gear_rows(plan, units),
        "motors": [(i, _motor_fields(i, units)) for i in motors(plan) if i.stage == "found"],
        "removed": [i for i in plan.items if i.stage == "removed"],
        "problem": problem,
        "typed": typed,
    }


@router.get("/b/{build_id}/survey/condition", name="condition", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def condition_page(request: Request, build_id: int, case: CaseName) -> Response:
    opened = open_build(build_id)
    problem = said(request, f"condition {build_id}")
    return render(request, "condition.html", _context(opened, request, case, problem, {}))


@router.post("/b/{build_id}/survey/taken-out", name="taken_out", include_in_schema=False)
def take_out(
    request: Request,
    build_id: int,
    place: Annotated[str, Form(max_length=60)],
    mass: Annotated[str, Form(max_length=60)] = "",
    name: Annotated[str, Form(max_length=80)] = "",
) -> Response:
    """What came out at a place of the survey, with what it weighed, as one change."""
    opened = open_build(build_id)
    back = request.url_for("condition", build_id=build_id).path
    try:
        change = taken_out(opened.plan, place, read_mass_kg(mass, opened.units), name)
    except CoreError as error:
        typed = {"place": place, "mass": mass, "name": name}
        context = _context(opened, request, None, error.message, typed)
        response = render(request, "condition.html", context)
        response.status_code = 422
        return response

    def words(*_: object) -> str:
        return getattr(change, "words", "") or "taken out"

    builds.commit(opened.who.shop_id, build_id, opened.stored.number, change, words, None)
    return RedirectResponse(back, 303)
