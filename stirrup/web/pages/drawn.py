"""What a thing is made of, drawn: fetched into its sheet when its box is opened."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup

from stirrup.core.contract.gives import Built
from stirrup.store.builds import NotThereError
from stirrup.web.drawing.detail import detail_view
from stirrup.web.drawing.exploded import FEWEST, exploded_view
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import OpenBuild, open_build
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)

APART_PX = 326.0  # as wide as the sheet


def is_drawn(built: Built) -> bool:
    """Whether there is anything to draw of its parts."""
    return bool(built.details) or len(built.panels) + len(built.members) >= FEWEST


def details_of(opened: OpenBuild, built: Built) -> list[tuple[str, Markup]]:
    """Where its parts meet, at true scale."""
    surface, every = opened.derived.surface, opened.derived.built
    return [(d.title, Markup(detail_view(d, surface, every, opened.units))) for d in built.details]


@router.get("/b/{build_id}/layout/drawn/{fitting}", name="drawn", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def drawn_page(request: Request, build_id: int, fitting: str) -> Response:
    """A fitting taken apart, and its edges at true scale."""
    opened = open_build(build_id)
    built = opened.derived.fitting(fitting)
    if built is None:
        raise NotThereError(f"there is no fitting “{fitting}” in this boat")
    apart = Markup(exploded_view(built, APART_PX))
    return render(request, "partials/drawn.html", {"apart": apart, "details": details_of(opened, built)})
