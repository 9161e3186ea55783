"""Who may ask for what: response headers, host names, sizes, crowds, requests from other sites."""

from __future__ import annotations

import ipaddress
import re
import secrets
from urllib.parse import urlparse

from fastapi import Request
from fastapi.responses import PlainTextResponse
from starlette.datastructures import Headers as Headers_
from starlette.datastructures import MutableHeaders
from starlette.middleware.gzip import GZipMiddleware
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


HOST = re.compile(r"(\[[0-9A-Fa-f:.]{2,45}\]|[A-Za-z0-9.-]{1,253})(?::\d{1,5})?", re.ASCII)
LOOPBACK = frozenset({"localhost", "127.0.0.1", "::1"})


def host_name(value: str) -> str:
    """The name or address of a Host header, without port; empty when it is none."""
    found = HOST.fullmatch(value)
    return found[1].strip("[]").rstrip(".").lower() if found else ""


def _is_address(name: str) -> bool:
    try:
        ipaddress.ip_address(name)
    except ValueError:
        return False
    return True


class Hosts:
    """Answer only under names that are ours.

    A page of another site whose name was turned to this machine would otherwise count as this
    site. Ours are: loopback, the address that the connection came in at, and `names`.
    """

    def __init__(self, app: ASGIApp, names: frozenset[str] = frozenset()) -> None:
        self.app, self.names = app, LOOPBACK | {n.lower() for n in names}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "http" and not self._ours(scope):
            text = (
                "This address is not one of this application's. Open it by the address that it "
                "printed when it started, or add the name to STIRRUP_HOSTS.\n"
            )
            await PlainTextResponse(text, 421)(scope, receive, send)
            return
        await self.app(scope, receive, send)

    def _ours(self, scope: Scope) -> bool:
        told = [value for key, value in scope["headers"] if key == b"host"]
        if len(told) != 1:
            return False
        name = host_name(told[0].decode("latin-1"))
        here = str((scope.get("server") or ("",))[0])
        return name in self.names or (name == here and _is_address(name))


class Arrived:
    """The address that a connection came in at, as the proxy before us tells it: it sets this header
    itself, whatever was sent, and nobody but it reaches our socket."""

    HEADER = b"x-stirrup-address"

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "http":
            told = [value for key, value in scope["headers"] if key == self.HEADER]
            scope = {**scope, "server": (told[0].decode("latin-1") if told else "", None)}
        await self.app(scope, receive, send)


class Head:
    """HEAD is answered as GET, without the body."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or scope["method"] != "HEAD":
            await self.app(scope, receive, send)
            return
        started = False

        async def only_head(message: Message) -> None:
            nonlocal started
            if message["type"] == "http.response.start":
                started = True
                await send(message)
                await send({"type": "http.response.body", "body": b""})

        async def nothing_more() -> Message:
            # a stream would go on for ever: whoever asked has what he wanted
            return {"type": "http.disconnect"} if started else await receive()

        await self.app({**scope, "method": "GET"}, nothing_more, only_head)


class Crowd:
    """More at once than can be served in good time are told when to come again."""

    def __init__(self, app: ASGIApp, most: int) -> None:
        self.app, self.most, self.here = app, most, 0

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        path = scope.get("path", "")
        # streams wait without keeping anybody busy; static files take no time
        if scope["type"] != "http" or path.startswith("/static/") or path.endswith("/events"):
            await self.app(scope, receive, send)
            return
        if self.here >= self.most:
            problem = Problem(
                503, "Too much is asked at once", "Nothing was changed. Try again in a moment."
            )
            await respond(Request(scope), problem)(scope, receive, send)
            return
        self.here += 1
        try:
            await self.app(scope, receive, send)
        finally:
            self.here -= 1


class Packed:
    """Answers to a hand that drags are packed quickly, everything else small."""

    def __init__(self, app: ASGIApp) -> None:
        self.quick, self.small = (
            GZipMiddleware(app, minimum_size=LEAST_PACKED, compresslevel=level) for level in (1, 4)
        )

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        pack = self.quick if scope.get("path", "").endswith("/preview") else self.small
        await pack(scope, receive, send)


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


# what a place takes at most [bytes]; the field itself checks the file without its envelope
MB = 1_000_000
LARGE = (("/survey/scan", 60 * MB), ("/survey/photo", 25 * MB), ("/builds/import", 8 * MB),
         ("/cuts/outlines", 8 * MB), ("/cuts/photo", 25 * MB), ("/money/receipt", 25 * MB),
         ("/prices/look", 8 * MB), ("/prices/take", 8 * MB))  # fmt: skip
USUAL = 2 * MB
LEAST_PACKED = 800
ENVELOPE = 100_000


def most_bytes(path: str) -> int:
    """The largest file or form that a page takes."""
    return next((most for tail, most in LARGE if path.endswith(tail)), USUAL)


class BodyLimit:
    """Refuse bodies that are too large before they fill the disk, told or not told in advance."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        most = most_bytes(scope["path"]) + ENVELOPE
        told = Headers_(scope=scope).get("content-length", "0")
        if told.isascii() and told.isdigit() and (len(told) > 15 or int(told) > most):
            await self._refuse(scope, receive, send)
            return
        got, started = 0, False

        async def counted() -> Message:
            nonlocal got
            message = await receive()
            got += len(message.get("body", b""))
            if got > most:
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
        detail = f"Accepted here: up to {most_bytes(scope['path']) // MB} MB. Nothing was changed."
        problem = Problem(413, "The file is too large", detail)
        await respond(Request(scope), problem)(scope, receive, send)


SAID = "said"


def say_next(request: Request, place: str, text: str) -> None:
    """Something that the next page at `place` says once. It stays with the session: an address
    that anybody can write would put his words into our mouth."""
    request.session[SAID] = [place, text[:400]]


def said(request: Request, place: str) -> str:
    """What the last request left to be said at `place`, once."""
    left = request.session.get(SAID)
    if not isinstance(left, list) or len(left) != 2 or left[0] != place:
        return ""
    del request.session[SAID]
    return str(left[1])


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
    if not expected or not given or not secrets.compare_digest(given.encode(), expected.encode()):
        raise Problem(
            403,
            "The page is from an earlier session",
            "Nothing was changed. Reload the page; what you typed is still in its field.",
        )
