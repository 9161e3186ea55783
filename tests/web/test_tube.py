"""A tube that fits others: its page, its paper, and what is typed wrong."""

import io
import math

import pytest
from pypdf import PdfReader

from tests.exchange.test_template import drawn

TYPED = {"across": "30 mm", "long": "500 mm", "first": "a round tube", "first_across": "30 mm",
         "last": "nothing: square"}  # fmt: skip


def test_it_is_unrolled_with_ordinates_and_a_paper(site, build) -> None:
    page = site.client.get(f"/b/{build}/cuts/tube", params=TYPED).text
    # 30 mm across is 94.2 mm round; the saddle is cut 15 mm into its top and nothing into its sides
    assert "94 mm" in page and "90°" in page and "15" in page
    assert "tube.pdf?" in page
    paper = site.client.get(f"/b/{build}/tube.pdf", params={**TYPED, "paper": "a4"})
    assert paper.status_code == 200 and paper.headers["content-type"] == "application/pdf"
    text = "".join(p.extract_text() for p in PdfReader(io.BytesIO(paper.content)).pages)
    assert "100 mm" in text and "tube end" in text


def test_its_page_without_anything_typed_is_an_example(site, build) -> None:
    assert site.client.get(f"/b/{build}/cuts/tube").status_code == 200
    assert "cuts/tube" in site.client.get(f"/b/{build}/cuts").text


@pytest.mark.parametrize(
    ("name", "value", "said"),
    [
        ("across", "thick", "thick"),
        ("first_across", "20 mm", "met all round"),
        ("first_angle", "5", "15 to 165"),
        ("first_angle", "nan", "accepted: degrees"),
        ("first", "<script>", "accepted: a round tube"),
        ("long", "0", "accepted: up to"),
        ("twist", "1e999", "accepted: degrees"),
        ("first_off", "40 mm", "met all round"),
    ],
)
def test_what_is_typed_wrong_is_named_at_its_field(site, build, name, value, said) -> None:
    page = site.client.get(f"/b/{build}/cuts/tube", params={**TYPED, name: value})
    assert page.status_code == 422 and said in page.text and '<script>"' not in page.text
    assert 'role="alert"' in page.text
    assert site.client.get(f"/b/{build}/tube.pdf", params={**TYPED, name: value}).status_code in (400, 422)


def test_the_paper_is_true_to_a_tenth_of_a_millimetre(site, build) -> None:
    """Both ends square, 500 mm long and 94.25 round: its outline in the file, on a roll."""
    square = {**TYPED, "first": TYPED["last"], "paper": "roll-610"}
    paper = PdfReader(io.BytesIO(site.client.get(f"/b/{build}/tube.pdf", params=square).content))
    outline = max(drawn(paper.pages[-1], 0.4), key=len)
    sides = sorted(max(axis) - min(axis) for axis in zip(*outline, strict=True))
    assert sides == pytest.approx([math.pi * 30, 500.0], abs=0.1)
