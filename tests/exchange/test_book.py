"""Pages that are set as PDF: true to size, the same each time, and nothing is fetched for them."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
from PIL import Image
from pypdf import PdfReader

from stirrup.exchange.book import FAMILIES, FONTS, book_pdf

PT_PER_MM = 72 / 25.4


def text_of(pdf: bytes) -> str:
    return "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(pdf)).pages)


def test_our_fonts_are_there() -> None:
    assert all((FONTS / file).is_file() for _, file, _ in FAMILIES)


def test_the_same_page_gives_the_same_bytes_in_our_fonts() -> None:
    page = "<body style='font-family: Atkinson'>Slam latch, 50 mm: ½ of it</body>"
    pdf = book_pdf(page)
    assert pdf == book_pdf(page) and "Slam latch" in text_of(pdf)
    (sheet,) = PdfReader(io.BytesIO(pdf)).pages
    fonts = [str(f.get_object()["/BaseFont"]) for f in sheet["/Resources"]["/Font"].values()]
    assert any("Atkinson" in name for name in fonts)


def test_a_millimetre_is_a_millimetre() -> None:
    page = "<style>@page { size: 100mm 50mm; margin: 0 }</style><p>x</p>"
    (sheet,) = PdfReader(io.BytesIO(book_pdf(page))).pages
    assert float(sheet.mediabox.width) == pytest.approx(100 * PT_PER_MM, abs=0.01)
    assert float(sheet.mediabox.height) == pytest.approx(50 * PT_PER_MM, abs=0.01)


@pytest.mark.parametrize(
    "what",
    [
        '<img src="file:///etc/passwd">',
        '<link rel="stylesheet" href="http://127.0.0.1:1/x.css">',
        '<object data="file:///etc/hostname"></object>',
        f'<img src="{FONTS.as_uri()}/../../css/look.css">',
        "<style>@import url(file:///etc/passwd); p { background: url(ftp://127.0.0.1/x) }</style>",
        '<a rel="attachment" href="file:///etc/passwd">file</a>',
        "<script>document.body.innerHTML = 'scripted'</script>",
        "<svg><image href='file:///etc/passwd' width='9' height='9'/></svg>",
    ],
)
def test_nothing_is_fetched_and_nothing_is_run(what: str) -> None:
    pdf = book_pdf(f"<body><p>plain</p>{what}</body>")
    found = PdfReader(io.BytesIO(pdf))
    text = text_of(pdf)
    assert "plain" in text and "root:" not in text and "scripted" not in text
    assert not found.attachments and b"root:" not in pdf
    assert not [i for page in found.pages for i in page.images]


def test_a_picture_that_lies_on_the_machine_stays_there(tmp_path: Path) -> None:
    picture = tmp_path / "x.png"
    Image.new("RGB", (40, 40), "red").save(picture)
    pdf = book_pdf(f'<p>plain</p><img src="{picture.as_uri()}">')
    assert not [i for page in PdfReader(io.BytesIO(pdf)).pages for i in page.images]
