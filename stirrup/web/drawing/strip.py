"""The boat afloat, small: side view at the true trim, stern view at the true list."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from functools import partial

from stirrup.core.afloat.report import FloatReport
from stirrup.core.derive import Derived
from stirrup.core.hull.mesh import HullSurface
from stirrup.web.drawing import things
from stirrup.web.drawing.boat import extent, profile_ring
from stirrup.web.drawing.canvas import Canvas


@contextmanager
def _afloat(canvas: Canvas, degrees: float, report: FloatReport | None) -> Iterator[None]:
    """What is drawn inside is turned, counter-clockwise, and sunk to her draft: then the water is level at
    height 0. It is turned as a whole, so that what stays is not drawn again with every trim."""
    sink = 0.0 if report is None else report.draft_at_origin_m * canvas.scale
    x, y = canvas.origin
    turned = f"translate(0 {sink:.2f}) rotate({-degrees:.3f} {x:.2f} {y:.2f})"
    canvas.parts.append(f'<g transform="{turned}">')
    yield
    canvas.parts.append("</g>")
    if report is not None:
        _sea(canvas)


def silhouette(derived: Derived, report: FloatReport | None, width: float = 240.0,
               height: float = 84.0) -> str:  # fmt: skip
    """Side view: the boat turned by her trim and sunk to her draft; the water is level."""
    low, high = extent(derived)[0], float(derived.surface.outside.high[0]) + 0.15
    scale = min((width - 16) / (high - low), (height - 12) / 1.55)
    canvas = Canvas(width, height, (8 - low * scale, height * 0.68), scale, "afloat",
                    "The boat afloat, from the side")  # fmt: skip
    surface = derived.surface
    with _afloat(canvas, 0.0 if report is None else report.trim_deg, report):
        things.from_far(canvas, derived, behind=True)
        canvas.kept(surface.kept, "fill", partial(_side, surface, "hull-fill"))
        things.from_far(canvas, derived, behind=False)
        canvas.kept(surface.kept, "line", partial(_side, surface, "hull-line"))
    return canvas.svg()


def stern(derived: Derived, report: FloatReport | None, width: float = 130.0,
          height: float = 84.0) -> str:  # fmt: skip
    """From astern: transom and widest station, turned by the list."""
    surface = derived.surface
    beam = float(max(surface.outside.high[1], -surface.outside.low[1]))
    scale = min((width - 16) / (2 * beam), (height - 12) / 1.25)
    canvas = Canvas(width, height, (width / 2, height * 0.68), scale, "stern",
                    "The boat afloat, from astern")  # fmt: skip
    # port is on the left from astern; port down turns the drawing counter-clockwise
    with _afloat(canvas, 0.0 if report is None else report.list_deg, report):
        canvas.kept(surface.kept, "ends", partial(_ends, surface))
    return canvas.svg()


def _side(surface: HullSurface, css: str, sheet: Canvas) -> None:
    """Her outline from the side."""
    sheet.path(profile_ring(surface), css)


def _ends(surface: HullSurface, sheet: Canvas) -> None:
    """Widest station and transom, from astern."""
    widest = int(surface.lines[0][-1][:, 1].argmax())
    for column, css in ((widest, "hull-fill"), (0, "transom-fill")):
        port = [(-float(line[column][1]), float(line[column][2])) for line in surface.lines[0]]
        other = [(-float(line[column][1]), float(line[column][2])) for line in surface.lines[1]]
        sheet.path([*port, *other[::-1]], f"{css} hull-line")


def _sea(canvas: Canvas) -> None:
    width, height, y = canvas.width, canvas.height, canvas.origin[1]
    canvas.parts.append(
        f'<rect class="water" x="0" y="{y:.1f}" width="{width:.0f}" height="{height - y:.1f}"/>'
        f'<line class="waterline" x1="0" y1="{y:.1f}" x2="{width:.0f}" y2="{y:.1f}"/>'
    )
