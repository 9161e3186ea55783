"""A panel at true size on paper: tiles to be taped together, cut out and drawn round."""

from __future__ import annotations

import io
import math
from collections.abc import Sequence
from typing import Any, Literal

from shapely import affinity, box
from shapely.geometry import MultiLineString, Polygon

from stirrup.core.cutting.marking_out import MarkedOut
from stirrup.core.document import Point2
from stirrup.core.errors import CoreError
from stirrup.core.parts.model import Panel, Ring
from stirrup.core.record import dataclass

Paper = Literal["a4", "letter", "roll-610", "roll-914"]
# width and height [mm] as it is loaded; of a roll the width, cut off where the panel ends
PAPERS: dict[Paper, tuple[float, float]] = {
    "a4": (210.0, 297.0), "letter": (215.9, 279.4), "roll-610": (610.0, 0.0), "roll-914": (914.4, 0.0),
}  # fmt: skip
MARGIN, FOOT, OVERLAP = 10.0, 16.0, 12.0  # mm that printers leave white; for words; under the next tile
BAR = 100.0
MOST_TILES = 240
CROSS, HAIR, FULL, DASH = 4.0, 0.15, 0.4, (4.0, 2.0)
ROW_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ"


@dataclass(frozen=True)
class Tile:
    """One sheet of paper: its name, column and row from the left below, where what it shows begins [mm]."""

    name: str
    column: int
    row: int
    corner: tuple[float, float]


@dataclass(frozen=True)
class Tiling:
    """How a panel goes on paper: page and what it shows of the panel [mm], tiles that show something,
    columns and rows in all, whether the panel lies turned by a quarter."""

    page: tuple[float, float]
    shows: tuple[float, float]
    tiles: tuple[Tile, ...]
    columns: int
    rows: int
    turned: bool


def tiling(shape: Polygon, paper: Paper) -> Tiling:
    """The fewest sheets for a shape at true size [mm], with its least x and y at 0: portrait or landscape,
    as it is or turned. Raises CoreError where these are too many."""
    found = [t for turned in (False, True) for page in _pages(shape, paper, turned)
             if (t := _tiled(shape, page, turned)) is not None]  # fmt: skip
    if not found:
        raise CoreError(
            f"a template of this panel takes more than {MOST_TILES} sheets; take a roll", "paper"
        )
    return min(found, key=lambda t: (len(t.tiles), t.page[0] * t.page[1], t.turned))


def _pages(shape: Polygon, paper: Paper, turned: bool) -> list[tuple[float, float]]:
    wide, high = PAPERS[paper]
    if high:
        return [(wide, high), (high, wide)]
    along = (shape.bounds[3] if turned else shape.bounds[2]) + 2 * MARGIN
    # across the roll lies the smaller side of the panel or as much of it as fits
    return [(max(along, BAR + 2 * MARGIN), wide)]


def _tiled(shape: Polygon, page: tuple[float, float], turned: bool) -> Tiling | None:
    lying = _lying(shape, turned)
    shows = (page[0] - 2 * MARGIN, page[1] - 2 * MARGIN - FOOT)
    step = (shows[0] - OVERLAP, shows[1] - OVERLAP)
    _, _, long, high = lying.bounds
    columns, rows = (
        max(1, math.ceil((size - OVERLAP - 1e-6) / s)) for size, s in zip((long, high), step, strict=True)
    )
    if columns * rows > MOST_TILES:
        return None
    lines, tiles = _lines(lying), []
    for row in range(rows):
        for column in range(columns):
            x, y = column * step[0], row * step[1]
            if lines.intersects(box(x, y, x + shows[0], y + shows[1])):
                tiles.append(Tile(f"{_letter(row)}{column + 1}", column, row, (x, y)))
    return Tiling(page, shows, tuple(tiles), columns, rows, turned)


def _letter(row: int) -> str:
    """A to Z without I and O, and then A1, B1, …"""
    lap, place = divmod(row, len(ROW_LETTERS))
    return f"{ROW_LETTERS[place]}{lap}-" if lap else ROW_LETTERS[place]


def _lying(shape: Polygon, turned: bool) -> Polygon:
    """With its least x and y at 0, turned by a quarter if asked."""
    lying = affinity.rotate(shape, 90, origin=(0, 0)) if turned else shape
    x0, y0, _, _ = lying.bounds
    return affinity.translate(lying, -x0, -y0)


def _lines(shape: Polygon) -> MultiLineString:
    return MultiLineString([list(r.coords) for r in (shape.exterior, *shape.interiors)])


@dataclass(frozen=True)
class Drawn:
    """What a template shows: outline [m], its mark and name, numbered points and lines on it [m], and what
    to do with it."""

    shape: Polygon
    label: str
    name: str
    marks: tuple[Point2, ...] = ()
    lines: tuple[tuple[Point2, Point2], ...] = ()
    use: str = "Cut on the line; draw round it on the sheet with the face up that you read."


SCRIBED = "Cut on the outer line, offer it up, scribe it; the broken line is where it should end."


def template_pdf(
    panel: Panel, out: MarkedOut, title: str, paper: Paper, outline: Ring | None = None
) -> bytes:
    """The template of a panel; outline: what it is cut to, where something is left standing outside of its
    own. Raises CoreError where it takes too many sheets."""
    u0, v0, _, _ = panel.polygon.bounds
    if outline is None or outline == panel.outline:
        shape = affinity.translate(panel.polygon, -u0, -v0)
        return drawn_pdf(Drawn(shape, panel.label, panel.name, out.corners, out.bends), title, paper)
    larger = Polygon(outline, panel.holes)
    x0, y0, _, _ = larger.bounds
    # corners are told from the corner of the panel's own box
    corners = tuple((u + u0 - x0, v + v0 - y0) for u, v in out.corners)
    own = [(u - x0, v - y0) for u, v in panel.outline]
    ends = tuple(zip(own, [*own[1:], own[0]], strict=True))
    shape = affinity.translate(larger, -x0, -y0)
    return drawn_pdf(Drawn(shape, panel.label, panel.name, corners, ends, SCRIBED), title, paper)


def drawn_pdf(drawn: Drawn, title: str, paper: Paper) -> bytes:
    """The template: a first sheet with a map of the tiles, then every tile that shows a line.

    The printer is asked not to scale it; a bar of 100 mm on each sheet tells whether it has.
    """
    # loaded when first needed
    from reportlab.lib.units import mm
    from reportlab.pdfgen.canvas import Canvas

    shape = affinity.scale(drawn.shape, 1000, 1000, origin=(0, 0))
    tiles = tiling(shape, paper)
    lying = _lying(shape, tiles.turned)
    high = shape.bounds[3]
    marks = [(c[0] * 1000, c[1] * 1000) for c in drawn.marks]
    bends = [tuple((p[0] * 1000, p[1] * 1000) for p in bend) for bend in drawn.lines]
    if tiles.turned:  # as `_lying` turns: x to y, and y to what is left of the height
        marks = [(high - y, x) for x, y in marks]
        bends = [tuple((high - y, x) for x, y in bend) for bend in bends]
    file = io.BytesIO()
    pdf: Any = Canvas(file, pagesize=(tiles.page[0] * mm, tiles.page[1] * mm), invariant=1)
    pdf.setTitle(f"{title}, {drawn.label}, template")
    pdf.setViewerPreference("PrintScaling", "None")
    if len(tiles.tiles) > 1:
        _map_page(pdf, mm, tiles, lying, title, drawn)
    for tile in tiles.tiles:
        pdf.scale(mm, mm)
        _tile(pdf, tiles, tile, lying, marks, bends)
        _foot(pdf, tiles, f"{title} · {drawn.label} {drawn.name} · tile {tile.name} of {len(tiles.tiles)}")
        pdf.showPage()
    pdf.save()
    return file.getvalue()


def _tile(
    pdf: Any, tiles: Tiling, tile: Tile, lying: Polygon, marks: Sequence[tuple[float, float]],
    bends: Sequence[Sequence[tuple[float, float]]],
) -> None:  # fmt: skip
    """What one sheet shows, with crosses where it lies on its neighbours."""
    pdf.saveState()
    clip = pdf.beginPath()
    clip.rect(MARGIN, MARGIN + FOOT, *tiles.shows)
    pdf.clipPath(clip, stroke=0, fill=0)
    pdf.translate(MARGIN - tile.corner[0], MARGIN + FOOT - tile.corner[1])
    pdf.setLineWidth(FULL)
    for ring in (lying.exterior, *lying.interiors):
        _path(pdf, list(ring.coords))
    pdf.setLineWidth(HAIR)
    pdf.setDash(*DASH)
    for bend in bends:
        _path(pdf, bend)
    pdf.setDash()
    pdf.setFont("Helvetica-Bold", 6)
    for number, (x, y) in enumerate(marks, start=1):
        pdf.circle(x, y, 1.5)
        pdf.drawString(x + 2.5, y + 2.5, str(number))
    pdf.restoreState()
    pdf.setLineWidth(HAIR)
    for dx in (0.0, OVERLAP, tiles.shows[0] - OVERLAP, tiles.shows[0]):
        for dy in (0.0, OVERLAP, tiles.shows[1] - OVERLAP, tiles.shows[1]):
            _cross(pdf, MARGIN + dx, MARGIN + FOOT + dy)


def _path(pdf: Any, points: Sequence[Sequence[float]]) -> None:
    path = pdf.beginPath()
    path.moveTo(*points[0][:2])
    for point in points[1:]:
        path.lineTo(*point[:2])
    pdf.drawPath(path)


def _cross(pdf: Any, x: float, y: float) -> None:
    pdf.line(x - CROSS / 2, y, x + CROSS / 2, y)
    pdf.line(x, y - CROSS / 2, x, y + CROSS / 2)


def _foot(pdf: Any, tiles: Tiling, words: str) -> None:
    """The bar to hold a rule to, and what this sheet is."""
    y = MARGIN + FOOT / 2
    pdf.setLineWidth(HAIR)
    pdf.line(MARGIN, y, MARGIN + BAR, y)
    for x in (MARGIN, MARGIN + BAR):
        pdf.line(x, y - 2, x, y + 2)
    pdf.setFont("Helvetica", 3.2)
    pdf.drawString(MARGIN, MARGIN, _fitting(pdf, f"{words}", tiles.page[0] - 2 * MARGIN, 3.2))
    pdf.drawString(
        MARGIN + BAR + 3, y - 1, "100 mm: hold a rule to it" if tiles.page[0] > 170 else "100 mm"
    )


def _fitting(pdf: Any, words: str, room: float, size: float) -> str:
    """As much of the words as there is room for."""
    while words and pdf.stringWidth(words, "Helvetica", size) > room:
        words = words[:-2]
    return words


def _map_page(pdf: Any, mm: float, tiles: Tiling, lying: Polygon, title: str, drawn: Drawn) -> None:
    """Which tile goes where."""
    pdf.scale(mm, mm)
    wide, high = tiles.page
    room = wide - 2 * MARGIN
    pdf.setFont("Helvetica-Bold", 6)
    name = _fitting(pdf, f"{drawn.label} {drawn.name}", room / 1.1, 6)
    pdf.drawString(MARGIN, high - MARGIN - 6, name)
    pdf.setFont("Helvetica", 4)
    lines = (
        title,
        f"{len(tiles.tiles)} tiles. Print at actual size, 100 %; hold a rule to the bar on each.",
        f"Lay each {OVERLAP:g} mm over the one before it, crosses on crosses, and tape them.",
        drawn.use,
    )
    for k, line in enumerate(lines):
        pdf.drawString(MARGIN, high - MARGIN - 14 - 6 * k, _fitting(pdf, line, room, 4))
    step = (tiles.shows[0] - OVERLAP, tiles.shows[1] - OVERLAP)
    full = (tiles.columns * step[0] + OVERLAP, tiles.rows * step[1] + OVERLAP)
    scale = min(room / full[0], (high - 2 * MARGIN - FOOT - 42) / full[1])
    pdf.saveState()
    pdf.translate(MARGIN, MARGIN + FOOT)
    pdf.setLineWidth(HAIR)
    pdf.setFont("Helvetica", min(6.0, 0.3 * step[1] * scale))
    for tile in tiles.tiles:
        x, y = tile.corner[0] * scale, tile.corner[1] * scale
        pdf.rect(x, y, tiles.shows[0] * scale, tiles.shows[1] * scale)
        pdf.drawString(x + 2, y + 2, tile.name)
    pdf.setLineWidth(FULL)
    for ring in (lying.exterior, *lying.interiors):
        _path(pdf, [(x * scale, y * scale) for x, y in ring.coords])
    pdf.restoreState()
    _foot(pdf, tiles, f"{title} · {drawn.label} {drawn.name} · map of {len(tiles.tiles)} tiles")
    pdf.showPage()
