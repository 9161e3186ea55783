"""What is to be cut from what, and where it lies: jobs and layouts of any shapes on any stock.

Lengths in metres, angles in degrees, costs in whatever the job counts in.
"""

from __future__ import annotations

import math
from itertools import pairwise

from shapely import affinity
from shapely.geometry import Polygon

from stirrup.core.kept import kept_property
from stirrup.core.parts.model import Ring
from stirrup.core.record import dataclass

QUARTERS = (0.0, 90.0, 180.0, 270.0)
MOST_FREE_TURNS = 12  # of a part that may lie any way: its longest edges laid along the sheet
SAME_TURN_DEG = 0.01


@dataclass(frozen=True)
class Stock:
    """A sheet that is sold, or an offcut: outline with holes [m], what one costs, how many there are.

    count: None where as many can be had as are wanted. margin: least distance of a part from every
    edge [m]; None takes the job's.
    """

    id: str
    outline: Ring
    holes: tuple[Ring, ...] = ()
    cost: float = 0.0
    count: int | None = None
    margin: float | None = None

    @kept_property
    def polygon(self) -> Polygon:
        """The whole of it."""
        return Polygon(self.outline, self.holes)

    @property
    def square(self) -> bool:
        """Whether it is a plain rectangle that lies along the axes."""
        x0, y0, x1, y1 = self.polygon.bounds
        return not self.holes and abs(self.polygon.area - (x1 - x0) * (y1 - y0)) < 1e-9


@dataclass(frozen=True)
class Part:
    """A panel to cut: outline with holes [m], how many, turns allowed [deg] (None: any), may it be
    turned over."""

    id: str
    outline: Ring
    holes: tuple[Ring, ...] = ()
    qty: int = 1
    rotations: tuple[float, ...] | None = (0.0, 180.0)
    flip: bool = False

    @kept_property
    def polygon(self) -> Polygon:
        """The panel as it is given."""
        return Polygon(self.outline, self.holes)

    @kept_property
    def turns(self) -> tuple[float, ...]:
        """The turns to try: those allowed; of one that may lie any way, its long edges along the axes."""
        return self.rotations if self.rotations is not None else _along_edges(self.polygon)


def _along_edges(polygon: Polygon) -> tuple[float, ...]:
    """Quarter turns, and the turns that lay the longest edges of the hull along x."""
    corners = list(polygon.convex_hull.exterior.coords)
    edges = [(b[0] - a[0], b[1] - a[1]) for a, b in pairwise(corners)]
    edges.sort(key=lambda e: -(e[0] ** 2 + e[1] ** 2))
    turns = list(QUARTERS)
    for dx, dy in edges:
        base = -math.degrees(math.atan2(dy, dx))
        for quarter in QUARTERS:
            turn = (base + quarter) % 360
            if all(min(abs(turn - t), 360 - abs(turn - t)) > SAME_TURN_DEG for t in turns):
                turns.append(turn)
        if len(turns) >= MOST_FREE_TURNS:
            break
    return tuple(turns[:MOST_FREE_TURNS])


@dataclass(frozen=True)
class CutJob:
    """Parts to be cut from stock.

    kerf: width that the tool takes away; spacing: least distance that the shop wants between two
    parts; the larger of both counts. margin: least distance of a part from the edge of its stock.
    straight: edge-to-edge cuts only, in at most `stages` stages (a stage: all cuts one way).
    """

    name: str
    stocks: tuple[Stock, ...]
    parts: tuple[Part, ...]
    kerf: float = 0.003
    spacing: float = 0.0
    margin: float = 0.006
    straight: bool = False
    stages: int = 3

    @property
    def gap(self) -> float:
        """Least distance between two parts [m]."""
        return max(self.kerf, self.spacing)

    def margin_of(self, stock: Stock) -> float:
        """Least distance of a part from this stock's edges [m]."""
        return self.margin if stock.margin is None else stock.margin


@dataclass(frozen=True)
class Lay:
    """One part: mirrored (x to -x) if flipped, turned by `rotation` [deg] about (0, 0), then shifted."""

    part: str
    rotation: float
    x: float
    y: float
    flipped: bool = False


@dataclass(frozen=True)
class Bin:
    """One piece of stock with what is cut from it."""

    stock: str
    lays: tuple[Lay, ...]


@dataclass(frozen=True)
class Bound:
    """What no layout can be under: pieces of stock, and cost."""

    pieces: int
    cost: float


@dataclass(frozen=True)
class CutLayout:
    """Where everything lies; what fits on no stock there is; what it cannot be better than."""

    job: CutJob
    bins: tuple[Bin, ...]
    unplaced: tuple[str, ...] = ()
    bound: Bound = Bound(0, 0.0)

    @property
    def cost(self) -> float:
        """What the stock used costs."""
        costs = {s.id: s.cost for s in self.job.stocks}
        return sum(costs[b.stock] for b in self.bins)

    @property
    def utilisation(self) -> float:
        """Net area of the parts over the net area of the stock used; 0 where nothing is placed."""
        stocks = {s.id: s.polygon.area for s in self.job.stocks}
        parts = {p.id: p.polygon.area for p in self.job.parts}
        used = sum(stocks[b.stock] for b in self.bins)
        return sum(parts[x.part] for b in self.bins for x in b.lays) / used if used else 0.0


def turned(polygon: Polygon, rotation: float, flipped: bool = False) -> Polygon:
    """The polygon mirrored (x to -x) if flipped, and turned counter-clockwise about (0, 0) [deg]."""
    shape = affinity.scale(polygon, -1, 1, origin=(0, 0)) if flipped else polygon
    return affinity.rotate(shape, rotation, origin=(0, 0)) if rotation % 360 else shape


def laid(part: Part, lay: Lay) -> Polygon:
    """Where the part lies on its stock."""
    return affinity.translate(turned(part.polygon, lay.rotation, lay.flipped), lay.x, lay.y)
