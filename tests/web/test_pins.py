"""Parts dragged on a sheet: they stay, the rest is laid out around; why one cannot; let go again."""

import re
from typing import Any

import pytest

from stirrup.core.plan.cutting import Pinned
from tests.web.test_arranging import plan_of


def pins(app: Any, build: int) -> dict[str, Pinned]:
    return {p.id: p for p in plan_of(app, build).plan.cutting.pins}


def lies(site: Any, build: int, part: str) -> tuple[int, float, float]:
    """Where a part lies on its sheet, as the page has it."""
    page = site.client.get(f"/b/{build}/cuts").text
    found = re.search(
        rf'class="([^"]*)" fill-rule="evenodd" d="[^"]*" data-part="{part}" data-lies="([^"]*)"', page
    )
    assert found is not None
    rotation, x, y, _ = found[2].split()
    return int(rotation), float(x), float(y)


@pytest.fixture
def lid(site: Any, build: int) -> dict[str, Any]:
    rotation, x, y = lies(site, build, "hatch/lid")
    page = site.client.get(f"/b/{build}/cuts").text
    stock = re.search(r'data-stock="([^"]+)" data-number="1"', page.replace("\n", " "))
    assert stock is not None
    return {"stock": stock[1], "part": "hatch/lid", "number": "1", "rotation": str(rotation), "x": repr(x),
            "y": repr(y), "act": "put", "base": "1"}  # fmt: skip


def send(site: Any, build: int, form: dict[str, Any]) -> Any:
    return site.form(f"/b/{build}/cuts/pins", form)


def test_it_stays_where_it_was_put_and_one_step_back_lets_it_go(
    app: Any, site: Any, build: int, lid: Any
) -> None:
    put = {**lid, "x": repr(float(lid["x"]) - 0.05)}
    answer = send(site, build, put)
    assert answer.status_code == 303 and "#stock-" in answer.headers["location"]
    pin = pins(app, build)["hatch/lid"]
    assert pin.x == pytest.approx(float(put["x"]))
    assert lies(site, build, "hatch/lid")[1] == pin.x
    page = site.client.get(f"/b/{build}/cuts").text
    assert "1 part stays where you put" in " ".join(page.split()) and "kept in its place" in page
    site.post(f"/api/builds/{build}/undo", {})
    assert pins(app, build) == {}


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"x": "9"}, "over the edge"),
        ({"rotation": "45"}, "accepted: 0°"),
        ({"part": "gone"}, "not there any more"),
        ({"number": "99"}, "not there any more"),
        ({"flipped": "true"}, "good face"),
    ],
)
def test_why_it_cannot_lie_there_is_said_beside_its_sheet(app: Any, site: Any, build: int, lid: Any,
                                                          wrong: Any, said: str) -> None:  # fmt: skip
    answer = send(site, build, {**lid, **wrong})
    assert answer.status_code == 303 and said in site.client.get(answer.headers["location"]).text
    assert pins(app, build) == {} and said not in site.client.get(f"/b/{build}/cuts").text


@pytest.mark.parametrize(
    "wrong", [{"x": "nan"}, {"y": "1e99"}, {"number": "0"}, {"act": "burn"}, {"base": ""}]
)
def test_what_is_no_number_is_refused(app: Any, site: Any, build: int, lid: Any, wrong: Any) -> None:
    assert send(site, build, {**lid, **wrong}).status_code == 422
    assert pins(app, build) == {}


def test_a_sheet_is_kept_moved_by_numbers_and_let_go(app: Any, site: Any, build: int, lid: Any) -> None:
    numbers = site.client.get(f"/b/{build}/cuts/numbers", params={"stock": lid["stock"], "number": 1})
    assert numbers.status_code == 200 and "Keep this sheet as it is" in numbers.text
    # by the corner of its box, in the shop's own units: 100 mm from the left, 200 from below
    typed = {k: v for k, v in lid.items() if k not in ("x", "y")} | {"left": "100 mm", "below": "0.2"}
    assert send(site, build, {**typed, "left": "1/0"}).status_code == 303
    assert pins(app, build) == {}
    send(site, build, {**typed, "below": "200 mm"})
    pin = pins(app, build)["hatch/lid"]
    page = site.client.get(f"/b/{build}/cuts/numbers", params={"stock": lid["stock"], "number": 1}).text
    assert 'value="100 mm"' in page and 'value="200 mm"' in page
    assert (pin.x, pin.y) != (0.1, 0.2)  # those are its own axes
    site.post(f"/api/builds/{build}/undo", {})
    lid = {**lid, "base": str(plan_of(app, build).number)}
    assert send(site, build, {**lid, "act": "keep"}).status_code == 303
    kept = pins(app, build)
    assert "hatch/lid" in kept and len(kept) > 1
    base = str(plan_of(app, build).number)
    assert send(site, build, {**lid, "act": "let go", "base": base}).status_code == 303
    assert set(pins(app, build)) == set(kept) - {"hatch/lid"}
    base = str(plan_of(app, build).number)
    send(site, build, {**lid, "act": "let all go", "base": base})
    assert pins(app, build) == {}
    gone = site.client.get(f"/b/{build}/cuts/numbers", params={"stock": "gold", "number": 1})
    assert gone.status_code == 404


def test_pins_leave_with_their_thing(app: Any, site: Any, build: int, lid: Any) -> None:
    send(site, build, {**lid, "act": "keep"})
    change = site.post(f"/api/builds/{build}/suggest-removal", {"path": "hatch"}).json()["change"]
    base = plan_of(app, build).number
    assert site.post(f"/api/builds/{build}/changes", {"base": base, "change": change}).status_code == 200
    left = pins(app, build)
    assert left and not any(k.startswith("hatch/") for k in left)


def test_a_closer_layout_is_looked_for_longer_each_time(app: Any, site: Any, build: int) -> None:
    """The demo's own: several sheets of one stock. Without a worker the usual layout stands in for it."""
    from tests.web.conftest import make_build
    from tests.web.test_pages import FILES, demo_plan

    hopper = make_build(app, demo_plan(FILES[0]))
    page = site.client.get(f"/b/{hopper}/cuts").text
    assert "Look longer for a closer layout" in page
    for number, work in ((1, 1000), (2, 5000), (3, 5000)):
        form = {"base": str(number), "stock": "al-2.5", "act": "closer"}
        assert site.form(f"/b/{hopper}/cuts/search", form).status_code == 303
        (closer,) = plan_of(app, hopper).plan.cutting.closer
        assert (closer.id, closer.work) == ("al-2.5", work)
    state = site.client.get(f"/b/{hopper}/cuts/search", params={"stock": "al-2.5"}).json()
    assert state == {"share": None, "sheets": state["sheets"]} and state["sheets"] >= 2
    assert site.form(f"/b/{hopper}/cuts/search", {**form, "act": "stop"}).status_code == 303
    assert site.form(f"/b/{hopper}/cuts/search", {**form, "stock": "gold"}).status_code == 404
    assert site.form(f"/b/{hopper}/cuts/search", {**form, "act": "burn"}).status_code == 422
