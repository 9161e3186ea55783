"""Labels to tape on parts as they are cut: what it is, of what, and a code that opens its page."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

PAGE = (210.0, 297.0)  # A4 [mm]
WIDE, HIGH, COLUMNS, ROWS = 95.0, 40.0, 2, 6
LEFT, TOP, GUTTER = 8.0, 22.0, 4.0
PAD, CODE = 3.0, 34.0


@dataclass(frozen=True)
class PartLabel:
    """One label: the part's mark, its name, lines under it, the address of its page."""

    mark: str
    name: str
    lines: tuple[str, ...]
    address: str


def labels_pdf(title: str, labels: Sequence[PartLabel]) -> bytes:
    """All labels, twelve to a page, each 95 x 40 mm with a code of 34 mm."""
    # loaded when first needed
    from reportlab.graphics.barcode.qr import QrCodeWidget
    from reportlab.graphics.renderPDF import draw
    from reportlab.graphics.shapes import Drawing
    from reportlab.lib.units import mm
    from reportlab.pdfgen.canvas import Canvas

    file = io.BytesIO()
    pdf: Any = Canvas(file, pagesize=(PAGE[0] * mm, PAGE[1] * mm), invariant=1)
    pdf.setTitle(title)
    for number, label in enumerate(labels):
        place = number % (COLUMNS * ROWS)
        if place == 0 and number:
            pdf.showPage()
        x = LEFT + (place % COLUMNS) * (WIDE + GUTTER)
        y = PAGE[1] - TOP - HIGH - (place // COLUMNS) * (HIGH + GUTTER / 2)
        pdf.saveState()
        pdf.translate(x * mm, y * mm)
        code: Any = QrCodeWidget(label.address, barLevel="M")
        x0, y0, x1, y1 = code.getBounds()
        side = CODE * mm
        shape = Drawing(side, side, transform=[side / (x1 - x0), 0, 0, side / (y1 - y0), 0, 0])
        shape.add(code)
        draw(shape, pdf, (WIDE - CODE - 1) * mm, (HIGH - CODE) / 2 * mm)
        pdf.scale(mm, mm)
        pdf.setLineWidth(0.2)
        pdf.rect(0, 0, WIDE, HIGH)
        room = WIDE - CODE - 2 * PAD
        size = _size(pdf, label.mark, room, 11.0)
        pdf.setFont("Helvetica-Bold", size)
        pdf.drawString(PAD, HIGH - PAD - 9, label.mark)
        pdf.setFont("Helvetica", 3.4)
        for k, line in enumerate((label.name, *label.lines)):
            pdf.drawString(PAD, HIGH - PAD - 15 - 4.6 * k, _cut(pdf, line, room, 3.4))
        pdf.restoreState()
    pdf.save()
    return file.getvalue()


def _size(pdf: Any, words: str, room: float, most: float) -> float:
    """The largest type in which the words go in."""
    wide = float(pdf.stringWidth(words, "Helvetica-Bold", most))
    return most if wide <= room else most * room / wide


def _cut(pdf: Any, words: str, room: float, size: float) -> str:
    while words and pdf.stringWidth(words, "Helvetica", size) > room:
        words = words[:-1]
    return words
