"""The application factory."""

from __future__ import annotations

import contextlib
import secrets
from collections.abc import AsyncIterator
from typing import Any

from anyio import to_thread
from fastapi import Depends, FastAPI
from starlette.middleware.sessions import SessionMiddleware

from stirrup.store.database import SPARE, THREADS, connect, migrate
from stirrup.store.notes import Ear
from stirrup.store.queue import STAFF
from stirrup.web import links, problems, security
from stirrup.web.assets import STATIC, CachedStatic, address
from stirrup.web.pages import (
    apart,
    api,
    bought,
    condition,
    cut_advice,
    cuts,
    drawn,
    files,
    float_sheets,
    floating,
    framing,
    gear,
    handing,
    history,
    instead,
    layout,
    live,
    marks,
    measured,
    money,
    nesting,
    offset_table,
    outlines,
    panel,
    photo_structure,
    photos,
    plain_forms,
    previewing,
    printing,
    prints,
    quotes,
    remedies,
    scan,
    seams,
    shelf,
    shopping,
    shops,
    start,
    suggesting,
    survey,
    tube,
    yard,
)

# routes are tried one after the other: what a hand that drags asks for comes first
PAGES = (
    previewing,
    yard, shelf, start, survey, offset_table, scan, condition, photos,
    photo_structure, outlines, tube, layout, gear, instead, remedies,
    marks, seams, apart, drawn, framing, panel,
    floating, float_sheets, measured, cuts, nesting, cut_advice, money, shopping,
    bought, handing, prints, shops, quotes, history, files, printing, live,
    api,
    suggesting, plain_forms,
)  # fmt: skip
MOST_AT_ONCE = 150  # requests that wait or run; more would wait longer than anybody does


@contextlib.asynccontextmanager
async def _running(app: FastAPI) -> AsyncIterator[None]:
    """As many threads as there are connections for them: nobody waits for one in vain. And an ear for
    what other processes tell."""
    to_thread.current_default_thread_limiter().total_tokens = app.state.threads
    app.state.ear = Ear(app.state.database.url)
    app.state.ear.start()
    yield
    app.state.ear.end()


def _guard(app: FastAPI, secret: str, hosts: frozenset[str], behind: bool) -> None:
    """What every request passes, the last one named first."""
    app.add_middleware(security.Packed)
    app.add_middleware(security.BodyLimit)
    app.add_middleware(security.Signed)
    app.add_middleware(security.Crowd, most=MOST_AT_ONCE)
    app.add_middleware(
        SessionMiddleware,
        secret_key=secret,
        session_cookie="stirrup",
        same_site="lax",
        https_only=False,
        max_age=60 * 60 * 24 * 90,
    )
    app.add_middleware(security.Head)
    app.add_middleware(security.Hosts, names=hosts)
    app.add_middleware(security.Headers)
    if behind:
        app.add_middleware(security.Arrived)


def create_app(
    database_url: str, secret: str | None = None, hosts: frozenset[str] = frozenset(),
    staffed: bool = False, threads: int = THREADS, behind: bool = False,
) -> FastAPI:  # fmt: skip
    """The application on a database; migrates it first.

    secret: signs the session cookie. hosts: names under which it answers besides loopback and
    the address it listens on. staffed: workers do what no request should wait for.
    threads: requests at once, each may take a connection. behind: a proxy of ours stands before it.
    """
    STAFF.there = staffed
    database: Any = connect(database_url, threads + SPARE)
    migrate(database)
    app = FastAPI(
        title="Stirrup",
        version="0.1",
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        dependencies=[Depends(security.check_csrf)],
        lifespan=_running,
    )
    app.state.database = database
    app.state.threads = threads
    _guard(app, secret or secrets.token_urlsafe(32), hosts, behind)
    problems.install(app)
    app.mount(address(), CachedStatic(directory=STATIC), name="static")
    for page in PAGES:
        app.include_router(page.router)
        links.know((route.name, route.path) for route in page.router.routes)
    return app
