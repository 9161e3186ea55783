"""Parts: what a fitting makes. Each knows its label, mass, place and stock."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import field, replace
from itertools import pairwise
from typing import Literal, NamedTuple

import numpy as np
from shapely.geometry import Polygon

from stirrup.core.document import Point, Point2
from stirrup.core.kept import kept_property
from stirrup.core.parts.entries import Entry, Section, Sheet
from stirrup.core.parts.folding import Bend
from stirrup.core.record import dataclass

Ring = tuple[Point2, ...]
RECTANGLE = 4  # corners
LEAST_SETTING_DEG = 0.5  # a saw's scale shows no less


@dataclass(frozen=True)
class Frame:
    """Where a flat part lies: point (u, v) of its outline is origin + u·along + v·across."""

    origin: Point
    along: Point = (1.0, 0.0, 0.0)
    across: Point = (0.0, 1.0, 0.0)

    def at(self, u: float, v: float) -> Point:
        """Boat coordinates of a point (u, v) of the outline [m]."""
        o, a, b = self.origin, self.along, self.across
        return (
            o[0] + u * a[0] + v * b[0],
            o[1] + u * a[1] + v * b[1],
            o[2] + u * a[2] + v * b[2],
        )


@dataclass(frozen=True)
class Panel:
    """Flat part cut from a sheet. `key` is its identity and never changes with the plan's
    numbers; outline and holes are in the panel's own axes [m]; the frame's origin lies in
    the middle of the thickness. One that is folded is cut by its flat pattern: outline, holes, bends;
    flats: its faces as they stand when it is."""

    key: str
    label: str
    name: str
    fitting: str
    sheet: Sheet
    outline: Ring
    holes: tuple[Ring, ...]
    frame: Frame
    rotations: tuple[int, ...] = (0, 180)
    flip: bool = False
    # a bearer stands upright across the boat, and is set out; a strip lies under a joint of the skin; a
    # soffit is set with the faces under it and over it; what is bent into place is drawn flat about its
    # middle, and lies along the hull
    role: Literal["", "bearer", "strip", "soffit", "bent"] = ""
    bends: tuple[Bend, ...] = ()
    flats: tuple[Panel, ...] = ()

    @property
    def faces(self) -> tuple[Panel, ...]:
        """What of it is flat as it stands in the boat: itself, unless it is folded."""
        return self.flats or (self,)

    @property
    def bends_words(self) -> str:
        """How it is folded, to the tenth of a millimetre: told apart by this; empty for what is flat."""
        ends = ((b, *b.start, *b.end) for b in self.bends)
        return "; ".join(
            f"{b.angle_deg:.1f}° {(u + x) / 2:.4f} {(v + y) / 2:.4f}" for b, u, v, x, y in ends
        )

    def cut_from(self, shape: Polygon) -> Panel:
        """Itself, with the shape that its rings were taken from, where they go round the same way: that
        need not be made of them again."""
        if tuple(shape.exterior.coords[:2]) == self.outline[:2]:
            Panel.polygon.keep(self, shape)
        return self

    @kept_property
    def polygon(self) -> Polygon:
        # as arrays: shapely looks at each corner of anything else
        return Polygon(np.array(self.outline), [np.array(hole) for hole in self.holes])

    def lean(self, rise: float) -> Panel:
        """The same with all of it raised by `rise` for each metre forward of x = 0: a skin lies in a
        plane that rises and is as much longer, an upright panel stays upright."""
        o, a, b = (np.array(v) for v in (self.frame.origin, self.frame.along, self.frame.across))
        lift = rise * np.array([0.0, 0.0, 1.0])
        ways = np.column_stack([a + a[0] * lift, b + b[0] * lift])
        axes = np.column_stack([a, b])
        if self.level:
            first = ways[:, 0] / np.linalg.norm(ways[:, 0])
            second = ways[:, 1] - (ways[:, 1] @ first) * first
            axes = np.column_stack([first, second / np.linalg.norm(second)])
        turned = axes.T @ ways
        origin, along, across = ((float(v[0]), float(v[1]), float(v[2]))
                                 for v in (o + o[0] * lift, axes[:, 0], axes[:, 1]))  # fmt: skip
        outline, *holes = (_mapped(turned, r) for r in (self.outline, *self.holes))
        return replace(self, outline=outline, holes=tuple(holes), frame=Frame(origin, along, across),
                       flats=tuple(f.lean(rise) for f in self.flats))  # fmt: skip

    @kept_property
    def mass_kg(self) -> float:
        """Net area x thickness x density."""
        return float(self.polygon.area) * self.sheet.thickness * self.sheet.stuff.density

    @property
    def stock(self) -> str:
        """Id of its sheet."""
        return self.sheet.id

    @property
    def level(self) -> bool:
        """Whether it lies flat or nearly so, as a skin does, rather than standing upright."""
        (ax, ay, _), (bx, by, _) = self.frame.along, self.frame.across
        return abs(ax * by - ay * bx) > math.sqrt(0.5)

    @kept_property
    def centre(self) -> Point:
        """Of its area; of a folded one that of its flats."""
        if self.flats:
            each = [(f.area_m2, f.centre) for f in self.flats]
            whole = sum(area for area, _ in each)
            x, y, z = (sum(area * at[k] for area, at in each) / whole for k in range(3))
            return (x, y, z)
        if not self.holes and len(self.outline) == RECTANGLE:
            return self.frame.at(*_middle(self.outline)[1])
        middle = self.polygon.centroid
        return self.frame.at(middle.x, middle.y)

    @property
    def area_m2(self) -> float:
        """Net area [m²]: of four corners without asking for its polygon."""
        if not self.holes and len(self.outline) == RECTANGLE:
            return _middle(self.outline)[0]
        return float(self.polygon.area)


def _middle(ring: Ring) -> tuple[float, Point2]:
    """Area [m²] and centroid of a ring without crossings, by the shoelace formula."""
    (ox, oy), twice, u, v = ring[0], 0.0, 0.0, 0.0
    for (a, b), (c, d) in pairwise((*ring, ring[0])):
        cross = (a - ox) * (d - oy) - (c - ox) * (b - oy)
        twice += cross
        u += cross * (a + c - 2 * ox)
        v += cross * (b + d - 2 * oy)
    return abs(twice) / 2, (ox + u / (3 * twice), oy + v / (3 * twice))


@dataclass(frozen=True)
class EndCut:
    """How the saw is set for an end, the flange flat on its table: swing of the saw (mitre) and tilt
    of the blade (bevel), degrees from square; long: which edge of the flange is the longer one; foot:
    the leg's foot is longer than the flange, as against a side that leans inward."""

    mitre_deg: float
    bevel_deg: float
    long: str = ""
    foot: bool = False

    @property
    def square(self) -> bool:
        return max(self.mitre_deg, self.bevel_deg) < LEAST_SETTING_DEG

    @property
    def words(self) -> str:
        """ "mitre 24° (longer aft), bevel 6° (flange longer)", "square"."""
        out = []
        if self.mitre_deg >= LEAST_SETTING_DEG:
            out.append(f"mitre {self.mitre_deg:.0f}° (longer {self.long})")
        if self.bevel_deg >= LEAST_SETTING_DEG:
            out.append(f"bevel {self.bevel_deg:.0f}° ({'foot' if self.foot else 'flange'} longer)")
        return ", ".join(out) or "square"


class Bent(NamedTuple):
    """What becomes of a section that is bent along the hull: see `Member`."""

    slots: tuple[float, ...] = ()
    opening_deg: tuple[float, float] = (90.0, 90.0)


@dataclass(frozen=True)
class Member:
    """Straight or curved length of section stock along `path` [m].

    length: of the stick it takes, from long point to long point; ends: the cut at the first and at
    the last point of its path; copes: how far the flange, and the leg's edge on it, are cut back
    from either end so that they pass under another one's flange [m]; bodies: what it fills as
    fitted, leg and flange, each a convex body by its corners. What is late is worked out when somebody
    asks: few do while something is dragged.
    """

    key: str
    label: str
    name: str
    fitting: str
    section: Section
    length: float
    path: tuple[Point, ...]
    note: str = ""
    ends: tuple[EndCut, ...] = ()
    copes: tuple[float, float] = (0.0, 0.0)
    bodies: tuple[tuple[Point, ...], ...] = ()
    ends_at: tuple[str, str] = ("port end", "starboard end")
    # frame: of a box, set with it; post: upright under a cross member
    role: Literal["", "side", "cross", "batten", "frame", "post"] = ""
    late_bodies: Callable[[], Sequence[tuple[Point, ...]]] | None = field(
        default=None, compare=False, repr=False
    )
    late_bent: Callable[[], Bent] | None = field(default=None, compare=False, repr=False)

    @property
    def stock(self) -> str:
        """Id of its section."""
        return self.section.id

    @kept_property
    def _bent(self) -> Bent:
        return self.late_bent() if self.late_bent else Bent()

    @property
    def slots(self) -> tuple[float, ...]:
        """Distances of relief cuts from the first end [m]."""
        return self._bent.slots

    @property
    def opening_deg(self) -> tuple[float, float]:
        """Angle between the legs as fitted (90 as bought), least and greatest."""
        return self._bent.opening_deg

    def lean(self, rise: float) -> Member:
        """The same with all of it raised by `rise` for each metre forward of x = 0; what runs along the
        boat is as much longer."""

        def up(points: tuple[Point, ...]) -> tuple[Point, ...]:
            return tuple((x, y, z + rise * x) for x, y, z in points)

        path, late = up(self.path), self.late_bodies
        longer = _run_m(path) / max(_run_m(self.path), SHORT_M)
        return replace(
            self, path=path, length=self.length * longer,
            late_bent=lambda: Bent(tuple(s * longer for s in self.slots), self.opening_deg),
            bodies=tuple(up(b) for b in self.bodies),
            late_bodies=None if late is None else (lambda: tuple(up(b) for b in late())),
        )  # fmt: skip

    @kept_property
    def fills(self) -> Sequence[tuple[Point, ...]]:
        """`bodies`, also those that are late."""
        return self.late_bodies() if self.late_bodies else self.bodies

    @property
    def ends_words(self) -> str:
        """Both ends' saw settings; empty when both are square."""
        if not self.ends or all(e.square for e in self.ends):
            return ""
        first, last = self.ends
        if first.words == last.words:
            return f"both ends {first.words}, handed"
        return f"{self.ends_at[0]} {first.words}; {self.ends_at[1]} {last.words}"

    @kept_property
    def mass_kg(self) -> float:
        # what is sawn off a slanting end stays in the shop: along the middle line of a straight one
        along = math.dist(*self.path) if len(self.path) == 2 else self.length
        source = self.section
        flange = source.b / (source.a + source.b - source.t)
        return (along - sum(self.copes) * flange) * source.kg_per_m

    @kept_property
    def centre(self) -> Point:
        """Centroid of the path by length."""
        if len(self.path) == 2:
            a, b = self.path
            return ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2)
        points = np.array(self.path)
        step = np.linalg.norm(np.diff(points, axis=0), axis=1)
        middle = (points[1:] + points[:-1]) / 2
        c = step @ middle / step.sum()
        return (float(c[0]), float(c[1]), float(c[2]))


@dataclass(frozen=True)
class Bought:
    """Hardware, cover or consumable: how much of which item, weighing what, where."""

    key: str
    label: str
    name: str
    fitting: str
    entry: Entry
    quantity: float
    mass_kg: float
    centre: Point
    group: Literal["hardware", "fasteners", "cover", "consumables"] = "hardware"
    owned: bool = False  # it weighs, and need not be bought

    @property
    def item(self) -> str:
        """Id of what is bought."""
        return self.entry.id


SHORT_M = 1e-9


def _run_m(path: tuple[Point, ...]) -> float:
    """Length of a line of points [m]."""
    return sum(math.dist(a, b) for a, b in pairwise(path))


def _mapped(by: np.typing.NDArray[np.float64], points: Ring) -> Ring:
    """A ring, each of its points multiplied by a matrix (2, 2)."""
    return tuple((float(u), float(v)) for u, v in np.array(points) @ by.T)


def ring(points: object) -> Ring:
    """Open ring of plain floats from shapely coordinates, without the closing point."""
    values = [(x, y) for x, y in np.asarray(points, dtype=float)[:, :2].tolist()]
    return tuple(values[:-1] if values[0] == values[-1] else values)


def panel_rings(shape: Polygon) -> tuple[Ring, tuple[Ring, ...]]:
    """Outline (counter-clockwise) and holes of a shapely polygon."""
    outline = ring(shape.exterior.coords)
    area = sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(outline, outline[1:] + outline[:1], strict=True))
    return outline if area > 0 else outline[::-1], tuple(ring(h.coords) for h in shape.interiors)
