"""Pages that do not wait for layouts: they say "about", and what is cut by waits for the true one."""

import re
from collections.abc import Iterator

import pytest

from stirrup.store import layouts
from stirrup.store.models import Layout
from stirrup.store.queue import STAFF
from stirrup.store.shop import the_shop
from tests.boats import DECK, skiff_plan
from tests.web.conftest import make_build


@pytest.fixture
def staffed() -> Iterator[None]:
    STAFF.there = True
    yield
    STAFF.there = False


def worked_out(app) -> int:
    """Do what a worker would; how many layouts that were."""
    with app.state.database.connection_context():
        shop, waiting = the_shop().id, list(Layout.select().where(Layout.result.is_null()))
    for row in waiting:
        layouts.work_out(shop, row.digest)
    return len(waiting)


def page(site, path: str) -> str:
    answer = site.client.get(path)
    assert answer.status_code == 200
    return answer.text


def total(text: str) -> str:
    found = re.search(r"Planned cost</span\s*><b>([^<]+)</b", text)
    assert found
    return found[1]


def test_pages_say_about_until_the_layout_is_there(site, app, staffed) -> None:
    build = make_build(app, skiff_plan(fittings=[{**DECK, "fore": 4.1237}]))
    worked_out(app)
    text = page(site, f"/b/{build}/cuts")
    assert "Do not cut by this one" in text and "data-pending" in text
    assert total(text).startswith("about ")
    assert "counted roughly" in page(site, f"/b/{build}/money")
    assert worked_out(app) == 1
    text = page(site, f"/b/{build}/cuts")
    assert "Do not cut by this one" not in text and "data-pending" not in text
    assert not total(text).startswith("about ")
    assert "counted roughly" not in page(site, f"/b/{build}/money")


def test_what_is_cut_by_waits_for_the_true_layout(site, app, staffed) -> None:
    build = make_build(app, skiff_plan(fittings=[{**DECK, "fore": 4.1341}]))
    assert "Do not cut by this one" in page(site, f"/b/{build}/cuts")
    stock = DECK.get("skin", "al-2.5")
    settled = site.client.get(f"/b/{build}/sheet/{stock}/1.dxf")
    assert settled.status_code == 200
    # it was worked out for the file: this process has it, whatever the workers do
    assert "Do not cut by this one" not in page(site, f"/b/{build}/cuts")
    # and it is the one that a worker finds later
    worked_out(app)
    assert "Do not cut by this one" not in page(site, f"/b/{build}/cuts")
    again = site.client.get(f"/b/{build}/sheet/{stock}/1.dxf")
    # without the hour at which each was made
    first, second = (a.text.partition("ENTITIES")[2].partition("ENDSEC")[0] for a in (settled, again))
    assert len(first) > 500 and first == second


def test_a_yard_does_not_wait_either_and_has_them_worked_out(site, app, staffed) -> None:
    plan = skiff_plan(fittings=[{**DECK, "fore": 4.1447}])
    make_build(app, plan.model_copy(update={"name": "Yard waits not"}))
    worked_out(app)
    assert re.search(r"<dd>\s*about ", page(site, "/"))
    assert worked_out(app) >= 1
    assert not re.search(r"<dd>\s*about ", page(site, "/"))


def test_two_revisions_are_compared_by_their_true_costs(site, app, staffed) -> None:
    build = make_build(app, skiff_plan(fittings=[{**DECK, "fore": 4.1559}]))
    change = {"do": "set", "path": ["fittings", "deck", "fore"], "value": 4.0559}
    assert site.post(f"/api/builds/{build}/changes", {"base": 1, "change": change}).status_code == 200
    assert total(page(site, f"/b/{build}/history")).startswith("about ")
    assert not total(page(site, f"/b/{build}/history?number=1")).startswith("about ")
