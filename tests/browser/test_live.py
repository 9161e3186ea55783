"""Two people at one boat: each sees what the other stored, and keeps what he is typing."""

import json
import time

import httpx2 as httpx
import pytest
from playwright.sync_api import Page, expect

from tests.boats import DECK, HATCH, skiff_plan
from tests.web.conftest import make_build

AFT = '[data-path="fittings/deck/aft"] input[name=text]'


@pytest.fixture
def build(app) -> int:
    return make_build(app, skiff_plan(fittings=[DECK, HATCH]))


@pytest.fixture
def two(address, quiet, build, context) -> tuple[Page, Page]:
    other = context.new_page()
    for page in (quiet, other):
        page.goto(f"{address}/b/{build}/layout?sel=deck")
    for page in (quiet, other):
        expect(page.locator("#here")).to_have_text("2 windows here", timeout=12000)
    return quiet, other


def test_a_stored_change_comes_in_within_two_seconds(two) -> None:
    mine, theirs = two
    field = mine.locator(AFT)
    field.fill("2800")
    field.press("Enter")
    expect(mine.locator("#saved")).to_contain_text("revision 2")
    start = time.monotonic()
    expect(theirs.locator(AFT)).to_have_value("2 800 mm")
    assert time.monotonic() - start < 2.0
    expect(theirs.locator("#saved")).to_have_text(
        "revision 2 · from another window: Deck: aft edge, from transom 3 000 mm to 2 800 mm"
    )


def test_the_own_undo_is_nobody_else_s_although_its_news_comes_before_its_answer(two) -> None:
    mine, theirs = two
    mine.locator(AFT).fill("2800")
    mine.locator(AFT).press("Enter")
    expect(theirs.locator("#saved")).to_contain_text("revision 2")
    mine.evaluate(
        """() => {
          globalThis.said = [];
          new MutationObserver(() => said.push(document.getElementById("saved").textContent)).observe(
            document.body, { subtree: true, childList: true, characterData: true });
        }"""
    )
    held = []
    mine.route("**/undo", lambda route: held.append((route, route.fetch())))
    mine.locator("body").press("Control+z")
    # the other window knows, so the stream has told this one as well
    expect(theirs.locator("#saved")).to_contain_text("revision 3")
    mine.wait_for_timeout(500)
    ((route, answer),) = held
    route.fulfill(response=answer)
    expect(mine.locator("#saved")).to_have_text("revision 3 · saved")
    expect(mine.locator(AFT)).to_have_value("3 000 mm")
    assert not [text for text in mine.evaluate("said") if "another window" in text]


def test_what_is_being_typed_stays_when_somebody_else_stores(two) -> None:
    mine, theirs = two
    typing = theirs.locator('[data-path="fittings/deck/fore"] input[name=text]')
    typing.fill("44")
    field = mine.locator(AFT)
    field.fill("2800")
    field.press("Enter")
    expect(theirs.locator("#saved")).to_contain_text("revision 2")
    expect(typing).to_have_value("44")
    expect(typing).to_be_focused()
    theirs.keyboard.type("00")
    theirs.keyboard.press("Enter")
    expect(mine.locator('[data-path="fittings/deck/fore"] input[name=text]')).to_have_value("4 400 mm")
    expect(mine.locator(AFT)).to_have_value("2 800 mm")


def test_what_was_typed_can_still_be_undone_after_somebody_elses_change(two) -> None:
    """The field stays the element that it is, and with it what the browser remembers of it."""
    mine, theirs = two
    typing = theirs.locator('[data-path="fittings/deck/fore"] input[name=text]')
    before = typing.input_value()
    typing.select_text()
    typing.press_sequentially("4")
    theirs.evaluate("globalThis.was = document.activeElement")
    mine.locator(AFT).fill("2800")
    mine.locator(AFT).press("Enter")
    expect(theirs.locator("#saved")).to_contain_text("revision 2")
    assert theirs.evaluate("globalThis.was === document.activeElement")
    theirs.keyboard.press("Control+z")
    expect(typing).to_have_value(before)


def named(browser, address: str, build: int, name: str) -> Page:
    """A window in a browser of its own, whose owner has given a name."""
    page = browser.new_context().new_page()
    page.goto(f"{address}/b/{build}/history")
    page.locator("#sheet .own-name input[name=name]").fill(name)
    page.locator("#sheet .own-name button").click()
    page.goto(f"{address}/b/{build}/layout?sel=deck")
    return page


def test_people_who_gave_a_name_see_one_another_and_who_changed_what(browser, address, build) -> None:
    ines, bo = named(browser, address, build, "Ines"), named(browser, address, build, "Bo <b>")
    expect(ines.locator("#here")).to_have_text("with Bo <b>", timeout=12000)
    expect(bo.locator("#here")).to_have_text("with Ines", timeout=12000)
    field = ines.locator(AFT)
    field.fill("2800")
    field.press("Enter")
    expect(bo.locator("#saved")).to_contain_text("from Ines: Deck: aft edge")
    ines.locator("#who-is-here").click()
    expect(ines.locator("#who-list")).to_have_text("2 windows show this boat; besides you: Bo <b>.")
    bo.goto(f"{address}/b/{build}/history")
    expect(bo.locator("#revision-2 .author")).to_have_text("Ines")
    expect(bo.locator("#revision-1 .author")).to_have_count(0)
    for page in (ines, bo):
        page.context.close()


def test_what_is_typed_into_any_form_stays_when_somebody_else_stores(browser, address, build) -> None:
    ines, bo = named(browser, address, build, "Ines"), named(browser, address, build, "Bo")
    bo.goto(f"{address}/b/{build}/history")
    name = bo.locator("#revision-1 input[name=name]")
    name.fill("as fou")
    expect(bo.locator("#here")).to_have_text("with Ines", timeout=12000)
    field = ines.locator(AFT)
    field.fill("2800")
    field.press("Enter")
    expect(bo.locator("#revision-2")).to_be_visible()
    expect(name).to_have_value("as fou")
    expect(name).to_be_focused()
    bo.keyboard.type("nd")
    bo.keyboard.press("Enter")
    expect(bo.locator("#sheet .things").first).to_contain_text("as found")
    for page in (ines, bo):
        page.context.close()


def test_a_refused_entry_is_a_draft_again(two) -> None:
    mine, theirs = two
    theirs.keyboard.press("e")
    exact = theirs.locator("#exact-text")
    exact.fill("about there")
    exact.press("Enter")
    expect(theirs.locator("#exact-error")).to_contain_text("about there")
    field = mine.locator(AFT)
    field.fill("2800")
    field.press("Enter")
    expect(theirs.locator("#saved")).to_contain_text("revision 2")
    expect(theirs.locator(AFT)).to_have_value("2 800 mm")
    expect(exact).to_have_value("about there")


def test_a_window_that_goes_is_not_counted_any_more(two) -> None:
    mine, theirs = two
    theirs.close()
    expect(mine.locator("#here")).to_have_text("", timeout=6000)


def test_the_stream_speaks_plainly_and_a_missing_boat_is_a_404(address, build) -> None:
    with httpx.stream("GET", f"{address}/api/builds/{build}/events", timeout=5) as answer:
        assert answer.headers["content-type"].startswith("text/event-stream")
        lines = answer.iter_lines()
        data = next(line for line in lines if line.startswith("data: "))
        state = json.loads(data.removeprefix("data: "))
        assert state.pop("laid") >= 0  # layouts that were told of since the process began
        assert state == {
            "number": 1,
            "words": "made for a test",
            "author": "",
            "here": 1,
            "others": [],
        }
    assert httpx.get(f"{address}/api/builds/99999/events").status_code == 404
