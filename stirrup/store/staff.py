"""Keeps a worker running beside a web process: started again when it ends, ended with it."""

from __future__ import annotations

import logging
import os
import subprocess
import sys
import threading
import time
from collections.abc import Callable

LOG = logging.getLogger("stirrup")
AGAIN_S = 1.0  # before an ended worker is started again; longer each time it ends at once
MOST_S = 30.0
LONG_S = 60.0  # one that ran so long did not end at once
END_S = 5.0


class Worker(threading.Thread):
    """One worker process on a database; url: asked anew at each start."""

    def __init__(self, url: Callable[[], str]) -> None:
        super().__init__(name="worker", daemon=True)
        self._url, self._stop_asked = url, threading.Event()
        self.process: subprocess.Popen[bytes] | None = None

    def run(self) -> None:
        wait = AGAIN_S
        while not self._stop_asked.is_set():
            begun = time.monotonic()
            # its input is a pipe that nobody writes to: it ends when we are gone, however we went
            self.process = subprocess.Popen(
                [sys.executable, "-m", "stirrup.worker"], stdin=subprocess.PIPE,
                env={**os.environ, "STIRRUP_DATABASE_URL": self._url()}, start_new_session=True,
            )  # fmt: skip
            self.process.wait()
            if time.monotonic() - begun > LONG_S:
                wait = AGAIN_S
            if not self._stop_asked.wait(wait):
                LOG.warning("the worker ended (%s); another is started", self.process.returncode)
            wait = min(2 * wait, MOST_S)

    def end(self) -> None:
        """End it; what it has in hand is done by the next one."""
        self._stop_asked.set()
        if self.process is not None:
            self.process.terminate()
            try:
                self.process.wait(END_S)
            except subprocess.TimeoutExpired:
                self.process.kill()
