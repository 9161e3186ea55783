"""What can be placed, in working order, each with why it comes where it does and a first size.

Sizes and masses are starting values; the thing itself, measured and weighed, decides.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import product
from typing import Any

import numpy as np
from shapely import box
from shapely.geometry import Point as FlatPoint
from shapely.geometry import Polygon

from stirrup.core.afloat.ground import Footing
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Hole
from stirrup.core.document import Point, Size
from stirrup.core.errors import CoreError
from stirrup.core.hull.material import made_of
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.registry import KINDS, kind_of
from stirrup.core.plan import suggest
from stirrup.core.plan.changes import AddThing, AnyChange, SetValue, Together
from stirrup.core.plan.model import Plan
from stirrup.core.plan.things import present
from stirrup.core.plan.where import extent_of
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Bounds, Prism

STEP_M = 0.05  # a first place is looked for forward in these steps
TRIES = 40
EVEN_M = 0.12  # the bottom rises this much across a thing that stands on it
STAGES = (
    "What came with her",
    "Decks and hatches",
    "Where people sit and steer",
    "Power and liquids",
    "Gear",
)


@dataclass(frozen=True)
class Placeable:
    """An entry of the palette; `missing` says what has to be there first, or nothing."""

    key: str
    title: str
    stage: str
    reason: str
    words: str = ""  # what it is also called, for finding it
    missing: str = ""


ENTRIES = {entry.key: kind for kind in KINDS for entry in kind.entries}


def _order() -> list[tuple[int, str]]:
    """Entries by stage, then as registered; a free thing comes last."""
    every = [(e.stage, e.key) for kind in KINDS for e in kind.entries]
    return sorted(every, key=lambda pair: pair[0])


def palette(plan: Plan) -> tuple[Placeable, ...]:
    """The entries in working order, with what is missing for those that cannot be placed yet."""
    offered = {offer for thing in present(plan) for offer in kind_of(thing).offers}
    found = {e.key: (kind, e) for kind in KINDS for e in kind.entries}
    out = []
    for _, key in _order():
        kind, e = found[key]
        missing = kind.missing(key, offered.__contains__)
        out.append(Placeable(e.key, e.title, STAGES[e.stage], e.reason, e.words, missing))
    return tuple(out)


@dataclass
class _Placing:
    """What a kind may ask when one of its things is placed for the first time."""

    plan: Plan
    surface: HullSurface
    footing: Footing
    at: tuple[float, float] | None
    host: str

    @property
    def hull_of(self) -> str:
        """Whether she is of metal or moulded; empty where nobody said."""
        return made_of(self.plan.hull.material)

    def all_of(self, offer: str) -> Sequence[Any]:
        """Everything that offers something, in the plan's order."""
        return [t for t in present(self.plan) if offer in kind_of(t).offers]

    def built(self, offer: str) -> Sequence[tuple[Any, Built]]:
        """The same with what they make."""
        return [(t, self.footing.made(t.id)) for t in self.all_of(offer)]

    def extent(self, id_: str) -> Extent | None:
        """Where something stands; None where it has no place."""
        try:
            return extent_of(self.plan, self.surface, id_)
        except CoreError:
            return None

    def holes(self, id_: str) -> Sequence[Hole]:
        """Ways through a thing that others have made already."""
        return [h for b in self.footing.built for h in b.holes if h.host == id_]

    def id(self, stem: str) -> str:
        """A free id."""
        return suggest.free_id(self.plan, stem)

    def mark(self, letter: str) -> str:
        """A free mark."""
        return suggest.free_mark(self.plan, letter)

    def name(self, title: str) -> str:
        """The title, with a number behind it where an item has it already."""
        taken = {i.name for i in self.plan.items}
        names = (title if k == 1 else f"{title} {k}" for k in range(1, len(taken) + 2))
        return next(name for name in names if name not in taken)

    def bond(self) -> str:
        """A free id of a bond."""
        taken = {b.id for b in self.plan.arrangement.bonds}
        return next(name for k in range(1, len(taken) + 2) if (name := f"bond-{k}") not in taken)

    def spot(self, size: Size, share: float, side: float, low: bool, over_rail: bool = False) -> Point:
        """Middle of the floor of something new: where it was put, or a first free place.

        share, side: where it usually stands, of the boat's length and [m] to port; low: on the
        bottom, under a deck if there is one; over_rail: it may reach beyond the sheer.
        """
        least, most = float(self.surface.outside.low[0]), float(self.surface.outside.high[0])
        if self.at is None:
            x, y = self._free((least + share * (most - least), side), size, low)
        else:
            x, y = self.at
        z = _standing_m(self.footing, _ring(x, y, size), low)
        if over_rail and any(self.footing.at(a, b) is None for a, b in _ring(x, y, size)):
            z = _rail_m(self.surface, x)
        if z is None and self.at is not None:
            raise CoreError("there is nothing to stand on there: pick a place inside the boat", "at")
        return (round(x, 3), round(y, 3), round(z if z is not None else 0.1, 3))

    def _free(self, at: tuple[float, float], size: Size, low: bool) -> tuple[float, float]:
        """The first place where nothing else stands: at or ahead of where it usually is, on the other side,
        in the middle, then abaft of it; where it usually is when there is none [m].

        low: it lies on the bottom, which need not be even.
        """
        x, side = at
        for way, y in product((1, -1), dict.fromkeys((side, -side, 0.0))):
            for k in range(way < 0, TRIES):
                ring = _ring(x + way * k * STEP_M, y, size)
                fits = self._goes_under(ring, size) if low else _even(self.footing, ring)
                if fits and self._clear(ring):
                    return x + way * k * STEP_M, y
        return at

    def _goes_under(self, ring: Sequence[tuple[float, float]], size: Size) -> bool:
        """Whether it goes under the decks over a place, where it stands on what is lowest there."""
        foot, here = _standing_m(self.footing, ring, True), Polygon(ring)
        if foot is None:
            return False
        over = ((f.region, f.below.free_m) for b in self.footing.built for f in b.floors if f.below)
        return all(free >= foot + size[2] or not region.intersects(here) for region, free in over)

    def free(self, at: tuple[float, float], size: Size) -> bool:
        """Whether nothing else stands in its outline about a place, and all of it is in the boat."""
        ring = _ring(*at, size)
        return all(self.footing.at(a, b) is not None for a, b in ring) and self._clear(ring)

    def _clear(self, ring: Sequence[tuple[float, float]]) -> bool:
        """Whether nothing that could be moved stands in it."""
        here = Polygon(ring)
        there = (
            s.shape.footprint if isinstance(s.shape, Prism) else box(*_flat(s.shape.bounds))
            for b in self.footing.built
            for s in b.solids
            if s.movable and s.stands
        )
        return not any(here.intersects(other) for other in there)


def _flat(bounds: Bounds) -> tuple[float, float, float, float]:
    return (bounds[0], bounds[1], bounds[3], bounds[4])


def _standing_m(footing: Footing, ring: Sequence[tuple[float, float]], low: bool) -> float | None:
    """Height at which a footprint stands clear of what is under it [m]; None outside the boat."""
    middle = (sum(p[0] for p in ring) / len(ring), sum(p[1] for p in ring) / len(ring))
    heights = []
    for x, y in (middle, *ring):
        if low:
            heights.append(_low_m(footing, x, y))
        else:
            ground = footing.at(x, y)
            heights.append(ground.height_m if ground else None)
    known = [h for h in heights if h is not None]
    return max(known) if known and heights[0] is not None else None


def _low_m(footing: Footing, x: float, y: float) -> float | None:
    """The floor of the boat at a place, or her bottom where there is none: not a deck over it [m]."""
    floors = [
        f.top_at(x)
        for b in footing.built
        for f in b.floors
        if f.broad and f.below is None and f.region.covers(FlatPoint(x, y))
    ]
    return max(floors) if floors else footing.bottom_m(x, y)


def _ring(x: float, y: float, size: Size) -> tuple[tuple[float, float], ...]:
    a, b = size[0] / 2, size[1] / 2
    return ((x - a, y - b), (x + a, y - b), (x + a, y + b), (x - a, y + b))


def _even(footing: Footing, ring: Sequence[tuple[float, float]]) -> bool:
    """Whether a footprint stands on one level, not half on a deck and half beside it."""
    heights = [g.height_m if (g := footing.at(x, y)) else None for x, y in ring]
    known = [h for h in heights if h is not None]
    return len(known) == len(heights) and max(known) - min(known) < EVEN_M


def _rail_m(surface: HullSurface, x: float) -> float | None:
    """Height of the sheer at x [m], also a little ahead of the stem; None behind the transom."""
    sheer = surface.lines[0][-1]
    if not sheer[0][0] <= x <= sheer[-1][0] + 0.5:
        return None
    return float(np.interp(x, sheer[:, 0], sheer[:, 2]))


def place(
    plan: Plan,
    surface: HullSurface,
    footing: Footing,
    key: str,
    host: str = "",
    at: tuple[float, float] | None = None,
) -> AddThing:
    """A palette's entry as a change: at `at` (x, y) [m], or at a first sensible place.

    host: what is chosen, meant as what a guest goes into. Raises CoreError for an unknown entry,
    for a guest without a host, and for a place outside the boat.
    """
    return placed(plan, surface, footing, key, host, at)[0]


def placed(
    plan: Plan,
    surface: HullSurface,
    footing: Footing,
    key: str,
    host: str = "",
    at: tuple[float, float] | None = None,
) -> tuple[AddThing, AnyChange]:
    """The same, and the change with all that placing it sets elsewhere, as one step."""
    kind = ENTRIES.get(key)
    if kind is None:
        raise CoreError(f"read “{key}”; accepted: {', '.join(k for _, k in _order())}", "kind")
    placing = _Placing(plan, surface, footing, at, host)
    value = kind.first(key, placing)
    new = AddThing(path=(kind.group,), value=value)
    more = [
        AddThing(path=b.path, value=b.value) if b.added else SetValue(path=b.path, value=b.value)
        for b in kind.besides(key, value, placing)
    ]
    if not more:
        return new, new
    return new, Together(changes=(new, *more), words=f"{value.get('name', key)} placed"[:200])
