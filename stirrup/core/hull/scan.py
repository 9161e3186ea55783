"""A scan's mesh as readings: set upright by three picks, cut at sections, traced line by line.

Lines are found on each side of a section by its greatest distance from a chord: keel and
sheer are its lowest point and its highest; the chine lies farthest outside the chord
between them; a further line farthest outside the chords to it.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
import scipy
from numpy.typing import NDArray

from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.hull.model import READING_SPREAD_M, KnuckleLine
from stirrup.core.hull.symmetry import onto_middle
from stirrup.core.record import dataclass

Array = NDArray[np.float64]

CUTS = 161  # sections the lines are traced on, before readings are taken from the traces
KNUCKLE_M = 0.006  # a line nearer to its chord than this is not there
END_ROWS = 8  # sections that a line is carried on from, straight, to the transom or the stem
STEEP = 1.0  # slope of the profile from which it is transom or stem, not keel
SHORTEST_M, LONGEST_M = 1.5, 15.0
LINE_SETS = {
    "keel, chine, sheer": ("keel", "chine", "sheer"),
    "keel, bottom knuckle, chine, sheer": ("keel", "pad", "chine", "sheer"),
    "keel, bilge lines, sheer": ("keel", "bilge 1", "bilge 2", "bilge 3", "sheer"),
}


@dataclass(frozen=True)
class Section:
    """Segments (m, 2, 2) of one section, columns y to port and z up [m], at x [m]."""

    x: float
    segments: Array


@dataclass(frozen=True)
class Scanned:
    """Readings of both sides, and how far port and starboard lie apart at most [m]."""

    port: tuple[KnuckleLine, ...]
    starboard: tuple[KnuckleLine, ...]
    apart_m: float
    apart_at: str

    def averaged(self) -> tuple[KnuckleLine, ...]:
        """One side for both: the mean, with half the difference as its spread."""
        lines = []
        for a, b in zip(self.port, self.starboard, strict=True):
            both = np.array([a.points, b.points])
            off = float(np.abs(both[0, :, 1:] - both[1, :, 1:]).max()) / 2
            spread = max(READING_SPREAD_M["scanned"], off)
            lines.append(_line(a.name, both.mean(axis=0), spread))
        return tuple(lines)


def upright(aft: Sequence[float], fore: Sequence[float], top: Sequence[float]) -> tuple[Array, Array]:
    """Rotation (3, 3) and origin (3,) that set a scan upright: boat = R (p - origin).

    aft: the keel at the transom; fore: the keel further forward, on its straight run; top: the
    top of the stem, all on the centreline, in the scan's own axes. x runs from aft to fore, z
    in the plane of the three, y = z × x. Raises CoreError when they lie on one line.
    """
    a, b, c = (np.asarray(p, dtype=np.float64) for p in (aft, fore, top))
    run, up = b - a, c - a
    length = float(np.linalg.norm(run))
    if length < 1e-9:
        raise CoreError("the two keel picks are the same point", "fore")
    x = run / length
    z = up - (up @ x) * x
    high = float(np.linalg.norm(z))
    if high < 0.02 * length:
        raise CoreError("the three picks lie on one line; the third is the top of the stem", "top")
    z /= high
    return np.array([x, np.cross(z, x), z]), a


def guess_frame(points: Array, normals: Array) -> tuple[Array, Array]:
    """Rows forward, to port and up (3, 3) of a scan as it lies, and its middle (3,).

    points, normals (n, 3), evenly over the surface. The longest principal axis is her length;
    across is the axis she mirrors best over, turned onto the plane of symmetry; up is where
    she is wider, the bow her narrower end. A guess: the picks can correct it.
    """
    middle = points.mean(axis=0)
    _, _, axes = np.linalg.svd(points - middle, full_matrices=False)
    extent = float(np.ptp((points - middle) @ axes[0]))

    def unlike(axis: int) -> float:
        """How far the points lie from their mirror image over an axis, on average."""
        local = (points - middle) @ axes.T / extent
        mirrored = local * np.where(np.arange(3) == axis, -1.0, 1.0)
        mirrored[:, axis] += 2 * float(np.median(local[:, axis]))
        return float(np.mean(np.asarray(scipy.spatial.KDTree(local).query(mirrored)[0])))

    across = min((1, 2), key=unlike)
    frame = np.array([axes[0], axes[across], np.cross(axes[0], axes[across])])
    small, shift = onto_middle((points - middle) @ frame.T / extent, normals @ frame.T)
    middle = middle + shift * extent @ frame
    frame = small @ frame
    local = (points - middle) @ frame.T
    half = np.abs(local[:, 1])

    def width(axis: int, end: int, share: float) -> float:
        place = local[:, axis] * end
        return float(half[place >= place.max() - share * np.ptp(place)].max())

    bow = 1.0 if width(0, 1, 0.08) <= width(0, -1, 0.08) else -1.0
    up = 1.0 if width(2, 1, 0.15) >= width(2, -1, 0.15) else -1.0
    x, z = bow * frame[0], up * frame[2]
    return np.array([x, np.cross(z, x), z]), middle


def guess_picks(points: Array, normals: Array) -> tuple[Point, Point, Point]:
    """Keel aft, keel forward and top of the stem of a scan, on its guessed middle."""
    frame, middle = guess_frame(points, normals)
    local = (points - middle) @ frame.T
    low, extent = local[:, 0].min(), float(np.ptp(local[:, 0]))
    middle_strip = np.abs(local[:, 1]) <= 0.02 * extent
    near = local[middle_strip] if middle_strip.any() else local
    place = (near[:, 0] - low) / extent

    def lowest(share: float) -> Array:
        # a scan with holes may have nothing just there: then the nearest place counts
        away = np.abs(place - share)
        ring = near[away <= max(0.05, float(away.min()))]
        return np.asarray(ring[np.argmin(ring[:, 2])])

    fore = near[place >= min(0.85, float(place.max()))]
    picks = []
    for p in (lowest(0.08), lowest(0.4), fore[np.argmax(fore[:, 2])]):
        x, y, z = np.array([p[0], 0.0, p[2]]) @ frame + middle
        picks.append((round(float(x), 4), round(float(y), 4), round(float(z), 4)))
    return picks[0], picks[1], picks[2]


def cuts(low: float, high: float, count: int = CUTS) -> Array:
    """x of the sections that the lines are traced on, just inside the ends [m].

    Raises CoreError when the length is not that of a small boat.
    """
    length = high - low
    if not SHORTEST_M <= length <= LONGEST_M:
        raise CoreError(
            f"the scan is {length:.3g} m long; accepted: {SHORTEST_M:g} to {LONGEST_M:g} m: "
            "is its unit right",
            "unit",
        )
    inset = 1e-3 * length
    return np.linspace(low + inset, high - inset, count)


def _half(segments: Array, side: int) -> Array:
    """Points (n, 2) of one side's segments, outward positive, cut at the centreline."""
    s = segments * np.array([side, 1.0])
    a, b = s[:, 0], s[:, 1]
    keep = (a[:, 0] >= 0) | (b[:, 0] >= 0)
    a, b = a[keep].copy(), b[keep].copy()
    for p, q in ((a, b), (b, a)):
        out = p[:, 0] < 0
        share = q[out, 0] / (q[out, 0] - p[out, 0])
        p[out] = q[out] + share[:, None] * (p[out] - q[out])
    # points along the segments as well, so that a long one is felt
    steps = np.linspace(0, 1, 5)[:, None, None]
    return np.asarray((a + steps * (b - a)).reshape(-1, 2))


def _farthest(points: Array, a: Array, b: Array) -> tuple[Array, float]:
    """The point farthest outside the chord from a up to b, and its distance [m]."""
    chord = b - a
    length = float(np.hypot(*chord))
    if length < 1e-6 or not len(points):
        return a, 0.0
    outward = np.array([chord[1], -chord[0]]) / length
    along = (points - a) @ chord / length**2
    away = np.where((along > 0.02) & (along < 0.98), (points - a) @ outward, -1.0)
    k = int(np.argmax(away))
    return points[k], float(away[k])


@dataclass(frozen=True)
class _Trace:
    """One line before readings are taken: x, half-breadth, height of each section that shows it."""

    rows: Array  # (n, 3)

    def at(self, x: float) -> tuple[float, float]:
        """Half-breadth and height at x, straight on beyond the sections that show the line."""
        rows = self.rows
        out = []
        for k in (1, 2):
            value = float(np.interp(x, rows[:, 0], rows[:, k]))
            if x < rows[0, 0] or x > rows[-1, 0]:
                near = rows[:END_ROWS] if x < rows[0, 0] else rows[-END_ROWS:]
                _, level = np.polyfit(near[:, 0] - x, near[:, k], 1)
                value = float(level)
            out.append(value)
        return out[0], out[1]


def _flat_run(x: Array, z: Array) -> tuple[int, int]:
    """First and last index of the contour that is not as steep as a transom or a stem."""
    slope = np.diff(z) / np.diff(x)
    flat = np.flatnonzero(np.abs(slope) <= STEEP)
    if not len(flat):
        raise CoreError("no section shows a keel; are the picks on the centreline", "aft")
    return int(flat[0]), int(flat[-1]) + 1


def _inner(names: Sequence[str], points: Array, low: Array, top: Array) -> dict[str, Array]:
    """Points of the lines between keel and sheer in one section."""
    corner, away = _farthest(points, low, top)
    if away < KNUCKLE_M:
        return {}
    if "chine" in names:
        found = {"chine": corner}
        if "pad" in names:
            pad, off = _farthest(points, low, corner)
            if off >= KNUCKLE_M / 3:
                found["pad"] = pad
        return found
    under, _ = _farthest(points, low, corner)
    over, _ = _farthest(points, corner, top)
    return {"bilge 1": under, "bilge 2": corner, "bilge 3": over}


def _traces(sections: Sequence[Section], names: Sequence[str], side: int) -> dict[str, _Trace]:
    halves = [(s.x, _half(s.segments, side)) for s in sections if len(s.segments)]
    halves = [(x, p) for x, p in halves if len(p) >= 2]
    if len(halves) < 8:
        raise CoreError("the sections do not meet the scan; are the picks on the centreline", "aft")
    lows = np.array([(x, *p[np.argmin(p[:, 1] + 0.2 * p[:, 0])]) for x, p in halves])
    tops = np.array([(x, *p[np.argmax(p[:, 1] + 0.02 * p[:, 0])]) for x, p in halves])
    k0, k1 = _flat_run(lows[:, 0], lows[:, 2])
    s0, s1 = _flat_run(tops[:, 0], tops[:, 2])
    traces = {"keel": _Trace(lows[k0 : k1 + 1]), "sheer": _Trace(tops[s0 : s1 + 1])}
    inner: dict[str, list[tuple[float, float, float]]] = {}
    for (x, points), low, top in zip(halves, lows, tops, strict=True):
        if x < lows[k0, 0]:
            continue  # only the transom is cut there
        for name, p in _inner(names, points, low[1:], top[1:]).items():
            inner.setdefault(name, []).append((x, float(p[0]), float(p[1])))
    for name in names:
        if name in traces:
            continue
        if len(inner.get(name, ())) < 4:
            raise CoreError(f"the sections show no {name}; choose another set of lines", "lines")
        traces[name] = _Trace(np.array(inner[name]))
    return traces


def _line(name: str, points: Array, spread: float) -> KnuckleLine:
    rows = [[float(round(v, 4)) for v in p] for p in points]
    return KnuckleLine.model_validate(
        {"name": name, "points": rows, "known": "scanned", "spread": round(spread, 4)}
    )


def _readings(traces: dict[str, _Trace], names: Sequence[str], stations: int) -> dict[str, Array]:
    """Readings (stations, 3) of each line, from the transom to the stem."""
    keel, sheer = traces["keel"].rows, traces["sheer"].rows
    ends = [(keel[i], sheer[i]) for i in (0, -1)]
    out: dict[str, Array] = {}
    for name in names:
        trace = traces[name]
        if name in ("keel", "sheer"):
            first, last = float(trace.rows[0, 0]), float(trace.rows[-1, 0])
        else:
            # transom and stem are straight: a line ends where it meets them
            first, last = (
                _meets(trace, low, top, end) for end, (low, top) in zip((0, -1), ends, strict=True)
            )
        xs = first + (last - first) * np.arange(stations) / (stations - 1)
        points = np.array([(x, *trace.at(float(x))) for x in xs])
        points[:, 1] = 0.0 if name == "keel" and points[:, 1].max() < 0.02 else np.maximum(points[:, 1], 0)
        out[name] = points
    for below, above in pairwise(names):
        # a line that is extrapolated into the stem does not cross its neighbour
        out[above][:, 2] = np.maximum(out[above][:, 2], out[below][:, 2])
        if above != "sheer":
            out[above][:, 2] = np.minimum(out[above][:, 2], out["sheer"][:, 2] - 0.001)
            out[above][:, 1] = np.minimum(
                out[above][:, 1], np.maximum(out["sheer"][:, 1], out[below][:, 1])
            )
    return out


def _meets(trace: _Trace, low: Array, top: Array, end: int) -> float:
    """x where a line meets the straight transom or stem between the ends of keel and sheer."""
    x = float(low[0])
    for _ in range(8):
        z = trace.at(x)[1]
        share = float(np.clip((z - low[2]) / max(top[2] - low[2], 1e-6), 0, 1))
        x = float(low[0] + share * (top[0] - low[0]))
    return x


def scan_readings(sections: Sequence[Section], lines: str, stations: int) -> Scanned:
    """Readings of both sides at so many stations from the sections of an upright scan.

    lines: a key of LINE_SETS. Raises CoreError
    when the sections show no keel or too few of them a line.
    """
    if lines not in LINE_SETS:
        raise CoreError(f"read “{lines}”; accepted: {'; '.join(LINE_SETS)}", "lines")
    if not 5 <= stations <= 25:
        raise CoreError(f"read {stations} stations; accepted: 5 to 25", "stations")
    names = LINE_SETS[lines]
    sides = [_readings(_traces(sections, names, side), names, stations) for side in (1, -1)]
    spread = READING_SPREAD_M["scanned"]
    port, other = (tuple(_line(n, side[n], spread) for n in names) for side in sides)
    worst, at = 0.0, ""
    for a, b in zip(port, other, strict=True):
        off = np.abs(np.array(a.points) - np.array(b.points))[:, 1:].max(axis=1)
        if off.max() > worst:
            worst, at = float(off.max()), f"{a.name}, station {int(off.argmax()) + 1}"
    return Scanned(port, other, worst, at)
