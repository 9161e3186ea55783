"""The database goes and comes back while somebody works: nothing typed is lost, pages heal."""

from collections.abc import Iterator

import pytest

from stirrup.store.session import KNOWN
from tests.web.conftest import make_build


@pytest.fixture
def away() -> Iterator[None]:
    """What the watcher says when the database does not answer."""
    KNOWN.away = "the database does not answer"
    yield
    KNOWN.away = ""


def number(app, build: int) -> int:
    from stirrup.store import builds
    from stirrup.store.shop import the_shop

    return builds.load(the_shop().id, build).number


def test_a_change_waits_and_is_stored_once_the_database_is_back(app, address, page, request) -> None:
    build = make_build(app)
    page.goto(f"{address}/b/{build}/layout?sel=deck")
    request.getfixturevalue("away")
    field = page.locator('[data-path="fittings/deck/aft"] [name=text]')
    field.fill("2900")
    field.press("Enter")
    page.wait_for_function("() => document.getElementById('saved').textContent.includes('change waits')")
    KNOWN.away = ""
    page.wait_for_function(
        "() => document.getElementById('saved').textContent.includes('revision 2')", timeout=8000
    )
    assert number(app, build) == 2
    # and only once
    page.wait_for_timeout(2500)
    assert number(app, build) == 2


def test_a_page_asked_for_meanwhile_comes_by_itself(app, address, page, away) -> None:
    build = make_build_while_away(app)
    page.goto(f"{address}/b/{build}/layout")
    assert page.locator("h1").inner_text() == "Just a moment"
    KNOWN.away = ""
    page.wait_for_selector("#views svg.view-plan", timeout=8000)


def make_build_while_away(app) -> int:
    said, KNOWN.away = KNOWN.away, ""
    try:
        return make_build(app)
    finally:
        KNOWN.away = said


def test_a_form_sent_meanwhile_keeps_what_was_typed_and_goes_by_itself(app, address, page) -> None:
    page.goto(f"{address}/measure")
    page.locator("#name").fill("Reed Runner")
    page.locator("#q-length").fill("14 ft 2")
    page.wait_for_timeout(400)
    KNOWN.away = "the database does not answer"
    try:
        page.get_by_role("button", name="Start with this boat").click()
        page.wait_for_selector("#away-form")
        kept = {t.get_attribute("name"): t.input_value() for t in page.locator("#away-form textarea").all()}
        assert kept["name"] == "Reed Runner" and kept["length"] == "14 ft 2"
    finally:
        KNOWN.away = ""
    page.wait_for_url("**/survey", timeout=10_000)
    assert page.locator(".boat-name").inner_text().startswith("Reed Runner")
