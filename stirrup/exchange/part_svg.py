"""Panels and members as SVG, millimetres, true size: the layers of the DXF as groups, arcs as arcs."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from html import escape

from stirrup.core.cutting.fair import Piece, fair
from stirrup.exchange.part_lines import PartLines

EDGE_MM = 10.0
# of each layer its pen, and how it is broken
LAYERS = (
    ("OUTLINE", "#000", ""), ("HOLES", "#06c", ""), ("BEND", "#c0c", "7 3 1.5 3"), ("MARK", "#0a8", "4 2"),
)  # fmt: skip
PEN_MM = 0.35


def part_svg(part: PartLines, title: str) -> str:
    """The file. Up in the part is up on the paper, so heights count down in it."""
    xs, ys = zip(*_corners(part), strict=True)
    left, top = min(xs) * 1000 - EDGE_MM, max(ys) * 1000 + EDGE_MM
    wide, high = (max(xs) - min(xs)) * 1000 + 2 * EDGE_MM, (max(ys) - min(ys)) * 1000 + 2 * EDGE_MM

    def at(x: float, y: float) -> str:
        return f"{x * 1000 - left:.6f} {top - y * 1000:.6f}"

    groups = []
    for layer, colour, dash in LAYERS:
        drawn = [f'<path d="{_path(fair(ring), at)}"/>' for name, ring in part.rings if name == layer]
        drawn += [f'<path d="M{at(*a)}L{at(*b)}"/>' for name, a, b in part.lines if name == layer]
        for name, (x, y), radius in part.rounds:
            if name == layer:
                cx, cy = at(x, y).split()
                drawn.append(f'<circle cx="{cx}" cy="{cy}" r="{radius * 1000:.6f}"/>')
        if drawn:
            dashed = f' stroke-dasharray="{dash}"' if dash else ""
            groups.append(f'<g id="{layer}" fill="none" stroke="{colour}" stroke-width="{PEN_MM}"{dashed}>'
                          f"{''.join(drawn)}</g>")  # fmt: skip
    words = []
    for (x, y), size, text in part.words:
        tx, ty = at(x, y).split()
        words.append(f'<text x="{tx}" y="{ty}" font-size="{size * 1000:g}">{escape(text)}</text>')
    groups.append(f'<g id="TEXT" font-family="sans-serif">{"".join(words)}</g>')
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.6f}mm" height="{high:.6f}mm" '
        f'viewBox="0 0 {wide:.6f} {high:.6f}"><title>{escape(title)}</title>{"".join(groups)}</svg>\n'
    )


def _corners(part: PartLines) -> Iterable[tuple[float, float]]:
    for _, ring in part.rings:
        yield from ring
    yield from (spot for spot, _, _ in part.words)


def _path(pieces: list[Piece], at: Callable[[float, float], str]) -> str:
    """A ring of lines and arcs. An arc against the clock goes against it on the paper too: sweep 0."""
    out = [f"M{at(pieces[0].x, pieces[0].y)}"]
    for piece, following in zip(pieces, [*pieces[1:], pieces[0]], strict=True):
        to = at(following.x, following.y)
        if not piece.bulge:
            out.append(f"L{to}")
            continue
        chord = math.dist((piece.x, piece.y), (following.x, following.y)) * 1000
        radius = chord * (1 + piece.bulge**2) / (4 * abs(piece.bulge))
        out.append(f"A{radius:.6f} {radius:.6f} 0 {int(abs(piece.bulge) > 1)} {int(piece.bulge < 0)} {to}")
    return "".join(out) + "Z"
