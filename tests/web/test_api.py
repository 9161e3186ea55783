import re

import pytest

from stirrup.web.pages import previewing
from tests.boats import DECK, HATCH, skiff_plan
from tests.web.conftest import make_build

MOVE = {"do": "set", "path": ["fittings", "deck", "aft"], "value": 2.9}


def test_a_change_is_stored_and_told_in_words(site, build) -> None:
    answer = site.post(f"/api/builds/{build}/changes", {"base": 1, "change": MOVE})
    assert answer.status_code == 200
    body = answer.json()
    assert body["number"] == 2 and body["read_as"] == "2 900 mm"
    assert body["words"] == "Deck: aft edge, from transom 3 000 mm to 2 900 mm"
    history = site.client.get(f"/api/builds/{build}/history").json()
    assert [h["number"] for h in history] == [2, 1]


def test_typed_text_is_read_by_the_server(site, build) -> None:
    typed = {"path": "fittings/deck/aft", "text": "9' 6-1/2\""}
    answer = site.post(f"/api/builds/{build}/changes", {"base": 1, "typed": typed})
    assert answer.json()["read_as"] == "2 908 mm"  # 114.5 in x 25.4


def test_a_bad_number_is_a_problem_with_place_and_words(site, build) -> None:
    typed = {"path": "fittings/deck/aft", "text": "over there"}
    answer = site.post(f"/api/builds/{build}/changes", {"base": 1, "typed": typed})
    assert answer.status_code == 422
    assert answer.headers["content-type"] == "application/problem+json"
    body = answer.json()
    assert body["place"] == "fittings.deck.aft"
    assert "read “over there” as a length; accepted" in body["detail"]
    assert {"type", "title", "status", "detail"} <= set(body)


def test_a_stale_change_to_the_same_thing_shows_both_versions(site, build) -> None:
    site.post(f"/api/builds/{build}/changes", {"base": 1, "change": MOVE})
    typed = {"path": "fittings/deck/height", "text": "350"}
    answer = site.post(f"/api/builds/{build}/changes", {"base": 1, "typed": typed})
    assert answer.status_code == 409
    body = answer.json()
    assert body["code"] == "stale" and body["number"] == 2
    assert body["theirs"].endswith("to 2 900 mm")
    assert body["yours"] == "Deck: top above keel line 400 mm to 350 mm"
    mine = site.post(f"/api/builds/{build}/changes", {"base": body["number"], "typed": typed})
    assert mine.status_code == 200


def test_a_stale_change_to_another_thing_is_merged(site, build) -> None:
    site.post(f"/api/builds/{build}/changes", {"base": 1, "change": MOVE})
    typed = {"path": "fittings/hatch/x", "text": "3500"}
    answer = site.post(f"/api/builds/{build}/changes", {"base": 1, "typed": typed})
    assert answer.status_code == 200
    assert len(answer.json()["merged"]) == 1


def test_a_repeated_request_is_applied_once(site, build) -> None:
    body = {"base": 1, "change": MOVE, "token": "once"}
    first = site.post(f"/api/builds/{build}/changes", body).json()["number"]
    assert site.post(f"/api/builds/{build}/changes", body).json()["number"] == first == 2


def test_preview_shows_what_follows_and_stores_nothing(site, build) -> None:
    body = {"base": 1, "change": MOVE, "sel": "deck", "case": "planned, empty"}
    answer = site.post(f"/api/builds/{build}/preview", body)
    assert answer.status_code == 200
    parts = answer.json()
    assert set(parts["views"]) == {"profile", "plan", "section"}
    assert "▲" in parts["strip"] and "about" in parts["strip"]
    assert parts["read_as"] == "2 900 mm"
    assert site.client.get(f"/api/builds/{build}").json()["number"] == 1


def test_findings_are_told_where_they_are_asked_for(site, build) -> None:
    asked = {"base": 1, "change": MOVE, "pace": "live"}
    whole, less = (
        site.post(f"/api/builds/{build}/preview", {**asked, **more}).json()
        for more in ({}, {"listing": False})
    )
    assert whole.pop("findings") and "findings" not in less
    assert "facts" not in less and whole.pop("facts") == ""  # nothing is chosen
    assert set(whole) == set(less) and whole["strip"] == less["strip"]


def test_drawings_are_told_where_they_are_asked_for(site, build) -> None:
    asked = {"base": 1, "change": MOVE, "pace": "live", "sel": "deck"}

    def told(**more: object) -> dict[str, str]:
        views: dict[str, str] = site.post(f"/api/builds/{build}/preview", {**asked, **more}).json()["views"]
        return views

    whole = told()
    assert told(views=["plan"]) == {"plan": whole["plan"]}
    assert told(views=["section", "profile"]) == {k: whole[k] for k in ("profile", "section")}
    assert told(views=[]) == {}
    # what has no such drawings tells all of its own
    assert set(told(page="float", views=["plan"])) == {"side", "stern"}


def test_what_it_costs_is_counted_where_the_findings_are_told(site, build) -> None:
    """Of each hand by itself, and never by the figures of another revision."""

    def told(aft: float, hand: str, listing: bool, base: int = 1) -> tuple[str, str]:
        change = {**MOVE, "value": aft}
        body = {"base": base, "change": change, "pace": "live", "hand": hand, "listing": listing}
        strip = site.post(f"/api/builds/{build}/preview", body).json()["strip"]
        assert re.search(r'class="figure is-cost old"', strip)  # soft as long as it is dragged
        cost = re.search(r'is-cost old".*?<b>(.*?)</b', strip, re.S)
        added = re.search(r'is-added".*?<b>(.*?)</b', strip, re.S)
        assert cost is not None and added is not None
        return cost[1], added[1]

    cost, added = told(2.9, "left", True)
    same, more = told(1.2, "left", False)
    assert same == cost and more != added
    # another hand has counted nothing yet
    larger = told(1.2, "right", False)[0]
    assert larger != cost and told(1.2, "left", True)[0] == larger
    assert told(2.9, "left", False)[0] == larger
    site.post(f"/api/builds/{build}/changes", {"base": 1, "change": {**MOVE, "value": 2.8}})
    assert told(2.9, "left", False, base=2)[0] == cost


def test_a_hand_looks_into_the_store_twice_a_second(site, build, monkeypatch) -> None:
    looked: list[int] = []
    real = previewing.at_a_glance
    monkeypatch.setattr(previewing, "at_a_glance", lambda build_id: looked.append(1) or real(build_id))
    monkeypatch.setattr(previewing, "LOOK_S", 60.0)

    def looks(**more: object) -> int:
        body = {"base": 1, "change": MOVE, "pace": "live", "hand": "left", **more}
        before = len(looked)
        assert site.post(f"/api/builds/{build}/preview", body).status_code == 200
        return len(looked) - before

    assert [looks(), looks(), looks(hand="right"), looks()] == [1, 0, 1, 0]
    assert [looks(pace="behind"), looks()] == [1, 0]
    # what is of no hand, and another revision, are looked up
    assert [looks(hand=""), looks(hand="")] == [1, 1]
    site.post(f"/api/builds/{build}/changes", {"base": 1, "change": {**MOVE, "value": 2.8}})
    assert [looks(base=2), looks(base=2)] == [1, 0]
    monkeypatch.setattr(previewing, "LOOK_S", 0.0)
    assert [looks(base=2), looks(base=2)] == [1, 1]


@pytest.mark.parametrize(
    ("more", "told"),
    [
        ({"listing": "<b>"}, 'body.listing: read "<b>"; accepted: true or false'),
        ({"pace": "soon"}, "body.pace: read \"soon\"; accepted: 'live' or 'behind'"),
        ({"views": ["stern"]}, "body.views[0]: read \"stern\"; accepted: 'profile', 'plan' or 'section'"),
        ({"views": 4 * ["plan"]}, "body.views: "),
        ({"step": -1}, "body.step: read -1; accepted: 0 or more"),
        ({"base": "first"}, 'body.base: read "first"; accepted: a whole number'),
        ({"hand": 7 * "abcdef "}, "accepted: at most 40 characters"),
        ({"speed": 3}, "body.speed: unknown key"),
    ],
)
def test_a_request_that_cannot_be_read_says_where_and_what_is_accepted(site, build, more, told) -> None:
    answer = site.post(f"/api/builds/{build}/preview", {"base": 1, "change": MOVE, **more})
    assert answer.status_code == 422 and told in answer.json()["detail"]
    answer = site.post(f"/api/builds/{build}/preview", {"change": MOVE})
    assert answer.json()["detail"] == "body.base: missing; this key is needed"


def test_preview_on_the_survey_draws_the_lines(site, build) -> None:
    change = {"do": "set", "path": ["hull", "lines", "sheer", "points", "2", "1"], "value": 1.05}
    answer = site.post(
        f"/api/builds/{build}/preview", {"base": 1, "change": change, "page": "survey", "line": "sheer"}
    )
    assert set(answer.json()["views"]) == {"profile", "plan", "body"}


def test_undo_and_redo_and_their_ends(site, build) -> None:
    assert site.post(f"/api/builds/{build}/undo", {}).status_code == 409
    site.post(f"/api/builds/{build}/changes", {"base": 1, "change": MOVE})
    assert site.post(f"/api/builds/{build}/undo", {}).json()["number"] == 3
    assert site.post(f"/api/builds/{build}/redo", {}).json()["number"] == 4
    assert site.post(f"/api/builds/{build}/redo", {}).status_code == 409


@pytest.mark.parametrize("kind", ["raised_deck", "hatch", "item", "case"])
def test_a_suggested_thing_can_be_placed(site, build, kind) -> None:
    first = site.post(f"/api/builds/{build}/suggest", {"kind": kind, "sel": ""}).json()
    before = site.client.get(f"/b/{build}/file").text
    answer = site.post(f"/api/builds/{build}/changes", {"base": 1, "change": first["change"]})
    assert answer.status_code == 200
    after = site.client.get(f"/b/{build}/file").text
    # it is there, and the page shows it
    assert len(after) > len(before)
    assert site.client.get(f"/b/{build}/layout").status_code == 200


def test_a_suggested_removal_takes_the_hatch_along(site, build) -> None:
    change = site.post(f"/api/builds/{build}/suggest-removal", {"path": "fittings/deck"}).json()["change"]
    assert site.post(f"/api/builds/{build}/changes", {"base": 1, "change": change}).status_code == 200
    assert site.client.get(f"/b/{build}/file").json()["fittings"] == []


@pytest.mark.parametrize(
    "body",
    [
        {},
        {"base": 1},
        {"base": -1, "change": MOVE},
        {"base": 1, "change": {"do": "paint"}},
        {"base": 1, "change": {"do": "set", "path": ["nowhere"], "value": 1}},
        {"base": 1, "change": MOVE, "extra": 1},
        {"base": 1, "typed": {"path": "x" * 400, "text": "1"}},
        {"base": 1, "change": {"do": "set", "path": ["fittings", "deck", "aft"], "value": "NaN"}},
    ],
)
def test_requests_that_make_no_sense_are_refused_as_problems(site, build, body) -> None:
    answer = site.post(f"/api/builds/{build}/changes", body)
    assert answer.status_code == 422
    assert answer.headers["content-type"] == "application/problem+json"


def test_openapi_describes_the_json_parts(site) -> None:
    paths = site.client.get("/api/openapi.json").json()["paths"]
    assert "/api/builds/{build_id}/changes" in paths
    assert all(p.startswith("/api/") for p in paths)


def test_derived_figures_can_be_inspected(app, site) -> None:
    build = make_build(app, skiff_plan(fittings=[DECK, HATCH]))
    data = site.client.get(f"/api/builds/{build}").json()
    assert data["parts"]["panels"] and data["cases"][0]["case"] == "planned, empty"


def test_a_field_sent_as_a_form_that_cannot_be_read_is_answered_with_a_page(site, build) -> None:
    headers = {"accept": "text/html,*/*", "referer": f"http://127.0.0.1:8470/b/{build}/layout?sel=deck"}
    data = {"base": "1", "path": "fittings/deck/aft", "text": "far"}
    answer = site.form(f"/api/builds/{build}/entry", data, headers=headers)
    assert answer.status_code == 422
    assert "read “far” as a length" in answer.text
    assert f'href="/b/{build}/layout?sel=deck"' in answer.text
    elsewhere = {**headers, "referer": "http://other.example/x"}
    assert "Back to the page" not in site.form(f"/api/builds/{build}/entry", data, headers=elsewhere).text


@pytest.mark.parametrize(
    ("path", "value", "shown"),
    [
        # 3.02 m are 118.898 in: 9' 10 7/8"; 1000 kg/m3 are 62.43 lb/ft3
        ("fittings/deck/aft", 3.02, "9' 10-7/8\""),
        ("water/density", 1000.0, "62.4 lb/ft³"),
    ],
)
def test_a_field_sent_as_it_was_read_changes_nothing(app, site, path, value, shown) -> None:
    build = make_build(app, skiff_plan(fittings=[{**DECK, "aft": 3.02}]), "ft-in")
    headers = {"referer": f"http://127.0.0.1:8470/b/{build}/layout"}
    data = {"base": 1, "path": path, "text": shown}
    assert site.form(f"/api/builds/{build}/entry", data, headers=headers).status_code == 303
    file = site.client.get(f"/b/{build}/file").json()
    there = {"fittings/deck/aft": file["fittings"][0]["aft"], "water/density": file["water"]["density"]}
    assert there[path] == value and site.client.get(f"/api/builds/{build}").json()["number"] == 1
    # anything else is taken
    other = {**data, "text": shown.replace("7/8", "3/4").replace("62.4", "64")}
    assert site.form(f"/api/builds/{build}/entry", other, headers=headers).status_code == 303
    assert site.client.get(f"/api/builds/{build}").json()["number"] == 2


def test_a_field_sent_as_a_form_works_without_scripts(site, build) -> None:
    data = {"base": 1, "path": "fittings/deck/aft", "text": "2950"}
    answer = site.form(
        f"/api/builds/{build}/entry", data, headers={"referer": f"http://127.0.0.1:8470/b/{build}/layout"}
    )
    assert answer.status_code == 303 and answer.headers["location"].endswith("/layout")
    away = site.form(
        f"/api/builds/{build}/entry", {**data, "base": 2}, headers={"referer": "http://evil.example/"}
    )
    assert away.headers["location"] == "/"
    assert site.form(f"/api/builds/{build}/undo-form", {}).status_code == 303


def test_a_process_tells_what_it_keeps_at_hand(site, build) -> None:
    site.client.get(f"/b/{build}/layout")
    first = site.client.get("/api/remembered").json()
    site.client.get(f"/b/{build}/layout")
    second = site.client.get("/api/remembered").json()
    # the same page again finds what the first one made, and makes nothing more
    assert second["hits"] > first["hits"] and second["entries"] == first["entries"]
    assert second["builds"] >= 1
