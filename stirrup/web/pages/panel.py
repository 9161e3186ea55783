"""One panel: everything that is needed to draw it on its sheet and cut it."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup

from stirrup.core.cutting.bevels import bevels
from stirrup.core.cutting.marking_out import marked_out
from stirrup.core.cutting.notes import panel_notes
from stirrup.core.derive import Derived
from stirrup.core.parts.model import Panel
from stirrup.core.plan.things import title_of
from stirrup.core.units import write_length
from stirrup.exchange.dxf import panel_dxf
from stirrup.store.builds import NotThereError
from stirrup.web.drawing.panel import panel_view
from stirrup.web.gate import GateRoute
from stirrup.web.pages.files import download, file_name
from stirrup.web.pages.frame import CaseName, build_context, open_build
from stirrup.web.render import render
from stirrup.web.screen import CURRENT

router = APIRouter(route_class=GateRoute)
PartKey = Annotated[str, Query(max_length=200)]  # of a panel, as the cut list has it


def _panel(derived: Derived, key: str) -> tuple[Panel, list[Panel]]:
    """A panel by its key, and all of its fitting. Raises NotThereError."""
    for built in derived.built:
        found = next((p for p in built.panels if p.key == key), None)
        if found is not None:
            return found, list(built.panels)
    raise NotThereError("there is no such panel in this boat; the plan may have changed: see Cuts")


@router.get("/b/{build_id}/cuts/panel", name="panel_page", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def panel_page(request: Request, build_id: int, part: PartKey, case: CaseName) -> Response:
    """A panel with its dimensions, to be drawn on its sheet with tape and square."""
    opened = open_build(build_id)
    panel, others = _panel(opened.derived, part)
    out = marked_out(panel, inches=opened.units.length != "mm")
    context = {
        **build_context(opened, request, "cuts", case),
        "panel": panel,
        "out": out,
        "bevels": bevels(panel, out, opened.derived.surface.inside),
        "others": others,
        "letters": "ABCDEFGHJKLMNPQRSTUVWXYZ",
        "of": title_of(opened.plan, panel.fitting),
        "is_cut": any(c.id == part for c in opened.plan.cut),
        "notes": panel_notes(panel, lambda x: write_length(x, opened.units)),
        "drawing": Markup(panel_view(panel, out, opened.units, CURRENT.get().column)),
    }
    return render(request, "panel.html", context)


@router.get("/b/{build_id}/panel.dxf", name="panel_file", include_in_schema=False)
def panel_file(build_id: int, part: PartKey) -> Response:
    """A panel as DXF in millimetres, in its own axes."""
    opened = open_build(build_id)
    panel, _ = _panel(opened.derived, part)
    return download(
        panel_dxf(panel), "image/vnd.dxf", file_name(f"{opened.plan.name}-{panel.label}", ".dxf")
    )
