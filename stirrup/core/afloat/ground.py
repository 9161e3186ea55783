"""What is under somebody's feet: a deck, a thwart, or the bottom of the boat."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import field

import numpy as np
import shapely
from numpy.typing import NDArray

from stirrup.core.contract.gives import Built, Floor
from stirrup.core.hull.bottom import bottom_m
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kept import Attached, kept_property
from stirrup.core.plan.model import LoadCase, Person
from stirrup.core.record import dataclass

Array = NDArray[np.float64]

MOST_SPOTS = 20_000  # remembered for each plan


@dataclass(frozen=True)
class Ground:
    """Height above the baseline [m] and what it is."""

    height_m: float
    name: str


@dataclass(frozen=True)
class Footing:
    """The boat's walkable surfaces; ask it for the ground at a place. built: of everything there."""

    surface: HullSurface
    built: tuple[Built, ...] = ()
    names: Mapping[str, str] = field(default_factory=dict)

    @kept_property
    def _made(self) -> dict[str, Built]:
        return {b.fitting: b for b in self.built}

    def made(self, id_: str) -> Built:
        """What a thing makes; nothing for what is not there."""
        return self._made.get(id_) or Built(id_)

    def bottom_m(self, x: float, y: float) -> float | None:
        """Height of the inside of the bottom under (x, y) [m]; None where nobody can stand."""
        return bottom_m(self.surface, x, y)

    def seat_m(self, x: float, y: float) -> float | None:
        """Height of the cushion at (x, y) [m], of a seat that knows it; None where there is none."""
        tops = (
            seat.at[2]
            for b in self.built
            for seat in b.seats
            if seat.rise_m is not None and shapely.intersects_xy(seat.region, x, y)
        )
        return max(tops, default=None)

    @kept_property
    def _asked(self) -> Attached:
        return Attached(MOST_SPOTS)

    def at(self, x: float, y: float) -> Ground | None:
        """The highest thing to stand or sit on at (x, y), or None outside of the boat."""
        return self._asked.get((x, y), lambda: self._at(x, y))

    def _at(self, x: float, y: float) -> Ground | None:
        best: Ground | None = None
        bottom = self.bottom_m(x, y)
        if bottom is not None:
            best = Ground(bottom, "bottom")
        for (x0, y0, x1, y1), floor, name in self._carrying:
            if not (x0 <= x <= x1 and y0 <= y <= y1):
                continue
            height = floor.top_at(x)
            if (best is None or height > best.height_m) and shapely.intersects_xy(floor.region, x, y):
                best = Ground(height, name)
        return best

    def over(self, x: float, y: float, z: float) -> bool:
        """Whether the ground at (x, y) lies higher than z [m]: most that carries somebody does not, and is
        not looked at more closely."""
        for (x0, y0, x1, y1), floor, _ in self._carrying:
            high = x0 <= x <= x1 and y0 <= y <= y1 and floor.top_at(x) > z
            if high and shapely.intersects_xy(floor.region, x, y):
                return True
        bottom = self.bottom_m(x, y)
        return bottom is not None and bottom > z

    @kept_property
    def _carrying(self) -> list[tuple[tuple[float, float, float, float], Floor, str]]:
        """Everything that carries a person over the bottom: bounds in plan, floor, name."""
        return [
            (f.region.bounds, f, self.names.get(b.fitting, b.fitting))
            for b in self.built
            for f in b.floors
            if not f.region.is_empty
        ]


def ground_grid(footing: Footing, x: Array, y: Array) -> Array:
    """Heights of the ground at every (x, y), shape (ny, nx) [m]; NaN where nobody can stand."""
    rows = [[footing.at(float(a), float(b)) for a in x] for b in y]
    return np.array([[g.height_m if g else np.nan for g in row] for row in rows])


def _settles_m(person: Person, footing: Footing) -> float | None:
    """How high somebody stands, or sits: on the seat that he is over, else on what is under him [m]."""
    x, y, _ = person.at
    seat = footing.seat_m(x, y) if person.posture == "seated" else None
    if seat is not None:
        return seat
    ground = footing.at(x, y)
    return None if ground is None else ground.height_m


def settled(cases: Iterable[LoadCase], footing: Footing) -> tuple[LoadCase, ...]:
    """Cases whose people with `settle` stand or sit on what is under them.

    Somebody over nothing keeps the height that the plan gives.
    """
    out = []
    for case in cases:
        if not any(p.settle for p in case.crew):
            out.append(case)
            continue
        crew = []
        for person in case.crew:
            height = _settles_m(person, footing) if person.settle else None
            if height is not None:
                at = (person.at[0], person.at[1], height)
                person = person.model_copy(update={"at": at})
            crew.append(person)
        out.append(case.model_copy(update={"crew": tuple(crew)}))
    return tuple(out)
