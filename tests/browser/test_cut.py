"""In the shop: parts ticked as they are cut, on a telephone, and an edge looked at true scale."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.boats import DECK, HATCH, skiff_plan
from tests.web.conftest import make_build


@pytest.fixture
def build(app) -> int:
    return make_build(app, skiff_plan(fittings=[DECK, HATCH]))


def test_a_tick_stays_where_the_finger_was_and_after_a_reload(app, address, quiet, build) -> None:
    page: Page = quiet
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{address}/b/{build}/cuts")
    rows = page.locator(".cut-rows li")
    row = rows.nth(6)
    tick = row.get_by_role("button")
    tick.scroll_into_view_if_needed()
    expect(tick).to_have_text(re.compile("Not yet"))
    tick.click()
    page.wait_for_url(re.compile("/cuts#"))
    expect(tick).to_have_attribute("aria-pressed", "true")
    # the row is on the screen still
    box = row.bounding_box()
    assert box is not None and 0 <= box["y"] < 844
    page.reload()
    expect(tick).to_have_attribute("aria-pressed", "true")
    expect(page.locator(".cut-head").first).to_contain_text("1 of")
    # and taken back
    tick.click()
    expect(page.locator('[aria-pressed="true"]')).to_have_count(0)


def test_an_edge_at_true_scale_is_as_large_as_it_is(app, address, quiet, build) -> None:
    page: Page = quiet
    page.goto(f"{address}/b/{build}/layout?sel=hatch")
    page.locator("#group-details summary").click()
    drawn = page.locator(".true-scale svg").first
    expect(drawn).to_be_visible()
    box = drawn.bounding_box()
    assert box is not None
    # 86 mm at 96 pixels to the inch
    assert box["width"] == pytest.approx(86 / 25.4 * 96, abs=1.5)
    # a lid of 2.5 mm is 9.4 pixels thick on the page
    lid = drawn.locator("path.panel").evaluate_all(
        "paths => paths.map((p) => { const b = p.getBoundingClientRect(); return [b.width, b.height]; })"
    )
    thin = 2.5 / 25.4 * 96
    assert sum(abs(h - thin) < 2 for _, h in lid) >= 2  # skin and lid
    expect(page.locator(".true-scale")).to_have_count(2)
    expect(page.locator(".true-scale").first).to_contain_text("latch from the lid's edge")
