"""Draw every kind from above and from the side into docs/kinds.svg, as it comes out of the palette.

`PYTHONPATH=. .venv/bin/python tools/kind_pictures.py`
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from html import escape
from pathlib import Path

from stirrup.core.contract.gives import Built, Shape
from stirrup.core.kinds.registry import KINDS
from tests.boats import derive
from tests.core.test_every_kind import specimen

FILE = Path(__file__).parent.parent / "docs" / "kinds.svg"
CELL, WORDS, ACROSS = (250.0, 210.0), 26.0, 4
VIEWS = (("plan", 0, 1, -1.0), ("side", 0, 2, 1.0))
STYLE = """
svg { background: #fdfbf5; font: 13px sans-serif; }
path { fill: none; stroke: #1c2a33; stroke-width: 1.2; stroke-linejoin: round; }
.form-body, .deck, .tank, .lid { fill: #f1ece0; }
.form-hinge, .hinge { stroke-width: 3; }
.form-line { stroke: #5b6770; }
text { fill: #1c2a33; }
"""
Spot = tuple[float, float]


def _spots(shape: Shape, a: int, b: int, sign: float) -> list[Spot]:
    return [(p[a], sign * p[b]) for p in shape.ring]


def _drawn(shapes: Sequence[tuple[Shape, list[Spot]]], at: Spot, room: Spot) -> Iterable[str]:
    """Shapes in a box, all to one scale, upright."""
    every = [s for _, spots in shapes for s in spots]
    low = min(x for x, _ in every), min(y for _, y in every)
    high = max(x for x, _ in every), max(y for _, y in every)
    wide, tall = max(high[0] - low[0], 0.05), max(high[1] - low[1], 0.05)
    scale = min(room[0] / wide, room[1] / tall)
    left, foot = at[0] + (room[0] - wide * scale) / 2, at[1] + (room[1] + tall * scale) / 2
    for shape, spots in shapes:
        placed = ((left + (x - low[0]) * scale, foot - (y - low[1]) * scale) for x, y in spots)
        points = "L".join(f"{x:.1f},{y:.1f}" for x, y in placed)
        yield f'<path class="{escape(shape.role)}" d="M{points}{"Z" if shape.closed else ""}"/>'


def _cell(title: str, built: Built, at: Spot) -> str:
    """Title, the thing from above, and from the side under it."""
    out = [f'<text x="{at[0] + 8:.0f}" y="{at[1] + 18:.0f}">{escape(title)}</text>']
    high = (CELL[1] - WORDS) / 2 - 12
    for k, (view, a, b, sign) in enumerate(VIEWS):
        flip = -1.0 if view == "plan" else 1.0  # port side up
        shapes = [(s, _spots(s, a, b, sign * flip)) for s in built.shapes if s.view == view]
        if shapes:
            out += _drawn(shapes, (at[0] + 10, at[1] + WORDS + k * (high + 12)), (CELL[0] - 20, high))
    return "".join(out)


def main() -> None:
    """Write the picture."""
    cells = []
    for kind in KINDS:
        for entry in kind.entries[:1]:
            plan, id_ = specimen(kind.key, entry.key)
            placed = derive(plan).placed(id_)
            if placed is not None and placed.built.shapes:
                spot = ((len(cells) % ACROSS) * CELL[0], len(cells) // ACROSS * CELL[1])
                cells.append(_cell(kind.title, placed.built, spot))
    high = -(-len(cells) // ACROSS) * CELL[1]
    FILE.write_text(
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {ACROSS * CELL[0]:.0f} {high:.0f}">'
        f"<style>{STYLE}</style>{''.join(cells)}</svg>\n"
    )


if __name__ == "__main__":
    main()
