"""Where to put the marks on the boat: edges from the datum, offset marks that survive grinding,
ordinates of curved sides, and diagonals that prove it square.

Datum: x from the transom foot, y from the centreline (port positive), z from the keel line.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from shapely.geometry import LineString, Polygon

from stirrup.core.arrange.where import footprint
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.fittings.contract import Built
from stirrup.core.plan.model import Item

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
    """Half-widths of an outline at one distance from the transom [m]; None where it has ended."""

    x: float
    port: float | None
    starboard: float | None


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


def _ends(region: Polygon, x: float) -> tuple[float, float] | None:
    """Least and greatest y of an outline at x, None where it is not."""
    low, high = region.bounds[1] - 1.0, region.bounds[3] + 1.0
    crossing = region.intersection(LineString([(x, low), (x, high)]))
    return None if crossing.is_empty else (crossing.bounds[1], crossing.bounds[3])


def _distance(a: Mark, b: Mark) -> float:
    return math.dist(a.at, b.at)


def _corners(
    derived: Derived, box: tuple[float, float, float, float],
    widths: tuple[tuple[float, float], tuple[float, float]], z: float, offset: float,
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
            out.append(Mark(f"{end} corner, {side}", (x, y, z), (beside, y, z)))
    return tuple(out)


def _diagonals(marks: tuple[Mark, ...]) -> tuple[Diagonal, ...]:
    """From four corners in the order aft port, aft starboard, fore port, fore starboard."""
    aft_port, aft_other, fore_port, fore_other = marks
    return (Diagonal("corner to corner", _distance(aft_port, fore_other), _distance(aft_other, fore_port)),)


def _deck_marks(derived: Derived, built: Built, pitch: float, offset: float) -> Marks:
    region = built.region
    x0, _, x1, _ = region.bounds
    inset = 1e-4
    aft, fore = _ends(region, x0 + inset), _ends(region, x1 - inset)
    if aft is None or fore is None:
        raise CoreError("the deck has no outline to mark", built.fitting)
    marks = _corners(derived, region.bounds, (aft, fore), built.top_m, offset)
    ordinates = []
    for x in np.arange(math.ceil(x0 / pitch - 1e-9), math.floor(x1 / pitch + 1e-9) + 1) * pitch:
        ends = _ends(region, float(min(max(x, x0 + inset), x1 - inset)))
        if ends is not None:
            ordinates.append(Ordinate(float(x), ends[1], -ends[0]))
    plan = next(f for f in derived.plan.fittings if f.id == built.fitting)
    return Marks(built.fitting, plan.code, plan.name, marks, tuple(ordinates), _diagonals(marks))


def _opening_marks(derived: Derived, deck: Built, offset: float) -> Iterator[Marks]:
    """Cut-outs in a deck's skin, each by the name of what sits in it."""
    for shape in deck.shapes:
        if shape.role != "opening":
            continue
        ring = Polygon([(p[0], p[1]) for p in shape.ring])
        guests = [f for f in derived.plan.fittings if f.kind == "hatch"]
        guest = next(
            (f for f in guests if (b := derived.fitting(f.id)) is not None
             and ring.contains(b.region.centroid)), None,
        )  # fmt: skip
        if guest is None:
            continue
        _, y0, _, y1 = ring.bounds
        marks = _corners(derived, ring.bounds, ((y0, y1), (y0, y1)), deck.top_m, offset)
        yield Marks(guest.id, guest.code, f"{guest.name}, cut-out", marks, (), _diagonals(marks))


def _item_marks(item: Item, offset: float) -> Marks | None:
    """Corners of what a thing stands on, as it is turned; offset marks ahead of and behind it."""
    ring = footprint(item)
    if not ring or item.size is None:
        return None
    floor = item.mass.centre[2] - item.size[2] / 2
    ahead = (math.cos(math.radians(item.turn)), math.sin(math.radians(item.turn)))
    named = (
        ("aft", "port", 3, -1),
        ("aft", "starboard", 0, -1),
        ("fore", "port", 2, 1),
        ("fore", "starboard", 1, 1),
    )
    marks = []
    for end, side, corner, way in named:
        x, y = ring[corner]
        beside = (x + way * offset * ahead[0], y + way * offset * ahead[1], floor)
        marks.append(Mark(f"{end} corner, {side}", (x, y, floor), beside))
    return Marks(item.id, "", item.title, tuple(marks), (), _diagonals(tuple(marks)))


FIXED = ("seat", "bench", "console", "battery", "locker", "tank")  # what is fastened to the boat


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
    out: list[Marks] = []
    for built in derived.built:
        if built.region.is_empty or not any(s.role == "deck" for s in built.shapes):
            continue
        out.append(_deck_marks(derived, built, pitch_m, offset_m))
        out += _opening_marks(derived, built, offset_m)
    for item in derived.plan.items:
        placed = _item_marks(item, offset_m) if item.stage == "added" and item.form in FIXED else None
        out += [placed] if placed else []
    return tuple(out)
