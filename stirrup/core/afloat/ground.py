"""What is under somebody's feet: a deck, a thwart, or the bottom of the boat."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

from stirrup.core.fittings.contract import Built, Obstacle
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.memo import Shelf
from stirrup.core.plan.model import LoadCase

Array = NDArray[np.float64]

STANDABLE = 0.5  # least upward share of a surface's normal to stand on: slopes up to 60°
MOST_SPOTS = 20_000  # remembered for each plan
CARRYING = ("thwart", "other")  # existing structure that carries a person


@dataclass(frozen=True)
class Ground:
    """Height above the baseline [m] and what it is."""

    height_m: float
    name: str


@dataclass(frozen=True)
class Footing:
    """The boat's walkable surfaces; ask it for the ground at a place."""

    surface: HullSurface
    built: tuple[Built, ...] = ()
    obstacles: tuple[Obstacle, ...] = ()
    names: Mapping[str, str] = field(default_factory=dict)

    def _near(self, x: float) -> NDArray[np.intp]:
        """Numbers of the inside's triangles that x lies within."""
        along = self._along
        return np.nonzero((along[:, 0] <= x) & (x <= along[:, 1]))[0]

    @cached_property
    def _along(self) -> Array:
        """(T, 2) least and greatest x of every triangle of the inside."""
        x = self.surface.inside.corners[:, :, 0]
        return np.column_stack([x.min(axis=1), x.max(axis=1)])

    def bottom_m(self, x: float, y: float) -> float | None:
        """Height of the inside of the bottom under (x, y) [m]; None where nobody can stand."""
        return self.surface.bottoms.get((x, y), lambda: self._bottom_m(x, y))

    def _bottom_m(self, x: float, y: float) -> float | None:
        inside = self.surface.inside
        near = self._near(x)
        a, b, c = (inside.corners[near, k] for k in range(3))
        # twice the signed areas of the three triangles that (x, y) makes with the corners in plan
        u = (b[:, 0] - x) * (c[:, 1] - y) - (c[:, 0] - x) * (b[:, 1] - y)
        v = (c[:, 0] - x) * (a[:, 1] - y) - (a[:, 0] - x) * (c[:, 1] - y)
        w = (a[:, 0] - x) * (b[:, 1] - y) - (b[:, 0] - x) * (a[:, 1] - y)
        whole = u + v + w
        hit = np.abs(whole) > 1e-12
        hit &= ((u >= 0) & (v >= 0) & (w >= 0)) | ((u <= 0) & (v <= 0) & (w <= 0))
        if not hit.any():
            return None
        z = (u[hit] * a[hit, 2] + v[hit] * b[hit, 2] + w[hit] * c[hit, 2]) / whole[hit]
        low = int(np.argmin(z))
        normal = inside.normals2[near][hit][low]
        if abs(normal[2]) < STANDABLE * float(np.linalg.norm(normal)):
            return None
        return float(z[low])

    @cached_property
    def _asked(self) -> Shelf:
        return Shelf(MOST_SPOTS)

    def at(self, x: float, y: float) -> Ground | None:
        """The highest thing to stand or sit on at (x, y), or None outside of the boat."""
        return self._asked.get((x, y), lambda: self._at(x, y))

    def _at(self, x: float, y: float) -> Ground | None:
        best: Ground | None = None
        bottom = self.bottom_m(x, y)
        if bottom is not None:
            best = Ground(bottom, "bottom")
        for (x0, y0, x1, y1), shape, height, name in self._carrying:
            if not (x0 <= x <= x1 and y0 <= y <= y1) or (best is not None and height <= best.height_m):
                continue
            if shapely.intersects_xy(shape, x, y):
                best = Ground(height, name)
        return best

    @cached_property
    def _carrying(self) -> list[tuple[tuple[float, float, float, float], Polygon, float, str]]:
        """Everything that carries a person over the bottom: bounds, outline, height [m], name."""
        out = [
            (f.region.bounds, f.region, f.top_m, self.names.get(f.fitting, f.fitting))
            for f in self.built
            if not f.region.is_empty and any(s.role == "deck" for s in f.shapes)
        ]
        out += [
            (t.footprint.bounds, t.footprint, t.high, t.name)
            for t in self.obstacles
            if t.kind in CARRYING and t.high < 5
        ]
        return out


def ground_grid(footing: Footing, x: Array, y: Array) -> Array:
    """Heights of the ground at every (x, y), shape (ny, nx) [m]; NaN where nobody can stand."""
    rows = [[footing.at(float(a), float(b)) for a in x] for b in y]
    return np.array([[g.height_m if g else np.nan for g in row] for row in rows])


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
            ground = footing.at(person.at[0], person.at[1]) if person.settle else None
            if ground is not None:
                at = (person.at[0], person.at[1], ground.height_m)
                person = person.model_copy(update={"at": at})
            crew.append(person)
        out.append(case.model_copy(update={"crew": tuple(crew)}))
    return tuple(out)
