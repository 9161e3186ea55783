"""Killing the web process or the database between changes loses nothing acknowledged."""

import contextlib
import os
import re
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import httpx2 as httpx
import pytest

ROOT = Path(__file__).parent.parent.parent


class Server:
    """`./run demo`'s own program on a data folder."""

    def __init__(self, folder: Path, port: int = 8611) -> None:
        environment = {**os.environ, "STIRRUP_DATA": str(folder), "PYTHONPATH": str(ROOT)}
        environment.pop("STIRRUP_DATABASE_URL", None)
        self.process = subprocess.Popen(
            [sys.executable, "-m", "stirrup.server", "--demo", "--port", str(port)],
            env=environment, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True,
        )  # fmt: skip
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
                page = self.client.get("/b/1/layout")
                break
            assert time.monotonic() < deadline
            time.sleep(0.1)
        self.token = re.search(r'name="csrf" content="([^"]+)"', page.text)[1]  # type: ignore[index]

    def change(self, base: int, value: float) -> int:
        change = {"do": "set", "path": ["fittings", "bow-deck", "aft"], "value": value}
        answer = self.client.post(
            "/api/builds/1/changes", json={"base": base, "change": change},
            headers={"X-CSRF-Token": self.token},
        )  # fmt: skip
        assert answer.status_code == 200, answer.text
        return int(answer.json()["number"])

    def state(self) -> tuple[int, float]:
        file = self.client.get("/b/1/file").json()
        number = self.client.get("/api/builds/1").json()["number"]
        return number, next(f["aft"] for f in file["fittings"] if f["id"] == "bow-deck")

    def kill(self, how: signal.Signals) -> None:
        self.process.send_signal(how)
        self.process.wait(30)
        self.process.stdout.close()  # type: ignore[union-attr]
        self.client.close()


def postmaster(folder: Path) -> int:
    return int(next(folder.rglob("postmaster.pid")).read_text().splitlines()[0])


def alive(pid: int) -> bool:
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    return True


@pytest.fixture
def folder() -> Iterator[Path]:
    path = Path(tempfile.mkdtemp(prefix="stirrup-kill-"))
    path.chmod(0o755)
    yield path
    with contextlib.suppress(StopIteration, ProcessLookupError):
        os.kill(postmaster(path), signal.SIGQUIT)
        time.sleep(0.5)
    shutil.rmtree(path, ignore_errors=True)


def test_nothing_acknowledged_is_lost(folder: Path) -> None:
    server = Server(folder)
    number = server.change(1, 3.05)
    number = server.change(number, 3.07)

    # the web process dies at once: the database stays and is taken over
    server.kill(signal.SIGKILL)
    database = postmaster(folder)
    assert alive(database)
    server = Server(folder)
    assert postmaster(folder) == database
    assert server.state() == (number, 3.07)
    number = server.change(number, 3.09)

    # the database dies at once: the next start recovers it
    os.kill(database, signal.SIGKILL)
    server.kill(signal.SIGKILL)
    server = Server(folder)
    assert postmaster(folder) != database
    assert server.state() == (number, 3.09)

    # undo still works after both
    answer = server.client.post("/api/builds/1/undo", headers={"X-CSRF-Token": server.token})
    assert answer.status_code == 200
    assert server.state() == (number + 1, 3.07)

    # Ctrl-C stops everything
    database = postmaster(folder)
    server.kill(signal.SIGINT)
    deadline = time.monotonic() + 10
    while alive(database) and time.monotonic() < deadline:
        time.sleep(0.1)
    assert not alive(database)


def test_a_taken_port_is_passed_over_and_said(folder: Path) -> None:
    import socket

    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 8651))
        taken.listen()
        server = Server(folder, 8651)
        assert "Port 8651 is taken" in server.said
        server.kill(signal.SIGINT)
