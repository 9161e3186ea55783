"""Write docs/kinds.md, a section for each kind with a drawing of it as it comes out of the palette.

`PYTHONPATH=. .venv/bin/python tools/kinds_page.py`
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from html import escape
from pathlib import Path
from typing import Any

from pydantic_core import PydanticUndefined

from stirrup.core.contract.gives import Built, Shape
from stirrup.core.contract.kind import Kind
from stirrup.core.document import ThingRef
from stirrup.core.errors import CoreError
from stirrup.core.kinds.registry import KINDS
from stirrup.core.plan.entry import FieldKind, kind_of_field, limits_text
from stirrup.core.units import SYSTEMS, write_length
from tests.boats import derive
from tests.core.test_every_kind import specimen

DOCS = Path(__file__).parent.parent / "docs"
CELL = (300.0, 150.0)
VIEWS = (("plan", 0, 1, -1.0), ("side", 0, 2, 1.0), ("across", 1, 2, 1.0))
STYLE = """
svg { background: #fdfbf5; font: 13px sans-serif; }
path { fill: none; stroke: #1c2a33; stroke-width: 1.2; stroke-linejoin: round; }
.form-body, .deck, .tank, .lid { fill: #f1ece0; }
.form-hinge, .hinge { stroke-width: 3; }
.form-line { stroke: #5b6770; }
text { fill: #1c2a33; }
"""
MM = SYSTEMS["mm"]
SHARED = ("kind", "id", "name", "mark")  # what every fitting has
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


def drawing(built: Built) -> str:
    """A thing from above, port up, from the side, and from aft where it is drawn so; each as large as its
    box."""
    out, cells = [], 2
    for k, (view, a, b, sign) in enumerate(VIEWS):
        flip = -1.0 if view == "plan" else 1.0
        shapes = [(s, _spots(s, a, b, sign * flip)) for s in built.shapes if s.view == view]
        if view == "across":  # looking forward, port is to the left
            shapes = [(s, [(-u, v) for u, v in spots]) for s, spots in shapes]
        if shapes:
            cells = max(cells, k + 1)
            out += _drawn(shapes, (k * CELL[0] + 10, 10), (CELL[0] - 20, CELL[1] - 20))
    frame = f'viewBox="0 0 {cells * CELL[0]:.0f} {CELL[1]:.0f}"'
    return f'<svg xmlns="http://www.w3.org/2000/svg" {frame}><style>{STYLE}</style>{"".join(out)}</svg>\n'


def _choice(kind: Kind[Any], name: str) -> str:
    """One row: title, key, what is accepted, what it starts with."""
    info = kind.choices.model_fields[name]
    title = info.title or name.replace("_", " ").capitalize()
    try:
        field = kind_of_field(name, info)
    except CoreError:
        return f"| {title} | `{name}` | several values | |"
    accepted = limits_text(field, MM) or " / ".join(str(c) for c in field.choices)
    if field.kind == "stock":
        accepted = " / ".join(["an entry of the catalogue", *filter(None, [accepted])])
    if any(isinstance(mark, ThingRef) for mark in info.metadata):
        accepted = "another thing"
    accepted = accepted or {"flag": "yes / no"}.get(field.kind, "")
    return f"| {title} | `{name}` | {accepted} | {_start(field, info.default)} |"


def _start(field: FieldKind, value: Any) -> str:
    """What a choice starts with, in words."""
    if value in (PydanticUndefined, None, ""):
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return write_length(float(value), MM) if field.kind == "length" else f"{value}"


def section(kind: Kind[Any]) -> str:
    """What the documentation says of a kind."""
    out = [f"## {kind.title}", "", kind.about, "", f"In the build file: `{kind.group}`, `{kind.key}`."]
    if kind.entries:
        plan, id_ = specimen(kind.key, kind.entries[0].key)
        placed = derive(plan).placed(id_)
        if placed is not None and placed.built.shapes:
            out += ["", f"![{kind.title} from above and from the side](kinds/{slug(kind)}.svg)"]
        if placed is not None:
            out += _makes(placed.built)
    own = [n for n in kind.choices.model_fields if n not in SHARED] if kind.group == "fittings" else []
    if own:
        out += ["", "| choice | key | accepted | starts with |", "|---|---|---|---|"]
        out += [_choice(kind, name) for name in own]
    return "\n".join([*out, ""])


def _makes(built: Built) -> list[str]:
    """What is cut and bought for it, and what is looked at."""
    out = []
    counts = ((built.panels, "panel"), (built.members, "member"), (built.bought, "bought part"))
    told = [f"{len(made)} {name}{'s' if len(made) > 1 else ''}" for made, name in counts if made]
    if told:
        out += ["", f"As it comes out of the palette: {', '.join(told)}."]
    titles = sorted({f.check.title for f in built.findings})
    if titles:
        out += ["", f"Looked at by itself: {'; '.join(titles)}."]
    return out


def slug(kind: Kind[Any]) -> str:
    """A kind's key as a file's name."""
    return kind.key.replace(" ", "-")


HEAD = """# Kinds of things

What can stand in a boat, each with what can be chosen of it. Written by `tools/kinds_page.py` from what the
kinds say of themselves; a test holds this page to it. Drawings are as it comes out of the palette, from
above and from the side, each to a scale of its own. What a kind answers is told in
[developing.md](developing.md).
"""


def page() -> str:
    """The whole page."""
    return "\n".join([HEAD, *(section(kind) for kind in KINDS)])


def main() -> None:
    """Write the page and its drawings."""
    (DOCS / "kinds.md").write_text(page())
    (DOCS / "kinds").mkdir(exist_ok=True)
    for kind in KINDS:
        for entry in kind.entries[:1]:
            plan, id_ = specimen(kind.key, entry.key)
            placed = derive(plan).placed(id_)
            if placed is not None and placed.built.shapes:
                (DOCS / "kinds" / f"{slug(kind)}.svg").write_text(drawing(placed.built))


if __name__ == "__main__":
    main()
