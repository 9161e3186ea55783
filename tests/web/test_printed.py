"""What is set as PDF by a worker: once for all who ask, waited for, and told when it cannot be."""

from __future__ import annotations

import io
import uuid
from concurrent.futures import ThreadPoolExecutor

import pytest
from pypdf import PdfReader

from stirrup.store import printed
from stirrup.store.models import Printed
from stirrup.store.queue import STAFF, set_page, to_print
from stirrup.store.shop import the_shop
from stirrup.web.pages import prints
from stirrup.web.pages.frame import open_build
from tests.web.conftest import make_build


@pytest.fixture
def staffed(monkeypatch):
    """As if somebody worked beside the web, who is slow."""
    monkeypatch.setattr(STAFF, "there", True)
    monkeypatch.setattr(prints, "PATIENCE_S", 0.1)


def pages_of(content: bytes) -> list[str]:
    return [page.extract_text() for page in PdfReader(io.BytesIO(content)).pages]


def test_every_part_has_a_page_of_its_own(app, site) -> None:
    build = make_build(app)
    with app.state.database.connection_context():
        built = open_build(build).derived.built
    labels = [x.label for b in built for x in (*b.panels, *b.members)]
    assert len(labels) > 3
    answer = site.client.get(f"/b/{build}/parts.pdf")
    assert answer.headers["content-type"] == "application/pdf"
    pages = pages_of(answer.content)
    assert all(sum(text.startswith(label + " ") for text in pages) == 1 for label in labels)
    one = next(x for b in built for x in b.panels)
    alone = pages_of(site.client.get(f"/b/{build}/parts.pdf", params={"part": one.key}).content)
    assert alone[0].startswith(one.label) and "To mark out" in alone[0]
    assert site.client.get(f"/b/{build}/parts.pdf?part=nothing").status_code == 404


def test_a_name_is_words_and_no_page(app, site) -> None:
    build = make_build(app)
    hostile = "</style><img src=x> {{ 7*7 }}"
    body = {"base": 1, "change": {"do": "set", "path": ["name"], "value": hostile}}
    assert site.post(f"/api/builds/{build}/changes", body).status_code == 200
    text = "\n".join(pages_of(site.client.get(f"/b/{build}/parts.pdf").content))
    assert "</style><img src=x>" in text and "49" not in text.split("page 1 of")[0].split("revision")[0]


def test_who_asks_waits_and_the_same_page_is_set_once(app, site, staffed) -> None:
    build = make_build(app)
    waits = site.client.get(f"/b/{build}/parts.pdf")
    assert waits.status_code == 202 and "is being set" in waits.text
    with app.state.database.connection_context():
        (row,) = Printed.select().where(Printed.pdf.is_null() & Printed.failed.is_null())
        assert f"url=/printed/{row.id}" in waits.text
        assert site.client.get(f"/b/{build}/parts.pdf").status_code == 202
        assert Printed.select().where(Printed.digest == row.digest).count() == 1
        set_page(print_id=row.id)
        set_page(print_id=row.id)  # a job that is done again does nothing
    there = site.client.get(f"/printed/{row.id}")
    assert there.headers["content-type"] == "application/pdf"
    assert site.client.get(f"/b/{build}/parts.pdf").content == there.content


def test_a_page_that_cannot_be_set_is_told_and_tried_anew(app, site, staffed, monkeypatch) -> None:
    def fails(_: str) -> bytes:
        raise RecursionError("too deep")

    with app.state.database.connection_context():
        shop = the_shop().id
        first = to_print(shop, "x.pdf", "<p>one")
        with monkeypatch.context() as m:
            m.setattr(printed, "book_pdf", fails)
            set_page(print_id=first)
        told = site.client.get(f"/printed/{first}")
        assert told.status_code == 500 and "RecursionError: too deep" in told.text
        again = to_print(shop, "x.pdf", "<p>one")
        set_page(print_id=again)
    assert again != first and site.client.get(f"/printed/{again}").status_code == 200
    assert site.client.get(f"/printed/{first}").status_code == 404


def test_old_pages_are_forgotten(app, monkeypatch) -> None:
    monkeypatch.setattr(printed, "MOST_KEPT", 3)
    with app.state.database.connection_context():
        shop = the_shop().id
        ids = [printed.ask(shop, "x.pdf", f"<p>{k}")[0] for k in range(5)]
        assert [r.id for r in Printed.select().order_by(Printed.id)] == ids[2:]


def test_a_file_of_more_parts_than_anybody_prints_is_refused(app, site, monkeypatch) -> None:
    from stirrup.web.pages import panel

    build = make_build(app)
    monkeypatch.setattr(panel, "MOST_PARTS", 3)
    told = site.client.get(f"/b/{build}/parts.pdf")
    assert told.status_code == 422 and "accepted: up to 3: take one thing" in told.text
    with app.state.database.connection_context():
        key = open_build(build).derived.built[0].panels[0].key
    assert site.client.get(f"/b/{build}/parts.pdf", params={"part": key}).status_code == 200


def test_of_many_who_ask_at_once_one_has_it_set(app, site) -> None:
    """The same page is one, whoever of them is first."""
    with app.state.database.connection_context():
        shop = the_shop().id
    page = f"<p>{uuid.uuid4()}"
    with ThreadPoolExecutor(8) as pool:
        told = list(pool.map(lambda _: printed.ask(shop, "x.pdf", page), range(16)))
    assert len({number for number, _ in told}) == 1
    assert sum(new for _, new in told) == 1
