"""Quotes, change orders and bills, as the page sends them: what was given never changes."""

from __future__ import annotations

import io
import re
from concurrent.futures import ThreadPoolExecutor
from decimal import Decimal

from pypdf import PdfReader

from stirrup.store import builds, papers
from stirrup.store.shop import the_shop
from tests.web.conftest import make_build


def page(site, build: int) -> str:
    return site.client.get(f"/b/{build}/money/quotes").text


def base_of(site, build: int) -> str:
    found = re.search(r'data-number="(\d+)"', page(site, build))
    assert found
    return found[1]


def change(site, build: int, path: str, text: str) -> None:
    body = {"base": int(base_of(site, build)), "typed": {"path": path, "text": text}}
    answer = site.post(f"/api/builds/{build}/changes", body)
    assert answer.status_code == 200, answer.text


def give(site, build: int, kind: str = "quote", token: str = "", base: str = ""):
    what = {"base": base or base_of(site, build), "kind": kind, "token": token or f"token-{kind}-{build}"}
    return site.form(f"/b/{build}/money/quotes", what)


def given(app, build: int):
    with app.state.database.connection_context():
        return papers.papers(the_shop().id, build)


def accept(site, build: int, paper_id: int, state: str = "accepted"):
    return site.form(f"/b/{build}/money/quotes/{paper_id}/state", {"state": state})


def test_a_quote_from_the_first_word_to_the_last_bill(app, site) -> None:
    build = make_build(app)
    change(site, build, "buying/terms/customer", "Ada Lark & Söhne <b>")
    change(site, build, "buying/terms/rate", "50")
    assert give(site, build).status_code == 303
    (quote,) = given(app, build)
    # nothing is billed before it is accepted
    early = site.form(f"/b/{build}/money/quotes/{quote.id}/bill", {"stage": "0"})
    assert early.status_code == 422 and "is not accepted yet" in early.text
    assert accept(site, build, quote.id).status_code == 303
    assert "The plan is what" in page(site, build)
    # other terms and a price are no change of what was agreed
    change(site, build, "buying/terms/margin", "40")
    site.form(f"/b/{build}/price", {"item": "latch-50", "price": "19.75"})
    assert "The plan is what" in page(site, build)
    assert give(site, build, "change order", token="too-early").status_code == 422
    # the plan changes: the quote does not, and the difference is offered
    change(site, build, "fittings/deck/height", "460")
    (still,) = given(app, build)
    assert still.paper == quote.paper and "Give it as a change order" in page(site, build)
    assert give(site, build, "change order").status_code == 303
    _, order = given(app, build)
    assert order.paper.of == quote.number
    # as long as it has no answer there is no second one with the same in it
    twice = give(site, build, "change order", token="another-tab")
    assert twice.status_code == 422 and "has no answer yet" in twice.text
    assert accept(site, build, order.id).status_code == 303
    assert "The plan is what" in page(site, build)
    again = accept(site, build, order.id, "declined")
    assert again.status_code == 422 and f"{order.number} is accepted already" in again.text
    # every stage once
    for paper in (quote, order):
        for stage in range(len(paper.paper.stages)):
            where = f"/b/{build}/money/quotes/{paper.id}/bill"
            assert site.form(where, {"stage": str(stage)}).status_code == 303
            assert site.form(where, {"stage": str(stage)}).status_code == 303  # the same bill
    bills = [g for g in given(app, build) if g.paper.kind == "bill"]
    assert len(bills) == len(quote.paper.stages) + len(order.paper.stages)
    assert sum(b.paper.total for b in bills) == quote.paper.total + order.paper.total
    assert site.form(f"/b/{build}/money/quotes/{bills[0].id}/paid", {"paid": "true"}).status_code == 303
    assert [g.paid for g in given(app, build) if g.id == bills[0].id] == [True]


def test_the_pdf_says_what_was_given(app, site) -> None:
    build = make_build(app)
    change(site, build, "buying/terms/customer", "Ada <i>Lark</i> & Söhne")
    give(site, build)
    (quote,) = given(app, build)
    change(site, build, "buying/terms/customer", "Somebody else")
    answer = site.client.get(f"/b/{build}/money/quotes/{quote.id}.pdf")
    assert answer.headers["content-type"] == "application/pdf"
    text = "\n".join(p.extract_text() for p in PdfReader(io.BytesIO(answer.content)).pages)
    plain = text.replace("\u00a0", " ")
    assert f"Quote {quote.number}" in plain and "Ada <i>Lark</i> & Söhne" in plain
    total = f"{quote.paper.total:,.2f}".replace(",", " ")
    assert f"$ {total}" in plain
    # what is shown sums up to what is shown
    nets = [line.net for line in quote.paper.lines]
    for net in nets:
        assert f"{net:,.2f}".replace(",", " ") in plain
    assert sum(nets, Decimal(0)) + quote.paper.overhead == quote.paper.net


def test_numbers_have_no_gaps_whoever_asks_at_once(app, site) -> None:
    build = make_build(app)
    base = base_of(site, build)
    before = {g.number for b in range(1, build + 1) for g in given(app, b) if g.paper.kind == "quote"}
    with ThreadPoolExecutor(6) as pool:
        answers = list(pool.map(lambda k: give(site, build, token=f"token-{k % 4}-x", base=base), range(8)))
    assert {a.status_code for a in answers} == {303}
    mine = [g.number for g in given(app, build)]
    assert len(mine) == 4  # four tokens, each sent twice
    numbers = sorted(int(n[2:]) for n in {*mine} | before)
    assert len(set(mine)) == 4 and numbers == list(range(numbers[0], numbers[0] + len(numbers)))


def test_what_was_looked_at_is_what_is_given(app, site) -> None:
    build = make_build(app)
    base = base_of(site, build)
    change(site, build, "fittings/deck/height", "460")
    answer = give(site, build, base=base)
    assert answer.status_code == 422 and "changed meanwhile" in answer.text and not given(app, build)
    assert give(site, build, "change order").status_code == 422
    change(site, build, "buying/terms/stages", "Deposit 40")
    assert "are 40 percent together" in page(site, build)
    assert give(site, build).status_code == 422


def test_a_boat_that_goes_leaves_its_papers_numbers(app, site) -> None:
    build = make_build(app)
    give(site, build)
    (quote,) = given(app, build)
    with app.state.database.connection_context():
        shop = the_shop().id
        builds.load(shop, build)
        app.state.database.execute_sql("DELETE FROM build WHERE id = %s", (build,))
        kept = app.state.database.execute_sql("SELECT count(*) FROM paper WHERE id = %s", (quote.id,))
        assert kept.fetchone()[0] == 1
