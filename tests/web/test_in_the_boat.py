"""What is said of the real boat, through HTTP: how things came out, what moves and goes, is made as one."""

import html
import json
import re
from typing import Any

import pytest

from tests.boats import DECK, HATCH, skiff_plan
from tests.web.conftest import make_build
from tests.web.test_arranging import act, crate, plan_of


@pytest.fixture
def crates(app: Any) -> int:
    items = [crate("one", 1.0), crate("two", 1.8, 0.3), crate("three", 2.6, -0.2)]
    return make_build(app, skiff_plan(fittings=[DECK, HATCH], items=items))


def test_as_it_came_out_is_read_from_what_was_fixed_last_and_forgotten(app, site, crates) -> None:
    """“two”, planned from 1.6 m on, stands 406 mm ahead of the fore edge of “one” at 1.2 m."""
    said = act(site, crates, act="stands", things=["two"], edge="aft", to="one", to_edge="fore",
               text="406 mm")  # fmt: skip
    assert said.status_code == 200 and "stands" in said.json()["words"]
    after = plan_of(app, crates).plan
    assert after.thing("two").mass.centre[0] == pytest.approx(1.806, abs=1e-4)
    sheet = html.unescape(site.client.get(f"/b/{crates}/layout?sel=two").text)
    assert "As it came out: 1 read" in sheet and "6 mm further forward than planned" in sheet
    level = act(
        site, crates, base=2, act="stands", things=["two"], edge="higher on the port side", text="9"
    )
    assert level.status_code == 200, level.text
    assert "It is out of level" in site.client.get(f"/b/{crates}/layout").text
    act(site, crates, base=3, act="forget", path=after.stood[0].id)
    assert [s.what for s in plan_of(app, crates).plan.stood] == ["higher on the port side"]


@pytest.mark.parametrize(
    ("asked", "words"),
    [({"edge": "aft", "to": "transom", "text": ""}, "type what you read"),
     ({"edge": "aft", "to": "transom", "text": "a furlong"}, "furlong"),
     ({"edge": "aft", "to": "centreline", "text": "100"}, "across one another"),
     ({"edge": "sideways", "to": "transom", "text": "100"}, "accepted: aft"),
     ({"edge": "out of flat", "text": "2 m"}, "up to 500 mm"),
     ({"edge": "aft", "to": "transom", "text": "9 m"}, "within 500 mm")],
)  # fmt: skip
def test_a_reading_that_cannot_be_is_refused(site, crates, asked, words) -> None:
    said = act(site, crates, act="stands", things=["one"], **asked)
    assert said.status_code == 422 and words in said.text


def enter(site, build: int, path: str, text: str):
    """One value typed, upon whatever is there."""
    base = site.client.get(f"/api/builds/{build}/history").json()[0]["number"]
    return site.post(f"/api/builds/{build}/changes", {"base": base, "typed": {"path": path, "text": text}})


def test_what_is_moved_keeps_where_it_was_and_is_drawn_there(app, site) -> None:
    seat = crate("seat", 1.4, 0.2, stage="found")
    build = make_build(app, skiff_plan(items=[seat]))
    sheet = html.unescape(site.client.get(f"/b/{build}/layout?sel=seat").text)
    found = re.search(r"data-change=\"(\{[^>]*\"was\"[^>]*\})\">It moves from here", sheet)
    assert found and "was-there" not in sheet
    change = json.loads(found[1])
    assert site.post(f"/api/builds/{build}/changes", {"base": 1, "change": change}).status_code == 200
    assert act(site, build, base=2, act="move", things=["seat"], x=0.3).status_code == 200
    assert enter(site, build, "items/seat/was/holes", "4").status_code == 200
    page = html.unescape(site.client.get(f"/b/{build}/layout?sel=seat").text)
    assert page.count("was-there") == 2 and "It stays where it is now" in page
    assert "Seat moves" in page
    assert "old holes are" in page, re.findall("old holes.{80}", page)
    was = plan_of(app, build).plan.items[0].was
    assert was is not None and was.at[0] == 1.4 and was.holes == 4


def test_what_becomes_of_what_goes_is_asked_when_it_goes(app, site) -> None:
    build = make_build(app, skiff_plan(items=[crate("old", 1.4, stage="found")]))
    assert 'data-path="items/old/becomes"' not in site.client.get(f"/b/{build}/layout?sel=old").text
    assert enter(site, build, "items/old/stage", "removed").status_code == 200
    sheet = site.client.get(f"/b/{build}/layout?sel=old").text
    assert 'data-path="items/old/becomes"' in sheet and 'data-path="items/old/brings"' not in sheet
    assert enter(site, build, "items/old/becomes", "sold").status_code == 200
    assert 'data-path="items/old/brings"' in site.client.get(f"/b/{build}/layout?sel=old").text


def test_a_group_is_made_as_one_and_no_longer(app, site, crates) -> None:
    act(site, crates, act="group", things=["one", "two"])
    page = html.unescape(site.client.get(f"/b/{crates}/layout?sel=one").text)
    assert 'data-as-one="built outside"' in page and "Not as one" not in page
    assert act(site, crates, base=2, act="as one", things=["one"], text="built outside").status_code == 200
    page = html.unescape(site.client.get(f"/b/{crates}/layout?sel=one").text)
    assert "made as one, built outside" in page and "It comes in as one" in page
    wrong = act(site, crates, base=3, act="as one", things=["one"], text="by magic")
    assert wrong.status_code == 422 and "built outside" in wrong.text
    assert act(site, crates, base=3, act="as one", things=["one"], text="").status_code == 200
    assert plan_of(app, crates).plan.arrangement.subs == ()
