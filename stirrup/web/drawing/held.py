"""Prediction and measurement side by side: a bar of two sigmas and a dot, for each figure."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape

from stirrup.core.afloat.learn import Held
from stirrup.core.findings import Quantity
from stirrup.core.units import Units
from stirrup.exchange.summary import say
from stirrup.web.drawing.canvas import Canvas, type_of

WIDTH = 520.0
NAMES = 12.0  # of the type: what the names beside the bars take


def held_view(figures: Sequence[Held], units: Units, wide: float = 0.0) -> str:
    """One row for each figure: the ledger's two-sigma bar, the measured two-sigma line and dot.
    wide: on the page [px]."""
    size = type_of(WIDTH, wide)
    row = 3.0 * size
    canvas = Canvas(WIDTH, row * len(figures) + 6, (0, 0), 1.0, "held", "Predicted and measured",
                    wide_px=wide)  # fmt: skip
    left = NAMES * size
    half = 0.6 * size
    for k, held in enumerate(figures):
        y = (k + 0.6) * row
        spread = max(held.predicted_spread, held.measured_spread)
        reach = max(2.6 * spread, 1.25 * abs(held.measured - held.predicted), 1e-9)
        middle = (held.predicted + held.measured) / 2

        def at(value: float, middle: float = middle, reach: float = reach) -> float:
            return left + (WIDTH - left - 20) * (0.5 + (value - middle) / (2.4 * reach))

        low, high = (at(held.predicted + s * 2 * held.predicted_spread) for s in (-1, 1))
        canvas.words(0, y + 0.3 * size, escape(held.name), "", "start")
        canvas.parts.append(
            f'<rect class="pred" x="{low:.1f}" y="{y - half:.1f}" width="{max(2.0, high - low):.1f}" '
            f'height="{2 * half:.1f}"/><line class="axis" x1="{at(held.predicted):.1f}" '
            f'x2="{at(held.predicted):.1f}" y1="{y - 1.3 * half:.1f}" y2="{y + 1.3 * half:.1f}"/>'
        )
        ends = [at(held.measured + s * 2 * held.measured_spread) for s in (-1, 1)]
        dot = at(held.measured)
        canvas.parts.append(
            f'<line class="board" x1="{ends[0]:.1f}" x2="{ends[1]:.1f}" y1="{y:.1f}" y2="{y:.1f}"/>'
            f'<circle class="meas" cx="{dot:.1f}" cy="{y:.1f}" r="{size / 3:.1f}"/>'
        )
        said = escape(say(Quantity(held.measured, held.unit), units))
        canvas.words(dot, y - 0.75 * size, said, "dim-text halo")
    return canvas.svg()
