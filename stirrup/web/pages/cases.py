"""The form of a load case: name, fills, crew, what is brought along."""

from __future__ import annotations

from typing import Any

from stirrup.core.plan import suggest
from stirrup.core.plan.entry import FieldKind
from stirrup.core.plan.model import RESERVED, LoadCase, Plan
from stirrup.core.plan.stowing import brought
from stirrup.core.units import Units
from stirrup.web.forms import Field, make_field, mass_fields
from stirrup.web.pages.frame import OpenBuild
from stirrup.web.present import change_json, step


def _crew_fields(case: LoadCase, units: Units) -> list[list[Field]]:
    length = FieldKind("length", "")
    mass = FieldKind("mass", "")
    posture = FieldKind("choice", "", False, ("standing", "seated", "kneeling", "lying"))
    rows = []
    for k, person in enumerate(case.crew):
        path = f"cases/{step(case.name)}/crew/{k}"
        places = ("From transom", "To port", "Feet or seat at")
        at = [
            make_field(f"{path}/at/{i}", person.at[i], length, units, title)
            for i, title in enumerate(places)
            if i < 2 or not person.settle
        ]
        rows.append([
            make_field(f"{path}/mass", person.mass, mass, units, "Mass"),
            make_field(f"{path}/stature", person.stature, length, units, "Stature"),
            make_field(f"{path}/posture", person.posture, posture, units, "Posture"),
            *at,
            make_field(f"{path}/settle", person.settle, FieldKind("flag", ""), units,
                       "On whatever is under them"),
        ])  # fmt: skip
    return rows


def _extra_fields(case: LoadCase, units: Units) -> list[tuple[str, list[Field]]]:
    """Fields of what a case brings along."""
    rows = []
    for thing in case.extra:
        path = f"cases/{step(case.name)}/extra/{thing.id}"
        name = make_field(f"{path}/name", thing.name, FieldKind("text", "Name"), units)
        rows.append((path, [name, *mass_fields(thing.mass, f"{path}/mass", units)]))
    return rows


def own_case_change(plan: Plan, case: LoadCase) -> str:
    """For a case that follows the plan: the change that makes it the plan's own; else empty."""
    if case.name in RESERVED or any(c.name == case.name for c in plan.cases):
        return ""
    return change_json(suggest.own_case(plan, case))


def _stands(opened: OpenBuild, shown: LoadCase) -> list[str]:
    """What each person stands or sits on, in words."""
    out = []
    for person in shown.crew:
        ground = opened.derived.footing.at(person.at[0], person.at[1]) if person.settle else None
        verb = {"standing": "stands", "seated": "sits", "kneeling": "kneels", "lying": "lies"}[
            person.posture
        ]
        out.append(f"{verb} on {ground.name}" if ground else "")
    return out


def case_context(opened: OpenBuild, shown: LoadCase) -> dict[str, Any]:
    """What the case editor needs."""
    plan, units = opened.plan, opened.units
    path = f"cases/{step(shown.name)}"
    return {
        "crew_fields": _crew_fields(shown, units),
        "stands": _stands(opened, shown),
        "case_name": make_field(f"{path}/name", shown.name, FieldKind("text", "Name of the case"), units),
        "fill_fields": [
            make_field(f"{path}/fills/{t.id}", shown.fills.get(t.id, 0.0), FieldKind("share", ""), units,
                       t.title)
            for t in plan.tanks
        ],
        "extra_fields": _extra_fields(brought(plan, shown), units),
        "editable_case": any(c.name == shown.name for c in plan.cases),
        "own_change": own_case_change(plan, shown),
    }  # fmt: skip
