"""What a hand asks for and when: the drawing that it is in at every step, the others ten times a second,
findings and facts four times, everything when it rests; what is of an earlier step is soft."""

from __future__ import annotations

import itertools
from typing import Any

import pytest
from playwright.sync_api import Page, Route, expect

from tests.boats import DECK, skiff_plan
from tests.browser.test_bodies import crate
from tests.browser.test_hand import EDGE, middle, of_module, settled, soft
from tests.browser.test_two_ways import at, revision
from tests.web.conftest import make_build


@pytest.fixture
def boat(app: Any) -> int:
    return make_build(app, skiff_plan(fittings=[DECK], items=[crate("one", 1.0)]), units="mm")


def drag_at_length(page: Page, start: tuple[float, float]) -> list[dict[str, Any]]:
    """What is asked for while a hand moves for a second and rests at last, and when [ms]."""
    x, y = start
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(1, 55):
        page.mouse.move(x - 2 * k, y)
        page.wait_for_timeout(20)
    with page.expect_response(lambda r: '"pace":"behind"' in (r.request.post_data or "")):
        settled(page)
    page.wait_for_timeout(150)
    asked: list[dict[str, Any]] = page.evaluate("asked")
    return asked


def test_what_comes_behind_is_soft_until_the_hand_rests(address, quiet, boat) -> None:
    page = quiet
    page.goto(f"{address}/b/{boat}/layout?sel=deck")
    held: list[Route] = []
    page.route(
        "**/preview",
        lambda r: held.append(r) if '"pace":"behind"' in (r.request.post_data or "") else r.continue_(),
    )
    x, y = middle(page, EDGE)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 40, y)
    expect(page.locator("#strip .is-open.old")).to_be_visible()
    settled(page)  # the live figures are those of the hand
    expect(page.locator("#strip .is-added.old")).to_have_count(0)
    for _ in range(40):
        if held:
            break
        page.wait_for_timeout(50)
    assert len(held) == 1  # asked once, when the hand rested
    held.pop().continue_()
    expect(page.locator("#strip .is-open.old")).to_have_count(0)
    page.mouse.up()
    revision(page, 2)


def count_steps(page: Page) -> None:
    """What is asked for from here on, and when [ms], in `asked` of the page."""
    page.evaluate(
        """() => {
          const { fetch } = window;
          window.asked = [];
          window.fetch = (where, how) => {
            const { pace, listing, views } = JSON.parse(how?.body ?? "{}");
            if (pace) asked.push({ pace, listing, views, at: performance.now() });
            return fetch(where, how);
          };
        }"""
    )


@pytest.mark.parametrize("grip", ["edge", "body"])
def test_drawings_that_the_hand_is_not_in_are_drawn_ten_times_a_second(address, quiet, boat, grip) -> None:
    page = quiet
    page.goto(f"{address}/b/{boat}/layout" + ("?sel=deck" if grip == "edge" else ""))
    answers: list[Any] = []
    page.on("response", lambda r: r.url.endswith("/preview") and answers.append(r))
    count_steps(page)
    asked = drag_at_length(page, middle(page, EDGE) if grip == "edge" else at(page, 1.0, 0.0))
    live = [a for a in asked if a["pace"] == "live"]
    assert live[0]["views"] is None and len(live) > 5
    last = live[0]["at"]
    for step in asked[1:]:
        whole = step["views"] is None
        assert whole or step["views"] == ["plan"]
        if step["pace"] == "live" and abs(step["at"] - last - 100) > 3:  # clocks are that coarse
            assert whole == (step["at"] - last > 100)
        last = step["at"] if whole else last
    assert all(a["views"] is None for a in asked if a["pace"] == "behind")
    every = {"profile", "plan", "section"}
    assert [set(a.json()["views"]) for a in answers] == [set(a["views"] or every) for a in asked]
    page.mouse.up()
    revision(page, 2)


def test_a_drawing_of_an_earlier_step_is_soft_until_it_is_drawn_again(address, quiet, boat) -> None:
    page = quiet
    page.goto(f"{address}/b/{boat}/layout")
    lost: list[Route] = []
    page.route(
        "**/preview",
        lambda r: lost.append(r) if '"pace":"behind"' in (r.request.post_data or "") else r.continue_(),
    )
    x, y = at(page, 1.0, 0.0)
    page.mouse.move(x, y)
    page.mouse.down()
    with page.expect_response("**/preview"):
        page.mouse.move(x + 20, y)
    page.evaluate("() => { performance.now = () => -50; }")  # no tenth of a second goes by
    with page.expect_response(lambda r: '"views":["plan"]' in (r.request.post_data or "")):
        page.mouse.move(x + 60, y)
    late = page.locator("#views .late")
    # the body itself has been shifted there with the hand
    expect(late).to_have_count(2)
    assert [e.get_attribute("data-slot") for e in late.element_handles()] == ["profile", "section"]
    expect(page.locator(".v-plan.late, .v-plan .late")).to_have_count(0)
    for _ in range(40):
        if lost:
            break
        page.wait_for_timeout(50)
    lost.pop().continue_()
    expect(late).to_have_count(0)
    page.mouse.up()
    revision(page, 2)
    expect(late).to_have_count(0)


@pytest.mark.parametrize("slot", ["profile", "plan"])
def test_where_lines_are_drawn_every_drawing_is_told_at_every_step(address, quiet, boat, slot) -> None:
    """The survey has drawings of its own, which no one asks for by name."""
    page = quiet
    page.goto(f"{address}/b/{boat}/survey")
    answers: list[Any] = []
    page.on("response", lambda r: r.url.endswith("/preview") and answers.append(r))
    count_steps(page)
    grips = page.locator(f'[data-slot="{slot}"] .reading-handle')
    assert grips.count() > 0
    grips.first.scroll_into_view_if_needed()
    box = grips.last.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(1, 12):
        page.mouse.move(x - k / 2, y - k)
        page.wait_for_timeout(20)
    with page.expect_response(lambda r: '"pace":"behind"' in (r.request.post_data or "")):
        settled(page)
    assert page.evaluate("asked.length") > 2 and page.evaluate("asked.every((a) => !a.views)")
    assert {a.status for a in answers} <= {200, 409}  # given up, when the hand has gone on
    page.mouse.up()
    revision(page, 2)


def test_the_list_stands_still_enough_to_be_read_and_ends_as_it_is(address, quiet, boat) -> None:
    """Findings are asked for four times a second while the hand moves, not at every step."""
    page = quiet
    page.goto(f"{address}/b/{boat}/layout?sel=deck")
    answers: list[Any] = []
    page.on("response", lambda r: r.url.endswith("/preview") and answers.append(r))
    count_steps(page)
    asked = drag_at_length(page, middle(page, EDGE))
    listed = [a["at"] for a in asked if a["listing"]]
    assert 2 <= len(listed) < len(asked)
    # what comes behind when the hand rests is always listed
    assert all(a["listing"] for a in asked if a["pace"] == "behind")
    live = [a["at"] for a in asked if a["pace"] == "live" and a["listing"]]
    gaps = [b - a for a, b in itertools.pairwise(live)]
    assert asked[0]["listing"] and gaps and min(gaps) >= 249  # of 250; clocks are that coarse
    bodies = [a.json() for a in answers]
    assert ["findings" in body for body in bodies] == [a["listing"] for a in asked]
    # at rest it is the list of the last answer, and soft no more
    whole = page.evaluate(
        """(entries) => {
          const list = document.createElement("ul");
          list.innerHTML = entries.join("");
          return [...list.children].map((e) => e.textContent.replace(/\\s+/g, " "));
        }""",
        bodies[-1]["findings"],
    )
    there = page.evaluate(
        """() => [...document.querySelectorAll("#findings > *")]
          .map((e) => e.textContent.replace(/\\s+/g, " "))"""
    )
    assert there == whole
    assert page.locator("#findings.behind").count() == 0
    page.mouse.up()
    revision(page, 2)


def test_a_list_that_an_answer_does_not_bring_stays_and_is_soft(address, quiet, boat) -> None:
    page = quiet
    page.goto(f"{address}/b/{boat}/layout?sel=deck")
    seen = of_module(
        page,
        "preview",
        """({ showPreview }) => {
          const place = document.getElementById("findings");
          const out = [];
          for (const findings of [["<li>one</li>"], undefined, ["<li>two</li>"]]) {
            showPreview({ views: {}, strip: "", findings });
            out.push([place.textContent.trim(), place.classList.contains("behind")]);
          }
          return out;
        }""",
    )
    assert seen == [["one", False], ["one", True], ["two", False]]


def test_a_list_that_waited_is_still_soft_when_answers_stay_away(address, quiet, boat) -> None:
    page = quiet
    page.goto(f"{address}/b/{boat}/layout?sel=deck")
    came = 0

    def two(route: Route) -> None:
        nonlocal came
        came += 1
        route.continue_() if came <= 2 else route.abort()

    page.route("**/preview", two)
    x, y = middle(page, EDGE)
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(40):
        page.mouse.move(x - 30 - 3 * k, y)
        page.wait_for_timeout(15)
        if came > 2:
            break
    page.wait_for_timeout(600)
    assert came > 2
    assert soft(page) and page.locator("#findings.behind").count() == 1
    page.unroute("**/preview")
    page.mouse.up()
    revision(page, 2)
    assert page.locator("#findings.behind").count() == 0
