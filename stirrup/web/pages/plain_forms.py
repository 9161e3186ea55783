"""What the JSON part does, for pages without scripts: sent as forms, answered by the page again."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from stirrup.store import builds
from stirrup.web.gate import GateRoute
from stirrup.web.pages.api import ChangeAsked, Typed, commit_change
from stirrup.web.pages.arranging import Arrange
from stirrup.web.pages.frame import viewer
from stirrup.web.problems import PROBLEMS

router = APIRouter(route_class=GateRoute, prefix="/api", responses=PROBLEMS)


def _back(request: Request) -> Response:
    """To the page the form was on."""
    referer = request.headers.get("referer", "")
    return RedirectResponse(referer if referer.startswith(str(request.base_url)) else "/", 303)


@router.post("/builds/{build_id}/undo-form", name="undo_form", include_in_schema=False)
def undo_form(request: Request, build_id: int) -> Response:
    builds.undo(viewer().shop_id, build_id)
    return _back(request)


@router.post("/builds/{build_id}/redo-form", name="redo_form", include_in_schema=False)
def redo_form(request: Request, build_id: int) -> Response:
    builds.redo(viewer().shop_id, build_id)
    return _back(request)


@router.post("/builds/{build_id}/entry", name="entry", include_in_schema=False)
def entry(
    request: Request,
    build_id: int,
    base: Annotated[int, Form()],
    path: Annotated[str, Form()],
    text: Annotated[str, Form()] = "",
) -> Response:
    """The same for a page without scripts: one field, sent as a form."""
    who = viewer()
    asked = ChangeAsked(base=base, typed=Typed(path=path, text=text))
    commit_change(who, build_id, asked)
    return _back(request)


@router.post("/builds/{build_id}/accept-form", name="accept_form", include_in_schema=False)
def accept_form(
    request: Request,
    build_id: int,
    base: Annotated[int, Form()],
    code: Annotated[str, Form()],
    thing: Annotated[str, Form()],
    reason: Annotated[str, Form()] = "",
    other: Annotated[str, Form()] = "",
) -> Response:
    """Accept a finding knowingly, for a page without scripts."""
    asked = Arrange(act="accept", path=code, to=thing, to_edge=other, text=reason)
    commit_change(viewer(), build_id, ChangeAsked(base=base, arrange=asked))
    return _back(request)
