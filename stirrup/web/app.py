"""The application factory."""

from __future__ import annotations

import contextlib
import gzip
import hashlib
import secrets
from collections.abc import AsyncIterator
from functools import lru_cache
from pathlib import Path
from typing import Any

from anyio import to_thread
from fastapi import Depends, FastAPI, Response
from fastapi.staticfiles import StaticFiles
from starlette.datastructures import Headers
from starlette.middleware.gzip import GZipMiddleware
from starlette.middleware.sessions import SessionMiddleware
from starlette.responses import FileResponse
from starlette.types import Scope

from stirrup.store.database import THREADS, connect, migrate
from stirrup.web import problems, security
from stirrup.web.pages import (
    api,
    condition,
    cuts,
    files,
    float_sheets,
    floating,
    gear,
    history,
    layout,
    live,
    marks,
    measured,
    money,
    offset_table,
    photos,
    printing,
    remedies,
    scan,
    start,
    survey,
    yard,
)

STATIC = Path(__file__).parent / "static"
PACKED = (".css", ".js", ".svg")
MOST_AT_ONCE = 150  # requests that wait or run; more would wait longer than anybody does


@lru_cache(maxsize=256)
def _packed(path: str, changed: float) -> bytes:
    """A file of the program, packed as small as it gets; `changed` makes another of a newer one."""
    return gzip.compress(Path(path).read_bytes(), 9)


class CachedStatic(StaticFiles):
    """Files asked for with their content's hash never change and may be kept for ever; they are
    packed once and not at every request."""

    async def get_response(self, path: str, scope: Scope) -> Response:
        response = await super().get_response(path, scope)
        if isinstance(response, FileResponse) and path.endswith(PACKED) and self._takes_gzip(scope):
            headers = {"Content-Encoding": "gzip", "Vary": "Accept-Encoding"}
            if etag := response.headers.get("etag"):
                headers["ETag"] = etag
            stat = Path(response.path).stat()
            response = Response(
                _packed(str(response.path), stat.st_mtime), 200, headers, response.media_type
            )
        versioned = b"v=" in scope.get("query_string", b"")
        response.headers["Cache-Control"] = (
            "public, max-age=31536000, immutable" if versioned else "no-cache"
        )
        return response

    @staticmethod
    def _takes_gzip(scope: Scope) -> bool:
        return "gzip" in Headers(scope=scope).get("accept-encoding", "")


@lru_cache(maxsize=1)
def static_version() -> str:
    """One hash over all own static files; part of their addresses."""
    digest = hashlib.sha256()
    for path in sorted(STATIC.rglob("*")):
        if path.is_file():
            digest.update(path.read_bytes())
    return digest.hexdigest()[:12]


@contextlib.asynccontextmanager
async def _threads(_: FastAPI) -> AsyncIterator[None]:
    """As many threads as there are connections for them: nobody waits for one in vain."""
    to_thread.current_default_thread_limiter().total_tokens = THREADS
    yield


def create_app(
    database_url: str, secret: str | None = None, hosts: frozenset[str] = frozenset()
) -> FastAPI:
    """The application on a database; migrates it first.

    secret: signs the session cookie. hosts: names under which it answers besides loopback and
    the address it listens on.
    """
    database: Any = connect(database_url)
    migrate(database)
    app = FastAPI(
        title="Stirrup",
        version="0.1",
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        dependencies=[Depends(security.check_csrf)],
        lifespan=_threads,
    )
    app.state.database = database
    app.add_middleware(GZipMiddleware, minimum_size=800, compresslevel=1)
    app.add_middleware(security.BodyLimit)
    app.add_middleware(security.Signed)
    app.add_middleware(security.Crowd, most=MOST_AT_ONCE)
    app.add_middleware(
        SessionMiddleware,
        secret_key=secret or secrets.token_urlsafe(32),
        session_cookie="stirrup",
        same_site="lax",
        https_only=False,
        max_age=60 * 60 * 24 * 90,
    )
    app.add_middleware(security.Head)
    app.add_middleware(security.Hosts, names=hosts)
    app.add_middleware(security.Headers)
    problems.install(app)
    app.mount(f"/static/{static_version()}", CachedStatic(directory=STATIC), name="static")
    for page in (
        yard,
        start,
        survey,
        offset_table,
        scan,
        condition,
        photos,
        layout,
        gear,
        remedies,
        marks,
        floating,
        float_sheets,
        measured,
        cuts,
        money,
        history,
        files,
        printing,
        live,
        api,
    ):
        app.include_router(page.router)
    return app
