"""Float: how will she sit? The picture, the load cases, what moved it, the least moves."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Query, Request
from fastapi.responses import HTMLResponse, Response, StreamingResponse
from markupsafe import Markup

from stirrup.core.afloat.moments import is_momentary
from stirrup.core.afloat.slide import Balanced, balance_by_sliding
from stirrup.core.afloat.standard import is_ashore
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError, NoEquilibriumError
from stirrup.core.findings import LEVELS, Level
from stirrup.core.plan.changes import AnyChange, SetValue, Together
from stirrup.core.plan.model import AS_FOUND, RESERVED, STANDARD_CREW_KG, LoadCase, Plan
from stirrup.core.studies import (
    contributions_of,
    figures_of,
    grid_of,
    map_rows,
    remedies_of,
    righting_of,
    situation_of,
    sliders,
    swamped_of,
)
from stirrup.core.units import Units, read_mass_kg, write_mass
from stirrup.web.drawing import afloat
from stirrup.web.gate import GateRoute
from stirrup.web.pages.cases import case_context
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, chosen_case, open_build
from stirrup.web.present import change_json, in_shop_units
from stirrup.web.problems import Problem
from stirrup.web.render import render
from stirrup.web.screen import CURRENT

router = APIRouter(route_class=GateRoute)

STANDING_RISE_M = 0.98  # body centre of somebody 1.75 m tall: 0.56 of stature
HEAVIEST_KG = 400.0
MOVED_SHOWN = 6
MAP, ARM = 510 / 876, 366 / 876  # of the column, see float.css
MAP_KINDS = ("freeboard", "list")


def float_views(derived: Derived, case: LoadCase, units: Units) -> dict[str, Markup]:
    """Side and stern at the true attitude, over the ghost of "as found"."""
    ghost = derived.case(AS_FOUND).state if case.name != AS_FOUND else None
    wide = CURRENT.get().share(640 / 876)
    return {
        "side": Markup(afloat.side_view(derived, case, ghost, units, wide)),
        "stern": Markup(afloat.stern_view(derived, case, ghost, units)),
    }


def _level(derived: Derived, case: str) -> Level:
    """The worst that any finding says about a case."""
    found = [f.level for f in derived.findings if f.place == case]
    return min(found, key=LEVELS.index, default="fine")


def _case_rows(derived: Derived) -> list[dict[str, Any]]:
    own = {c.name for c in derived.plan.cases}
    return [
        {
            "name": c.name,
            "report": c.report,
            "error": c.error,
            "ashore": is_ashore(c.name),
            "momentary": is_momentary(c.name),
            "level": _level(derived, c.name),
            "made": c.name not in own and c.name not in RESERVED,
        }
        for c in derived.cases
    ]


def moves_change(plan: Plan, answer: Balanced, words: str) -> AnyChange | None:
    """The solver's moves as one step; None when nothing has to move."""
    changes: list[AnyChange] = []
    for move in answer.moves:
        item = next(i for i in plan.items if i.id == move.id)
        x, y, z = item.mass.centre
        centre = [round(x + move.dx, 4), round(y + move.dy, 4), z]
        changes.append(SetValue(path=("items", item.id, "mass", "centre"), value=list(centre)))
        if item.slide is not None:
            s = item.slide
            left = {"fore": s.fore - move.dx, "aft": s.aft + move.dx, "port": s.port - move.dy,
                    "starboard": s.starboard + move.dy}  # fmt: skip
            value = {k: max(0.0, round(v, 4)) for k, v in left.items()}
            changes.append(SetValue(path=("items", item.id, "slide"), value=dict(value)))
    return Together(changes=tuple(changes), words=words) if changes else None


class Target:
    """What the balance solver is asked for; nothing until somebody asks."""

    def __init__(self, trim: str = "", list_: Annotated[str, Query(alias="list")] = "") -> None:
        self.asked = bool(trim.strip() or list_.strip())
        self.trim_text, self.list_text = trim.strip() or "0", list_.strip() or "0"

    def degrees(self) -> tuple[float, float]:
        """Trim and list [deg]. Raises CoreError."""
        out = []
        for name, text in (("trim", self.trim_text), ("list", self.list_text)):
            try:
                out.append(float(text.replace("°", "")))
            except ValueError:
                raise CoreError(f"read “{text}”; accepted: degrees such as 0.5 or -1", name) from None
        return out[0], out[1]


def _solved(derived: Derived, case: str, target: Target) -> dict[str, Any]:
    """The least moves, or why there are none."""
    if not target.asked:
        return {}
    try:
        trim, heel = target.degrees()
        answer = balance_by_sliding(situation_of(derived, case), sliders(derived, case), trim, heel)
    except (CoreError, NoEquilibriumError) as error:
        return {"solve_error": error.message if isinstance(error, CoreError) else str(error)}
    count = len(answer.moves)
    words = f"balanced for “{case}”: {count} {'thing' if count == 1 else 'things'} moved"
    change = moves_change(derived.plan, answer, words)
    return {"solved": answer, "solve_change": change_json(change) if change else ""}


def _remedy_rows(derived: Derived, case: str) -> list[dict[str, Any]]:
    rows = []
    for remedy in remedies_of(derived, case):
        item = next((i for i in derived.plan.items if i.id == remedy.id), None)
        if item is None:
            continue
        axis = 0 if remedy.axis == "x" else 1
        value = round(item.mass.centre[axis] + remedy.by_m, 4)
        change = SetValue(path=("items", item.id, "mass", "centre", str(axis)), value=value)
        rows.append({"remedy": remedy, "change": change_json(change)})
    return rows


def float_context(opened: OpenBuild, request: Request, case: str | None, target: Target) -> dict[str, Any]:
    """Everything the Float page shows but the crew map, which comes behind."""
    context = build_context(opened, request, "float", case)
    derived, shown = opened.derived, context["case"]
    more: dict[str, Any] = {}
    if context["report"] is not None:
        sides = righting_of(derived, shown.name)
        curve = sides.worse
        found = derived.case(AS_FOUND)
        other = righting_of(derived, AS_FOUND).worse if found.report and shown.name != AS_FOUND else None
        moved = contributions_of(derived, shown.name)[:MOVED_SHOWN]
        more = {
            "curve": curve,
            "better": None if sides.alike else sides.port if curve.side == "starboard" else sides.starboard,
            "found_curve": other,
            "righting": Markup(afloat.righting_view(curve, other, opened.units, CURRENT.get().share(ARM))),
            "moved": moved,
            "most_moved": max([0.01, *(max(abs(m.trim_deg), abs(m.list_deg)) for m in moved)]),
            "remedies": _remedy_rows(derived, shown.name),
            "figures": figures_of(derived, shown.name, opened.units.small_m),
            **_solved(derived, shown.name, target),
        }
    wet = swamped_of(derived)
    where = afloat.map_canvas(derived, shown, opened.units, CURRENT.get().share(MAP))
    return {
        **context,
        **more,
        "sub": "afloat",
        "views": {**float_views(derived, shown, opened.units), "where": Markup(where)},
        "found_report": derived.case(AS_FOUND).report,
        "case_rows": _case_rows(derived),
        "swamped": wet,
        "target": target,
        "sliding": sliders(derived, shown.name),
        **case_context(opened, shown),
    }  # fmt: skip


@router.get("/b/{build_id}/float", name="float", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def float_page(
    request: Request, build_id: int, case: CaseName, target: Annotated[Target, Depends()]
) -> Response:
    opened = open_build(build_id)
    if is_ashore(chosen_case(opened.derived, case).name):
        shown = build_context(opened, request, "float", case)
        rows = {
            "sub": "afloat",
            "case_rows": _case_rows(opened.derived),
            "swamped": swamped_of(opened.derived),
        }
        return render(request, "float_ashore.html", {**shown, **rows})
    return render(request, "float.html", float_context(opened, request, case, target))


def _map_lines(
    derived: Derived, case: LoadCase, mass: float, kind: str, units: Units, wide: float
) -> Iterator[str]:
    """One JSON line for each row of squares, then one with the amounts and the words."""
    grid = grid_of(derived)
    outside = derived.surface.outside
    beam = float(max(outside.high[1], -outside.low[1]))
    scale = (afloat.PLAN_W - 12) / float(outside.high[0] - outside.low[0])
    place = (6 - float(outside.low[0]) * scale, (beam + 0.02) * scale + 2, scale)
    found = None
    for row, found in enumerate(map_rows(derived, case.name, mass, STANDING_RISE_M)):
        yield json.dumps({"cells": afloat.map_row(place, grid, found, row, kind)}) + "\n"
    if found is not None:
        labels = afloat.map_labels(place, grid, found, kind, units, case.crew, wide)
        yield json.dumps({"labels": labels, "words": afloat.map_words(grid, found, kind, units)}) + "\n"


@router.get("/api/builds/{build_id}/crew-map", name="crew_map", include_in_schema=False)
def crew_map(
    build_id: int,
    case: CaseName,
    kind: str = "freeboard",
    mass: str = "",
) -> Response:
    """The crew map, row by row as it is computed."""
    if kind not in MAP_KINDS:
        raise CoreError(f"read “{kind}”; accepted: {', '.join(MAP_KINDS)}", "kind")
    opened = open_build(build_id)
    weight = read_mass_kg(mass, opened.units) if mass.strip() else STANDARD_CREW_KG
    if not 1 <= weight <= HEAVIEST_KG:
        shown_limit = write_mass(HEAVIEST_KG, opened.units)
        raise CoreError(f"read “{mass}”; accepted: a person of up to {shown_limit}", "mass")
    shown = chosen_case(opened.derived, case)
    try:
        situation_of(opened.derived, shown.name)
    except NoEquilibriumError as error:
        told = in_shop_units(str(error), opened.units)
        raise Problem(422, "She does not float in this case", told) from None
    lines = _map_lines(opened.derived, shown, weight, kind, opened.units, CURRENT.get().share(MAP))
    return StreamingResponse(lines, media_type="application/x-ndjson")
