"""Bodies in the drawings: dragged, caught, chosen one behind the other, carried to another boat."""

from __future__ import annotations

from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.boats import DECK, HATCH, skiff_plan
from tests.browser.test_two_ways import at, drag, heading, open_layout, revision
from tests.web.conftest import make_build


def crate(id_: str, x: float, y: float = 0.0) -> dict[str, Any]:
    mass = {"value": 10.0, "centre": [x, y, 0.2]}
    return {"id": id_, "name": id_, "size": [0.4, 0.3, 0.3], "mass": mass, "stage": "added"}


@pytest.fixture
def boat(app: Any) -> int:
    items = [crate("one", 1.0), crate("two", 1.8, 0.3), crate("behind", 1.0, -0.35)]
    return make_build(app, skiff_plan(fittings=[DECK, HATCH], items=items), units="mm")


def centre(page: Page, address: str, build: int, id_: str) -> list[float]:
    file = page.request.get(f"{address}/b/{build}/file").json()
    found = next(i for i in file["items"] if i["id"] == id_)
    return list(found["mass"]["centre"])


def test_a_body_is_dragged_and_says_what_caught_it(address, quiet, boat) -> None:
    page = quiet
    open_layout(page, address, boat)
    # the fore edge of one is at 1.2; brought to within a pixel or two of two's aft edge at 1.6
    start, end = at(page, 1.0, 0.0), at(page, 1.405, 0.0)
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(start[0] + 10, start[1])
    page.mouse.move(*end)
    expect(page.locator("#caught")).to_contain_text("fore edge at the aft edge of two")
    assert page.locator("svg.view-plan .guide").count() > 0
    page.mouse.up()
    revision(page, 2)
    assert centre(page, address, boat, "one")[0] == pytest.approx(1.4)
    expect(heading(page)).to_have_text("one")
    expect(page.locator("#caught")).to_be_empty()


def test_alt_keeps_snaps_away(address, quiet, boat) -> None:
    page = quiet
    open_layout(page, address, boat)
    page.keyboard.down("Alt")
    drag(page, 1.0, 0.0, 1.405, 0.0)
    page.keyboard.up("Alt")
    revision(page, 2)
    x = centre(page, address, boat, "one")[0]
    assert x != pytest.approx(1.4, abs=5e-4) and x == pytest.approx(1.405, abs=4e-3)


def test_a_deck_moves_only_once_it_is_chosen_and_takes_its_hatch_along(address, quiet, boat) -> None:
    page = quiet
    open_layout(page, address, boat)
    drag(page, 4.2, 0.2, 4.0, 0.2)
    page.wait_for_timeout(300)
    expect(page.locator("#saved")).to_contain_text("revision 1")
    page.mouse.click(*at(page, 4.2, 0.2))
    expect(heading(page)).to_have_text("Deck")
    page.keyboard.down("Alt")
    drag(page, 4.2, 0.2, 4.0, 0.2)
    page.keyboard.up("Alt")
    revision(page, 2)
    file = page.request.get(f"{address}/b/{boat}/file").json()
    deck, hatch = file["fittings"]
    assert deck["fore"] - deck["aft"] == pytest.approx(1.5)
    assert deck["aft"] == pytest.approx(2.8, abs=0.01)
    assert hatch["x"] - deck["aft"] == pytest.approx(0.6)


def test_under_a_finger_only_what_is_chosen_moves(address, quiet, boat) -> None:
    page = quiet
    open_layout(page, address, boat)
    finger = """([from, to]) => {
      const thing = document.querySelector('svg.view-plan [data-select="one"] path');
      const fire = (type, [x, y]) => thing.dispatchEvent(new PointerEvent(type, {
        bubbles: true, clientX: x, clientY: y, pointerId: 5, pointerType: "touch", button: 0 }));
      fire("pointerdown", from); fire("pointermove", to); fire("pointerup", to);
    }"""
    way = [list(at(page, 1.0, 0.0)), list(at(page, 1.2, 0.0))]
    page.evaluate(finger, way)
    page.wait_for_timeout(300)
    expect(page.locator("#saved")).to_contain_text("revision 1")
    page.mouse.click(*at(page, 1.0, 0.0))
    expect(heading(page)).to_have_text("one")
    page.evaluate(finger, way)
    revision(page, 2)
    assert centre(page, address, boat, "one")[0] > 1.15


def test_a_locked_thing_stays_and_can_be_chosen(address, quiet, boat) -> None:
    page = quiet
    open_layout(page, address, boat)
    page.mouse.click(*at(page, 1.0, 0.0))
    expect(heading(page)).to_have_text("one")
    page.keyboard.press("l")
    revision(page, 2)
    expect(page.locator(".set-for")).to_contain_text("Locked")
    drag(page, 1.0, 0.0, 1.3, 0.0)
    page.keyboard.press("ArrowRight")
    page.wait_for_timeout(1200)
    assert centre(page, address, boat, "one") == [1.0, 0.0, 0.2]
    page.keyboard.press("l")
    revision(page, 3)


def test_another_click_chooses_what_lies_behind(address, quiet, boat) -> None:
    page = quiet
    open_layout(page, address, boat)
    crates = page.locator('svg.view-profile [data-select="one"] path').first
    box = crates.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    seen = set()
    for _ in range(2):
        page.mouse.click(x, y)
        page.wait_for_timeout(500)
        seen.add(heading(page).text_content())
    assert seen == {"one", "behind"}


def test_things_are_carried_to_another_boat_by_keys(app, address, quiet, boat) -> None:
    page = quiet
    open_layout(page, address, boat)
    page.mouse.click(*at(page, 1.8, 0.3))
    expect(heading(page)).to_have_text("two")
    page.keyboard.press("Control+c")
    expect(page.locator("#saved")).to_contain_text("1 copied")
    other = make_build(app, skiff_plan(), units="mm")
    open_layout(page, address, other)
    expect(page.locator("[data-paste]")).to_be_visible()
    page.keyboard.press("Control+v")
    revision(page, 2)
    expect(heading(page)).to_have_text("two")
    assert centre(page, address, other, "two") == [1.8, 0.3, 0.2]


def test_room_to_use_is_shown_on_demand(app, address, quiet) -> None:
    page = quiet
    cooler = {**crate("cooler", 2.0), "form": "cooler"}
    build = make_build(app, skiff_plan(items=[cooler]), units="mm")
    open_layout(page, address, build)
    assert page.locator("#views .room").count() == 0
    page.keyboard.press("u")
    expect(page.locator("svg.view-plan .room")).to_have_count(1)
    page.reload()
    expect(page.locator("svg.view-plan .room")).to_have_count(1)
    page.keyboard.press("u")
    expect(page.locator("svg.view-plan .room")).to_have_count(0)


def test_a_bound_thing_follows_the_drag_of_the_other(address, quiet, boat) -> None:
    page = quiet
    open_layout(page, address, boat)
    page.mouse.click(*at(page, 1.8, 0.3))
    expect(heading(page)).to_have_text("two")
    page.keyboard.press("e")
    page.select_option("#exact-edge", "aft")
    page.select_option("#exact-to", "one")
    page.select_option("#exact-to-edge", "fore")
    page.locator("[data-bind]").click()
    revision(page, 2)
    expect(page.locator(".bonds")).to_contain_text("aft edge 400 mm ahead of the fore edge of one")
    page.keyboard.down("Alt")
    drag(page, 1.0, 0.0, 1.2, 0.0)
    page.keyboard.up("Alt")
    revision(page, 3)
    one, two = (centre(page, address, boat, i)[0] for i in ("one", "two"))
    assert two - one == pytest.approx(0.8)
    page.keyboard.press("Control+z")
    revision(page, 4)
    assert centre(page, address, boat, "two")[0] == pytest.approx(1.8)


def test_an_answer_that_comes_late_does_not_cover_what_was_stored(address, quiet, boat) -> None:
    page = quiet
    open_layout(page, address, boat)
    page.mouse.click(*at(page, 1.0, 0.0))
    expect(heading(page)).to_have_text("one")
    held = []
    page.route("**/preview", lambda route: held.append(route))
    page.keyboard.down("Alt")
    drag(page, 1.0, 0.0, 1.2, 0.0)
    page.keyboard.up("Alt")
    revision(page, 2)
    field = page.locator('[data-path="items/one/mass/centre/0"] input[name=text]')
    stored = field.input_value()
    assert stored != "1 000 mm" and held
    for route in held:
        route.continue_()
    page.unroute("**/preview")
    page.wait_for_timeout(1500)
    assert field.input_value() == stored
    box = page.locator('svg.view-plan [data-select="one"] .form-body').bounding_box()
    assert box is not None
    assert box["x"] + box["width"] / 2 == pytest.approx(at(page, 1.2, 0.0)[0], abs=3)


def test_a_remedy_is_made_with_its_button_and_undone(app: Any, address: str, quiet: Page) -> None:
    items = [crate("one", 1.0), crate("two", 1.3)]
    build = make_build(app, skiff_plan(items=items), units="mm")
    open_layout(quiet, address, build)
    clash = quiet.locator('.finding[data-about="one"]', has_text="Two things in one place")
    # 0.4 long each, 0.3 apart: 100 mm is the shortest way clear
    clash.get_by_role("button", name="Move one 100 mm aft").click()
    revision(quiet, 2)
    assert centre(quiet, address, build, "one")[0] == pytest.approx(0.9)
    expect(clash).to_have_count(0)
    quiet.keyboard.press("Control+z")
    revision(quiet, 3)
    expect(clash).to_have_count(1)


def test_where_gear_lies_is_drawn_while_its_button_is_pressed(app: Any, address: str, quiet: Page) -> None:
    locker = {**crate("locker", 1.0), "form": "locker"}
    wishes = {"gear": [{"id": "rope", "name": "coil of rope", "length": 0.3, "width": 0.2, "height": 0.1}]}
    build = make_build(app, skiff_plan(items=[locker], wishes=wishes), units="mm")
    open_layout(quiet, address, build)
    quiet.locator("#group-gear summary").click()
    button = quiet.locator("[data-where]")
    button.click()
    expect(quiet.locator(".gear-here")).to_have_count(2)
    # 0.3 by 0.2 about the middle of the box
    box = quiet.locator("svg.view-plan .gear-here").bounding_box()
    assert box is not None
    (x0, y0), (x1, y1) = at(quiet, 0.85, 0.1), at(quiet, 1.15, -0.1)
    assert (box["x"], box["y"]) == pytest.approx((x0, y0), abs=6)  # its line is broad
    assert (box["x"] + box["width"], box["y"] + box["height"]) == pytest.approx((x1, y1), abs=6)
    button.click()
    expect(quiet.locator(".gear-here")).to_have_count(0)
