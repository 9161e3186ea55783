"""Looking closer: wheel, keys, dragging the paper, one view alone; edges keep their true pace."""

import pytest
from playwright.sync_api import Page, expect

from tests.boats import DECK, HATCH, skiff_plan
from tests.web.conftest import make_build


@pytest.fixture
def page(quiet, app, address) -> Page:
    build = make_build(app, skiff_plan(fittings=[DECK, HATCH]))
    quiet.goto(f"{address}/b/{build}/layout?sel=deck")
    return quiet


def box_of(page: Page, view: str) -> list[float]:
    text = page.locator(f"svg.view-{view}").get_attribute("viewBox")
    assert text is not None
    return [float(v) for v in text.split()]


def test_the_wheel_zooms_profile_and_plan_together_about_the_pointer(page) -> None:
    whole = box_of(page, "plan")
    frame = page.locator("svg.view-plan").bounding_box()
    assert frame is not None
    x, y = frame["x"] + 0.6 * frame["width"], frame["y"] + 0.4 * frame["height"]
    page.mouse.move(x, y)
    page.mouse.wheel(0, -400)
    # e^(400/400) times as close, and what was under the pointer is there still
    expect(page.locator("svg.view-plan")).to_have_class("view view-plan zoomed")
    plan, profile = box_of(page, "plan"), box_of(page, "profile")
    assert plan[2] == pytest.approx(whole[2] / 2.71828, rel=1e-3)
    assert plan[0] + 0.6 * plan[2] == pytest.approx(0.6 * whole[2], abs=1.2)
    assert plan[1] + 0.4 * plan[3] == pytest.approx(0.4 * whole[3], abs=1.2)
    assert (profile[0], profile[2]) == (plan[0], plan[2])
    # text stays as large as it was
    size = page.locator("svg.view-plan text.label").first.evaluate(
        "t => parseFloat(getComputedStyle(t).fontSize) * t.ownerSVGElement.getBoundingClientRect().width"
        " / t.ownerSVGElement.viewBox.baseVal.width"
    )
    assert size == pytest.approx(16 * frame["width"] / whole[2], rel=0.02)
    page.mouse.wheel(0, 4000)
    assert box_of(page, "plan") == whole


def test_keys_zoom_fit_pan_and_leave_one_view_alone(page) -> None:
    page.keyboard.press("Escape")  # with something chosen, arrows move that
    expect(page.locator("#sheet h2").first).to_have_text("On the plan")
    whole = box_of(page, "plan")
    page.keyboard.press("+")
    closer = box_of(page, "plan")
    assert closer[2] == pytest.approx(whole[2] / 1.5, rel=1e-3)
    page.keyboard.press("ArrowLeft")
    assert box_of(page, "plan")[0] < closer[0]
    page.keyboard.press("2")
    expect(page.locator("svg.view-profile")).to_be_hidden()
    expect(page.get_by_role("button", name="Plan", exact=True)).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("2")
    expect(page.locator("svg.view-profile")).to_be_visible()
    page.keyboard.press("0")
    assert box_of(page, "plan") == whole


def test_close_up_the_paper_is_dragged_and_an_edge_keeps_its_pace(page) -> None:
    page.get_by_role("button", name="closer").click()
    page.get_by_role("button", name="closer").click()
    before = box_of(page, "plan")
    frame = page.locator("svg.view-plan").bounding_box()
    assert frame is not None
    page.mouse.move(frame["x"] + 30, frame["y"] + 30)
    page.mouse.down()
    page.mouse.move(frame["x"] + 90, frame["y"] + 30, steps=4)
    page.mouse.up()
    moved = box_of(page, "plan")
    assert before[0] - moved[0] == pytest.approx(60 * before[2] / frame["width"], rel=0.05)
    # 40 px to the left at this scale
    scale = float(page.locator("svg.view-plan").get_attribute("data-scale"))
    metres = 40 * moved[2] / frame["width"] / scale
    grip = page.locator('.v-plan .handle[data-path="fittings/deck/aft"] .grab').bounding_box()
    assert grip is not None
    x = grip["x"] + grip["width"] / 2
    y = max(frame["y"], grip["y"]) + 20
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 40, y, steps=6)
    page.mouse.up()
    expect(page.locator("#saved")).to_contain_text("revision 2")
    file = page.request.get(page.url.split("/layout")[0] + "/file").json()
    stored = next(f["aft"] for f in file["fittings"] if f["id"] == "deck")
    assert stored == pytest.approx(3.0 - metres, abs=0.003)
    expect(page.locator('[data-path="fittings/deck/aft"] input[name=text]')).to_have_value(
        f"{stored * 1000:,.0f} mm".replace(",", " ")
    )
    # the new drawing is looked at as closely as the old one
    assert box_of(page, "plan") == moved


def test_history_is_one_key_away(page) -> None:
    page.keyboard.press("h")
    expect(page.get_by_role("heading", name="History of Box")).to_be_visible()


def test_the_chosen_thing_once_more_by_key_and_taken_out_again(page) -> None:
    page.goto(page.url.replace("sel=deck", "sel=hatch"))
    page.keyboard.press("m")
    expect(page.locator("#place-problem")).to_contain_text("it lies on the centreline")
    page.keyboard.press("d")
    expect(page.locator("#saved")).to_contain_text("revision 2")
    expect(page.locator(".sheet-head h2")).to_have_text("Hatch 2")
    page.keyboard.press("Delete")
    expect(page.locator("#saved")).to_contain_text("revision 3")
    file = page.request.get(page.url.split("/layout")[0] + "/file").json()
    assert [f["id"] for f in file["fittings"]] == ["deck", "hatch"]
