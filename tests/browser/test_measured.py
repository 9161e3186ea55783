"""Measured on the pages as they are seen: words, fingers, bars, focus, contrast, at every width."""

import pytest
from playwright.sync_api import Page

from stirrup.core.plan.changes import SetValue
from stirrup.demo.seed import FILES, demo_plan
from stirrup.store import builds
from stirrup.store.shop import the_shop
from tests.browser.measuring import CONTRAST, COUNT, SIDEWAYS, SMALL, WORDS, fitted, resized, unfolded
from tests.web.conftest import make_build

SIZES = ((320, 640), (390, 844), (640, 900), (768, 1024), (1280, 800), (1920, 1080))
DRAWN = (
    "/b/{}/layout?sel=bow-deck&case=one at the helm", "/b/{}/layout?room=1&sel=seat-helm", "/b/{}/survey",
    "/b/{}/float?case=everyone to one rail", "/b/{}/float?case=two on the bow deck", "/b/{}/cuts",
    "/b/{}/survey/condition", "/b/{}/history?number=1", "/measure",
)  # fmt: skip
OTHERS = (
    "/", "/b/{}/layout", "/b/{}/layout?sel=console,hatch-tackle", "/b/{}/layout/marks",
    "/b/{}/layout/seams", "/b/{}/survey/apart",
    "/b/{}/layout/framing/bow-deck", "/b/{}/cuts/panel?part=bow-deck/skin/1",
    "/b/{}/cuts/booklet?thing=bow-deck",
    "/b/{}/float/ledger", "/b/{}/float/ledger?edit=start-battery", "/b/{}/float/compare",
    "/b/{}/float/capacity", "/b/{}/float/measured", "/b/{}/money",
    "/b/{}/money/shopping", "/b/{}/money/bought", "/b/{}/money/quotes", "/b/{}/money/came-to",
)  # fmt: skip
LINES = "hull-line station-mark station rule knuckle inside section-mark waterline deck board gz"


def named(size: tuple[int, int]) -> str:
    """A window's size, as a test says it."""
    return f"{size[0]}x{size[1]}"


@pytest.fixture(scope="module")
def demo(app) -> int:
    build = make_build(app, demo_plan(FILES[0]), "ft-in")
    with app.state.database.connection_context():
        moved = SetValue(path=("fittings", "bow-deck", "aft"), value=3.05)
        builds.commit(the_shop().id, build, 1, moved, lambda *_: "moved", None)
    return build


def in_units(page: Page, address: str, units: str) -> None:
    page.goto(address)
    if page.locator("#units-pick").input_value() != units:
        with page.expect_navigation():
            page.select_option("#units-pick", units)


@pytest.mark.parametrize("window", SIZES, ids=named, indirect=True)
@pytest.mark.parametrize("units", ["ft-in", "mm"])
def test_words_in_drawings_are_12_to_18_px_inside_and_apart(window, address, demo, units) -> None:
    page = window
    in_units(page, address, units)
    wrong, words = [], 0
    for path in DRAWN:
        page.goto(address + path.format(demo))
        fitted(page)
        found = page.evaluate(WORDS)
        if (over := page.evaluate(SIDEWAYS)) > 0:
            found.append(f"{over} px sideways")
        words += page.evaluate(COUNT)
        wrong += [f"{path}: {text}" for text in found]
    assert wrong == [] and words > 60


@pytest.mark.parametrize("window", [(320, 640), (390, 844), (768, 1024)], ids=named, indirect=True)
def test_fingers_hit_44_px_and_56_where_gloves_are_worn(window, address, demo) -> None:
    page = window
    wrong = []
    for path in (*DRAWN, *OTHERS):
        page.goto(address + path.format(demo))
        if "/b/" in path:
            fitted(page)
        unfolded(page)
        wrong += [f"{path}: {text}" for text in page.evaluate(SMALL, 44)]
        if (over := page.evaluate(SIDEWAYS)) > 0:
            wrong.append(f"{path}: {over} px sideways")
    assert wrong == []


@pytest.mark.parametrize("path", ["/b/{}/layout?sel=bow-deck", "/b/{}/cuts", "/b/{}/money", "/b/{}/survey"])
def test_a_telephone_s_bars_are_low_and_fold_away(page, address, demo, path) -> None:
    resized(page, 390, 844)
    page.goto(address + path.format(demo))
    fitted(page)
    bars = "() => document.querySelector('.batten').getBoundingClientRect().bottom"
    assert page.evaluate(bars) <= 96
    first = "() => document.querySelector('#drawing svg.view, #drawing h1').getBoundingClientRect().top"
    assert page.evaluate(first) < 0.25 * 844
    page.mouse.wheel(0, 600)
    page.wait_for_function(f"() => ({bars})() <= 0")
    page.mouse.wheel(0, -100)
    page.wait_for_function(f"() => ({bars})() > 90")
    # four figures are seen, the list, the trim and the least freeboard before all
    seen = page.evaluate(
        """() => [...document.querySelectorAll("#strip .figure")]
          .map((f) => [f.getBoundingClientRect(), f.querySelector(".what").textContent.trim()])
          .filter(([r]) => r.left >= 0 && r.right <= innerWidth)
          .sort((a, b) => a[0].left - b[0].left).map(([, t]) => t)"""
    )
    assert seen == ["List", "Trim", "Least freeboard", "Open"]
    cut_off = """() => [...document.querySelectorAll("#strip .figure b")]
      .filter((b) => b.getBoundingClientRect().right <= innerWidth && b.scrollWidth > b.clientWidth + 1)
      .map((b) => b.textContent)"""
    assert page.evaluate(cut_off) == []


@pytest.mark.parametrize("size", [(1280, 800), (960, 700), (390, 844)], ids=named)
def test_bars_and_page_stand_one_under_the_other(page, address, demo, size) -> None:
    resized(page, *size)
    for path in ("/b/{}/layout?sel=bow-deck", "/b/{}/float", "/b/{}/survey", "/b/{}/cuts", "/b/{}/history"):
        page.goto(address + path.format(demo))
        fitted(page)
        tops = page.evaluate(
            """() => [".topline", ".batten", "#main", "#strip"].map((s) => {
              const r = document.querySelector(s).getBoundingClientRect();
              return [r.top, r.bottom];
            })"""
        )
        (bar, below), (batten, under), (main, end), (strip, _) = tops
        assert (bar, below) == (0, 48) and batten == below, (path, tops)
        assert main == pytest.approx(under, abs=1) and strip < size[1], (path, tops)
        assert size[0] <= 900 or end == pytest.approx(strip, abs=1), (path, tops)


def test_what_a_telephone_s_button_unfolds_is_seen_whole(page, address, demo) -> None:
    resized(page, 390, 844)
    page.goto(f"{address}/b/{demo}/layout")
    fitted(page)
    page.locator(".more-tools").click()
    for part in ("#case-pick", "#units-pick", "#to-history", "[data-do=theme]", "[data-do=keys]"):
        hit = page.locator(part).evaluate(
            """(e) => {
              const r = e.getBoundingClientRect();
              return e.contains(document.elementFromPoint(r.left + r.width / 2, r.top + 4));
            }"""
        )
        assert hit, part
    page.keyboard.press("Escape")
    assert page.locator("#case-pick").is_hidden()


def covered(page: Page) -> str:
    """What holds the focus, if a bar lies over any of it."""
    return page.evaluate(
        """() => {
          const e = document.activeElement;
          const r = e.getBoundingClientRect();
          const bars = [...document.querySelectorAll(".topline, .batten, #strip")]
            .filter((b) => ["fixed", "sticky"].includes(getComputedStyle(b).position) && !b.contains(e));
          const over = bars.some((b) => {
            const s = b.getBoundingClientRect();
            const [top, bottom] = [Math.max(r.top, s.top), Math.min(r.bottom, s.bottom)];
            if (bottom - top <= 1) return false;
            const there = document.elementFromPoint((r.left + r.right) / 2, (top + bottom) / 2);
            return b.contains(there);
          });
          const words = (e.textContent || e.id).trim().slice(0, 30);
          return over ? `${e.tagName} ${words} ${r.top.toFixed()} to ${r.bottom.toFixed()}` : "";
        }"""
    )


RING = """() => {
  const e = document.activeElement, s = getComputedStyle(e);
  const is = e.tagName + (e.id ? `#${e.id}` : "");
  return { is, style: s.outlineStyle, width: parseFloat(s.outlineWidth) };
}"""


@pytest.mark.parametrize("size", [(390, 844), (768, 1024), (320, 256), (1280, 800)], ids=named)
def test_what_holds_the_focus_is_seen_and_ringed(page, address, demo, size) -> None:
    resized(page, *size)
    page.goto(f"{address}/b/{demo}/layout?sel=bow-deck")
    fitted(page)
    hidden, bare, stops = [], [], 0
    for _ in range(90):
        page.keyboard.press("Tab")
        if page.evaluate("() => document.activeElement === document.body"):
            break
        stops += 1
        if text := covered(page):
            hidden.append(text)
        ring = page.evaluate(RING)
        if ring["style"] != "solid" or ring["width"] < 2.5:
            bare.append(ring)
    assert (hidden, bare) == ([], []) and stops > 30


@pytest.mark.parametrize("theme", ["day", "night"])
def test_contrast_of_lines_words_and_the_ring(page, address, demo, theme) -> None:
    page.add_init_script(f"localStorage.setItem('stirrup-theme', '{theme}')")
    lines = ", ".join(f".{c}" for c in LINES.split())
    for path in ("/b/{}/layout?sel=bow-deck", "/b/{}/survey", "/b/{}/float", "/b/{}/cuts"):
        page.goto(address + path.format(demo))
        fitted(page)
        words = page.evaluate(CONTRAST, ["svg.view text:not(.crew-name)", "fill"])
        assert words and min(words.values()) >= 4.5, (path, words)
        drawn = page.evaluate(CONTRAST, [lines, "stroke"])
        assert min(drawn.values(), default=99) >= 3, (path, drawn)
    page.locator("#case-pick").focus()
    page.keyboard.press("Tab")
    ring = page.evaluate(CONTRAST, [":focus", "outlineColor"])
    assert min(ring.values()) >= 3


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_forced_colours_draw_in_the_system_s_own(browser, address, demo, scheme) -> None:
    context = browser.new_context(forced_colors="active", color_scheme=scheme)
    page = context.new_page()
    page.goto(f"{address}/b/{demo}/layout?sel=bow-deck")
    fitted(page)
    drawn = page.evaluate(CONTRAST, [".hull-line, .station-mark, .waterline, .form-body", "stroke"])
    assert len(drawn) > 3 and min(drawn.values()) >= 3, drawn
    pressed, other = (
        page.evaluate(f"() => getComputedStyle(document.querySelector('{s}')).backgroundColor")
        for s in ("[data-snap][aria-pressed=true]", "[data-look=fit]")
    )
    assert pressed != other
    # words stand off from what they are written on, on dark buttons too
    for part in (".look .btn-dark", "[data-snap]", ".batten [aria-current]"):
        ink, ground = (
            page.evaluate(f"() => getComputedStyle(document.querySelector('{part}')).{name}")
            for name in ("color", "backgroundColor")
        )
        assert ink != ground, (part, ink, ground)
    context.close()


@pytest.mark.parametrize(("scheme", "theme"), [("light", "day"), ("dark", "night")])
def test_the_first_start_follows_the_system_s_light(browser, address, scheme, theme) -> None:
    context = browser.new_context(color_scheme=scheme)
    page = context.new_page()
    page.goto(address)
    assert page.evaluate("() => document.documentElement.dataset.theme") == theme
    page.get_by_role("button", name="Day or night shed").click()
    page.reload()
    # what somebody chose stays
    assert page.evaluate("() => document.documentElement.dataset.theme") != theme
    context.close()


def test_more_contrast_is_followed(browser, address, demo) -> None:
    found = {}
    for wish in ("no-preference", "more"):
        context = browser.new_context(contrast=wish)
        page = context.new_page()
        page.goto(f"{address}/b/{demo}/layout")
        fitted(page)
        found[wish] = min(page.evaluate(CONTRAST, [".station-mark, .rule, .hull-line", "stroke"]).values())
        context.close()
    assert found["more"] > 1.3 * found["no-preference"]
