"""The page of one panel: what to measure, in the reader's units, and its file."""

import html
import json
import re

import pytest

from tests.boats import DECK, HATCH, derive, skiff_plan
from tests.web.conftest import make_build


def words(html: str) -> str:
    return re.sub(r"\s+", " ", re.sub(r"<[^>]*>", " ", html))


@pytest.mark.parametrize("part", ["deck/skin/1", "deck/face", "hatch/lid"])
def test_every_panel_of_the_cut_list_has_its_page(site, build, part) -> None:
    page = site.client.get(f"/b/{build}/cuts").text
    link = f"/b/{build}/cuts/panel?part={part.replace('/', '%2F')}"
    assert link in page
    answer = site.client.get(link)
    assert answer.status_code == 200
    told = words(answer.text)
    assert "seen from" in told and "right edge" in told


def test_a_skin_has_its_corners_cut_outs_and_ordinates(site, build) -> None:
    told = words(site.client.get(f"/b/{build}/cuts/panel", params={"part": "deck/skin/1"}).text)
    assert "Corners" in told and "Cut-outs" in told and "rectangle with rounded corners" in told
    assert "seen from above, right edge forward, upper edge to port" in told


def test_a_lid_is_told_in_words_and_its_latch_hole_by_its_middle(site, build) -> None:
    page = site.client.get(f"/b/{build}/cuts/panel", params={"part": "hatch/lid"}).text
    told = words(page)
    assert "A rectangle with rounded corners of" in told and "corners rounded by" in told
    # 50 mm for the latch's body
    assert "round" in told and "\u00d8 50 mm" in told.replace("\u202f", " ")


def test_it_comes_as_a_file(site, build) -> None:
    answer = site.client.get(f"/b/{build}/panel.dxf", params={"part": "deck/face"})
    assert answer.status_code == 200 and answer.content.startswith(b"  0\nSECTION")
    assert "d1-f.dxf" in answer.headers["content-disposition"]


@pytest.mark.parametrize("part", ["deck/skin/99", "", "../deck", "<b>", "x" * 201, "deck/cross/X1"])
def test_what_is_no_panel_is_not_there(site, build, part) -> None:
    for path in ("cuts/panel", "panel.dxf"):
        answer = site.client.get(f"/b/{build}/{path}", params={"part": part})
        assert answer.status_code in (404, 422) and "<b>" not in answer.text.replace("<b>x", "")[:200]


def test_names_are_text_and_units_the_readers(app, site) -> None:
    plan = skiff_plan(fittings=[{**DECK, "name": "<script>x</script>"}, HATCH])
    build = make_build(app, plan, units="in")
    page = site.client.get(f"/b/{build}/cuts/panel", params={"part": "deck/skin/1"}).text
    assert "<script>x" not in page and " in" in words(page)


def test_a_booklet_holds_every_part_of_a_thing_or_of_everything(site, build) -> None:
    page = site.client.get(f"/b/{build}/cuts/booklet").text
    told = words(page)
    # the deck of the skiff with its hatch: each panel once as a heading, each member once in a table
    panels = [p.label for b in derive(skiff_plan(fittings=[DECK, HATCH])).built for p in b.panels]
    for label in panels:
        assert len(re.findall(rf'booklet-head">\s*{re.escape(label)} ', page)) == 1
    assert "long point to long point" in told and "Ordinates" in told
    one = site.client.get(f"/b/{build}/cuts/booklet", params={"thing": "hatch"}).text
    assert 0 < one.count('class="booklet-panel"') < page.count('class="booklet-panel"') == len(panels)
    nothing = site.client.get(f"/b/{build}/cuts/booklet", params={"thing": "<i>gone</i>"})
    assert (
        nothing.status_code == 200
        and "Nothing of this is cut" in nothing.text
        and "<i>gone" not in nothing.text
    )


def test_a_member_s_page_tells_its_ends_holes_and_what_is_cut_with_it(site, build) -> None:
    cuts = site.client.get(f"/b/{build}/cuts").text
    address = re.search(r'href="([^"]*cuts/member\?part=deck%2Fside%2Fport)"', cuts)
    assert address is not None
    page = site.client.get(address[1]).text
    assert "flange, seen from outside" in page and "leg, seen from outside" in page
    assert 'class="mark-hole"' in page and "for the" in page
    # the one on the other side is cut with the same fence
    assert "Same fence" in page and "D1-AS" in page
    booklet = site.client.get(f"/b/{build}/cuts/booklet").text
    assert "holes for the skin in the flange" in booklet and "cuts/member?part=" in booklet
    assert site.client.get(f"/b/{build}/cuts/member?part=gone").status_code == 404
    file = site.client.get(f"/b/{build}/member.dxf?part=deck/side/port")
    assert file.status_code == 200 and "AC1024" in file.text
    assert site.client.get(f"/b/{build}/member.dxf?part=gone").status_code == 404
    assert site.client.get(f"/b/{build}/cuts/member?part=" + "x" * 300).status_code == 422


def test_what_to_measure_first_is_told_on_a_panel_s_page(site, build) -> None:
    page = site.client.get(f"/b/{build}/cuts/panel?part=deck/skin/1").text
    assert "Measure this first" in page
    part = site.client.get(f"/b/{build}/cuts/measure-first?part=deck/skin/1")
    assert part.status_code == 200 and "hang" in part.text
    assert re.search(r"station \d+, (half-width|height)", part.text)
    # of one that is gone nothing is asked
    assert "No reading" in site.client.get(f"/b/{build}/cuts/measure-first?part=gone").text


def test_a_gap_may_be_taken_over_by_the_hull(site, build) -> None:
    part = "deck/skin/1"
    page = site.client.get(f"/b/{build}/cuts/panel?part={part}").text
    names = re.findall(r'name="(high-\d+)"', page)
    typed = {"part": part, "base": "1", **dict.fromkeys(names, "6 mm")}
    assert site.form(f"/b/{build}/cuts/tried", typed).status_code == 303
    told = site.client.get(f"/b/{build}/cuts/measure-first?part={part}").text
    change = re.search(r'data-change="([^"]+)"', told)
    assert change is not None and "The gap comes from it" in told
    body = {"base": 2, "change": json.loads(html.unescape(change[1]))}
    assert site.post(f"/api/builds/{build}/changes", body).status_code == 200
    # the hull has it now: the panel has no gaps of its own any more
    after = site.client.get(f"/b/{build}/cuts/panel?part={part}").text
    assert "taken over already" not in after
