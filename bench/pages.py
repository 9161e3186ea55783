"""Speeds of the pages through HTTP: after changes, while dragging, many people at once, memory."""

from __future__ import annotations

import re
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any

import httpx2 as httpx

from bench import hand
from bench.boats import crowded_plan, fitted_plan
from bench.measure import Table, median, p95
from bench.server import Running, cpu_ms, rss_mb, running
from stirrup.demo.seed import demo_plan
from stirrup.front import processes

PAGES = ("survey", "layout?sel=bow-deck", "float", "cuts", "money")
PREVIEWS = 240
PEOPLE, RATE, SECONDS = 20, 5, 15
REST_S, LIST_S, OTHERS_S = 0.1, 0.25, 0.1  # see preview.js
Body = Callable[[int], dict[str, Any]]


@dataclass
class NowAndThen:
    """What a page asks for so often, and no oftener, while something is dragged."""

    every_s: float
    last: float = 0.0

    def due(self) -> bool:
        """Whether it is asked for now."""
        now = time.perf_counter()
        if now - self.last < self.every_s:
            return False
        self.last = now
        return True


class Asks:
    """What a page asks for at a step of a hand in its plan: findings and all drawings now and then."""

    def __init__(self) -> None:
        self.lists, self.others = NowAndThen(LIST_S), NowAndThen(OTHERS_S)

    def now(self, pace: str = "live") -> dict[str, Any]:
        """Fields of a preview."""
        listing, every = (pace == "behind" or one.due() for one in (self.lists, self.others))
        return {"pace": pace, "listing": listing, **({} if every else {"views": ["plan"]})}


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
    page = f"/b/{build}/layout?case=planned, empty&" + "&".join(f"{k}={v}" for k, v in shown.items())
    has = server.marks(page)
    if len(has) != 3:
        raise RuntimeError(f"{page}: drawings {has}")
    before = cpu_ms(pid)
    asks = Asks()
    for k in range(PREVIEWS):
        sent = {"base": number, "page": "layout", "case": "planned, empty", **asks.now(),
                "hand": "bench", "step": k + 1, "has": has, **shown, **body(k)}  # fmt: skip

        def ask(sent: dict[str, Any] = sent) -> None:
            answer = server.post(f"/api/builds/{build}/preview", sent)
            sizes.append(answer.num_bytes_downloaded / 1000)

        taken.append(_timed(ask))
    spent = (cpu_ms(pid) - before) / PREVIEWS
    table.add(f"{what}: preview, CPU of the process, mean of {PREVIEWS}", most[0], spent)
    table.add(f"{what}: preview, wall, 95 %", most[1], p95(taken))
    table.add(f"{what}: preview, wall, median", None, median(taken))
    table.add(f"{what}: answer over the wire, median", 10, median(sizes), "kB")


class Person:
    """Somebody who drags on a build of his own as a browser does: a step is asked for when it is due and
    the last one is answered; what comes behind when he has waited for a tenth of a second."""

    def __init__(self, server: Running, build: int, turn: int) -> None:
        self.build, self.turn = build, turn
        self.has = server.marks(f"/b/{build}/layout?case=planned, empty&sel=bow-deck")
        self.client = httpx.Client(base_url=server.address, timeout=60, cookies=server.client.cookies)
        self.headers = {"X-CSRF-Token": server.token}
        self.body = _edge("fittings/bow-deck/aft", 3.0 - 0.0001 * turn, 0.003)
        self.taken: list[float] = []
        self.followed: list[float] = []
        self.codes: list[int] = []
        self.asked = 0
        self.asks = Asks()

    def ask(self, k: int, pace: str) -> httpx.Response:
        self.asked += 1
        sent = {"base": 1, "page": "layout", "sel": "bow-deck", "case": "planned, empty",
                **self.asks.now(pace), "hand": f"p{self.turn}", "step": self.asked, "has": self.has,
                **self.body(k)}  # fmt: skip
        return self.client.post(f"/api/builds/{self.build}/preview", json=sent, headers=self.headers)

    def behind(self, k: int) -> None:
        self.followed.append(self.ask(k, "behind").status_code)

    def drag(self, begun: float) -> None:
        """Every move, each a step; a late answer delays the next one."""
        followers = []
        for k in range(RATE * SECONDS):
            due = begun + self.turn / (RATE * PEOPLE) + k / RATE
            time.sleep(max(0.0, due - time.perf_counter()))
            start = time.perf_counter()
            self.codes.append(self.ask(k, "live").status_code)
            self.taken.append((time.perf_counter() - start) * 1000)
            if due + 1 / RATE - time.perf_counter() > REST_S:
                time.sleep(REST_S)
                followers.append(threading.Thread(target=self.behind, args=(k,)))
                followers[-1].start()
        for one in followers:
            one.join()


def _people(table: Table, server: Running, what: str) -> None:
    """Each drags on a build of his own at five moves a second; a late answer delays his next move."""
    ids = [server.bring_in(demo_plan("sedge-hopper.stirrup.json")) for _ in range(PEOPLE)]
    persons = [Person(server, build, turn) for turn, build in enumerate(ids)]
    begun = time.perf_counter() + 0.2
    threads = [threading.Thread(target=p.drag, args=(begun,)) for p in persons]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    spent = time.perf_counter() - begun
    taken = [ms for p in persons for ms in p.taken]
    codes = [c for p in persons for c in p.codes]
    followed = [c for p in persons for c in p.followed]
    table.add(f"{what}: 95 % of {len(taken)} steps", 200, p95(taken))
    table.add("    median", None, median(taken))
    table.add("    answered each second", RATE * PEOPLE, len(taken) / spent, "1/s", least=True)
    table.add("    followed by what comes behind", None, followed.count(200), "")
    bad = [c for c in codes if c != 200] + [c for c in followed if c not in (200, 409)]
    table.add("    errors", 0, len(bad), "")


def _memory(table: Table, server: Running) -> None:
    """What the process holds after many previews, and after many builds were opened."""
    pid = server.process.pid
    number, body = _number(server, 1), _edge("fittings/bow-deck/aft", 3.0, 0.0004)
    for k in range(600):
        server.post(
            "/api/builds/1/preview",
            {
                "base": number,
                "page": "layout",
                "sel": "bow-deck",
                "pace": "live" if k % 2 else "behind",
                **body(k),
            },
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
    kept = server.get("/api/remembered").json()
    table.add("    builds kept at hand", None, kept["builds"], "")
    table.add("    in these, by their weight", None, kept["bytes"] / 1e6, "MB")
    found = 100 * kept["hits"] / max(1, kept["hits"] + kept["misses"])
    table.add("    looks that found what they looked for", None, found, "%")


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
        _people(table, server, "20 people dragging, one process")
        _memory(table, server)
    people(table)


def fittings(table: Table) -> None:
    """Eighty mixed fittings: a deck's edge and a box moved, over HTTP and in the browser."""
    with running() as server:
        build = server.bring_in(fitted_plan())
        server.get(f"/b/{build}/layout?sel=deck-D2")
        _drag(table, server, "80 fittings, an edge", build, _edge("fittings/deck-D2/aft", 9.4, 0.0009),
              (20, 35), sel="deck-D2")  # fmt: skip
        _drag(table, server, "80 fittings, a box", build, _edge("fittings/box-30/x", 4.6, 0.0009), (20, 35),
              sel="box-30")  # fmt: skip
        hand.fittings(table, server, build)


def people(table: Table) -> None:
    """Twenty people on as many processes as cores, as `./run serve` starts them."""
    count = processes(None)
    if count < 2:
        table.add("20 people dragging, several processes: no haproxy here, or one core", None, 0, "")
        return
    with running("serve") as server:
        _people(table, server, f"20 people dragging, {count} processes")
