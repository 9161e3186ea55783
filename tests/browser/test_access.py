"""Every page: no axe-core violation, no sideways scrolling, usable by keyboard and in print."""

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from stirrup.demo.seed import FILES, demo_plan
from tests.boats import skiff_plan
from tests.web.conftest import make_build

AXE = (Path(__file__).parent.parent / "vendor" / "axe.min.js").read_text()
PATHS = (
    "/", "/b/{}/survey", "/b/{}/layout", "/b/{}/layout?sel=bow-deck", "/b/{}/layout?sel=hatch-tackle",
    "/b/{}/layout?sel=console&case=one at the helm", "/b/{}/layout?sel=console,seat-helm&room=1",
    "/b/{}/cuts", "/b/{}/money", "/b/99999/layout",
    "/b/{}/money/shopping", "/b/{}/money/bought", "/b/{}/money/quotes", "/b/{}/money/came-to", "/shops",
    "/measure", "/b/{}/survey/condition", "/b/{}/survey?line=chine&width=full&string=3 ft", "/b/{}/float",
    "/b/{}/float?case=one at the helm&trim=0.5&list=0", "/b/{}/float/ledger",
    "/b/{}/float/ledger?edit=start-battery", "/b/{}/float/compare", "/b/{}/float/capacity",
    "/b/{}/float/measured", "/b/{}/history", "/b/{}/history?number=1", "/b/{}/layout/marks",
    "/b/{}/layout/seams", "/b/{}/survey/apart",
    "/b/{}/layout/framing/bow-deck", "/b/{}/cuts/panel?part=bow-deck/skin/1",
    "/b/{}/cuts/booklet?thing=bow-deck",
)  # fmt: skip


@pytest.fixture(scope="module")
def demo(app) -> int:
    return make_build(app, demo_plan(FILES[0]), "ft-in")


def settled(page: Page) -> None:
    """Wait for what comes behind the page: the crew map, the hint what to measure."""
    page.wait_for_function(
        r"""() => [...document.querySelectorAll("#where")].every((e) => e.dataset.done)
          && [...document.querySelectorAll("[data-behind]")].every((e) => !/…\s*$/.test(e.textContent))"""
    )


def violations(page: Page) -> list[str]:
    page.evaluate(AXE)
    # of what is in order only that it is; names for every element of it take as long as the looking
    result = page.evaluate("async () => await axe.run({ resultTypes: ['violations'] })")
    return [f"{v['id']}: {v['nodes'][0]['html'][:120]}" for v in result["violations"]]


def test_palette_and_gear_have_no_axe_violation(page, address, demo) -> None:
    page.goto(f"{address}/b/{demo}/layout?room=1&case=one+at+the+helm")
    page.wait_for_function("performance.getEntriesByName('stirrup-usable').length > 0")
    page.locator("#group-gear summary").click()
    page.wait_for_selector("#group-gear .spaces", timeout=20_000)
    assert violations(page) == []
    page.keyboard.press("/")
    page.locator("#palette-find").fill("hatch")
    assert violations(page) == []


@pytest.mark.parametrize("window", [(1280, 800), (390, 844)], indirect=True)
@pytest.mark.parametrize("path", PATHS)
def test_pages_have_no_axe_violation_and_no_sideways_scroll(window, address, demo, path) -> None:
    window.goto(address + path.format(demo))
    settled(window)
    assert violations(window) == []
    assert window.evaluate("document.documentElement.scrollWidth - innerWidth") <= 0


def test_the_night_shed_and_open_workings_have_no_violation(page, address, demo) -> None:
    page.goto(f"{address}/b/{demo}/layout?sel=bow-deck")
    page.get_by_role("button", name="Day or night shed").click()
    page.locator(".figure summary", has_text="Least freeboard").click()
    for summary in page.locator(".finding summary").all():
        summary.click()
    assert violations(page) == []
    page.reload()
    assert page.evaluate("document.documentElement.dataset.theme") == "night"


def test_the_import_preview_has_no_violation(page, address, app) -> None:
    build = make_build(app, skiff_plan())
    page.goto(f"{address}/b/{build}/survey")
    page.set_input_files("#table", {"name": "t.csv", "mimeType": "text/csv",
                         "buffer": b"line,station,x,y,z\nkeel,1,0,0,0\nkeel,2,far,0,0\n"})  # fmt: skip
    page.locator("#group-files summary").click()
    page.get_by_role("button", name="Look at it first").click()
    expect(page.get_by_role("alert")).to_contain_text("1 thing to put right")
    assert violations(page) == []


def test_keys_are_listed_and_the_dialog_closes(page, address, demo) -> None:
    page.goto(f"{address}/b/{demo}/layout")
    page.keyboard.press("?")
    expect(page.locator("#keys")).to_be_visible()
    assert violations(page) == []
    page.keyboard.press("Escape")
    expect(page.locator("#keys")).to_be_hidden()


def test_pages_change_by_key_and_the_first_tab_skips_to_the_page(page, address, demo) -> None:
    page.goto(f"{address}/b/{demo}/layout")
    page.keyboard.press("Tab")
    expect(page.locator(".skip").first).to_be_focused()
    page.keyboard.press("Alt+4")
    expect(page.get_by_role("heading", name="What to cut from what")).to_be_visible()


def test_everything_that_can_be_clicked_can_be_reached_by_tab(page, address, demo) -> None:
    page.goto(f"{address}/b/{demo}/layout?sel=bow-deck")
    # one of a group of like things is a stop, arrow keys go on inside of it
    unreachable = page.evaluate(
        """() => [...document.querySelectorAll('button, [data-place], [data-remove], .handle, summary, a')]
            .filter((e) => e.tabIndex < 0 && !e.disabled)
            .filter((e) => {
              const group = e.closest('.look, .things, .batten, .acts, svg.view');
              return !group?.querySelector('[tabindex="0"]');
            })
            .map((e) => e.outerHTML.slice(0, 80))"""
    )
    assert unreachable == []


def test_pages_weigh_little_the_first_time(browser, address, demo) -> None:
    for path in ("/", "/b/{}/survey", "/b/{}/layout?sel=bow-deck", "/b/{}/cuts", "/b/{}/money"):
        context = browser.new_context()
        page = context.new_page()
        total = []
        session = context.new_cdp_session(page)
        session.send("Network.enable")
        session.on("Network.loadingFinished", lambda e, total=total: total.append(e["encodedDataLength"]))
        page.goto(address + path.format(demo))
        settled(page)
        assert sum(total) < 250_000, (path, sum(total))
        context.close()


def test_the_page_stands_without_scripts(browser, address, app) -> None:
    build = make_build(app, demo_plan(FILES[1]))
    context = browser.new_context(java_script_enabled=False)
    page = context.new_page()
    page.goto(f"{address}/b/{build}/layout?sel=bow-deck")
    expect(page.locator("svg.view-plan")).to_be_visible()
    page.get_by_label("Aft edge, from transom").fill("2500")
    page.get_by_label("Aft edge, from transom").press("Enter")
    expect(page.locator("#saved")).to_contain_text("revision 2")
    context.close()
