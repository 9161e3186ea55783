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


def test_a_window_that_goes_is_not_counted_any_more(two) -> None:
    mine, theirs = two
    theirs.close()
    expect(mine.locator("#here")).to_have_text("", timeout=6000)


def test_the_stream_speaks_plainly_and_a_missing_boat_is_a_404(address, build) -> None:
    with httpx.stream("GET", f"{address}/api/builds/{build}/events", timeout=5) as answer:
        assert answer.headers["content-type"].startswith("text/event-stream")
        lines = answer.iter_lines()
        data = next(line for line in lines if line.startswith("data: "))
        assert json.loads(data.removeprefix("data: ")) == {
            "number": 1,
            "words": "made for a test",
            "here": 1,
        }
    assert httpx.get(f"{address}/api/builds/99999/events").status_code == 404
