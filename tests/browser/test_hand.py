"""The hand leads: what is dragged is where the pointer is before the server has answered, and a lost or
late answer never leaves a wrong picture or a figure that looks settled."""

from __future__ import annotations

import re
from typing import Any

import pytest
from playwright.sync_api import Page, Route, expect

from tests.boats import DECK, skiff_plan
from tests.browser.test_bodies import centre, crate
from tests.browser.test_two_ways import at, open_layout, revision
from tests.web.conftest import make_build

EDGE = '.v-plan .handle[data-path="fittings/deck/aft"] .grab'


@pytest.fixture
def boat(app: Any) -> int:
    return make_build(app, skiff_plan(fittings=[DECK], items=[crate("one", 1.0)]), units="mm")


def middle(page: Page, selector: str) -> tuple[float, float]:
    box = page.locator(selector).first.bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def held_back(page: Page) -> list[Route]:
    """Answers to previews wait until somebody lets them go."""
    waiting: list[Route] = []
    page.route("**/preview", lambda route: waiting.append(route))
    return waiting


def let_go(page: Page, waiting: list[Route]) -> None:
    """The next answer comes, as soon as somebody asked for one."""
    for _ in range(100):
        if waiting:
            break
        page.wait_for_timeout(50)
    waiting.pop(0).continue_()


def soft(page: Page) -> bool:
    return bool(page.evaluate("document.body.classList.contains('behind')"))


def settled(page: Page) -> None:
    expect(page.locator("body")).not_to_have_class(re.compile(r"\bbehind\b"))


def test_an_edge_goes_with_the_hand_and_the_answer_corrects_it(address, quiet, boat) -> None:
    page = quiet
    page.goto(f"{address}/b/{boat}/layout?sel=deck")
    waiting = held_back(page)
    x, y = middle(page, EDGE)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 20, y)
    page.mouse.move(x - 50, y)
    assert middle(page, EDGE)[0] == pytest.approx(x - 50, abs=1.5)  # within half a step of the fields
    assert soft(page)
    # the answer to the first move is older than the hand: the edge stays with the hand
    let_go(page, waiting)
    page.wait_for_timeout(400)
    assert middle(page, EDGE)[0] == pytest.approx(x - 50, abs=1.5)
    assert soft(page)
    let_go(page, waiting)
    settled(page)
    assert middle(page, EDGE)[0] == pytest.approx(x - 50, abs=12)  # it may have been caught by something
    page.unroute("**/preview")
    page.mouse.up()
    revision(page, 2)


def test_a_body_goes_with_the_hand_in_all_views(address, quiet, boat) -> None:
    page = quiet
    open_layout(page, address, boat)
    waiting = held_back(page)
    shape = '[data-select="one"]'
    before = {v: middle(page, f"svg.view-{v} {shape}") for v in ("plan", "profile")}
    start, end = at(page, 1.0, 0.0), at(page, 1.3, 0.2)
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(start[0] + 10, start[1])
    page.mouse.move(*end)
    right, up = end[0] - start[0], end[1] - start[1]
    plan, profile = (middle(page, f"svg.view-{v} {shape}") for v in ("plan", "profile"))
    assert plan[0] - before["plan"][0] == pytest.approx(right, abs=2)
    assert plan[1] - before["plan"][1] == pytest.approx(up, abs=2)
    # along the boat in the profile too, and not up: the profile has another scale
    assert profile[0] - before["profile"][0] > 0.5 * right
    assert profile[1] == pytest.approx(before["profile"][1], abs=1)
    for route in waiting:
        route.continue_()
    page.unroute("**/preview")
    page.mouse.up()
    revision(page, 2)
    assert centre(page, address, boat, "one")[0] == pytest.approx(1.3, abs=0.02)


def test_answers_that_are_lost_leave_nothing_wrong_on_the_screen(address, quiet, boat) -> None:
    page = quiet
    page.goto(f"{address}/b/{boat}/layout?sel=deck")
    page.route("**/preview", lambda route: route.abort())
    x, y = middle(page, EDGE)
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(1, 6):
        page.mouse.move(x - 10 * k, y)
    assert middle(page, EDGE)[0] == pytest.approx(x - 50, abs=1.5)
    page.wait_for_timeout(300)
    assert soft(page)  # no answer: the figures are still those of before
    page.unroute("**/preview")
    page.mouse.up()
    revision(page, 2)
    settled(page)
    # the stored edge is where it is drawn, also after everything is loaded anew
    drawn = middle(page, EDGE)[0]
    page.reload()
    assert middle(page, EDGE)[0] == pytest.approx(drawn, abs=0.6)


def test_a_drag_that_ends_where_it_began_leaves_the_drawing_as_it_was(address, quiet, boat) -> None:
    page = quiet
    page.goto(f"{address}/b/{boat}/layout?sel=deck")
    x, y = middle(page, EDGE)
    figure = page.locator("#strip .is-added b").inner_text()
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 60, y)
    settled(page)
    assert page.locator("#strip .is-added b").inner_text() != figure
    page.mouse.move(x, y)
    page.mouse.up()
    expect(page.locator("#strip .is-added b")).to_have_text(figure)
    assert middle(page, EDGE)[0] == pytest.approx(x, abs=0.6)
    assert not soft(page)
