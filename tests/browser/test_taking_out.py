"""Taking out what carries something: the page asks what becomes of each guest, and does as told."""

from __future__ import annotations

from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.boats import DECK, HATCH, skiff_plan
from tests.browser.test_two_ways import open_layout, revision
from tests.web.conftest import make_build

STEP = {"kind": "step_box", "id": "step", "name": "Step", "on": "deck", "x": 4.1, "length": 0.2,
        "width": 0.2, "height": 0.1}  # fmt: skip
OTHER = {**DECK, "id": "aft-deck", "name": "Aft deck", "mark": "D2", "aft": 0.3, "fore": 1.5}


@pytest.fixture
def boat(app: Any) -> int:
    return make_build(app, skiff_plan(fittings=[DECK, HATCH, STEP, OTHER]), units="mm")


def things(page: Page, address: str, build: int) -> dict[str, Any]:
    return {f["id"]: f for f in page.request.get(f"{address}/b/{build}/file").json()["fittings"]}


def ask(page: Page, address: str, build: int) -> None:
    """Choose the deck and take it out by key, up to the question."""
    page.goto(f"{address}/b/{build}/layout?sel=deck")
    page.wait_for_function("performance.getEntriesByName('stirrup-usable').length > 0")
    page.keyboard.press("Delete")
    expect(page.locator("#guests")).to_be_visible()


def test_each_guest_goes_its_own_way_and_one_undo_brings_all_back(address, quiet, boat) -> None:
    page = quiet
    before = page.request.get(f"{address}/b/{boat}/file").json()["fittings"]
    ask(page, address, boat)
    dialog = page.locator("#guests")
    expect(dialog).to_contain_text("Hatch")
    # a hatch has to lie in some deck: staying behind without one is no choice; a box may stay
    hatch, step = dialog.get_by_label("Hatch"), dialog.get_by_label("Step")
    assert hatch.locator("option").all_inner_texts() == ["take it out too", "move to Aft deck"]
    assert "leave it where it is" in step.locator("option").all_inner_texts()
    hatch.select_option(label="take it out too")
    step.select_option(label="leave it where it is")
    dialog.get_by_role("button", name="Take it out").click()
    revision(page, 2)
    left = things(page, address, boat)
    assert set(left) == {"step", "aft-deck"} and left["step"].get("on") is None
    page.keyboard.press("Control+z")
    revision(page, 3)
    assert page.request.get(f"{address}/b/{boat}/file").json()["fittings"] == before


def test_leaving_it_in_changes_nothing_and_escape_does_the_same(address, quiet, boat) -> None:
    page = quiet
    for answer in ("Leave it in", "Escape"):
        ask(page, address, boat)
        if answer == "Escape":
            page.keyboard.press("Escape")
        else:
            page.get_by_role("button", name=answer).click()
        expect(page.locator("#guests")).to_be_hidden()
        page.wait_for_timeout(200)
        assert set(things(page, address, boat)) == {"deck", "hatch", "step", "aft-deck"}


def test_what_carries_nothing_goes_without_a_question(address, quiet, boat) -> None:
    page = quiet
    open_layout(page, address, boat)
    page.goto(f"{address}/b/{boat}/layout?sel=aft-deck")
    page.wait_for_function("performance.getEntriesByName('stirrup-usable').length > 0")
    page.get_by_role("button", name="Take it out").first.click()
    revision(page, 2)
    assert "aft-deck" not in things(page, address, boat)
