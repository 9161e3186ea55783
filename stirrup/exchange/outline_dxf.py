"""Lines, arcs and splines of a DXF drawing as runs of points, its blocks unfolded."""

from __future__ import annotations

import io
import math
from collections.abc import Iterator
from typing import Any

from stirrup.core.document import Point2
from stirrup.core.errors import CoreError
from stirrup.exchange.outline_limits import FLAT_MM, UNITS_MM, Read, check_count, check_points, left_out

DXF_UNITS = {1: "in", 2: "ft", 4: "mm", 5: "cm", 6: "m"}  # of $INSUNITS
DRAWN = ("LINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE", "LWPOLYLINE", "POLYLINE")
# what a reader of hostile drawings may run into, besides the library's own errors
DEEPEST = 20  # of blocks in blocks
BROKEN = (ValueError, IndexError, KeyError, TypeError, AttributeError, RecursionError, ArithmeticError)


def read_dxf(content: bytes, name: str, unit: str) -> Read:
    """Raises CoreError for what is no DXF, or draws too much."""
    # loaded when first needed: it takes half a second
    import ezdxf

    try:
        text = content.decode("utf-8")
    except UnicodeDecodeError:
        text = content.decode("cp1252", errors="replace")
    try:
        document = ezdxf.read(  # type: ignore[attr-defined]
            io.StringIO(text.replace("\r\n", "\n"))
        )
    except (ezdxf.DXFError, *BROKEN):  # type: ignore[attr-defined]
        raise CoreError(f"“{name}” cannot be read; accepted: DXF as text, R12 or later", "file") from None
    said = DXF_UNITS.get(int(document.header.get("$INSUNITS", 0) or 0), "")
    step = UNITS_MM[unit or said or "mm"] / 1000
    runs: list[list[Point2]] = []
    left: dict[str, int] = {}
    points = 0
    check_count(unfolded(document, name), name)
    for n, entity in enumerate(_entities(document, name)):
        check_count(n, name)
        if entity.dxftype() not in DRAWN:
            left[entity.dxftype()] = left.get(entity.dxftype(), 0) + 1
            continue
        run = _flattened(entity, step)
        points += len(run)
        check_points(points, name)
        if len(run) > 1:
            runs.append(run)
    return Read(runs, said, left_out(left))


def unfolded(document: Any, name: str) -> int:
    """How many things its model space draws with all blocks unfolded, those that draw nothing too. Raises
    CoreError for blocks within themselves."""
    known: dict[str, int] = {}
    open_: set[str] = set()

    def size(layout: Any, block: str) -> int:
        if block in open_ or len(open_) > DEEPEST:
            raise CoreError(f"“{name}” has blocks within themselves, or too deep: break them up", "file")
        if block not in known:
            open_.add(block)
            count = 0
            for entity in layout:
                count += 1
                if entity.dxftype() == "INSERT":
                    child = entity.block()
                    many = max(1, int(entity.dxf.get("row_count", 1))) * max(
                        1, int(entity.dxf.get("column_count", 1))
                    )
                    count += 0 if child is None else many * size(child, str(entity.dxf.name))
            open_.discard(block)
            known[block] = count
        return known[block]

    return size(document.modelspace(), "")


def _entities(document: Any, name: str) -> Iterator[Any]:
    """Everything in its model space, blocks unfolded."""
    from ezdxf import DXFError  # type: ignore[attr-defined]
    from ezdxf.disassemble import recursive_decompose

    try:
        yield from recursive_decompose(document.modelspace())
    except (DXFError, *BROKEN):
        raise CoreError(
            f"“{name}” has blocks that cannot be unfolded: break them up first", "file"
        ) from None


def _flattened(entity: Any, step: float) -> list[Point2]:
    from ezdxf import DXFError  # type: ignore[attr-defined]
    from ezdxf.path import make_path

    try:
        path = make_path(entity)
        points = list(path.flattening(FLAT_MM / 1000 / step, segments=8)) if len(path) else []
    except (DXFError, *BROKEN):
        return []
    run = [(float(p.x) * step, float(p.y) * step) for p in points]
    return run if all(math.isfinite(v) for p in run for v in p) else []
