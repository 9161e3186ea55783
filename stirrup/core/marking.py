"""Where to put the marks on the boat: edges from the datum, offset marks that survive grinding,
ordinates of curved sides, and diagonals that prove it square.

Datum: x from the transom foot, y from the centreline (port positive), z from the keel line.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

import numpy as np
from shapely.geometry import LineString, Polygon

from stirrup.core.contract.gives import Marked
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.plan.placed import Placed
from stirrup.core.record import dataclass

LEAST_PITCH_M, MOST_PITCH_M = 0.02, 2.0
MOST_OFFSET_M = 1.0


@dataclass(frozen=True)
class Mark:
    """A point to mark [m], and the offset mark beside it, away from the work."""

    name: str
    at: tuple[float, float, float]
    offset: tuple[float, float, float]


@dataclass(frozen=True)
class Ordinate:
    """Half-widths of an outline at one distance from the transom, and its height there [m]; None where
    it has ended."""

    x: float
    port: float | None
    starboard: float | None
    z: float


@dataclass(frozen=True)
class Diagonal:
    """Two diagonals that must come out equal where the thing is square [m]."""

    name: str
    first: float
    second: float


@dataclass(frozen=True)
class Marks:
    """All marks of one thing."""

    id: str
    code: str
    name: str
    marks: tuple[Mark, ...]
    ordinates: tuple[Ordinate, ...]
    diagonals: tuple[Diagonal, ...]
    level: bool = True

    @property
    def side(self) -> str:
        """The side on which all of its ordinates lie; empty where it reaches over the centreline."""
        if self.ordinates and all((o.starboard or 0.0) < 0 for o in self.ordinates):
            return "port"
        return "starboard" if self.ordinates and all((o.port or 0.0) < 0 for o in self.ordinates) else ""

    @property
    def heads(self) -> tuple[str, str]:
        """What its two ordinates are."""
        if self.side:
            return f"inner edge, to {self.side}", f"outer edge, to {self.side}"
        return "half-width port", "half-width starboard"

    def pair(self, o: Ordinate) -> tuple[float | None, float | None]:
        """Its two ordinates at a place, as `heads` calls them [m]."""
        if self.side == "port":
            return None if o.starboard is None else -o.starboard, o.port
        if self.side == "starboard":
            return None if o.port is None else -o.port, o.starboard
        return o.port, o.starboard


def _ends(region: Polygon, x: float) -> tuple[float, float] | None:
    """Least and greatest y of an outline at x, None where it is not."""
    low, high = region.bounds[1] - 1.0, region.bounds[3] + 1.0
    crossing = region.intersection(LineString([(x, low), (x, high)]))
    return None if crossing.is_empty else (crossing.bounds[1], crossing.bounds[3])


def _distance(a: Mark, b: Mark) -> float:
    return math.dist(a.at, b.at)


def _corners(
    derived: Derived, box: tuple[float, float, float, float],
    widths: tuple[tuple[float, float], tuple[float, float]], marked: Marked, offset: float,
) -> tuple[Mark, ...]:  # fmt: skip
    """Corners of a thing with an aft and a fore edge; offset marks before and behind it, or on
    the thing's own side where they would leave the boat."""
    x0, _, x1, _ = box
    outside = derived.surface.outside
    low, high = float(outside.low[0]) + 0.02, float(outside.high[0]) - 0.02
    out = []
    for end, x, (right, left), way in (("aft", x0, widths[0], -1.0), ("fore", x1, widths[1], 1.0)):
        beside = x + way * offset
        beside = beside if max(0.0, low) <= beside <= high else x - way * offset
        for side, y in (("port", left), ("starboard", right)):
            z, there = marked.z_at(x), marked.z_at(beside)
            out.append(Mark(f"{end} corner, {side}", (x, y, z), (beside, y, there)))
    return tuple(out)


def _diagonals(marks: tuple[Mark, ...]) -> tuple[Diagonal, ...]:
    """From four corners in the order aft port, aft starboard, fore port, fore starboard."""
    aft_port, aft_other, fore_port, fore_other = marks
    return (Diagonal("corner to corner", _distance(aft_port, fore_other), _distance(aft_other, fore_port)),)


def _outline_marks(
    derived: Derived, thing: Placed, marked: Marked, region: Polygon, pitch: float, offset: float
) -> Marks:
    """Corners of an outline, its half-widths at every pitch, its diagonals."""
    x0, _, x1, _ = region.bounds
    inset = 1e-4
    aft, fore = _ends(region, x0 + inset), _ends(region, x1 - inset)
    if aft is None or fore is None:
        raise CoreError("the deck has no outline to mark", thing.id)
    marks = _corners(derived, region.bounds, (aft, fore), marked, offset)
    ordinates = []
    for x in np.arange(math.ceil(x0 / pitch - 1e-9), math.floor(x1 / pitch + 1e-9) + 1) * pitch:
        ends = _ends(region, float(min(max(x, x0 + inset), x1 - inset)))
        if ends is not None:
            ordinates.append(Ordinate(float(x), ends[1], -ends[0], marked.z_at(float(x))))
    return Marks(thing.id, _code(thing), thing.title, marks, tuple(ordinates), _diagonals(marks),
                 not marked.rise)  # fmt: skip


def _code(thing: Placed) -> str:
    return str(getattr(thing.choices, "code", ""))


def _hole_marks(derived: Derived, thing: Placed, marked: Marked, offset: float) -> Marks:
    """Corners of a cut-out in a skin; where it is rounded, those where its edges meet."""
    xs, ys = [p[0] for p in marked.corners], [p[1] for p in marked.corners]
    widths, box = (min(ys), max(ys)), (min(xs), min(ys), max(xs), max(ys))
    marks = _corners(derived, box, (widths, widths), marked, offset)
    return Marks(thing.id, _code(thing), f"{thing.title}{marked.what}", marks, (), _diagonals(marks))


def _box_marks(thing: Placed, marked: Marked, offset: float) -> Marks:
    """Corners of what a thing stands on, as it is turned; offset marks ahead of and behind it."""
    ahead = (math.cos(math.radians(marked.turn)), math.sin(math.radians(marked.turn)))
    named = (
        ("aft", "port", 3, -1),
        ("aft", "starboard", 0, -1),
        ("fore", "port", 2, 1),
        ("fore", "starboard", 1, 1),
    )
    marks = []
    for end, side, corner, way in named:
        x, y = marked.corners[corner]
        beside = (x + way * offset * ahead[0], y + way * offset * ahead[1], marked.z_m)
        marks.append(Mark(f"{end} corner, {side}", (x, y, marked.z_m), beside))
    return Marks(thing.id, _code(thing), thing.title, tuple(marks), (), _diagonals(tuple(marks)))


def _marks_of(derived: Derived, thing: Placed, pitch: float, offset: float) -> Iterator[Marks]:
    for marked in thing.built.marked:
        if marked.region is not None:
            yield _outline_marks(derived, thing, marked, marked.region, pitch, offset)
        elif marked.what:
            yield _hole_marks(derived, thing, marked, offset)
        else:
            yield _box_marks(thing, marked, offset)


def _in_hosts(things: Sequence[Placed]) -> list[Placed]:
    """Each host followed by what lies in it."""
    hosts = {t.id: {tie.to for tie in t.kind.ties(t.choices) if tie.relation == "lies in"} for t in things}
    out: list[Placed] = []
    for thing in things:
        if not hosts[thing.id]:
            out += [thing, *(t for t in things if thing.id in hosts[t.id])]
    return out


def marking(derived: Derived, pitch_m: float = 0.2, offset_m: float = 0.1) -> tuple[Marks, ...]:
    """Marks of every deck and of every cut-out in it, then of every thing that is fastened.

    pitch: between ordinates along her; offset: of the marks that survive. Corners of a
    rounded cut-out are where its straight edges meet. Raises CoreError for a pitch or offset
    out of range.
    """
    if not LEAST_PITCH_M <= pitch_m <= MOST_PITCH_M:
        raise CoreError(f"read {pitch_m:g} m; accepted: {LEAST_PITCH_M:g} m to {MOST_PITCH_M:g} m", "pitch")
    if not 0 <= offset_m <= MOST_OFFSET_M:
        raise CoreError(f"read {offset_m:g} m; accepted: up to {MOST_OFFSET_M:g} m", "offset")
    return tuple(
        marks
        for thing in _in_hosts(derived.things)
        for marks in _marks_of(derived, thing, pitch_m, offset_m)
    )
