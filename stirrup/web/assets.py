"""The program's own style sheets, scripts and fonts, under an address that changes with them."""

from __future__ import annotations

import gzip
import hashlib
from functools import lru_cache
from pathlib import Path

from fastapi import Response
from fastapi.staticfiles import StaticFiles
from starlette.datastructures import Headers
from starlette.responses import FileResponse
from starlette.types import Scope

STATIC = Path(__file__).parent / "static"
PACKED = (".css", ".js", ".svg")


@lru_cache(maxsize=256)
def _packed(path: str, changed: float) -> bytes:
    """A file of the program, packed as small as it gets; `changed` makes another of a newer one."""
    return gzip.compress(Path(path).read_bytes(), 9)


class CachedStatic(StaticFiles):
    """Files whose address has the hash of all of them: they never change and may be kept for ever.
    They are packed once and not at every request."""

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
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response

    @staticmethod
    def _takes_gzip(scope: Scope) -> bool:
        return "gzip" in Headers(scope=scope).get("accept-encoding", "")


@lru_cache(maxsize=1)
def address() -> str:
    """Where the static files are: one hash over all of them is part of it."""
    digest = hashlib.sha256()
    for path in sorted(STATIC.rglob("*")):
        if path.is_file():
            digest.update(path.read_bytes())
    return f"/static/{digest.hexdigest()[:12]}"
