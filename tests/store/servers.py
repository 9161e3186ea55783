"""`./run demo`'s own program on a data folder, to be killed."""

from __future__ import annotations

import contextlib
import os
import re
import signal
import subprocess
import sys
import time
from pathlib import Path

import httpx2 as httpx

ROOT = Path(__file__).parent.parent.parent


def environment(folder: Path) -> dict[str, str]:
    """What the program is started with."""
    found = {**os.environ, "STIRRUP_DATA": str(folder), "PYTHONPATH": str(ROOT)}
    found.pop("STIRRUP_DATABASE_URL", None)
    found.pop("STIRRUP_PORT", None)
    return found


BEGUN: list[subprocess.Popen[str]] = []


def end_all() -> None:
    """End what a test that failed left running."""
    for process in BEGUN:
        if process.poll() is None:
            process.kill()
            process.wait()
        if process.stdout and not process.stdout.closed:
            process.stdout.close()
    BEGUN.clear()


def begin(folder: Path, port: int, *more: str) -> subprocess.Popen[str]:
    """The program, started; nobody has waited for it yet. more: of its options."""
    process = subprocess.Popen(
        [sys.executable, "-m", "stirrup.server", "--demo", "--port", str(port), *more],
        env=environment(folder), stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True,
    )  # fmt: skip
    BEGUN.append(process)
    return process


class Server:
    """The program once it answers; `said` is what it printed, `took_s` how long that took."""

    def __init__(self, folder: Path, port: int = 8611, *more: str) -> None:
        started = time.monotonic()
        self.process = begin(folder, port, *more)
        self.said = ""
        deadline = time.monotonic() + 60
        while not (found := re.search(r"http://\S+", self.said)):
            line = self.process.stdout.readline()  # type: ignore[union-attr]
            assert line and time.monotonic() < deadline, self.said
            self.said += line
        self.client = httpx.Client(base_url=found[0], timeout=30)
        deadline = time.monotonic() + 20
        while True:
            with contextlib.suppress(httpx.TransportError):
                page = self.client.get("/measure")  # no boat of the yard is worked out for it
                break
            assert time.monotonic() < deadline
            time.sleep(0.1)
        self.took_s = time.monotonic() - started
        self.token = re.search(r'name="csrf" content="([^"]+)"', page.text)[1]  # type: ignore[index]

    def ask(self, base: int, value: float) -> httpx.Response:
        """Send a change of the bow deck's aft edge."""
        change = {"do": "set", "path": ["fittings", "bow-deck", "aft"], "value": value}
        return self.client.post(
            "/api/builds/1/changes", json={"base": base, "change": change},
            headers={"X-CSRF-Token": self.token},
        )  # fmt: skip

    def change(self, base: int, value: float) -> int:
        """The same, and it must be taken; the number of its revision."""
        answer = self.ask(base, value)
        assert answer.status_code == 200, answer.text
        return int(answer.json()["number"])

    def state(self) -> tuple[int, float]:
        """Revision and aft edge as they are stored."""
        file = self.client.get("/b/1/file").json()
        number = self.client.get("/api/builds/1").json()["number"]
        return number, next(f["aft"] for f in file["fittings"] if f["id"] == "bow-deck")

    def kill(self, how: signal.Signals) -> None:
        self.process.send_signal(how)
        self.process.wait(30)
        self.process.stdout.close()  # type: ignore[union-attr]
        self.client.close()


def postmaster(folder: Path) -> int:
    """Process of the database on a data folder."""
    return int((folder / "cluster/postgres/postmaster.pid").read_text().splitlines()[0])


def alive(pid: int) -> bool:
    """Whether a process is there and no zombie."""
    try:
        return "Z" not in Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0]
    except FileNotFoundError:
        return False


def until(what: object, seconds: float = 10) -> bool:
    """Wait until `what()` holds; whether it did."""
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        if what():  # type: ignore[operator]
            return True
        time.sleep(0.1)
    return False
