"""Labels to tape on parts as they are cut: what it is, of what, and a code that opens its page."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from stirrup.core.record import dataclass

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
        pdf.scale(mm, mm)
        _code(pdf, QrCodeWidget(label.address, barLevel="M").qr)
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


def _code(pdf: Any, code: Any) -> None:
    """The code on the right of a label, its dark runs as bars; a margin of four modules stays white."""
    code.make()
    count = code.getModuleCount()
    module = CODE / (count + 8)
    left, top = WIDE - CODE - 1 + 4 * module, (HIGH + CODE) / 2 - 4 * module
    for row in range(count):
        start = None
        for column in range(count + 1):
            dark = column < count and code.isDark(row, column)
            if dark and start is None:
                start = column
            elif not dark and start is not None:
                bar = (left + start * module, top - (row + 1) * module, (column - start) * module, module)
                pdf.rect(*bar, stroke=0, fill=1)
                start = None


def _size(pdf: Any, words: str, room: float, most: float) -> float:
    """The largest type in which the words go in."""
    wide = float(pdf.stringWidth(words, "Helvetica-Bold", most))
    return most if wide <= room else most * room / wide


def _cut(pdf: Any, words: str, room: float, size: float) -> str:
    while words and pdf.stringWidth(words, "Helvetica", size) > room:
        words = words[:-1]
    return words
