"""Where the members under a level panel stand: edges, hatches, and what divides the bays between.

Every edge of an opening is carried by a member whose flange reaches under it. Edges of two
openings that lie closer together than a flange is wide share one member; where it cannot reach
under both, that is told, since two would not fit.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

import shapely
from shapely import box
from shapely.geometry import Polygon

from stirrup.core.contract.gives import Framed, Opening
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare
from stirrup.core.record import dataclass

declare("layout", {"DECK-SUPPORT": "members under the edges"})

SIDES = ("aft", "fore", "starboard", "port")
LEDGE_M = 0.010  # of flange that must reach past the edge to carry a lid; starting value
FREE_M = 0.001  # left between two flanges by a move that frees one
SAME_M = 1e-6


@dataclass(frozen=True)
class Beam:
    """A cross member's place: key, x of its middle, and the y ranges it is cut into (None: hull)."""

    key: str
    x: float
    between: tuple[tuple[float | None, float | None], ...]


@dataclass(frozen=True)
class Track:
    """A lengthwise member beside openings: key of the guest, side, y of its middle, x range [m]."""

    guest: str
    code: str
    side: str
    y: float
    aft: float
    fore: float

    @property
    def leg(self) -> float:
        """On which edge its leg is, away from the opening: port +1, starboard -1."""
        return 1.0 if self.side == "port" else -1.0


@dataclass(frozen=True)
class Bay:
    """A run between two fixed members and what it is divided into [m]."""

    run: float
    bays: int

    @property
    def width(self) -> float:
        return self.run / self.bays


@dataclass(frozen=True)
class Framing:
    """All members' places; `missed` names edges that no flange reaches, with the amount."""

    beams: tuple[Beam, ...]
    tracks: tuple[Track, ...]
    widest: Bay
    missed: tuple[tuple[Opening, str, float], ...]

    @property
    def stations(self) -> list[float]:
        """x of every cross member, aft to fore [m]."""
        return [b.x for b in self.beams]


def _clusters(values: Sequence[float], apart: float) -> list[list[float]]:
    """Sorted values in groups no longer than `apart`: what is farther off starts a new one."""
    out: list[list[float]] = []
    for value in sorted(values):
        if out and value - out[-1][0] < apart - SAME_M:
            out[-1].append(value)
        else:
            out.append([value])
    return out


def _apart(groups: list[list[float]], flange: float) -> list[list[float]]:
    """Neighbouring groups become one where members at their middles would lie on one another."""
    out: list[list[float]] = []
    for group in groups:
        while out and _middle(group) - _middle(out[-1]) < flange - SAME_M:
            group = [*out.pop(), *group]
        out.append(group)
    return out


def _middle(group: Sequence[float]) -> float:
    return (min(group) + max(group)) / 2


def _served(x: float, stations: Sequence[float]) -> float:
    return min(stations, key=lambda s: abs(s - x))


def divide(fixed: Sequence[float], spacing: float) -> list[Bay]:
    """Each run between two fixed members in equal bays, as few as keep to the spacing asked.

    bays = ceil(run / spacing); bay = run / bays. All in m.
    """
    return [Bay(b - a, max(1, math.ceil((b - a) / spacing - 1e-9))) for a, b in pairwise(fixed)]


def frame(first: float, last: float, spacing: float, flange: float, openings: Sequence[Opening]) -> Framing:
    """Members between the edge members at x = first and last, for openings in between.

    flange: width of a member's flange under the panel. All in m, boat axes.
    """
    ends = [x for o in openings for x in (o.frame[0], o.frame[2])]
    # next to an edge member there is no room for another: that one carries the opening too
    inner = [x for x in ends if first + flange < x + SAME_M and x - SAME_M < last - flange]
    groups = _apart(_clusters(inner, flange), flange)
    fixed = [first, *(_middle(g) for g in groups), last]
    bays = divide(fixed, spacing)
    stations = [
        x + step * bay.width for x, bay in zip(fixed, bays, strict=False) for step in range(bay.bays)
    ]
    stations.append(last)
    tracks, missed = _tracks(openings, stations, flange)
    beams: list[Beam] = []
    count = 0
    for k, (x, bay) in enumerate(zip(fixed, [*bays, Bay(0.0, 1)], strict=True)):
        for step in range(bay.bays):
            at = x + step * bay.width
            if step == 0 and 0 < k < len(fixed) - 1:
                key = _frame_key(x, flange, openings)
            else:
                count += 1
                key = f"X{count}"
            beams.append(Beam(key, at, _pieces(at, flange, openings, tracks)))
    inside = [o for o in openings if first - flange / 2 <= o.frame[0] and o.frame[2] <= last + flange / 2]
    for o in inside:
        for side, edge in (("aft", o.frame[0]), ("fore", o.frame[2])):
            at = _served(edge, stations)
            if abs(edge - at) > flange / 2 - LEDGE_M + SAME_M:
                missed.append((o, side, at - edge))
    return Framing(tuple(beams), tracks, max(bays, key=lambda b: b.width), tuple(missed))


def one_sided(framing: Framing, code: str, y: float, hand: float) -> Framing:
    """The frame of a panel along one side (port +1) only: its cross members end at a lengthwise one under
    its inner edge, whose middle lies at y [m], leg on the edge that is seen."""
    beams = []
    for beam in framing.beams:
        pieces = []
        for low, high in beam.between:
            inner, outer = (low, high) if hand > 0 else (high, low)
            if outer is not None and hand * outer <= hand * y:
                continue
            inner = y if inner is None or hand * inner < hand * y else inner
            pieces.append((inner, outer) if hand > 0 else (outer, inner))
        beams.append(replace(beam, between=tuple(pieces)))
    side = "starboard" if hand > 0 else "port"
    inner_edge = Track("", code, side, y, framing.beams[0].x, framing.beams[-1].x)
    return replace(framing, beams=tuple(beams), tracks=(*framing.tracks, inner_edge))


def framed(framing: Framing, openings: Sequence[Opening]) -> tuple[Framed, ...]:
    """How far the members that carry each opening's edges stand into it."""
    out = []
    for o in openings:
        x0, y0, x1, y1 = o.frame
        middle = (x0 + x1) / 2
        beside = [t.y for t in framing.tracks if t.aft <= middle <= t.fore]
        aft, fore = _served(x0, framing.stations), _served(x1, framing.stations)
        starboard, port = (_served(y, beside or [y]) for y in (y0, y1))
        out.append(Framed(o.guest, (aft - x0, starboard - y0, x1 - fore, y1 - port)))
    return tuple(out)


def _frame_key(x: float, flange: float, openings: Sequence[Opening]) -> str:
    """Key of a member on the edge of openings: of the first it carries."""
    near = [
        (abs(edge - x), o.code, side)
        for o in openings
        for side, edge in (("aft", o.frame[0]), ("fore", o.frame[2]))
        if abs(edge - x) < flange
    ]
    _, code, side = min(near)
    return f"{code}-{side}"


def _pieces(
    x: float, flange: float, openings: Sequence[Opening], tracks: Sequence[Track]
) -> tuple[tuple[float | None, float | None], ...]:
    """What is left of a member at x, from starboard to port, between the tracks of the openings
    that it would pass under."""
    beside = [t.y for t in tracks if t.aft - SAME_M <= x <= t.fore + SAME_M]
    through = sorted(
        (_served(o.frame[1], beside), _served(o.frame[3], beside))
        for o in openings
        if o.frame[0] + flange / 2 < x - SAME_M and x + SAME_M < o.frame[2] - flange / 2
    )
    merged: list[tuple[float, float]] = []
    for low, high in through:
        if merged and low <= merged[-1][1]:
            merged[-1] = (merged[-1][0], max(high, merged[-1][1]))
        else:
            merged.append((low, high))
    marks: list[float | None] = [None, *(v for pair in merged for v in pair), None]
    return tuple(zip(marks[::2], marks[1::2], strict=True))


def _tracks(
    openings: Sequence[Opening], stations: Sequence[float], flange: float
) -> tuple[tuple[Track, ...], list[tuple[Opening, str, float]]]:
    """A track at each side of each opening; those of neighbours that would lie on one another
    become one. And the sides that such a one does not reach, with the amount."""
    out: list[Track] = []
    missed: list[tuple[Opening, str, float]] = []
    left: list[tuple[Opening, Track]] = []
    for o in openings:
        x0, y0, x1, y1 = o.frame
        aft, fore = _served(x0, stations), _served(x1, stations)
        left += [(o, Track(o.guest, o.code, "port", y1, aft, fore)),
                 (o, Track(o.guest, o.code, "starboard", y0, aft, fore))]  # fmt: skip
    left.sort(key=lambda pair: pair[1].y)
    while left:
        own, track = left.pop(0)
        beside = next((p for p in left if _on_one_another(track, p[1], flange)), None)
        if beside is None:
            out.append(track)
            continue
        left.remove(beside)
        other = beside[1]
        y = (track.y + other.y) / 2
        for opening, t in ((own, track), beside):
            if abs(y - t.y) > flange / 2 - LEDGE_M + SAME_M:
                missed.append((opening, t.side, y - t.y))
        ends = min(track.aft, other.aft), max(track.fore, other.fore)
        out.append(Track(track.guest, track.code, track.side, y, *ends))
    return tuple(out), missed


def _on_one_another(a: Track, b: Track, flange: float) -> bool:
    along = min(a.fore, b.fore) - max(a.aft, b.aft)
    return a.guest != b.guest and along > SAME_M and abs(a.y - b.y) < flange - SAME_M


def _crowded(place: str, framing: Framing, flange: float, inner: Polygon) -> list[Finding]:
    """Tracks whose flange lies on that of a side angle: two do not fit over one another."""
    found = []
    for track in framing.tracks:
        lies = box(track.aft, track.y - flange / 2, track.fore, track.y + flange / 2)
        corners = shapely.points(shapely.get_coordinates(lies.exterior))
        over = float(shapely.distance(inner, corners).max())
        if over <= SAME_M:
            continue
        if not track.guest:
            found.append(_too_narrow(place, flange, over))
            continue
        by = (0.0, round(-math.copysign(over + FREE_M, track.y), 4), 0.0)
        found.append(
            Finding(
                "DECK-SUPPORT", "mend", place,
                f"The {track.side} track of {track.code} lies on the side angle",
                "Its flange, {flange} wide, would reach {over} over the side angle's, and both go right "
                "under the skin.",
                {"flange": Quantity(flange, "m", True), "over": Quantity(over, "m", True)},
                "Move the hatch inward or make it narrower.",
                other=track.guest,
                fixes=(Fix(f"Move {track.code} inward", thing=track.guest, by=by),),
            )
        )  # fmt: skip
    return found


def _too_narrow(place: str, flange: float, over: float) -> Finding:
    return Finding(
        "DECK-SUPPORT", "mend", place, "The member at its inner edge lies on the side angle",
        "Its flange, {flange} wide, would reach {over} over the side angle's, and both go right under the "
        "skin.",
        {"flange": Quantity(flange, "m", True), "over": Quantity(over, "m", True)},
        "Set its inner edge further inward, or take narrower members.",
    )  # fmt: skip


def support_findings(
    place: str, framing: Framing, spacing: float, flange: float, inner: Polygon
) -> list[Finding]:
    """Whether every edge of panel and openings is carried, and the bays keep to what was asked.

    inner: what the side angles' flanges leave of the panel's underside.
    """
    found = _crowded(place, framing, flange, inner)
    for opening, side, off in framing.missed:
        axis = 0 if side in ("aft", "fore") else 1
        by = (off, 0.0, 0.0) if axis == 0 else (0.0, off, 0.0)
        found.append(
            Finding(
                "DECK-SUPPORT", "mend", place, f"The {side} edge of {opening.code} is not carried",
                "The nearest member there lies {off} off, and its flange reaches {reach} past its "
                "middle; {ledge} of it must lie under the edge. There is no room for a second member.",
                {"off": Quantity(abs(off), "m", True), "reach": Quantity(flange / 2, "m", True),
                 "ledge": Quantity(LEDGE_M, "m", True)},
                "Bring the edges of the neighbours into line, or move them apart by a member's width.",
                other=opening.guest,
                fixes=(Fix(f"Move {opening.code} into line", thing=opening.guest, by=by),),
            )
        )  # fmt: skip
    bay = framing.widest
    working = Working(
        "bays = run / spacing asked, rounded up; bay = run / bays",
        (
            Input("run between two members that must be there", Quantity(bay.run, "m")),
            Input("spacing asked", Quantity(spacing, "m"), "chosen"),
            Input("bays", Quantity(bay.bays, "count")),
        ),
        Quantity(bay.width, "m"),
        "equal division of each run between edges and hatch frames",
    )
    if not found:
        found.append(
            Finding(
                "DECK-SUPPORT", "fine", place, "Carried on all edges",
                "{count} cross members, widest bay {bay}.",
                {"count": Quantity(len(framing.beams), "count"), "bay": Quantity(bay.width, "m")},
                working=working,
            )
        )  # fmt: skip
    return found
