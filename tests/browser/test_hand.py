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


def of_module(page: Page, name: str, words: str) -> Any:
    """What a function of a page's own module gives."""
    return page.evaluate(
        f"""async () => {{
          const {{ href }} = document.querySelector('link[href*="/js/{name}.js"]');
          return await ({words})(await import(href));
        }}"""
    )


def soft(page: Page) -> bool:
    return bool(page.evaluate("document.getElementById('strip').classList.contains('behind')"))


def settled(page: Page) -> None:
    expect(page.locator("#strip")).not_to_have_class(re.compile(r"\bbehind\b"))


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
    assert soft(page) and page.locator("#findings.behind").count() == 1
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


def test_beside_a_field_that_follows_stands_the_same_in_the_other_unit(app, address, quiet) -> None:
    boat = make_build(app, skiff_plan(fittings=[DECK]), units="ft-in")
    page = quiet
    page.goto(f"{address}/b/{boat}/layout?sel=deck")
    field = page.locator('form.field[data-path="fittings/deck/aft"]')

    def told() -> tuple[float, float]:
        """What the field says and what stands beside it, both in millimetres."""
        said = field.locator("input[name=text]").input_value()
        feet, inches = said.removesuffix('"').split("' ")
        whole, _, part = inches.partition("-")
        value = float(whole) + (float(part.split("/")[0]) / float(part.split("/")[1]) if part else 0.0)
        other = re.sub(r"\s", "", field.locator(".read-as").inner_text())
        return (int(feet) * 12 + value) * 25.4, float(other)

    first = told()
    assert first[0] == pytest.approx(first[1], abs=1)
    x, y = middle(page, EDGE)
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(1, 9):
        page.mouse.move(x + 8 * k, y)
    settled(page)
    now = told()
    assert now[0] > first[0] + 50 and now[0] == pytest.approx(now[1], abs=1)
    page.mouse.up()
    revision(page, 2)
    assert told() == now


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


# what the page does to what it is told: where the Tab key stops, where one looks, what is open
CLEAN = """const clean = (root) => {
  for (const e of [root, ...root.querySelectorAll("*")])
    for (const name of ["tabindex", "style", "open"]) e.removeAttribute(name);
  return root.innerHTML.replace(/>\\s+</g, "><").trim();
};"""
DRAWN = f"""() => {{
  {CLEAN}
  const drawn = [...document.querySelectorAll("[data-slot]")].map((place) =>
    [place.dataset.slot, clean(place.querySelector("svg").cloneNode(true))]);
  const told = ["strip", "findings"].map((id) => [id, clean(document.getElementById(id).cloneNode(true))]);
  return Object.fromEntries([...drawn, ...told]);
}}"""
SHIFTED = """() => [...document.querySelectorAll("#views [data-select], #views .handle")]
  .filter((e) => e.style.translate).map((e) => e.dataset.select ?? e.dataset.path)"""
WHOLE = f"""async ([build, body]) => {{
  {CLEAN}
  const token = document.querySelector("meta[name=csrf]").content;
  const answer = await fetch(`/api/builds/${{build}}/preview`, {{
    method: "POST", body: JSON.stringify(body),
    headers: {{ "Content-Type": "application/json", "X-CSRF-Token": token }},
  }});
  const data = await answer.json();
  const parsed = (html) => {{
    const place = document.createElement("div");
    place.innerHTML = html;
    return place;
  }};
  const drawn = Object.entries(data.views).map(([slot, svg]) =>
    [slot, clean(parsed(svg).firstElementChild)]);
  const told = [["strip", clean(parsed(data.strip))], ["findings", clean(parsed(data.findings.join("")))]];
  return Object.fromEntries([...drawn, ...told]);
}}"""


@pytest.mark.parametrize("grip", ["edge", "body"])
def test_after_many_steps_the_drawing_is_the_one_drawn_at_once(address, quiet, boat, grip) -> None:
    page = quiet
    page.goto(f"{address}/b/{boat}/layout" + ("?sel=deck" if grip == "edge" else ""))
    asked: list[dict[str, Any]] = []
    page.on("request", lambda r: r.url.endswith("/preview") and asked.append(r.post_data_json))
    x, y = middle(page, EDGE) if grip == "edge" else at(page, 1.0, 0.0)
    page.mouse.move(x, y)
    page.mouse.down()
    # to and fro, some steps quicker than the answers; back over the start too
    for k, right in enumerate((-20, -45, 10, -3, -60, -61, 35, 0, -30)):
        page.mouse.move(x + right, y + (right / 2 if grip == "body" else 0))
        if k % 3:
            page.wait_for_timeout(60)
    with page.expect_response(lambda r: '"pace":"behind"' in (r.request.post_data or "")):
        settled(page)
    page.wait_for_timeout(150)
    last = {k: v for k, v in asked[-1].items() if k not in ("has", "hand", "step")}
    assert asked[-1]["pace"] == "behind" and set(asked[-1]["has"]) == {"profile", "plan", "section"}
    assert page.evaluate(DRAWN) == page.evaluate(WHOLE, [boat, last])
    assert page.locator("#strip .old, #findings .old").count() == 0
    # everything stands where it is drawn: nothing is shifted any more
    assert page.evaluate(SHIFTED) == []
    page.mouse.up()
    revision(page, 2)


def test_an_answer_takes_every_shift_back(address, quiet, boat) -> None:
    """Also of what is not in the drawing just now: it may come back where it was drawn."""
    page = quiet
    page.goto(f"{address}/b/{boat}/layout?sel=deck")
    left = of_module(
        page,
        "hand",
        """({ lead, answered }) => {
          const handle = document.querySelector('.v-plan .handle[data-path="fittings/deck/aft"]');
          lead({ path: "fittings/deck/aft", value: Number(handle.dataset.value) - 0.3 });
          const led = handle.style.translate;
          handle.remove();
          answered({ path: "fittings/deck/aft", value: 0 }, ["plan"]);
          return [led, handle.style.translate];
        }""",
    )
    assert left[0] not in ("", "0px") and left[1] == ""


def test_what_becomes_something_else_keeps_nothing_of_what_it_was_but_itself(address, quiet, boat) -> None:
    page = quiet
    page.goto(f"{address}/b/{boat}/layout?sel=deck")
    left = of_module(
        page,
        "redraw",
        """({ say }) => {
          const place = document.createElement("div");
          place.innerHTML = '<p class="a" title="old" tabindex="0">1</p><details open><b>x</b></details>';
          const [was, box] = place.children;
          say(place, '<p class="b">2</p><details><b>y</b></details>');
          return [place.innerHTML, place.children[0] === was, place.children[1] === box];
        }""",
    )
    # where the Tab key stops and what is open are the page's own
    told = '<p class="b" tabindex="0">2</p><details open=""><b>y</b></details>'
    assert left == [told, True, True]
