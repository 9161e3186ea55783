"""Outlines of parts and leftovers out of DXF and SVG files: lines, arcs, splines, whatever closes.

A drawing is anybody's file: large ones, entities that unfold without end and documents that define words of
their own are refused before they are read.
"""

from __future__ import annotations

from shapely.geometry import Polygon

from stirrup.core.cutting.loops import join
from stirrup.core.errors import CoreError
from stirrup.core.record import dataclass
from stirrup.exchange.outline_dxf import read_dxf
from stirrup.exchange.outline_limits import MOST_BYTES, UNITS_MM
from stirrup.exchange.outline_svg import read_svg

FARTHEST_M = 50.0
WIDEST_GAP_MM = 10.0
MOST_OUTLINES = 200


@dataclass(frozen=True)
class Drawing:
    """What a file gives: outlines [m], what could not be taken, the unit that it was read in, and whether
    the file itself says that unit."""

    outlines: tuple[Polygon, ...]
    problems: tuple[str, ...]
    unit: str
    told: bool


def read_outlines(content: bytes, name: str, unit: str = "", tolerance_mm: float = 0.1) -> Drawing:
    """The outlines of a DXF or SVG file. unit: of one step in it; empty for what the file says, else
    millimetres. Raises CoreError for what is none, is too large, or holds nothing that closes."""
    if unit and unit not in UNITS_MM:
        raise CoreError(f"read “{unit}”; accepted: {', '.join(UNITS_MM)}", "unit")
    if not 0 < tolerance_mm <= WIDEST_GAP_MM:
        raise CoreError(
            f"read {tolerance_mm:g} mm; accepted: more than 0, up to {WIDEST_GAP_MM:g} mm", "gap"
        )
    if len(content) > MOST_BYTES:
        most = MOST_BYTES // 1_000_000
        raise CoreError(f"“{name}” is larger than {most} MB; accepted here: outlines only", "file")
    read = (read_svg if _is_svg(content, name) else read_dxf)(content, name, unit)
    joined = join(read.runs, tolerance_mm / 1000)
    problems = (*joined.problems, *read.left)
    if not joined.outlines:
        told = f": {'; '.join(problems[:3])}" if problems else ""
        raise CoreError(f"“{name}” has no closed outline{told}", "file")
    if len(joined.outlines) > MOST_OUTLINES:
        raise CoreError(
            f"“{name}” has {len(joined.outlines)} outlines; accepted: up to {MOST_OUTLINES}", "file"
        )
    used = unit or read.unit or "mm"
    widest = max(max(map(abs, p.bounds)) for p in joined.outlines)
    if widest > FARTHEST_M:
        raise CoreError(
            f"in {used} it reaches {widest:.0f} m; accepted: up to {FARTHEST_M:.0f} m. Which unit is one "
            "step of it?",
            "unit",
        )
    return Drawing(joined.outlines, problems, used, bool(read.unit))


def _is_svg(content: bytes, name: str) -> bool:
    head = content[:2000].lstrip(b"\xef\xbb\xbf \t\r\n")
    if head.startswith((b"<?xml", b"<svg", b"<!--", b"<!DOCTYPE")):
        return True
    if name.lower().endswith(".dxf") or head.startswith((b"0", b"999")):
        return False
    raise CoreError(f"“{name}” is neither DXF nor SVG; accepted: .dxf as text, .svg", "file")
