"""Readings as a tape gives them: full widths, heights down from a string, pasted tables.

Pseudo-steps of a path take them: "full" in place of 1 (the half-width), "down@0.850" in
place of 2 (a height measured down from a string 0.850 m above the keel line).
"""

from __future__ import annotations

from stirrup.core.errors import CoreError
from stirrup.core.hull.model import KnuckleLine
from stirrup.core.plan.changes import AnyChange, SetValue, Together, index_of
from stirrup.core.plan.model import Plan
from stirrup.core.units import Units, read_length_m, write_length

FULL, DOWN = "full", "down@"
MOST_CELLS = 600
# a small boat's readings lie within these [m]: along her, half-width, height
FARTHEST_M = (20.0, 5.0, 5.0)


def is_reading(path: tuple[str, ...]) -> bool:
    """Whether the path ends in a coordinate of a reading, pseudo-steps included."""
    return (
        len(path) == 6 and path[0] == "hull" and path[1] in ("lines", "starboard")
        and path[3] == "points" and index_of(path[4]) is not None
    )  # fmt: skip


def read_reading(path: tuple[str, ...], text: str, units: Units) -> SetValue:
    """The coordinate that a typed reading means. Raises CoreError with its place."""
    place = ".".join(path)
    try:
        value = read_length_m(text.strip(), units)
    except CoreError as error:
        raise CoreError(error.message, place) from None
    step = path[5]
    if step == FULL:
        axis, value = 1, value / 2
    elif step.startswith(DOWN):
        try:
            axis, value = 2, float(step.removeprefix(DOWN)) - value
        except ValueError:
            raise CoreError(f"read “{step}”; accepted: {DOWN} and a height in metres", place) from None
    elif step in ("0", "1", "2"):
        axis = int(step)
    else:
        raise CoreError(f"there is no “{step}” of a reading", place)
    most = FARTHEST_M[axis]
    if not abs(value) <= most:
        shown = write_length(value, units)
        raise CoreError(f"read “{text}” as {shown}; accepted: within {write_length(most, units)}", place)
    return SetValue(path=(*path[:5], str(axis)), value=round(value, 9))


def _lines(plan: Plan, side: str) -> tuple[KnuckleLine, ...]:
    lines = plan.hull.lines if side == "lines" else plan.hull.starboard
    if lines is None:
        raise CoreError("starboard is not measured apart", "hull.starboard")
    return lines


def read_table(
    plan: Plan, path: tuple[str, ...], text: str, columns: tuple[str, ...], by: str, units: Units
) -> AnyChange:
    """A pasted table as one step, its first cell at `path`.

    columns: steps of the columns from left to right ("0", "full", "down@0.85", ...), of which
    path[5] is one; by: "line" when rows are the stations of one line, "station" when they are
    the lines of one station. Empty cells leave what is there. Every bad cell is named and
    nothing is taken then. Raises CoreError.
    """
    if not is_reading(path):
        raise CoreError("the table has no place here", ".".join(path))
    lines = _lines(plan, path[1])
    names = [x.name for x in lines]
    if path[2] not in names or path[5] not in columns:
        raise CoreError("the table has no place here", ".".join(path))
    row0, k0 = names.index(path[2]), int(path[4])
    first = columns.index(path[5])
    rows = [r.split("\t") if "\t" in r else [r] for r in text.replace("\r", "").rstrip("\n").split("\n")]
    if sum(len(r) for r in rows) > MOST_CELLS:
        raise CoreError(f"{len(rows)} rows; accepted: up to {MOST_CELLS} cells at once", "paste")
    changes: list[AnyChange] = []
    wrong: list[str] = []
    for i, row in enumerate(rows):
        name, k = (path[2], k0 + i) if by == "line" else (names[min(row0 + i, len(names) - 1)], k0)
        outside = k >= len(lines[0].points) if by == "line" else row0 + i >= len(names)
        for j, cell in enumerate(row):
            if not cell.strip():
                continue
            where = f"row {i + 1}, column {j + 1}"
            if outside or first + j >= len(columns):
                wrong.append(f"{where}: “{cell.strip()}” has no place in the table")
                continue
            step = columns[first + j]
            try:
                changes.append(read_reading((*path[:2], name, "points", str(k), step), cell, units))
            except CoreError as error:
                wrong.append(f"{where}: {error.message}")
    if wrong:
        more = f" (and {len(wrong) - 4} more)" if len(wrong) > 4 else ""
        raise CoreError("; ".join(wrong[:4]) + more, "paste")
    if not changes:
        raise CoreError("nothing to paste: the cells are empty", "paste")
    return Together(changes=tuple(changes), words=f"{len(changes)} readings pasted")
