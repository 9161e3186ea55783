"""A quote, a change order or a bill on paper, as PDF."""

from __future__ import annotations

import io
from decimal import Decimal
from html import escape
from typing import Any

from stirrup.core.quoting import Paper
from stirrup.exchange.amounts import written

TITLES = {"quote": "Quote", "change order": "Change order", "bill": "Bill"}
MARGIN_MM, WIDTHS_MM = 20.0, (92.0, 18.0, 30.0, 30.0)


def _money(amount: Decimal, paper: Paper) -> str:
    """An amount as the paper has it written, in letters that its font has."""
    text = written(amount, paper.currency, paper.amounts)
    return text.replace("\u202f", "\u00a0").replace("\u2019", "'")


def paper_pdf(paper: Paper, number: str, shop: str, gain: str) -> bytes:
    """The paper on A4, as many sheets as it takes. gain: what the boat gains in mass, in shop units; empty
    where that is not told."""
    # loaded when first needed
    from reportlab.lib.pagesizes import A4
    from reportlab.lib.units import mm
    from reportlab.platypus import SimpleDocTemplate, Spacer, Table, TableStyle

    out = io.BytesIO()
    doc: Any = SimpleDocTemplate(
        out, pagesize=A4, leftMargin=MARGIN_MM * mm, rightMargin=MARGIN_MM * mm, topMargin=18 * mm,
        bottomMargin=20 * mm, title=f"{TITLES[paper.kind]} {number}", author=shop, invariant=1,
    )  # fmt: skip
    text = _texts()
    parts: list[Any] = [text("head", shop), Spacer(1, 4 * mm)]
    parts += [text("title", f"{TITLES[paper.kind]} {number}"), Spacer(1, 2 * mm)]
    parts += [text("plain", line) for line in _facts(paper, gain)]
    parts.append(Spacer(1, 5 * mm))
    style = [
        ("VALIGN", (0, 0), (-1, -1), "TOP"), ("LINEBELOW", (0, 0), (-1, 0), 0.8, "#222222"),
        ("LINEBELOW", (0, 1), (-1, -2), 0.25, "#bbbbbb"), ("RIGHTPADDING", (0, 0), (-1, -1), 2),
        ("LEFTPADDING", (0, 0), (0, -1), 0), ("TOPPADDING", (0, 0), (-1, -1), 2.5),
        ("LINEABOVE", (0, -1), (-1, -1), 0.8, "#222222"),
    ]  # fmt: skip
    rows = [[text(s, w) for s, w in zip(("plain", "right", "right", "right"), row, strict=True)]
            for row in _rows(paper)]  # fmt: skip
    table: Any = Table(rows, colWidths=[w * mm for w in WIDTHS_MM], repeatRows=1, style=TableStyle(style))
    parts += [table, Spacer(1, 5 * mm)]
    if paper.stages:
        parts.append(text("bold", "To be paid"))
        staged = [[text("plain", s.title), text("right", f"{s.percent.normalize():f} %"),
                   text("right", _money(s.amount, paper))] for s in paper.stages]  # fmt: skip
        parts.append(Table(staged, colWidths=[110 * mm, 30 * mm, 30 * mm]))
    parts += [Spacer(1, 4 * mm), text("small", _foot(paper))]
    doc.build(parts)
    return out.getvalue()


def _texts() -> Any:
    """A function that makes a paragraph in one of a few styles, whatever signs the words hold."""
    from reportlab.lib.enums import TA_RIGHT
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import Paragraph

    base = {"fontName": "Vera", "fontSize": 9.5, "leading": 13}
    styles = {
        "plain": ParagraphStyle("plain", **base),
        "bold": ParagraphStyle("bold", **{**base, "fontName": "VeraBd"}),
        "right": ParagraphStyle("right", **base, alignment=TA_RIGHT),
        "head": ParagraphStyle("head", **{**base, "fontName": "VeraBd", "fontSize": 11}),
        "title": ParagraphStyle("title", **{**base, "fontName": "VeraBd", "fontSize": 17, "leading": 22}),
        "small": ParagraphStyle("small", **{**base, "fontSize": 8, "leading": 11, "textColor": "#555555"}),
    }
    _fonts()

    def text(style: str, words: str) -> Any:
        return Paragraph(escape(words).replace("\n", "<br/>"), styles[style])

    return text


def _fonts() -> None:
    """The fonts that come with the library: they know more letters than those every reader has."""
    from reportlab.pdfbase.pdfmetrics import getRegisteredFontNames, registerFont
    from reportlab.pdfbase.ttfonts import TTFont

    for name in ("Vera", "VeraBd"):
        if name not in getRegisteredFontNames():
            registerFont(TTFont(name, f"{name}.ttf"))


def _facts(paper: Paper, gain: str) -> list[str]:
    """Who, when, for what, in lines."""
    out = [f"For {paper.customer}" if paper.customer else "", *paper.address, paper.about]
    out.append(f"Date: {paper.day}")
    if paper.until:
        out.append(f"Holds until {paper.until}")
    if paper.of:
        out.append(f"Belongs to {paper.of}")
    if gain and paper.kind != "bill":
        word = "The boat changes by" if paper.kind == "change order" else "The boat gains"
        out.append(f"{word} {gain}")
    return [line for line in out if line]


def _rows(paper: Paper) -> list[tuple[str, str, str, str]]:
    """The table: lines, overhead, sums and taxes."""
    work = any(line.work or line.hours for line in paper.lines)
    rows = [("What", "Hours" if work else "", "Goods" if work else "", "Before tax")]
    for line in paper.lines:
        hours = f"{line.hours:.1f}" if line.hours else ""
        goods = _money(line.goods, paper) if work else ""
        rows.append((line.title, hours, goods, _money(line.net, paper)))
    if paper.overhead:
        percent = f"{paper.overhead_percent.normalize():f} %" if paper.kind == "quote" else ""
        rows.append((f"Overhead {percent}".strip(), "", "", _money(paper.overhead, paper)))
    hours = f"{paper.hours:.1f}" if work else ""
    rows.append(("Before tax", hours, "", _money(paper.net, paper)))
    for tax in paper.taxes:
        words = f"Tax on {tax.on}, {tax.percent.normalize():f} % of {_money(tax.of, paper)}"
        rows.append((words, "", "", _money(tax.amount, paper)))
    rows.append(("Total", "", "", _money(paper.total, paper)))
    return rows


def _foot(paper: Paper) -> str:
    """How it is rounded, and what it rests on."""
    words = "Each line is rounded to cents, half up; tax is taken on the sums shown. "
    if paper.kind != "bill":
        words += (
            f"It rests on revision {paper.revision} of the plan; what changes after that is a change order."
        )
    return words
