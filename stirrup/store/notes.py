"""Short notes from process to process, through the database: something is new, look.

A note is told when its transaction is; it says where to look, never what is there.
"""

from __future__ import annotations

import logging
import threading
from collections import Counter
from collections.abc import Callable

import psycopg

from stirrup.store.models import DATABASE

LOG = logging.getLogger("stirrup")
CHANNEL = "stirrup"
AGAIN_S = 1.0  # between attempts while the database is away
LOOK_S = 1.0  # between looks whether to stop


def tell(about: str) -> None:
    """Tell all processes; inside of a transaction of the store."""
    DATABASE.execute_sql("SELECT pg_notify(%s, %s)", (CHANNEL, about))


class Ear(threading.Thread):
    """Counts the notes on each subject; `everything` counts when some may have been missed.

    url: asked anew at each connection, since the database may come back on another port.
    """

    def __init__(self, url: Callable[[], str]) -> None:
        super().__init__(name="ear", daemon=True)
        self._url, self._stop_asked = url, threading.Event()
        self._heard: Counter[str] = Counter()

    def count(self, *subjects: str) -> int:
        """How often one of these was told; it only ever grows."""
        return sum(self._heard[s] for s in (*subjects, "everything"))

    def run(self) -> None:
        while not self._stop_asked.is_set():
            try:
                self._listen()
            except psycopg.Error:
                self._stop_asked.wait(AGAIN_S)

    def _listen(self) -> None:
        with psycopg.connect(self._url(), autocommit=True, connect_timeout=4) as connection:
            connection.execute(f"LISTEN {CHANNEL}")
            self._heard["everything"] += 1
            while not self._stop_asked.is_set():
                for note in connection.notifies(timeout=LOOK_S):
                    self._heard[note.payload] += 1

    def end(self) -> None:
        """Stop listening, at the next look; nobody waits for that."""
        self._stop_asked.set()
