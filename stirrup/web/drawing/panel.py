"""A panel as it is marked out on its sheet: outline, numbered corners, cut-outs, bends, dimensions."""

from __future__ import annotations

from html import escape

from stirrup.core.cutting.marking_out import MarkedOut
from stirrup.core.parts.model import Panel, Ring
from stirrup.core.units import Units
from stirrup.web.drawing.canvas import Canvas, svg_length, type_of

WIDTH = 900.0
MOST_HIGH = 620.0
LEFT_EM, BELOW_EM, ABOVE_EM, RIGHT_EM = 5.5, 4.4, 2.4, 2.4  # about the panel, for words
ROWS = 3  # running dimensions take turns in so many rows where they are close
CROSS_M = 0.008
SAME_M = 0.0005


def panel_view(
    panel: Panel, out: MarkedOut, units: Units, wide: float = WIDTH, cut: Ring | None = None
) -> str:
    """The panel with what is measured from the left and the lower edge of its box. wide: on the page
    [px]; cut: the outline that it is cut to, where something is left standing."""
    size = type_of(WIDTH, wide)
    long, high = out.size
    room = (WIDTH - (LEFT_EM + RIGHT_EM) * size, MOST_HIGH)
    scale = min(room[0] / long, room[1] / high)
    left = LEFT_EM * size + (room[0] - long * scale) / 2
    tall = high * scale + (BELOW_EM + ABOVE_EM) * size
    canvas = Canvas(WIDTH, tall, (left, high * scale + ABOVE_EM * size), scale, "panel",
                    f"{panel.label}, seen {out.seen}", wide_px=wide)  # fmt: skip
    x0, y0, _, _ = panel.polygon.bounds
    rings = [[(u - x0, v - y0) for u, v in ring] for ring in (panel.outline, *panel.holes)]
    canvas.path([(0, 0), (long, 0), (long, high), (0, high)], "mark-box")
    if cut is not None and cut != panel.outline:
        canvas.path([(u - x0, v - y0) for u, v in cut], "mark-cut")
    d = "".join("M" + "L".join("{:.1f} {:.1f}".format(*canvas.at(*p)) for p in r) + "Z" for r in rings)
    canvas.parts.append(f'<path class="panel hatch-{panel.sheet.stuff.kind}" fill-rule="evenodd" d="{d}"/>')
    for start, end in out.bends:
        canvas.line(start, end, "bend-line")
    for station in out.stations:
        _ordinate(canvas, out, station.at, station.low, station.high)
    for number, corner in enumerate(out.corners, 1):
        canvas.circle(corner, 0.25 * size, "mark-corner")
        x, y = canvas.at(*corner)
        inward = (0.9 if corner[0] < long / 2 else -0.9, -0.7 if corner[1] < high / 2 else 1.4)
        canvas.words(x, y, str(number), "label strong halo", "middle", (inward, (inward[0], -inward[1])))
    for letter, hole in zip("ABCDEFGHJKLMNPQRSTUVWXYZ", out.cutouts, strict=False):
        u, v = hole.at
        canvas.line((u - CROSS_M, v), (u + CROSS_M, v), "mark-cross")
        canvas.line((u, v - CROSS_M), (u, v + CROSS_M), "mark-cross")
        canvas.label(hole.at, letter, "label strong")
    _running(canvas, out, units)
    _edges(canvas, out)
    return canvas.svg()


def _ordinate(canvas: Canvas, out: MarkedOut, at: float, low: float, high: float) -> None:
    ends = ((low, at), (high, at)) if out.upright else ((at, low), (at, high))
    canvas.line(ends[0], ends[1], "mark-ordinate")


def _places(out: MarkedOut, axis: int) -> list[float]:
    """What is dimensioned along an axis: corners, edges along the box, bends right across, the whole
    length last."""
    values = [*(c[axis] for c in out.corners), *out.straight[axis], out.size[axis]]
    values += [start[axis] for start, end in out.bends if abs(start[axis] - end[axis]) < 1e-6]
    found: dict[int, float] = {}
    for value in sorted(values):  # those that read the same once, as they are told in the table
        found.setdefault(round(value / SAME_M), value)
    return [v for v in found.values() if v > SAME_M]


def _running(canvas: Canvas, out: MarkedOut, units: Units) -> None:
    """From the left edge, below; from the lower edge, at the left: each place by its distance."""
    size = canvas.type
    x, base = canvas.at(0.0, 0.0)
    for value in _places(out, 0):
        u, _ = canvas.at(value, 0.0)
        canvas.parts.append(f'<path class="dim" d="M{u:.1f} {base + 3:.1f}V{base + 0.8 * size:.1f}"/>')
        ways = [(0.0, 1.8 + 1.15 * row) for row in range(ROWS)]
        canvas.words(u, base, svg_length(value, units), "dim-text halo", "middle", ways)
    for value in _places(out, 1):
        _, v = canvas.at(0.0, value)
        canvas.parts.append(f'<path class="dim" d="M{x - 3:.1f} {v:.1f}H{x - 0.8 * size:.1f}"/>')
        canvas.words(x - size, v, svg_length(value, units), "dim-text halo", "end",
                     ((0, 0.3), (0, 1.3), (0, -0.8)))  # fmt: skip
    canvas.circle((0.0, 0.0), 0.3 * size, "mark-zero")


def _edges(canvas: Canvas, out: MarkedOut) -> None:
    """Which way its right and its upper edge look."""
    long, high = out.size
    x, y = canvas.at(long / 2, high)
    canvas.words(x, y, f"{escape(out.top)} ↑", "label soft halo", "middle", ((0, -0.6), (0, -1.6)))
    x, y = canvas.at(long, high / 2)
    canvas.parts.append(
        f'<text class="label soft" text-anchor="middle" transform="translate({x + 1.3 * canvas.type:.1f} '
        f'{y:.1f}) rotate(90)">{escape(out.right)} →</text>'
    )
