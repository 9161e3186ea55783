"""Checks of the station readings: slips of the tape, dips, sides that differ."""

from __future__ import annotations

import math

from stirrup.core.findings import Finding, Input, Quantity, Working
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.hull.model import Hull, KnuckleLine

TAPE_M = 0.006  # what a careful tape reading may be off
KINK_M = 0.030  # a reading this far off the run of its neighbours is looked at
AXES = ("x", "half-width", "height")


def _off_run(line: KnuckleLine, k: int, axis: int) -> float:
    """How far reading k lies from the cubic through its two neighbours on each side [m]."""
    points = line.points[k - 2 : k] + line.points[k + 1 : k + 3]
    x = line.points[k][0]
    value = 0.0
    for i, p in enumerate(points):
        share = 1.0
        for j, q in enumerate(points):
            if i != j:
                share *= (x - q[0]) / (p[0] - q[0])
        value += share * p[axis]
    return line.points[k][axis] - value


def reading_place(line: str, k: int) -> str:
    """Place of a reading as findings name it."""
    return f"{line}/{k}"


def _kinks(line: KnuckleLine, starboard: bool) -> list[Finding]:
    out = []
    for axis in (1, 2):
        offs = {k: _off_run(line, k, axis) for k in range(2, len(line.points) - 2)}
        if not offs:
            continue
        worst = max(offs, key=lambda k: abs(offs[k]))
        off = offs[worst]
        if abs(off) < KINK_M or line.along == "straight":
            continue
        limit = math.copysign(KINK_M, off)
        out.append(
            Finding(
                "READING-OFF",
                "look",
                reading_place(line.name, worst),
                f"{line.name}{', starboard' if starboard else ''}, station {worst + 1}: "
                f"{AXES[axis]} leaves the run",
                "It lies {off} off the curve through its neighbours.",
                {"off": Quantity(abs(off), "m", True)},
                "Measure it again, or keep it if the boat has a step there.",
                Working(
                    "off = reading - cubic through the two readings before and after",
                    (Input("reading", Quantity(line.points[worst][axis], "m"), "survey"),),
                    Quantity(off, "m", True),
                    f"limit {abs(limit) * 1000:.0f} mm: working limit of the shop",
                ),
            )
        )
    return out


def _asymmetry(hull: Hull) -> list[Finding]:
    out: list[Finding] = []
    for port, other in zip(hull.lines, hull.starboard or (), strict=False):
        gaps = [
            (max(abs(abs(p[i]) - abs(q[i])) for i in (1, 2)), k)
            for k, (p, q) in enumerate(zip(port.points, other.points, strict=True))
        ]
        worst, k = max(gaps)
        if worst > TAPE_M:
            out.append(
                Finding("SIDES-DIFFER", "look", reading_place(port.name, k),
                        f"{port.name}, station {k + 1}: port and starboard differ",
                        "By {off}; a tape slip is at most {tape}.",
                        {"off": Quantity(worst, "m", True), "tape": Quantity(TAPE_M, "m", True)},
                        "Measure both again; if it stays, the hull is not symmetrical.")
            )  # fmt: skip
    return out


def hull_findings(hull: Hull, surface: HullSurface) -> list[Finding]:
    """Findings on the readings; one "fine" when there is nothing to say."""
    out = [f for line in hull.lines for f in _kinks(line, False)]
    out += [f for line in hull.starboard or () for f in _kinks(line, True)]
    out += _asymmetry(hull)
    if not out:
        count = sum(len(line.points) for line in hull.lines)
        out.append(
            Finding("READINGS", "fine", "hull", "Readings run fair",
                    "{count} readings on {lines} lines; the hull encloses {volume}.",
                    {"count": Quantity(count, "count"), "lines": Quantity(len(hull.lines), "count"),
                     "volume": Quantity(surface.outside.volume_m3, "m3")})
        )  # fmt: skip
    return out
