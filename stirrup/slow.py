"""Connections that open a request and never finish its head are closed."""

from __future__ import annotations

import asyncio
from typing import Any

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

HEAD_S = 20  # for the first line and all headers; a phone on a bad line needs a few
MOST_HEAD = 64_000  # bytes of the same


class PatientProtocol(HttpToolsProtocol):
    """HTTP/1.1 whose patience ends: the server's own timeout counts only between requests, and its parser
    keeps whatever it is sent of a head."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self._head: asyncio.TimerHandle | None = None
        self._unread = 0  # bytes since a head was whole, or a piece of a body was handed on

    def connection_made(self, transport: Any) -> None:
        super().connection_made(transport)
        self._wait_for_head()

    def on_headers_complete(self) -> None:
        self._unread = 0
        super().on_headers_complete()

    def on_body(self, body: bytes) -> None:
        self._unread = 0
        super().on_body(body)

    def data_received(self, data: bytes) -> None:
        self._unread += len(data)
        super().data_received(data)
        if self._unread > MOST_HEAD and not self.transport.is_closing():
            self.transport.close()
        if self._in_request():
            self._done_waiting()
        elif self._head is None:
            self._wait_for_head()

    def connection_lost(self, exc: Exception | None) -> None:
        self._done_waiting()
        super().connection_lost(exc)

    def _in_request(self) -> bool:
        return self.cycle is not None and not self.cycle.response_complete

    def _wait_for_head(self) -> None:
        self._head = self.loop.call_later(HEAD_S, self._too_slow)

    def _done_waiting(self) -> None:
        if self._head is not None:
            self._head.cancel()
            self._head = None

    def _too_slow(self) -> None:
        self._head = None
        if not self._in_request() and not self.transport.is_closing():
            self.transport.close()
