"""Lines drawing on one A3 sheet at a round scale, with dimensions."""

from __future__ import annotations

from stirrup.core.hull.mesh import HullSurface
from stirrup.core.hull.model import Hull
from stirrup.core.units import Units, write_length
from stirrup.exchange.paper import MARGIN, PAPER, SCALES, Drawing, Pair, Words

BESIDE = 26.0  # room left and right of the hull for the heights


def _scale_for(length: float, deep: float) -> int:
    """Largest scale at which profile, half-breadths and body plan stand below one another."""
    wide, high = PAPER[0] - 2 * MARGIN - 2 * BESIDE, PAPER[1] - 2 * MARGIN - 80
    for scale in SCALES:
        if length * 1000 / scale <= wide and deep * 1000 / scale <= high:
            return scale
    return SCALES[-1] * 2


def draw_lines(hull: Hull, surface: HullSurface, name: str, units: Units) -> Drawing:
    """Profile, half-breadths and body plan of a hull, as one sheet."""
    low, high = surface.outside.low, surface.outside.high
    length, beam, depth = (float(high[k] - low[k]) for k in range(3))
    scale = _scale_for(length, 2 * depth + beam / 2)
    k = 1000 / scale
    sheet = Drawing(scale, f"{name}: lines 1:{scale}")
    x0 = MARGIN + BESIDE - float(low[0]) * k
    top = PAPER[1] - MARGIN - 14
    base = top - float(high[2]) * k
    _profile(sheet, hull, surface, (x0, base), k, units)
    middle = base + float(low[2]) * k - 24 - float(max(high[1], -low[1])) * k
    _half_breadths(sheet, hull, surface, (x0, middle), k, units)
    foot = middle - 20 - depth * k
    _body(sheet, hull, (PAPER[0] * 0.32, foot), k)
    sheet.words.append(Words((MARGIN, PAPER[1] - MARGIN), sheet.title, 5.0))
    measured = sum(line.known_at(i) == "measured" for line in hull.lines for i in range(len(line.points)))
    count = sum(len(line.points) for line in hull.lines)
    notes = (
        f"dimensions in {units.length}; outside of the skin; print without fitting to the page",
        f"{measured} of {count} readings measured",
        f"beam {write_length(beam, units)}, depth {write_length(depth, units)}",
    )
    for row, note in enumerate(notes):
        sheet.words.append(Words((PAPER[0] * 0.58, foot + 14 - 5 * row), note, 3.0))
    ends = ((PAPER[0] * 0.58, foot + 24), (PAPER[0] * 0.58 + 100, foot + 24))
    on_boat = write_length(0.1 * scale, units)
    sheet.dimension(*ends, 0.0, f"this line is {on_boat} long on the boat, 100 mm on paper")
    return sheet


def _profile(sheet: Drawing, hull: Hull, surface: HullSurface, at: Pair, k: float, units: Units) -> None:
    x0, base = at

    def put(x: float, z: float) -> Pair:
        return (x0 + x * k, base + z * k)

    for j, line in enumerate(surface.lines[0]):
        outer = j in (0, len(surface.lines[0]) - 1)
        sheet.line([put(p[0], p[2]) for p in line], "HULL" if outer else "LINES")
    for end in (0, -1):
        sheet.line([put(line[end][0], line[end][2]) for line in surface.lines[0]], "HULL")
    sheet.line([put(float(surface.outside.low[0]), 0), put(float(surface.outside.high[0]), 0)], "STATIONS")
    for i, foot in enumerate(hull.lines[0].points):
        column = [line.points[i] for line in hull.lines]
        sheet.line([put(p[0], p[2]) for p in column], "STATIONS")
        sheet.words.append(Words(put(column[-1][0], column[-1][2] + 3 / k), str(i + 1), 3.0, 0))
        if i and foot[0] > 0:
            tail = (put(foot[0], 0)[0], base - 6)
            sheet.words.append(Words(tail, write_length(foot[0], units), 2.2, 0))
    low, high = float(surface.outside.low[0]), float(surface.outside.high[0])
    sheet.dimension(put(low, 0), put(high, 0), -12.0, f"{write_length(high - low, units)} over all")
    aft, bow = hull.lines[-1].points[0], hull.lines[-1].points[-1]
    sheet.dimension(put(bow[0], 0), put(bow[0], bow[2]), 5.0, write_length(bow[2], units))
    sheet.dimension(put(aft[0], 0), put(aft[0], aft[2]), -6.0, write_length(aft[2], units))


def _half_breadths(
    sheet: Drawing, hull: Hull, surface: HullSurface, at: Pair, k: float, units: Units
) -> None:
    x0, middle = at

    def put(x: float, y: float) -> Pair:
        return (x0 + x * k, middle + y * k)

    for j, line in enumerate(surface.lines[0]):
        outer = j == len(surface.lines[0]) - 1
        sheet.line([put(p[0], p[1]) for p in line], "HULL" if outer else "LINES")
    for end in (0, -1):
        sheet.line([put(line[end][0], line[end][1]) for line in surface.lines[0]], "HULL")
    sheet.line([put(float(surface.outside.low[0]), 0), put(float(surface.outside.high[0]), 0)], "STATIONS")
    widest = max(hull.lines[-1].points, key=lambda p: abs(p[1]))
    for i in range(len(hull.lines[0].points)):
        sheet.line([put(line.points[i][0], abs(line.points[i][1])) for line in hull.lines], "STATIONS")
    foot, edge = put(widest[0], 0), put(widest[0], abs(widest[1]))
    sheet.dimension(foot, edge, 3.0, write_length(abs(widest[1]), units))
    aft = hull.lines[-1].points[0]
    sheet.dimension(put(aft[0], 0), put(aft[0], abs(aft[1])), -6.0, write_length(abs(aft[1]), units))


def _body(sheet: Drawing, hull: Hull, at: Pair, k: float) -> None:
    """Forward stations to the right, after ones to the left; starboard's own where measured."""
    x0, base = at
    taken: list[Pair] = []
    count = len(hull.lines[0].points)
    for i in range(count):
        sign = 1.0 if i >= count / 2 else -1.0
        column = [line.points[i] for line in hull.lines]
        sheet.line([(x0 + sign * abs(p[1]) * k, base + p[2] * k) for p in column], "LINES")
        x, y = x0 + sign * abs(column[-1][1]) * k, base + column[-1][2] * k + 1.5
        # the number of a close neighbour moves up until it can be read
        while any(abs(x - px) < 3.0 and abs(y - py) < 2.6 for px, py in taken):
            y += 0.5
        taken.append((x, y))
        sheet.words.append(Words((x, y), str(i + 1), 2.2, 0))
    tall = max(p[2] for p in hull.lines[-1].points) * k
    sheet.line([(x0, base), (x0, base + tall)], "STATIONS")
