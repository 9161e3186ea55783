"""Where the tape goes: each reading of the quick start as a line on the drawings of the boat."""

from __future__ import annotations

from collections.abc import Iterable
from html import escape

from stirrup.core.hull.mesh import HullSurface
from stirrup.web.drawing.canvas import Canvas, Pair

Tape = tuple[str, list[Pair]]


def from_side(surface: HullSurface) -> list[Tape]:
    """Readings that are taken along her or up her side: by name, points (x, z) [m]."""
    keel, sheer = surface.lines[0][0], surface.lines[0][-1]
    low = float(keel[:, 2].min())
    x0, x1 = float(sheer[0][0]), float(sheer[-1][0])
    middle = sheer[len(sheer) // 2]
    foot, stem = (float(keel[0][0]), float(keel[0][2])), (float(keel[-1][0]), float(keel[-1][2]))
    under = low - 0.07

    def up(point: Iterable[float]) -> list[Pair]:
        x, _, z = (float(v) for v in point)
        return [(x, low), (x, z)]

    return [
        ("length", [(min(x0, foot[0]), under), (x1, under)]),
        ("side_aft", up(sheer[0])),
        ("side_middle", up(middle)),
        ("side_bow", up(sheer[-1])),
        ("transom_rake", [(foot[0], float(sheer[0][2])), foot, (x0, float(sheer[0][2]))]),
        ("bow_rake", [(stem[0], float(sheer[-1][2])), stem, (x1, float(sheer[-1][2]))]),
    ]


def across(surface: HullSurface) -> list[Tape]:
    """Readings that are taken across her: by name, points (y to the right, z) [m]."""
    lines = surface.lines[0]
    # a round bilge has no chine: the tape goes to where its line turns hardest
    sheer, chine = lines[-1], lines[-2] if len(lines) < 5 else lines[2]
    widest = int(sheer[:, 1].argmax())
    middle = len(chine) // 2
    wide, top = float(sheer[widest][1]), float(sheer[widest][2])
    out: list[Tape] = [
        ("beam", [(-wide, top), (wide, top)]),
        ("bottom", [(-float(chine[0][1]), float(chine[0][2])), (float(chine[0][1]), float(chine[0][2]))]),
    ]
    for name, column in (("deadrise_aft", 0), ("deadrise_middle", middle)):
        half, rise = float(chine[column][1]), float(chine[column][2])
        keel = float(lines[0][column][2])
        out.append((name, [(-half, keel), (0.0, keel), (-half, rise)]))
    return out


def drawn(canvas: Canvas, tapes: list[Tape]) -> None:
    """All of them, hidden until their field is the one that is typed into."""
    for name, points in tapes:
        pixels = [canvas.at(*p) for p in points]
        d = "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in pixels)
        ends = "".join(f'<circle cx="{x:.1f}" cy="{y:.1f}" r="4.5"/>' for x, y in (pixels[0], pixels[-1]))
        canvas.parts.append(f'<g class="tape" data-tape="{escape(name)}"><path d="{d}"/>{ends}</g>')
