"""Errors: problem details (RFC 9457) for programs, helpful pages for people."""

from __future__ import annotations

import logging
from collections.abc import Mapping
from functools import singledispatch
from typing import Any
from urllib.parse import urlparse

from fastapi import FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel, ConfigDict, ValidationError
from starlette.datastructures import UploadFile
from starlette.exceptions import HTTPException

from stirrup.core.errors import CoreError
from stirrup.core.plan.explain import explain, first_error
from stirrup.store.builds import NothingLeftError, NotThereError, StaleEditError
from stirrup.store.session import StoreAwayError
from stirrup.web.render import render

LOG = logging.getLogger("stirrup")


class Problem(Exception):
    """A failure with its status, a title, what happened, and members of its own."""

    def __init__(self, status: int, title: str, detail: str = "", **more: Any) -> None:
        super().__init__(title)
        self.status, self.title, self.detail, self.more = status, title, detail, more


class ProblemDetails(BaseModel):
    """What went wrong, for programs (RFC 9457)."""

    model_config = ConfigDict(extra="allow")
    type: str = "about:blank"
    title: str
    status: int
    detail: str = ""
    place: str | None = None
    code: str | None = None


# for the routers whose answers are described in the API's schema
PROBLEMS: dict[int | str, dict[str, Any]] = {
    "4XX": {
        "description": "Not done; what was read and what is accepted",
        "content": {"application/problem+json": {"schema": ProblemDetails.model_json_schema()}},
    },
    "503": {
        "description": "Not done: the database does not answer, or too much is asked at once",
        "content": {"application/problem+json": {"schema": ProblemDetails.model_json_schema()}},
    },
}
AGAIN_S = 3  # after so many seconds it is worth trying again
NOT_KEPT = ("csrf_token",)
TYPED = "stirrup.typed"  # in the request's scope: the form that was read, so that it can be kept


def wants_json(request: Request) -> bool:
    """Programs ask under /api/ or accept JSON; a browser that sends a form wants a page."""
    accept = request.headers.get("accept", "")
    return "text/html" not in accept and (request.url.path.startswith("/api/") or "json" in accept)


def _back(request: Request) -> str:
    """The page of this site that the request came from, or empty."""
    came = urlparse(request.headers.get("referer", ""))
    if came.netloc != request.headers.get("host") or not came.path.startswith("/"):
        return ""
    return came.path + (f"?{came.query}" if came.query else "")


def respond(request: Request, problem: Problem) -> Response:
    """The problem as JSON or as a page."""
    if wants_json(request):
        body = {
            "type": "about:blank",
            "title": problem.title,
            "status": problem.status,
            "detail": problem.detail,
            **problem.more,
        }
        return _dated(JSONResponse(body, problem.status, media_type="application/problem+json"))
    if problem.status == 503:
        return _dated(_away_page(request, problem))
    response = render(request, "problem.html", {"problem": problem, "back": _back(request)})
    response.status_code = problem.status
    return response


def _dated(response: Response) -> Response:
    if response.status_code == 503:
        response.headers["Retry-After"] = str(AGAIN_S)
    return response


def _away_page(request: Request, problem: Problem) -> Response:
    """The page that comes while nothing can be done: what was typed stands in it, and can be sent
    again as it is; it looks by itself whether that is possible again."""
    form: Mapping[str, Any] = request.scope.get(TYPED, {})
    typed = [(k, v) for k, v in form.items() if isinstance(v, str) and k not in NOT_KEPT]
    files = [k for k, v in form.items() if isinstance(v, UploadFile) and v.filename]
    came = _back(request)
    context = {
        "problem": problem,
        "typed": typed,
        "files": files,
        "sends": request.method == "POST",
        "lasting": problem.more.get("lasting", False),
        "target": request.url.path + (f"?{request.url.query}" if request.url.query else ""),
        "back": came,
    }
    response = render(request, "away.html", context)
    response.status_code = 503
    return response


@singledispatch
def problem_of(error: Exception) -> Problem:
    """What is told of an error; strangers never see the text of an unexpected one."""
    return Problem(
        500, "Something went wrong here",
        "What was acknowledged is stored. Try again; if it stays, note the time and "
        "look into the server's log.",
    )  # fmt: skip


@problem_of.register
def _problem(error: Problem) -> Problem:
    return error


@problem_of.register
def _core(error: CoreError) -> Problem:
    return Problem(422, "This cannot be used as it is", error.message, place=error.place)


@problem_of.register
def _not_valid(error: ValidationError) -> Problem:
    found = first_error(error, None)
    told = f"{found.place}: {found.message}"
    return Problem(422, "This cannot be used as it is", told, place=found.place)


@problem_of.register
def _away(error: StoreAwayError) -> Problem:
    title = "Nothing can be stored" if error.lasting else "Just a moment"
    detail = f"{error.why[:1].upper()}{error.why[1:]}. What was stored before is safe."
    return Problem(503, title, detail, code="away", lasting=error.lasting)


@problem_of.register
def _not_there(error: NotThereError) -> Problem:
    return Problem(404, "There is no such build", "The yard lists the builds there are.")


@problem_of.register
def _stale(error: StaleEditError) -> Problem:
    return Problem(
        409, "Changed in another window",
        f"Nothing was overwritten. Meanwhile: {error.theirs}. Look at the page again, then "
        "do it once more.", code="stale",
    )  # fmt: skip


@problem_of.register
def _nothing(error: NothingLeftError) -> Problem:
    return Problem(409, str(error).capitalize(), "", code="nothing")


@problem_of.register
def _request(error: RequestValidationError) -> Problem:
    found = explain(error.errors()[0], None)
    return Problem(422, "The request is not complete", f"{found.place}: {found.message}", place=found.place)


@problem_of.register
def _http(error: HTTPException) -> Problem:
    titles = {404: "There is no such page", 405: "This cannot be done here",
              413: "The file is too large", 400: "This cannot be read"}  # fmt: skip
    title = titles.get(error.status_code, str(error.detail))
    return Problem(error.status_code, title, "The yard is a good way back.")


async def _told(request: Request, error: Exception) -> Response:
    return respond(request, problem_of(error))


async def _unexpected(request: Request, error: Exception) -> Response:
    LOG.error("unexpected error at %s", request.url.path, exc_info=error)
    return respond(request, problem_of(error))


def install(app: FastAPI) -> None:
    """Map errors to responses."""
    for kind in problem_of.registry:
        if kind is not object:
            app.add_exception_handler(kind, _told)
    app.add_exception_handler(Exception, _unexpected)
