"""On paper: day ink, nothing to press, drawings whole, boat and page in the margins, A4 and Letter."""

import io
import re
from collections.abc import Iterator
from contextlib import contextmanager

import pytest
from playwright.sync_api import Page
from pypdf import PageObject, PdfReader

from stirrup.demo.seed import FILES, demo_plan
from tests.browser.measuring import CONTRAST, fitted
from tests.web.conftest import make_build

PATHS = (
    "/b/{}/survey", "/b/{}/survey/condition", "/b/{}/layout", "/b/{}/layout/marks",
    "/b/{}/layout/seams", "/b/{}/survey/apart",
    "/b/{}/layout/framing/bow-deck", "/b/{}/cuts/panel?part=bow-deck/skin/1",
    "/b/{}/cuts/booklet?thing=bow-deck",
    "/b/{}/float?case=one at the helm", "/b/{}/float/ledger", "/b/{}/float/compare",
    "/b/{}/float/capacity", "/b/{}/float/measured", "/b/{}/cuts", "/b/{}/money", "/b/{}/history",
    "/b/{}/money/shopping", "/b/{}/money/bought", "/b/{}/money/quotes", "/b/{}/money/came-to",
)  # fmt: skip
PRESSED = ["button", ".btn", "[type=checkbox]", "[type=file]", ".batten", ".topline", ".sub-nav", ".handle"]
# points; what stands in the margins is no content
MARGIN = 44.0
LEAST_FILLED = 0.10  # of a last page's height


@pytest.fixture(scope="module")
def demo(app) -> int:
    return make_build(app, demo_plan(FILES[0]), "mm")


@pytest.fixture
def night(quiet) -> Page:
    """A shed at night, on a telephone: paper must not take after either."""
    quiet.add_init_script("localStorage.setItem('stirrup-theme', 'night')")
    return quiet


def texts(page: PageObject) -> tuple[str, list[tuple[float, str]]]:
    """Everything written on a page, and, margins left out, its words by their distance from the head."""
    high = float(page.mediabox.height)
    found: list[tuple[float, str]] = []

    def visit(text: str, now: list[float], own: list[float], *_: object) -> None:
        y = now[1] * own[4] + now[3] * own[5] + now[5]
        if text.strip() and MARGIN < y < high - MARGIN:
            found.append((high - y, text.strip()))

    whole = page.extract_text(visitor_text=visit)
    return whole, sorted(found)


@contextmanager
def on_paper(page: Page, address: str) -> Iterator[None]:
    """A page as it would be printed."""
    page.goto(address)
    fitted(page)
    page.emulate_media(media="print")
    yield
    page.emulate_media(media="screen")


def printed(page: Page, paper: str) -> PdfReader:
    return PdfReader(io.BytesIO(page.pdf(format=paper)))


@pytest.mark.parametrize("path", PATHS)
def test_every_page_says_what_it_is_and_ends_where_it_should(night, address, demo, path) -> None:
    night.goto(address + path.format(demo))
    fitted(night)
    headings = set(
        night.evaluate(
            """() => [...document.querySelectorAll("h1, h2, h3, :is(h1, h2, h3) *, caption, figcaption")]
              .map((h) => h.textContent.trim())"""
        )
    )
    for paper, size in (("A4", (595, 842)), ("Letter", (612, 792))):
        pages = list(printed(night, paper).pages)
        there: list[tuple[float, str]] = []
        for k, page in enumerate(pages, start=1):
            assert (float(page.mediabox.width), float(page.mediabox.height)) == pytest.approx(size, abs=1)
            whole, there = texts(page)
            assert "Sedge Hopper" in whole and "revision 1" in whole
            assert re.search(r"\d{4}-\d\d-\d\d", whole)
            assert re.search(rf"page\s*{k}\s*of\s*{len(pages)}", whole), whole[-80:]
            # no heading stays behind what it is over
            assert there[-1][1] not in headings or k == len(pages), (paper, k, there[-1])
        filled = there[-1][0] / float(pages[-1].mediabox.height)
        assert len(pages) == 1 or filled > LEAST_FILLED, (paper, len(pages), filled)


def test_paper_is_black_on_white_whatever_the_shed_and_has_nothing_to_press(night, address, demo) -> None:
    for path in PATHS:
        with on_paper(night, address + path.format(demo)):
            seen = night.evaluate(
                """(kinds) => kinds.filter((s) => [...document.querySelectorAll(s)]
                  .some((e) => e.checkVisibility() && e.getClientRects().length))""",
                PRESSED,
            )
            assert seen == [], (path, seen)
            fill = "() => [...document.querySelectorAll('.hull-fill')].map((e) => getComputedStyle(e).fill)"
            assert set(night.evaluate(fill)) <= {"rgb(255, 255, 255)"}
            words = night.evaluate(CONTRAST, ["h1, td, th, dd", "color"])
            drawn = night.evaluate(CONTRAST, [".view text:not(.crew-name)", "fill"])
            assert min([*words.values(), *drawn.values()]) > 12, (path, words, drawn)


def test_drawings_and_rows_are_never_cut_in_two(night, address, demo) -> None:
    for path in PATHS:
        with on_paper(night, address + path.format(demo)):
            # of what is drawn and what is a row; 150 mm are the most that a drawing is high
            loose = night.evaluate(
                """() => [...document.querySelectorAll("main svg.view, main tr")]
                  .filter((e) => e.getClientRects().length)
                  .filter((e) => getComputedStyle(e).breakInside !== "avoid"
                    || e.matches("svg") && e.getBoundingClientRect().height > 150 / 25.4 * 96 + 1)
                  .map((e) => e.outerHTML.slice(0, 60))"""
            )
            assert loose == [], path


def test_a_telephone_prints_the_same_paper(night, address, demo) -> None:
    lengths = []
    for size in ({"width": 1280, "height": 800}, {"width": 390, "height": 844}):
        night.set_viewport_size(size)
        night.goto(f"{address}/b/{demo}/cuts")
        fitted(night)
        pages = printed(night, "A4").pages
        lengths.append((len(pages), len("".join(p.extract_text() for p in pages).split())))
    # its drawings have larger words, and so are a little higher: a page more at most
    assert abs(lengths[0][0] - lengths[1][0]) <= 1
    assert lengths[0][1] == pytest.approx(lengths[1][1], rel=0.03)


def test_a_name_that_could_end_the_margin_s_text_does_not(quiet, address, app) -> None:
    plan = demo_plan(FILES[1]).model_copy(update={"name": 'Ann "} body{display:none} <b>'})
    build = make_build(app, plan, "mm")
    quiet.goto(f"{address}/b/{build}/cuts")
    fitted(quiet)
    text = printed(quiet, "A4").pages[0].extract_text()
    assert 'Ann "} body{display:none} <b>' in text.replace("\n", " ") and "What to cut" in text
