"""Drag, type, undo, two tabs, a lost connection: on the real page."""

import re

import pytest
from playwright.sync_api import Page, expect

from stirrup.demo.seed import FILES, demo_plan
from tests.boats import DECK, HATCH, skiff_plan
from tests.browser.measuring import fitted
from tests.web.conftest import make_build


@pytest.fixture
def build(app) -> int:
    return make_build(app, skiff_plan(fittings=[DECK, HATCH]))


def aft_of(page: Page, address: str, build: int) -> float:
    file = page.request.get(f"{address}/b/{build}/file").json()
    return next(f["aft"] for f in file["fittings"] if f["id"] == "deck")


def drag(page: Page, name: str, dx: float, dy: float = 0, drop: bool = True) -> None:
    handle = page.locator(f'.handle[data-path="fittings/deck/{name}"]')
    box = handle.locator(".grab").bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.3
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(1, 9):
        page.mouse.move(x + dx * k / 8, y + dy * k / 8)
    if drop:
        page.mouse.up()


def test_dragging_the_aft_edge_moves_outline_parts_and_strip(app, address, quiet, build) -> None:
    page = quiet
    page.goto(f"{address}/b/{build}/layout?sel=deck")
    scale = float(page.locator("svg.view-plan").get_attribute("data-scale"))  # type: ignore[arg-type]
    box = page.locator("svg.view-plan").bounding_box()
    width = float(page.evaluate("document.querySelector('svg.view-plan').viewBox.baseVal.width"))
    pixels = scale * box["width"] / width  # type: ignore[index]
    drag(page, "aft", -0.5 * pixels, drop=False)
    told = r"raised deck · \d+ parts · \d\d\.\d kg · about \d+ h of work · D1"
    expect(page.locator("#facts")).to_have_text(re.compile(told))
    # while dragging: the strip shows the change, the field follows, nothing is stored
    expect(page.locator(".strip .figure").first).to_contain_text("▲")
    expect(page.locator(".strip")).to_contain_text("about $")
    expect(page.locator('[data-path="fittings/deck/aft"] input[name=text]')).to_have_value("2 500 mm")
    assert aft_of(page, address, build) == 3.0
    page.mouse.up()
    expect(page.locator("#saved")).to_contain_text("revision 2 · saved")
    assert aft_of(page, address, build) == pytest.approx(2.5, abs=0.002)


def test_dragging_the_height_in_the_profile(address, quiet, build) -> None:
    page = quiet
    page.goto(f"{address}/b/{build}/layout?sel=deck")
    drag(page, "height", 0, 12)
    expect(page.locator("#saved")).to_contain_text("revision 2")
    file = page.request.get(f"{address}/b/{build}/file").json()
    assert 0.2 < file["fittings"][0]["height"] < 0.4


def test_typing_an_exact_number_in_any_unit(address, quiet, build) -> None:
    page = quiet
    page.goto(f"{address}/b/{build}/layout?sel=deck")
    field = page.get_by_label("Aft edge, from transom")
    field.fill("9' 2-1/4\"")
    field.press("Enter")
    expect(page.locator("#saved")).to_contain_text("revision 2 · saved")
    expect(field).to_have_value("2 800 mm")
    assert aft_of(page, address, build) == pytest.approx(110.25 * 0.0254)


def test_a_bad_number_is_explained_at_its_field_and_nothing_else_is_lost(address, quiet, build) -> None:
    page = quiet
    page.goto(f"{address}/b/{build}/layout?sel=deck")
    field = page.get_by_label("Aft edge, from transom")
    field.fill("over there")
    field.press("Enter")
    message = page.locator('[data-path="fittings/deck/aft"] .field-error')
    expect(message).to_contain_text("read “over there” as a length; accepted")
    expect(field).to_have_value("over there")
    # another field is taken meanwhile; the wrong text stays where it was typed
    spacing = page.get_by_label("Cross members every")
    spacing.fill("300")
    spacing.press("Enter")
    expect(page.locator("#saved")).to_contain_text("revision 2 · saved")
    expect(field).to_have_value("over there")
    expect(message).to_be_visible()
    assert field.get_attribute("aria-invalid") == "true"
    field.fill("2900")
    field.press("Enter")
    expect(page.locator("#saved")).to_contain_text("revision 3 · saved")
    expect(page.locator('[data-path="fittings/deck/aft"] .field-error')).to_be_hidden()


def test_undo_and_redo_by_button_and_key_also_after_a_reload(address, quiet, build) -> None:
    page = quiet
    page.goto(f"{address}/b/{build}/layout?sel=deck")
    field = page.get_by_label("Aft edge, from transom")
    field.fill("2800")
    field.press("Enter")
    expect(page.locator("#saved")).to_contain_text("revision 2")
    page.reload()
    page.get_by_role("button", name="Undo").click()
    expect(field).to_have_value("3 000 mm")
    page.locator("h2").first.click()
    page.keyboard.press("Control+Shift+Z")
    expect(field).to_have_value("2 800 mm")


def test_edges_move_by_arrow_keys(address, quiet, build) -> None:
    page = quiet
    page.goto(f"{address}/b/{build}/layout?sel=deck")
    page.locator('.handle[data-path="fittings/deck/aft"]').focus()
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("Shift+ArrowLeft")
    expect(page.locator("#saved")).to_contain_text("revision 2 · saved")
    assert aft_of(page, address, build) == pytest.approx(3.0 - 0.012)


def test_two_tabs_on_the_same_thing_show_both_versions(address, context, build) -> None:
    one, two = context.new_page(), context.new_page()
    for page in (one, two):
        page.goto(f"{address}/b/{build}/layout?sel=deck")
    field = one.get_by_label("Aft edge, from transom")
    field.fill("2900")
    field.press("Enter")
    expect(one.locator("#saved")).to_contain_text("revision 2 · saved")
    other = two.get_by_label("Top above keel line")
    other.fill("350")
    other.press("Enter")
    dialog = two.locator("#stale")
    expect(dialog).to_be_visible()
    expect(dialog).to_contain_text("to 2 900 mm")
    expect(dialog).to_contain_text("Deck: top above keel line 400 mm to 350 mm")
    two.get_by_role("button", name="Use mine").click()
    expect(two.locator("#saved")).to_contain_text("revision 3 · saved")
    file = two.request.get(f"{address}/b/{build}/file").json()
    assert (file["fittings"][0]["aft"], file["fittings"][0]["height"]) == (2.9, 0.35)


def test_two_tabs_on_different_things_are_merged(address, context, build) -> None:
    one, two = context.new_page(), context.new_page()
    one.goto(f"{address}/b/{build}/layout?sel=deck")
    two.goto(f"{address}/b/{build}/layout?sel=hatch")
    one.get_by_label("Aft edge, from transom").fill("2900")
    one.get_by_label("Aft edge, from transom").press("Enter")
    expect(one.locator("#saved")).to_contain_text("revision 2 · saved")
    two.get_by_label("Middle, from transom").fill("3500")
    two.get_by_label("Middle, from transom").press("Enter")
    expect(two.locator("#saved")).to_contain_text("revision 3 · saved")
    file = two.request.get(f"{address}/b/{build}/file").json()
    assert (file["fittings"][0]["aft"], file["fittings"][1]["x"]) == (2.9, 3.5)


def test_a_lost_connection_keeps_the_change_and_says_so(address, page, context, build) -> None:
    page.goto(f"{address}/b/{build}/layout?sel=deck")
    context.set_offline(True)
    page.get_by_label("Aft edge, from transom").fill("2850")
    page.get_by_label("Aft edge, from transom").press("Enter")
    expect(page.locator("#saved")).to_contain_text("no connection · 1 change waits")
    context.set_offline(False)
    expect(page.locator("#saved")).to_contain_text("revision 2 · saved", timeout=10_000)
    assert aft_of(page, address, build) == 2.85


def test_a_change_that_waited_when_the_page_was_closed_is_sent_later(address, context, build) -> None:
    page = context.new_page()
    page.goto(f"{address}/b/{build}/layout?sel=deck")
    context.set_offline(True)
    page.get_by_label("Aft edge, from transom").fill("2850")
    page.get_by_label("Aft edge, from transom").press("Enter")
    expect(page.locator("#saved")).to_contain_text("1 change waits")
    page.close()
    context.set_offline(False)
    page = context.new_page()
    page.goto(f"{address}/b/{build}/layout?sel=deck")
    expect(page.locator("#saved")).to_contain_text("revision 2", timeout=10_000)
    assert aft_of(page, address, build) == 2.85


def place(page, what: str) -> None:
    """Find it in the palette by typing, and put it where it usually goes."""
    page.keyboard.press("a")
    page.locator("#palette-find").fill(what)
    page.keyboard.press("Enter")
    page.keyboard.press("Enter")


def test_a_deck_a_hatch_an_item_and_a_person_are_placed_and_removed(app, address, quiet) -> None:
    page, build = quiet, make_build(app, skiff_plan())
    page.goto(f"{address}/b/{build}/layout")
    place(page, "raised deck")
    expect(page.locator("#sheet h2").first).to_have_text("Deck 1")
    page.keyboard.press("Escape")
    place(page, "hatch")
    expect(page.locator("#sheet h2").first).to_have_text("Hatch 1")
    page.get_by_role("link", name="all things").click()
    expect(page.locator("#sheet h2").first).to_have_text("On the plan")
    place(page, "anything else")
    expect(page.locator("#sheet h2").first).to_have_text("item")
    page.get_by_label("Mass", exact=True).fill("44 lb")
    page.get_by_label("Mass", exact=True).press("Enter")
    expect(page.locator("#saved")).to_contain_text("revision 5 · saved")
    page.get_by_role("link", name="all things").click()
    expect(page.locator("#sheet h2").first).to_have_text("On the plan")
    page.get_by_text("Load case: planned, empty").click()
    page.get_by_role("button", name="Add a load case").click()
    expect(page.locator("#case-pick")).to_have_value("case 1")
    page.get_by_role("button", name="Add a person").click()
    expect(page.locator("fieldset.crew")).to_have_count(2)
    page.get_by_role("button", name="Send ashore").first.click()
    expect(page.locator("fieldset.crew")).to_have_count(1)
    page.get_by_role("button", name="Bring something along").click()
    expect(page.locator("fieldset.crew legend").last).to_have_text("Extra 1")
    page.get_by_role("button", name="Leave it ashore").click()
    expect(page.locator("fieldset.crew")).to_have_count(1)
    page.locator('.things a:has-text("Deck 1")').click()
    page.locator("#sheet").get_by_role("button", name="Take it out").click()
    guests = page.locator("#guests")
    expect(guests).to_contain_text("Hatch 1")  # asked about; with no other deck it can only go too
    guests.get_by_role("button", name="Take it out").click()
    expect(page.locator("#sheet h2").first).to_have_text("On the plan")
    file = page.request.get(f"{address}/b/{build}/file").json()
    assert file["fittings"] == []
    assert file["items"][0]["mass"]["value"] == pytest.approx(44 * 0.45359237)
    assert len(file["cases"][0]["crew"]) == 1


def test_clicking_a_fitting_on_the_plan_chooses_it(address, quiet, build) -> None:
    page = quiet
    page.goto(f"{address}/b/{build}/layout")
    page.locator("svg.view-plan .lid").first.click(position={"x": 8, "y": 8})
    expect(page.locator("#sheet h2").first).to_have_text("Hatch")


def test_the_section_walks_by_key_and_by_pointer(address, quiet, build) -> None:
    page = quiet
    page.goto(f"{address}/b/{build}/layout")
    before = float(page.locator("[data-section]").get_attribute("data-value"))  # type: ignore[arg-type]
    page.keyboard.press(".")
    expect(page.locator("[data-section]")).to_have_attribute(
        "data-value", re.compile(f"{before + 0.05:.2f}")
    )


def test_a_figure_opens_its_arithmetic(app, address, quiet) -> None:
    page, build = quiet, make_build(app, demo_plan(FILES[0]))
    page.goto(f"{address}/b/{build}/layout")
    page.locator(".figure summary", has_text="Trim").click()
    working = page.locator(".figure[open] .work")
    expect(working).to_be_visible()
    expect(working).to_contain_text("centre of gravity from transom")
    page.locator(".figure summary", has_text="List").click()
    expect(page.locator(".figure[open]")).to_have_count(1)


def test_readings_are_dragged_and_typed_on_the_survey(app, address, quiet, build) -> None:
    page = quiet
    page.goto(f"{address}/b/{build}/survey?line=sheer")
    handle = page.locator('.handle[data-path="hull/lines/sheer/points/2/1"]')
    box = handle.locator(".mine").bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 5, box["y"] + 5)
    page.mouse.down()
    page.mouse.move(box["x"] + 5, box["y"] - 10, steps=4)
    page.mouse.up()
    expect(page.locator("#saved")).to_contain_text("revision 2 · saved")
    points = page.request.get(f"{address}/b/{build}/file").json()["hull"]["lines"][2]["points"]
    assert 1.02 < points[2][1] < 1.2
    field = page.get_by_label("sheer, station 1, half-width", exact=True)
    field.fill("39 1/2 in")
    field.press("Enter")
    expect(page.locator("#saved")).to_contain_text("revision 3 · saved")
    expect(page.get_by_label("sheer, station 1, height", exact=True)).to_be_focused()


def test_a_case_that_is_renamed_stays_in_view(app, address, quiet) -> None:
    page, build = (
        quiet,
        make_build(app, skiff_plan(cases=[{"name": "trip", "crew": [{"at": [2, 0, 0.1]}]}])),
    )
    page.goto(f"{address}/b/{build}/layout?case=trip")
    page.get_by_label("Name of the case").fill("long trip / night")
    page.get_by_label("Name of the case").press("Enter")
    expect(page.locator("#case-pick")).to_have_value("long trip / night")


def test_an_edge_dragged_too_far_says_so_at_its_field(address, page, build) -> None:
    page.goto(f"{address}/b/{build}/layout?sel=deck")
    drag(page, "aft", 300)
    message = page.locator('[data-path="fittings/deck/aft"] .field-error')
    expect(message).to_contain_text("at least 150 mm forward")
    assert aft_of(page, address, build) == 3.0


@pytest.mark.parametrize(("wide", "high"), [(1280, 800), (1920, 1080), (2560, 1300)])
def test_profile_and_plan_stand_above_the_strip_on_any_screen(
    app, address, quiet: Page, wide: int, high: int
) -> None:
    build = make_build(app, demo_plan(FILES[0]))
    quiet.set_viewport_size({"width": wide, "height": high})
    quiet.goto(f"{address}/b/{build}/layout?case=one at the helm")
    fitted(quiet)
    plan, strip = (quiet.locator(css).bounding_box() for css in ("svg.view-plan", "#strip"))
    assert plan is not None and strip is not None
    assert plan["y"] + plan["height"] <= strip["y"]
    assert plan["width"] > 0.55 * wide  # and are not made smaller than they must be


def test_the_members_under_the_decks_are_shown_by_a_key_and_a_button(address, quiet, build) -> None:
    page = quiet
    page.goto(f"{address}/b/{build}/layout")
    layer = page.locator(".frame-layer")
    expect(layer).to_have_count(0)
    page.keyboard.press("f")
    expect(layer.first).to_be_attached()
    button = page.get_by_role("button", name="framing")
    expect(button).to_have_attribute("aria-pressed", "true")
    button.click()
    expect(layer).to_have_count(0)
