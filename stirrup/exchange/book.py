"""Pages of HTML as PDF: what a customer is handed, what goes to the saw."""

from __future__ import annotations

from pathlib import Path
from typing import Any
from urllib.parse import unquote, urlparse

FONTS = Path(__file__).parent.parent / "web" / "static" / "vendor" / "fonts"
FAMILIES = (
    ("Atkinson", "atkinson-hyperlegible-latin-400-normal.woff2", 400),
    ("Atkinson", "atkinson-hyperlegible-latin-700-normal.woff2", 700),
    ("Narrow", "barlow-condensed-latin-500-normal.woff2", 500),
    ("Narrow", "barlow-condensed-latin-600-normal.woff2", 600),
)


def _faces() -> str:
    return "".join(
        f"@font-face {{ font-family: {family}; font-weight: {weight}; "
        f'src: url("{(FONTS / file).as_uri()}") }}\n'
        for family, file, weight in FAMILIES
    )


def _is_font(address: str) -> bool:
    """Whether this is one of our fonts: nothing else is fetched, from nowhere."""
    parts = urlparse(address)
    path = Path(unquote(parts.path))
    return parts.scheme == "file" and not parts.netloc and path.parent == FONTS and path.suffix == ".woff2"


def book_pdf(html: str) -> bytes:
    """A page of HTML with its own styles as PDF. The same page gives the same bytes.

    Scripts are not run, and nothing is fetched but the fonts that come with the application: whatever else
    a page names is left out.
    """
    # loaded when first needed: it takes most of a second
    from weasyprint import CSS, HTML
    from weasyprint.text.fonts import FontConfiguration
    from weasyprint.urls import URLFetcher, URLFetcherResponse

    class OnlyFonts(URLFetcher):  # type: ignore[misc]
        def fetch(self, url: str, headers: Any = None) -> URLFetcherResponse:
            if not _is_font(url):
                raise ValueError(f"a page to be printed fetches nothing: {url[:80]}")
            return super().fetch(url, headers)

    fonts, fetcher = FontConfiguration(), OnlyFonts(allowed_protocols={"file"})
    faces = CSS(string=_faces(), font_config=fonts, url_fetcher=fetcher)
    page = HTML(string=html, url_fetcher=fetcher)
    return bytes(page.write_pdf(stylesheets=[faces], font_config=fonts, pdf_identifier=b"stirrup") or b"")
