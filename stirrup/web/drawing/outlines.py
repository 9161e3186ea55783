"""Outlines out of a file beside one another, each with its number and size."""

from __future__ import annotations

import math
from collections.abc import Sequence

from shapely import affinity
from shapely.geometry import Polygon

from stirrup.core.units import Units, write_length
from stirrup.web.drawing.canvas import Canvas, type_of

WIDTH, LOW = 860.0, 14.0
ROW_M = 2.4  # of drawing side by side, at least as wide as the widest
APART_SHARE = 0.04


def outlines_svg(shapes: Sequence[Polygon], units: Units, wide: float = 0.0) -> str:
    """All of them at one scale in rows, numbered from 1. wide: on the page [px]."""
    size = type_of(WIDTH, wide)
    span = max(*(p.bounds[2] - p.bounds[0] for p in shapes), 0.05)
    total = sum(p.bounds[2] - p.bounds[0] for p in shapes)
    row = max(
        span, min(total, math.sqrt(max(total * max(p.bounds[3] - p.bounds[1] for p in shapes), 1e-6)) * 2)
    )
    row *= 1 + 2 * APART_SHARE
    scale, gap = (WIDTH - 16) / row, APART_SHARE * row
    rows: list[list[tuple[int, Polygon]]] = [[]]
    x = 0.0
    for number, shape in enumerate(shapes, start=1):
        w = shape.bounds[2] - shape.bounds[0]
        if rows[-1] and x + w > row:
            rows.append([])
            x = 0.0
        rows[-1].append((number, shape))
        x += w + gap
    words = 1.6 * size / scale
    tall = sum(max(p.bounds[3] - p.bounds[1] for _, p in r) + words + gap for r in rows)
    canvas = Canvas(WIDTH, tall * scale + 2 * LOW, (8.0, tall * scale + LOW), scale, "outlines",
                    f"{len(shapes)} outlines", wide_px=wide)  # fmt: skip
    top = tall
    for one in rows:
        high = max(p.bounds[3] - p.bounds[1] for _, p in one)
        x = 0.0
        for number, shape in one:
            x0, y0, x1, y1 = shape.bounds
            there = affinity.translate(shape, x - x0, top - high - y0)
            rings = (there.exterior, *there.interiors)
            d = " ".join(
                "M"
                + "L".join(f"{u:.1f} {v:.1f}" for u, v in (canvas.at(*p) for p in list(r.coords)[:-1]))
                + "z"
                for r in rings
            )
            canvas.parts.append(f'<path class="panel hatch-metal" fill-rule="evenodd" d="{d}"/>')
            u, v = canvas.at(x + (x1 - x0) / 2, top - high)
            told = f"{number}: {write_length(x1 - x0, units)} × {write_length(y1 - y0, units)}"
            canvas.words(u, v + 1.2 * size, told, "label strong", "middle")
            x += x1 - x0 + gap
        top -= high + words + gap
    return canvas.svg()
