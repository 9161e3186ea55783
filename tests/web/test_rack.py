"""Tools and rack on the Cuts page."""

import re

from stirrup.demo.seed import FILES, demo_plan
from tests.web.conftest import make_build
from tests.web.test_cut_ticks import number


def changed(site, build: int, **body):
    answer = site.post(f"/api/builds/{build}/changes", {"base": number(site, build), **body})
    assert answer.status_code == 200, answer.text


def test_a_leftover_is_added_sized_used_and_taken_off(site, build) -> None:
    made = site.post(f"/api/builds/{build}/suggest", {"kind": "sheet-rest"}).json()["change"]
    changed(site, build, change=made)
    hostile, id_ = "<b>behind</b> the saw", made["value"]["id"]
    for field, text in (("width", "3 m"), ("height", "2 m"), ("count", "9"), ("place", hostile)):
        changed(site, build, typed={"path": f"cutting/sheets/{id_}/{field}", "text": text})
    page = site.client.get(f"/b/{build}/cuts").text
    assert re.search(r"0 sheets\s+to buy", page) and "from your rack" in page
    assert "&lt;b&gt;behind&lt;/b&gt; the saw" in page and "<b>behind" not in page
    taken = {"do": "remove", "path": ["cutting", "sheets", id_]}
    changed(site, build, change=taken)
    assert "from your rack" not in site.client.get(f"/b/{build}/cuts").text


def test_a_stick_and_the_tools(site, build) -> None:
    changed(
        site,
        build,
        change=site.post(f"/api/builds/{build}/suggest", {"kind": "stick-rest"}).json()["change"],
    )
    changed(site, build, typed={"path": "cutting/kerf", "text": "1.5 mm"})
    changed(site, build, typed={"path": "cutting/straight", "text": "on"})
    page = site.client.get(f"/b/{build}/cuts").text
    assert re.search(r"kerf\s+<span class=\"q\">1\.5 mm", page)
    assert "Straight cuts only" in page and re.search(r'name="text"\s+value="on"\s+checked', page)


def test_nonsense_is_refused_with_the_limit(site, build) -> None:
    typed = {"path": "cutting/kerf", "text": "30 mm"}
    answer = site.post(f"/api/builds/{build}/changes", {"base": number(site, build), "typed": typed})
    assert answer.status_code == 422 and "20 mm" in answer.text.replace("\u202f", " ")


def test_what_would_save_a_sheet_is_asked_for_and_takes_any_name(site, build) -> None:
    # where layouts are not worked out beside the requests, asking works them out
    page = site.client.get(f"/b/{build}/cuts/savings", params={"stock": "al-2.5"})
    assert page.status_code == 200 and "nothing is stored until you take it" in page.text
    for stock in ("nothing", "<b>", "x" * 100):
        assert (
            "Nothing that was tried"
            in site.client.get(f"/b/{build}/cuts/savings", params={"stock": stock}).text
        )
    assert site.client.get(f"/b/{build}/cuts/savings", params={"stock": "x" * 101}).status_code == 422


def test_templates_and_labels_come_as_files(site, build) -> None:
    page = site.client.get(f"/b/{build}/cuts").text
    part = re.search(r"cuts/panel\?part=([^\"&]+)", page)
    assert part
    for paper in ("a4", "letter", "roll-610", "roll-914"):
        file = site.client.get(f"/b/{build}/template.pdf?part={part[1]}&paper={paper}")
        assert file.status_code == 200 and file.content.startswith(b"%PDF-")
    assert site.client.get(f"/b/{build}/template.pdf?part={part[1]}&paper=napkin").status_code == 422
    assert site.client.get(f"/b/{build}/template.pdf?part=nothing").status_code == 404
    labels = site.client.get(f"/b/{build}/labels.pdf")
    assert labels.status_code == 200 and labels.content.startswith(b"%PDF-")


def shown_sheet(page: str) -> dict[str, str]:
    """The first form that notes a sheet as cut."""
    form = re.search(r'<form class="used" method="post" action="[^"]*/cuts/used".*?</form>', page, re.S)
    assert form
    return dict(re.findall(r'name="(base|stock|number|parts)"\s+value="([^"]*)"', form[0]))


def test_a_sheet_is_noted_as_cut_and_laid_out_again(site, build) -> None:
    page = settled_page(site, build)
    sent = shown_sheet(page)
    answer = site.form(f"/b/{build}/cuts/used", sent)
    assert answer.status_code == 303 and answer.headers["location"].endswith("#cut-up")
    page = site.client.get(f"/b/{build}/cuts").text
    assert "Cut already" in page and "Lay out again" in page
    # the same once more: by now another sheet has its number, or none
    again = site.form(f"/b/{build}/cuts/used", sent)
    assert again.status_code == 409 and "has changed since" in again.text
    assert site.client.get(f"/b/{build}/cuts").text.count("Lay out again") == page.count("Lay out again")


def settled_page(site, build: int) -> str:
    """The Cuts page once its layouts are known: a file that needs them works them out."""
    assert site.client.get(f"/b/{build}/cut-list.csv").status_code == 200
    return site.client.get(f"/b/{build}/cuts").text


def test_what_is_no_sheet_is_not_cut(site, build) -> None:
    sent = shown_sheet(settled_page(site, build))
    for wrong in ({"number": "9"}, {"stock": "<b>"}, {"parts": "deck/skin/1"}, {"parts": ""}):
        assert site.form(f"/b/{build}/cuts/used", {**sent, **wrong}).status_code in (409, 422)
    assert site.form(f"/b/{build}/cuts/used", {**sent, "number": "0"}).status_code == 422


def test_whether_a_joint_saves_a_stick_is_asked_for(app, site) -> None:
    hopper = make_build(app, demo_plan(FILES[0]))
    page = site.client.get(f"/b/{hopper}/cuts").text
    asked = re.findall(r'data-fetch="([^"]*cuts/joints[^"]*)"', page)
    assert asked
    for address in asked:
        part = site.client.get(address.replace("&amp;", "&"))
        assert part.status_code == 200
        assert "saves" in part.text or "No member in two" in part.text
    assert "No member in two" in site.client.get(f"/b/{hopper}/cuts/joints?stock=gold").text
