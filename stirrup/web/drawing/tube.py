"""A tube unrolled: the paper that is wrapped round it, with its quarters and lengths."""

from __future__ import annotations

from stirrup.core.cutting.tube import Unrolled, wrap_lines
from stirrup.core.units import Units
from stirrup.web.drawing.canvas import Canvas, svg_length, type_of

WIDTH = 900.0
MOST_HIGH = 460.0
QUARTERS = ("top", "left", "below", "right")


def tube_svg(found: Unrolled, units: Units, wide: float = WIDTH) -> str:
    """Along the tube to the right, round it upward. wide: on the page [px]."""
    size = type_of(WIDTH, wide)
    _, _, round_m, long = found.outline.bounds
    scale = min((WIDTH - 8 * size) / long, MOST_HIGH / round_m)
    high = round_m * scale + 5 * size
    left = 5 * size
    canvas = Canvas(WIDTH, high, (left, high - 3 * size), scale, "tube", "the tube unrolled", wide_px=wide)
    ring = [(y, x) for x, y in list(found.outline.exterior.coords)[:-1]]
    canvas.path(ring, "panel hatch-metal")
    for (x, y0), (_, y1) in wrap_lines(found):
        canvas.line((y0, x), (y1, x), "bend-line")
    for k, word in enumerate((*QUARTERS, QUARTERS[0])):
        u, v = canvas.at(0.0, k * round_m / 4)
        canvas.words(u, v, word, "label soft halo", "end", ((-0.4, 0.3),))
    canvas.dimension(0.0, long, -1.4 * size / scale, units)
    u, v = canvas.at(long, round_m / 2)
    canvas.words(u, v, svg_length(round_m, units), "dim-text halo", "start", ((0.4, 0.3),))
    return canvas.svg()
