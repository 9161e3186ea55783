"""A girder along the bottom laid out: its run, the outline of each layer, what it fills.

Stringers are such, and each of an engine's beds.
"""

from __future__ import annotations

import math
from functools import cached_property
from itertools import pairwise
from typing import Protocol

import numpy as np
from numpy.typing import NDArray
from shapely import box
from shapely.geometry import Point as FlatPoint
from shapely.geometry import Polygon

from stirrup.core.contract.dam import Dam
from stirrup.core.contract.kind import Site
from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.fittings.edges import largest
from stirrup.core.hull.bottom import bottoms_m
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Sheet
from stirrup.core.parts.model import Frame
from stirrup.core.record import dataclass

Array = NDArray[np.float64]
STATIONS = 31  # along its run
LEAST_HIGH_M = 0.03  # over the bottom, anywhere but in its tapers
END_HIGH_M = 0.025  # at a tapered end
LEAST_TAPER_M = 0.001
BUTT_M = 0.001  # between two pieces of a layer
MARGIN_M = 0.02  # of a sheet's length that is lost
SCRIBE_M = 0.0002
LEAST_M2 = 1e-3


class Girder(Protocol):
    """What is chosen of one: see the choices of a stringer. Lengths in m."""

    @property
    def id(self) -> str:
        """Of the thing that it is part of."""

    @property
    def name(self) -> str: ...

    @property
    def code(self) -> str: ...

    @property
    def aft(self) -> float: ...

    @property
    def fore(self) -> float: ...

    @property
    def ends_y(self) -> tuple[float, float]: ...

    @property
    def top(self) -> float: ...

    @property
    def rises(self) -> float: ...

    @property
    def core(self) -> str: ...

    @property
    def layers(self) -> int: ...

    @property
    def hollow(self) -> float:
        """Left free between its inner and its outer layers, under a cap; 0: none."""

    @property
    def gap(self) -> float: ...

    @property
    def taper(self) -> float: ...

    @property
    def limber(self) -> float: ...

    @property
    def limber_every(self) -> float: ...

    @property
    def joined(self) -> str: ...

    @property
    def cloth(self) -> str: ...

    @property
    def plies(self) -> int: ...

    @property
    def resin(self) -> str: ...


@dataclass(frozen=True)
class Run:
    """Along the bottom: x and y of the middle (n,), distance along it from its aft end, top and bottom at
    both sides and between (n, 3) [m]."""

    c: Girder
    thick: float
    x: Array
    y: Array
    s: Array
    top: Array
    bottom: Array

    @cached_property
    def ahead(self) -> tuple[float, float]:
        """Unit vector along it in plan."""
        dx, dy = float(self.x[-1] - self.x[0]), float(self.y[-1] - self.y[0])
        long = math.hypot(dx, dy)
        return dx / long, dy / long

    @property
    def long(self) -> float:
        """From end to end [m]."""
        return float(self.s[-1])

    @property
    def high(self) -> Array:
        """Of its middle over the bottom (n,) [m]."""
        return np.asarray(self.top - self.bottom[:, 1])

    @property
    def bevels_deg(self) -> tuple[float, float]:
        """Of its lower edge at its aft and its fore end: the slope of the bottom across it."""
        rise = np.abs(self.bottom[:, 2] - self.bottom[:, 0])
        slope = np.degrees(np.arctan2(rise, self.thick))
        return float(slope[1]), float(slope[-2])

    def frame(self, off: float) -> Frame:
        """Axes of a layer whose middle lies so far to port of the run: along it, and up."""
        (cx, cy), c = self.ahead, self.c
        return Frame((c.aft - cy * off, self.c.ends_y[0] + cx * off, 0.0), (cx, cy, 0.0), (0.0, 0.0, 1.0))

    def at(self, k: int, side: float, z: float) -> Point:
        """A point at a station, so far to port of its middle, at a height."""
        cx, cy = self.ahead
        return (float(self.x[k] - cy * side), float(self.y[k] + cx * side), z)


def thick_of(c: Girder, sheet: float) -> float:
    """Of a girder of layers of a sheet so thick, with what is hollow between them [m]."""
    return c.layers * sheet + c.hollow


def _bottom(surface: HullSurface, x: Array, y: Array, wide: float) -> Array:
    """Height of the bottom at both sides of a run and between, (n, 3) [m]."""

    def find() -> Array:
        off = np.array([-0.5, 0.0, 0.5]) * wide
        return np.array(
            [bottoms_m(surface, a, b + off) for a, b in zip(x.tolist(), y.tolist(), strict=True)]
        )

    # asked by what is built round it and by itself
    ends = tuple(float(v) for v in (x[0], x[-1], y[0], y[-1], wide))
    return surface.bottoms.get(("run", *ends), find)


def run_of(c: Girder, surface: HullSurface, thick: float) -> Run:
    """Raises CoreError where there is no bottom under it, or its top lies too near to it."""
    place = f"fittings.{c.id}"
    y0, y1 = c.ends_y
    x, y = np.linspace(c.aft, c.fore, STATIONS), np.linspace(y0, y1, STATIONS)
    along = np.hypot(x - x[0], y - y[0])
    cx = (c.fore - c.aft) / float(along[-1])
    bottom = _bottom(surface, x, y, thick * cx)
    missing = np.flatnonzero(np.isnan(bottom).any(axis=1))
    if len(missing):
        k = int(missing[0])
        raise CoreError(f"{x[k]:.3f} m from the transom there is no bottom under it",
                        f"{place}.{'aft' if k < STATIONS / 2 else 'fore'}")  # fmt: skip
    top = c.top + math.tan(math.radians(c.rises)) * (x - c.aft)
    low = (top - bottom.max(axis=1) - c.gap) < LEAST_HIGH_M
    if low.any():
        k = int(np.flatnonzero(low)[0])
        raise CoreError(
            f"{x[k]:.3f} m from the transom less than {LEAST_HIGH_M * 1000:.0f} mm of it is left over the "
            f"bottom; its top is at {top[k]:.3f} m there", f"{place}.top",
        )  # fmt: skip
    return Run(c, thick, x, y, along, top, bottom)


def _tapered(run: Run, s: Array, foot: Array, top: Array) -> Array:
    """Its top with its tapers, at distances along it over a foot, (n,) each [m]."""
    if run.c.taper < LEAST_TAPER_M:
        return top
    share = np.clip(np.minimum(s, run.long - s) / run.c.taper, 0.0, 1.0)
    return np.asarray(np.minimum(top, foot + END_HIGH_M + share * (top - foot - END_HIGH_M)))


def _bottom_at(run: Run, off: float) -> Array:
    """Height of the bottom under it, so far to port of its middle (n,) [m]: straight between what is known
    at both sides and in the middle."""
    share = min(max(2 * off / run.thick, -1.0), 1.0)
    side = run.bottom[:, 2 if share > 0 else 0]
    return np.asarray(run.bottom[:, 1] + abs(share) * (side - run.bottom[:, 1]))


def feet_m(run: Run, off: float, t: float) -> Array:
    """Lower edge of a layer between two faces, over its bed: the higher face decides, the other is
    bevelled to it (n,) [m]."""
    faces = [_bottom_at(run, off + by) for by in (-t / 2, 0.0, t / 2)]
    return np.asarray(np.maximum(np.maximum(faces[0], faces[1]), faces[2]) + run.c.gap)


def outline_of(run: Run, off: float, t: float) -> Polygon:
    """One layer, whole: (along it, height), with its limber holes."""
    c, foot = run.c, feet_m(run, off, t)
    # where its tapers end it has a corner
    marks = np.unique(np.clip([*run.s, c.taper, run.long - c.taper], 0.0, run.long))
    lower, upper = (np.interp(marks, run.s, row) for row in (foot, run.top))
    if c.hollow:
        upper = upper - t  # under its cap
    top = _tapered(run, marks, lower, upper)
    shape = Polygon([*zip(marks, lower, strict=True), *reversed([*zip(marks, top, strict=True)])])
    for s in limbers_of(run):
        hole = FlatPoint(s, float(np.interp(s, run.s, foot))).buffer(c.limber / 2, quad_segs=8)
        shape = largest(shape.difference(hole))
    return largest(shape.simplify(SCRIBE_M))


def limbers_of(run: Run) -> tuple[float, ...]:
    """How far along it its limber holes are [m]."""
    c = run.c
    if not c.limber:
        return ()
    every = (c.limber_every * (k + 0.5) for k in range(math.ceil(run.long / c.limber_every)))
    return tuple(s for s in every if c.limber < s < run.long - c.limber)


def dam_of(run: Run) -> Dam:
    """How it holds water up on the bottom."""
    foot = zip(run.x.tolist(), run.y.tolist(), run.bottom[:, 1].tolist(), strict=True)
    return Dam(tuple(foot), limbers_of(run))


def pieces_of(whole: Polygon, sheet: Sheet, layer: int) -> list[Polygon]:
    """A layer in lengths that its sheet has, butted; joints of one layer lie half way between those of
    the next."""
    x0, low, x1, high = whole.bounds
    count = max(1, math.ceil((x1 - x0) / (sheet.width - MARGIN_M) - 1e-9))
    if count == 1:
        return [whole]
    step, even = (x1 - x0) / count, layer % 2 == 0
    cuts = [x0 + step * (k - 0.5 * even) for k in range(1, count + even)]
    parts = [largest(whole.intersection(box(a + BUTT_M / 2, low - 1, b - BUTT_M / 2, high + 1)))
             for a, b in pairwise([x0 - BUTT_M, *cuts, x1 + BUTT_M])]  # fmt: skip
    return [p for p in parts if p.area > LEAST_M2]


def obstacle_of(c: Girder, surface: HullSurface, catalogue: Catalogue, clad: float = 0.0) -> Obstacle:
    """What bulkheads, bearers and decks are cut round. clad: how thick what lies on its sides and top is
    [m]. Raises CoreError."""
    thick = thick_of(c, catalogue.sheet(c.core).thickness)
    run = run_of(c, surface, thick)
    wide = thick + 2 * clad
    ring = [run.at(k, side * wide, 0.0)[:2]
            for k, side in ((0, 0.5), (STATIONS - 1, 0.5), (STATIONS - 1, -0.5), (0, -0.5))]  # fmt: skip
    rise = math.tan(math.radians(c.rises))
    low, high = float(run.bottom.min()), float(run.top.max()) + clad
    return Obstacle(c.id, c.name, "stringer", Polygon(ring), low, high, rise)


def site_run(c: Girder, site: Site) -> tuple[Run, Sheet]:
    """Its run in a boat and the sheet of its core. Raises CoreError."""
    sheet = site.catalogue.sheet(c.core)
    return run_of(c, site.surface, thick_of(c, sheet.thickness)), sheet
