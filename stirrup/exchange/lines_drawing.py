"""Lines drawing on one A3 sheet at a round scale, with dimensions: SVG, PDF, DXF.

The sheet is laid out once in millimetres of paper; the three writers only draw it. DXF is
in millimetres of the boat (the drawing times its scale), so that it can be measured.
"""

from __future__ import annotations

import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from html import escape
from typing import Any

from stirrup.core.hull.mesh import HullSurface
from stirrup.core.hull.model import Hull
from stirrup.core.units import Units, write_length

PAPER = (420.0, 297.0)  # A3, landscape [mm]
MARGIN = 12.0
BESIDE = 26.0  # room left and right of the hull for the heights
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


def _scale_for(length: float, deep: float) -> int:
    """Largest scale at which profile, half-breadths and body plan stand below one another."""
    wide, high = PAPER[0] - 2 * MARGIN - 2 * BESIDE, PAPER[1] - 2 * MARGIN - 80
    for scale in SCALES:
        if length * 1000 / scale <= wide and deep * 1000 / scale <= high:
            return scale
    return SCALES[-1] * 2


def draw_lines(hull: Hull, surface: HullSurface, name: str, units: Units) -> Drawing:
    """Profile, half-breadths and body plan of a hull, as one sheet."""
    low, high = surface.outside.low, surface.outside.high
    length, beam, depth = (float(high[k] - low[k]) for k in range(3))
    scale = _scale_for(length, 2 * depth + beam / 2)
    k = 1000 / scale
    sheet = Drawing(scale, f"{name}: lines 1:{scale}")
    x0 = MARGIN + BESIDE - float(low[0]) * k
    top = PAPER[1] - MARGIN - 14
    base = top - float(high[2]) * k
    _profile(sheet, hull, surface, (x0, base), k, units)
    middle = base + float(low[2]) * k - 24 - float(max(high[1], -low[1])) * k
    _half_breadths(sheet, hull, surface, (x0, middle), k, units)
    foot = middle - 20 - depth * k
    _body(sheet, hull, (PAPER[0] * 0.32, foot), k)
    sheet.words.append(Words((MARGIN, PAPER[1] - MARGIN), sheet.title, 5.0))
    measured = sum(line.known_at(i) == "measured" for line in hull.lines for i in range(len(line.points)))
    count = sum(len(line.points) for line in hull.lines)
    notes = (
        f"dimensions in {units.length}; outside of the skin; print without fitting to the page",
        f"{measured} of {count} readings measured",
        f"beam {write_length(beam, units)}, depth {write_length(depth, units)}",
    )
    for row, note in enumerate(notes):
        sheet.words.append(Words((PAPER[0] * 0.58, foot + 14 - 5 * row), note, 3.0))
    ends = ((PAPER[0] * 0.58, foot + 24), (PAPER[0] * 0.58 + 100, foot + 24))
    on_boat = write_length(0.1 * scale, units)
    sheet.dimension(*ends, 0.0, f"this line is {on_boat} long on the boat, 100 mm on paper")
    return sheet


def _profile(sheet: Drawing, hull: Hull, surface: HullSurface, at: Pair, k: float, units: Units) -> None:
    x0, base = at

    def put(x: float, z: float) -> Pair:
        return (x0 + x * k, base + z * k)

    for j, line in enumerate(surface.lines[0]):
        outer = j in (0, len(surface.lines[0]) - 1)
        sheet.line([put(p[0], p[2]) for p in line], "HULL" if outer else "LINES")
    for end in (0, -1):
        sheet.line([put(line[end][0], line[end][2]) for line in surface.lines[0]], "HULL")
    sheet.line([put(float(surface.outside.low[0]), 0), put(float(surface.outside.high[0]), 0)], "STATIONS")
    for i, foot in enumerate(hull.lines[0].points):
        column = [line.points[i] for line in hull.lines]
        sheet.line([put(p[0], p[2]) for p in column], "STATIONS")
        sheet.words.append(Words(put(column[-1][0], column[-1][2] + 3 / k), str(i + 1), 3.0, 0))
        if i and foot[0] > 0:
            tail = (put(foot[0], 0)[0], base - 6)
            sheet.words.append(Words(tail, write_length(foot[0], units), 2.2, 0))
    low, high = float(surface.outside.low[0]), float(surface.outside.high[0])
    sheet.dimension(put(low, 0), put(high, 0), -12.0, f"{write_length(high - low, units)} over all")
    aft, bow = hull.lines[-1].points[0], hull.lines[-1].points[-1]
    sheet.dimension(put(bow[0], 0), put(bow[0], bow[2]), 5.0, write_length(bow[2], units))
    sheet.dimension(put(aft[0], 0), put(aft[0], aft[2]), -6.0, write_length(aft[2], units))


def _half_breadths(
    sheet: Drawing, hull: Hull, surface: HullSurface, at: Pair, k: float, units: Units
) -> None:
    x0, middle = at

    def put(x: float, y: float) -> Pair:
        return (x0 + x * k, middle + y * k)

    for j, line in enumerate(surface.lines[0]):
        outer = j == len(surface.lines[0]) - 1
        sheet.line([put(p[0], p[1]) for p in line], "HULL" if outer else "LINES")
    for end in (0, -1):
        sheet.line([put(line[end][0], line[end][1]) for line in surface.lines[0]], "HULL")
    sheet.line([put(float(surface.outside.low[0]), 0), put(float(surface.outside.high[0]), 0)], "STATIONS")
    widest = max(hull.lines[-1].points, key=lambda p: abs(p[1]))
    for i in range(len(hull.lines[0].points)):
        sheet.line([put(line.points[i][0], abs(line.points[i][1])) for line in hull.lines], "STATIONS")
    foot, edge = put(widest[0], 0), put(widest[0], abs(widest[1]))
    sheet.dimension(foot, edge, 3.0, write_length(abs(widest[1]), units))
    aft = hull.lines[-1].points[0]
    sheet.dimension(put(aft[0], 0), put(aft[0], abs(aft[1])), -6.0, write_length(abs(aft[1]), units))


def _body(sheet: Drawing, hull: Hull, at: Pair, k: float) -> None:
    """Forward stations to the right, after ones to the left; starboard's own where measured."""
    x0, base = at
    taken: list[Pair] = []
    count = len(hull.lines[0].points)
    for i in range(count):
        sign = 1.0 if i >= count / 2 else -1.0
        column = [line.points[i] for line in hull.lines]
        sheet.line([(x0 + sign * abs(p[1]) * k, base + p[2] * k) for p in column], "LINES")
        x, y = x0 + sign * abs(column[-1][1]) * k, base + column[-1][2] * k + 1.5
        # the number of a close neighbour moves up until it can be read
        while any(abs(x - px) < 3.0 and abs(y - py) < 2.6 for px, py in taken):
            y += 0.5
        taken.append((x, y))
        sheet.words.append(Words((x, y), str(i + 1), 2.2, 0))
    tall = max(p[2] for p in hull.lines[-1].points) * k
    sheet.line([(x0, base), (x0, base + tall)], "STATIONS")


def lines_svg(sheet: Drawing) -> str:
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


def lines_pdf(sheet: Drawing) -> bytes:
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


def lines_dxf(sheet: Drawing) -> str:
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
