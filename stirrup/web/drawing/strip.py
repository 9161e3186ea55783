"""The boat afloat, small: side view at the true trim, stern view at the true list."""

from __future__ import annotations

import math

from stirrup.core.afloat.report import FloatReport
from stirrup.core.derive import Derived
from stirrup.web.drawing import things
from stirrup.web.drawing.boat import extent, profile_ring
from stirrup.web.drawing.canvas import Canvas


class _Tilted(Canvas):
    """A canvas whose boat coordinates are turned and sunk to the water level at height 0."""

    turned: tuple[float, float] = (1.0, 0.0)  # cosine and sine
    sink: float = 0.0

    def tilt(self, degrees: float, sink: float) -> None:
        """Turn and sink what is drawn from here on."""
        angle = math.radians(degrees)
        self.turned, self.sink = (math.cos(angle), math.sin(angle)), sink

    def at(self, a: float, b: float) -> tuple[float, float]:
        c, s = self.turned
        return super().at(a * c - b * s, a * s + b * c - self.sink)


def silhouette(derived: Derived, report: FloatReport | None, width: float = 240.0,
               height: float = 84.0) -> str:  # fmt: skip
    """Side view: the boat turned by her trim and sunk to her draft; the water is level."""
    low, high = extent(derived)[0], float(derived.surface.outside.high[0]) + 0.15
    scale = min((width - 16) / (high - low), (height - 12) / 1.55)
    canvas = _Tilted(width, height, (8 - low * scale, height * 0.68), scale, "afloat",
                     "The boat afloat, from the side")  # fmt: skip
    if report is not None:
        canvas.tilt(report.trim_deg, report.draft_at_origin_m)
    things.from_far(canvas, derived, behind=True)
    canvas.path(profile_ring(derived.surface), "hull-fill")
    things.from_far(canvas, derived, behind=False)
    canvas.path(profile_ring(derived.surface), "hull-line")
    if report is not None:
        _sea(canvas, width, height)
    return canvas.svg()


def stern(derived: Derived, report: FloatReport | None, width: float = 130.0,
          height: float = 84.0) -> str:  # fmt: skip
    """From astern: transom and widest station, turned by the list."""
    surface = derived.surface
    beam = float(max(surface.outside.high[1], -surface.outside.low[1]))
    scale = min((width - 16) / (2 * beam), (height - 12) / 1.25)
    canvas = _Tilted(width, height, (width / 2, height * 0.68), scale, "stern",
                     "The boat afloat, from astern")  # fmt: skip
    if report is not None:
        # port is on the left from astern; port down turns the drawing counter-clockwise
        canvas.tilt(report.list_deg, report.draft_at_origin_m)
    widest = int(surface.lines[0][-1][:, 1].argmax())
    for column, css in ((widest, "hull-fill"), (0, "transom-fill")):
        port = [(-float(line[column][1]), float(line[column][2])) for line in surface.lines[0]]
        other = [(-float(line[column][1]), float(line[column][2])) for line in surface.lines[1]]
        canvas.path([*port, *other[::-1]], f"{css} hull-line")
    if report is not None:
        _sea(canvas, width, height)
    return canvas.svg()


def _sea(canvas: Canvas, width: float, height: float) -> None:
    y = canvas.origin[1]
    canvas.parts.append(
        f'<rect class="water" x="0" y="{y:.1f}" width="{width:.0f}" height="{height - y:.1f}"/>'
        f'<line class="waterline" x1="0" y1="{y:.1f}" x2="{width:.0f}" y2="{y:.1f}"/>'
    )
