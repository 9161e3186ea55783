"""The framing page: what to set where, in the reader's units, and its files."""

import re

import pytest

from tests.boats import DECK, HATCH, skiff_plan
from tests.web.conftest import make_build


def words(html: str) -> str:
    return re.sub(r"\s+", " ", re.sub(r"<[^>]*>", " ", html))


def test_every_member_is_drawn_listed_and_has_its_turn(site, build) -> None:
    page = site.client.get(f"/b/{build}/layout/framing/deck").text
    labels = re.findall(r'data-member="([^"]+)"', page)
    assert len(labels) == len(set(labels)) >= 6
    table = page[page.index("framing-list") : page.index("</table>")]
    steps = page[page.index('class="fixing"') :]
    steps = steps[: steps.index("</ol>")]
    for label in labels:
        assert f'<th scope="row">{label}</th>' in table and label in words(steps)
    assert "above the keel line" in words(page) and "Look what lies behind" in words(page)


def test_the_layout_page_leads_to_it_for_what_is_framed(site, build) -> None:
    link = f'href="/b/{build}/layout/framing/deck"'
    assert link in site.client.get(f"/b/{build}/layout?sel=deck").text
    assert "/layout/framing/" not in site.client.get(f"/b/{build}/layout?sel=hatch").text


def test_lengths_are_in_the_readers_units(app, site) -> None:
    build = make_build(app, skiff_plan(fittings=[DECK, HATCH]), units="in")
    assert " in" in words(site.client.get(f"/b/{build}/layout/framing/deck").text)


@pytest.mark.parametrize(("kind", "start"), [("svg", b"<svg"), ("pdf", b"%PDF"), ("dxf", b"  0\nSECTION")])
def test_it_downloads(site, build, kind, start) -> None:
    answer = site.client.get(f"/b/{build}/framing/deck.{kind}")
    assert answer.status_code == 200 and answer.content.startswith(start)
    assert f"-framing.{kind}" in answer.headers["content-disposition"]


@pytest.mark.parametrize("path", ["layout/framing/hatch", "layout/framing/nothing", "framing/deck.exe",
                                  "framing/hatch.pdf", "layout/framing/..%2fdeck"])  # fmt: skip
def test_what_is_not_framed_is_not_there(site, build, path) -> None:
    assert site.client.get(f"/b/{build}/{path}").status_code == 404


def test_names_are_text(app, site) -> None:
    plan = skiff_plan(fittings=[{**DECK, "name": "<script>x</script>"}])
    build = make_build(app, plan)
    for path in ("layout/framing/deck", "framing/deck.svg"):
        assert "<script>x" not in site.client.get(f"/b/{build}/{path}").text


def test_the_tape_is_hooked_where_it_is_asked_for(site, build) -> None:
    page = site.client.get(f"/b/{build}/layout/framing/deck?tape=aft").text
    assert "aft edges, from its own aft edge" in words(page)
    # the first member begins behind the face, which is as thick as the skin
    rows = page[page.index("framing-list") :]
    assert re.search(r"aft edge <b>.*?3 mm", rows, re.S) or "2.5 mm" in words(rows)
    assert f"/b/{build}/framing/deck.pdf?tape=aft" in page
    nowhere = site.client.get(f"/b/{build}/layout/framing/deck?tape=%3Cb%3E").text
    assert "aft edges, from the transom" in words(nowhere) and "<b>%3C" not in nowhere


def test_members_are_a_layer_of_the_plan(site, build) -> None:
    shown = site.client.get(f"/b/{build}/layout?frame=1").text
    listed = site.client.get(f"/b/{build}/layout/framing/deck").text.count('class="frame-member"')
    assert shown.count('class="frame-layer"') == listed > 5
    assert "frame-layer" not in site.client.get(f"/b/{build}/layout").text
    # it goes along with what is dragged
    move = {"do": "set", "path": ["fittings", "deck", "aft"], "value": 2.6}
    body = {"base": 1, "change": move, "sel": "deck"}
    for frame in (True, False):
        views = site.post(f"/api/builds/{build}/preview", {**body, "frame": frame}).json()["views"]
        assert ("frame-layer" in views["plan"]) == frame
