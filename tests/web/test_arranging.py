"""The arrangement through HTTP: move, snap, bind, line up, group, lock, hide, accept, bring in."""

import html
import json
import re
from typing import Any

import pytest

from stirrup.store import builds
from stirrup.store.shop import the_shop
from tests.boats import DECK, HATCH, skiff_plan
from tests.web.conftest import make_build


def crate(id_: str, x: float, y: float = 0.0, **more: Any) -> dict[str, Any]:
    mass = {"value": 10.0, "centre": [x, y, 0.2]}
    return {"id": id_, "name": id_.title(), "size": [0.4, 0.3, 0.3], "mass": mass, "stage": "added", **more}


@pytest.fixture
def crates(app) -> int:
    items = [crate("one", 1.0), crate("two", 1.8, 0.3), crate("three", 2.6, -0.2)]
    return make_build(app, skiff_plan(fittings=[DECK, HATCH], items=items))


def plan_of(app, build: int):
    with app.state.database.connection_context():
        return builds.load(the_shop().id, build)


def act(site, build: int, base: int = 1, **asked: Any):
    return site.post(f"/api/builds/{build}/changes", {"base": base, "arrange": asked})


def test_a_move_is_stored_in_words(app, site, crates) -> None:
    answer = act(site, crates, act="move", things=["one"], x=0.12, y=-0.03)
    assert answer.status_code == 200
    assert answer.json()["words"] == "One: moved 120 mm forward, 30 mm to starboard"
    centre = plan_of(app, crates).plan.items[0].mass.centre
    assert centre == pytest.approx((1.12, -0.03, 0.2))


def test_a_preview_tells_what_was_caught_and_the_numbers(site, crates) -> None:
    body = {"base": 1, "arrange": {"act": "move", "things": ["two"], "x": 0.004, "y": -0.296, "near": 0.01},
            "sel": "two"}  # fmt: skip
    answer = site.post(f"/api/builds/{crates}/preview", body).json()
    reasons = [s["reason"] for s in answer["snaps"]]
    # across its middle comes from 0.3 to 0.004: on the centreline; along One ends at 1.2 and Three
    # begins at 2.4, so 1.8 is as far from both
    assert reasons == ["middle as far from One as from Three", "middle on the centreline"]
    assert answer["fields"] == {"items/two/mass/centre/1": ["0 mm", ""]}
    assert 'class="guide"' in answer["views"]["plan"]


def test_an_edge_of_a_deck_is_caught_too_and_a_locked_one_is_not_moved(site, crates) -> None:
    edge = {"act": "edge", "path": "fittings/deck/aft", "value": 2.008, "near": 0.02}
    preview = site.post(f"/api/builds/{crates}/preview", {"base": 1, "arrange": edge}).json()
    assert preview["snaps"][0]["reason"] == "aft edge at station 3"
    assert act(site, crates, act="lock", things=["deck"]).status_code == 200
    refused = act(site, crates, base=2, **edge)
    assert refused.status_code == 422
    assert "“Deck” is locked" in refused.json()["detail"]


def test_exact_entry_binds_and_the_bound_thing_follows(app, site, crates) -> None:
    answer = act(site, crates, act="from", things=["two"], edge="aft", to="one", to_edge="fore",
                 text="250 mm", bind=True)  # fmt: skip
    assert answer.status_code == 200
    # one ends at 1.2: two starts at 1.45 and its middle is at 1.65
    assert plan_of(app, crates).plan.items[1].mass.centre[0] == pytest.approx(1.65)
    act(site, crates, base=2, act="move", things=["one"], x=-0.2)
    plan = plan_of(app, crates).plan
    assert plan.items[1].mass.centre[0] == pytest.approx(1.45)
    page = site.client.get(f"/b/{crates}/layout?sel=two").text
    assert "aft edge 250 mm ahead of the fore edge of One" in page
    assert act(site, crates, base=3, act="free", path="bond-1").status_code == 200
    assert plan_of(app, crates).plan.arrangement.bonds == ()


def test_putting_a_thing_somewhere_and_binding_it_takes_its_followers_along(app, site, crates) -> None:
    # three keeps to two; two is put 250 mm ahead of one and bound to it in the same step
    act(site, crates, act="bind", things=["three"], edge="aft", to="two", to_edge="fore")
    put = {"edge": "aft", "to": "one", "to_edge": "fore", "text": "250 mm", "bind": True}
    act(site, crates, base=2, act="from", things=["two"], **put)
    one, two, three = (i.mass.centre[0] for i in plan_of(app, crates).plan.items)
    # two from 1.8 to 1.2 + 0.25 + 0.2 = 1.65, so three from 2.6 to 2.45
    assert (one, two, three) == pytest.approx((1.0, 1.65, 2.45))


@pytest.mark.parametrize(
    ("asked", "told"),
    [
        ({"act": "move", "things": ["gone"], "x": 0.1}, "nothing called “gone”"),
        ({"act": "move", "things": []}, "choose something first"),
        ({"act": "move", "things": ["one"]}, "moves nothing"),
        (
            {"act": "from", "things": ["one"], "edge": "aft", "to": "centreline", "text": "10"},
            "across one another",
        ),
        ({"act": "from", "things": ["one"], "edge": "aft", "to": "transom", "text": "ten"}, "read “ten”"),
        ({"act": "from", "things": ["one"], "edge": "bow", "to": "transom", "text": "1"}, "read “bow”"),
        (
            {"act": "from", "things": ["one"], "edge": "aft", "to": "gone", "to_edge": "aft", "text": "1"},
            "“gone”",
        ),
        ({"act": "line up", "things": ["one", "two"], "edge": "slanted"}, "accepted: aft, fore"),
        ({"act": "spread", "things": ["one", "two"]}, "at least three"),
        ({"act": "group", "things": ["one"]}, "at least two"),
        ({"act": "ungroup", "things": ["one"]}, "in no group"),
        ({"act": "unlock", "things": ["one"]}, "unlocked already"),
        ({"act": "free", "path": "bond-7"}, "bond-7"),
        ({"act": "lock", "things": ["../x", "ä"]}, "nothing called “../x”"),
        ({"act": "edge", "path": "a/b/c/d/e/f/g/h/i/j/k/l/m/n"}, "accepted: fittings/ID/CHOICE or"),
        ({"act": "edge", "path": "hull/lines/keel"}, "accepted: fittings/ID/CHOICE or"),
        ({"act": "edge", "path": "fittings/deck/skin", "value": 2}, "read 2.0"),
        ({"act": "accept", "path": "CLASH", "to": "one", "text": "  "}, "give the reason"),
    ],
)
def test_what_cannot_be_done_is_said_and_nothing_is_stored(app, site, crates, asked, told) -> None:
    answer = act(site, crates, **asked)
    assert answer.status_code == 422
    assert told in answer.json()["detail"]
    assert plan_of(app, crates).number == 1


def test_hidden_things_are_not_drawn_and_weigh_all_the_same(app, site, crates) -> None:
    before = site.client.get(f"/api/builds/{crates}").json()
    act(site, crates, act="hide", things=["one", "hatch"])
    page = site.client.get(f"/b/{crates}/layout").text
    drawing = page[page.index("view-plan") : page.index("view-section")]
    assert 'data-select="two"' in drawing
    assert 'data-select="one"' not in drawing and 'data-select="hatch"' not in drawing
    assert "<i>hidden</i>" in page
    after = site.client.get(f"/api/builds/{crates}").json()
    assert after["cases"] == before["cases"]
    assert plan_of(app, crates).can_undo == "2 things: hidden"


def test_a_clash_is_accepted_with_a_reason_and_asked_about_again(app, site) -> None:
    build = make_build(app, skiff_plan(items=[crate("one", 1.0), crate("two", 1.3)]))
    assert "Two things in one place" in site.client.get(f"/b/{build}/layout").text
    answer = site.form(
        f"/api/builds/{build}/accept-form",
        {"base": "1", "code": "CLASH", "thing": "one", "other": "two", "reason": "nested on purpose"},
    )
    assert answer.status_code == 303
    page = site.client.get(f"/b/{build}/layout?sel=one").text
    assert "Known and meant: two things in one place" in page
    assert "Reason: nested on purpose" in page
    assert plan_of(app, build).can_undo == "accepted knowingly: nested on purpose"
    assert act(site, build, base=2, act="ask again", path="accepted-1").status_code == 200
    assert "Known and meant" not in site.client.get(f"/b/{build}/layout?sel=one").text


def test_things_are_brought_from_one_build_to_another(app, site, crates) -> None:
    pack = site.client.get(f"/api/builds/{crates}/things?sel=deck,two").json()
    assert [f["id"] for f in pack["fittings"]] == ["deck", "hatch"]
    other = make_build(app, skiff_plan(fittings=[DECK]))
    first = site.post(f"/api/builds/{other}/suggest", {"kind": "paste", "things": pack}).json()
    assert (
        site.post(f"/api/builds/{other}/changes", {"base": 1, "change": first["change"]}).status_code == 200
    )
    plan = plan_of(app, other).plan
    # the deck's name is taken there: it comes under another, and its hatch knows it by that
    assert [(f.id, getattr(f, "deck", "")) for f in plan.fittings] == [
        ("deck", ""), ("deck-1", ""), ("hatch", "deck-1"),
    ]  # fmt: skip
    assert len({f.mark for f in plan.fittings}) == 3
    assert plan.items[0].id == "two"
    assert set(first["sel"].split(",")) == {"deck-1", "hatch", "two"}


@pytest.mark.parametrize("things", [None, {}, {"stirrup": "things", "items": 7}, {"stirrup": "things"}])
def test_a_pack_that_is_none_is_refused(site, crates, things) -> None:
    answer = site.post(f"/api/builds/{crates}/suggest", {"kind": "paste", "things": things})
    assert answer.status_code == 422 and answer.json()["detail"]


def test_several_are_taken_out_with_all_that_mentions_them(app, site, crates) -> None:
    act(site, crates, act="group", things=["one", "two"])
    act(site, crates, base=2, act="from", things=["three"], edge="aft", to="one", to_edge="fore", bind=True)
    change = site.post(f"/api/builds/{crates}/suggest-removal", {"path": "one,deck"}).json()["change"]
    assert site.post(f"/api/builds/{crates}/changes", {"base": 3, "change": change}).status_code == 200
    plan = plan_of(app, crates).plan
    assert plan.fittings == () and [i.id for i in plan.items] == ["two", "three"]
    assert [t.id for t in plan.arrangement.things] == ["two"]
    assert plan.arrangement.bonds == ()
    assert site.post(f"/api/builds/{crates}/undo", {}).status_code == 200
    assert len(plan_of(app, crates).plan.fittings) == 2


@pytest.mark.parametrize("path", ["", ",", "gone", "one,gone", "fittings/gone"])
def test_taking_out_what_is_not_there_is_said(site, crates, path) -> None:
    asked = site.post(f"/api/builds/{crates}/suggest-removal", {"path": path})
    if asked.status_code == 200:
        change = asked.json()["change"]
        asked = site.post(f"/api/builds/{crates}/changes", {"base": 1, "change": change})
    assert asked.status_code == 422


def test_gear_is_tried_when_its_box_is_opened(app, site) -> None:
    gear = [{"id": "g", "name": "bucket", "length": 0.2, "width": 0.2, "height": 0.2}]
    build = make_build(app, skiff_plan(fittings=[DECK, HATCH], wishes={"gear": gear}))
    text = site.client.get(f"/b/{build}/layout/gear").text
    assert "bucket" in text and "goes through Hatch" in text and "under Deck" in text
    assert f'data-fetch="/b/{build}/layout/gear"' in site.client.get(f"/b/{build}/layout").text


KINDS = (
    "console,helm seat,bench,battery,cooler,dry box,rod box,anchor,item,fuel tank,livewell,"
    "motor,raised_deck,hatch"
)


@pytest.mark.parametrize("kind", KINDS.split(","))
def test_everything_of_the_palette_can_be_placed(app, site, crates, kind) -> None:
    first = site.post(f"/api/builds/{crates}/suggest", {"kind": kind}).json()
    answer = site.post(f"/api/builds/{crates}/changes", {"base": 1, "change": first["change"]})
    assert answer.status_code == 200, answer.text
    assert f'id="tick-{first["sel"]}"' in site.client.get(f"/b/{crates}/layout?sel={first['sel']}").text


def test_a_place_beside_the_boat_is_refused(site, crates) -> None:
    answer = site.post(f"/api/builds/{crates}/suggest", {"kind": "console", "x": 2.0, "y": 3.0})
    assert answer.status_code == 422
    assert "nothing to stand on" in answer.json()["detail"]


def test_the_drawings_have_their_text(app, site, crates) -> None:
    act(site, crates, act="lock", things=["one"])
    page = site.client.get(f"/b/{crates}/layout?case=one+at+the+helm").text
    table = page[
        page.index('id="plan-contents"') : page.index("</table>", page.index('id="plan-contents"'))
    ]
    rows = [" ".join(re.sub("<[^>]+>", " ", r).split()) for r in table.split("<tr>")[2:]]
    told = next(r for r in rows if r.startswith("One (locked)"))
    # 0.4 long about 1.0, 0.3 wide about 0, 0.3 high about 0.2
    assert told == "One (locked) 800 mm to 1 200 mm -150 mm to 150 mm 50 mm to 350 mm 10.0 kg"
    assert any(name.startswith("helm, seated") for name in rows)
    assert any(name.startswith("D1 Deck") for name in rows) and any(name.startswith("H1") for name in rows)


def test_a_remedys_button_carries_what_it_does(site, app) -> None:
    deck = {**DECK, "rivet": "rivet-4.8x8"}
    build = make_build(app, skiff_plan(fittings=[deck]))
    page = site.client.get(f"/b/{build}/layout").text
    (carried,) = [m for m in re.findall(r'data-mend="([^"]+)"', page) if "rivet" in m]
    body = {"base": 1, **json.loads(html.unescape(carried))}
    assert site.post(f"/api/builds/{build}/changes", body).status_code == 200
    assert site.client.get(f"/b/{build}/file").json()["fittings"][0]["rivet"] == "rivet-4.8x10"
    left = re.findall(r'data-mend="([^"]+)"', site.client.get(f"/b/{build}/layout").text)
    assert not [m for m in left if "rivet" in m]


def test_whoever_sits_on_a_seat_goes_along_however_it_is_moved(site, app) -> None:
    seat = crate("seat", 2.0, form="seat")
    case = {"name": "out", "crew": [{"posture": "seated", "at": [2.0, 0.0, 0.45], "name": "Ines"}]}
    build = make_build(app, skiff_plan(items=[seat], cases=[case]))

    def sits() -> list[float]:
        return site.client.get(f"/b/{build}/file").json()["cases"][0]["crew"][0]["at"]

    assert act(site, build, act="move", things=["seat"], x=-0.4).status_code == 200
    assert sits() == pytest.approx([1.6, 0.0, 0.45])
    typed = {"base": 2, "typed": {"path": "items/seat/mass/centre/1", "text": "100 mm"}}
    assert site.post(f"/api/builds/{build}/changes", typed).status_code == 200
    assert sits() == pytest.approx([1.6, 0.1, 0.45])
    history = site.client.get(f"/api/builds/{build}/history").json()
    assert "more" not in history[0]["words"] + history[1]["words"]
    for expected in ([1.6, 0.0, 0.45], [2.0, 0.0, 0.45]):
        assert site.post(f"/api/builds/{build}/undo", {}).status_code == 200
        assert sits() == pytest.approx(expected)


def test_what_is_accepted_offers_no_remedy_any_more(site, app) -> None:
    build = make_build(app, skiff_plan(items=[crate("one", 1.0), crate("two", 1.3)]))
    page = site.client.get(f"/b/{build}/layout?sel=one").text
    assert page.count("data-mend") == 2
    meant = {"act": "accept", "path": "CLASH", "to": "one", "to_edge": "two", "text": "they are stacked"}
    assert act(site, build, **meant).status_code == 200
    page = site.client.get(f"/b/{build}/layout?sel=one").text
    assert "data-mend" not in page
    assert "data-ask-again" in page


def test_the_hours_of_a_fitting_are_shown_with_their_working(site, crates) -> None:
    page = site.client.get(f"/b/{crates}/layout?sel=hatch").text
    table = " ".join(page[page.index('id="group-work"') :].split())
    # one lid offered up at 20 minutes, one latch at 25
    assert re.search(r"panels offered up and trimmed, 1\b.*?<td>0\.3 h</td>", table)
    assert re.search(r"latches drilled for and fitted, 1\b.*?<td>0\.4 h</td>", table)


def test_gear_gets_a_home_by_hand_or_all_at_once(app, site) -> None:
    def thing(id_: str, long: float) -> dict[str, Any]:
        return {"id": id_, "name": id_, "mass": 3.0, "length": long, "width": 0.2, "height": 0.15}

    locker = {"kind": "locker_box", "id": "locker", "name": "Locker", "x": 2.0, "length": 0.7, "width": 0.5,
              "height": 0.35}  # fmt: skip
    gear = [thing("vests", 0.5), thing("rope", 0.3), thing("pole", 3.0)]
    build = make_build(app, skiff_plan(fittings=[locker], wishes={"gear": gear}))
    page = html.unescape(site.client.get(f"/b/{build}/layout/gear").text)
    assert "0 kg stowed, 9.0 kg without a home" in page
    # the pole goes nowhere: two are offered a home in one step
    every = re.search(r'class="btn btn-dark"[^>]*data-change=["\'](\{.*?\})["\']>?', page, re.S)
    assert every is not None
    change = {"base": 1, "change": json.loads(every[1])}
    assert site.post(f"/api/builds/{build}/changes", change).status_code == 200
    page = html.unescape(site.client.get(f"/b/{build}/layout/gear").text)
    assert "6.0 kg stowed, 3.0 kg without a home" in page and "Stow all" not in page
    homes = {g["id"]: g.get("home") for g in site.client.get(f"/b/{build}/file").json()["wishes"]["gear"]}
    assert homes == {"vests": "locker", "rope": "locker", "pole": None}
    typed = {"path": "wishes/gear/rope/home", "text": ""}
    assert site.post(f"/api/builds/{build}/changes", {"base": 2, "typed": typed}).status_code == 200
    assert "3.0 kg stowed, 6.0 kg without" in site.client.get(f"/b/{build}/layout/gear").text
    # what is no home is told, and stays choosable
    typed["text"] = "nothing-of-that-name"
    assert site.post(f"/api/builds/{build}/changes", {"base": 3, "typed": typed}).status_code == 200
    page = site.client.get(f"/b/{build}/layout/gear").text
    assert '<option value="nothing-of-that-name" selected>gone</option>' in page


@pytest.mark.slow
def test_the_same_in_another_material_is_tried_and_taken_with_one_button(app, site) -> None:
    build = make_build(app, skiff_plan(fittings=[DECK, HATCH]))
    sheet = site.client.get(f"/b/{build}/layout", params={"sel": "deck"}).text
    assert f'data-fetch="/b/{build}/layout/instead/deck"' in sheet
    page = html.unescape(site.client.get(f"/b/{build}/layout/instead/deck").text)
    assert "Now 2.5 mm 5052" in page and "6 mm light ply" in page and "nothing is stored" in page
    change = next(
        json.loads(c)
        for c in re.findall(r"data-change=[\"'](\{.*?\})[\"']>?\s", page, re.S)
        if "ply-6" in c
    )
    assert site.post(f"/api/builds/{build}/changes", {"base": 1, "change": change}).status_code == 200
    assert site.client.get(f"/b/{build}/file").json()["fittings"][0]["skin"] == "ply-6"
    assert "Now 6 mm light ply" in site.client.get(f"/b/{build}/layout/instead/deck").text
    # what is not there, or made of nothing, is no failure
    assert "no other sheet" in site.client.get(f"/b/{build}/layout/instead/gone").text


def test_what_is_bought_stands_beside_what_is_made_and_takes_its_place(site, app) -> None:
    console = {
        "id": "console", "form": "console", "stage": "added", "size": [0.5, 0.7, 0.9],
        "name": "My <console>", "mass": {"value": 24.0, "centre": [1.8, -0.3, 0.6]},
    }  # fmt: skip
    build = make_build(app, skiff_plan(items=[console]))
    sheet = site.client.get(f"/b/{build}/layout?sel=console").text
    assert f'data-fetch="/b/{build}/layout/bought-or-made/console"' in sheet
    page = html.unescape(site.client.get(f"/b/{build}/layout/bought-or-made/console").text)
    assert "Now Console: 24.0 kg" in page and "h more work" in page
    found = re.search(r"data-change=\"(\{.*?\})\">", page)
    assert found
    answer = site.post(f"/api/builds/{build}/changes", {"base": 1, "change": json.loads(found[1])})
    assert answer.status_code == 200 and "in its place" in answer.json()["words"]
    fitting = plan_of(app, build).plan.fittings[0]
    assert (fitting.kind, fitting.name) == ("console_box", "My <console>")
    assert "Nothing else goes" in site.client.get(f"/b/{build}/layout/bought-or-made/gone").text


def test_a_thing_is_drawn_when_its_box_is_opened_and_not_before(site, app) -> None:
    build = make_build(app, skiff_plan(fittings=[DECK, HATCH]))
    sheet = site.client.get(f"/b/{build}/layout?sel=hatch").text
    assert f'data-fetch="/b/{build}/layout/drawn/hatch"' in sheet and "true-scale" not in sheet
    drawn = site.client.get(f"/b/{build}/layout/drawn/hatch").text
    assert drawn.count("true-scale") == 2 and "latch from the lid&#x27;s edge" in drawn
    assert site.client.get(f"/b/{build}/layout/drawn/nobody").status_code == 404
    # what is framed has all of it on its framing page
    assert "layout/drawn/deck" not in site.client.get(f"/b/{build}/layout?sel=deck").text
    framing = site.client.get(f"/b/{build}/layout/framing/deck").text
    assert "true-scale" in framing and "view-exploded" in framing
