"""Keeps processes running beside this one: started again when they end, ended with it."""

from __future__ import annotations

import logging
import os
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Mapping, Sequence

LOG = logging.getLogger("stirrup")
AGAIN_S = 1.0  # before an ended process is started again; longer each time it ends at once
MOST_S = 30.0
LONG_S = 60.0  # one that ran so long did not end at once
END_S = 5.0


def end_with_parent() -> None:
    """Our input ends when who started us has gone, however he went."""
    while os.read(0, 1):
        pass
    os.kill(os.getpid(), signal.SIGTERM)


class Kept(threading.Thread):
    """One process that is kept running.

    more: of its environment, asked anew at each start. fds: that it inherits. watched: whether it
    looks at its input, a pipe that nobody writes to, and ends when we are gone.
    """

    def __init__(
        self,
        name: str,
        command: Sequence[str],
        more: Callable[[], Mapping[str, str]],
        fds: Sequence[int] = (),
        watched: bool = True,
    ) -> None:
        super().__init__(name=name, daemon=True)
        self._command, self._more, self._fds, self._watched = command, more, fds, watched
        self._stop_asked = threading.Event()
        self._renewed = False
        self.process: subprocess.Popen[bytes] | None = None

    def run(self) -> None:
        wait = AGAIN_S
        while not self._stop_asked.is_set():
            begun = time.monotonic()
            self._renewed = False
            self.process = subprocess.Popen(
                self._command, stdin=subprocess.PIPE, pass_fds=self._fds,
                env={**os.environ, **self._more()}, start_new_session=True,
                preexec_fn=None if self._watched else _end_at_once,
            )  # fmt: skip
            self.process.wait()
            if self._renewed or time.monotonic() - begun > LONG_S:
                wait = AGAIN_S
            if not self._stop_asked.wait(0 if self._renewed else wait):
                LOG.warning("the %s ended (%s); another is started", self.name, self.process.returncode)
            wait = min(2 * wait, MOST_S)

    def renew(self) -> None:
        """End it, so that another is started at once."""
        self._renewed = True
        if self.process is not None:
            self.process.terminate()

    def ask_to_end(self) -> None:
        """It ends, and no other is started."""
        self._stop_asked.set()
        if self.process is not None:
            self.process.terminate()

    def end(self) -> None:
        """End it; what it has in hand is done by the next one."""
        self.ask_to_end()
        if self.process is not None:
            try:
                self.process.wait(END_S)
            except subprocess.TimeoutExpired:
                self.process.kill()


def _end_at_once() -> None:
    """In the new process: it is sent SIGTERM when who started it has gone (Linux)."""
    import ctypes

    ctypes.CDLL(None).prctl(1, signal.SIGTERM)


class Worker(Kept):
    """One worker process on a database; url: asked anew at each start."""

    def __init__(self, url: Callable[[], str]) -> None:
        command = [sys.executable, "-m", "stirrup.worker"]
        super().__init__("worker", command, lambda: {"STIRRUP_DATABASE_URL": url()})
