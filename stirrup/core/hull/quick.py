"""Quick start: a hull from a shape family and a handful of tape readings.

The curves between the readings are the family's working shapes (not measured): each
generated reading is marked estimated, and a measured one is never overwritten.
"""

from __future__ import annotations

import math

from stirrup.core.hull.model import KnuckleLine, QuickStart
from stirrup.core.record import dataclass

STATIONS = 9
MIDDLE = 0.5  # where along her the beam is greatest; a station stands there
SQUARE_BOW = 0.72  # breadth of a square bow over the greatest one
POINT_M = 0.015  # half-breadth left at a pointed stem
PAD_SHARE = 0.16  # half-breadth of a jet hull's pad over the bottom's
ROUND_WEIGHT = 1.5  # of the conic that a round bilge is drawn with: larger turns harder
BILGE_AT = (0.3, 0.5, 0.7)  # parameters of the bilge lines along it, keel 0, sheer 1


@dataclass(frozen=True)
class _Bow:
    """Keel's fore end, and how full the bottom is there."""

    pointed: bool
    keel_rise: float  # of the bow's height
    chine_rise: float
    fullness: float  # power of the run-in: larger stays wide longer


_BOWS = {
    "flat bottom, square bow": _Bow(False, 0.42, 0.42, 2.4),
    "flat bottom, pointed": _Bow(True, 0.10, 0.14, 2.2),
    "vee": _Bow(True, 0.46, 0.70, 2.4),
    "jet, centre pad": _Bow(True, 0.42, 0.66, 2.6),
    "round bilge": _Bow(True, 0.40, 0.66, 2.0),
}


def _run_in(u: float, fullness: float) -> float:
    """1 up to the middle, falling to 0 at the bow."""
    return 1.0 if u <= MIDDLE else 1.0 - ((u - MIDDLE) / (1 - MIDDLE)) ** fullness


def _breadth(u: float, aft: float, most: float, bow: float, fullness: float) -> float:
    """Half-breadth at u: from the transom's to the greatest, then in to the bow's."""
    if u <= MIDDLE:
        share = u / MIDDLE
        return aft + (most - aft) * (2 * share - share * share)
    return bow + (most - bow) * _run_in(u, fullness)


def _through(u: float, aft: float, middle: float, fore: float) -> float:
    """Parabola through the values at 0, 1/2 and 1."""
    return aft * (1 - u) * (1 - 2 * u) + middle * 4 * u * (1 - u) + fore * u * (2 * u - 1)


def _keel_z(u: float, top: float) -> float:
    """Straight for the after half, then a curve up to the fore foot."""
    return 0.0 if u <= 0.5 else top * ((u - 0.5) / 0.5) ** 2.6


class _Shape:
    """Half-breadths and heights of one quick hull over u = 0 (transom) to 1 (bow)."""

    def __init__(self, quick: QuickStart) -> None:
        self.quick, self.bow = quick, _BOWS[quick.shape]
        self.most = quick.beam / 2
        self.bottom = quick.bottom / 2
        self.keel_fore = self.bow.keel_rise * quick.side_bow
        # the transom's top is as wide as its bottom lets it be
        self.sheer_aft = max(self.bottom, 0.94 * self.most)
        wide = min(1.06 * self.bottom, 0.97 * self.most)
        self.chine_most = max(self.bottom, wide)

    def sheer(self, u: float) -> tuple[float, float]:
        """Half-breadth and height of the sheer."""
        q = self.quick
        tip = POINT_M if self.bow.pointed else SQUARE_BOW * self.most
        half = _breadth(u, self.sheer_aft, self.most, tip, self.bow.fullness + 0.5)
        return half, _through(u, q.side_aft, q.side_middle, q.side_bow)

    def keel(self, u: float) -> tuple[float, float]:
        """The keel lies on the centreline."""
        return 0.0, _keel_z(u, self.keel_fore)

    def deadrise(self, u: float) -> float:
        """Tangent of the deadrise: through the two readings, steeper towards a pointed bow."""
        q = self.quick
        if q.shape.startswith("flat"):
            return 0.0
        degrees = q.deadrise_aft + (q.deadrise_middle - q.deadrise_aft) * min(1.0, u / 0.5)
        return math.tan(math.radians(degrees))

    def chine(self, u: float) -> tuple[float, float]:
        """Half-breadth and height of the chine."""
        tip = POINT_M * 0.8 if self.bow.pointed else SQUARE_BOW * self.bottom
        half = _breadth(u, self.bottom, self.chine_most, tip, self.bow.fullness)
        half = min(half, self.sheer(u)[0])
        low = self.keel(u)[1] + self.deadrise(u) * half
        end = max(self.bow.chine_rise * self.quick.side_bow, self.keel_fore)
        # towards the bow the chine rises to meet the stem over the fore foot
        share = max(0.0, (u - 0.5) / 0.5) ** 2
        height = low * (1 - share) + end * share
        return half, min(max(height, self.keel(u)[1]), self.sheer(u)[1] - 0.02)

    def pad(self, u: float) -> tuple[float, float]:
        """Edge of a jet hull's level pad."""
        half = PAD_SHARE * self.chine(u)[0]
        return half, self.keel(u)[1]

    def bilge(self, u: float, t: float) -> tuple[float, float]:
        """A point of a round section: the conic from keel to sheer that leaves the keel at the
        deadrise and meets the sheer along the side of the boat whose chine is rounded off.

        Rational quadratic Bézier curve with the chine as its middle control point.
        """
        ends, corner = (self.keel(u), self.sheer(u)), self.chine(u)
        shares = ((1 - t) ** 2, 2 * ROUND_WEIGHT * t * (1 - t), t**2)
        points = (ends[0], corner, ends[1])
        half, z = (sum(w * p[k] for w, p in zip(shares, points, strict=True)) for k in (0, 1))
        return half / sum(shares), z / sum(shares)


def unread(shape: str) -> frozenset[str]:
    """Names of the readings that a shape family makes nothing of: they are not asked for."""
    return frozenset({"deadrise_aft", "deadrise_middle"} if shape.startswith("flat") else ())


def _names(quick: QuickStart) -> list[str]:
    if quick.shape == "round bilge":
        return ["keel", *(f"bilge {k + 1}" for k in range(len(BILGE_AT))), "sheer"]
    if quick.shape == "jet, centre pad":
        return ["keel", "pad", "chine", "sheer"]
    return ["keel", "chine", "sheer"]


def quick_lines(quick: QuickStart) -> tuple[KnuckleLine, ...]:
    """Knuckle lines of a quick start, every reading estimated.

    The sheer runs over the whole length; the transom and the stem are straight and raked, so
    every line begins on the one and ends on the other.
    """
    shape = _Shape(quick)
    lean_aft = math.tan(math.radians(quick.transom_rake))
    lean_fore = math.tan(math.radians(quick.bow_rake))
    aft_top = -lean_aft * quick.side_aft
    tip = quick.length + min(0.0, aft_top)  # so that the whole length is what the tape says
    lines = []
    for name in _names(quick):
        rows = []
        for k in range(STATIONS):
            u = k / (STATIONS - 1)
            if name.startswith("bilge"):
                half, z = shape.bilge(u, BILGE_AT[int(name[-1]) - 1])
            else:
                half, z = getattr(shape, name)(u)
            rows.append((half, z))
        aft = -lean_aft * rows[0][1]
        fore = tip - lean_fore * max(0.0, quick.side_bow - rows[-1][1])
        points = tuple(
            (round(aft + (fore - aft) * k / (STATIONS - 1), 4), round(half, 4), round(z, 4))
            for k, (half, z) in enumerate(rows)
        )
        known = ("estimated",) * STATIONS
        lines.append(KnuckleLine(name=name, along="smooth", points=points, known=known))
    return tuple(lines)


def follow_quick(lines: tuple[KnuckleLine, ...], quick: QuickStart) -> tuple[KnuckleLine, ...]:
    """New lines of a quick start that keep every reading that is not estimated.

    Lines of another shape family replace the old ones as a whole.
    """
    fresh = quick_lines(quick)
    if [x.name for x in fresh] != [x.name for x in lines] or any(len(x.points) != STATIONS for x in lines):
        return fresh
    out = []
    for old, new in zip(lines, fresh, strict=True):
        points, known = list(new.points), ["estimated"] * STATIONS
        for k in range(STATIONS):
            if old.known_at(k) != "estimated":
                points[k], known[k] = old.points[k], old.known_at(k)
        data = {**new.model_dump(), "points": points, "known": known, "spread": old.spread}
        out.append(KnuckleLine.model_validate(data))
    return tuple(out)
