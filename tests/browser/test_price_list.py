"""A price list of a shop is brought in: looked at, taken over with how far it is, and there afterwards."""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from stirrup.core.money.suppliers import Supplier
from stirrup.store import suppliers
from stirrup.store.shop import the_shop


@pytest.fixture
def shop(app: Any) -> Iterator[str]:
    with app.state.database.connection_context():
        suppliers.keep_supplier(the_shop().id, Supplier(id="b-list", name="B List", freight=Decimal(3)))
    yield "b-list"
    with app.state.database.connection_context():
        suppliers.forget_supplier(the_shop().id, "b-list")


def test_a_price_list_tells_how_far_it_is(address: str, quiet: Page, shop: str) -> None:
    page = quiet
    page.goto(f"{address}/shops?shop={shop}")
    rows = "".join(f"no {k},thing {k},{k}.50\n" for k in range(1, 3001))
    content = ("number,name,price\n" + rows).encode()
    page.set_input_files("#table", {"name": "list.csv", "mimeType": "text/csv", "buffer": content})
    page.get_by_role("button", name="Look at it").click()
    expect(page.locator("section.preview h2")).to_contain_text("3001 rows")
    page.wait_for_load_state()
    page.evaluate("""() => {
      window.said = [];
      new MutationObserver(() => window.said.push(document.querySelector('[data-far] span').textContent))
        .observe(document.querySelector('[data-far]'), {childList: true, subtree: true});
      addEventListener('pagehide', () => sessionStorage.setItem('said', JSON.stringify(window.said)));
    }""")
    page.get_by_role("button", name="Take 3000 prices over").click()
    expect(page.locator("#prices")).to_have_text("What B List asks")
    expect(page.locator("section.preview")).to_have_count(0)
    said = page.evaluate("() => JSON.parse(sessionStorage.getItem('said'))")
    assert said[0] == "reading …" and "1000 of 3000 kept" in said
    expect(page.locator(".chosen-row")).to_contain_text("3000")


def test_an_answer_that_does_not_come_is_told(address: str, quiet: Page, shop: str) -> None:
    page = quiet
    page.goto(f"{address}/shops?shop={shop}")
    content = b"name,price\nthing,2\n"
    page.set_input_files("#table", {"name": "list.csv", "mimeType": "text/csv", "buffer": content})
    page.get_by_role("button", name="Look at it").click()
    expect(page.locator("section.preview")).to_be_visible()
    # before its module is there the form goes the plain way, and the browser tells of its own
    page.wait_for_load_state()
    page.route("**/prices/take", lambda route: route.abort())
    take = page.get_by_role("button", name="Take 1 price over")
    take.click()
    expect(page.locator("[data-far]")).to_contain_text("send it again, nothing is taken twice")
    page.unroute("**/prices/take")
    take.click()
    expect(page.locator(".chosen-row td.num")).to_contain_text("1")
