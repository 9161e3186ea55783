"""Cuts: what do I cut from what?"""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup

from stirrup.core.cutting.notes import member_notes
from stirrup.core.cutting.sticks import left_over_m
from stirrup.core.units import write_length
from stirrup.web.drawing.cuts import sheet_svg, stick_svg
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import CaseName, build_context, open_build
from stirrup.web.render import render
from stirrup.web.screen import CURRENT

router = APIRouter(route_class=GateRoute)


@router.get("/b/{build_id}/cuts", name="cuts", response_class=HTMLResponse, include_in_schema=False)
def cuts(request: Request, build_id: int, case: CaseName) -> Response:
    opened = open_build(build_id)
    derived, units = opened.derived, opened.units
    catalogue = derived.catalogue
    wide = CURRENT.get().sheets
    labels = {m.key: m.label for b in derived.built for m in b.members}
    sheets = [
        {
            "layout": layout,
            "item": catalogue.sheet(layout.job.stock),
            "drawings": [
                Markup(sheet_svg(layout, catalogue.sheet(layout.job.stock), k, units, wide))
                for k in range(len(layout.sheets))
            ],
            "labels": {b.id: b.label for b in layout.job.blanks},
        }
        for layout in derived.sheets
    ]
    sticks = [
        {
            "layout": layout,
            "item": catalogue.section(layout.job.stock),
            "drawing": Markup(stick_svg(layout, labels, wide)),
            "left": [left_over_m(layout, bar) for bar in layout.bars],
        }
        for layout in derived.sticks
    ]
    panels = [p for b in derived.built for p in b.panels]
    members = [
        (m, member_notes(m, lambda x: write_length(x, units))) for b in derived.built for m in b.members
    ]
    context = {
        **build_context(opened, request, "cuts", case),
        "sheet_groups": sheets,
        "stick_groups": sticks,
        "panels": panels,
        "members": members,
    }
    return render(request, "cuts.html", context)
