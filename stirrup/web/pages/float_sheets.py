"""Float's other sheets: the ledger, pods or nothing, capacity and swamped, what was measured."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response

from stirrup.core.afloat.ledger import Entry, centre_spread_m, growth_kg, sum_load
from stirrup.core.afloat.moments import is_momentary
from stirrup.core.afloat.moved import Contribution
from stirrup.core.afloat.screening import SEAT_M, SIDE_OF_HALF_BEAM, remainders
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import SetValue, Together
from stirrup.core.plan.entry import WEIGHED, FieldKind
from stirrup.core.plan.model import AS_FOUND, Label, Plan
from stirrup.core.plan.volumes import new_collars, new_pods
from stirrup.core.record import dataclass
from stirrup.core.studies import (
    compare_of,
    contributions_of,
    screening_of,
    situation_of,
    swamped_of,
)
from stirrup.core.units import Units, read_length_m
from stirrup.web.forms import Field, fields_of, make_field, mass_fields
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.pages.one_thing import volume_fields
from stirrup.web.present import change_json
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)

MOST_SETBACK_M = 1.5


@dataclass(frozen=True)
class Line:
    """One thing of the ledger: its sums, its parts, what it does to trim and list."""

    id: str
    name: str
    group: str
    role: str
    status: str
    mass_kg: float
    spread_kg: float
    centre: tuple[float, float, float]
    added: bool
    parts: tuple[Entry, ...]
    trim_deg: float | None
    list_deg: float | None


SORTS: dict[str, Callable[[Line], Any]] = {
    "order": lambda line: 0,
    "mass": lambda line: -abs(line.mass_kg),
    "spread": lambda line: -line.spread_kg,
    "trim": lambda line: -abs(line.trim_deg or 0.0),
    "list": lambda line: -abs(line.list_deg or 0.0),
    "name": lambda line: line.name.lower(),
}


def _line(key: str, rows: list[Entry], name: str, found: set[str], moved: Contribution | None) -> Line:
    mass = sum(r.mass_kg for r in rows)
    centre = tuple(
        sum(r.mass_kg * r.centre[k] for r in rows) / mass if mass else rows[0].centre[k] for k in range(3)
    )
    statuses = {r.status for r in rows}
    return Line(
        key,
        name,
        rows[0].group,
        rows[0].role,
        statuses.pop() if len(statuses) == 1 else "mixed",
        mass,
        float(sum_load(rows).covariance[0, 0]) ** 0.5,
        (centre[0], centre[1], centre[2]),
        rows[0].id not in found,
        tuple(rows) if len(rows) > 1 else (),
        moved.trim_deg if moved else None,
        moved.list_deg if moved else None,
    )


def ledger_lines(derived: Derived, case: str) -> list[Line]:
    """The case's ledger by thing: parts of one fitting together, tank contents at the end."""
    here = situation_of(derived, case)
    names = {f.id: f"{f.code} {f.name}" for f in derived.plan.fittings}
    found = {e.id for e in derived.found}
    moved = {c.id: c for c in contributions_of(derived, case)}
    groups: dict[str, list[Entry]] = {}
    for entry in here.entries:
        groups.setdefault(entry.source if entry.role == "built" else entry.id, []).append(entry)
    lines = []
    for key, rows in groups.items():
        lines.append(_line(key, rows, names.get(key, rows[0].name), found, moved.get(key)))
    for liquid in here.liquids:
        at = liquid.settle(here.state.n)[0]
        name, centre = f"{liquid.name}, {liquid.fill * 100:.0f} % full", (at[0], at[1], at[2])
        row = Entry(
            liquid.id, name, "tank content", liquid.mass_kg, 0.0, "computed", centre, role="content"
        )
        lines.append(_line(liquid.id, [row], row.name, found, moved.get(liquid.id)))
    return lines


def _editor(plan: Plan, units: Units, edit: str) -> dict[str, Any]:
    """Form of the line that is edited: bare hull or an item."""
    if edit == "hull":
        path, mass, title = "hull/mass", plan.hull.mass, "bare hull"
        item = None
    else:
        item = next((i for i in plan.items if i.id == edit), None)
        if item is None:
            return {"edited": None}
        path, mass, title = f"items/{edit}/mass", item.mass, item.title
    more = []
    if item is not None:
        stage = FieldKind("choice", "", False, ("found", "added", "removed"))
        more = [
            make_field(f"items/{edit}/name", item.name, FieldKind("text", "Name"), units),
            make_field(f"items/{edit}/group", item.group, FieldKind("text", "Group"), units),
            make_field(f"items/{edit}/stage", item.stage, stage, units, "Stage"),
            make_field(f"items/{edit}/density", item.density,
                       FieldKind("density", "", True, note="not known"), units, "Density"),
        ]  # fmt: skip
    length = FieldKind("length", "", least=0.0, most=20.0)
    ways = (("fore", "Forward"), ("aft", "Aft"), ("port", "To port"), ("starboard", "To starboard"))
    slides = [
        make_field(f"items/{edit}/slide/{key}", getattr(item.slide, key, 0.0), length, units, title)
        for key, title in ways
        if item is not None and item.stage != "removed"
    ]
    return {
        "edited": edit,
        "edited_title": title,
        "edited_mass": mass,
        "edit_fields": [*more, *mass_fields(mass, path, units)],
        "slide_fields": slides,
        "weigh_field": make_field(f"{path}/{WEIGHED}", None, FieldKind("mass", ""), units,
                                  "The scale shows"),
    }  # fmt: skip


def _row_fields(plan: Plan, units: Units) -> dict[str, tuple[Field, Field]]:
    """Fields for mass and status of every line that can be edited where it stands."""
    masses = {"hull": (plan.hull.mass, "hull/mass", "bare hull")}
    for item in plan.items:
        if item.stage != "removed":
            masses[item.id] = (item.mass, f"items/{item.id}/mass", item.title)
    out = {}
    for key, (mass, path, title) in masses.items():
        value, status, *_ = mass_fields(mass, path, units)
        out[key] = (replace(value, title=f"{title}: mass"), replace(status, title=f"{title}: how known"))
    return out


@router.get("/b/{build_id}/float/ledger", name="ledger", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def ledger_page(
    request: Request,
    build_id: int,
    case: CaseName,
    sort: str = "order",
    group: str = "",
    edit: str = "",
    sel: str = "",
) -> Response:
    opened = open_build(build_id)
    edit = edit or sel  # what was just added
    context = build_context(opened, request, "float", case)
    derived, name = opened.derived, context["case"].name
    if context["report"] is None:
        derived_case = AS_FOUND if derived.case(AS_FOUND).report else ""
        return _without(request, opened, context, "ledger", derived_case)
    lines = ledger_lines(derived, name)
    groups = list(dict.fromkeys(line.group for line in lines))
    shown = [line for line in lines if not group or line.group == group]
    shown.sort(key=SORTS.get(sort, SORTS["order"]))
    here = situation_of(derived, name)
    centre = here.state.moment / here.load.mass_kg
    found = {e.id for e in derived.found}
    rows: Iterable[Entry] = [e for e in here.entries if e.role != "crew"]
    return render(request, "ledger.html", {
        **context,
        "sub": "ledger",
        "lines": shown,
        "groups": groups,
        "group": group,
        "sort": sort if sort in SORTS else "order",
        "total_kg": here.load.mass_kg,
        "total_spread": float(here.load.covariance[0, 0]) ** 0.5,
        "total_centre": [float(c) for c in centre],
        "total_centre_spread": [float(c) for c in centre_spread_m(sum_load(here.entries))],
        "growth": growth_kg(rows, found),
        "row_fields": _row_fields(opened.plan, opened.units),
        "shown_kg": sum(line.mass_kg for line in shown),
        **_editor(opened.plan, opened.units, edit),
    })  # fmt: skip


def _without(
    request: Request, opened: OpenBuild, context: dict[str, Any], sub: str, other: str
) -> Response:
    """A sheet for a case that does not float: says so, and where to look instead."""
    return render(request, "float_not.html", {**context, "sub": sub, "other": other})


def _setback(text: str, units: Units) -> tuple[float, str]:
    """How far aft the motor is tried [m], and what is wrong with what was typed."""
    if not text.strip():
        return 0.0, ""
    try:
        by = read_length_m(text, units)
        if not 0 <= by <= MOST_SETBACK_M:
            raise CoreError(f"read “{text}”; accepted: 0 to {MOST_SETBACK_M * 1000:.0f} mm")
    except CoreError as error:
        return 0.0, error.message
    return by, ""


@router.get("/b/{build_id}/float/compare", name="compare", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def compare_page(
    request: Request, build_id: int, case: CaseName, setback: str = "", now: bool = False
) -> Response:
    """The choices; their table comes behind the page, or with it when it is asked for now."""
    opened = open_build(build_id)
    plan, surface = opened.plan, opened.derived.surface
    by, problem = _setback(setback, opened.units)
    return render(request, "compare.html", {
        **build_context(opened, request, "float", case),
        "sub": "compare",
        "choices": compare_of(opened.derived, by) if now else None,
        "setback": setback,
        "setback_problem": problem,
        "pods_change": change_json(new_pods(plan, surface)),
        "collars_change": change_json(new_collars(plan, surface)),
        "volumes": [
            {"volume": v, "fields": volume_fields(v, opened.units)} for v in plan.buoyancy
        ],
        "stage_changes": _stage_changes(plan),
    })  # fmt: skip


@router.get("/b/{build_id}/float/compare/table", name="compare_table", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def compare_table(request: Request, build_id: int, setback: str = "") -> Response:
    """The table of the choices, fetched behind the page."""
    opened = open_build(build_id)
    choices = compare_of(opened.derived, _setback(setback, opened.units)[0])
    return render(
        request,
        "partials/versus.html",
        {"choices": choices, "units": opened.units, "plan": opened.plan},
    )


def _stage_changes(plan: Plan) -> dict[str, str]:
    """For each option that is only considered: the change that adds it to the plan, and back."""
    out = {}
    for option in dict.fromkeys(v.option or v.title for v in plan.buoyancy):
        mine = [v for v in plan.buoyancy if (v.option or v.title) == option]
        if not all(v.stage in ("considered", "added") for v in mine):
            continue
        stage = "added" if any(v.stage == "considered" for v in mine) else "considered"
        words = f"{option}: {'taken into the plan' if stage == 'added' else 'only considered'}"
        changes = tuple(SetValue(path=("buoyancy", v.id, "stage"), value=stage) for v in mine)
        out[option] = change_json(Together(changes=changes, words=words))
    return out


@router.get("/b/{build_id}/float/capacity", name="capacity", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def capacity_page(request: Request, build_id: int, case: CaseName) -> Response:
    opened = open_build(build_id)
    context = build_context(opened, request, "float", case)
    derived, plan = opened.derived, opened.plan
    loads = [
        (c.name, sum(p.mass for p in c.crew), sum(e.mass.value for e in c.extra if e.id != "label-gear"))
        for c in derived.load_cases
        if c.crew and not is_momentary(c.name)
    ]
    label = plan.label or Label()
    return render(request, "capacity.html", {
        **context,
        "sub": "capacity",
        "swamped": swamped_of(derived),
        "screening": screening_of(derived),
        "seat_m": SEAT_M,
        "side_at": SIDE_OF_HALF_BEAM,
        "remainders": remainders(plan, derived.added_kg, loads),
        "label_fields": fields_of(label, "label", opened.units),
        "rig_fields": fields_of(plan.propulsion, "propulsion", opened.units, set()),
        "material": plan.hull.material,
    })  # fmt: skip
