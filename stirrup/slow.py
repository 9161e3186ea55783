"""Connections that open a request and never finish its head are closed."""

from __future__ import annotations

import asyncio
from typing import Any

from uvicorn.protocols.http.h11_impl import H11Protocol

HEAD_S = 20  # for the first line and all headers; a phone on a bad line needs a few


class PatientProtocol(H11Protocol):
    """HTTP/1.1 whose patience ends: the server's own timeout counts only between requests."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self._head: asyncio.TimerHandle | None = None

    def connection_made(self, transport: Any) -> None:
        super().connection_made(transport)
        self._wait_for_head()

    def data_received(self, data: bytes) -> None:
        super().data_received(data)
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
