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


def test_ticks_in_a_shop_without_network_are_kept_and_sent_once(app, address, quiet) -> None:
    page, build = quiet, make_build(app, skiff_plan(fittings=[DECK, HATCH]))
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{address}/b/{build}/money/shopping")
    rows = page.locator(".shop-list li")
    names = [rows.nth(k).locator("b").first.inner_text() for k in (0, 2)]
    page.context.set_offline(True)
    for name in names:
        row = page.locator(".shop-list li").filter(has_text=name).first
        row.locator("[data-tick]").first.click()
        expect(row).to_have_class("cut")
    expect(page.locator("#saved")).to_contain_text("2 changes wait")
    page.context.set_offline(False)
    expect(page.locator("#saved")).to_contain_text("revision 3 · saved", timeout=10_000)
    plan = page.request.get(f"{address}/b/{build}/file").json()
    bought = plan["buying"]["purchases"]
    assert sorted(p["name"] for p in bought) == sorted(names)
    assert all(p["received"] == p["packs"] and p["paid"] for p in bought)
    # ticked lines stay where they were, and a tick can be taken back
    taken = page.locator(".shop-list li.cut").filter(has_text=names[0]).get_by_role("button")
    expect(taken).to_have_attribute("aria-pressed", "true")
    taken.click()
    expect(page.locator("#saved")).to_contain_text("revision 4 · saved")
    plan = page.request.get(f"{address}/b/{build}/file").json()
    assert [p["name"] for p in plan["buying"]["purchases"]] == names[1:]


def test_a_price_list_of_five_thousand_rows_is_taken_over(app, address, quiet, tmp_path) -> None:
    lines = ["number,name,pack,price"] + [f"N-{k},part {k},1,{k % 90 + 0.5}" for k in range(5000)]
    file = tmp_path / "list.csv"
    file.write_text("\n".join(lines))
    page = quiet
    page.goto(f"{address}/shops")
    page.get_by_label("Name").fill("Long List")
    page.get_by_role("button", name="Add the shop").click()
    page.get_by_label("Table").set_input_files(file)
    page.get_by_role("button", name="Look at it").click()
    page.get_by_role("button", name="Take 5000 prices over").click()
    expect(page.locator("tr", has_text="Long List").locator("td.num")).to_contain_text("5000")
    page.get_by_placeholder("find: rivet, latch, a number").fill("part 4321")
    page.get_by_role("button", name="Find").click()
    expect(page.locator("#prices ~ table tbody tr")).to_have_count(1)
    page.get_by_text("The shop, and how things come from there").click()
    page.get_by_role("button", name="Take out Long List and its prices").click()
    expect(page.get_by_text("Long List")).to_have_count(0)
