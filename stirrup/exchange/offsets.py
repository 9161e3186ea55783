"""Offset table (CSV): station readings in and out.

Columns: line, station, x, y, z, side, status, note; side, status and note may be left
out. A second row may name units for x, y, z. Every problem is reported by cell.
"""

from __future__ import annotations

import csv
import io
from dataclasses import field
from itertools import pairwise

from pydantic import ValidationError

from stirrup.core.errors import CoreError
from stirrup.core.hull.model import Hull, KnuckleLine
from stirrup.core.plan.explain import explain
from stirrup.core.record import dataclass
from stirrup.core.units import LENGTH_UNITS, Units, read_length_m
from stirrup.exchange.csvtext import meant, rows_of, safe

COLUMNS = ("line", "station", "x", "y", "z", "side", "status", "note")
NEEDED = ("line", "station", "x", "y", "z")
SIDES = ("", "both", "port", "starboard")
STATUSES = ("", "measured", "estimated", "scanned")
MOST_ROWS = 4000
FARTHEST_M = 60.0


@dataclass(frozen=True)
class Problem:
    """What is wrong: row (1 is the first line of the table), column name, in words."""

    row: int
    column: str
    text: str


@dataclass
class OffsetTable:
    """The table as read: cells by row, problems, and the lines when there are none."""

    header: list[str] = field(default_factory=list)
    rows: list[tuple[int, list[str]]] = field(default_factory=list)
    problems: list[Problem] = field(default_factory=list)
    lines: tuple[KnuckleLine, ...] = ()
    starboard: tuple[KnuckleLine, ...] | None = None
    backward: bool = False  # x falls with the station throughout: taken from the bow

    def at(self, row: int, column: str) -> list[str]:
        """Problems of one cell."""
        return [p.text for p in self.problems if (p.row, p.column) == (row, column)]

    @property
    def readings(self) -> int:
        return sum(len(line.points) for line in (*self.lines, *(self.starboard or ())))


@dataclass(frozen=True)
class _Reading:
    row: int
    line: str
    station: int
    point: tuple[float, float, float]
    side: str
    known: str


def _units_row(row: dict[str, str]) -> bool:
    return all(row.get(c, "").lower() in LENGTH_UNITS for c in ("x", "y", "z"))


def _number(text: str, unit: str | None, units: Units) -> float:
    """A reading: bare numbers in the units row's unit, else in the shop's."""
    try:
        return float(text) * LENGTH_UNITS[unit] if unit else read_length_m(text, units)
    except ValueError as error:
        if isinstance(error, CoreError):
            raise
        return read_length_m(text, units)


def _read_row(
    number: int, cells: dict[str, str], unit: dict[str, str], units: Units, table: OffsetTable
) -> _Reading | None:
    def wrong(column: str, text: str) -> None:
        table.problems.append(Problem(number, column, text))

    before = len(table.problems)
    if not cells["line"]:
        wrong("line", "empty; accepted: a name such as keel, chine, sheer")
    station = 0
    try:
        station = int(cells["station"])
        if station < 1:
            raise ValueError
    except ValueError:
        wrong("station", f"read “{cells['station']}”; accepted: 1, 2, 3 … from aft")
    point = []
    for column in ("x", "y", "z"):
        try:
            value = _number(cells[column], unit.get(column), units)
            if not abs(value) <= FARTHEST_M:
                wrong(column, f"read {value:g} m; accepted: within {FARTHEST_M:g} m; check the units")
            point.append(round(value, 9))
        except CoreError as error:
            wrong(column, error.message)
    if len(point) == 3 and point[1] < 0:
        wrong("y", f"read {cells['y']}; half-widths are 0 or more, the side column says which side")
    side = cells.get("side", "").lower()
    if side not in SIDES:
        wrong("side", f"read “{side}”; accepted: port, starboard, both, or empty")
    status = cells.get("status", "").lower()
    if status not in STATUSES:
        wrong("status", f"read “{status}”; accepted: measured, estimated, scanned, or empty")
    if len(table.problems) > before:
        return None
    return _Reading(
        number, meant(cells["line"]), station, (point[0], point[1], point[2]), side, status or "measured"
    )


def _family(readings: list[_Reading], table: OffsetTable) -> tuple[KnuckleLine, ...]:
    """Knuckle lines in the order they first appear; problems go to the table."""
    by_line: dict[str, list[_Reading]] = {}
    for reading in readings:
        by_line.setdefault(reading.line, []).append(reading)
    out = []
    count = max(len(v) for v in by_line.values())
    for name, group in by_line.items():
        group.sort(key=lambda r: r.station)
        start = len(table.problems)
        for a, b in pairwise(group):
            if a.station == b.station:
                table.problems.append(
                    Problem(b.row, "station", f"station {b.station} of {name} stands twice")
                )
            elif not b.point[0] > a.point[0]:
                table.problems.append(
                    Problem(b.row, "x", f"x is {b.point[0]:g} m after {a.point[0]:g} m; x must grow "
                            "from aft to fore: is it measured from the bow?")
                )  # fmt: skip
        if len(group) < 2:
            table.problems.append(Problem(group[0].row, "line", f"{name} has one reading only"))
        elif len(group) != count:
            table.problems.append(
                Problem(group[-1].row, "line", f"{name} has {len(group)} readings, another line "
                        f"{count}; every line needs the same stations")
            )  # fmt: skip
        if len(table.problems) > start:
            continue
        straight = "straight" if len(group) == 2 else "smooth"
        known = [r.known for r in group]
        line = {"name": name, "along": straight, "points": tuple(r.point for r in group),
                "known": known[0] if len(set(known)) == 1 else tuple(known)}  # fmt: skip
        out.append(KnuckleLine.model_validate(line))
    return tuple(out)


def _whole(table: OffsetTable) -> None:
    """Checks over all lines together, by the document's own rules."""
    try:
        Hull.model_validate(
            {
                "mass": {"value": 1.0, "centre": (0.0, 0.0, 0.0)},
                "lines": table.lines,
                "starboard": table.starboard,
            }
        )
    except ValidationError as error:
        told = explain(error.errors(include_url=False)[0], {})
        table.problems.append(Problem(0, "", told.message))
    if len(table.lines) < 2:
        table.problems.append(Problem(0, "", "a hull needs at least two lines: keel and sheer"))


def _read_head(number: int, cells: list[str], table: OffsetTable) -> None:
    """The columns; what is missing or not known is a problem."""
    table.header = [c.lower() for c in cells]
    accepted = f"accepted: {', '.join(COLUMNS)}"
    missing = [(c, f"no column “{c}”; {accepted}") for c in NEEDED if c not in table.header]
    foreign = [(c, f"unknown column; {accepted}") for c in table.header if c not in COLUMNS]
    table.problems += [Problem(number, column, told) for column, told in (*missing, *foreign)]


def _make_lines(readings: list[_Reading], table: OffsetTable) -> None:
    """The lines of both sides from clean readings; none when they do not make a hull."""
    table.backward = _backward(readings)
    left = [r for r in readings if r.side != "starboard"]
    right = [r for r in readings if r.side == "starboard"]
    port = _family(left, table) if left else ()
    other = _family(right, table) if right else None
    if table.problems:
        return
    table.lines, table.starboard = port, other
    _whole(table)
    if table.problems:
        table.lines, table.starboard = (), None


def read_offsets(text: str, units: Units) -> OffsetTable:
    """Read a table; `lines` is set only when `problems` is empty."""
    table = OffsetTable()
    try:
        rows = [(n, r) for n, r in enumerate(rows_of(text), start=1) if any(r)]
    except CoreError as error:
        table.problems.append(Problem(0, "", error.message))
        return table
    if not rows:
        table.problems.append(Problem(0, "", "the table is empty; its first row names the columns"))
        return table
    _read_head(*rows[0], table)
    if not table.problems and len(rows) > MOST_ROWS:
        table.problems.append(Problem(0, "", f"{len(rows)} rows; accepted: up to {MOST_ROWS}"))
    if table.problems:
        return table
    unit, head = _units_of(text), table.header
    body = rows[2:] if unit else rows[1:]
    readings = []
    for number, cells in body:
        padded = cells + [""] * (len(head) - len(cells))
        table.rows.append((number, padded[: len(head)]))
        reading = _read_row(number, dict(zip(head, padded, strict=False)), unit, units, table)
        if reading:
            readings.append(reading)
    if not body:
        table.problems.append(Problem(0, "", "the table has no readings"))
    if readings and not table.problems:
        _make_lines(readings, table)
    return table


def _lines_of(readings: list[_Reading]) -> list[list[_Reading]]:
    """Readings of each line and side, by station."""
    found: dict[tuple[str, bool], list[_Reading]] = {}
    for reading in readings:
        found.setdefault((reading.line, reading.side == "starboard"), []).append(reading)
    return [sorted(group, key=lambda r: r.station) for group in found.values()]


def _backward(readings: list[_Reading]) -> bool:
    """Whether x falls from station to station on every line."""
    pairs = [(a, b) for group in _lines_of(readings) for a, b in pairwise(group)]
    return bool(pairs) and all(b.point[0] < a.point[0] for a, b in pairs)


def turn_round(text: str, units: Units, what: str) -> str:
    """The table turned from the bow to the transom, where x falls with the station throughout.

    what: "x" when distances were taken from the bow: each becomes the first line's first
    distance less it; "stations" when only their numbers were counted from the bow. Tables that
    do not run backward come back as they are.
    """
    table = read_offsets(text, units)
    if not table.backward:
        return text
    body = OffsetTable()
    unit = _units_of(text)
    readings = [
        r for number, cells in table.rows
        if (r := _read_row(number, dict(zip(table.header, cells, strict=False)), unit, units, body))
    ]  # fmt: skip
    groups = _lines_of(readings)
    cells: dict[tuple[int, int], str] = {}
    for group in groups:
        for k, reading in enumerate(group):
            if what == "x":
                value = groups[0][0].point[0] - reading.point[0]
                cells[reading.row, table.header.index("x")] = f"{value * 1000:.2f} mm"
            else:
                cells[reading.row, table.header.index("station")] = str(len(group) - k)
    return mend_cells(text, cells)


def _units_of(text: str) -> dict[str, str]:
    """Units of the units row, if there is one."""
    rows = [r for r in rows_of(text) if any(r)]
    head = [c.lower() for c in rows[0]]
    if len(rows) < 2 or not _units_row(dict(zip(head, rows[1], strict=False))):
        return {}
    return {c: v.lower() for c, v in zip(head, rows[1], strict=False) if c in "xyz"}


def mend_cells(text: str, cells: dict[tuple[int, int], str]) -> str:
    """The table with some cells replaced; (row, column): row 1 is the first line, column 0
    the first cell. Places that are not there are left out."""
    rows = rows_of(text)
    for (row, column), value in cells.items():
        if 1 <= row <= len(rows) and 0 <= column <= 60:
            line = rows[row - 1]
            line += [""] * (column + 1 - len(line))
            line[column] = value.strip()
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows(rows)
    return out.getvalue()


def write_offsets(hull: Hull, unit: str = "mm") -> str:
    """The hull's readings as an offset table with a units row."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    writer.writerow(["", "", unit, unit, unit, "", "", ""])
    both = "both" if hull.starboard is None else "port"

    def show(value_m: float) -> str:
        return f"{value_m / LENGTH_UNITS[unit]:.3f}".rstrip("0").rstrip(".")

    for lines, side in ((hull.lines, both), (hull.starboard or (), "starboard")):
        for line in lines:
            for k, p in enumerate(line.points, start=1):
                writer.writerow([safe(line.name), k, *(show(v) for v in p), side, line.known_at(k - 1), ""])
    return out.getvalue()
