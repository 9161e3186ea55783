"""Checks of the station readings: slips of tape and unit, dips, level, twist, sides that differ."""

from __future__ import annotations

import math
from itertools import pairwise

from stirrup.core.document import Point
from stirrup.core.findings import Finding, Input, Quantity, Working, declare
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.hull.model import Hull, KnuckleLine

declare(
    "survey",
    {
        "DIAGONALS": "diagonals",
        "ESTIMATED": "estimated readings",
        "KEEL-DIPS": "a keel that dips",
        "OUT-OF-LEVEL": "readings taken out of level",
        "READING-OFF": "a reading off its neighbours",
        "READINGS": "whether the readings run fair",
        "SHEER-LOW": "a sheer under the chine",
        "SIDES-DIFFER": "two sides that differ",
        "UNIT-SLIP": "a reading in the wrong unit",
    },
)

TAPE_M = 0.006  # what a careful tape reading may be off
KINK_M = 0.030  # a reading this far off the run of its neighbours is looked at
LEVEL_SLOPE = 0.004  # the flattest run of the keel may rise this much for each metre
FLAT_SHARE = 0.35  # the after part of the keel in which its flattest run is looked for
INCH_RATIO = 25.4
RATIO_SLACK = 0.25  # of 25.4: a reading with the wrong unit is rarely nearer
SIDE_AXES = ("distance from the transom", "half-width", "height")
AXES = ("x", "half-width", "height")


def reading_place(line: str, k: int, starboard: bool = False) -> str:
    """Place of a reading as findings name it."""
    return f"{'starboard/' if starboard else ''}{line}/{k}"


def _expected(line: KnuckleLine, k: int, axis: int) -> float:
    """Where reading k should lie by its neighbours: the cubic through two on each side, the
    straight line through one on each side, or the run of the two beside an end."""
    count, x = len(line.points), line.points[k][0]
    if 2 <= k < count - 2:
        chosen = [k - 2, k - 1, k + 1, k + 2]
    elif 0 < k < count - 1:
        chosen = [k - 1, k + 1]
    else:
        chosen = [1, 2] if k == 0 else [count - 3, count - 2]
    value = 0.0
    for i in chosen:
        share = 1.0
        for j in chosen:
            if i != j:
                share *= (x - line.points[j][0]) / (line.points[i][0] - line.points[j][0])
        value += share * line.points[i][axis]
    return value


def _said(line: KnuckleLine, k: int, starboard: bool) -> str:
    return f"{line.name}{', starboard' if starboard else ''}, station {k + 1}"


def _unit_slips(line: KnuckleLine, starboard: bool) -> list[Finding]:
    """Readings 25.4 times too small or too large: inches in a millimetre column, or the reverse."""
    out: list[Finding] = []
    if len(line.points) < 4:
        return out
    for k, point in enumerate(line.points):
        for axis in (1, 2):
            if axis == 1 and k in (0, len(line.points) - 1):
                continue  # a pointed end is narrow in earnest
            # the nearest four, so that one bad neighbour does not make the middle one of them
            near = sorted((i for i in range(len(line.points)) if i != k), key=lambda i: abs(i - k))[:4]
            around = sorted(line.points[i][axis] for i in near)[(len(near) - 1) // 2]
            if point[axis] < 1e-3 or around < 0.02:
                continue
            ratio = around / point[axis]
            for factor, words in ((INCH_RATIO, "inches read as millimetres"),
                                  (1 / INCH_RATIO, "millimetres read as inches")):  # fmt: skip
                if abs(ratio / factor - 1) < RATIO_SLACK:
                    out.append(
                        Finding("UNIT-SLIP", "mend", reading_place(line.name, k, starboard),
                                f"{_said(line, k, starboard)}: {AXES[axis]} in the wrong unit",
                                "{read} stands where {around} runs: {better} would fit, as if "
                                + words + ".",
                                {"read": Quantity(point[axis], "m", True),
                                 "around": Quantity(around, "m", True),
                                 "better": Quantity(point[axis] * factor, "m", True)},
                                "Type it again with its unit.")
                    )  # fmt: skip
    return out


def _kinks(line: KnuckleLine, starboard: bool, slips: set[str]) -> list[Finding]:
    """The reading that leaves the run of its neighbours most, for each axis."""
    out: list[Finding] = []
    if line.along == "straight":
        return out
    for axis in (1, 2):
        offs = {k: line.points[k][axis] - _expected(line, k, axis) for k in range(2, len(line.points) - 2)}
        if not offs:
            continue
        worst = max(offs, key=lambda k: abs(offs[k]))
        off, place = offs[worst], reading_place(line.name, worst, starboard)
        if abs(off) < KINK_M or place in slips or line.known_at(worst) == "estimated":
            continue
        out.append(
            Finding(
                "READING-OFF",
                "look",
                place,
                f"{_said(line, worst, starboard)}: {AXES[axis]} leaves the run",
                "It lies {off} off the curve through its neighbours.",
                {"off": Quantity(abs(off), "m", True)},
                "Measure it again, or keep it if the boat has a step there.",
                Working(
                    "off = reading - cubic through the two readings before and after",
                    (Input("reading", Quantity(line.points[worst][axis], "m"), "survey"),),
                    Quantity(off, "m", True),
                    f"limit {KINK_M * 1000:.0f} mm: working limit of the shop",
                ),
            )
        )
    return out


def _keel_dips(hull: Hull) -> list[Finding]:
    """A keel reading in the straight run that dips or rises against the two beside it."""
    keel = hull.lines[0]
    if max(p[1] for p in keel.points) > 1e-6 or len(keel.points) < 4:
        return []
    length = keel.points[-1][0] - keel.points[0][0]
    out = []
    for k in range(1, len(keel.points) - 1):
        before, here, after = keel.points[k - 1 : k + 2]
        if after[0] > keel.points[0][0] + 0.6 * length or keel.known_at(k) == "estimated":
            continue
        off = here[2] - _expected_straight(before, here, after)
        # a fair keel only curves upward towards the bow: a high spot is a hook as well
        if off < -TAPE_M or off > TAPE_M:
            if abs(off) >= KINK_M:
                continue  # said already, as leaving the run
            out.append(
                Finding("KEEL-DIPS", "look", reading_place(keel.name, k),
                        f"keel, station {k + 1}: {'dips' if off < 0 else 'rises'}",
                        "By {off} against the line between its neighbours; a tape slip is at "
                        "most {tape}.",
                        {"off": Quantity(abs(off), "m", True), "tape": Quantity(TAPE_M, "m", True)},
                        "Measure again; if it stays, the bottom has a hook or a hollow there.")
            )  # fmt: skip
    return out


def _expected_straight(before: Point, here: Point, after: Point) -> float:
    share = (here[0] - before[0]) / (after[0] - before[0])
    return before[2] + share * (after[2] - before[2])


def _sheer_low(lines: tuple[KnuckleLine, ...], starboard: bool) -> list[Finding]:
    """A sheer reading below the chine of its own station."""
    chine = next((x for x in reversed(lines) if x.name == "chine"), None)
    sheer = lines[-1]
    if chine is None or chine is sheer:
        return []
    return [
        Finding("SHEER-LOW", "mend", reading_place(sheer.name, k, starboard),
                f"{_said(sheer, k, starboard)}: below the chine",
                "The sheer stands at {sheer}, the chine there at {chine}.",
                {"sheer": Quantity(s[2], "m", True), "chine": Quantity(c[2], "m", True)},
                "Measure both again; they may have changed places.")
        for k, (c, s) in enumerate(zip(chine.points, sheer.points, strict=True)) if s[2] < c[2]
    ]  # fmt: skip


def keel_slope(hull: Hull) -> float:
    """Rise of the keel's flattest run, metres for each metre: zero when she stands level.

    The run is the pair of neighbouring readings with the least slope in the after part.
    """
    keel = hull.lines[0].points
    end = keel[0][0] + FLAT_SHARE * (keel[-1][0] - keel[0][0])
    pairs = [(a, b) for a, b in pairwise(keel) if a[0] < end]
    slopes = [(b[2] - a[2]) / (b[0] - a[0]) for a, b in pairs]
    return min(slopes, key=abs)


def _out_of_level(hull: Hull) -> list[Finding]:
    slope = keel_slope(hull)
    if abs(slope) <= LEVEL_SLOPE:
        return []
    length = hull.lines[0].points[-1][0] - hull.lines[0].points[0][0]
    return [
        Finding("OUT-OF-LEVEL", "look", reading_place(hull.lines[0].name, 0),
                "Surveyed out of level",
                "The flattest run of the keel " + ("rises" if slope > 0 else "falls")
                + " forward by {rise} over her length ({angle}).",
                {"rise": Quantity(abs(slope) * length, "m", True),
                 "angle": Quantity(math.degrees(math.atan(abs(slope))), "deg")},
                "Level the readings from two of the keel's, below.")
    ]  # fmt: skip


def _asymmetry(hull: Hull) -> list[Finding]:
    out: list[Finding] = []
    for port, other in zip(hull.lines, hull.starboard or (), strict=False):
        gaps = [
            (abs(abs(p[i]) - abs(q[i])) if i == 1 else abs(p[i] - q[i]), k, i)
            for k, (p, q) in enumerate(zip(port.points, other.points, strict=True))
            for i in (0, 1, 2)
        ]
        worst, k, axis = max(gaps)
        if worst > TAPE_M:
            out.append(
                Finding("SIDES-DIFFER", "look", reading_place(port.name, k),
                        f"{port.name}, station {k + 1}: {SIDE_AXES[axis]} differs from port to starboard",
                        "By {off}; a tape slip is at most {tape}.",
                        {"off": Quantity(worst, "m", True), "tape": Quantity(TAPE_M, "m", True)},
                        "Measure both again; if it stays, the hull is not symmetrical.")
            )  # fmt: skip
    return out


def transom_skew_m(hull: Hull) -> float | None:
    """How far one upper transom corner lies ahead of the other [m], port ahead positive.

    From the two diagonals to the bow eye: with the corners ±b off the centreline and L along,
    dS² - dP² = (L + e/2)² - (L - e/2)² = 2 L e. None when a diagonal is missing.
    """
    d = hull.diagonals
    if d.port is None or d.starboard is None:
        return None
    corner, bow = hull.lines[-1].points[0], hull.lines[-1].points[-1]
    along = abs(bow[0] - corner[0])
    return (d.starboard**2 - d.port**2) / (2 * along)


def _diagonals(hull: Hull) -> list[Finding]:
    d, skew = hull.diagonals, transom_skew_m(hull)
    if skew is None or d.port is None or d.starboard is None:
        return []
    difference = abs(d.port - d.starboard)
    if difference <= TAPE_M:
        return []
    side = "port" if skew > 0 else "starboard"
    return [
        Finding("DIAGONALS", "look", "diagonals", "The diagonals are unequal",
                "By {off}: the hull is twisted, or the " + side + " corner of the transom stands "
                "{skew} further forward than the other.",
                {"off": Quantity(difference, "m", True), "skew": Quantity(abs(skew), "m", True)},
                "Square what you build to the centreline, not to the transom.")
    ]  # fmt: skip


def hull_findings(hull: Hull, surface: HullSurface) -> list[Finding]:
    """Findings on the readings; one "fine" when there is nothing to say."""
    sides = [(line, False) for line in hull.lines] + [(line, True) for line in hull.starboard or ()]
    out = [f for line, starboard in sides for f in _unit_slips(line, starboard)]
    slips = {f.place for f in out}
    out += [f for line, starboard in sides for f in _kinks(line, starboard, slips)]
    out += _sheer_low(hull.lines, False)
    out += _sheer_low(hull.starboard, True) if hull.starboard else []
    out += _keel_dips(hull) + _asymmetry(hull) + _out_of_level(hull) + _diagonals(hull)
    guesses = sum(line.known_at(k) == "estimated" for line, _ in sides for k in range(len(line.points)))
    count = sum(len(line.points) for line, _ in sides)
    if guesses:
        out.append(
            Finding("ESTIMATED", "unknown", "hull", "Readings still estimated",
                    "{guesses} of {count} come from the quick start.",
                    {"guesses": Quantity(guesses, "count"), "count": Quantity(count, "count")},
                    "See what to measure next.")
        )  # fmt: skip
    if not out:
        out.append(
            Finding("READINGS", "fine", "hull", "Readings run fair",
                    "{count} readings on {lines} lines; the hull encloses {volume}.",
                    {"count": Quantity(count, "count"), "lines": Quantity(len(hull.lines), "count"),
                     "volume": Quantity(surface.outside.volume_m3, "m3")})
        )  # fmt: skip
    return out
