"""Speeds of the pages through HTTP: after changes, while dragging, many people at once, memory."""

from __future__ import annotations

import itertools
import re
import threading
import time
from collections.abc import Callable
from functools import partial
from typing import Any

import httpx2 as httpx

from bench import hand
from bench.boats import crowded_plan
from bench.measure import Table, median, p95
from bench.server import Running, cpu_ms, rss_mb, running
from stirrup.demo.seed import demo_plan

PAGES = ("survey", "layout?sel=bow-deck", "float", "cuts", "money")
PREVIEWS = 240
PEOPLE, RATE, SECONDS = 20, 5, 15
Body = Callable[[int], dict[str, Any]]


def _timed(action: Callable[[], object]) -> float:
    start = time.perf_counter()
    action()
    return (time.perf_counter() - start) * 1000


def _number(server: Running, build: int) -> int:
    return int(re.findall(r'data-number="(\d+)"', server.get(f"/b/{build}/layout").text)[0])


def _edge(path: str, start: float, step: float) -> Body:
    keys = path.split("/")
    return lambda k: {"change": {"do": "set", "path": keys, "value": round(start - step * k, 5)}}


def _first(table: Table, server: Running) -> None:
    """The very first request of the process, then the other pages for the first time."""
    table.add("page float, first request of the server", 1500, _timed(lambda: server.get("/b/1/float")))


def _after_a_change(table: Table, server: Running) -> None:
    """Each page once after each of 50 changes: no layout of it is known, nothing of it was derived."""
    number = _number(server, 1)
    taken: dict[str, list[float]] = {p: [] for p in PAGES}
    before = cpu_ms(server.process.pid)
    for k in range(50):
        for j, page in enumerate(PAGES):
            change = {"do": "set", "path": ["fittings", "bow-deck", "aft"],
                      "value": 3.02 - 0.0007 * (5 * k + j) - 0.0001}  # fmt: skip
            body = {"base": number, "change": change}
            number = int(server.post("/api/builds/1/changes", body).json()["number"])
            taken[page].append(_timed(partial(server.get, f"/b/1/{page}")))
    spent = (cpu_ms(server.process.pid) - before) / (50 * len(PAGES))
    for page, values in taken.items():
        table.add(f"page {page} after a change, layouts unknown, median", None, median(values))
    every = [v for values in taken.values() for v in values]
    table.add(f"any page after a change, layouts unknown, 95 % of {len(every)}", 80, p95(every))
    table.add("    CPU of the process for a change and a page, mean", None, spent)
    moved = []
    for k in range(40):
        change = {
            "do": "set",
            "path": ["items", "console", "mass", "centre", "0"],
            "value": 2.5 + 0.004 * k,
        }
        number = int(
            server.post("/api/builds/1/changes", {"base": number, "change": change}).json()["number"]
        )
        moved.append(_timed(lambda: server.get("/b/1/float?case=one+at+the+helm")))
    table.add("Float page after one item moved, median of 40", 100, median(moved))


def _drag(table: Table, server: Running, what: str, build: int, body: Body, most: tuple[float, float],
          **shown: str) -> None:  # fmt: skip
    """Previews one after the other as a browser sends them; each derives something new."""
    number, sizes, taken = _number(server, build), [], []
    pid = server.process.pid
    before = cpu_ms(pid)
    for k in range(PREVIEWS):
        sent = {"base": number, "page": "layout", "case": "planned, empty", **shown, **body(k)}

        def ask(sent: dict[str, Any] = sent) -> None:
            answer = server.post(f"/api/builds/{build}/preview", sent)
            sizes.append(answer.num_bytes_downloaded / 1000)

        taken.append(_timed(ask))
    spent = (cpu_ms(pid) - before) / PREVIEWS
    table.add(f"{what}: preview, CPU of the process, mean of {PREVIEWS}", most[0], spent)
    table.add(f"{what}: preview, wall, 95 %", most[1], p95(taken))
    table.add(f"{what}: preview, wall, median", None, median(taken))
    table.add(f"{what}: answer over the wire, median", 10, median(sizes), "kB")


def _people(table: Table, server: Running) -> None:
    """Each drags on a build of his own at five moves a second; a late answer delays his next move."""
    ids = [server.bring_in(demo_plan("sedge-hopper.stirrup.json")) for _ in range(PEOPLE)]
    for build in ids:
        server.get(f"/b/{build}/layout?sel=bow-deck")
    taken: list[float] = []
    errors = itertools.count()

    def one(build: int, turn: int) -> None:
        client = httpx.Client(base_url=server.address, timeout=60, cookies=server.client.cookies)
        body = _edge("fittings/bow-deck/aft", 3.0 - 0.0001 * turn, 0.003)
        begun = time.perf_counter() + turn / (RATE * PEOPLE)
        for k in range(RATE * SECONDS):
            time.sleep(max(0.0, begun + k / RATE - time.perf_counter()))
            sent = {"base": 1, "page": "layout", "sel": "bow-deck", "case": "planned, empty", **body(k)}
            start = time.perf_counter()
            answer = client.post(
                f"/api/builds/{build}/preview", json=sent, headers={"X-CSRF-Token": server.token}
            )
            taken.append((time.perf_counter() - start) * 1000)
            if answer.status_code != 200:
                next(errors)

    people = [threading.Thread(target=one, args=(b, k)) for k, b in enumerate(ids)]
    for person in people:
        person.start()
    for person in people:
        person.join()
    table.add(f"{PEOPLE} people dragging, 95 % of {len(taken)}", 200, p95(taken))
    table.add(f"{PEOPLE} people dragging, median", None, median(taken))
    table.add(f"{PEOPLE} people dragging, errors", 0, next(errors), "")


def _memory(table: Table, server: Running) -> None:
    """What the process holds after many previews, and after many builds were opened."""
    pid = server.process.pid
    number, body = _number(server, 1), _edge("fittings/bow-deck/aft", 3.0, 0.0004)
    for k in range(600):
        server.post(
            "/api/builds/1/preview", {"base": number, "page": "layout", "sel": "bow-deck", **body(k)}
        )
        if k == 99:
            before = rss_mb(pid)
    table.add("memory from the 100th to the 600th preview", 10, rss_mb(pid) - before, "MB")
    plan = demo_plan("teal-mule.stirrup.json")
    for k in range(60):
        build = server.bring_in(plan.model_copy(update={"name": f"Boat {k}"}))
        server.get(f"/b/{build}/layout")
        if k == 9:
            before = rss_mb(pid)
    table.add("memory from the 10th to the 60th build opened", 10, rss_mb(pid) - before, "MB")
    table.add("    memory of the process at the end", None, rss_mb(pid), "MB")


def run(table: Table) -> None:
    """Measure the pages, then the hand in the browser."""
    with running() as server:
        _first(table, server)
        crowd = server.bring_in(crowded_plan())
        server.get(f"/b/{crowd}/layout?sel=deck-bow")
        _drag(
            table, server, "demo", 1, _edge("fittings/bow-deck/aft", 3.0, 0.003), (12, 25), sel="bow-deck"
        )
        _drag(table, server, "80 things", crowd, _edge("fittings/deck-bow/aft", 3.58, 0.0009), (20, 35),
              sel="deck-bow")  # fmt: skip
        hand.run(table, server, crowd)
        _after_a_change(table, server)
        _people(table, server)
        _memory(table, server)
