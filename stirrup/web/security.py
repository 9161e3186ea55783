"""Response headers and protection of changes against requests from other sites."""

from __future__ import annotations

import secrets
from urllib.parse import urlparse

from fastapi import Request
from starlette.datastructures import Headers as Headers_
from starlette.datastructures import MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from stirrup.store.author import AUTHOR
from stirrup.web.problems import Problem, respond

CONTENT_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; "
    "font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; "
    "frame-ancestors 'none'"
)
HEADERS = {
    "Content-Security-Policy": CONTENT_POLICY,
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
}
SAFE = {"GET", "HEAD", "OPTIONS"}


class Headers:
    """Security headers on every response; pages are not cached."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        async def with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for key, value in HEADERS.items():
                    headers.setdefault(key, value)
                if not scope["path"].startswith("/static/"):
                    headers.setdefault("Cache-Control", "no-store")
            await send(message)

        await self.app(scope, receive, with_headers)


class Signed:
    """What a request stores carries the name that its session was given; inside of the session."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "http":
            AUTHOR.set(str(scope["session"].get("name", "")))
        await self.app(scope, receive, send)


class TooLargeError(Exception):
    """The body is larger than any page here takes."""


class BodyLimit:
    """Refuse bodies over `most` bytes before they fill the disk, told or not told in advance."""

    def __init__(self, app: ASGIApp, most: int) -> None:
        self.app, self.most = app, most

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        told = Headers_(scope=scope).get("content-length", "0")
        if told.isdigit() and int(told) > self.most:
            await self._refuse(scope, receive, send)
            return
        got, started = 0, False

        async def counted() -> Message:
            nonlocal got
            message = await receive()
            got += len(message.get("body", b""))
            if got > self.most:
                raise TooLargeError
            return message

        async def watched(message: Message) -> None:
            nonlocal started
            started = True
            await send(message)

        try:
            await self.app(scope, counted, watched)
        except TooLargeError:
            if not started:
                await self._refuse(scope, receive, send)

    async def _refuse(self, scope: Scope, receive: Receive, send: Send) -> None:
        detail = f"accepted: up to {self.most // 1_000_000} MB. Nothing was changed."
        problem = Problem(413, "The file is too large", detail)
        await respond(Request(scope), problem)(scope, receive, send)


def csrf_token(request: Request) -> str:
    """The session's token, made on first use."""
    token = request.session.get("csrf")
    if not token:
        token = request.session["csrf"] = secrets.token_urlsafe(24)
    return str(token)


async def check_csrf(request: Request) -> None:
    """Refuse a change that another site sent, or that carries no token of this session."""
    if request.method in SAFE:
        return
    site = request.headers.get("sec-fetch-site")
    if site not in (None, "same-origin", "none"):
        raise Problem(403, "Sent from another site", "Open the page here and try again.")
    origin = request.headers.get("origin")
    if origin and origin != "null" and urlparse(origin).netloc != request.headers.get("host"):
        raise Problem(403, "Sent from another site", "Open the page here and try again.")
    given = request.headers.get("x-csrf-token")
    kind = request.headers.get("content-type", "")
    if given is None and kind.startswith(("multipart/form-data", "application/x-www-form-urlencoded")):
        value = (await request.form()).get("csrf_token")
        given = value if isinstance(value, str) else None
    expected = request.session.get("csrf")
    if not expected or not given or not secrets.compare_digest(given, expected):
        raise Problem(
            403,
            "The page is from an earlier session",
            "Nothing was changed. Reload the page; what you typed is still in its field.",
        )
