"""The survey's drawings: profile and half-breadths with every reading as a point."""

from __future__ import annotations

from html import escape

from stirrup.core.derive import Derived
from stirrup.core.units import Units
from stirrup.web.drawing.boat import WIDTH, _rule, plan_ring, profile_ring, thin
from stirrup.web.drawing.canvas import Canvas
from stirrup.web.present import step


def _readings(canvas: Canvas, derived: Derived, axis: int, chosen: str) -> None:
    """Points of every line; those of the chosen line can be dragged across the run."""
    for line in derived.plan.hull.lines:
        for k, p in enumerate(line.points):
            x, y = canvas.at(p[0], p[axis])
            if line.name != chosen:
                canvas.parts.append(f'<circle class="reading" cx="{x:.1f}" cy="{y:.1f}" r="2.6"/>')
                continue
            what = "half-width" if axis == 1 else "height"
            canvas.parts.append(
                f'<g class="handle reading-handle" tabindex="0" role="slider" data-direction="y" '
                f'data-sign="-1" data-value="{p[axis]:.5f}" aria-valuenow="{p[axis]:.4f}" '
                f'data-path="hull/lines/{escape(step(line.name))}/points/{k}/{axis}" '
                f'aria-label="{escape(line.name)}, station {k + 1}, {what}: drag, or arrow keys">'
                f'<circle class="grab-dot" cx="{x:.1f}" cy="{y:.1f}" r="14"/>'
                f'<circle class="reading mine" cx="{x:.1f}" cy="{y:.1f}" r="5"/></g>'
            )


def _marked(canvas: Canvas, derived: Derived, axis: int) -> None:
    """A ring round each reading that a check found doubtful."""
    places = {f.place for f in derived.findings if f.code in ("READING-OFF", "SIDES-DIFFER")}
    for line in derived.plan.hull.lines:
        for k, p in enumerate(line.points):
            if f"{line.name}/{k}" in places:
                canvas.circle((p[0], p[axis]), 11, "doubt")


def lines_profile(derived: Derived, units: Units, chosen: str, width: float = WIDTH) -> str:
    """Side view of the lines with the readings' heights."""
    surface = derived.surface
    low, high = float(surface.outside.low[0]) - 0.15, float(surface.outside.high[0]) + 0.15
    scale = (width - 20) / (high - low)
    tall, deep = float(surface.outside.high[2]) + 0.14, float(surface.outside.low[2]) - 0.16
    canvas = Canvas(width, (tall - deep) * scale, (10 - low * scale, tall * scale), scale, "profile",
                    "Lines from the side, bow to the right")  # fmt: skip
    canvas.path(profile_ring(surface), "hull-fill")
    canvas.line((low, 0), (high, 0), "baseline")
    for k in range(len(derived.plan.hull.lines[0].points)):
        column = [line.points[k] for line in derived.plan.hull.lines]
        canvas.path([(p[0], p[2]) for p in column], "station", closed=False)
        top = column[-1]
        canvas.text((top[0], top[2]), str(k + 1), "rule-text", dy=-9)
    for line in surface.lines[0]:
        canvas.path(thin(line)[:, [0, 2]].tolist(), "knuckle", closed=False)
    canvas.path(profile_ring(surface), "hull-line")
    _marked(canvas, derived, 2)
    _readings(canvas, derived, 2, chosen)
    return canvas.svg("readings-table")


def lines_plan(derived: Derived, units: Units, chosen: str, width: float = WIDTH) -> str:
    """Half-breadths with the readings, port side."""
    surface = derived.surface
    low, high = float(surface.outside.low[0]) - 0.15, float(surface.outside.high[0]) + 0.15
    scale = (width - 20) / (high - low)
    beam = float(max(surface.outside.high[1], -surface.outside.low[1]))
    deep = (beam if not surface.mirrored else 0.0) + 44 / scale
    canvas = Canvas(width, (beam + 0.06 + deep) * scale, (10 - low * scale, (beam + 0.06) * scale),
                    scale, "plan", "Half-breadths, port side")  # fmt: skip
    ring = plan_ring(surface)
    if surface.mirrored:
        half = len(ring) // 2
        ring = [*ring[:half], (ring[half - 1][0], 0.0), (ring[0][0], 0.0)]
    canvas.path(ring, "hull-fill")
    canvas.line((low, 0), (high, 0), "centreline")
    for k in range(len(derived.plan.hull.lines[0].points)):
        column = [line.points[k] for line in derived.plan.hull.lines]
        canvas.path([(p[0], p[1]) for p in column], "station", closed=False)
    for side in surface.lines[: 1 if surface.mirrored else 2]:
        for line in side:
            canvas.path(thin(line)[:, :2].tolist(), "knuckle", closed=False)
    canvas.path(ring, "hull-line")
    _marked(canvas, derived, 1)
    _readings(canvas, derived, 1, chosen)
    _rule(canvas, -deep + 6 / scale, float(surface.outside.high[0]), units)
    return canvas.svg("readings-table")
