"""A fitting taken apart, drawn isometrically with the marks of its parts."""

from __future__ import annotations

from html import escape

from stirrup.core.contract.gives import Built
from stirrup.core.exploded import taken_apart
from stirrup.web.drawing.canvas import FAN, Canvas, type_of

WIDTH = 900.0
MOST_HIGH = 640.0
LEAST_M = 0.001
FEWEST = 3  # parts that are worth taking apart


def exploded_view(built: Built, wide: float = WIDTH) -> str:
    """Every part out from where it sits; a thin line leads home. Empty for what is of few parts. wide: on
    the page [px]."""
    parts = taken_apart(built)
    if len(parts) < FEWEST:
        return ""
    size = type_of(WIDTH, wide)
    spots = [s for p in parts for rings in p.shapes for ring in rings for s in ring]
    low = min(x for x, _ in spots), min(y for _, y in spots)
    high = max(x for x, _ in spots), max(y for _, y in spots)
    room = WIDTH - 4 * size
    wide_m, high_m = (max(b - a, LEAST_M) for a, b in zip(low, high, strict=True))
    scale = min(room / wide_m, MOST_HIGH / high_m)
    tall = (high[1] - low[1]) * scale + 3 * size
    left = (WIDTH - (high[0] - low[0]) * scale) / 2 - low[0] * scale
    canvas = Canvas(WIDTH, tall, (left, high[1] * scale + 1.5 * size), scale, "exploded",
                    "Taken apart, seen from aft and starboard, bow to the right", wide_px=wide)  # fmt: skip
    for part in parts:
        canvas.line(part.home, part.at, "apart-way")
        for rings in part.shapes:
            d = "".join(
                "M" + "L".join("{:.1f} {:.1f}".format(*canvas.at(*s)) for s in ring) + "Z" for ring in rings
            )
            told = f"<title>{escape(part.label)}</title>"
            canvas.parts.append(
                f'<path class="panel hatch-{part.stuff} apart" fill-rule="evenodd" d="{d}">{told}</path>'
            )
    for part in parts:
        x, y = canvas.at(*part.at)
        canvas.words(x, y, escape(part.label), "label halo", "middle", FAN)
    return canvas.svg()
