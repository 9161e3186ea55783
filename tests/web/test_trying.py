"""A panel tried in the boat, through HTTP: gaps typed, refused with what was typed kept, and forgotten."""

import html
import io

import ezdxf
import pytest

from tests.boats import plan
from tests.core.test_bulkhead import BULKHEAD
from tests.web.conftest import make_build

KEY = "bulkhead/b"


@pytest.fixture
def build(app) -> int:
    return make_build(
        app, plan(fittings=[{**BULKHEAD, "name": "My <bulkhead>", "limber": 0.0}]), units="mm"
    )


def page_of(site, build: int) -> str:
    return html.unescape(site.client.get(f"/b/{build}/cuts/panel?part={KEY}").text)


def try_in(site, build: int, **typed: str):
    return site.form(
        f"/b/{build}/cuts/tried", {"part": KEY, **{k.replace("_", "-"): v for k, v in typed.items()}}
    )


def test_gaps_are_taken_over_on_top_of_one_another_and_forgotten(site, build) -> None:
    """1 985 mm long: marks at quarters. Upper edge 4 mm at the last, then 2 mm more: 6; then as planned."""
    assert page_of(site, build).count('name="high-') == 5
    assert try_in(site, build, high_4="4").status_code == 303
    assert try_in(site, build, high_4="2 mm", low_0="-1").status_code == 303
    (known,) = site.client.get(f"/b/{build}/file").json()["fitted"]
    assert known["marks"][4]["high"] == pytest.approx(0.006)
    assert known["marks"][0]["low"] == pytest.approx(-0.001)
    page = page_of(site, build)
    assert "taken over already" in page and "As it was planned" in page
    layout = html.unescape(site.client.get(f"/b/{build}/layout").text)
    assert "The boat is not there as she was measured" in layout
    # in its file the corner of its upper edge, at 800 mm over the keel line, lies 6 mm higher
    file = ezdxf.read(io.StringIO(site.client.get(f"/b/{build}/panel.dxf?part={KEY}").text))
    highest = max(p[1] for e in file.modelspace().query("LWPOLYLINE") for p in e.get_points())
    lowest = min(p[1] for e in file.modelspace().query("LWPOLYLINE") for p in e.get_points())
    assert highest - lowest == pytest.approx(792 + 6, abs=0.5)
    assert try_in(site, build, forget="1").status_code == 303
    assert site.client.get(f"/b/{build}/file").json()["fitted"] == []


@pytest.mark.parametrize(
    ("typed", "words"),
    [({"low_1": "a lot"}, "mark 2, lower edge: read “a lot”"), ({"high_0": "90"}, "up to 80 mm either way"),
     ({}, "type a gap at one mark at least")],
)  # fmt: skip
def test_what_cannot_be_is_told_with_what_was_typed(site, build, typed, words) -> None:
    answer = try_in(site, build, high_2="4", **typed) if typed else try_in(site, build)
    page = html.unescape(answer.text)
    assert answer.status_code == 422 and words in page
    for value in (*typed.values(), *(["4"] if typed else [])):
        assert f'value="{value}"' in page
    assert site.client.get(f"/b/{build}/file").json()["fitted"] == []


def test_a_panel_that_is_not_there(site, build) -> None:
    assert site.form(f"/b/{build}/cuts/tried", {"part": "no/such", "low-0": "2"}).status_code == 404


def test_two_who_tried_the_same_panel_are_told_and_lose_nothing(site, build) -> None:
    """Both pages were opened on the first revision; the second to send is shown his gap again."""
    assert try_in(site, build, base="1", high_4="4").status_code == 303
    late = try_in(site, build, base="1", high_4="2", low_0="1")
    page = html.unescape(late.text)
    assert late.status_code == 422 and "What you typed is still here" in page
    assert 'name="base"' in page and 'value="2"' in page and "taken over already" in page
    assert try_in(site, build, base="2", high_4="2", low_0="1").status_code == 303
    (known,) = site.client.get(f"/b/{build}/file").json()["fitted"]
    assert known["marks"][4]["high"] == pytest.approx(0.006)
