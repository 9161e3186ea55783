"""A made-up build of eighty things: four decks, twenty hatches, fifty items, six tanks.

Previews through HTTP, choosing, opening the page and panning with all of it on the page.
"""

from __future__ import annotations

import itertools
import re
import time
from typing import Any

import httpx2 as httpx
from playwright.sync_api import Page, sync_playwright

from bench.measure import Table, median, p95, rounds, times_ms
from stirrup.core.plan.model import Plan
from stirrup.demo.seed import demo_plan
from stirrup.exchange.buildfile import dump, from_data

ROUNDS = 4
DRAWS = 60

DECKS = (
    ("bow", 3.60, 4.62, 0.46),
    ("mid-fore", 2.75, 3.50, 0.42),
    ("mid-aft", 1.50, 2.20, 0.40),
    ("aft", 0.04, 0.86, 0.45),
)
FORMS = ("battery", "cooler", "locker", "box", "seat")


def _hatches() -> list[dict[str, Any]]:
    out: list[dict[str, Any]] = []
    for name, aft, fore, _ in DECKS:
        for k in range(5):
            x, y = (aft + fore) / 2 + 0.16 * (-1) ** k * (k < 4), -0.4 + 0.2 * k
            out.append(
                {
                    "kind": "hatch",
                    "id": f"hatch-{name}-{k}",
                    "name": f"Hatch {name} {k}",
                    "mark": f"H{len(out) + 1}",
                    "deck": f"deck-{name}",
                    "x": round(x, 3),
                    "y": round(y * (0.5 if name == "bow" else 1), 3),
                    "clear_length": 0.14,
                    "clear_width": 0.12,
                }
            )
    return out


def crowded_plan() -> Plan:
    """The demo's hull with all of it; a few things in one another's way, as in life."""
    data: dict[str, Any] = demo_plan("sedge-hopper.stirrup.json").model_dump(mode="json")
    data["name"] = "Crowded"
    data["fittings"] = [
        {
            "kind": "raised_deck",
            "id": f"deck-{name}",
            "name": f"Deck {name}",
            "mark": f"D{k + 1}",
            "aft": aft,
            "fore": fore,
            "height": height,
            "spacing": 0.35,
        }
        for k, (name, aft, fore, height) in enumerate(DECKS)
    ] + _hatches()
    items = [i for i in data["items"] if i["group"] == "motor"][:2]
    # a neat floor of boxes low enough to stand under the decks, a few of them turned
    for k in range(50 - len(items)):
        row, column = divmod(k, 12)
        low = 0.10 + 0.02 * (row in (0, 3)) + max(0.0, 0.32 * (column - 8) * 0.1)
        items.append(
            {
                "id": f"item-{k}",
                "name": f"thing {k}",
                "form": FORMS[k % 5],
                "size": [0.22, 0.20, 0.14],
                "stage": "added",
                "turn": 10.0 * (k % 4 == 3),
                "mass": {
                    "value": 4.0 + k % 5,
                    "centre": [
                        round(0.25 + 0.32 * column, 3),
                        round(-0.48 + 0.32 * row, 3),
                        round(low + 0.07, 3),
                    ],
                },
            }
        )
    data["items"] = items
    data["tanks"] += [
        {
            "id": f"tank-{k}",
            "name": f"tank {k}",
            "size": [0.3, 0.3, 0.1],
            "floor_centre": [1.8 + 0.35 * k, 0.0, 0.06],
            "liquid": "fresh water",
        }
        for k in range(4)
    ]
    return from_data(data)


# one frame after the event handler has run: what the eye waits for
HIGHLIGHT = """async (ids) => {
  const out = [];
  for (const id of ids) {
    const thing = document.querySelector(`svg.view-plan [data-select="${id}"]`);
    const box = thing.getBoundingClientRect();
    const at = {
      bubbles: true, clientX: box.x + box.width / 2, clientY: box.y + box.height / 2,
      pointerId: 1, button: 0, pointerType: "mouse",
    };
    const hit = thing.querySelector("path") ?? thing;
    const start = performance.now();
    hit.dispatchEvent(new PointerEvent("pointerdown", at));
    hit.dispatchEvent(new PointerEvent("pointerup", at));
    const lit = document.querySelector(`svg.view-plan [data-select="${id}"].chosen`) !== null;
    await new Promise((done) => requestAnimationFrame(() => setTimeout(done)));
    if (!lit) throw new Error(`${id} was not lit at once`);
    out.push(performance.now() - start);
    await new Promise((done) => document.addEventListener("stirrup:renewed", done, { once: true }));
    await new Promise((done) => setTimeout(done, 250));
  }
  return out;
}"""
PAN = """async (frames) => {
  const svg = document.querySelector("svg.view-plan");
  const box = svg.getBoundingClientRect();
  const rest = { bubbles: true, pointerId: 1, button: 0, pointerType: "mouse" };
  const fire = (type, clientX, clientY) =>
    svg.dispatchEvent(new PointerEvent(type, { ...rest, clientX, clientY }));
  const [x, y] = [box.x + 30, box.y + 30];
  fire("pointerdown", x, y);
  const times = [];
  let last = null;
  for (let k = 1; k <= frames; k += 1) {
    fire("pointermove", x + 60 * Math.sin(k / 9), y + 20 * Math.cos(k / 7));
    const now = await new Promise((done) => requestAnimationFrame(done));
    if (last !== null) times.push(now - last);
    last = now;
  }
  fire("pointerup", x, y);
  return times;
}"""


def bring_in(client: httpx.Client, token: str) -> int:
    """The crowded build in the yard; its number."""
    answer = client.post(
        "/builds/import",
        data={"csrf_token": token},
        files={"file": ("crowded.stirrup.json", dump(crowded_plan()).encode())},
    )
    found = re.search(r"/b/(\d+)/", answer.headers.get("location", str(answer.url)))
    if not found:
        raise RuntimeError(answer.text[:300])
    return int(found[1])


def http(table: Table, client: httpx.Client, token: str) -> int:
    """Previews of an edge and of a body."""
    build = bring_in(client, token)
    path = f"/b/{build}/layout?sel=deck-bow"
    client.get(path)
    taken = times_ms(lambda: client.get(path), 15)
    table.add("page of 80 things, whole request, median", None, median(taken))
    count = itertools.count()

    def drag(asked: Any) -> list[float]:
        out = []
        for _ in range(DRAWS):
            body = {"base": 1, "arrange": asked(next(count)), "sel": "deck-bow", "case": "one at the helm"}
            start = time.perf_counter()
            answer = client.post(f"/api/builds/{build}/preview", json=body, headers={"X-CSRF-Token": token})
            out.append((time.perf_counter() - start) * 1000)
            if answer.status_code != 200:
                raise RuntimeError(answer.text[:300])
        return out

    def edge(k: int) -> dict[str, Any]:
        return {"act": "edge", "path": "fittings/deck-bow/aft", "value": 3.58 - 0.0009 * k, "near": 0.0}

    def body(k: int) -> dict[str, Any]:
        return {"act": "move", "things": ["item-5"], "x": 0.001 * (k % 180), "y": 0.0004 * k, "near": 0.008}

    rounds(table, "80 things: preview of an edge, HTTP", 60, lambda: drag(edge), ROUNDS)
    rounds(table, "80 things: preview of a body with snaps, HTTP", 60, lambda: drag(body), ROUNDS)
    return build


def browser(table: Table, address: str, build: int) -> None:
    """Opening, choosing, panning."""
    with sync_playwright() as p:
        chromium = p.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--disable-gpu", "--disable-dev-shm-usage"]
        )
        page = chromium.new_page(viewport={"width": 1280, "height": 800})
        opened = [_open(page, f"{address}/b/{build}/layout") for _ in range(9)]
        table.add("80 things: page usable after, median of 9", 600, median(opened))
        table.add("80 things: page usable after, slowest", None, max(opened))
        lit = page.evaluate(HIGHLIGHT, [f"item-{k}" for k in range(0, 40, 2)])
        table.add("80 things: choose to highlight, 95 % of 20", 50, p95(lit))
        page.goto(f"{address}/b/{build}/layout")
        page.keyboard.press("+")
        page.keyboard.press("+")
        frames = page.evaluate(PAN, 240)
        table.add(
            "80 things: frames while panning, median each second",
            60,
            1000 / median(frames),
            "1/s",
            least=True,
        )
        table.add("80 things: time between frames, 95 %", None, p95(frames))
        chromium.close()


def _open(page: Page, url: str) -> float:
    page.goto("about:blank")
    page.goto(url)
    page.wait_for_function("performance.getEntriesByName('stirrup-usable').length > 0")
    return float(page.evaluate("performance.getEntriesByName('stirrup-usable')[0].startTime"))
