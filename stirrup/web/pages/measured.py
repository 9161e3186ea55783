"""Measured on the boat: weigh-in, float check, inclining; held against the ledger, and booked."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup
from pydantic import ValidationError

from stirrup.core.afloat.learn import Lesson, booked
from stirrup.core.afloat.situation import Situation
from stirrup.core.document import Document, MassPoint
from stirrup.core.errors import CoreError, NoEquilibriumError
from stirrup.core.plan.changes import AddThing, SetValue, Together
from stirrup.core.plan.entry import FieldKind
from stirrup.core.plan.explain import first_error
from stirrup.core.plan.measured import FloatCheck, Inclining, WeighIn
from stirrup.core.plan.model import PLANNED_EMPTY
from stirrup.core.studies import lesson_of, situation_of
from stirrup.core.units import Units, read_length_m, read_mass_kg
from stirrup.store import builds
from stirrup.web.drawing.held import held_view
from stirrup.web.forms import fields_of, make_field
from stirrup.web.gate import GateRoute, told_in_shop_units
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.present import change_json
from stirrup.web.render import render
from stirrup.web.screen import CURRENT

router = APIRouter(route_class=GateRoute)

MEASURED_SHOWN = 20
SCALES = 4  # rows offered in the form

# (name, label, what it reads, needed), for each kind of measurement
FORMS: dict[str, tuple[tuple[str, str, str, bool], ...]] = {
    "weigh_in": (
        *(
            row
            for k in range(1, SCALES + 1)
            for row in (
                (f"force{k}", f"Scale {k} shows", "mass", k <= 2),
                (f"x{k}", "from transom", "length", k <= 2),
                (f"y{k}", "to port", "length", False),
            )
        ),
        ("spread", "1 sigma of a scale", "mass", False),
    ),
    "float_check": (
        ("bow", "Freeboard at the bow, middle", "length", True),
        ("port", "At the transom, port corner", "length", True),
        ("starboard", "At the transom, starboard corner", "length", True),
        ("spread", "1 sigma of a reading", "length", False),
    ),
    "inclining": (
        ("mass", "Mass moved", "mass", True),
        ("distance", "Moved sideways by", "length", True),
        ("heel_deg", "Heel changed by, degrees", "number", True),
        ("spread_deg", "1 sigma, degrees", "number", False),
    ),
}
TITLES = {"weigh_in": "Weigh-in", "float_check": "Float check", "inclining": "Inclining"}
MODELS: dict[str, type[Document]] = {"weigh_in": WeighIn, "float_check": FloatCheck, "inclining": Inclining}


def _read(text: str, what: str, units: Units) -> float:
    if what == "mass":
        return read_mass_kg(text, units)
    if what == "length":
        return read_length_m(text, units)
    try:
        return float(text.replace("°", ""))
    except ValueError:
        raise CoreError(f"read “{text}”; accepted: a number such as 3 or 2.5") from None


def read_form(kind: str, typed: dict[str, str], units: Units) -> tuple[dict[str, Any], dict[str, str]]:
    """Values of a measurement's form in SI, and problems by field."""
    values: dict[str, Any] = {}
    problems: dict[str, str] = {}
    for name, _, what, needed in FORMS[kind]:
        text = typed.get(name, "").strip()
        if not text:
            if needed:
                problems[name] = "needed"
            continue
        try:
            values[name] = _read(text, what, units)
        except CoreError as error:
            problems[name] = error.message
    if kind == "weigh_in":
        scales = []
        for k in range(1, SCALES + 1):
            force = values.pop(f"force{k}", None)
            x, y = values.pop(f"x{k}", None), values.pop(f"y{k}", 0.0)
            if force is not None and x is None and f"x{k}" not in problems:
                problems[f"x{k}"] = "a scale needs its distance from the transom"
            scales.append({"force": force, "x": x, "y": y})
        values["scales"] = [s for s in scales if s["force"] is not None and s["x"] is not None]
    return values, problems


def _booking(lesson: Lesson, here: Situation, hull: MassPoint) -> dict[str, Any]:
    """The change that books a lesson on the bare hull, or why it cannot be."""
    try:
        after = booked(lesson, here, hull)
    except CoreError as error:
        return {"no_book": error.message}
    words = f"bare hull: corrected by {lesson.kind.replace('_', '-')} “{lesson.id}”"
    change = SetValue(path=("hull", "mass"), value=after.model_dump(mode="json"))
    return {"after": after, "book": change_json(Together(changes=(change,), words=words))}


def _lessons(opened: OpenBuild) -> list[dict[str, Any]]:
    """Every measurement with what it says, latest first; what cannot be said gives its reason."""
    rows: list[dict[str, Any]] = []
    derived, plan = opened.derived, opened.plan
    for check in reversed(plan.measured[-MEASURED_SHOWN:]):
        row: dict[str, Any] = {"check": check, "fields": _check_fields(check, opened)}
        try:
            lesson = lesson_of(derived, check)
            row["lesson"] = lesson
            row["picture"] = Markup(held_view(lesson.figures, opened.units, CURRENT.get().held))
            row |= _booking(lesson, situation_of(derived, check.case), plan.hull.mass)
        except (CoreError, NoEquilibriumError) as error:
            row["problem"] = error.message if isinstance(error, CoreError) else str(error)
        except KeyError:
            row["problem"] = f"there is no load case “{check.case}” any more"
        rows.append(row)
    return rows


def _check_fields(check: Any, opened: OpenBuild) -> list[Any]:
    path, units = f"measured/{check.id}", opened.units
    cases = FieldKind("choice", "", False, tuple(c.name for c in opened.derived.load_cases))
    fields = [make_field(f"{path}/case", check.case, cases, units, "What was aboard")]
    fields += fields_of(check, path, units, {"id", "kind", "case", "scales"})
    for k, scale in enumerate(getattr(check, "scales", ())):
        fields += fields_of(scale, f"{path}/scales/{k}", units, set())
    return fields


def _context(request: Request, opened: OpenBuild, case: str | None, **more: Any) -> dict[str, Any]:
    forms = [
        {
            "kind": kind,
            "title": TITLES[kind],
            "rows": [{"name": n, "label": label, "needed": needed} for n, label, _, needed in rows],
        }
        for kind, rows in FORMS.items()
    ]
    return {
        **build_context(opened, request, "float", case),
        "sub": "measured",
        "lessons": _lessons(opened),
        "titles": TITLES,
        "default_case": PLANNED_EMPTY,
        "forms": forms,
        "typed": {},
        "problems": {},
        "open_kind": "",
        **more,
    }


@router.get("/b/{build_id}/float/measured", name="measured", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def measured_page(request: Request, build_id: int, case: CaseName) -> Response:
    opened = open_build(build_id)
    return render(request, "measured.html", _context(request, opened, case))


@router.post("/b/{build_id}/float/measured/add", name="add_measured", include_in_schema=False)
async def add_measured_form(request: Request, build_id: int) -> Response:
    """Take a measurement in; a wrong field is explained beside it and nothing typed is lost."""
    form = await request.form()
    typed = {key: str(value) for key, value in form.items()}
    return await run_in_threadpool(told_in_shop_units(add_measured), request, build_id, typed)


def add_measured(request: Request, build_id: int, typed: dict[str, str]) -> Response:
    """Add the measurement that a form holds."""
    opened = open_build(build_id)
    kind = typed.get("kind", "")
    if kind not in FORMS:
        raise CoreError(f"read “{kind}”; accepted: {', '.join(FORMS)}", "kind")
    values, problems = read_form(kind, typed, opened.units)
    number = 1
    taken = {m.id for m in opened.plan.measured}
    while f"{kind.replace('_', '-')}-{number}" in taken:
        number += 1
    value = {**values, "id": f"{kind.replace('_', '-')}-{number}", "kind": kind,
             "case": typed.get("case") or PLANNED_EMPTY, "note": typed.get("note", "")[:200]}  # fmt: skip
    if not problems:
        try:
            MODELS[kind].model_validate(value)
        except ValidationError as error:
            told = first_error(error, value)
            problems[told.place.split(".")[0] or "note"] = told.message
    if problems:
        context = _context(request, opened, None, typed=typed, problems=problems, open_kind=kind)
        response = render(request, "measured.html", context)
        response.status_code = 422
        return response
    change = AddThing(path=("measured",), value=value)
    words = f"{TITLES[kind].lower()} taken in"
    builds.commit(opened.who.shop_id, build_id, opened.stored.number, change, lambda *_: words, None)
    return RedirectResponse(request.url_for("measured", build_id=build_id).path, 303)
