"""Looks every second whether the database answers, and starts the private one again when it died.

What hangs is cut off, so that nobody waits for ever; once the database is back, on whatever port,
new connections find it.
"""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable
from typing import Any, Literal
from urllib.parse import urlparse

import psycopg
from psycopg.errors import CannotConnectNow, ConnectionTimeout, TooManyConnections

from stirrup.store.cluster import Cluster, ClusterError
from stirrup.store.session import KNOWN

LOG = logging.getLogger("stirrup")

EVERY_S = 1.0
ANSWER_S = 4
MISSES = 2  # a busy machine may be late once
GONE = "the database stopped; it is being started again"
SILENT = "the database does not answer"

Answer = Literal["yes", "late", "no"]


def asked(url: str) -> Answer:
    """Whether a server takes a new connection and answers on it; late after ANSWER_S seconds."""
    try:
        with psycopg.connect(url, connect_timeout=ANSWER_S, autocommit=True) as connection:
            connection.execute("SELECT 1")
        return "yes"
    except TooManyConnections:
        return "yes"
    except (ConnectionTimeout, CannotConnectNow):
        return "late"
    except psycopg.Error as error:
        return "late" if getattr(error, "sqlstate", None) == "57P03" else "no"


def answers(url: str) -> Answer:
    """The same, and no longer than that: a server that freezes between taking a connection and answering
    on it would be waited for without end, and whoever watches would see nothing any more."""
    found: list[Answer] = []
    asking = threading.Thread(target=lambda: found.append(asked(url)), name="asking", daemon=True)
    asking.start()
    asking.join(ANSWER_S + EVERY_S)
    return found[0] if found else "late"


class Watch(threading.Thread):
    """The watcher of one pool of connections; `cluster` when the server is our own to start; moved:
    called when it was, and may have another address."""

    def __init__(
        self, pool: Any, url: str, cluster: Cluster | None, moved: Callable[[], None] = lambda: None
    ) -> None:
        super().__init__(name="watch", daemon=True)
        self.pool, self.url, self.cluster, self.moved = pool, url, cluster, moved
        self._stop_asked = threading.Event()
        self._misses = 0

    def run(self) -> None:
        while not self._stop_asked.wait(EVERY_S):
            try:
                self.look()
            except Exception:
                LOG.exception("watching the database")

    def end(self) -> None:
        """Stop watching; nothing is started again after this."""
        self._stop_asked.set()
        self.join(2 * ANSWER_S)

    def look(self) -> None:
        """One look, and what follows from it."""
        answer = answers(self.url)
        if answer == "no" and not self._stop_asked.is_set():
            self._away(GONE if self.cluster else SILENT)
            answer = self._revived()
        if answer == "yes":
            self._misses = 0
            if KNOWN.away:
                LOG.warning("the database answers again")
                KNOWN.away = ""
        elif answer == "late":
            self._misses += 1
            if self._misses >= MISSES:
                self._away(SILENT)

    def _away(self, why: str) -> None:
        if KNOWN.away != why:
            LOG.warning("%s", why)
        KNOWN.away = why
        self.pool.cut_off()

    def _revived(self) -> Answer:
        if self.cluster is None:
            return "no"
        try:
            port = self.cluster.revive()
        except (ClusterError, OSError) as error:
            self._away(str(error).splitlines()[0])
            return "no"
        name = urlparse(self.url).path.lstrip("/")
        self.url = self.cluster.url(port, name)
        self.pool.turn_to(port)
        self.moved()
        return answers(self.url)
