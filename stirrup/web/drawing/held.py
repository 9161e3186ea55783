"""Prediction and measurement side by side: a bar of two sigmas and a dot, for each figure."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape

from stirrup.core.afloat.learn import Held
from stirrup.core.findings import Quantity
from stirrup.core.units import Units
from stirrup.exchange.summary import say
from stirrup.web.drawing.canvas import Canvas

ROW = 44.0


def held_view(figures: Sequence[Held], units: Units, width: float = 520.0) -> str:
    """One row for each figure: the ledger's two-sigma bar, the measured two-sigma line and dot."""
    canvas = Canvas(width, ROW * len(figures) + 6, (0, 0), 1.0, "held", "Predicted and measured")
    for row, held in enumerate(figures):
        y = row * ROW + 24
        spread = max(held.predicted_spread, held.measured_spread)
        reach = max(2.6 * spread, 1.25 * abs(held.measured - held.predicted), 1e-9)
        middle = (held.predicted + held.measured) / 2

        def at(value: float, middle: float = middle, reach: float = reach) -> float:
            return 170 + (width - 190) * (0.5 + (value - middle) / (2.4 * reach))

        low, high = (
            at(held.predicted - 2 * held.predicted_spread),
            at(held.predicted + 2 * held.predicted_spread),
        )
        canvas.parts.append(f'<text x="0" y="{y + 5:.0f}">{escape(held.name)}</text>')
        wide = max(2.0, high - low)
        canvas.parts.append(
            f'<rect class="pred" x="{low:.1f}" y="{y - 9:.0f}" width="{wide:.1f}" height="18"/>'
            f'<line class="axis" x1="{at(held.predicted):.1f}" x2="{at(held.predicted):.1f}" '
            f'y1="{y - 12:.0f}" y2="{y + 12:.0f}"/>'
        )
        left, right = (
            at(held.measured - 2 * held.measured_spread),
            at(held.measured + 2 * held.measured_spread),
        )
        dot = at(held.measured)
        canvas.parts.append(
            f'<line class="board" x1="{left:.1f}" x2="{right:.1f}" y1="{y}" y2="{y}"/>'
            f'<circle class="meas" cx="{dot:.1f}" cy="{y}" r="5"/>'
            f'<text class="dim-text halo" text-anchor="middle" x="{dot:.1f}" y="{y - 13:.0f}">'
            f"{escape(say(Quantity(held.measured, held.unit), units))}</text>"
        )
    return canvas.svg()
