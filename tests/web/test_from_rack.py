"""What the rack is good for, and leftovers that come from other builds."""

import re
import threading
from typing import Any

from stirrup.core.plan.cutting import Cutting, SheetRest
from stirrup.core.plan.model import Plan
from tests.boats import DECK, HATCH, skiff_plan
from tests.web.conftest import make_build
from tests.web.test_arranging import plan_of
from tests.web.test_survey_pages import photo


def racked(name: str, *rests: SheetRest) -> Plan:
    plan = skiff_plan(fittings=[DECK, HATCH])
    return plan.model_copy(update={"name": name, "cutting": Cutting(sheets=rests)})


def rest(id_: str, **more: Any) -> SheetRest:
    return SheetRest(id=id_, stock="al-2.5", **{"width": 1.2, "height": 0.9, **more})


def ids(app: Any, build: int) -> list[tuple[str, int]]:
    return [(r.id, r.count) for r in plan_of(app, build).plan.cutting.sheets]


def test_what_can_be_built_from_the_rack_and_which_part_goes_on_it(app, site) -> None:
    build = make_build(app, racked("Here", rest("r1", place="wall")))
    assert "What can I still build from the rack?" in site.client.get(f"/b/{build}/cuts").text
    part = " ".join(site.client.get(f"/b/{build}/cuts/rack").text.split())
    assert "parts go on the rack; not" in part or "comes from the rack alone" in part
    panel = " ".join(site.client.get(f"/b/{build}/cuts/panel?part=hatch/lid").text.split())
    assert "It goes on this leftover" in panel and "wall" in panel
    bare = make_build(app, racked("Bare"))
    assert "nothing on this boat" in site.client.get(f"/b/{bare}/cuts/rack").text


def test_a_leftover_comes_over_once(app, site) -> None:
    here, there = make_build(app, racked("Here")), make_build(app, racked("There", rest("r1", count=2)))
    assert "There" in site.client.get(f"/b/{here}/cuts/rack").text
    for left in (1, 0):
        answer = site.form(f"/b/{here}/cuts/fetch", {"other": str(there), "rest": "r1"})
        assert answer.status_code == 303
        assert "gone from that of There" in site.client.get(answer.headers["location"]).text
        assert sum(count for _, count in ids(app, there)) == left
    assert ids(app, here) == [("rest-1", 1), ("rest-2", 1)]
    answer = site.form(f"/b/{here}/cuts/fetch", {"other": str(there), "rest": "r1"})
    assert "not on the rack of There any more" in site.client.get(answer.headers["location"]).text
    assert len(ids(app, here)) == 2
    # each build can take its step back by itself
    assert site.post(f"/api/builds/{there}/undo", {}).status_code == 200


def test_nonsense_takes_nothing(app, site) -> None:
    here = make_build(app, racked("Here", rest("r1")))
    same = site.form(f"/b/{here}/cuts/fetch", {"other": str(here), "rest": "r1"})
    assert "on this rack already" in site.client.get(same.headers["location"]).text
    assert site.form(f"/b/{here}/cuts/fetch", {"other": "999999", "rest": "r1"}).status_code == 404
    assert site.form(f"/b/{here}/cuts/fetch", {"other": "x", "rest": "r1"}).status_code == 422
    assert ids(app, here) == [("r1", 1)]


def test_of_many_who_ask_at_once_one_gets_it(app, site) -> None:
    there = make_build(app, racked("There", rest("r1")))
    heres = [make_build(app, racked(f"Here {k}")) for k in range(6)]
    threads = [
        threading.Thread(target=site.form, args=(f"/b/{h}/cuts/fetch", {"other": str(there), "rest": "r1"}))
        for h in heres
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(30)
    assert ids(app, there) == []
    assert sum(len(ids(app, h)) for h in heres) == 1


def test_a_leftover_has_a_photo_that_does_not_go_with_it(app, site) -> None:
    here, there = make_build(app, racked("Here")), make_build(app, racked("There", rest("r1")))
    files = {"photo": ("rest.jpg", photo(), "image/jpeg")}
    assert site.form(f"/b/{there}/cuts/photo", {"rest": "r1"}, files=files).status_code == 303
    page = site.client.get(f"/b/{there}/cuts").text
    address = re.search(r'src="([^"]+photo-\d+\.jpg)"', page)
    assert address is not None and site.client.get(address[1]).status_code == 200
    site.form(f"/b/{here}/cuts/fetch", {"other": str(there), "rest": "r1"})
    (come,) = plan_of(app, here).plan.cutting.sheets
    assert come.photo is None and ids(app, there) == []
    # it is taken back with its photo
    site.post(f"/api/builds/{there}/undo", {})
    assert plan_of(app, there).plan.cutting.sheets[0].photo is not None


def test_what_is_no_photo_of_a_leftover_is_said(app, site) -> None:
    build = make_build(app, racked("Here", rest("r1")))
    for name, content, said in (("r1", b"GIF89a", "cannot be read"), ("gone", photo(), "no leftover")):
        files = {"photo": ("x.jpg", content, "image/jpeg")}
        answer = site.form(f"/b/{build}/cuts/photo", {"rest": name}, files=files)
        assert answer.status_code == 303 and said in site.client.get(answer.headers["location"]).text
    assert plan_of(app, build).plan.cutting.sheets[0].photo is None
