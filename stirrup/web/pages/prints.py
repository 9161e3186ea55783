"""What is set as PDF: the file as soon as it is there, and until then a page that waits for it."""

from __future__ import annotations

import time
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup

from stirrup.store import printed
from stirrup.store.queue import to_print
from stirrup.web import links
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import Viewer, viewer
from stirrup.web.problems import Problem
from stirrup.web.render import fragment, render

router = APIRouter(route_class=GateRoute)
PATIENCE_S, LOOK_S = 2.0, 0.08  # so long a request waits itself; between two looks


def page_html(name: str, context: dict[str, Any]) -> str:
    """A page for paper, whole: its styles are in it."""
    return fragment(f"print/{name}.html", {**context, "style": style("book", name)})


def style(*names: str) -> Markup:
    """Styles of paper as an element of their own."""
    text = "".join(fragment(f"print/{name}.css", {}) for name in names)
    return Markup(f"<style>{text}</style>")


def as_pdf(request: Request, who: Viewer, name: str, html: str) -> Response:
    """A page as PDF: the file where it is there or comes soon, else the page that waits for it."""
    return _told(request, to_print(who.shop_id, name, html), who)


def _told(request: Request, print_id: int, who: Viewer) -> Response:
    until = time.monotonic() + PATIENCE_S
    sheet = printed.sheet(who.shop_id, print_id)
    while sheet.pdf is None and not sheet.failed and time.monotonic() < until:
        time.sleep(LOOK_S)
        sheet = printed.sheet(who.shop_id, print_id)
    if sheet.failed:
        told = f"{sheet.failed}. Asked for again it is tried anew."
        raise Problem(500, "This page could not be set", told)
    if sheet.pdf is None:
        again = links.to("printed", print_id)
        context = {"name": sheet.name, "again": again}
        return render(request, "printing.html", context, 202)
    headers = {"Content-Disposition": f'inline; filename="{sheet.name}"', "Cache-Control": "no-store"}
    return Response(sheet.pdf, media_type="application/pdf", headers=headers)


@router.get("/printed/{print_id}", name="printed", response_class=HTMLResponse, include_in_schema=False)
def printed_page(request: Request, print_id: int) -> Response:
    """The file, or the page that waits for it: it comes back here by itself."""
    return _told(request, print_id, viewer())
