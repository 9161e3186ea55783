"""`./run demo`'s program for measuring: in a process of its own, on a database with safe settings."""

from __future__ import annotations

import os
import re
import shutil
import signal
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import httpx2 as httpx

from stirrup.core.plan.model import Plan
from stirrup.exchange.buildfile import dump
from stirrup.store.cluster import free_port

TICKS = os.sysconf("SC_CLK_TCK")


def cpu_ms(pid: int) -> float:
    """CPU time that a process has used so far, of all its threads [ms]."""
    fields = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
    return (int(fields[11]) + int(fields[12])) * 1000 / TICKS


def rss_mb(pid: int) -> float:
    """Memory that a process holds [MB]."""
    found = re.search(r"VmRSS:\s+(\d+) kB", Path(f"/proc/{pid}/status").read_text())
    return int(found[1]) / 1000 if found else 0.0


@dataclass
class Running:
    """The web process, its address, and a client that may change things."""

    process: subprocess.Popen[str]
    address: str
    client: httpx.Client
    token: str

    def post(self, path: str, body: Any) -> httpx.Response:
        """An answer that is as it should be."""
        answer = self.client.post(path, json=body, headers={"X-CSRF-Token": self.token})
        if answer.status_code != 200:
            raise RuntimeError(answer.text)
        return answer

    def get(self, path: str) -> httpx.Response:
        """A page that is as it should be."""
        answer = self.client.get(path)
        if answer.status_code != 200:
            raise RuntimeError(f"{path}: {answer.text[:400]}")
        return answer

    def marks(self, path: str) -> dict[str, str]:
        """Mark of each drawing on a page, by its place: what a browser tells that it has."""
        page = self.get(path).text
        places = re.finditer(r'data-slot="(\w+)"\s*>\s*<svg[^>]*data-of="(\w+)"', page)
        return {found[1]: found[2] for found in places}

    def bring_in(self, plan: Plan) -> int:
        """A build in the yard; its number."""
        answer = self.client.post(
            "/builds/import", data={"csrf_token": self.token},
            files={"file": ("bench.stirrup.json", dump(plan).encode())},
        )  # fmt: skip
        found = re.search(r"/b/(\d+)/", answer.headers.get("location", str(answer.url)))
        if not found:
            raise RuntimeError(answer.text[:300])
        return int(found[1])


@contextmanager
def running(command: str = "demo") -> Iterator[Running]:
    """The program on a new folder, until the end of the block; command: demo or serve."""
    folder = Path(tempfile.mkdtemp(prefix="stirrup-bench-"))
    folder.chmod(0o755)
    try:
        process = subprocess.Popen(
            [sys.executable, "-m", "stirrup.server", *(["--demo"] if command == "demo" else []),
             "--port", str(free_port())],
            env={**os.environ, "STIRRUP_DATA": str(folder)}, stdout=subprocess.PIPE, text=True,
        )  # fmt: skip
        try:
            address = ""
            for line in process.stdout or ():
                if found := re.search(r"http://[^/ ]+", line):
                    address = found[0]
                    break
            client = httpx.Client(base_url=address, timeout=60)
            page = client.get("/measure").text
            token = re.search(r'name="csrf" content="([^"]+)"', page)
            yield Running(process, address, client, token[1] if token else "")
        finally:
            process.send_signal(signal.SIGINT)
            process.wait(20)
    finally:
        shutil.rmtree(folder, ignore_errors=True)
