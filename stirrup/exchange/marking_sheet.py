"""Marking sheet as a PDF for the shop: large figures, one thing after another."""

from __future__ import annotations

import io
from collections.abc import Sequence

from stirrup.core.marking import Marks
from stirrup.core.units import Units, write_length

HEAD = "from transom foot · from centreline · above keel line; level her before you mark"


def marking_pdf(title: str, things: Sequence[Marks], units: Units) -> bytes:
    """The sheet on A4, the same bytes for the same marks."""
    # loaded when first needed
    from reportlab.lib import colors
    from reportlab.lib.pagesizes import A4
    from reportlab.lib.styles import getSampleStyleSheet
    from reportlab.platypus import KeepTogether, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

    def length(value: float | None) -> str:
        return "" if value is None else write_length(value, units)

    styles = getSampleStyleSheet()
    ruled = TableStyle([
        ("FONTSIZE", (0, 0), (-1, -1), 11),
        ("LINEBELOW", (0, 0), (-1, -1), 0.4, colors.black),
        ("ALIGN", (1, 0), (-1, -1), "RIGHT"),
    ])  # fmt: skip
    story: list[object] = [
        Paragraph(_plain(title), styles["Title"]),
        Paragraph(_plain(f"{HEAD}. All in {units.length}."), styles["Normal"]),
    ]
    for thing in things:
        rows = [["mark", "from transom", "to port", "height", "offset mark at"]]
        rows += [[m.name, *(length(v) for v in m.at), length(m.offset[0])] for m in thing.marks]
        rows += [
            [f"{d.name}, must be equal", length(d.first), length(d.second), "", ""] for d in thing.diagonals
        ]
        part = [Spacer(1, 14), Paragraph(_plain(f"{thing.code} {thing.name}"), styles["Heading2"])]
        story.append(KeepTogether([*part, Table(rows, style=ruled, hAlign="LEFT")]))
        if thing.ordinates:
            heads = ["ordinates: from transom", *thing.heads]
            rows = [[length(o.x), *(length(v) for v in thing.pair(o))] for o in thing.ordinates]
            if not thing.level:
                heads.append("height")
                rows = [[*row, length(o.z)] for row, o in zip(rows, thing.ordinates, strict=True)]
            table = [heads, *rows]
            story += [Spacer(1, 6), Table(table, style=ruled, hAlign="LEFT", repeatRows=1)]
    out = io.BytesIO()
    document = SimpleDocTemplate(out, pagesize=A4, title=title, invariant=1)
    document.build(story)
    return out.getvalue()


def _plain(text: str) -> str:
    """Text for a paragraph: its mark-up characters are only text here."""
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
