"""Float pages on a box whose figures are known by hand: 4 x 2 x 1 m, 1600 kg at (2, 0, 0.3).

Draft 0.2, freeboard 0.8; BM = 2³ 4 / 12 / 1.6 = 1.667, KB = 0.1, so GM = 1.467 m.
"""

import html
import json
import re

import pytest

from stirrup.demo.seed import FILES, demo_plan
from tests.boats import plan, skiff_plan
from tests.web.conftest import make_build

BATTERY = {
    "id": "battery", "name": "battery", "group": "battery", "stage": "added",
    "mass": {"value": 40.0, "centre": [0.5, 0.6, 0.2], "status": "guessed"},
    "slide": {"fore": 3.0, "aft": 0.0, "port": 0.0, "starboard": 1.2},
}  # fmt: skip


@pytest.fixture
def box(app) -> int:
    return make_build(app, plan())


@pytest.fixture
def leaning(app) -> int:
    return make_build(app, plan(items=[BATTERY]))


def text_of(page: str) -> str:
    return re.sub(r"\s+", " ", html.unescape(re.sub(r"<[^>]+>", " ", page)))


def changes(page: str) -> list[dict]:
    return [json.loads(html.unescape(c)) for c in re.findall(r'data-change="([^"]+)"', page)]


def test_the_float_page_has_the_figures_of_the_box(site, box) -> None:
    page = text_of(site.client.get(f"/b/{box}/float?case=planned,%20empty").text)
    assert "GM 1 467 mm" in page
    assert re.search(r"water enters at \d\d°", page)
    assert "800 mm" in page
    for case in ("as found", "one at the helm", "two aft", "everyone to one rail"):
        assert case in page
    assert "screening" in page


def test_every_figure_opens_its_working(site, box) -> None:
    page = site.client.get(f"/b/{box}/float?case=planned,%20empty").text
    figures = re.findall(r'<details class="fig">(.*?)</details>', page, re.DOTALL)
    assert len(figures) >= 10
    for figure in figures:
        assert 'class="formula"' in figure
        assert 'class="source"' in figure
    words = text_of("".join(figures))
    assert "Displacement" in words


@pytest.mark.parametrize(
    ("units", "words"),
    [
        # 8 m² by 10 mm: 80 kg; GM along 4² / 12 / 0.2 + 0.1 - 0.3 = 6.467, by 1600 kg and 10 mm in 4 m
        ("mm", ("To sink 10 mm 80.0 kg", "Moment to trim 10 mm 25.9 kg·m",
                "moment for 10 mm of trim 25.9 kg·m", "1000 kg/m³", "1.60 m³")),
        # by an inch 203.2 kg and 65.70 kg·m; a kg·m is 7.233 lb·ft; 1.6 m³ are 56.5 cubic feet
        ("ft-in", ("To sink 1 in 448 lb", "Moment to trim 1 in 475 lb·ft",
                   "moment for 1 in of trim 475 lb·ft", "62.4 lb/ft³", "57 ft³")),
    ],
)  # fmt: skip
def test_what_sinks_and_trims_her_is_told_in_the_shops_units(app, site, units, words) -> None:
    build = make_build(app, plan(), units)
    page = text_of(site.client.get(f"/b/{build}/float?case=planned,%20empty").text)
    assert [w for w in words if w not in page] == []
    area = re.search(r"area ([\d.]+) (m|ft)·rad", page)
    assert area is not None and area[2] == ("m" if units == "mm" else "ft")


def test_least_moves_bring_her_upright_as_one_change_that_can_be_undone(site, leaning) -> None:
    page = site.client.get(f"/b/{leaning}/float?case=planned,%20empty&trim=0&list=0").text
    # alone the battery cannot bring both: 40 kg at (0.5, 0.6) must go to (2, 0), and it may
    assert "1 500 mm forward" in text_of(page)
    assert "600 mm to starboard" in text_of(page)
    move = next(c for c in changes(page) if c["do"] == "together")
    assert site.post(f"/api/builds/{leaning}/changes", {"base": 1, "change": move}).status_code == 200
    at = site.client.get(f"/b/{leaning}/file").json()["items"][0]["mass"]["centre"]
    assert at == pytest.approx([2.0, 0.0, 0.2], abs=2e-3)
    after = text_of(site.client.get(f"/b/{leaning}/float?case=planned,%20empty").text)
    assert "trim level" in after
    assert site.post(f"/api/builds/{leaning}/undo", {}).status_code == 200
    at = site.client.get(f"/b/{leaning}/file").json()["items"][0]["mass"]["centre"]
    assert at == [0.5, 0.6, 0.2]


@pytest.mark.parametrize(("query", "words"), [("trim=steep&list=0", "steep"), ("trim=0&list=95", "95")])
def test_a_target_that_cannot_be_read_says_so(site, leaning, query, words) -> None:
    page = site.client.get(f"/b/{leaning}/float?{query}").text
    assert "field-error" in page
    assert words in page


def test_out_of_reach_gives_the_nearest(app, site) -> None:
    short = {**BATTERY, "slide": {"fore": 0.2, "aft": 0.0, "port": 0.0, "starboard": 0.1}}
    build = make_build(app, plan(items=[short]))
    page = text_of(site.client.get(f"/b/{build}/float?case=planned,%20empty&trim=0&list=0").text)
    assert "Out of reach" in page


def test_the_map_comes_row_by_row_with_its_words(site, box) -> None:
    answer = site.client.get(f"/api/builds/{box}/crew-map?case=planned,%20empty&mass=85%20kg")
    assert answer.headers["content-type"] == "application/x-ndjson"
    rows = [json.loads(line) for line in answer.text.splitlines()]
    assert len(rows) >= 21
    assert all("cells" in row for row in rows[:-1])
    assert "<path" in rows[3]["cells"]
    assert rows[-1]["words"]


@pytest.mark.parametrize(
    ("query", "words"),
    [("mass=heavy", "heavy"), ("mass=900%20kg", "a person of up to"), ("kind=speed", "accepted: ")],
)
def test_a_map_that_cannot_be_is_a_problem_with_words(site, box, query, words) -> None:
    answer = site.client.get(f"/api/builds/{box}/crew-map?{query}")
    assert answer.status_code == 422
    assert words in answer.json()["detail"]


def test_a_sinking_case_says_what_to_take_out_on_every_sheet(app, site) -> None:
    # the box carries 8 m³ of fresh water: 8000 kg
    build = make_build(app, plan(mass=9000.0))
    page = text_of(site.client.get(f"/b/{build}/float").text)
    assert "take at least 1000 kg out" in page
    for sheet in ("ledger", "compare", "capacity", "measured"):
        answer = site.client.get(f"/b/{build}/float/{sheet}")
        assert answer.status_code == 200, sheet
    assert site.client.get(f"/api/builds/{build}/crew-map").status_code == 422


def test_the_ledger_sums_filters_and_sorts(site, leaning) -> None:
    page = site.client.get(f"/b/{leaning}/float/ledger").text
    words = text_of(page)
    assert "everything aboard 1640 kg" in words
    # 1 % of 1600 and 20 % of 40: sqrt(16² + 8²) = 17.9 kg
    assert "17.9 kg" in words
    # growth: 5 % of what is added and guessed, of 40 kg
    assert "Growth allowance until a float check: 2.0 kg" in words
    only = text_of(site.client.get(f"/b/{leaning}/float/ledger?group=battery").text)
    assert "bare hull" not in only.split("everything aboard")[0].split("what")[-1]
    by_trim = site.client.get(f"/b/{leaning}/float/ledger?sort=trim").text
    assert 'aria-sort="descending"' in by_trim


def test_the_ledger_is_edited_in_the_row_and_weighed(site, leaning) -> None:
    page = site.client.get(f"/b/{leaning}/float/ledger").text
    assert 'data-path="items/battery/mass/value"' in page
    assert 'data-path="hull/mass/status"' in page
    typed = {"base": 1, "typed": {"path": "items/battery/mass/value", "text": "55 lb"}}
    done = site.post(f"/api/builds/{leaning}/changes", typed)
    assert done.status_code == 200
    weighed = {"base": 2, "typed": {"path": "items/battery/mass/weighed", "text": "38.2 kg"}}
    assert site.post(f"/api/builds/{leaning}/changes", weighed).status_code == 200
    mass = site.client.get(f"/b/{leaning}/file").json()["items"][0]["mass"]
    assert (mass["value"], mass["status"]) == (38.2, "weighed")


def test_a_person_dragged_stands_on_what_is_under_him(app, site) -> None:
    from tests.boats import DECK

    crew = [{"mass": 85.0, "at": [1.0, 0.0, 0.0], "posture": "standing", "settle": True}]
    build = make_build(app, skiff_plan(fittings=[DECK], cases=[{"name": "two", "crew": crew}]))
    page = site.client.get(f"/b/{build}/float?case=two").text
    assert 'data-person="0"' in page
    assert "stands on Deck" not in page
    moved = site.post(f"/api/builds/{build}/changes",
                      {"base": 1, "case": "two", "person": {"number": 0, "x": 3.6, "y": 0.1}})  # fmt: skip
    assert moved.status_code == 200, moved.text
    person = site.client.get(f"/b/{build}/file").json()["cases"][0]["crew"][0]
    assert (person["at"][:2], person["settle"]) == ([3.6, 0.1], True)
    page = text_of(site.client.get(f"/b/{build}/float?case=two").text)
    assert "Person 1 stands on Deck" in page
    beside = {"base": 2, "case": "two", "person": {"number": 0, "x": 2.0, "y": 2.5}}
    refused = site.post(f"/api/builds/{build}/changes", beside)
    assert refused.status_code == 422
    assert "nothing to stand on there" in refused.json()["detail"]


def test_pods_collars_or_nothing_stand_side_by_side(site, box) -> None:
    page = text_of(site.client.get(f"/b/{box}/float/compare?now=1").text)
    assert "Pods, collars or nothing" in page
    for word in ("least freeboard", "trim", "righting", "added", "cost"):
        assert word in page.lower()
    bad = site.client.get(f"/b/{box}/float/compare?setback=far").text
    assert "far" in bad
    assert "field-error" in bad


def test_the_comparison_comes_behind_its_page_and_only_afloat(app, site) -> None:
    build = make_build(app, demo_plan(FILES[1]))
    page = site.client.get(f"/b/{build}/float/compare").text
    behind = re.search(r'data-behind="([^"]+/float/compare/table[^"]*)"', page)
    assert behind and "least freeboard" not in page
    # those without scripts have a link to the same
    assert re.search(r'class="without">\s*<a href="\?now=1', page)
    table = site.client.get(behind[1].replace("&amp;", "&")).text
    assert table in site.client.get(f"/b/{build}/float/compare?now=1").text
    words = text_of(table)
    assert "pods" in words and "planned, empty" in words
    # on her trailer nothing carries her
    assert "on the trailer" not in words


def test_capacity_shows_label_screening_and_the_swamped_state_with_caution(app, site) -> None:
    label = {"total_kg": 480.0, "persons_kg": 330.0, "persons": 4}
    build = make_build(app, plan(label=label, items=[BATTERY]))
    page = text_of(site.client.get(f"/b/{build}/float/capacity").text)
    assert "What the label leaves" in page
    assert "Screening" in page
    assert "If she swamps" in page
    # helm alone, 85 kg: 330 - 85 for persons; 480 - 85 - 40 (battery) in all
    assert "one at the helm 85.0 kg 0 kg 245 kg 355 kg" in page
    without = text_of(site.client.get(f"/b/{make_build(app, plan())}/float/capacity").text)
    assert "as there is no label" in without


def test_a_weigh_in_is_taken_held_against_the_ledger_and_booked(site, box) -> None:
    form = {"kind": "weigh_in", "case": "planned, empty", "force1": "820 kg", "x1": "1 m",
            "force2": "840 kg", "x2": "3 m", "spread": "2 kg"}  # fmt: skip
    assert site.form(f"/b/{box}/float/measured/add", form).status_code == 303
    page = site.client.get(f"/b/{box}/float/measured").text
    words = text_of(page)
    # ledger, what the scales add up to (2 kg by the root of 2), and how many sigmas lie between
    assert "1600 kg ± 16.0 kg 1660 kg ± 2.8 kg 3.7 σ" in words
    assert "<svg" in page
    book = next(c for c in changes(page) if "corrected by weigh-in" in json.dumps(c))
    assert site.post(f"/api/builds/{box}/changes", {"base": 2, "change": book}).status_code == 200
    mass = site.client.get(f"/b/{box}/file").json()["hull"]["mass"]
    # nothing but the hull was on the scales: it takes their word, and their spread of 2 kg each
    assert (mass["value"], mass["status"]) == (pytest.approx(1660, abs=0.05), "weighed")
    assert mass["spread"] == pytest.approx(8**0.5, abs=0.01)
    assert mass["centre"][0] == pytest.approx((820 * 1 + 840 * 3) / 1660, abs=0.01)


def test_a_bad_measurement_is_explained_and_stays_typed(site, box) -> None:
    form = {
        "kind": "weigh_in",
        "case": "planned, empty",
        "force1": "lots",
        "x1": "1 m",
        "note": "on slings",
    }
    refused = site.form(f"/b/{box}/float/measured/add", form)
    assert refused.status_code == 422
    assert 'value="lots"' in refused.text
    assert 'value="on slings"' in refused.text
    assert "needed" in refused.text
    assert site.form(f"/b/{box}/float/measured/add", {"kind": "guess"}).status_code == 422


def test_an_inclining_gives_the_metacentric_height(site, box) -> None:
    # 85 kg by 0.8 m: tan h = 85 x 0.8 / (1600 x 1.4667) is 1.66°
    form = {
        "kind": "inclining",
        "case": "planned, empty",
        "mass": "85 kg",
        "distance": "0.8 m",
        "heel_deg": "1.66",
    }
    assert site.form(f"/b/{box}/float/measured/add", form).status_code == 303
    words = text_of(site.client.get(f"/b/{box}/float/measured").text)
    assert re.search(r"1 4[67]\d mm", words)


@pytest.mark.parametrize(("kind", "why"), [("inboard", "inboards have"), ("none", "rowed or paddled")])
def test_capacity_says_why_it_is_not_computed(app, site, kind, why) -> None:
    build = make_build(app, plan(propulsion={"kind": kind}))
    page = text_of(site.client.get(f"/b/{build}/float/capacity").text)
    assert re.search(rf"not computed , because [^.]*{why}", page)
    assert (
        "number of persons =" not in page and "hp" not in page.split("If she swamps")[0].split("33 CFR")[1]
    )


@pytest.mark.parametrize("sheet", ["ledger", "compare?now=1", "capacity", "measured"])
def test_every_sheet_opens_its_working(app, site, sheet) -> None:
    scales = [{"force": 800.0, "x": x, "y": 0.0} for x in (1.0, 3.0)]
    check = {"id": "w", "kind": "weigh_in", "case": "as found", "spread": 1.0, "scales": scales}
    build = make_build(app, plan(measured=[check]))
    page = site.client.get(f"/b/{build}/float/{sheet}").text
    workings = re.findall(r"Show working</summary>(.*?)</details>", page, re.DOTALL)
    assert workings
    for working in workings:
        assert 'class="formula"' in working
        assert 'class="source"' in working
