"""Prices and the budget on the real page."""

from playwright.sync_api import expect

from tests.boats import DECK, HATCH, skiff_plan
from tests.web.conftest import make_build


def test_a_price_is_taken_on_leaving_its_field_and_a_bad_one_is_explained_there(
    app, address, quiet
) -> None:
    page, build = quiet, make_build(app, skiff_plan(fittings=[DECK, HATCH]))
    page.goto(f"{address}/b/{build}/money")
    field = page.get_by_label("Price of foam gasket 12 x 5 mm, self-adhesive")
    field.fill("cheap")
    field.press("Tab")
    expect(page.locator("#price-gasket-12-error")).to_contain_text("read “cheap” as a price; accepted")
    expect(field).to_have_value("cheap")
    field.fill("9.10")
    field.press("Enter")
    row = page.locator("tr", has_text="foam gasket")
    # one pack of 5 m holds the lid's edge
    expect(row.locator("td").last).to_have_text("$\u00a09.10")
    expect(row).to_contain_text("your price")


def test_the_budget_is_judged_at_once(app, address, quiet) -> None:
    page, build = quiet, make_build(app, skiff_plan(fittings=[DECK]))
    page.goto(f"{address}/b/{build}/money")
    page.get_by_label("Budget").fill("100")
    page.get_by_label("Budget").press("Enter")
    expect(page.locator("#saved")).to_contain_text("revision 2 · saved")
    expect(page.locator(".facts.big")).to_contain_text("Over by")
