"""Somebody who has read nothing places the whole inside of an open boat: by keyboard, and by pointer.

How long that takes is reckoned by keystroke-level model (S. K. Card, T. P. Moran, A. Newell, Comm. ACM 23,
1980): a key 0.28 s, pointing 1.1, a button 0.1, a decision 1.35. The time of the page is on top.
"""

import time
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from stirrup.core.hull.model import QuickStart
from stirrup.core.plan.start import new_plan
from stirrup.exchange.buildfile import parse
from tests.boats import derive
from tests.web.conftest import make_build

THIRD = 1 / 3  # of what is promised; the rest is for what one thinks over
KEY_S, POINT_S, BUTTON_S, MIND_S = 0.28, 1.1, 0.1, 1.35
# what it is called by somebody, and what the palette makes of it
WANTED = [
    ("outboard", "outboard"), ("floor", "Floor 1"), ("bow deck", "Deck 1"), ("stern deck", "Deck 2"),
    ("hatch", "Hatch 1"), ("hatch", "Hatch 2"), ("hatch", "Hatch 3"), ("hatch", "Hatch 4"),
    ("console", "console"), ("seat", "helm seat"), ("seat", "helm seat 2"), ("livewell", "livewell"),
    ("battery", "battery"),
]  # fmt: skip
# for the pointer: where on the plan, of her length and half breadth; hatches two in each deck
SPOTS = [
    (0.02, 0.0), (0.35, 0.0), (0.75, 0.0), (0.05, 0.0), (0.72, 0.3), (0.72, -0.3), (0.12, 0.35),
    (0.12, -0.35),
    (0.50, -0.35), (0.38, -0.35), (0.38, 0.35), (0.25, 0.0), (0.12, 0.5),
]  # fmt: skip


def opened(page: Page, address: str, app: Any) -> str:
    build = make_build(app, new_plan("First", QuickStart()))
    page.goto(f"{address}/b/{build}/layout")
    return str(build)


def arrived(page: Page, number: int, title: str) -> float:
    """Waits for a thing to be on the plan and chosen; how long that took [s]."""
    begin = time.monotonic()
    expect(page.locator("#saved")).to_contain_text(f"revision {number + 2} · saved")
    expect(page.locator("#sheet h2").first).to_have_text(title)
    return time.monotonic() - begin


def judged(page: Page, address: str, build: str, spent: float, promised: float) -> None:
    """All of it is there and can be built; the hands need less than the promise."""
    plan = parse(page.request.get(f"{address}/b/{build}/file").text())
    kinds = sorted([f.kind for f in plan.fittings] + [i.form for i in plan.items])
    assert kinds == sorted(["floor", "raised_deck", "raised_deck", *["hatch"] * 4, "outboard", "console",
                            "seat", "seat", "battery"])  # fmt: skip
    assert len(plan.tanks) == 1
    assert not [f for f in derive(plan).findings if f.level == "stop" or f.code == "CANNOT-BUILD"]
    assert spent < promised


@pytest.mark.slow
def test_by_keyboard(app: Any, address: str, quiet: Page) -> None:
    page = quiet
    build, spent = opened(page, address, app), 0.0
    for number, (what, title) in enumerate(WANTED):
        page.keyboard.press("a")
        page.keyboard.type(what)
        page.keyboard.press("Enter")
        page.keyboard.press("Enter")
        spent += 2 * MIND_S + (len(what) + 4) * KEY_S + arrived(page, number, title)
        page.keyboard.press("Escape")
    judged(page, address, build, spent, 15 * 60 * THIRD)


@pytest.mark.slow
def test_by_pointer(app: Any, address: str, quiet: Page) -> None:
    page = quiet
    build, spent = opened(page, address, app), 0.0
    low, high = -0.06, 4.4
    for number, ((what, title), (share, side)) in enumerate(zip(WANTED, SPOTS, strict=True)):
        page.get_by_role("button", name="Place…").click()
        entry = page.locator("#palette b").get_by_text(_ENTRY[what], exact=True)
        entry.first.click()
        view = page.locator("svg.view-plan")
        box = view.bounding_box()
        data = view.evaluate("s => ({...s.dataset, w: s.viewBox.baseVal.width})")
        assert box is not None
        pixel = box["width"] / float(data["w"])
        x = (low + share * (high - low)) * float(data["scale"]) + float(data["ox"])
        y = float(data["oy"]) - side * 0.85 * float(data["scale"])
        page.mouse.click(box["x"] + x * pixel, box["y"] + y * pixel)
        spent += 3 * (MIND_S + POINT_S + BUTTON_S) + arrived(page, number, title)
    judged(page, address, build, spent, 12 * 60 * THIRD)


_ENTRY = {"outboard": "Outboard on the transom", "floor": "Floor", "bow deck": "Raised deck",
          "stern deck": "Raised deck", "hatch": "Drop-in hatch", "console": "Console",
          "seat": "Seat on a pedestal", "livewell": "Livewell", "battery": "Battery"}  # fmt: skip
