"""A scan's sections across, with the readings that were taken from them."""

from __future__ import annotations

import numpy as np

from stirrup.exchange.scan_mesh import ScanResult
from stirrup.web.drawing.canvas import Canvas


def sections_across(result: ScanResult, width: float = 420.0) -> str:
    """As scanned, both sides, at the readings' stations: forward half dark, after half pale."""
    port, other = result.scanned.port, result.scanned.starboard
    ends = [np.array([line.points for line in side]) for side in (port, other)]
    beam = max(float(e[:, :, 1].max()) for e in ends) + 0.05
    tall, deep = float(ends[0][:, :, 2].max()) + 0.08, float(ends[0][:, :, 2].min()) - 0.06
    scale = (width - 20) / (2 * beam)
    canvas = Canvas(width, (tall - deep) * scale, (width / 2, tall * scale), scale, "body",
                    "Sections of the scan from astern, port on the left, with the readings")  # fmt: skip
    canvas.line((0, deep), (0, tall), "centreline")
    canvas.line((-beam, 0), (beam, 0), "baseline")
    xs = np.array([s.x for s in result.sections])
    count = len(port[0].points)
    for k in range(count):
        x = float(np.mean([line.points[k][0] for line in port]))
        section = result.sections[int(np.argmin(np.abs(xs - x)))]
        css = "station" if 2 * k >= count else "station pale"
        pixels = section.segments * (-scale, -scale) + canvas.origin
        d = "".join(f"M{a[0]:.1f} {a[1]:.1f}L{b[0]:.1f} {b[1]:.1f}" for a, b in pixels)
        canvas.parts.append(f'<path class="{css}" d="{d}"/>')
    for side, sign in ((port, -1.0), (other, 1.0)):
        for line in side:
            for p in line.points:
                canvas.circle((sign * p[1], p[2]), 2.5, "reading scanned")
    return canvas.svg()
