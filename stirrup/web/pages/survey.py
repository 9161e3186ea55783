"""Survey: what have we got? Lines in three views, readings, offset tables in and out."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Form, Request, UploadFile
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup

from stirrup.core.derive import Derived
from stirrup.core.plan.changes import SetValue, plain
from stirrup.core.plan.entry import FieldKind
from stirrup.core.units import Units
from stirrup.exchange.offsets import read_offsets
from stirrup.store import builds
from stirrup.web.drawing.boat import body_plan
from stirrup.web.drawing.lines import lines_plan, lines_profile
from stirrup.web.forms import fields_of, make_field, mass_fields
from stirrup.web.pages.frame import CaseName, DbRoute, build_context, open_build, render
from stirrup.web.present import step

router = APIRouter(route_class=DbRoute)

MOST_CSV = 1_000_000


def line_drawings(derived: Derived, units: Units, chosen: str) -> dict[str, Markup]:
    """Profile, half-breadths and body plan."""
    return {
        "profile": Markup(lines_profile(derived, units, chosen)),
        "plan": Markup(lines_plan(derived, units, chosen)),
        "body": Markup(body_plan(derived)),
    }


def chosen_line(derived: Derived, name: str) -> str:
    """Name of a line of the hull; the sheer when there is no such line."""
    names = [line.name for line in derived.plan.hull.lines]
    return name if name in names else names[-1]


@router.get("/b/{build_id}/survey", name="survey", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def survey(request: Request, build_id: int, case: CaseName, line: str = "") -> Response:
    opened = open_build(build_id)
    name = chosen_line(opened.derived, line)
    length = FieldKind("length", "")
    hull = opened.plan.hull
    rows = []
    for k, point in enumerate(next(x for x in hull.lines if x.name == name).points):
        path = f"hull/lines/{step(name)}/points/{k}"
        titles = ("from transom", "half-width", "height")
        rows.append([
            make_field(f"{path}/{i}", point[i], length, opened.units,
                       f"{name}, station {k + 1}, {titles[i]}")
            for i in range(3)
        ])  # fmt: skip
    notes = {f.place: f for f in opened.derived.findings if f.code in ("READING-OFF", "SIDES-DIFFER")}
    outside = opened.derived.surface.outside
    context = {
        **build_context(opened, request, "survey", case),
        "line": name,
        "rows": rows,
        "notes": notes,
        "views": line_drawings(opened.derived, opened.units, name),
        "boat_fields": [
            make_field("name", opened.plan.name, FieldKind("text", "Name"), opened.units),
            *fields_of(hull.skin, "hull/skin", opened.units),
            *fields_of(opened.plan.water, "water", opened.units),
        ],
        "mass_fields": mass_fields(hull.mass, "hull/mass", opened.units),
        "length_over_all": float(outside.high[0] - outside.low[0]),
        "beam": float(outside.high[1] - outside.low[1]),
        "depth": float(outside.high[2] - outside.low[2]),
    }
    return render(request, "survey.html", context)


def _import_context(opened: Any, request: Request, case: str | None, text: str) -> dict[str, Any]:
    result = read_offsets(text, opened.units)
    return {
        **build_context(opened, request, "survey", case),
        "text": text,
        "result": result,
        "hull": opened.plan.hull,
    }


@router.post("/b/{build_id}/survey/check", name="offsets_check", response_class=HTMLResponse,
             include_in_schema=False)  # fmt: skip
def check(
    request: Request,
    build_id: int,
    case: CaseName,
    table: UploadFile | None = None,
    text: Annotated[str, Form()] = "",
) -> Response:
    """Preview of an offset table: every problem by cell; nothing is stored."""
    opened = open_build(build_id)
    if table is not None and table.filename:
        text = table.file.read(MOST_CSV + 1).decode("utf-8-sig", errors="replace")
    return render(request, "import.html", _import_context(opened, request, case, text))


@router.post("/b/{build_id}/survey/take", name="offsets_take", include_in_schema=False)
def take(
    request: Request,
    build_id: int,
    case: CaseName,
    text: Annotated[str, Form()],
    base: Annotated[int, Form()],
) -> Response:
    """Take a clean table over as the hull's lines, as one change."""
    opened = open_build(build_id)
    result = read_offsets(text, opened.units)
    if result.problems or not result.lines:
        return render(request, "import.html", _import_context(opened, request, case, text))
    lines = [line.model_dump(mode="json") for line in result.lines]
    other = result.starboard
    right = [line.model_dump(mode="json") for line in other] if other else None
    words = f"hull: {result.readings} readings from an offset table"
    # both sides in one value, so that the plan is never half old and half new
    hull = {**plain(opened.plan)["hull"], "lines": lines, "starboard": right}
    change = SetValue(path=("hull",), value=hull)
    try:
        builds.commit(opened.who.shop_id, build_id, base, change, lambda *_: words, None)
    except builds.StaleEditError as error:
        context = _import_context(opened, request, case, text)
        context["stale"] = error.theirs
        return render(request, "import.html", context)
    return RedirectResponse(request.url_for("survey", build_id=build_id).path, 303)
