"""A layout that is being worked out comes into the page by itself."""

from playwright.sync_api import expect

from stirrup.store import layouts
from stirrup.store.models import Layout
from stirrup.store.queue import STAFF
from stirrup.store.shop import the_shop
from tests.boats import DECK, skiff_plan
from tests.web.conftest import make_build


def test_the_layout_comes_by_itself_and_takes_nothing_out_of_hands(app, address, quiet) -> None:
    page = quiet
    STAFF.there = True
    try:
        build = make_build(app, skiff_plan(fittings=[{**DECK, "fore": 4.1533}]))
        page.goto(f"{address}/b/{build}/cuts")
        told = page.get_by_text("Do not cut by this one")
        expect(told).to_be_visible()
        expect(page.locator("#strip .is-cost b")).to_contain_text("about")
        page.wait_for_timeout(3000)  # the page listens once it has settled itself
        expect(told).to_be_visible()
        with app.state.database.connection_context():
            shop, waiting = the_shop().id, list(Layout.select().where(Layout.result.is_null()))
        for row in waiting:
            layouts.work_out(shop, row.digest)
        expect(told).to_have_count(0, timeout=3000)
        expect(page.locator("#strip .is-cost b")).not_to_contain_text("about")
    finally:
        STAFF.there = False
