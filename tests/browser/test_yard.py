"""The yard in the browser: what there was no time for comes by itself."""

from playwright.sync_api import expect

from stirrup.web.pages import yard
from tests.boats import DECK, skiff_plan
from tests.web.conftest import make_build


def test_cards_that_were_not_at_hand_come_one_after_another(quiet, address, app, monkeypatch) -> None:
    monkeypatch.setattr(yard, "AT_ONCE_S", 0.0)
    boats = [make_build(app, skiff_plan(name=f"Late {k}", fittings=[DECK])) for k in range(3)]
    quiet.goto(address)
    for build in boats:
        row = quiet.locator("li.boat", has=quiet.locator(f'a[href="/b/{build}/layout"]'))
        expect(row).to_contain_text("Wants attention", timeout=30_000)
        expect(row.locator(".boat-drawing svg")).to_have_count(2)
        expect(row).not_to_contain_text("Being worked out")
    expect(quiet.locator("[data-card]")).to_have_count(0)
    # what came is as good as what was there: its buttons work
    last = quiet.locator("li.boat", has_text="Late 2").last
    last.get_by_role("button", name="Copy").click()
    expect(quiet.locator("h1, strong.boat-name").first).to_contain_text("Late 2")
