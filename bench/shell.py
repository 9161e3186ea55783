"""Speeds of the commands, each in a process of its own: what somebody at a shell waits for."""

from __future__ import annotations

import os
import re
import subprocess
import time
from contextlib import suppress
from pathlib import Path

from bench.measure import Table, median
from bench.server import running

ROOT = Path(__file__).parent.parent
BUILD = ROOT / "stirrup/demo/sedge-hopper.stirrup.json"


def _float() -> tuple[float, float, float]:
    """Seconds, CPU seconds and MB of one run.

    The kernel's sum for ended children counts the memory of who started them too: so the most that the
    process itself held is looked at while it runs.
    """
    start, most = time.perf_counter(), 0.0
    process = subprocess.Popen([str(ROOT / "run"), "float", str(BUILD)], stdout=subprocess.DEVNULL)
    while not (ended := os.wait4(process.pid, os.WNOHANG))[0]:
        with suppress(OSError):
            found = re.search(r"VmHWM:\s+(\d+) kB", Path(f"/proc/{process.pid}/status").read_text())
            most = max(most, int(found[1]) / 1000 if found else 0.0)
        time.sleep(0.005)
    _, status, used = ended
    if status:
        raise RuntimeError("./run float failed")
    return time.perf_counter() - start, used.ru_utime + used.ru_stime, most


def _start() -> float:
    """Seconds until the program answers on a new folder."""
    start = time.perf_counter()
    with running():
        return time.perf_counter() - start


def run(table: Table) -> None:
    """Measure the commands."""
    runs = [_float() for _ in range(7)]
    for k, (what, promised, unit) in enumerate(
        (("wall", 0.8, "s"), ("CPU", None, "s"), ("memory", 150, "MB"))
    ):
        table.add(f"./run float, {what}, median of 7", promised, median([r[k] for r in runs]), unit)
    table.add("the program on a new folder until it answers, median of 3", 60,
              median([_start() for _ in range(3)]), "s")  # fmt: skip
