"""What stands in the margins of a page on paper: boat and page, revision and date, page n of m."""

from __future__ import annotations

from datetime import date

from fastapi import APIRouter
from fastapi.responses import Response

from stirrup.store import builds
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import viewer

router = APIRouter(route_class=GateRoute)

MARGINS = """@page {{
  @top-left {{ content: {left}; font: 600 9pt Atkinson, sans-serif; }}
  @top-right {{ content: {right}; font: 9pt Atkinson, sans-serif; }}
  @bottom-right {{ content: "page " counter(page) " of " counter(pages); font: 9pt Atkinson, sans-serif; }}
}}
"""


def quoted(text: str) -> str:
    """A CSS string of any text: what could end it is written as its code."""
    return '"' + "".join(c if c.isalnum() or c in " .,·:-_" else f"\\{ord(c):x} " for c in text) + '"'


@router.get("/b/{build_id}/print.css", include_in_schema=False)
def margins(build_id: int, title: str = "") -> Response:
    """The margins of the pages of a build; title: what the page is about."""
    stored = builds.load(viewer().shop_id, build_id)
    left = f"{stored.plan.name} · {title[:120]}" if title else stored.plan.name
    right = f"revision {stored.number} · {date.today().isoformat()}"  # noqa: DTZ011 (the shop's own day)
    css = MARGINS.format(left=quoted(left), right=quoted(right))
    return Response(css, media_type="text/css", headers={"Cache-Control": "no-store"})
