"""Survey on the real page: measure a boat, paste, drag a reading, set a scan upright."""

import re

import numpy as np
import pytest
import trimesh
from playwright.sync_api import Page, expect

from stirrup.core.hull.mesh import TOP, build_surface
from stirrup.core.hull.model import QuickStart
from stirrup.core.plan.start import new_plan
from tests.browser.test_access import violations
from tests.web.conftest import make_build


@pytest.fixture
def quick(app) -> int:
    return make_build(app, new_plan("Marsh Wren", QuickStart()))


def hull_of(page: Page, address: str, build: int) -> dict:
    return page.request.get(f"{address}/b/{build}/file").json()["hull"]


def test_a_boat_is_measured_by_keyboard_alone_and_redrawn_while_typing(app, address, quiet) -> None:
    make_build(app)  # the shop reads millimetres
    page = quiet
    page.goto(f"{address}/measure")
    before = page.locator("[data-slot=plan] svg").inner_html()
    page.get_by_label("Name of the boat").focus()
    page.keyboard.type("Marsh Wren")
    for _ in range(3):  # shape, length, greatest beam
        page.keyboard.press("Tab")
    expect(page.get_by_label("Greatest beam")).to_be_focused()
    page.keyboard.press("Control+A")
    page.keyboard.type("2100")
    expect(page.locator("[data-slot=plan] svg")).not_to_have_js_property("innerHTML", before)
    page.keyboard.press("Control+A")
    page.keyboard.type("9 m")
    expect(page.locator("#q-beam-error")).to_contain_text("accepted")
    page.keyboard.press("Control+A")
    page.keyboard.type("2 m")
    expect(page.locator("#q-beam-error")).to_be_hidden()
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile(r"/b/\d+/survey$"))
    expect(page.locator(".boat-name")).to_have_text("Marsh Wren")
    expect(page.locator(".sheet-head .sub")).to_have_text("27 still estimated")


def test_the_hint_names_a_reading_and_typing_it_takes_it_off_the_count(address, quiet, quick) -> None:
    page = quiet
    page.goto(f"{address}/b/{quick}/survey")
    hint = page.locator("[data-behind] a").first
    expect(hint).to_contain_text("station", timeout=15000)
    # the link leads to the very field
    hint.click()
    expect(page.locator("#readings-table input:target")).to_have_count(1)
    field = page.locator('[data-path="hull/lines/sheer/points/0/2"] input[name=text]')
    field.fill("560")
    field.press("Enter")
    expect(page.locator(".sheet-head .sub")).to_have_text("26 still estimated")
    expect(page.locator("svg.view-profile .reading.measured")).to_have_count(1)
    # Enter went on to the next reading, by keyboard
    expect(page.locator('[data-path="hull/lines/sheer/points/1/0"] input[name=text]')).to_be_focused()


def test_a_block_from_a_spreadsheet_is_pasted_into_the_table(address, quiet, quick) -> None:
    page = quiet
    page.goto(f"{address}/b/{quick}/survey")
    cell = page.locator('[data-path="hull/lines/sheer/points/2/1"] input[name=text]')
    cell.focus()
    paste = """(input, text) => {
      const clipboardData = new DataTransfer();
      clipboardData.setData("text/plain", text);
      input.dispatchEvent(new ClipboardEvent("paste", { clipboardData, bubbles: true, cancelable: true }));
    }"""
    cell.evaluate(paste, "930\t561\nfar\t565")
    expect(page.locator(".field-error:visible")).to_contain_text("row 2, column 1")
    cell.evaluate(paste, "930\t561\n940\t565")
    expect(page.locator("#saved")).to_contain_text("revision 2")
    points = hull_of(page, address, quick)["lines"][2]["points"]
    assert [p[1:] for p in points[2:4]] == [[0.93, 0.561], [0.94, 0.565]]


def test_dragging_a_point_edits_the_same_reading(address, quiet, quick) -> None:
    page = quiet
    page.goto(f"{address}/b/{quick}/survey")
    grip = page.locator('.v-plan .handle[data-path="hull/lines/sheer/points/4/1"] .grab-dot')
    box = grip.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(1, 6):
        page.mouse.move(x, y - 4 * k)
    page.mouse.up()
    expect(page.locator("#saved")).to_contain_text("revision 2")
    sheer = hull_of(page, address, quick)["lines"][2]
    assert sheer["points"][4][1] > 0.92
    assert sheer["known"][4] == "measured"
    handle = page.locator('.v-plan .handle[data-path="hull/lines/sheer/points/4/1"]')
    handle.focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator("#saved")).to_contain_text("revision 3")
    assert hull_of(page, address, quick)["lines"][2]["points"][4][1] < sheer["points"][4][1]


def test_a_reload_in_the_middle_loses_nothing(address, quiet, quick) -> None:
    page = quiet
    page.goto(f"{address}/b/{quick}/survey")
    field = page.locator('[data-path="hull/lines/sheer/points/0/2"] input[name=text]')
    for number in range(2, 8):  # the reload meets the change before, on and after its way
        field.fill(f"{558 + number}")
        field.press("Enter")
        page.reload()
        expect(page.locator("#saved")).to_contain_text(f"revision {number}")
        expect(field).to_have_value(f"{558 + number} mm")


def test_a_scan_is_picked_by_click_and_taken_over(app, address, quiet, quick) -> None:
    outside = build_surface(new_plan("x", QuickStart(beam=2.0)).hull).outside
    skin = outside.corners[np.array([g != TOP for g in outside.groups])]
    mesh = trimesh.Trimesh(**trimesh.triangles.to_kwargs(skin * 1000))
    page = quiet
    page.goto(f"{address}/b/{quick}/survey")
    page.locator("#group-files summary").click()
    page.set_input_files("#scan", {"name": "boat.stl", "mimeType": "model/stl",
                                   "buffer": mesh.export(file_type="stl")})  # fmt: skip
    page.get_by_role("button", name="Set it upright").click()
    expect(page.get_by_role("button", name=re.compile("Take 27 readings"))).to_be_visible()
    assert violations(page) == []
    # a click near the foot of the transom sets the first pick to a point of the scan
    first = page.locator("#pick-aft")
    was = first.input_value()
    box = page.locator("#cloud").bounding_box()
    assert box is not None
    page.wait_for_timeout(300)
    for dx in range(0, 200, 6):
        page.mouse.click(box["x"] + box["width"] * 0.22 + dx, box["y"] + box["height"] * 0.6)
        if first.input_value() != was:
            break
    assert first.input_value() != was
    expect(page.locator("[data-which=fore]")).to_be_checked()
    # keyboard: the cloud turns, the picks can be typed
    page.locator("#cloud").focus()
    page.keyboard.press("ArrowLeft")
    first.fill(was)
    page.get_by_role("button", name="Look at it so").click()
    page.get_by_role("button", name=re.compile("Take 27 readings")).click()
    expect(page).to_have_url(re.compile(r"/survey$"))
    assert hull_of(page, address, quick)["lines"][2]["known"] == "scanned"
    expect(page.locator("svg.view-profile .reading.scanned").first).to_be_visible()
