"""What a kind of fitting is given and what it gives back.

Kinds never import one another: a guest (a hatch) hands its host (a deck) an Opening, and
receives the host's Built.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property, partial
from typing import Literal, Protocol

from pydantic import BaseModel, Field
from shapely.geometry import Polygon

from stirrup.core.document import Box, Document, Id, Name, Point, Point2
from stirrup.core.findings import Finding
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.memo import Shelf
from stirrup.core.parts.model import Bought, Member, Panel


class Named(Protocol):
    """What parts of a fitting are named after."""

    @property
    def id(self) -> str: ...
    @property
    def name(self) -> str: ...
    @property
    def code(self) -> str: ...


class FittingBase(Document):
    """What every fitting has. `mark` is its short code on labels and stays with it."""

    id: Id
    name: Name
    mark: str | None = Field(None, min_length=1, max_length=16)

    @property
    def code(self) -> str:
        return self.mark or self.id

    @property
    def idle(self) -> frozenset[str]:
        """Choices that change nothing as the others are; they need not be shown."""
        return frozenset()


@dataclass(frozen=True)
class Obstacle:
    """Structure that stays in the boat: plan footprint and height range [m]."""

    id: str
    name: str
    kind: str
    footprint: Polygon
    low: float
    high: float

    @cached_property
    def ring(self) -> tuple[Point2, ...]:
        """Corners of the footprint, for drawing."""
        return tuple((float(x), float(y)) for x, y in self.footprint.exterior.coords[:-1])


@dataclass(frozen=True)
class Opening:
    """A hole that a guest needs in its host.

    cutout: hole in the host's skin; frame: rectangle (x0, y0, x1, y1) on whose edges the
    members that carry guest and skin are set.
    """

    guest: str
    code: str
    cutout: Polygon
    frame: tuple[float, float, float, float]


@dataclass(frozen=True)
class Handle:
    """An edge that can be dragged: which choice, along which axis, where it is drawn."""

    field: str
    axis: Literal["x", "y", "z"]
    line: tuple[Point, Point]
    label: str


@dataclass(frozen=True)
class Shape:
    """Something to draw: closed ring on the boat's axes, with a role and its hatching."""

    role: str
    ring: tuple[Point, ...]
    hatching: str = ""


@dataclass(frozen=True)
class Built:
    """What one fitting makes."""

    fitting: str
    panels: tuple[Panel, ...] = ()
    members: tuple[Member, ...] = ()
    bought: tuple[Bought, ...] = ()
    shapes: tuple[Shape, ...] = ()
    handles: tuple[Handle, ...] = ()
    findings: tuple[Finding, ...] = ()
    top_m: float = 0.0
    region: Polygon = field(default_factory=Polygon)
    # what follows from it alone: the same object is looked at again at every preview
    kept: Shelf = field(default_factory=partial(Shelf, 24), compare=False, repr=False)

    @property
    def parts(self) -> tuple[Panel | Member | Bought, ...]:
        """Everything that weighs."""
        return (*self.panels, *self.members, *self.bought)

    @property
    def mass_kg(self) -> float:
        return sum(p.mass_kg for p in self.parts)


@dataclass(frozen=True)
class Site:
    """What a builder is given: the hull, what stays, its openings, its host."""

    surface: HullSurface
    obstacles: tuple[Obstacle, ...] = ()
    openings: tuple[Opening, ...] = ()
    host: Built | None = None
    host_choices: BaseModel | None = None


@dataclass(frozen=True)
class FittingKind:
    """Entry of the registry."""

    choices: type[FittingBase]
    title: str
    build: Callable[..., Built]
    opening: Callable[..., Opening] | None = None  # (choices, host choices) -> Opening


ALL_THE_WAY_UP = (-10.0, 10.0)  # heights of an outline that gives none [m]


def obstacle_of(
    id_: str, name: str, kind: str, box: Box | None, outline: tuple[Point | Point2, ...] | None
) -> Obstacle:
    """Footprint and height range of a piece of existing structure (see the build file)."""
    points = (box.low, box.high) if box else (outline or ())
    z = [p[2] for p in points if len(p) == 3] or list(ALL_THE_WAY_UP)
    if box:
        (x0, y0, _), (x1, y1, _) = box.low, box.high
        shape = Polygon([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])
    else:
        ring = Polygon([(p[0], p[1]) for p in points])
        # corners that were typed may cross: what is around all of it then keeps others away
        flat = ring if ring.is_valid else ring.convex_hull
        # an upright outline (a rib) has no area in plan: give it the thickness of a sheet
        shape = flat if flat.area > 1e-5 else flat.convex_hull.buffer(0.002, cap_style="flat")
    return Obstacle(id_, name, kind, shape, min(z), max(z))
