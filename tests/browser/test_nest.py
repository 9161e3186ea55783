"""A part dragged on its sheet with the mouse, and a mark set on a photo, in the real pages."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.boats import DECK, HATCH, skiff_plan
from tests.web.conftest import make_build
from tests.web.test_arranging import plan_of

LID = '[data-nest] [data-part="hatch/lid"]'


@pytest.fixture
def build(app) -> int:
    return make_build(app, skiff_plan(fittings=[DECK, HATCH]))


def drag(page: Page, dx: float, dy: float, turn: bool = False) -> None:
    part = page.locator(LID)
    part.scroll_into_view_if_needed()
    box = part.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] * 0.2, box["y"] + box["height"] * 0.2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + dx / 2, y + dy / 2, steps=3)
    if turn:
        page.keyboard.press("r")
    page.mouse.move(x + dx, y + dy, steps=3)
    with page.expect_response(re.compile("/cuts/pins$")):
        page.mouse.up()
    page.wait_for_load_state("load")


def test_a_part_lies_where_the_hand_put_it(app, address, quiet, build) -> None:
    page: Page = quiet
    page.goto(f"{address}/b/{build}/cuts")
    part = page.locator(LID)
    expect(part).to_be_visible()
    step = float(part.get_attribute("data-step") or 0)
    wide = part.evaluate("e => e.ownerSVGElement.viewBox.baseVal.width / e.ownerSVGElement.clientWidth")
    before = [float(v) for v in (part.get_attribute("data-lies") or "").split()]
    # towards the middle of the sheet, wherever it lies
    sheet = page.locator(".nest .sheet-edge").first.bounding_box()
    box = part.bounding_box()
    assert sheet is not None and box is not None
    way = 40 if box["x"] < sheet["x"] + sheet["width"] / 2 else -40
    drag(page, way, 0)
    (pin,) = plan_of(app, build).plan.cutting.pins
    assert pin.x - before[1] == pytest.approx(way * wide * step, abs=0.004)
    assert pin.y == pytest.approx(before[2], abs=0.004)
    expect(page.locator(LID)).to_have_class(re.compile("kept"))
    expect(page.locator("#drawing")).to_contain_text("1 part stays where you put")
    # and a quarter turn about its middle keeps that where it is
    lid = page.locator(LID)
    old = lid.bounding_box()
    drag(page, way, 0, turn=True)
    (turned,) = plan_of(app, build).plan.cutting.pins
    assert (turned.rotation - pin.rotation) % 360 == 90
    new = page.locator(LID).bounding_box()
    assert old is not None and new is not None
    assert new["width"] == pytest.approx(old["height"], abs=2)
    assert new["x"] + new["width"] / 2 - old["x"] - old["width"] / 2 == pytest.approx(way, abs=3)


def test_why_it_cannot_lie_there_is_read_beside_the_sheet(app, address, quiet, build) -> None:
    page: Page = quiet
    page.goto(f"{address}/b/{build}/cuts")
    expect(page.locator(LID)).to_be_visible()
    drag(page, 0, 900)
    expect(page.locator(".stock [role=alert]")).to_contain_text("over the edge")
    assert plan_of(app, build).plan.cutting.pins == ()
