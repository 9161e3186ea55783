"""A detail at true scale: a millimetre of the boat is a millimetre on paper."""

from __future__ import annotations

from collections.abc import Iterable
from html import escape

from stirrup.core.contract.gives import Built
from stirrup.core.contract.shown import DETAIL_WIDE_M, Detail
from stirrup.core.cut_through import across, cut_through
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.units import Units
from stirrup.web.drawing.canvas import Canvas, svg_length

PX_PER_MM = 96 / 25.4  # as style sheets count
ROW = 1.35  # between the lines of dimensions, in units of the type
BESIDE = ((0, 0.3), (0, 1.4), (0, -1.0), (0, 2.4), (2.5, 0.3), (-2.5, 0.3))
NAMED_M2 = 2e-5  # a smaller piece bears no label


def detail_view(detail: Detail, surface: HullSurface, built: Iterable[Built], units: Units) -> str:
    """The parts that meet there with their labels, and the dimensions over them."""
    scale = 1000 * PX_PER_MM
    w, h = DETAIL_WIDE_M, detail.high
    wide, high = w * scale, h * scale
    rows = len(detail.measures)
    canvas = Canvas(wide, high, (0.0, 0.0), scale, "detail", detail.title)
    over = ROW * canvas.type * (rows + 0.3)
    u, z = detail.middle
    canvas.height = high + over
    canvas.origin = ((w / 2 - u) * scale, (z + h / 2) * scale + over)
    cuts = cut_through(surface, built, detail)
    for cut in cuts:
        canvas.path(cut.ring, f"panel hatch-{cut.stuff}")
    for k, measure in enumerate(detail.measures):
        _dimension(canvas, detail, k, measure.a, measure.b, measure.words, units)
    for cut in cuts:
        xs, zs = [p[0] for p in cut.ring], [p[1] for p in cut.ring]
        if (max(xs) - min(xs)) * (max(zs) - min(zs)) > NAMED_M2:
            x, y = canvas.at((min(xs) + max(xs)) / 2, (min(zs) + max(zs)) / 2)
            canvas.words(x, y, escape(cut.label), "label halo", "middle", BESIDE)
    return canvas.svg()


def _dimension(canvas: Canvas, detail: Detail, row: int, a: tuple[float, float, float],
               b: tuple[float, float, float], words: str, units: Units) -> None:  # fmt: skip
    """One line of dimensions over the drawing, led down to what it measures."""
    ends = sorted((canvas.at(*across(detail, p)) for p in (a, b)), key=lambda p: p[0])
    y = ROW * canvas.type * (row + 1)
    for x, foot in ends:
        canvas.parts.append(f'<path class="dim" d="M{x:.1f} {y - 4:.1f}V{foot:.1f}"/>')
    (x0, _), (x1, _) = ends
    canvas.parts.append(f'<path class="dim" d="M{x0:.1f} {y:.1f}H{x1:.1f}"/>')
    told = f"{escape(words)} {svg_length((x1 - x0) / canvas.scale, units, True)}"
    canvas.words(x1 + 0.3 * canvas.type, y + 0.35 * canvas.type, told, "dim-text halo", "start",
                 ((0, 0), ((x0 - x1) / canvas.type - 0.6, 0)))  # fmt: skip
