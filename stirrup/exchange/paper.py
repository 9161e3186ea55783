"""One sheet of paper at a round scale, laid out in millimetres, and its writers: SVG, PDF, DXF.

DXF is in millimetres of the boat (the drawing times its scale), so that it can be measured.
"""

from __future__ import annotations

import io
from collections.abc import Iterable, Sequence
from dataclasses import field
from html import escape
from typing import Any

from stirrup.core.record import dataclass

PAPER = (420.0, 297.0)  # A3, landscape [mm]
MARGIN = 12.0
SCALES = (5, 10, 15, 20, 25, 50)
ARROW = 1.6
LAYERS = {"HULL": 0.5, "LINES": 0.25, "STATIONS": 0.13, "DIMENSIONS": 0.18, "TEXT": 0.18}  # mm
Pair = tuple[float, float]


@dataclass(frozen=True)
class Stroke:
    """A polyline on paper [mm], y upward."""

    points: tuple[Pair, ...]
    layer: str


@dataclass(frozen=True)
class Words:
    """Text on paper: position of its foot [mm], height [mm], -1 left, 0 middle, 1 right."""

    at: Pair
    text: str
    height: float = 3.0
    align: int = -1


@dataclass
class Drawing:
    """The sheet: what is drawn, and 1 : scale."""

    scale: int
    title: str
    strokes: list[Stroke] = field(default_factory=list)
    words: list[Words] = field(default_factory=list)

    def line(self, points: Iterable[Sequence[float]], layer: str) -> None:
        """A polyline through points on paper [mm]."""
        self.strokes.append(Stroke(tuple((float(p[0]), float(p[1])) for p in points), layer))

    def dimension(self, a: Pair, b: Pair, offset: float, text: str) -> None:
        """A dimension between two points of one level (offset up) or of one upright (to the side)."""
        level = abs(a[1] - b[1]) < 1e-6
        shift = (0.0, offset) if level else (offset, 0.0)
        p, q = (a[0] + shift[0], a[1] + shift[1]), (b[0] + shift[0], b[1] + shift[1])
        self.line([a, p], "DIMENSIONS")
        self.line([b, q], "DIMENSIONS")
        self.line([p, q], "DIMENSIONS")
        for end in (p, q):
            self.line([(end[0] - ARROW / 2, end[1] - ARROW / 2), (end[0] + ARROW / 2, end[1] + ARROW / 2)],
                      "DIMENSIONS")  # fmt: skip
        middle = ((p[0] + q[0]) / 2, (p[1] + q[1]) / 2)
        if level:
            self.words.append(Words((middle[0], middle[1] + 1.0), text, 3.0, 0))
            return
        side = -1 if offset < 0 else 1
        self.words.append(Words((middle[0] + 1.5 * side, middle[1] - 1.0), text, 3.0, -side))


def paper_svg(sheet: Drawing) -> str:
    """The sheet as SVG, sized in millimetres of paper."""
    wide, high = PAPER
    parts = []
    for stroke in sheet.strokes:
        d = "L".join(f"{x:.2f} {high - y:.2f}" for x, y in stroke.points)
        parts.append(f'<path d="M{d}" stroke-width="{LAYERS[stroke.layer]}"/>')
    texts = []
    for word in sheet.words:
        anchor = {-1: "start", 0: "middle", 1: "end"}[word.align]
        texts.append(
            f'<text x="{word.at[0]:.2f}" y="{high - word.at[1]:.2f}" font-size="{word.height}" '
            f'text-anchor="{anchor}">{escape(word.text)}</text>'
        )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:g}mm" height="{high:g}mm" '
        f'viewBox="0 0 {wide:g} {high:g}"><title>{escape(sheet.title)}</title>'
        f'<g fill="none" stroke="black">{"".join(parts)}</g>'
        f'<g font-family="sans-serif">{"".join(texts)}</g></svg>\n'
    )


def paper_pdf(sheet: Drawing) -> bytes:
    """The sheet as a PDF at true size; it asks the printer not to scale it."""
    # loaded when first needed
    from reportlab.lib.units import mm
    from reportlab.pdfgen.canvas import Canvas

    out = io.BytesIO()
    page = Canvas(out, pagesize=(PAPER[0] * mm, PAPER[1] * mm), invariant=1)
    page.setTitle(sheet.title)
    page.setViewerPreference("PrintScaling", "None")
    page.scale(mm, mm)
    for stroke in sheet.strokes:
        page.setLineWidth(LAYERS[stroke.layer])
        path = page.beginPath()
        path.moveTo(*stroke.points[0])
        for point in stroke.points[1:]:
            path.lineTo(*point)
        page.drawPath(path)
    for word in sheet.words:
        page.setFont("Helvetica", word.height)
        draw = {-1: page.drawString, 0: page.drawCentredString, 1: page.drawRightString}[word.align]
        draw(word.at[0], word.at[1], word.text)
    page.save()
    return out.getvalue()


def paper_dxf(sheet: Drawing) -> str:
    """The sheet as DXF in millimetres of the boat: it can be measured as it stands."""
    import ezdxf
    from ezdxf import units as dxf_units
    from ezdxf.enums import TextEntityAlignment

    document: Any = ezdxf.new("R2010", setup=True)  # type: ignore[attr-defined]
    document.units = dxf_units.MM
    document.header["$MEASUREMENT"] = 1
    for number, name in enumerate(LAYERS, start=1):
        document.layers.add(name, color=number)
    space, k = document.modelspace(), sheet.scale
    for stroke in sheet.strokes:
        space.add_lwpolyline([(x * k, y * k) for x, y in stroke.points], dxfattribs={"layer": stroke.layer})
    places = {
        -1: TextEntityAlignment.LEFT, 0: TextEntityAlignment.CENTER, 1: TextEntityAlignment.RIGHT,
    }  # fmt: skip
    for word in sheet.words:
        text = space.add_text(word.text, height=word.height * k, dxfattribs={"layer": "TEXT"})
        text.set_placement((word.at[0] * k, word.at[1] * k), align=places[word.align])
    out = io.StringIO()
    document.write(out)
    return out.getvalue()
