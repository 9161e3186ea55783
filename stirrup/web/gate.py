"""The one gate where text comes in: addresses, queries, forms, JSON.

Refused here, with the place: characters that no text has (NUL, half characters), numbers and
nesting beyond all use, bodies that cannot be read. So no page has to think of it again.
"""

from __future__ import annotations

import functools
import inspect
import json
from collections.abc import Callable, Coroutine, Iterator
from typing import Any

from fastapi import Request, Response
from fastapi.routing import APIRoute
from starlette.datastructures import UploadFile
from starlette.exceptions import HTTPException

from stirrup.core.errors import CoreError
from stirrup.core.memo import enter
from stirrup.core.text import unfit
from stirrup.web.problems import TYPED, Problem
from stirrup.web.screen import CURRENT, screen_of

FORMS = ("multipart/form-data", "application/x-www-form-urlencoded")
MOST_DEPTH = 40


def _strings(value: object, place: str, depth: int = 0) -> Iterator[tuple[str, str]]:
    """Every text in a JSON value with its place. Raises Problem when nested beyond all use."""
    if depth > MOST_DEPTH:
        raise Problem(422, "This cannot be read", f"nested more than {MOST_DEPTH} deep; accepted: less")
    if isinstance(value, str):
        yield place, value
    elif isinstance(value, dict):
        for key, inner in value.items():
            yield place, key
            yield from _strings(inner, f"{place}.{key}" if place else str(key), depth + 1)
    elif isinstance(value, list):
        for k, inner in enumerate(value):
            yield from _strings(inner, f"{place}[{k}]", depth + 1)


def _look(place: str, text: str) -> None:
    why = unfit(text)
    if why:
        shown = place.encode("utf-8", "replace").decode()[:80]
        raise Problem(422, "This text cannot be used", f"{shown}: {why}", place=shown)


async def _json(request: Request) -> Any:
    try:
        return await request.json()
    except json.JSONDecodeError as error:
        raise Problem(422, "This is no JSON", f"at letter {error.pos}: {error.msg.lower()}") from None
    except (ValueError, RecursionError) as error:
        raise Problem(422, "This cannot be read", f"{str(error)[:120]}") from None


async def look_at(request: Request) -> None:
    """Read what came with a request and refuse what no page can use. Raises Problem."""
    for key, value in request.path_params.items():
        _look(key, str(value))
    for key, value in request.query_params.multi_items():
        _look("the address", key)
        _look(key, value)
    kind = request.headers.get("content-type", "")
    if request.method in ("GET", "HEAD"):
        return
    if kind.startswith(FORMS):
        try:
            form = await request.form()
        except HTTPException as error:
            raise Problem(422, "This form cannot be read", str(error.detail)[:200]) from None
        request.scope[TYPED] = form
        for key, value in form.multi_items():
            _look("the form", key)
            _look(key, (value.filename or "") if isinstance(value, UploadFile) else value)
    elif "json" in kind and await request.body():
        for place, text in _strings(await _json(request), ""):
            _look(place, text)


def told_in_shop_units(endpoint: Callable[..., Any]) -> Callable[..., Any]:
    """The core speaks SI; whoever reads its errors has a tape in other units."""
    if inspect.iscoroutinefunction(endpoint):
        return endpoint

    @functools.wraps(endpoint)
    def told(*args: Any, **kwargs: Any) -> Any:
        try:
            return endpoint(*args, **kwargs)
        except CoreError as error:
            from stirrup.web import present
            from stirrup.web.pages.frame import viewer

            raise CoreError(present.in_shop_units(error.message, viewer().units), error.place) from error

    return told


class GateRoute(APIRoute):
    """Every route of this application: what comes in is looked at once, before it is read."""

    def __init__(self, path: str, endpoint: Callable[..., Any], **kw: Any) -> None:
        super().__init__(path, told_in_shop_units(endpoint), **kw)

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        handler = super().get_route_handler()

        async def gated(request: Request) -> Response:
            CURRENT.set(screen_of(request))
            build = request.path_params.get("build_id")
            if build is not None and request.headers.get("accept") != "text/event-stream":
                enter(build)  # as long as this request lasts; who listens only works nothing out
            await look_at(request)
            return await handler(request)

        return gated
