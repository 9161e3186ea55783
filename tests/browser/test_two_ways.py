"""A small layout built by pointer, and again by keyboard only: the two build files are the same."""

from __future__ import annotations

from typing import Any

from playwright.sync_api import Page, expect

from tests.boats import skiff_plan
from tests.web.conftest import make_build


def open_layout(page: Page, address: str, build: int) -> None:
    page.goto(f"{address}/b/{build}/layout")
    page.wait_for_function("performance.getEntriesByName('stirrup-usable').length > 0")


def revision(page: Page, number: int) -> None:
    expect(page.locator("#saved")).to_contain_text(f"revision {number} · saved")
    # and the page around it is renewed
    page.wait_for_function("at => Number(document.body.dataset.drawn) >= at", arg=number)


def pick(page: Page, words: str) -> None:
    """By pointer: open the palette with its button, click the entry."""
    page.get_by_role("button", name="Place…").click()
    page.locator("#palette [data-pick]", has_text=words).first.click()


def at(page: Page, x: float, y: float) -> tuple[float, float]:
    """Where (x, y) of the boat lies on the screen, in the plan."""
    svg = page.locator("svg.view-plan")
    box = svg.bounding_box()
    data = svg.evaluate(
        "s => [s.dataset.scale, s.dataset.ox, s.dataset.oy, s.viewBox.baseVal.width].map(Number)"
    )
    assert box is not None
    scale, ox, oy, width = data
    pixel = box["width"] / width
    return box["x"] + (ox + x * scale) * pixel, box["y"] + (oy - y * scale) * pixel


def drag(page: Page, x: float, y: float, to_x: float, to_y: float) -> None:
    start, end = at(page, x, y), at(page, to_x, to_y)
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(start[0] + 8, start[1])
    for k in range(1, 6):
        page.mouse.move(start[0] + (end[0] - start[0]) * k / 5, start[1] + (end[1] - start[1]) * k / 5)
        page.wait_for_timeout(40)
    page.mouse.up()


def number(page: Page, label: str, text: str) -> None:
    field = page.locator("#sheet").get_by_label(label, exact=True)
    field.fill(text)
    field.press("Enter")


# what is typed once a thing is there, in both ways
HATCH_AT = (("Middle, from transom", "3 700 mm"), ("Middle, to port", "50 mm"))
CONSOLE_AT = (("From transom", "2250 mm"), ("To port", "-320 mm"), ("Above keel line", "460 mm"))
BATTERY_AT = (("From transom", "440 mm"), ("To port", "290 mm"), ("Above keel line", "135 mm"))
LAST = 17


def by_pointer(page: Page, address: str, build: int) -> None:
    open_layout(page, address, build)
    count = 1

    def stored(steps: int = 1) -> None:
        nonlocal count
        count += steps
        revision(page, count)

    def placed(name: str) -> None:
        stored()
        expect(heading(page)).to_have_text(name)  # its own fields are there

    def typed(fields: Any) -> None:
        for label, text in fields:
            number(page, label, text)
            stored()

    pick(page, "Raised deck")
    page.mouse.click(*at(page, 3.9, 0.0))
    placed("Deck 1")
    pick(page, "Drop-in hatch")
    page.mouse.click(*at(page, 3.8, 0.0))
    placed("Hatch 1")
    typed(HATCH_AT)
    pick(page, "Console")
    page.mouse.click(*at(page, 2.4, -0.3))
    placed("console")
    drag(page, 2.4, -0.3, 2.2, -0.36)  # roughly by hand, the rest by the fields
    stored()
    typed(CONSOLE_AT)
    pick(page, "Battery")
    page.mouse.click(*at(page, 0.5, 0.3))
    placed("battery")
    typed(BATTERY_AT)
    page.locator("#sheet").get_by_role("button", name="On the other side too").click()
    stored()
    page.mouse.click(*at(page, 0.45, 0.3))
    expect(heading(page)).to_have_text("battery")
    page.keyboard.down("Shift")
    page.mouse.click(*at(page, 0.45, -0.3))
    page.keyboard.up("Shift")
    expect(heading(page)).to_have_text("2 things")
    page.get_by_role("button", name="Group", exact=True).click()
    stored()
    page.get_by_role("link", name="all things").click()
    expect(heading(page)).to_have_text("On the plan")
    page.mouse.click(*at(page, 2.25, -0.32))
    expect(heading(page)).to_have_text("console")
    page.get_by_role("button", name="Lock", exact=True).click()
    stored()
    assert count == LAST


def heading(page: Page) -> Any:
    return page.locator("#sheet h2").first


def tab_to(page: Page, script: str, wanted: str) -> None:
    """Tab on, and by arrows inside a list, until the script tells the wanted thing about what holds
    the focus."""
    for _ in range(150):
        if page.evaluate(script) == wanted:
            return
        inside = page.evaluate("() => Boolean(document.activeElement.closest('.things, .look'))")
        last = page.evaluate(
            "() => document.activeElement === [...document.activeElement.closest('.things, .look')"
            "?.querySelectorAll('a, input, button') ?? []].at(-1)"
        )
        page.keyboard.press("ArrowDown" if inside and not last else "Tab")
    raise AssertionError(f"“{wanted}” was not reached by Tab")


LABEL = "document.activeElement?.labels?.[0]?.textContent?.trim()"
TICK = "document.activeElement?.dataset?.tick"


def by_keys(page: Page, address: str, build: int) -> None:
    open_layout(page, address, build)
    press, count = page.keyboard.press, 1

    def stored() -> None:
        nonlocal count
        count += 1
        revision(page, count)

    def place(words: str, name: str) -> None:
        press("a")
        expect(page.locator("#palette-find")).to_be_focused()
        page.keyboard.type(words)
        press("Enter")
        press("Enter")
        stored()
        expect(heading(page)).to_have_text(name)

    def typed(fields: Any) -> None:
        press("=")
        for label, text in fields:
            tab_to(page, LABEL, label)
            press("Control+a")
            page.keyboard.type(text)
            press("Enter")
            stored()
        press("Escape")  # out of the field, so that keys are keys again

    place("raised deck", "Deck 1")
    place("hatch", "Hatch 1")
    typed(HATCH_AT)
    place("console", "console")
    press("ArrowLeft")
    stored()
    typed(CONSOLE_AT)
    place("battery", "battery")
    typed(BATTERY_AT)
    press("m")
    stored()
    press("Escape")
    expect(heading(page)).to_have_text("On the plan")
    for id_, words in (("battery-1", "battery"), ("battery-2", "2 things")):
        tab_to(page, TICK, id_)
        press("Space")
        expect(heading(page)).to_have_text(words)
    press("g")
    stored()
    press("Escape")
    expect(heading(page)).to_have_text("On the plan")
    for name in ("Deck 1", "Hatch 1", "console"):
        press("]")
        expect(heading(page)).to_have_text(name)
    press("l")
    stored()
    assert count == LAST


def test_pointer_and_keyboard_build_the_same_layout(app, address, quiet: Page) -> None:
    files = []
    for way in (by_pointer, by_keys):
        build = make_build(app, skiff_plan(), units="mm")
        way(quiet, address, build)
        files.append(quiet.request.get(f"{address}/b/{build}/file").json())
    plan, other = files
    assert [f["kind"] for f in plan["fittings"]] == ["raised_deck", "hatch"]
    assert [i["id"] for i in plan["items"]] == ["console-1", "battery-1", "battery-2"]
    assert plan == other
