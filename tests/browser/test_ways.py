"""By key, by ear, without scripts: choose and then apply, one sentence for a result, few stops."""

import re

import pytest
from playwright.sync_api import Page, expect

from stirrup.demo.seed import FILES, demo_plan
from tests.browser.measuring import fitted
from tests.web.conftest import make_build


@pytest.fixture
def demo(app) -> int:
    return make_build(app, demo_plan(FILES[0]), "ft-in")


@pytest.fixture
def desk(quiet, address, demo) -> Page:
    quiet.goto(f"{address}/b/{demo}/layout?sel=bow-deck")
    fitted(quiet)
    return quiet


def listen(page: Page) -> None:
    """Keep every sentence that is announced, however it comes in."""
    page.evaluate(
        """() => {
          window.heard = [];
          let last = "";
          new MutationObserver(() => {
            const now = document.getElementById("said")?.textContent ?? "";
            if (now && now !== last) window.heard.push(now);
            last = now;
          }).observe(document.body, { subtree: true, childList: true, characterData: true });
        }"""
    )


def test_a_moved_edge_is_told_once_with_the_figures_that_moved(desk) -> None:
    listen(desk)
    handle = desk.locator('.view-plan [data-path="fittings/bow-deck/aft"]')
    handle.focus()
    for _ in range(6):
        desk.keyboard.press("Shift+ArrowLeft")
    expect(desk.locator("#saved")).to_contain_text("revision 2")
    desk.wait_for_function("() => window.heard.length")
    desk.wait_for_timeout(800)
    (heard,) = desk.evaluate("() => window.heard")
    # six inches more of deck: what it weighs and costs, and how she sits
    assert heard.startswith("Bow deck: aft edge")
    trim = desk.locator("#strip .is-trim b").inner_text()
    added = desk.locator("#strip .is-added b").inner_text()
    assert f"added {added}" in heard
    assert any(f in heard for f in ("least freeboard", "open", "trim"))
    assert f"trim {trim}" in heard or "trim" not in heard
    # a fraction is said as it is read, not once more as it is drawn
    assert "⁄" not in heard
    assert handle.evaluate("e => e === document.activeElement") or desk.evaluate(
        "() => document.activeElement.dataset.path === 'fittings/bow-deck/aft'"
    )


def test_undo_says_what_it_took_back(desk) -> None:
    desk.get_by_label("Aft edge, from transom", exact=True).fill("10 ft")
    desk.get_by_label("Aft edge, from transom", exact=True).press("Enter")
    expect(desk.locator("#saved")).to_contain_text("revision 2")
    desk.wait_for_function("() => /aft edge/.test(document.getElementById('said').textContent)")
    desk.evaluate("() => document.activeElement.blur()")
    desk.evaluate("() => { document.getElementById('said').textContent = ''; }")
    listen(desk)
    desk.keyboard.press("Control+z")
    desk.wait_for_function("() => window.heard.length")
    desk.wait_for_timeout(500)
    (heard,) = desk.evaluate("() => window.heard")
    assert heard.startswith("undone: Bow deck: aft edge")
    assert "added " in heard


def test_sliders_speak_shop_units_with_limits_and_the_thing(desk) -> None:
    handle = desk.locator('.view-plan [data-path="fittings/bow-deck/aft"]')
    assert handle.get_attribute("aria-label") == "Bow deck, aft edge"
    words = handle.get_attribute("aria-valuetext") or ""
    # 3.02 m are 118.9 in: 9 ft 10 7/8 in
    assert words.startswith("9' 10-7/8\"") and "between" in words
    low, now, high = (float(handle.get_attribute(f"aria-value{k}") or "nan") for k in ("min", "now", "max"))
    assert low < now < high and now == pytest.approx(3.0201, abs=1e-3)
    grip = desk.locator(".section-grip")
    assert "looking forward" in (grip.get_attribute("aria-valuetext") or "")
    assert grip.get_attribute("aria-valuemin") and grip.get_attribute("aria-valuemax")


def test_windows_are_counted_aloud_once(desk, address, demo) -> None:
    listen(desk)
    other = desk.context.new_page()
    other.goto(f"{address}/b/{demo}/layout")
    desk.wait_for_function("() => window.heard.some((t) => /2 windows/.test(t))", timeout=15_000)
    # looking again says nothing new
    desk.locator('[data-pick-thing="aft-deck"]').click()
    expect(desk.locator("#sheet h2").first).to_have_text("Aft deck")
    desk.wait_for_timeout(6000)
    assert [t for t in desk.evaluate("() => window.heard") if "windows" in t] == ["2 windows here"]
    other.close()


@pytest.mark.parametrize("pick", ["#case-pick", "#units-pick"])
def test_a_list_is_walked_through_by_arrows_and_taken_by_enter(desk, pick) -> None:
    desk.evaluate("() => { window.same = true; }")
    list_ = desk.locator(pick)
    first = list_.input_value()
    address = desk.url
    desk.locator("#drawing").evaluate("e => { e.scrollTop = 40; }")
    list_.focus()
    desk.keyboard.press("ArrowDown")
    desk.wait_for_timeout(400)
    # nothing is asked for yet
    assert desk.url == address and desk.evaluate("() => window.same")
    walked = list_.input_value()
    assert walked != first
    desk.keyboard.press("Enter")
    if pick == "#case-pick":
        desk.wait_for_function("() => new URL(location.href).searchParams.get('case')")
        expect(desk.locator("#topline")).to_have_attribute("data-case", walked)
    else:
        expect(desk.locator("#topline")).to_have_attribute("data-units", walked)
    # the page is the same one, and he is where he was
    assert desk.evaluate("() => window.same")
    expect(desk.locator(pick)).to_be_focused()
    assert desk.locator(pick).input_value() == walked


def test_escape_leaves_a_list_as_it_was(desk) -> None:
    list_ = desk.locator("#case-pick")
    first = list_.input_value()
    list_.focus()
    desk.keyboard.press("ArrowDown")
    desk.keyboard.press("Escape")
    assert list_.input_value() == first
    desk.keyboard.press("Tab")
    desk.wait_for_timeout(300)
    assert "case=" not in desk.url


def test_escape_closes_a_working_and_the_focus_is_where_it_was_opened(desk) -> None:
    desk.locator(".figure summary", has_text="Least freeboard").focus()
    desk.keyboard.press("Enter")
    expect(desk.locator("#strip .is-board .work")).to_be_visible()
    desk.keyboard.press("Escape")
    expect(desk.locator("#strip .is-board .work")).to_be_hidden()
    expect(desk.locator("#strip .is-board summary")).to_be_focused()
    # the deck is still chosen: one Esc, one thing
    expect(desk.locator("#sheet h2").first).to_have_text("Bow deck")


def test_the_focus_stays_with_what_was_chosen_and_closed(desk) -> None:
    desk.locator('[data-pick-thing="console"]').focus()
    desk.keyboard.press("Enter")
    expect(desk.locator("#sheet h2").first).to_have_text("side console with wheel")
    expect(desk.locator('[data-pick-thing="console"]')).to_be_focused()
    desk.locator("a.close-thing").focus()
    desk.keyboard.press("Enter")
    expect(desk.locator("#sheet h2").first).to_have_text("On the plan")
    expect(desk.locator('[data-pick-thing="console"]')).to_be_focused()


def test_groups_are_one_stop_each_and_arrows_go_on_inside(desk) -> None:
    stops = desk.evaluate(
        """() => [...document.querySelectorAll("a[href], button, input, select, summary, [tabindex]")]
          .filter((e) => e.tabIndex >= 0 && !e.disabled && e.type !== "hidden" && e.getClientRects().length)
          .map((e) => (e.closest(".look, .things, svg.view, .batten")?.getAttribute("class") ?? ""))"""
    )
    for group in ("look", "things pick", "view view-plan", "view view-profile", "batten"):
        assert stops.count(group) == 1, group
    assert len(stops) < 75
    # main parts within six: the first three lead to drawing, details and figures
    for target in ("main", "sheet", "strip"):
        desk.keyboard.press("Tab")
        assert desk.evaluate("() => document.activeElement.getAttribute('href')") == f"#{target}"
    desk.locator(".look button").first.focus()
    desk.keyboard.press("ArrowRight")
    assert desk.evaluate("() => document.activeElement.dataset.only") == "plan"
    desk.keyboard.press("End")
    assert desk.evaluate("() => document.activeElement.dataset.open") == "palette"
    # what is done with a chosen thing is a group as well: from locking to taking it out
    desk.locator('.acts [tabindex="0"]').focus()
    desk.keyboard.press("ArrowRight")
    assert desk.evaluate("() => document.activeElement.dataset.act") == "hide"
    desk.keyboard.press("End")
    assert desk.evaluate("() => document.activeElement.hasAttribute('data-remove')")
    # on the plan an edge goes fore and aft with its own arrows, and up and down goes on to the next
    edge = desk.locator('.view-plan [data-path="fittings/bow-deck/aft"]')
    edge.focus()
    desk.keyboard.press("ArrowDown")
    assert desk.evaluate("() => document.activeElement.dataset.path") == "fittings/bow-deck/fore"
    desk.keyboard.press("ArrowDown")
    assert desk.evaluate("() => document.activeElement.dataset.section") == "1"
    expect(desk.locator("#saved")).to_contain_text("revision 1")


TITLES = {
    "/b/{}/layout": "Layout · Sedge Hopper · Stirrup",
    "/b/{}/layout?sel=bow-deck": "Bow deck · Layout · Sedge Hopper · Stirrup",
    "/b/{}/float/ledger": "Ledger · Float · Sedge Hopper · Stirrup",
    "/b/{}/float?case=one at the helm": "one at the helm · Float · Sedge Hopper · Stirrup",
    "/b/{}/survey/condition": "Condition · Survey · Sedge Hopper · Stirrup",
    "/b/{}/history": "History · Sedge Hopper · Stirrup",
    "/b/{}/cuts": "Cuts · Sedge Hopper · Stirrup",
}


@pytest.mark.parametrize("path", TITLES)
def test_titles_name_page_and_thing(quiet, address, demo, path) -> None:
    quiet.goto(address + path.format(demo))
    expect(quiet).to_have_title(TITLES[path])


def test_a_title_follows_what_is_chosen(desk) -> None:
    desk.locator('[data-pick-thing="console"]').click()
    expect(desk).to_have_title("side console with wheel · Layout · Sedge Hopper · Stirrup")


@pytest.mark.parametrize("path", ["/b/{}/layout/marks", "/b/{}/float?case=one at the helm", "/b/{}/money"])
def test_every_table_says_what_it_is(quiet, address, demo, path) -> None:
    quiet.goto(address + path.format(demo))
    nameless = quiet.evaluate(
        """() => [...document.querySelectorAll("main table")].filter((t) => !t.closest(".work"))
          .filter((t) => !t.caption?.textContent.trim()).map((t) => t.textContent.trim().slice(0, 40))"""
    )
    assert nameless == []


@pytest.mark.parametrize(
    "path", ["/", "/b/{}/layout?sel=bow-deck", "/b/{}/survey", "/b/{}/float", "/b/{}/money"]
)
def test_without_scripts_nothing_is_offered_that_does_nothing(browser, address, demo, path) -> None:
    context = browser.new_context(java_script_enabled=False)
    page = context.new_page()
    page.goto(address + path.format(demo))
    dead = page.locator("button[type=button]:visible")
    assert dead.count() == 0, dead.all_inner_texts()
    assert not re.search("Working it out", page.locator("body").inner_text())
    context.close()


def test_without_scripts_the_hint_and_the_case_are_asked_for(browser, address, demo) -> None:
    context = browser.new_context(java_script_enabled=False)
    page = context.new_page()
    page.goto(f"{address}/b/{demo}/survey")
    link = page.get_by_role("link", name="Work it out")
    if link.count():
        link.click()
        assert "Working it out" not in page.locator("body").inner_text()
        assert page.locator(".next, .hint").count()
    page.goto(f"{address}/b/{demo}/layout")
    page.select_option("#case-pick", "one at the helm")
    page.get_by_role("button", name="Show", exact=True).click()
    expect(page.locator("#topline")).to_have_attribute("data-case", "one at the helm")
    context.close()


def test_nothing_looks_pressable_that_is_not(quiet, address, demo) -> None:
    for path in ("/b/{}/cuts", "/b/{}/history?number=1", "/b/{}/float", "/b/{}/survey/condition"):
        quiet.goto(address + path.format(demo))
        pointers = quiet.evaluate(
            """() => [...document.querySelectorAll("svg.view *")]
              .filter((e) => getComputedStyle(e).cursor === "pointer")
              .map((e) => e.getAttribute("class"))"""
        )
        assert pointers == [], path
