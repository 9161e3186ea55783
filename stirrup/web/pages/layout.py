"""Layout: where does it go and does it fit?"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup

from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.fittings.registry import KINDS
from stirrup.core.plan.entry import FieldKind
from stirrup.core.plan.model import LoadCase, Plan
from stirrup.core.units import Units
from stirrup.web.drawing import boat
from stirrup.web.forms import fields_of, make_field, mass_fields
from stirrup.web.pages.cases import case_context
from stirrup.web.pages.frame import (
    CaseName,
    DbRoute,
    Opened,
    build_context,
    chosen_case,
    open_build,
    render,
)
from stirrup.web.present import mass

router = APIRouter(route_class=DbRoute)


def drawings(
    derived: Derived, case: LoadCase, units: Units, chosen: str, section_x: float
) -> dict[str, Markup]:
    """The three views of the workspace."""
    return {
        "profile": Markup(boat.profile_view(derived, case, units, chosen, section_x)),
        "plan": Markup(boat.plan_view(derived, case, units, chosen, section_x)),
        "section": Markup(boat.section_view(derived, case, units, section_x)),
    }


def findings_for(derived: Derived, chosen: str, plan: Plan) -> list[Finding]:
    """Findings of the chosen thing; of everything, fine ones left out, when nothing is."""
    if chosen:
        own = [f for f in derived.findings if f.place == chosen]
        hosted = {f.id for f in plan.fittings if getattr(f, "deck", None) == chosen}
        return own + [f for f in derived.findings if f.place in hosted and f.level != "fine"]
    return [f for f in derived.findings if f.level != "fine"]


def section_at(derived: Derived, at: float | None, chosen: str) -> float:
    """Where the section is cut: as asked, else through the chosen fitting, else amidships."""
    low, high = float(derived.surface.outside.low[0]), float(derived.surface.outside.high[0])
    if at is not None and low <= at <= high:
        return at
    built = derived.fitting(chosen) if chosen else None
    if built is not None and not built.region.is_empty:
        x0, _, x1, _ = built.region.bounds
        return float(x0 + (x1 - x0) * 0.35)
    return low + (high - low) * 0.45


def fitting_facts(derived: Derived, plan: Plan, chosen: str, units: Units) -> str:
    """Kind, number of parts, mass and mark of a fitting, in one line; empty for other things."""
    fitting, built = plan.fitting(chosen), derived.fitting(chosen)
    if fitting is None or built is None:
        return ""
    title = KINDS[fitting.kind].title.lower()  # type: ignore[attr-defined]
    return f"{title} · {len(built.parts)} parts · {mass(built.mass_kg, units)} · {fitting.code}"


def _chosen_context(opened: Opened, chosen: str) -> dict[str, Any]:
    """Form of the chosen fitting, item or case."""
    plan, units = opened.plan, opened.units
    fitting = plan.fitting(chosen)
    if fitting is not None:
        kind = KINDS[fitting.kind]  # type: ignore[attr-defined]
        facts = fitting_facts(opened.derived, plan, chosen, units)
        decks = [(f.id, f"{f.code} {f.name}") for f in plan.fittings if f.kind == "raised_deck"]
        fields = [
            replace(f, kind="choice", options=tuple(decks)) if f.path.endswith("/deck") else f
            for f in fields_of(fitting, f"fittings/{chosen}", units)
        ]
        name = make_field(f"fittings/{chosen}/name", fitting.name, FieldKind("text", "Name"), units)
        return {"chosen_kind": "fitting", "chosen_thing": fitting, "chosen_title": kind.title,
                "fields": [*fields, name], "facts": facts,
                "path": f"fittings/{chosen}"}  # fmt: skip
    item = next((i for i in plan.items if i.id == chosen), None)
    if item is not None:
        stage = FieldKind("choice", "", False, ("found", "added", "removed"))
        path = f"items/{chosen}"
        fields = [
            make_field(f"{path}/name", item.name, FieldKind("text", "Name"), units),
            make_field(f"{path}/stage", item.stage, stage, units, "Stage"),
            *mass_fields(item.mass, f"{path}/mass", units),
        ]
        return {"chosen_kind": "item", "chosen_thing": item, "chosen_title": "Loose item",
                "fields": fields, "path": path}  # fmt: skip
    return {"chosen_kind": "", "chosen_thing": None}


def layout_context(
    opened: Opened, request: Request, case: str | None, sel: str, at: float | None
) -> dict[str, Any]:
    """Everything the layout page shows."""
    context = build_context(opened, request, "layout", case)
    chosen_details = _chosen_context(opened, sel)
    if chosen_details["chosen_thing"] is None:
        sel = ""
    x = section_at(opened.derived, at, sel)
    shown: LoadCase = context["case"]
    return {
        **context,
        **chosen_details,
        "sel": sel,
        "section_x": x,
        "views": drawings(opened.derived, shown, opened.units, sel, x),
        "shown_findings": findings_for(opened.derived, sel, opened.plan),
        **case_context(opened, shown),
        "decks": [f for f in opened.plan.fittings if f.kind == "raised_deck"],
    }


@router.get("/b/{build_id}/layout", name="layout", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def layout(
    request: Request, build_id: int, case: CaseName, sel: str = "", at: float | None = None
) -> Response:
    opened = open_build(build_id)
    return render(request, "layout.html", layout_context(opened, request, case, sel, at))


def preview_parts(
    derived: Derived, plan: Plan, case: str | None, units: Units, chosen: str, at: float | None
) -> dict[str, Any]:
    """Drawings, findings and the chosen thing's sums for an uncommitted plan."""
    shown = chosen_case(derived, case)
    x = section_at(derived, at, chosen)
    return {
        "views": drawings(derived, shown, units, chosen, x),
        "findings": findings_for(derived, chosen, plan),
        "facts": fitting_facts(derived, plan, chosen, units),
    }
