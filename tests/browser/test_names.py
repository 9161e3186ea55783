"""Words on the drawings of the layout: measured as they are painted, none over another."""

import pytest
from playwright.sync_api import Page

from stirrup.demo.seed import FILES, demo_plan
from tests.browser.measuring import fitted
from tests.web.conftest import make_build

BOXES = """(css) => [...document.querySelectorAll(css)]
  .filter((t) => t.getClientRects().length && t.textContent.trim())
  .map((t) => [t.textContent, t.getBoundingClientRect()])
  .map(([words, r]) => [words, r.left, r.top, r.right, r.bottom])"""
SHRINK = 2.0  # px: a line box is higher than its letters


def overlapping(page: Page, css: str) -> list[tuple[str, str]]:
    boxes = page.evaluate(BOXES, css)
    assert boxes
    out = []
    for k, (a, ax0, ay0, ax1, ay1) in enumerate(boxes):
        for b, bx0, by0, bx1, by1 in boxes[k + 1 :]:
            wide = min(ax1, bx1) - max(ax0, bx0)
            high = min(ay1, by1) - max(ay0, by0)
            if wide > SHRINK and high > SHRINK:
                out.append((a, b))
    return out


WORDS = "#views .view-plan .names text, #views .view-plan .dim-text"


@pytest.mark.parametrize("name", FILES)
@pytest.mark.parametrize("window", [(1280, 800), (1920, 1080), (390, 844)], indirect=True)
def test_no_name_in_the_plan_lies_over_another(app, address, window, name) -> None:
    build = make_build(app, demo_plan(name), "ft-in")
    wrong = []
    for chosen in ("", "bow-deck", "bow-motor"):
        window.goto(f"{address}/b/{build}/layout?sel={chosen}")
        fitted(window)
        wrong += [(chosen, *pair) for pair in overlapping(window, WORDS)]
    assert wrong == []


def test_every_thing_of_the_demo_is_named_in_the_plan(app, address, page) -> None:
    plan = demo_plan(FILES[0])
    build = make_build(app, plan)
    page.goto(f"{address}/b/{build}/layout")
    told = page.evaluate(BOXES, "#views .view-plan .names text")
    words = [t[0] for t in told]
    for item in plan.items:
        if item.stage != "removed" and item.mass.value > 4:
            assert item.title.split(",")[0] in words
    for fitting in plan.fittings:
        assert any(w.split(" ")[0] == fitting.mark for w in words)
