"""Speeds of the pages: through HTTP and in the browser, on a database with safe settings."""

from __future__ import annotations

import itertools
import os
import re
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from functools import partial
from pathlib import Path

import httpx2 as httpx
from playwright.sync_api import sync_playwright

from bench import crowded
from bench.afloat import http as float_http
from bench.measure import Table, median, rounds, times_ms
from stirrup.store.cluster import free_port

ROUNDS = 4
PAGES = ("/", "/b/1/survey", "/b/1/layout?sel=bow-deck", "/b/1/cuts", "/b/1/money")


def _http(table: Table, address: str) -> int:
    client = httpx.Client(base_url=address, timeout=30)
    page = client.get("/b/1/layout")
    found = re.search(r'name="csrf" content="([^"]+)"', page.text)
    token = found[1] if found else ""
    float_http(table, client, token)
    for path in PAGES:
        client.get(path)
        taken = times_ms(partial(client.get, path), 15)
        table.add(f"page {path}, whole request, median", 60, median(taken))

    def drag() -> list[float]:
        taken = []
        for _ in range(80):
            change = {
                "do": "set",
                "path": ["fittings", "bow-deck", "aft"],
                "value": 3.0 - 0.003 * next(count),
            }
            body = {"base": 1, "change": change, "sel": "bow-deck", "case": "one at the helm"}
            start = time.perf_counter()
            answer = client.post("/api/builds/1/preview", json=body, headers={"X-CSRF-Token": token})
            taken.append((time.perf_counter() - start) * 1000)
            if answer.status_code != 200:
                raise RuntimeError(answer.text)
        return taken

    count = itertools.count()
    rounds(table, "preview through HTTP", 60, drag, ROUNDS)
    return crowded.http(table, client, token)


def _browser(table: Table, address: str) -> None:
    with sync_playwright() as p:
        browser = p.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--disable-gpu", "--disable-dev-shm-usage"]
        )
        for path in PAGES:
            context = browser.new_context()
            page = context.new_page()
            total: list[float] = []
            session = context.new_cdp_session(page)
            session.send("Network.enable")
            session.on(
                "Network.loadingFinished", lambda e, total=total: total.append(e["encodedDataLength"])
            )
            page.goto(address + path)
            page.wait_for_timeout(1500)  # what comes behind the page too
            table.add(f"page {path}, over the wire the first time", 250, sum(total) / 1000, "kB")
            context.close()
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{address}/b/1/layout?sel=bow-deck&case=one+at+the+helm")
        box = page.locator('.handle[data-path="fittings/bow-deck/aft"] .grab').bounding_box()
        if box is None:
            raise RuntimeError("the aft edge is not on the page")
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 3
        page.mouse.move(x, y)
        page.mouse.down()
        moves = itertools.count(1)

        def pull() -> list[float]:
            page.evaluate("stirrupLatencies.length = 0")
            for k in itertools.islice(moves, 60):
                page.mouse.move(x - 0.9 * k, y)
                page.wait_for_timeout(70)
            return list(page.evaluate("[...stirrupLatencies]"))

        rounds(table, "pointer move to redrawn strip", 100, pull, ROUNDS)
        page.mouse.up()
        browser.close()


def _start(folder: Path) -> tuple[subprocess.Popen[str], str]:
    """`./run demo`'s program in a process of its own; its address."""
    process = subprocess.Popen(
        [sys.executable, "-m", "stirrup.server", "--demo", "--port", str(free_port())],
        env={**os.environ, "STIRRUP_DATA": str(folder)},
        stdout=subprocess.PIPE,
        text=True,
    )
    for line in process.stdout or ():
        if found := re.search(r"http://[^/ ]+", line):
            return process, found[0]
    raise RuntimeError("the server did not start")


def run(table: Table) -> None:
    """Measure the pages."""
    folder = Path(tempfile.mkdtemp(prefix="stirrup-bench-"))
    folder.chmod(0o755)
    try:
        process, address = _start(folder)
        try:
            time.sleep(0.5)
            crowd = _http(table, address)
            _browser(table, address)
            crowded.browser(table, address, crowd)
        finally:
            process.send_signal(signal.SIGINT)
            process.wait(20)
    finally:
        shutil.rmtree(folder, ignore_errors=True)
