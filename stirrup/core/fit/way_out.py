"""How a thing under a deck comes out again: straight up, or slid level to a hatch or an open end.

The slide is searched on cells of 50 mm: the thing keeps its turn and stays level, rises where
the bottom does, and passes under the deck's members and beside everything else that stands
there. Tilting and turning it may open ways that are not looked for here.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial

import numpy as np
import scipy
from numpy.typing import NDArray

from stirrup.core.afloat.ground import Footing
from stirrup.core.contract.gives import Below, Hole, Lift
from stirrup.core.findings import Finding, Quantity, declare, plain
from stirrup.core.fit.body import ARM_REACH_M
from stirrup.core.hull.bottom import bottoms_m
from stirrup.core.memo import ByIdentity, Key, Memo
from stirrup.core.plan.placed import Placed
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Bounds, Prism, near
from stirrup.core.space.solid import Solid

declare("layout", {"WAY-OUT": "whether it comes out again"}, acceptable=True, pace="behind")

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]

CELL_M = 0.05
LIFT_M = 0.30  # how far a thing must rise to be over the deck
REST_M = 0.02  # what lies no higher than this over a thing's foot is slid over
ABOUT_M = 0.8  # what stands this far beyond a deck's ends may be in the way still
FOUND, STANDING, BOTTOMS = Memo(2000), Memo(500), Memo(100)
OVER, KNOWN = ByIdentity(), ByIdentity()


@dataclass(frozen=True)
class Way:
    """A way out: through what, and how far it is slid, straight measured [m]."""

    through: str
    slide_m: float


def above_it(prism: Prism, deck: Solid) -> bool:
    """Whether a deck keeps a thing from being lifted straight out."""
    x0, y0, _, x1, y1, high = prism.bounds
    over = (x0, y0, high, x1, y1, high + LIFT_M)
    if deck.shape.bounds[2] < high - REST_M or not near(over, deck.shape.bounds):
        return False
    assert isinstance(deck.shape, Prism)
    return bool(deck.shape.footprint.intersects(prism.slimmer))


def _lattice(low: float, high: float) -> Array:
    """Middles of the cells between two values, always the same lattice [m]."""
    return np.asarray(
        (np.arange(math.floor(low / CELL_M), math.ceil(high / CELL_M)) + 0.5) * CELL_M, dtype=np.float64
    )


def _bottom(footing: Footing, x: Array, y: Array) -> Array:
    """Height of the inside of the bottom, (ny, nx) [m]; infinite where nothing stands."""
    heights = np.column_stack([bottoms_m(footing.surface, float(a), y) for a in x])
    return np.where(np.isnan(heights), np.inf, heights)


def _window(prism: Prism, deck: Solid) -> tuple[Array, Array]:
    """Cells on which the thing's middle may be: about the deck, and a thing's length beyond."""
    x0, y0, _, x1, y1, _ = prism.bounds
    dx0, dy0, _, dx1, dy1, _ = deck.shape.bounds
    along, across = x1 - x0, y1 - y0
    return _lattice(dx0 - along, dx1 + along), _lattice(dy0 - across, dy1 + across)


def _footing_of(prism: Prism, x: Array, y: Array, bottom: Array) -> Array:
    """How low the thing can be at each cell: as it is, or on the bottom where that is higher [m]."""
    x0, y0, low, x1, y1, _ = prism.bounds
    size = (2 * round((y1 - y0) / 2 / CELL_M - 0.49) + 1, 2 * round((x1 - x0) / 2 / CELL_M - 0.49) + 1)
    under = scipy.ndimage.maximum_filter(bottom, size=[max(1, s) for s in size], mode="nearest")
    here = _cell(prism, x, y)
    # a thing that stands a little into the rounding now may do so on its way too
    sunk = float(under[here]) - low
    foot = np.maximum(low, under - sunk) if 0 < sunk < math.inf else np.maximum(low, under)
    foot[here] = low
    return np.asarray(foot)


def _cell(prism: Prism, x: Array, y: Array) -> tuple[int, int]:
    """Row and column of the cell on which the thing's middle is."""
    x0, y0, _, x1, y1, _ = prism.bounds
    return int(np.abs(y - (y0 + y1) / 2).argmin()), int(np.abs(x - (x0 + x1) / 2).argmin())


def _span(cells: Array, low: float, high: float) -> slice:
    """The cells whose middles lie between two values."""
    first = float(cells[0])
    start = math.ceil((low - first) / CELL_M - 1e-9)
    return slice(max(0, start), max(0, math.ceil((high - first) / CELL_M - 1e-9)))


def _beside(prism: Prism, x: Array, y: Array, other: Bounds) -> tuple[slice, slice]:
    """Rows and columns of the cells at which the thing meets another's box in plan."""
    x0, y0, _, x1, y1, _ = prism.bounds
    half_x, half_y = (x1 - x0 - CELL_M) / 2, (y1 - y0 - CELL_M) / 2
    return (
        _span(y, other[1] - half_y, other[4] + half_y),
        _span(x, other[0] - half_x, other[3] + half_x),
    )


@dataclass(frozen=True)
class Cover:
    """A deck over things: the space under it, its solid, the openings in it, what stands about it."""

    below: Below
    solid: Solid
    holes: tuple[tuple[str, Hole], ...]
    about: tuple[Solid, ...]
    # tell covers, and what stands about them, apart by their content
    key: Key
    around: Key


def covers(things: Sequence[Placed], footing: Footing, there: Sequence[Solid]) -> list[Cover]:
    """Every deck with what is looked at for things under it. there: solids of everything."""
    standing = [s for s in there if s.stands]
    out = []
    for thing in things:
        below = next((f.below for f in thing.built.floors if f.below is not None), None)
        solid = next((s for s in thing.built.solids if s.role == "floor"), None)
        if below is None or solid is None:
            continue
        x0, x1 = solid.shape.bounds[0] - ABOUT_M, solid.shape.bounds[3] + ABOUT_M
        about = tuple(s for s in standing if s.shape.bounds[0] < x1 and s.shape.bounds[3] > x0)
        holes = tuple((t.title, h) for t in things for h in t.built.holes if h.host == thing.id)
        edge = (below.aft.shut, below.fore.shut, below.foot_m, holes)
        around = Key((footing.surface.key, tuple((s.id, s.shape.key) for s in about)))
        out.append(Cover(below, solid, holes, about, Key((around, solid.shape.key, edge)), around))
    return out


def _standing(
    prism: Prism, own: str, cover: Cover, footing: Footing, x: Array, y: Array
) -> tuple[Array, Mask]:
    """How low the thing is at each cell, and whether it is clear of all else that stands there."""
    window = (footing.surface.key, x[0], x[-1], y[0], y[-1])
    foot = _footing_of(prism, x, y, BOTTOMS.get(window, lambda: _bottom(footing, x, y)))
    clear: Mask = np.isfinite(foot)
    for other in cover.about:
        if other.id == own:
            continue
        b = other.shape.bounds
        cells = _beside(prism, x, y, b)
        meets = (foot[cells] < b[5] - REST_M) & (foot[cells] + prism.high - prism.low > b[2])
        clear[cells] &= ~meets
    return foot, clear


def ways(prism: Prism, own: str, cover: Cover, footing: Footing) -> Way | None:
    """The shortest slide of a thing out from under a deck, or None. own: the thing's id."""
    below, solid = cover.below, cover.solid
    x, y = _window(prism, solid)
    tall = prism.high - prism.low
    # while a deck's edge is dragged, what stands about it stays
    where = (cover.around, prism.key, own, x[0], x[-1], y[0], y[-1])
    foot, clear = STANDING.get(where, lambda: _standing(prism, own, cover, footing, x, y))
    free = clear.copy()
    beneath = np.zeros_like(free)
    b = solid.shape.bounds
    beneath[_beside(prism, x, y, b)] = True
    free &= ~beneath | (foot + tall <= b[2] + 1e-6)
    for end in ((b[0],) if below.aft.shut else ()) + ((b[3],) if below.fore.shut else ()):
        _, columns = _beside(prism, x, y, (end - CELL_M, b[1], b[2], end + CELL_M, b[4], b[5]))
        lowest = below.foot_m if below.foot_m is not None else -math.inf
        free[:, columns] &= foot[:, columns] + tall <= lowest
    out = ~beneath
    goals = [
        ("the open aft end", out & (x < b[0])[None, :]),
        ("the open fore end", out & (x > b[3])[None, :]),
    ]
    goals += [(name, goal) for name, h in cover.holes if (goal := _inside(prism, x, y, h)) is not None]
    return _nearest(prism, x, y, free, goals)


def _inside(prism: Prism, x: Array, y: Array, hole: Hole) -> Mask | None:
    """Cells at which the thing goes straight up through a hatch's clear opening; None if it is larger."""
    x0, y0, _, x1, y1, _ = prism.bounds
    slack = ((hole.length - (x1 - x0)) / 2, (hole.width - (y1 - y0)) / 2)
    if min(slack) < 0:
        return None
    on_x = np.abs(x - hole.x) <= max(slack[0], CELL_M / 2)
    on_y = np.abs(y - hole.y) <= max(slack[1], CELL_M / 2)
    return np.asarray(on_y[:, None] & on_x[None, :])


def _nearest(prism: Prism, x: Array, y: Array, free: Mask, goals: Sequence[tuple[str, Mask]]) -> Way | None:
    x0, y0, _, x1, y1, _ = prism.bounds
    at = ((x0 + x1) / 2, (y0 + y1) / 2)
    here = _cell(prism, x, y)
    pieces, _ = scipy.ndimage.label(free)
    if pieces[here] == 0:
        return None
    reached = pieces == pieces[here]
    hits = [(name, hit) for name, goal in goals if (hit := reached & goal).any()]
    if not hits:
        return None
    away = np.hypot(x[None, :] - at[0], y[:, None] - at[1])
    found = [Way(name, float(away[hit].min())) for name, hit in hits]
    return min(found, key=lambda w: w.slide_m)


def way_out(thing: Placed, cover: Cover, footing: Footing, quick: bool = False) -> Finding | None:
    """Whether and how a thing comes out from under a deck; None where it is not over it.

    quick: while something else is dragged, as it was known last for this thing and this deck.
    """
    own, lift = thing.built.body, thing.built.lift
    if own is None or lift is None or own.id == cover.solid.id:
        return None
    find = partial(_way_out, thing.title, own, lift, cover, footing)
    return KNOWN.get(own, cover.solid, find) if quick else KNOWN.put(own, cover.solid, find())


def _way_out(title: str, own: Solid, lift: Lift, cover: Cover, footing: Footing) -> Finding | None:
    prism, solid = own.shape, cover.solid
    if not isinstance(prism, Prism) or not OVER.get(own, solid, lambda: above_it(prism, solid)):
        return None
    found = FOUND.get((cover.key, prism.key, own.id), lambda: ways(prism, own.id, cover, footing))
    name, size = plain(title), lift.size
    values = {"along": Quantity(size[0], "m"), "across": Quantity(size[1], "m")}
    if found is not None:
        # a hand takes hold of the near end of it
        far = found.slide_m - min(size[:2]) / 2 > ARM_REACH_M
        return Finding(
            "WAY-OUT", "look" if far else "fine", own.id,
            "Comes out slid, out of arm's reach" if far else "Comes out slid",
            f"{solid.name} lies over {name}; slid level by {{slide}} it comes out through "
            f"{plain(found.through)}.",
            {"slide": Quantity(found.slide_m, "m")},
            "Leave a strap on it to pull it by, or move it nearer." if far else "", other=solid.id,
        )  # fmt: skip
    return Finding(
        "WAY-OUT", lift.level, own.id, "Does not come out again",
        f"{solid.name} lies over {name}: straight up it needs an opening of {{along}} by {{across}}, "
        "and slid level it reaches no hatch that it passes and no open end.",
        values, "Place a hatch over it, or move it under one.", other=solid.id,
    )  # fmt: skip
