"""Measure a boat: shape family and a handful of tape readings, drawn while they are typed."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse, JSONResponse, RedirectResponse, Response
from pydantic import ValidationError

from stirrup.core.afloat.figures import depths
from stirrup.core.derive import derive
from stirrup.core.errors import CoreError
from stirrup.core.hull.model import QuickStart
from stirrup.core.hull.quick import unread
from stirrup.core.plan.entry import in_units, kind_of_field, limits_text, read_text
from stirrup.core.plan.explain import first_error
from stirrup.core.plan.model import Plan
from stirrup.core.plan.start import new_plan
from stirrup.core.units import Units, read_mass_kg, write_mass
from stirrup.exchange.catalogue import starting
from stirrup.store import builds
from stirrup.web.forms import Field, make_field
from stirrup.web.gate import GateRoute, told_in_shop_units
from stirrup.web.pages.frame import viewer
from stirrup.web.pages.survey import line_drawings
from stirrup.web.present import in_shop_units
from stirrup.web.render import fragment, render
from stirrup.web.screen import CURRENT

router = APIRouter(route_class=GateRoute)

NAME = "New boat"


def _fields(quick: QuickStart, units: Units, typed: dict[str, str]) -> list[Field]:
    """Fields of the form; what was typed is kept as it stands."""
    out = []
    for name, info in QuickStart.model_fields.items():
        field = make_field(name, getattr(quick, name), kind_of_field(name, info), units)
        if name in typed:
            field = Field(**{**field.__dict__, "value": typed[name]})
        out.append(field)
    return out


def read_quick(typed: dict[str, str], units: Units) -> tuple[QuickStart | None, dict[str, str]]:
    """The quick start that was typed, or None with the problems by field."""
    values: dict[str, Any] = {}
    problems: dict[str, str] = {}
    for name, info in QuickStart.model_fields.items():
        kind = kind_of_field(name, info)
        if name not in typed:
            continue
        try:
            value = read_text(typed[name].replace("°", ""), kind, units)
        except CoreError as error:
            problems[name] = error.message
            continue
        limited = kind.least is not None and kind.most is not None
        if limited and isinstance(value, int | float) and not kind.least <= value <= kind.most:  # type: ignore[operator]
            shown = in_units(value, kind.kind, units)
            problems[name] = f"read as {shown}; accepted: {limits_text(kind, units)}"
        values[name] = value
    if problems:
        return None, problems
    try:
        return QuickStart.model_validate(values), {}
    except ValidationError as error:
        told = first_error(error, values)
        text = told.message
        field, _, rest = text.partition(": ")
        rest = in_shop_units(rest, units)
        return None, {field: rest} if field in values else {"shape": in_shop_units(text, units)}


def _read_mass(typed: dict[str, str], units: Units, problems: dict[str, str]) -> float | None:
    text = typed.get("hull_mass", "").strip()
    if not text:
        return None
    try:
        mass = read_mass_kg(text, units)
        if not 1 <= mass <= 20_000:
            raise CoreError(f"read “{text}”; accepted: 1 to 20 000 kg")
        return mass
    except CoreError as error:
        problems["hull_mass"] = error.message
        return None


def typed_plan(typed: dict[str, str], units: Units) -> tuple[Plan | None, dict[str, str]]:
    """A plan from the form, or None with the problems by field."""
    quick, problems = read_quick(typed, units)
    mass = _read_mass(typed, units, problems)
    if quick is None or problems:
        return None, problems
    material = "fiberglass" if typed.get("material") == "fiberglass" else "aluminium"
    name = typed.get("name", "").strip()[:80] or NAME
    try:
        return new_plan(name, quick, material, mass), {}  # type: ignore[arg-type]
    except (CoreError, ValueError) as error:
        return None, {"shape": error.message if isinstance(error, CoreError) else str(error)}


def _shown(plan: Plan, units: Units) -> dict[str, Any]:
    """Drawings and first figures of a plan that is not stored."""
    derived = derive(plan, starting(), quick=True)
    state = derived.case("planned, empty").state
    draft = depths(state, derived.surface).deepest_m if state else None
    helm = derived.case("one at the helm").report
    return {
        "views": line_drawings(derived, units, "", CURRENT.get().measure, tape=True),
        "facts": fragment("partials/start_facts.html", {
            "draft": draft, "helm": helm, "hull": plan.hull, "units": units,
            "volume": derived.surface.outside.volume_m3,
        }),
    }  # fmt: skip


def _context(typed: dict[str, str], problems: dict[str, str]) -> dict[str, Any]:
    who = viewer()
    plan, found = typed_plan(typed, who.units)
    quick = plan.hull.quick if plan and plan.hull.quick else QuickStart()
    shown = _shown(plan or new_plan(NAME, QuickStart()), who.units)
    return {
        "who": who,
        "units": who.units,
        "fields": _fields(quick, who.units, typed),
        "typed": typed,
        "problems": problems or (found if typed else {}),
        "unread": unread(typed.get("shape") or quick.shape),
        "example_mass": write_mass(180, who.units),
        **shown,
    }


@router.get("/measure", name="measure", response_class=HTMLResponse, include_in_schema=False)
def measure(request: Request) -> Response:
    return render(request, "measure.html", _context({}, {}))


async def _form(request: Request) -> dict[str, str]:
    return {key: str(value)[:200] for key, value in (await request.form()).items()}


@router.post("/api/measure", name="api_measure", include_in_schema=False)
async def measure_preview(request: Request) -> Response:
    """Drawings for what stands in the form now; problems by field instead when there are any."""
    typed = await _form(request)

    def answer() -> Response:
        units = viewer().units
        plan, problems = typed_plan(typed, units)
        if plan is None:
            return JSONResponse({"problems": problems})
        quiet = sorted(unread(plan.hull.quick.shape)) if plan.hull.quick else []
        return JSONResponse({"problems": {}, "unread": quiet, **_shown(plan, units)})

    return await run_in_threadpool(told_in_shop_units(answer))


@router.post("/measure", name="start_build", include_in_schema=False)
async def start_build(request: Request) -> Response:
    """Start a build with what was typed; a wrong field is explained and nothing is lost."""
    typed = await _form(request)

    def answer() -> Response:
        who = viewer()
        plan, problems = typed_plan(typed, who.units)
        if plan is None:
            response = render(request, "measure.html", _context(typed, problems))
            response.status_code = 422
            return response
        named = builds.rename_to_new(who.shop_id, plan)
        stored = builds.create(who.shop_id, named, "quick start")
        return RedirectResponse(request.url_for("survey", build_id=stored.id).path, 303)

    return await run_in_threadpool(told_in_shop_units(answer))
