"""Float on the real page: the map comes in, people are dragged, moves are applied."""

import re

import pytest
from playwright.sync_api import Page, expect

from stirrup.demo.seed import FILES, demo_plan
from tests.boats import DECK, skiff_plan
from tests.web.conftest import make_build

CREW = [
    {"mass": 85.0, "at": [1.0, 0.0, 0.0], "posture": "standing", "settle": True},
    {"mass": 70.0, "at": [2.0, 0.3, 0.0], "posture": "standing", "settle": True},
]


@pytest.fixture
def build(app) -> int:
    return make_build(app, skiff_plan(fittings=[DECK], cases=[{"name": "two up", "crew": CREW}]))


def crew_of(page: Page, address: str, build: int) -> list[dict]:
    return page.request.get(f"{address}/b/{build}/file").json()["cases"][0]["crew"]


def test_the_map_streams_in_behind_the_page_and_follows_its_choice(address, quiet, build) -> None:
    page = quiet
    page.goto(f"{address}/b/{build}/float?case=two up")
    expect(page.locator("#where")).to_have_attribute("data-done", re.compile("kind=freeboard"))
    assert page.locator("#map-cells path").count() > 5
    expect(page.locator("#map-words")).not_to_be_empty()
    page.locator("#map-kind").select_option("list")
    expect(page.locator("#where")).to_have_attribute("data-done", re.compile("kind=list"))
    expect(page.locator("#key-list")).to_be_visible()
    page.locator("#map-mass").fill("heavy")
    page.locator("#map-mass").press("Enter")
    expect(page.locator("#map-problem")).to_contain_text("heavy")


def test_a_person_is_dragged_onto_the_deck_and_stands_on_it(address, quiet, build) -> None:
    page = quiet
    page.goto(f"{address}/b/{build}/float?case=two up")
    svg = page.locator("svg.view-where")
    pixels = svg.evaluate(
        "s => s.getBoundingClientRect().width / s.viewBox.baseVal.width * s.dataset.scale"
    )
    grip = page.locator('.crew-grip[data-person="0"] .grab-dot').bounding_box()
    assert grip is not None
    x, y = grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2
    figure = page.locator(".strip .figure").nth(1)
    trim = figure.inner_text()
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(1, 9):
        page.mouse.move(x + 2.6 * pixels * k / 8, y)
    # while he is held the strip follows, and nothing is stored
    expect(figure).not_to_have_text(trim)
    assert crew_of(page, address, build)[0]["at"][0] == 1.0
    page.mouse.up()
    expect(page.locator("#saved")).to_contain_text("revision 2")
    assert crew_of(page, address, build)[0]["at"][0] == pytest.approx(3.6, abs=0.05)
    page.locator("#group-case summary").first.click()
    expect(page.locator("#group-case legend").first).to_contain_text("stands on Deck")


def test_a_person_dropped_beside_the_boat_goes_back(address, quiet, build) -> None:
    page = quiet
    page.goto(f"{address}/b/{build}/float?case=two up")
    grip = page.locator('.crew-grip[data-person="0"] .grab-dot').bounding_box()
    assert grip is not None
    x, y = grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 260, steps=6)
    page.mouse.up()
    expect(page.locator("#person-problem")).to_have_text("person 1: there is nothing to stand on there")
    expect(page.locator('.crew-grip[data-person="0"]')).to_have_attribute("data-y", "0.0000")
    assert crew_of(page, address, build)[0]["at"] == [1.0, 0.0, 0.0]


def test_arrow_keys_move_a_person_by_a_hand_and_by_half_a_metre(address, quiet, build) -> None:
    page = quiet
    page.goto(f"{address}/b/{build}/float?case=two up")
    page.locator('.crew-grip[data-person="1"]').focus()
    page.keyboard.press("Shift+ArrowRight")
    expect(page.locator("#saved")).to_contain_text("revision 2")
    assert crew_of(page, address, build)[1]["at"][0] == pytest.approx(2.5, abs=1e-6)
    expect(page.locator('.crew-grip[data-person="1"]')).to_be_focused()
    page.keyboard.press("ArrowUp")
    expect(page.locator("#saved")).to_contain_text("revision 3")
    assert crew_of(page, address, build)[1]["at"][1] > 0.3


def test_least_moves_are_found_applied_and_taken_back(app, address, quiet) -> None:
    build = make_build(app, demo_plan(FILES[0]))
    page = quiet
    page.goto(f"{address}/b/{build}/float?case=planned, empty")
    page.locator("#t-trim").fill("0.3")
    page.locator("#t-list").fill("0")
    page.get_by_role("button", name="Find").click()
    page.get_by_role("button", name="Apply moves").click()
    expect(page.locator("#saved")).to_contain_text("revision 2")
    expect(page.locator(".v-side figcaption")).to_contain_text(re.compile(r"trim (0\.[34]° aft)"))
    # the moves end where their slides do: upright to a tenth of a degree
    expect(page.locator(".v-stern figcaption")).to_contain_text(re.compile(r"list (upright|0\.1° stbd)"))
    page.keyboard.press("Control+z")
    expect(page.locator("#saved")).to_contain_text("revision 3")
    expect(page.locator(".v-side figcaption")).to_contain_text("trim 0.7° aft")


def test_weigh_it_turns_a_guess_into_a_weighed_value(app, address, quiet) -> None:
    build = make_build(app, demo_plan(FILES[0]))
    page = quiet
    page.goto(f"{address}/b/{build}/float/ledger?edit=console")
    page.get_by_label("The scale shows").fill("26.4 kg")
    page.keyboard.press("Enter")
    expect(page.locator("#saved")).to_contain_text("revision 2")
    expect(page.get_by_label("Known how")).to_have_value("weighed")
    # in the row as well, and what cannot be read is said there
    page.get_by_role("link", name="all lines").click()
    page.wait_for_url(re.compile("ledger(?!.*edit)"), wait_until="load")
    value = page.locator('td [data-path="items/console/mass/value"] input[name=text]')
    value.fill("a lot")
    value.press("Enter")
    expect(page.locator(".ledger .field-error:visible")).to_contain_text("a lot")


def test_a_case_that_goes_over_says_so(app, address, quiet) -> None:
    build = make_build(app, demo_plan(FILES[1]))
    page = quiet
    page.goto(f"{address}/b/{build}/float?case=everyone to one rail")
    expect(page.get_by_role("alert").first).to_contain_text(re.compile("capsize|goes over|sinks"))
