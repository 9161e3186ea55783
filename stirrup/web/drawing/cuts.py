"""Sheets with their panels, sticks with their members."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from html import escape
from types import MappingProxyType

from shapely.geometry import Point, Polygon
from shapely.ops import polylabel

from stirrup.core.cutting.sheets import SheetLayout, line_placed, placed
from stirrup.core.cutting.sticks import StickLayout
from stirrup.core.parts.entries import Sheet
from stirrup.core.parts.folding import Bend
from stirrup.core.units import Units
from stirrup.web.drawing.canvas import Canvas, svg_length, type_of
from stirrup.web.drawing.labels import width_px

NONE: Mapping[str, Sequence[Bend]] = MappingProxyType({})
WIDTH, MOST_HIGH = 860.0, 560.0
CLEAR_M = 0.04  # from the middle of a mark to a hole
ALONG = (0.0, -0.5, 0.5, -0.75, 0.75, -0.25, 0.25)  # of half a part's length from its middle
APART_EM = 0.2


def sheet_svg(
    layout: SheetLayout, stock: Sheet, number: int, units: Units, wide: float = 0.0,
    done: Collection[str] = (), bends: Mapping[str, Sequence[Bend]] = NONE,
) -> str:  # fmt: skip
    """One sheet with its panels as they lie, grain along the length. wide: on the page [px]; done: ids of
    what is cut already; bends: of folded panels, by their keys."""
    width, size = WIDTH, type_of(WIDTH, wide)
    job, (long, high) = layout.job, layout.size(number)
    # a leftover is drawn at the scale of a sheet; of a roll what is cut off, not all that there is of it
    across = max(w for w, _ in job.sizes)
    if job.roll:
        across = max(layout.size(k)[0] for k in range(len(layout.sheets)))
    scale = min((width - 8 - 2 * size) / across, MOST_HIGH / max(h for _, h in job.sizes))
    height = high * scale + 6 + 2.2 * size
    canvas = Canvas(width, height, (8.0, high * scale + 6), scale, "sheet",
                    f"Sheet {number + 1} of {len(layout.sheets)}", wide_px=wide)  # fmt: skip
    hatch = stock.stuff.kind
    stock_there = layout.stock(number)
    canvas.parts.append(
        f'<path class="sheet-edge" fill-rule="evenodd" d="{_outline(canvas, stock_there)}"/>'
    )
    x, y = canvas.at(long, high / 2)
    half = width_px(svg_length(high, units), size) / 2  # of the upright dimension, beside the sheet
    canvas.taken.append((x + 0.1 * size, y - half, x + 1.6 * size, y + half))
    blanks, stays = {b.id: b for b in job.blanks}, {p.part for p in job.stays}
    for placement in layout.sheets[number]:
        shape = placed(blanks[placement.blank], placement)
        d = _outline(canvas, shape)
        label = blanks[placement.blank].label
        cut = placement.blank in done
        kept = placement.blank in stays
        told = f"{label}, kept in its place" if kept else label
        lies = f"{placement.rotation} {placement.x!r} {placement.y!r} {int(placement.flipped)}"
        canvas.parts.append(
            f'<path class="panel hatch-{hatch}{" cut" if cut else ""}{" kept" if kept else ""}" '
            f'fill-rule="evenodd" d="{d}" data-part="{escape(placement.blank)}" data-lies="{lies}" '
            f'data-step="{1 / scale!r}"><title>{escape(told)}</title></path>'
        )
        for bend in bends.get(placement.blank, ()):
            canvas.line(*line_placed((bend.start, bend.end), placement), "bend-line")
        _labelled(canvas, shape, f"{label}, cut" if cut else label, "label" if cut else "label strong")
    base = -1.2 * size / scale
    canvas.dimension(0, long, base, units)
    canvas.parts.append(
        f'<text class="dim-text" text-anchor="middle" transform="translate({x + 0.8 * size:.1f} {y:.1f}) '
        f'rotate(90)">{svg_length(high, units)}</text>'
    )
    return canvas.svg()


def _outline(canvas: Canvas, shape: Polygon) -> str:
    """A part with its holes, as a path."""
    return "".join(
        "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in (canvas.at(*p) for p in r.coords[:-1])) + "Z"
        for r in (shape.exterior, *shape.interiors)
    )


def _label_spot(shape: Polygon) -> tuple[float, float]:
    """In the middle of a part, or where most of it lies round the mark, if a hole is there."""
    spot = shape.centroid
    if not shape.contains(spot) or any(hole.distance(spot) < CLEAR_M for hole in shape.interiors):
        spot = polylabel(shape, CLEAR_M / 4)
    return (spot.x, spot.y)


def _labelled(canvas: Canvas, shape: Polygon, words: str, css: str) -> None:
    """A part's mark in its middle, else further along it: marks of narrow strips beside one another take
    turns. Beside it where it has no room for its own."""
    x, y = _label_spot(shape)
    x0, y0, x1, y1 = shape.bounds
    along = x1 - x0 >= y1 - y0
    reach = (x1 - x0) / 2 if along else (y1 - y0) / 2
    for share in ALONG:
        spot = (x + share * reach, y) if along else (x, y + share * reach)
        if share and not shape.contains(Point(*spot)):
            continue
        if canvas.words(*canvas.at(*spot), escape(words), f"{css} halo", "middle", ((0.0, 0.3),)):
            # glyphs stand out of the box that is kept for them
            left, top, right, low = canvas.taken[-1]
            canvas.taken[-1] = (left, top - APART_EM * canvas.type, right, low + APART_EM * canvas.type)
            return
    canvas.label((x, y), words, css)


def stick_svg(
    layout: StickLayout, labels: dict[str, str], wide: float = 0.0, done: Collection[str] = ()
) -> str:
    """All bars of one stock, pieces in the order they are cut. wide: on the page [px]; done: keys of what
    is cut already."""
    width, size = WIDTH, type_of(WIDTH, wide)
    job = layout.job
    scale = (width - 20) / max(job.length, *(r.length for r in job.rests), 0.0)
    high = 1.5 * size
    row = high + 12
    canvas = Canvas(width, row * len(layout.bars) + 6, (8.0, 0.0), scale, "sticks",
                    f"{len(layout.bars)} sticks", wide_px=wide)  # fmt: skip
    lengths = {p.id: p.length for p in job.pieces}
    for k, bar in enumerate(layout.bars):
        y = 6 + k * row
        canvas.parts.append(
            f'<rect class="sheet-edge" x="8" y="{y:.1f}" width="{layout.length(k) * scale:.1f}" '
            f'height="{high:.1f}"/>'
        )
        x = job.trim
        for piece in bar:
            long = lengths[piece] * scale
            left = 8 + x * scale
            label = labels.get(piece, piece)
            told = f"<title>{escape(label)}: {lengths[piece] * 1000:.0f} mm</title>"
            cut = " cut" if piece in done else ""
            canvas.parts.append(
                f'<rect class="panel hatch-metal{cut}" x="{left:.1f}" y="{y:.1f}" width="{long:.1f}" '
                f'height="{high:.1f}">{told}</rect>'
            )
            if long > width_px(label, size):
                canvas.words(left + long / 2, y + 0.72 * high, escape(label))
            x += lengths[piece] + job.kerf
    return canvas.svg()
