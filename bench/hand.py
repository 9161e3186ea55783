"""Speeds of the hand, in Debian's Chromium: from the pointer to the frame that shows it.

A frame counts as presented when the callback of the next one runs: what was drawn is on its way to the
screen by then. Nothing is quicker than one frame by this clock.
"""

from __future__ import annotations

import time
from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import Page, sync_playwright

from bench.measure import Table, median, p95
from bench.server import Running

RATE_S = 1 / 60
FIRST_VISIT = ("/", "/b/1/survey", "/b/1/layout?sel=bow-deck", "/b/1/cuts", "/b/1/money")

# every pointer move and every answer, each with the time until the frame after it is presented
CLOCK = """() => {
  const presented = (since, into, extra) =>
    requestAnimationFrame(() =>
      requestAnimationFrame(() => into.push([performance.now() - since, extra()])));
  globalThis.bench = { moves: 0, edge: [], strip: [], wrong: 0 };
  document.addEventListener("pointermove", (event) => {
    bench.moves += 1;
    presented(event.timeStamp, bench.edge, () => {
      const grip = document.querySelector('.v-plan .handle[data-path="PATH"] .grab');
      const box = grip.getBoundingClientRect();
      return Math.abs(box.x + box.width / 2 - event.clientX);
    });
  });
  document.addEventListener("stirrup:answered", (event) =>
    presented(event.detail, bench.strip, () => 0));
}"""
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


# an edge taken, moved at a rate and let go where it was taken; Alt keeps snaps away
PULL = """async ([x, y, moves, every]) => {
  const grip = document.elementFromPoint(x, y);
  const fire = (type, clientX) => {
    const target = type === "pointerdown" ? grip : document.body;
    const at = { bubbles: true, clientX, clientY: y, altKey: true, pointerId: 1, pointerType: "mouse" };
    target.dispatchEvent(new PointerEvent(type, at));
  };
  fire("pointerdown", x);
  const begun = performance.now();
  for (let k = 0; k < moves; k += 1) {
    // 300 pixels to and fro by half a pixel, never where it was a moment ago
    const turn = k % 600;
    fire("pointermove", x - 4 - 0.5 * (turn < 300 ? turn : 600 - turn));
    const due = begun + (k + 1) * every - performance.now();
    await new Promise((done) => setTimeout(done, Math.max(0, due)));
  }
  fire("pointerup", x);
}"""


@contextmanager
def chromium() -> Iterator[Page]:
    """A page of the usual size."""
    with sync_playwright() as p:
        browser = p.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--disable-gpu", "--disable-dev-shm-usage"]
        )
        yield browser.new_page(viewport={"width": 1280, "height": 800})
        browser.close()


def _drag(table: Table, page: Page, what: str, promised: float, path: str, moves: int) -> None:
    """An edge at 60 moves a second, snaps kept away by Alt, so that every move asks for a derive."""
    grab = page.locator(f'.v-plan .handle[data-path="{path}"] .grab')
    box = grab.bounding_box()
    if box is None:
        raise RuntimeError(f"{path} is not on the page")
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 3
    page.evaluate(CLOCK.replace("PATH", path))
    page.mouse.move(x, y)
    begun = time.perf_counter()
    page.evaluate(PULL, [x, y, moves, 1000 * RATE_S])
    rate = moves / (time.perf_counter() - begun)
    page.wait_for_timeout(800)
    found = page.evaluate("bench")
    edge = [ms for ms, _ in found["edge"]]
    table.add(f"{what}: moves a second that were made", None, rate, "1/s")
    table.add(f"{what}: pointer to moved edge, presented, 95 %", 20, p95(edge))
    table.add(f"{what}: the same, median", None, median(edge))
    away = [px for _, px in found["edge"]]
    table.add(f"{what}: edge off the pointer in that frame, 95 %", None, p95(away), "px")
    strip = [ms for ms, _ in found["strip"]]
    table.add(f"{what}: pointer to corrected strip, presented, 95 %", promised, p95(strip))
    table.add(f"{what}: the same, median of {len(strip)}", None, median(strip))
    table.add(f"{what}: moves superseded by a newer one", None, moves - len(strip), "")


def _first_visit(table: Table, page: Page, address: str) -> None:
    browser = page.context.browser
    if browser is None:
        raise RuntimeError("no browser")
    for path in FIRST_VISIT:
        context = browser.new_context()
        other = context.new_page()
        total: list[float] = []
        session = context.new_cdp_session(other)
        session.send("Network.enable")
        session.on("Network.loadingFinished", lambda e, total=total: total.append(e["encodedDataLength"]))
        other.goto(address + path)
        other.wait_for_timeout(1500)  # what comes behind the page too
        table.add(f"page {path}, over the wire the first time", 250, sum(total) / 1000, "kB")
        context.close()


def _crowded(table: Table, page: Page, address: str, build: int) -> None:
    opened = [_open(page, f"{address}/b/{build}/layout") for _ in range(9)]
    table.add("80 things: page usable after, median of 9", 600, median(opened))
    table.add("80 things: page usable after, slowest", None, max(opened))
    lit = page.evaluate(HIGHLIGHT, [f"item-{k}" for k in range(0, 40, 2)])
    table.add(f"80 things: choose to highlight, slowest of {len(lit)}", 50, max(lit))
    page.goto(f"{address}/b/{build}/layout")
    page.keyboard.press("+")
    page.keyboard.press("+")
    frames = page.evaluate(PAN, 240)
    table.add("80 things: frames while panning, median each second", 60, 1000 / median(frames), "1/s",
              least=True)  # fmt: skip
    table.add("80 things: time between frames, 95 %", None, p95(frames))


def _open(page: Page, url: str) -> float:
    page.goto("about:blank")
    page.goto(url)
    page.wait_for_function("performance.getEntriesByName('stirrup-usable').length > 0")
    return float(page.evaluate("performance.getEntriesByName('stirrup-usable')[0].startTime"))


def run(table: Table, server: Running, crowd: int) -> None:
    """Measure the hand; crowd: number of the build of 80 things."""
    with chromium() as page:
        _first_visit(table, page, server.address)
        page.goto(f"{server.address}/b/1/layout?sel=bow-deck&case=one+at+the+helm")
        _drag(table, page, "demo", 60, "fittings/bow-deck/aft", 3000)
        page.goto(f"{server.address}/b/{crowd}/layout?sel=deck-bow")
        _drag(table, page, "80 things", 80, "fittings/deck-bow/aft", 5400)
        _crowded(table, page, server.address, crowd)


def fittings(table: Table, server: Running, build: int) -> None:
    """The same hand in the build of eighty fittings."""
    with chromium() as page:
        page.goto(f"{server.address}/b/{build}/layout?sel=deck-D2")
        _drag(table, page, "80 fittings", 80, "fittings/deck-D2/aft", 5400)
