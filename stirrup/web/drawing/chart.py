"""A chart of what a thing gives: a few curves over an angle, named where they end."""

from __future__ import annotations

from html import escape

from stirrup.core.contract.shown import Chart
from stirrup.core.findings import Quantity
from stirrup.core.units import Units
from stirrup.exchange.summary import say
from stirrup.web.drawing.canvas import Canvas, Pair, type_of

WIDTH, HEIGHT = 340.0, 225.0
TICK_DEG = 20
LOOKS = ("chart-line", "chart-line second", "chart-line third")


def chart_view(chart: Chart, units: Units, wide: float = WIDTH) -> str:
    """The curves with their least and greatest values written at them. wide: on the page [px]."""
    size = type_of(WIDTH, wide)
    left, right, top, bottom = 0.6 * size, 0.6 * size, 1.5 * size, 3.0 * size
    every = [v for c in chart.curves for v in c.values]
    low, high, end = min(0.0, *every), max(0.0, *every), max(chart.at)
    high = high if high > low else low + 1.0
    canvas = Canvas(WIDTH, HEIGHT, (0, 0), 1.0, "chart", chart.title, wide_px=wide)

    def at(angle: float, value: float) -> Pair:
        x = left + (WIDTH - left - right) * angle / end
        return x, top + (HEIGHT - top - bottom) * (high - value) / (high - low)

    (x0, y0), (x1, _) = at(0.0, 0.0), at(end, 0.0)
    canvas.parts.append(f'<path class="chart-axis" d="M{x0:.1f} {y0:.1f}H{x1:.1f}"/>')
    foot = at(0.0, low)[1]
    for angle in range(0, int(end) + 1, TICK_DEG):
        x = at(float(angle), 0.0)[0]
        canvas.parts.append(f'<path class="chart-axis" d="M{x:.1f} {y0 - 3:.1f}V{y0 + 3:.1f}"/>')
        canvas.words(x, foot + 1.3 * size, f"{angle}°", "rule-text axis-text")
    canvas.words(left, 0.95 * size, escape(f"{chart.up}, {_unit(chart, units)}"), "label minor", "start")
    canvas.words(WIDTH / 2, HEIGHT - 0.4 * size, escape(chart.across), "label minor halo", "middle")
    solid = 0
    for curve in chart.curves:
        css = "chart-line dashed" if curve.dashed else LOOKS[min(solid, len(LOOKS) - 1)]
        solid += not curve.dashed
        points = "L".join(
            "{:.1f} {:.1f}".format(*at(a, v)) for a, v in zip(chart.at, curve.values, strict=True)
        )
        canvas.parts.append(f'<path class="{css}" d="M{points}"/>')
        for k in (0, len(chart.at) - 1):
            x, y = at(chart.at[k], curve.values[k])
            said = f"{curve.name}: {_value(curve.values[k], chart, units)}"
            canvas.words(x, y, escape(said), "dim-text halo", "start" if k == 0 else "end",
                         ((0.2 if k == 0 else -0.2, -0.4), (0.2 if k == 0 else -0.2, 1.1),
                          (0.2 if k == 0 else -0.2, -1.5), (0.2 if k == 0 else -0.2, 2.2)))  # fmt: skip
    return canvas.svg()


def _value(value: float, chart: Chart, units: Units) -> str:
    return say(Quantity(value, chart.unit), units).rsplit(" ", 1)[0]


def _unit(chart: Chart, units: Units) -> str:
    return say(Quantity(1.0, chart.unit), units).rsplit(" ", 1)[1]
