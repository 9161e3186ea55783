"""Panels, members and sheets as DXF, millimetres, true size (not compensated for the tool).

Layers: OUTLINE, HOLES, BEND middles of bends, MARK relief cuts,
ends of cut-back flanges and lines to trim to, SHEET edge, TEXT labels. Rings are closed polylines
of lines and arcs, within 0.3 mm of the true curve.
"""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence
from types import MappingProxyType
from typing import Any

from shapely.geometry import Polygon

from stirrup.core.cutting.fair import fair
from stirrup.core.cutting.member_marking import MarkedMember
from stirrup.core.cutting.sheets import SheetLayout, line_placed, placed
from stirrup.core.document import Point2
from stirrup.core.parts.folding import Bend
from stirrup.core.parts.model import Member, Panel, Ring
from stirrup.exchange.part_lines import PartLines, member_lines, panel_lines

NONE: Mapping[str, Sequence[Bend]] = MappingProxyType({})
LAYERS = (("OUTLINE", 1), ("HOLES", 5), ("BEND", 6), ("MARK", 4), ("SHEET", 8), ("TEXT", 3))


def _document() -> Any:
    # loaded when first needed: it takes half a second
    import ezdxf
    from ezdxf import units as dxf_units

    document = ezdxf.new("R2010", setup=True)  # type: ignore[attr-defined]
    document.units = dxf_units.MM
    document.header["$MEASUREMENT"] = 1
    for name, colour in LAYERS:
        document.layers.add(name, color=colour)
    return document


def _ring(space: Any, coords: Any, layer: str) -> None:
    pieces = fair(list(coords)[:-1])
    points = [(p.x * 1000, p.y * 1000, p.bulge) for p in pieces]
    space.add_lwpolyline(points, format="xyb", close=True, dxfattribs={"layer": layer})


def _shape(space: Any, shape: Polygon, label: str) -> None:
    _ring(space, shape.exterior.coords, "OUTLINE")
    for hole in shape.interiors:
        _ring(space, hole.coords, "HOLES")
    spot = shape.representative_point()
    text = space.add_text(label, height=20, dxfattribs={"layer": "TEXT"})
    text.set_placement((spot.x * 1000, spot.y * 1000))


def _bend(space: Any, line: tuple[Point2, Point2]) -> None:
    ends = [(x * 1000, y * 1000) for x, y in line]
    space.add_line(*ends, dxfattribs={"layer": "BEND"})


def _text(document: Any) -> str:
    out = io.StringIO()
    document.write(out)
    return out.getvalue()


def panel_dxf(panel: Panel, outline: Ring | None = None) -> str:
    """One panel in its own axes. outline: what it is cut to, where something is left standing."""
    return _part(panel_lines(panel, outline))


def member_dxf(member: Member, marked: MarkedMember) -> str:
    """A member's faces one above the other."""
    return _part(member_lines(member, marked))


def _part(part: PartLines) -> str:
    document = _document()
    space = document.modelspace()
    for layer, ring in part.rings:
        _ring(space, [*ring, ring[0]], layer)
    for layer, (x, y), radius in part.rounds:
        space.add_circle((x * 1000, y * 1000), radius * 1000, dxfattribs={"layer": layer})
    for layer, *ends in part.lines:
        space.add_line(*((x * 1000, y * 1000) for x, y in ends), dxfattribs={"layer": layer})
    for (x, y), size, words in part.words:
        text = space.add_text(words, height=size * 1000, dxfattribs={"layer": "TEXT"})
        text.set_placement((x * 1000, y * 1000))
    return _text(document)


def sheet_dxf(layout: SheetLayout, number: int, bends: Mapping[str, Sequence[Bend]] = NONE) -> str:
    """One sheet with its panels as they lie; number counts from 0; bends: of panels by their keys."""
    document = _document()
    space = document.modelspace()
    job, there = layout.job, layout.stock(number)
    for edge in (there.exterior, *there.interiors):
        _ring(space, edge.coords, "SHEET")
    blanks = {b.id: b for b in job.blanks}
    for placement in layout.sheets[number]:
        blank = blanks[placement.blank]
        _shape(space, placed(blank, placement), blank.label)
        for bend in bends.get(blank.id, ()):
            _bend(space, line_placed((bend.start, bend.end), placement))
    return _text(document)
