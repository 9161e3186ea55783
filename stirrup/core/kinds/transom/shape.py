"""A transom laid out: the plane of its inner side, and the outline of what is fitted against it."""

from __future__ import annotations

import math

import numpy as np
from shapely import box
from shapely.geometry import Polygon

from stirrup.core.bodies.item import ItemBase
from stirrup.core.contract.kind import Site
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.fittings.edges import breadth_at, inside_region, largest
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.transom.choices import Transom
from stirrup.core.parts.entries import Sheet
from stirrup.core.parts.model import Frame
from stirrup.core.record import dataclass

HEIGHTS = 25  # at which the hull's inside is asked
JUST_M = 2e-4  # over the bottom, where there is an inside at all
SCRIBE_M = 0.0002
LOWER_SHARE, NEAR_M = 0.85, 0.005  # of her side, by which its plane is found; off that plane
LEAST_M2 = 0.02
ALONG_M = (0.0, 0.1, 0.2, 0.4, 0.6, 0.8, 1.0)  # her sheer may dip forward of her stern
RIM_M = 0.001  # under it
FAR_M = 20.0


@dataclass(frozen=True)
class Plane:
    """The inner side of a transom: x = x0 + lean z; nothing of it lies forward of that [m]."""

    x0: float
    lean: float
    low: float  # the lowest height at which there is an inside
    high: float  # the greatest at which that reaches it

    @property
    def long(self) -> float:
        """Along it for each metre up."""
        return math.hypot(1.0, self.lean)

    def x(self, z: float) -> float:
        """How far from the datum it stands at a height [m]."""
        return self.x0 + self.lean * z

    def up(self, z: float) -> float:
        """Distance along it from its foot to a height [m]."""
        return (z - self.low) * self.long

    def frame(self, off: float) -> Frame:
        """Axes of a sheet whose middle lies so far inside of it: to port, and up along it [m]. All sheets
        have their feet at one height, so that one outline serves them all."""
        n, foot = self.long, (self.x(self.low) + off * self.long, 0.0, self.low)
        return Frame(foot, (0.0, 1.0, 0.0), (self.lean / n, 0.0, 1 / n))

    def at(self, y: float, u: float, off: float) -> Point:
        """A point of a sheet so far inside of it [m]."""
        return self.frame(off).at(y, u)


@dataclass(frozen=True)
class Shape:
    """What is fitted: its plane, its sheets, its outline (y, along the plane from its foot), how long it
    is bedded on the hull [m], and the heights of sheer and keel there."""

    c: Transom
    plane: Plane
    core: Sheet
    outline: Polygon
    bedded_m: float
    sheer: float
    keel: float

    @property
    def thick(self) -> float:
        """Of all layers of its core together [m]."""
        return self.c.layers * self.core.thickness


def sheer_m(surface: HullSurface) -> float:
    """How high her sides reach at the transom: the lowest of her sheer over the last of her [m]."""
    aft = float(surface.inside.low[0])
    return min(float(surface.sheer_at(aft + by, side)[2]) for by in ALONG_M for side in (1.0, -1.0)) - RIM_M


def plane_of(surface: HullSurface, sheer: float) -> Plane:
    """By the lower part of it: close to the sheer the inside may end before it. Raises CoreError where
    the hull has no inside at its aft end."""
    low = float(surface.inside.low[2]) + JUST_M
    found = []
    for z in np.linspace(low, max(low + 0.05, sheer - JUST_M), HEIGHTS):
        room = inside_region(surface, float(z))
        if not room.is_empty:
            found.append((float(z), float(room.bounds[0])))
    lower = [row for row in found if row[0] <= low + LOWER_SHARE * (sheer - low)]
    if len(lower) < 2:
        raise CoreError("the hull has no inside at its transom")
    (z0, x0), (z1, x1) = lower[0], lower[-1]
    lean = (x1 - x0) / (z1 - z0)
    at = max(x - lean * z for z, x in lower)
    return Plane(at, lean, z0, max(z for z, x in found if x <= at + lean * z + NEAR_M))


def _side(surface: HullSurface, plane: Plane, z: float, thick: float) -> tuple[float, float] | None:
    """Room from side to side at a height over the whole thickness [m]."""
    room = inside_region(surface, z)
    ends = [breadth_at(room, plane.x(z) + by + 1e-4) for by in (0.0, thick * plane.long)]
    if ends[0] is None or ends[1] is None:
        return None
    return max(e[0] for e in ends if e), min(e[1] for e in ends if e)


def _whole(surface: HullSurface, plane: Plane, top: tuple[float, float], thick: float) -> Polygon:
    """All that fits against the transom, in its plane. top: height of the sheer there, and up to where
    it is asked; over its sheer the sides go on straight up."""
    port, other = [], []
    sheer, high = top
    for z in sorted({*np.linspace(plane.low, sheer, HEIGHTS).tolist(), high}):
        found = _side(surface, plane, min(float(z), plane.high), thick)
        if found is not None and found[1] - found[0] > 1e-3:
            port.append((found[1], plane.up(float(z))))
            other.append((found[0], plane.up(float(z))))
    if len(port) < 2:
        return Polygon()
    return largest(Polygon([*other, *reversed(port)]).buffer(0))


def lay_out(c: Transom, site: Site) -> Shape:
    """Raises CoreError where there is no room for it."""
    core, surface, place = site.catalogue.sheet(c.core), site.surface, f"fittings.{c.id}"
    sheer = sheer_m(surface)
    plane = plane_of(surface, sheer)
    thick = c.layers * core.thickness
    # its edges are cut square: one corner of a foot that leans comes nearer
    gap = c.gap + abs(plane.lean) * core.thickness / 2
    # so much higher that the gap leaves its top where it is
    whole = _whole(
        surface, plane, (sheer, (sheer if c.notch else max(sheer, c.top)) + gap / plane.long), thick
    )
    if whole.is_empty:
        raise CoreError("nothing fits against the transom there", f"{place}.top")
    fitted = largest(whole.buffer(-gap, join_style="mitre")) if gap else whole
    shape = _cut_down(c, plane, fitted, motor_y(c, site))
    if shape.is_empty or shape.area < LEAST_M2:
        raise CoreError(f"its top at {c.top:.3f} m leaves nothing of it", f"{place}.top")
    on_hull = shape.exterior.intersection(whole.exterior.buffer(gap + 2 * SCRIBE_M))
    under = box(-FAR_M, -FAR_M, FAR_M, plane.up(sheer) - gap - SCRIBE_M)
    return Shape(c, plane, core, shape, float(on_hull.intersection(under).length), sheer,
                 float(surface.lines[0][0][0][2]))  # fmt: skip


def motor_of(c: Transom, site: Site) -> ItemBase | None:
    """The motor that it carries; None where none was chosen."""
    found = site.named(c.motor)
    return found[0] if found is not None and isinstance(found[0], ItemBase) else None


def motor_y(c: Transom, site: Site) -> float:
    """How far to port its motor hangs [m]."""
    motor = motor_of(c, site)
    return motor.mass.centre[1] if motor is not None else 0.0


def _cut_down(c: Transom, plane: Plane, fitted: Polygon, y: float) -> Polygon:
    """To the mounting top: all of it, or over the breadth that was asked, its corners rounded."""
    level = plane.up(c.top)
    if not c.notch:
        return largest(fitted.intersection(box(-FAR_M, -FAR_M, FAR_M, level)))
    a, b = y - c.notch / 2, y + c.notch / 2
    cut = fitted.difference(box(a, level, b, FAR_M))
    if level > fitted.bounds[3]:
        cut = cut.union(box(a, fitted.bounds[3] - 0.01, b, level))
    r = c.corner
    rounded = cut.buffer(r, quad_segs=6).buffer(-r, quad_segs=6) if r else cut
    return largest(largest(rounded).simplify(SCRIBE_M))
