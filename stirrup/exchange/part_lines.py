"""What is drawn of a part that is cut, true size, whatever file it goes into [m].

Layers: OUTLINE, HOLES, BEND middles of bends, MARK relief cuts, ends of cut-back flanges and lines to trim
to, TEXT labels.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from shapely.geometry import Polygon

from stirrup.core.cutting.member_marking import MarkedMember
from stirrup.core.document import Point2
from stirrup.core.parts.model import Member, Panel, Ring

FACES_APART_M = 0.06
LABEL_M, FACE_LABEL_M = 0.020, 0.010  # how high they are


@dataclass
class PartLines:
    """Rings (first point not repeated), lines, rounds by middle and radius, and words by their foot and
    height; each on a layer."""

    rings: list[tuple[str, Ring]] = field(default_factory=list)
    lines: list[tuple[str, Point2, Point2]] = field(default_factory=list)
    rounds: list[tuple[str, Point2, float]] = field(default_factory=list)
    words: list[tuple[Point2, float, str]] = field(default_factory=list)


def panel_lines(panel: Panel, outline: Ring | None = None) -> PartLines:
    """A panel in its own axes. outline: what it is cut to, where something is left standing: its own then
    is a mark to trim to."""
    out = PartLines()
    cut = panel.outline if outline is None else outline
    out.rings = [("OUTLINE", cut), *(("HOLES", hole) for hole in panel.holes)]
    if cut != panel.outline:
        out.rings.append(("MARK", panel.outline))
    out.lines = [("BEND", bend.start, bend.end) for bend in panel.bends]
    spot = Polygon(cut, panel.holes).representative_point()
    out.words = [((spot.x, spot.y), LABEL_M, panel.label)]
    return out


def member_lines(member: Member, marked: MarkedMember) -> PartLines:
    """A member's faces one above the other, each from its own long point at the first end: outline, holes
    as rounds, relief cuts and where the flange is cut back as lines."""
    out, foot = PartLines(), 0.0
    for face in reversed(marked.faces):
        out.rings.append(("OUTLINE", tuple((u, foot + v) for u, v in face.outline)))
        middle = foot + face.wide / 2
        for row in (r for r in marked.rows if r.face == face.name):
            out.rounds += [("HOLES", (at, middle), max(row.drill, 0.001) / 2) for at in row.at]
        cuts = [*(member.slots if face is marked.faces[0] else ())]
        cuts += [c if k == 0 else member.length - c for k, c in enumerate(face.copes) if c > 0]
        out.lines += [("MARK", (at, foot), (at, foot + face.wide)) for at in cuts]
        out.words.append(((0.0, foot + face.wide + 0.005), FACE_LABEL_M, f"{member.label} {face.name}"))
        foot += face.wide + FACES_APART_M
    return out
