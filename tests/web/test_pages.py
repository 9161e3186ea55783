import io
import re
import zipfile
from html.parser import HTMLParser
from pathlib import Path

import pytest

import stirrup.web
from stirrup.core.plan.model import PLANNED_EMPTY
from stirrup.demo.seed import FILES, FOLDER, demo_plan
from stirrup.exchange.offsets import write_offsets
from stirrup.web.present import trim_words
from tests.boats import DECK, HATCH, derive, skiff_plan
from tests.web.conftest import make_build

PAGES = (
    "survey", "survey/condition", "layout", "float", "float/ledger", "float/compare", "float/capacity",
    "float/measured", "cuts", "money", "money/shopping", "money/bought", "money/quotes", "money/came-to",
)  # fmt: skip


class Tags(HTMLParser):
    """Open and closed tags, ids and labels of a page."""

    VOID = {"meta", "link", "input", "img", "br", "hr", "path", "line", "rect", "circle"}

    def __init__(self, text: str) -> None:
        super().__init__()
        self.stack: list[str] = []
        self.ids: list[str] = []
        self.labels: list[str] = []
        self.inputs: list[dict] = []
        self.faults: list[str] = []
        self.feed(text)

    def handle_starttag(self, tag, attrs):
        data = dict(attrs)
        if tag not in self.VOID:
            self.stack.append(tag)
        if "id" in data:
            self.ids.append(data["id"])
        if tag == "label" and "for" in data:
            self.labels.append(data["for"])
        if tag in ("input", "select", "textarea") and data.get("type") != "hidden":
            self.inputs.append(data)

    def handle_endtag(self, tag):
        if tag in self.VOID:
            return
        if not self.stack or self.stack.pop() != tag:
            self.faults.append(tag)


@pytest.mark.parametrize("page", PAGES)
@pytest.mark.parametrize("units", ["ft-in", "in", "mm"])
def test_pages_are_well_formed_and_labelled(app, site, page, units) -> None:
    build = make_build(app, units=units)
    answer = site.client.get(f"/b/{build}/{page}")
    assert answer.status_code == 200
    tags = Tags(answer.text)
    assert tags.faults == [] and tags.stack == []
    assert len(tags.ids) == len(set(tags.ids))
    named = [i for i in tags.inputs if i.get("id") in tags.labels or i.get("aria-label") or "hidden" in i]
    assert len(named) == len(tags.inputs)


@pytest.mark.parametrize("sel", ["deck", "hatch", "cooler", "gone"])
def test_layout_shows_the_chosen_thing(app, site, sel) -> None:
    item = {"id": "cooler", "name": "big cooler", "mass": {"value": 20.0, "centre": [2.0, 0.0, 0.3]}}
    build = make_build(app, skiff_plan(fittings=[DECK, HATCH], items=[item]))
    text = site.client.get(f"/b/{build}/layout?sel={sel}").text
    wanted = {"deck": "<h2>Deck</h2>", "hatch": "<h2>Hatch</h2>", "cooler": "<h2>big cooler</h2>"}
    assert wanted.get(sel, "<h2>On the plan</h2>") in text
    assert ('data-path="fittings/deck/aft"' in text) == (sel == "deck")


def test_yard_lists_every_build_with_its_figures(app, site) -> None:
    plan = demo_plan(FILES[0])
    make_build(app, plan)
    text = site.client.get("/").text
    assert plan.name in text
    report = derive(plan).case(PLANNED_EMPTY).report
    assert report is not None and "Wants attention" in text and " mend" in text
    assert trim_words(report.trim_deg) in text


def test_a_boat_that_sinks_still_has_all_its_pages(app, site) -> None:
    case = {"name": "crowd", "crew": [{"mass": 400, "at": [2, 0, 0.1]}] * 20}
    build = make_build(app, skiff_plan(fittings=[DECK], cases=[case]))
    for page in PAGES:
        answer = site.client.get(f"/b/{build}/{page}?case=crowd")
        assert answer.status_code == 200
        assert "she sinks" in answer.text


def test_a_deck_that_cannot_be_built_says_so_on_the_page(app, site) -> None:
    build = make_build(app, skiff_plan(fittings=[{**DECK, "height": 2.0}]))
    text = site.client.get(f"/b/{build}/layout?sel=deck").text
    assert "cannot be built" in text and "meets no hull" in text


def test_names_are_escaped_everywhere(app, site) -> None:
    bad = "<b onclick=x>&\"' {0}"
    item = {"id": "i", "name": bad, "mass": {"value": 20.0, "centre": [2.0, 0.0, 0.3]}}
    plan = skiff_plan(fittings=[{**DECK, "name": bad, "mark": "<b onclick=x>{0}"}], items=[item],
                      cases=[{"name": bad, "crew": [{"at": [2, 0, 0], "name": bad}]}])  # fmt: skip
    build = make_build(app, plan)
    for page in PAGES:
        text = site.client.get(f"/b/{build}/{page}", params={"case": bad, "sel": "deck"}).text
        assert "<b onclick" not in text


def test_downloaded_file_imported_again_is_identical(app, site) -> None:
    build = make_build(app, demo_plan(FILES[0]))
    file = site.client.get(f"/b/{build}/file")
    assert file.text == (FOLDER / FILES[0]).read_text()
    assert 'filename="sedge-hopper.stirrup.json"' in file.headers["content-disposition"]
    answer = site.form("/builds/import", {}, files={"file": ("boat.json", file.content)})
    assert answer.status_code == 303
    new = re.search(r"/b/(\d+)/", answer.headers["location"])
    assert new and int(new[1]) != build
    assert site.client.get(f"/b/{new[1]}/file").text == file.text


@pytest.mark.slow
def test_an_empty_yard_offers_the_demo_boats(app, site) -> None:
    assert site.form("/builds/demo", {}).status_code == 303
    assert site.form("/builds/demo", {}).status_code == 303  # under names of their own
    text = site.client.get("/").text
    assert "Sedge Hopper" in text and "Teal Mule (" in text


def test_a_wrong_file_is_explained_and_stores_nothing(app, site) -> None:
    before = site.client.get("/").text.count('class="boat"')
    answer = site.form("/builds/import", {}, files={"file": ("bad.json", b'{"format": "stirrup-build"}')})
    assert answer.status_code == 422
    assert "bad.json" in answer.text and "version: read null; accepted: 1" in answer.text
    assert answer.text.count('class="boat"') == before


def test_a_copy_is_a_build_of_its_own(app, site, build) -> None:
    answer = site.form(f"/b/{build}/copy", {})
    assert answer.status_code == 303
    assert f"/b/{build}/" not in answer.headers["location"]


def test_offsets_go_out_and_in_as_one_change(app, site, build) -> None:
    text = site.client.get(f"/b/{build}/offsets.csv").text
    changed = text.replace("sheer,3,2000,1000,600", "sheer,3,2000,1020,600")
    assert changed != text
    look = site.form(f"/b/{build}/survey/check", {}, files={"table": ("t.csv", changed.encode())})
    assert look.status_code == 200 and "Clean: 18 readings on 3 lines" in look.text
    assert site.client.get(f"/api/builds/{build}").json()["number"] == 1
    answer = site.form(f"/b/{build}/survey/take", {"text": changed, "base": 1})
    assert answer.status_code == 303
    again = site.client.get(f"/b/{build}/offsets.csv").text
    assert again == changed
    assert site.post(f"/api/builds/{build}/undo", {}).status_code == 200
    assert site.client.get(f"/b/{build}/offsets.csv").text == text


def test_a_table_with_problems_shows_them_by_cell_and_keeps_the_text(app, site, build) -> None:
    text = write_offsets(skiff_plan().hull).replace("keel,2,1000", "keel,2,wide")
    look = site.form(f"/b/{build}/survey/check", {"text": text})
    assert look.status_code == 200
    assert "1 thing to put right" in " ".join(look.text.split())
    cell = r'<td class="bad">\s*<input\s[^>]*value="wide"[^>]*>\s*<span class="why">read “wide” as a length'
    assert re.search(cell, look.text)
    assert "keel,2,wide" in look.text  # still in the text box
    refused = site.form(f"/b/{build}/survey/take", {"text": text, "base": 1})
    assert refused.status_code == 200
    assert site.client.get(f"/api/builds/{build}").json()["number"] == 1


def test_taking_over_is_refused_when_the_hull_changed_meanwhile(app, site, build) -> None:
    change = {"do": "set", "path": ["hull", "lines", "keel", "points", "0", "0"], "value": 0.01}
    assert site.post(f"/api/builds/{build}/changes", {"base": 1, "change": change}).status_code == 200
    text = write_offsets(skiff_plan().hull)
    answer = site.form(f"/b/{build}/survey/take", {"text": text, "base": 1})
    assert answer.status_code == 200 and "changed in another window meanwhile" in answer.text


def test_cut_files_download(app, site, build) -> None:
    assert site.client.get(f"/b/{build}/cut-list.csv").text.startswith("label,part,stock")
    assert "total" in site.client.get(f"/b/{build}/shopping-list.csv").text
    dxf = site.client.get(f"/b/{build}/sheet/al-2.5/1.dxf")
    assert dxf.status_code == 200 and "LWPOLYLINE" in dxf.text
    archive = zipfile.ZipFile(io.BytesIO(site.client.get(f"/b/{build}/panels.zip").content))
    assert "H1-L.dxf" in archive.namelist()
    assert site.client.get(f"/b/{build}/sheet/al-2.5/99.dxf").status_code == 404


def test_a_price_is_taken_for_the_shop_and_a_bad_one_explained(app, site, build) -> None:
    answer = site.form(f"/b/{build}/price", {"item": "latch-50", "price": "19.75"})
    assert answer.status_code == 303
    assert 'value="19.75"' in site.client.get(f"/b/{build}/money").text
    bad = site.form(f"/b/{build}/price", {"item": "latch-50", "price": "cheap"})
    assert bad.status_code == 422 and "read “cheap” as a price" in bad.text


def test_units_are_kept_for_the_shop(app, site, build) -> None:
    assert site.form("/units", {"system": "ft-in", "back": f"/b/{build}/layout"}).status_code == 303
    assert "9&#39; 10-1/8" in site.client.get(f"/b/{build}/layout?sel=deck").text
    assert site.form("/units", {"system": "in", "back": "//evil.example"}).headers["location"] == "/"


def test_unknown_builds_and_pages_are_helpful(site) -> None:
    for path in ("/b/999999/layout", "/b/999999/file", "/nothing"):
        answer = site.client.get(path)
        assert answer.status_code == 404
        assert "To the yard" in answer.text


def test_awkward_names_are_whole_steps_of_a_path(app, site) -> None:
    name = "two / three, 50% (aft)"
    plan = skiff_plan(cases=[{"name": name, "crew": [{"at": [2, 0, 0.1]}]}])
    build = make_build(app, plan)
    text = site.client.get(f"/b/{build}/layout", params={"case": name}).text
    path = re.search(r'data-path="(cases/[^"]+/crew/0/mass)"', text)
    assert path
    typed = {"path": path[1].replace("&#39;", "'"), "text": "70"}
    answer = site.post(f"/api/builds/{build}/changes", {"base": 1, "typed": typed})
    assert answer.status_code == 200
    assert site.client.get(f"/b/{build}/file").json()["cases"][0]["crew"][0]["mass"] == 70.0


def test_every_module_of_a_build_page_is_asked_for_at_once(site, build) -> None:
    """Modules that are found one behind the other cost a round trip each."""
    static = Path(stirrup.web.__file__).parent / "static"
    wanted: set[Path] = set()
    ahead = [static / "js" / "build.js"]
    while ahead:
        module = ahead.pop()
        found = re.findall(r'^(?:import|export|\}).*?"(\.[^"]+\.js)";', module.read_text(), re.M)
        new = {(module.parent / name).resolve() for name in found} - wanted
        ahead += new
        wanted |= new
    page = site.client.get(f"/b/{build}/layout").text
    told = re.findall(r'rel="modulepreload" href="/static/[^/]+/([^"]+)"', page)
    assert {static / name for name in told} == wanted and len(told) > 20


@pytest.mark.parametrize("kind", ["locker_box", "pedestal_seat", "step_box"])
def test_what_stands_beside_the_boat_is_shown_with_the_reason(app, site, kind: str) -> None:
    lost = {"kind": kind, "id": "lost", "name": "Lost", "mark": "K9", "x": 30.0, "y": 0.0}
    build = make_build(app, skiff_plan(fittings=[lost]))
    page = site.client.get(f"/b/{build}/layout", params={"sel": "lost"})
    assert page.status_code == 200
    assert "cannot be built" in page.text and "nothing to stand on there" in page.text
