"""What the build of a thing gives to all who ask. Lengths in m on the boat's axes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import field, replace
from functools import partial
from typing import Literal

from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from stirrup.core.contract.dam import Dam
from stirrup.core.contract.seam import Seam
from stirrup.core.contract.shown import Chart, Detail
from stirrup.core.document import Point, Point2
from stirrup.core.findings import Finding, Level
from stirrup.core.kept import Attached, kept_property
from stirrup.core.parts.model import Bought, Member, Panel
from stirrup.core.record import dataclass
from stirrup.core.space.room import Room
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

View = Literal["plan", "side", "across", "far"]


@dataclass(frozen=True)
class Opening:
    """A hole that a guest needs in its host.

    cutout: hole in the host's skin; frame: rectangle (x0, y0, x1, y1) on whose edges the
    members that carry guest and skin are set. wall: key of the upright panel that it is in instead, both
    then across the boat and up, (y, z). over: what lies on the host round the hole, where it reaches
    past it. bare: a hole that nothing is framed round. shut: nobody reaches through it.
    """

    guest: str
    code: str
    cutout: Polygon
    frame: tuple[float, float, float, float]
    wall: str = ""
    over: Polygon | None = None
    bare: bool = False
    shut: bool = False

    @property
    def taken(self) -> Polygon:
        """All that the guest takes of its host, seen from above."""
        return self.over or self.cutout


@dataclass(frozen=True)
class Framed:
    """How far the members round a guest's opening reach into it past the edges of `frame`: aft,
    starboard, fore, port [m]; less than nothing where they stand back. One shared by neighbours
    stands off the edges of both."""

    guest: str
    past: tuple[float, float, float, float]


@dataclass(frozen=True)
class Handle:
    """An edge that can be dragged: which choice, along which axis, where it is drawn, and which
    edge of the thing it is."""

    field: str
    axis: Literal["x", "y", "z"]
    line: tuple[Point, Point]
    label: str
    edge: str = ""


@dataclass(frozen=True)
class Shape:
    """Something to draw in one view: points on the boat's axes, with a role that only styles.

    "far" is how it is seen from far off, in the small drawings; behind: it hangs outside, behind
    the hull.
    """

    role: str
    ring: tuple[Point, ...]
    hatching: str = ""
    view: View = "plan"
    closed: bool = True
    behind: bool = False
    thin: bool = False  # seen from its edge: drawn thick enough to be seen


@dataclass(frozen=True)
class End:
    """One end of the space under a floor: where, whether a panel shuts it, whether an arm gets in."""

    x: float
    shut: bool
    open: bool


@dataclass(frozen=True)
class Doorway:
    """A door in an upright panel: x of that, and what is clear across the boat and up [m]."""

    x: float
    across: Point2
    up: Point2


@dataclass(frozen=True)
class Below:
    """The space under a floor: up to where it is free, its two ends, how low their panels reach, the
    range of heights in which a drill has to get at the hull's side, and doors in its panels."""

    free_m: float
    aft: End
    fore: End
    foot_m: float | None
    drilled: tuple[float, float]
    doors: tuple[Doorway, ...] = ()


@dataclass(frozen=True)
class Floor:
    """A surface that people stand on: outline, its height, the underside of its skin.

    broad: people stay and work on it; else they only step on it or sit. rise: for each metre forward;
    its heights are then those in the middle of its length, and of the space under it those where it is
    lowest.
    """

    region: Polygon
    top_m: float
    under_m: float
    broad: bool = True
    below: Below | None = None
    rise: float = 0.0

    def top_at(self, x: float) -> float:
        """Its height at x [m]."""
        if not self.rise:
            return self.top_m
        x0, _, x1, _ = self.region.bounds
        return self.top_m + self.rise * (x - float(x0 + x1) / 2)

    def highest(self, ring: Sequence[Point2]) -> float:
        """Its greatest height under a foot by its corners in plan [m]."""
        return max(self.top_at(x) for x, _ in ring) if self.rise else self.top_m

    def lean(self, rise: float) -> Floor:
        """The same with all of it raised by `rise` for each metre forward of x = 0."""
        x0, _, x1, _ = self.region.bounds
        up, least = rise * (x0 + x1) / 2, min(rise * x0, rise * x1)
        below = self.below
        if below is not None:
            low, high = below.drilled
            below = replace(below, free_m=below.free_m + least, drilled=(low + least, high + least))
        return replace(self, top_m=self.top_m + up, under_m=self.under_m + up, below=below,
                       rise=self.rise + rise)  # fmt: skip


@dataclass(frozen=True)
class Hole:
    """A way through a host: middle and clear opening along and across, and what it leads through."""

    x: float
    y: float
    length: float
    width: float
    host: str = ""

    @property
    def outline(self) -> tuple[float, float, float, float]:
        a, b = self.length / 2, self.width / 2
        return (self.x - a, self.y - b, self.x + a, self.y + b)


@dataclass(frozen=True)
class Seat:
    """Where somebody sits: its middle, its outline in plan (empty without a size), whether one
    steers from it, and how high its cushion is over what it stands on, where that is known [m]."""

    at: Point
    region: Polygon
    steers: bool = False
    rise_m: float | None = None


@dataclass(frozen=True)
class Helm:
    """What somebody steers at: its middle in plan, its aft side, foot and top, and the foot of the wheel's
    rim where that is known."""

    at: Point2
    aft_m: float
    low_m: float
    top_m: float
    rim_m: float | None = None


@dataclass(frozen=True)
class Pane:
    """What one looks over or through: its middle in plan, x of its upper edge, and its height."""

    at: Point2
    edge_m: float
    top_m: float


@dataclass(frozen=True)
class Overhead:
    """What a head can meet: outline in plan and underside, and from when on it is over somebody.

    It is over whose feet (or seat) are more than `margin` below `from_m`. what, edge: for the
    sentence; remedy: what one does.
    """

    region: BaseGeometry
    under_m: float
    from_m: float
    margin: float
    level: Level
    what: str
    edge: str
    remedy: str


@dataclass(frozen=True)
class Lift:
    """A body that is taken out now and then, and how bad it is if it cannot be."""

    size: tuple[float, float, float]
    level: Level = "look"


@dataclass(frozen=True)
class Bolts:
    """Where a thing is bolted down: places in plan, the height it stands at, its middle."""

    places: tuple[Point2, ...]
    foot_m: float
    middle: Point2


WALL_M = 0.006  # of a box or locker that is bought


@dataclass(frozen=True)
class Hold:
    """A closed box that takes gear: its middle, outer size, turn in degrees, thickness of its walls."""

    at: Point
    size: tuple[float, float, float]
    turn: float = 0.0
    wall: float = WALL_M

    @property
    def clear(self) -> tuple[float, float, float]:
        """Its inner size [m]."""
        a, b, c = (max(0.0, s - 2 * self.wall) for s in self.size)
        return (a, b, c)


@dataclass(frozen=True)
class Foot:
    """How a body stands in the hull: itself, and the corners in plan of what touches the bottom."""

    body: Prism
    corners: tuple[Point2, ...]


@dataclass(frozen=True)
class Marked:
    """What is marked out in the boat: `region` by ordinates, or the four corners of a box in the
    order aft starboard, fore starboard, fore port, aft port, turned; its height at x = 0, and how much
    it rises for each metre forward; words after the name."""

    z_m: float
    region: Polygon | None = None
    corners: tuple[Point2, ...] = ()
    turn: float = 0.0
    what: str = ""
    rise: float = 0.0

    def z_at(self, x: float) -> float:
        """Its height at x [m]."""
        return self.z_m + self.rise * x


@dataclass(frozen=True)
class Built:
    """What one thing makes, and what others need to know about it."""

    fitting: str
    panels: tuple[Panel, ...] = ()
    members: tuple[Member, ...] = ()
    bought: tuple[Bought, ...] = ()
    shapes: tuple[Shape, ...] = ()
    handles: tuple[Handle, ...] = ()
    findings: tuple[Finding, ...] = ()
    top_m: float = 0.0
    region: Polygon = field(default_factory=Polygon)
    solids: tuple[Solid, ...] = ()
    rooms: tuple[Room, ...] = ()
    floors: tuple[Floor, ...] = ()
    holes: tuple[Hole, ...] = ()
    framed: tuple[Framed, ...] = ()  # of its guests' openings
    seats: tuple[Seat, ...] = ()
    helms: tuple[Helm, ...] = ()
    panes: tuple[Pane, ...] = ()
    climbs: tuple[Point, ...] = ()  # where somebody lies who climbs in
    overhead: tuple[Overhead, ...] = ()
    foot: Foot | None = None
    lift: Lift | None = None
    bolts: Bolts | None = None
    hold: Hold | None = None
    marked: tuple[Marked, ...] = ()
    dams: tuple[Dam, ...] = ()
    charts: tuple[Chart, ...] = ()
    details: tuple[Detail, ...] = ()
    joined: Literal["", "laminate", "weld"] = ""  # to the hull
    seams: tuple[Seam, ...] = ()  # that are welded when it is joined
    led: tuple[tuple[Point, Point], ...] = ()  # stretches of what is led through the boat
    stays: bool = False  # is in the boat already and not taken out for an evening's drilling
    # what is not level is built level in a hull that leans the other way: how much it rises for each
    # metre forward, and as it was built
    rise: float = 0.0
    as_level: Built | None = field(default=None, compare=False, repr=False)
    # what is found of it alone, but need not keep up with the hand: worked out when it is asked for
    later: Callable[[], Sequence[Finding]] | None = field(default=None, compare=False, repr=False)
    # what follows from it alone: the same object is looked at again at every preview. One that is made from
    # another by replacing something begins with nothing
    kept: Attached = field(default_factory=partial(Attached, 40), init=False, compare=False, repr=False)

    @property
    def parts(self) -> tuple[Panel | Member | Bought, ...]:
        """Everything that weighs."""
        return (*self.panels, *self.members, *self.bought)

    @property
    def mass_kg(self) -> float:
        return sum(p.mass_kg for p in self.parts)

    @kept_property
    def views(self) -> frozenset[View]:
        """The views in which it looks like something."""
        return frozenset(s.view for s in self.shapes)

    @kept_property
    def behind(self) -> tuple[Finding, ...]:
        """Findings that come behind, each of a check that is declared so."""
        return () if self.later is None else tuple(self.later())

    @property
    def body(self) -> Solid | None:
        """The solid of what stands in the boat as one body; None for what is built in."""
        return next((s for s in self.solids if s.stands), None)
