"""Shopping lists, orders and shops, as the pages send them."""

from __future__ import annotations

import html
import json
import re
from decimal import Decimal

import pytest

from stirrup.core.money.suppliers import Offer, Supplier
from stirrup.store import builds, suppliers
from stirrup.store.shop import catalogue, the_shop
from tests.web.conftest import make_build

HATCH_LATCH = "latch-50"


@pytest.fixture
def own(app):
    """A build, and two shops for it that are gone afterwards."""
    build = make_build(app)
    with app.state.database.connection_context():
        shop = the_shop().id
        before = {s.id for s in suppliers.suppliers(shop)}
    yield build
    with app.state.database.connection_context():
        for s in suppliers.suppliers(shop):
            if s.id not in before:
                suppliers.forget_supplier(shop, s.id)


def plan_of(app, build):
    with app.state.database.connection_context():
        return builds.load(the_shop().id, build).plan


def base_of(site, build: int) -> str:
    found = re.search(r'data-number="(\d+)"', site.client.get(f"/b/{build}/money/shopping").text)
    assert found
    return found[1]


def send(site, build: int, tail: str, **what: str):
    return site.form(f"/b/{build}/money/{tail}", {"base": base_of(site, build), **what})


def keep(app, supplier: Supplier, *prices: tuple[str, str]) -> None:
    with app.state.database.connection_context():
        shop = the_shop().id
        suppliers.keep_supplier(shop, supplier)
        suppliers.keep_offers(shop, [
            Offer(supplier=supplier.id, item=i, name=i, price=Decimal(p), on="2026-03-02")
            for i, p in prices
        ])  # fmt: skip


def test_a_tick_is_a_change_that_any_window_may_send(app, site, own) -> None:
    page = site.client.get(f"/b/{own}/money/shopping").text
    assert "for H1" in page
    ticks = [json.loads(html.unescape(t)) for t in re.findall(r'data-change="([^"]+)"', page)]
    change = next(t for t in ticks if t["changes"][0]["value"]["item"] == HATCH_LATCH)
    base = int(base_of(site, own))
    body = {"base": base, "change": change, "token": "tick-1"}
    assert site.post(f"/api/builds/{own}/changes", body).status_code == 200
    # sent again after a lost network it is the same tick
    assert site.post(f"/api/builds/{own}/changes", body).status_code == 200
    # another window that shows the same line is told
    again = site.post(f"/api/builds/{own}/changes", {"base": base, "change": change})
    assert (again.status_code, again.json()["code"]) == (409, "stale")
    (bought,) = plan_of(app, own).buying.purchases
    assert (bought.item, bought.received, bought.paid) == (HATCH_LATCH, bought.packs, True)
    page = site.client.get(f"/b/{own}/money/shopping").text
    assert f'data-remove="buying/purchases/{bought.id}"' in page


def test_a_whole_list_is_ordered_with_its_freight(app, site, own) -> None:
    keep(app, Supplier(id="t-yard", name="T Yard", freight=Decimal(12)), (HATCH_LATCH, "1.00"))
    page = site.client.get(f"/b/{own}/money/shopping").text
    assert "T Yard" in page and "No other choice among your shops is cheaper" in page
    assert send(site, own, "shopping", shop="T Yard").status_code == 303
    made = plan_of(app, own).buying.purchases
    assert [(p.item, p.price, p.paid) for p in made][-1] == (None, Decimal("12.00"), False)
    assert all(p.supplier == "T Yard" for p in made)
    gone = send(site, own, "shopping", shop="T Yard")
    assert gone.status_code == 422 and "not on the list any more" in gone.text


def test_a_pin_takes_a_thing_elsewhere_and_back(app, site, own) -> None:
    keep(app, Supplier(id="t-a", name="T Aft"), (HATCH_LATCH, "1.00"))
    keep(app, Supplier(id="t-b", name="T Bow"), (HATCH_LATCH, "1.50"))
    heads = re.compile(r"<h2>\s*(T \w+)")
    assert heads.findall(site.client.get(f"/b/{own}/money/shopping").text) == ["T Aft"]
    send(site, own, "pin", item=HATCH_LATCH, supplier="t-b")
    page = site.client.get(f"/b/{own}/money/shopping").text
    assert heads.findall(page) == ["T Bow"] and "Here because you chose it" in page
    send(site, own, "pin", item=HATCH_LATCH, supplier="")
    assert heads.findall(site.client.get(f"/b/{own}/money/shopping").text) == ["T Aft"]


def test_of_two_who_note_the_same_delivery_one_is_told(app, site, own) -> None:
    send(site, own, "shopping", shop="boatyard or chandler", key=HATCH_LATCH)
    (p,) = plan_of(app, own).buying.purchases
    base = base_of(site, own)
    both = [site.form(f"/b/{own}/money/came", {"base": base, "id": p.id, "packs": "1"}) for _ in range(2)]
    assert sorted(a.status_code for a in both)[0] == 303 and both[1].status_code in (409, 422)
    assert plan_of(app, own).buying.purchases[0].received == 1
    # it goes back, and no more than came
    assert send(site, own, "back", id=p.id, packs="1").status_code == 303
    more = send(site, own, "back", id=p.id, packs="1")
    assert more.status_code == 422 and "at most the 0" in more.text


def test_what_is_in_the_shop_comes_off(app, site, own) -> None:
    before = site.client.get(f"/b/{own}/money/shopping").text
    assert 'value="rivet-4.8x8"' in before
    send(site, own, "owned", item="rivet-4.8x8")
    (had,) = plan_of(app, own).buying.owned
    change = {"do": "set", "path": ["buying", "owned", had.id, "quantity"], "value": 5000}
    answer = site.post(f"/api/builds/{own}/changes", {"base": int(base_of(site, own)), "change": change})
    assert answer.status_code == 200
    assert 'value="rivet-4.8x8"' not in site.client.get(f"/b/{own}/money/shopping").text


def test_late_things_say_what_waits_for_them(app, site, own) -> None:
    send(site, own, "shopping", shop="boatyard or chandler", key=HATCH_LATCH)
    (p,) = plan_of(app, own).buying.purchases
    path = f"buying/purchases/{p.id}/promised"
    for day, late in (("2099-01-01", False), ("2020-02-29", True)):
        body = {"base": int(base_of(site, own)), "typed": {"path": path, "text": day}}
        assert site.post(f"/api/builds/{own}/changes", body).status_code == 200
        page = site.client.get(f"/b/{own}/money/bought").text
        assert ("Late, and H1" in re.sub(r"\s+", " ", page)) is late
    wrong = {"base": int(base_of(site, own)), "typed": {"path": path, "text": "next week"}}
    answer = site.post(f"/api/builds/{own}/changes", wrong)
    assert answer.status_code == 422 and "read “next week” as a day" in answer.json()["detail"]


def test_other_costs_keep_what_was_typed(app, site, own) -> None:
    wrong = send(site, own, "other", name="blades", price="ten", supplier="market")
    assert wrong.status_code == 422 and "read “ten” as a price" in wrong.text
    assert 'value="blades"' in wrong.text and 'value="ten"' in wrong.text
    assert send(site, own, "other", name="blades", price="10", supplier="market").status_code == 303
    assert plan_of(app, own).buying.purchases[0].amount == Decimal(10)


def test_the_list_as_csv_is_the_list(site, own) -> None:
    text = site.client.get(f"/b/{own}/money/lists.csv").content.decode("utf-8-sig")
    head, *rows = [r.split(",") for r in text.strip().split("\r\n")]
    assert head[:2] == ["shop", "item"]
    page = re.sub(r"\s", "", site.client.get(f"/b/{own}/money/shopping").text)
    assert all(re.sub(r"\s", "", r[1].strip('"')) in page for r in rows)


def test_a_shop_is_named_changed_and_taken_out(app, site, own) -> None:
    new = {"shop": "", "name": "T Chandler", "sort": "boatyard or chandler", "freight": "14.50",
           "delivers": "on", "free_from": "", "minimum": "0", "days": "3", "km": "0", "hours": "0",
           "town": ""}  # fmt: skip
    answer = site.form("/shops", new)
    assert answer.status_code == 303 and "t-chandler" in answer.headers["location"]
    wrong = site.form("/shops", {**new, "shop": "t-chandler", "freight": "lots"})
    assert wrong.status_code == 422 and "lots" in wrong.text
    neither = site.form("/shops", {k: v for k, v in new.items() if k != "delivers"})
    assert neither.status_code == 422 and "you can fetch there" in neither.text
    page = site.client.get("/shops?shop=t-chandler").text
    assert "freight 14.50" in page
    typed = {"item": HATCH_LATCH, "quantity": "1", "price": "17.25", "number": "T-1"}
    assert site.form("/shops/t-chandler/prices", typed).status_code == 303
    with app.state.database.connection_context():
        packs = catalogue(the_shop().id).find(HATCH_LATCH).packs
    assert [p.price for p in packs] == [Decimal("17.2500")]
    for field, value in (("price", "free"), ("quantity", "some"), ("item", "no-such")):
        bad = site.form("/shops/t-chandler/prices", {**typed, field: value})
        assert bad.status_code == 422 and f"read “{value}”" in bad.text
    assert site.form("/shops/t-chandler/forget", {}).status_code == 303
    with app.state.database.connection_context():
        assert catalogue(the_shop().id).find(HATCH_LATCH).packs[0].price != Decimal("17.25")
    assert site.client.get("/shops?shop=t-chandler").status_code == 404


def test_a_price_list_is_looked_at_then_taken_over_and_remembered(app, site, own) -> None:
    keep(app, Supplier(id="t-list", name="T List"))
    rows = "Ref;Text;Betrag\nA-1;slam latch, 50 mm body;16,40\nA-2;odd thing;3,10\nA-3;sold out;-\n"
    path = "/shops/t-list/prices"
    look = site.form(f"{path}/look", {}, files={"table": ("prices.csv", rows.encode(), "text/csv")})
    assert look.status_code == 422 and "say which is a column of prices" in look.text
    what = {"text": rows, "name": "prices.csv", "day": "2026-03-02", "head": "on", "decimal": ","}
    roles = {"role": ["number", "name", "price"]}
    again = site.form(f"{path}/take", {**what, **roles, "act": "look"})
    assert "<b>2 prices</b>, 1 of them" in re.sub(r"\s+", " ", again.text) and "Row 4, Betrag" in again.text
    assert site.form(f"{path}/take", {**what, **roles, "act": "take"}).status_code == 303
    page = site.client.get("/shops?shop=t-list&find=odd").text
    assert "odd thing" in page and "nothing of the catalogue yet" in page
    # said once, known for the next list
    said = {"ref": "a-2", "quantity": "1", "item": "oar-lock"}
    assert site.form(f"{path}/what", said).status_code == 422
    said["item"] = "hinge-piano"
    assert site.form(f"{path}/what", said).status_code == 303
    look = site.form(f"{path}/look", {}, files={"table": ("prices.csv", rows.encode(), "text/csv")})
    assert look.status_code == 200 and "<b>2 prices</b>, 2 of them" in re.sub(r"\s+", " ", look.text)
    assert site.form(f"{path}/what", {**said, "gone": "true"}).status_code == 303
    assert "odd thing" not in site.client.get("/shops?shop=t-list").text


def test_a_receipt_is_kept_with_its_purchase(app, site, own) -> None:
    send(site, own, "shopping", shop="boatyard or chandler", key=HATCH_LATCH)
    (p,) = plan_of(app, own).buying.purchases
    path = f"/b/{own}/money/receipt"
    bad = site.form(path, {"id": p.id}, files={"receipt": ("x.png", b"rubbish", "image/png")})
    assert bad.status_code == 303 and "cannot be read" in site.client.get(f"/b/{own}/money/bought").text
    good = site.form(path, {"id": p.id}, files={"receipt": ("r.pdf", b"%PDF-1.4 x", "application/pdf")})
    assert good.status_code == 303
    send(site, own, "shopping", shop="boatyard or chandler")
    pages = {"receipt": ("r.pdf", b"%PDF-1.4 y", "application/pdf")}
    assert site.form(path, {"id": p.id, "every": "true"}, files=pages).status_code == 303
    all_of_it = plan_of(app, own).buying.purchases
    assert len(all_of_it) > 2 and len({x.receipt for x in all_of_it}) == 1
    assert site.form(path, {"id": p.id}, files={"receipt": ("r.pdf", b"%PDF-1.4 x", "application/pdf")})
    kept = plan_of(app, own).buying.purchases[0].receipt
    answer = site.client.get(f"/b/{own}/receipts/{kept.removeprefix('receipt-')}")
    assert answer.content == b"%PDF-1.4 x"
    assert answer.headers["content-disposition"].startswith("attachment")


def test_an_alternate_is_told_then_taken_and_its_price_is_not_the_items(app, site, own) -> None:
    keep(app, Supplier(id="t-a", name="T Aft"), (HATCH_LATCH, "17.00"))
    unnamed = {"item": HATCH_LATCH, "price": "6", "quantity": "1", "instead": "no lock"}
    wrong = site.form("/shops/t-a/prices", unnamed)
    assert wrong.status_code == 422 and "say what they call it" in wrong.text and "no lock" in wrong.text
    assert site.form("/shops/t-a/prices", {**unnamed, "name": "plain latch"}).status_code == 303
    with app.state.database.connection_context():
        assert catalogue(the_shop().id).find(HATCH_LATCH).packs[0].price == Decimal(17)
    page = " ".join(site.client.get(f"/b/{own}/money/shopping").text.split())
    assert "plain latch in its place" in page and "It differs: no lock" in page
    assert send(site, own, "alternate", item=HATCH_LATCH, will_do="true").status_code == 303
    page = " ".join(site.client.get(f"/b/{own}/money/shopping").text.split())
    assert "<b>plain latch</b>" in page and "in place of slam latch, 50 mm body: no lock" in page
    send(site, own, "shopping", shop="T Aft", key=HATCH_LATCH, here="true")
    (bought,) = plan_of(app, own).buying.purchases
    assert (bought.item, bought.name, bought.instead) == (HATCH_LATCH, "plain latch", "no lock")
    # what it cost says nothing of what the latch itself costs
    came = site.client.get(f"/b/{own}/money/came-to").text
    assert f'value="{bought.id}"' not in came
    assert send(site, own, "alternate", item=HATCH_LATCH).status_code == 303
    assert plan_of(app, own).buying.steads == ()
    text = site.client.get("/shops/t-a/prices.csv").content.decode("utf-8-sig")
    assert sorted(row.endswith("no lock") for row in text.splitlines()[1:]) == [False, True]


def test_what_is_over_goes_to_another_boat_in_both_or_in_none(app, site, own) -> None:
    other = make_build(app)
    send(site, own, "owned", item="rivet-4.8x8")
    (had,) = plan_of(app, own).buying.owned
    base = base_of(site, own)
    page = site.client.get(f"/b/{own}/money/bought").text
    assert "Give it to another boat" in page and f'<option value="{other}">' in page
    body = {"base": base, "id": had.id, "much": "20", "to": str(other)}
    assert site.form(f"/b/{own}/money/hand-over", body).status_code == 303
    assert plan_of(app, other).buying.owned[0].quantity == 20
    # sent again from the same page it is told, and nothing is there twice
    again = site.form(f"/b/{own}/money/hand-over", body)
    assert (again.status_code, len(plan_of(app, other).buying.owned)) == (409, 1)
    for to, status in ((own, 422), (999_999, 404)):
        assert site.form(f"/b/{own}/money/hand-over", {**body, "base": base_of(site, own), "to": str(to)}
                         ).status_code == status  # fmt: skip
    assert plan_of(app, own).buying.owned[0].quantity == had.quantity - 20


def test_latches_that_are_over_are_offered_to_the_boat_that_needs_them(app, site, own) -> None:
    other = make_build(app)
    send(site, own, "shopping", shop="boatyard or chandler", key=HATCH_LATCH, here="true")
    (bought,) = plan_of(app, own).buying.purchases
    body = {"base": int(base_of(site, own)), "change": {"do": "remove", "path": ["fittings", "hatch"]}}
    assert site.post(f"/api/builds/{own}/changes", body).status_code == 200
    here = site.client.get(f"/b/{own}/money/use").text
    there = site.client.get(f"/b/{other}/money/over").text
    # the demo boats stand in the same yard and may need latches too
    assert f'value="{other}"' in here and f'action="/b/{own}/money/hand-over"' in there
    sent = {"base": base_of(site, own), "id": bought.id, "much": "1", "to": str(other), "back": "shopping"}
    answer = site.form(f"/b/{own}/money/hand-over", sent)
    assert answer.headers["location"].endswith(f"/b/{other}/money/shopping")
    assert plan_of(app, other).buying.purchases[0].supplier == plan_of(app, own).name


def test_work_of_others_is_a_kind_of_cost(app, site, own) -> None:
    send(site, own, "other", name="weld", price="80", supplier="welder", service="true")
    assert plan_of(app, own).buying.purchases[0].service
    assert "Service" in site.client.get(f"/b/{own}/money").text


def test_a_price_list_is_taken_over_with_lines_that_tell_how_far_it_is(app, site, own) -> None:
    keep(app, Supplier(id="t-a", name="T Aft"))
    text = "name,price\n" + "".join(f"thing {k},{k}.50\n" for k in range(1, 1201))
    sent = {"text": text, "name": "list", "day": "2026-03-02", "act": "take", "role": ["name", "price"],
            "decimal": ".", "head": "on"}  # fmt: skip
    headers = {"Accept": "application/x-ndjson"}
    answer = site.client.post(
        "/shops/t-a/prices/take", data={"csrf_token": site.token, **sent}, headers=headers
    )
    lines = [json.loads(line) for line in answer.text.splitlines()]
    # 1200 rows by 500
    assert lines == [{"done": 500, "of": 1200}, {"done": 1000, "of": 1200}, {"done": 1200, "of": 1200},
                     {"to": "/shops?shop=t-a"}]  # fmt: skip
    with app.state.database.connection_context():
        assert suppliers.counts(the_shop().id)["t-a"][0] == 1200
    wrong = {**sent, "role": ["name", ""]}
    answer = site.client.post(
        "/shops/t-a/prices/take", data={"csrf_token": site.token, **wrong}, headers=headers
    )
    assert "look again" in json.loads(answer.text)["problem"]
