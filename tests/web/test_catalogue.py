"""The catalogue's page: see, find, change, add, retire, reset, tables in with a preview."""

import csv
import html
import io
import re

from stirrup.exchange.catalogue import starting
from tests.web.conftest import make_build


def find(site, **query: str) -> str:
    answer = site.client.get("/catalogue", params=query)
    assert answer.status_code == 200
    return html.unescape(answer.text)


def form(site, path: str, **values: str):
    data = {"csrf_token": site.token, **values}
    return site.client.post(path, data=data, follow_redirects=False)


def entry(site, id_: str, **values: str):
    base = {"name": "Plate", "unit": "sheet", "packs": "1 = 100.00", "material": "5052-H32",
            "thickness": "2 mm", "width": "2440 mm", "height": "1220 mm", "mass": "0 kg", "minutes": "0",
            "status": "shop"}  # fmt: skip
    return form(site, "/catalogue/entry", **{"id": id_, **base, **values})


def test_it_is_found_by_group_and_by_words(app, site) -> None:
    page = find(site, group="latch")
    assert "slam latch, 50 mm body" in page and "angle 40 x 40" not in page
    page = find(site, find="honeycomb 19")
    assert "19 mm aluminium-faced honeycomb board" in page and "12.7 mm aluminium-faced" not in page
    assert "Nothing here is called that" in find(site, find="zzz")


def test_a_changed_entry_is_the_shops_own_and_can_go_back(app, site) -> None:
    assert entry(site, "al-2.0", name="2.0 mm from the yard", packs="1 = 120; 10 = 1000").status_code == 303
    page = find(site, edit="al-2.0", find="al-2.0")
    assert "2.0 mm from the yard" in page and "your own" in page and "10 = 1000" in page
    assert form(site, "/catalogue/reset", id="al-2.0").status_code == 303
    assert "2.0 mm from the yard" not in find(site, find="al-2.0")


def test_one_like_it_is_added_offered_and_built_of(app, site) -> None:
    assert entry(site, "al-2.5", new_id="own-2.6", name="Own sheet", thickness="2.6 mm").status_code == 303
    build = make_build(app)
    page = site.client.get(f"/b/{build}/layout?sel=deck").text
    assert 'value="own-2.6"' in page
    change = {"do": "set", "path": ["fittings", "deck", "skin"], "value": "own-2.6"}
    assert site.post(f"/api/builds/{build}/changes", {"base": 1, "change": change}).status_code == 200
    assert "Own sheet" in site.client.get(f"/b/{build}/cuts").text
    # it goes along in the file, and stays what it was when the shop removes it
    file = site.client.get(f"/b/{build}/file").json()
    assert "own-2.6" in {e["id"] for e in file["catalogue"]["entries"]}
    assert form(site, "/catalogue/reset", id="own-2.6").status_code == 303
    assert "Own sheet" in site.client.get(f"/b/{build}/cuts").text


def test_a_wrong_value_names_the_field_and_keeps_what_was_typed(app, site) -> None:
    answer = entry(site, "al-2.0", thickness="2 furlongs", name="Typed name")
    text = html.unescape(answer.text)
    assert answer.status_code == 422 and "2 furlongs" in text and "Typed name" in text
    assert "Thick" in text and "Nothing was stored" in text
    answer = entry(site, "al-2.0", new_id="al-2.5")
    assert answer.status_code == 422 and "is taken" in html.unescape(answer.text)
    answer = entry(site, "al-2.0", packs="dear")
    assert answer.status_code == 422 and "accepted: 1 = 39.00" in html.unescape(answer.text)


def test_what_is_retired_is_offered_no_longer_and_what_names_it_keeps_it(app, site) -> None:
    build = make_build(app)
    assert form(site, "/catalogue/retire", id="pvc-19", retired="true").status_code == 303
    assert "pvc-19" not in find(site, find="pvc-19").split("<tbody>")[1].split("</tbody>")[0]
    assert "retired" in find(site, find="pvc-19", gone="true")
    assert 'value="pvc-19"' not in site.client.get(f"/b/{build}/layout?sel=deck").text
    assert form(site, "/catalogue/retire", id="pvc-19", retired="false").status_code == 303
    assert 'value="pvc-19"' in site.client.get(f"/b/{build}/layout?sel=deck").text
    form(site, "/catalogue/reset", id="pvc-19")


def test_a_table_is_looked_at_before_it_is_kept(app, site) -> None:
    text = "id,group,name,packs\r\nhinge-x,hardware,Odd hinge,1 = 9\r\n"
    seen = form(site, "/catalogue/csv", text=text)
    assert "1 rows read, 1 of them change something" in seen.text and "Odd hinge" in seen.text
    assert "Odd hinge" not in find(site, find="hinge-x")
    bad = form(site, "/catalogue/csv", text=text + "y,hardware,,1=2\r\n", take="1")
    assert "1 of 2 rows cannot be read" in bad.text and "Odd hinge" not in find(site, find="hinge-x")
    assert form(site, "/catalogue/csv", text=text, take="1").status_code == 303
    assert "Odd hinge" in find(site, find="hinge-x")
    out = site.client.get("/catalogue.csv?group=hardware")
    assert "hinge-x" in out.text and out.headers["content-type"].startswith("text/csv")
    wrong = form(site, "/catalogue/csv", text="no table")
    assert wrong.status_code == 422 and "column “id”" in html.unescape(wrong.text)
    form(site, "/catalogue/reset", id="hinge-x")


def test_a_price_of_the_money_page_shows_here(app, site) -> None:
    build = make_build(app)
    item = "latch-50"
    form(site, f"/b/{build}/price", item=item, price="21.00")
    assert "your price" in find(site, find=item) and "21.00" in find(site, find=item)
    form(site, "/catalogue/reset", id=item)
    assert str(starting().find(item).packs[0].price) in find(site, find=item)


def test_hostile_words_are_shown_as_text(app, site) -> None:
    assert entry(site, "al-2.0", name="<script>alert(1)</script>").status_code == 303
    page = site.client.get("/catalogue?find=al-2.0&edit=al-2.0").text
    assert "<script>alert(1)" not in page and "&lt;script&gt;" in page
    form(site, "/catalogue/reset", id="al-2.0")


def test_what_was_not_typed_keeps_its_size_in_inches(app, site) -> None:
    """3 mm are shown as 1/8 in, which is 3.175: a new price must not make the wall thicker."""
    site.form("/units", {"system": "ft-in"})
    try:
        page = site.client.get("/catalogue", params={"edit": "angle-40x40x3"}).text
        shown = [re.search(f'name="{n}"\\s+value="([^"]*)"', page) for n in ("t", "a", "length")]
        wall, leg, stick = (html.unescape(m[1]) for m in shown if m)
        assert wall == "1/8 in"
        values = {"id": "angle-40x40x3", "name": "angle", "unit": "stick", "packs": "1 = 41.00"}
        values |= {"shape": "angle", "material": "6061-T6", "t": wall, "a": leg, "b": "1 1/2 in"}
        values["length"] = stick
        assert form(site, "/catalogue/entry", **values).status_code == 303
        table = csv.DictReader(io.StringIO(site.client.get("/catalogue.csv").text))
        (kept,) = [r for r in table if r["id"] == "angle-40x40x3"]
        assert (kept["t"], kept["a"], kept["b"], kept["length"]) == ("0.003", "0.04", "0.0381", "6.1")
    finally:
        form(site, "/catalogue/reset", id="angle-40x40x3")
        site.form("/units", {"system": "mm"})
