"""Snaps: near what an edge stops, and why. The reason is shown while dragging."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from stirrup.core.contract.extent import Extent, around
from stirrup.core.document import Point
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.registry import kind_of
from stirrup.core.memo import ByIdentity
from stirrup.core.plan.model import Plan
from stirrup.core.plan.things import put_in, title_of, with_guests
from stirrup.core.plan.where import extent_of
from stirrup.core.record import dataclass

REACH_M = 0.05  # nothing catches from further away
EDGES = (("aft", "middle along", "fore"), ("starboard", "middle across", "port"), ("bottom", "top"))
STRUCTURE = ("stringer", "rib", "thwart", "well", "bulkhead", "deck")
LEVEL_M = 1e-9
KNOWN = ByIdentity(50)
NEIGHBOUR_M = 1.0


@dataclass(frozen=True)
class Mark:
    """Something to stop at: a coordinate on one axis [m], why, how much it counts (less is more)."""

    axis: int
    at: float
    reason: str
    rank: int


@dataclass(frozen=True)
class Snap:
    """What was caught: the correction on one axis [m], the line it lies on, the words."""

    axis: int
    by: float
    at: float
    reason: str


def _far(a: Extent, b: Extent) -> bool:
    """Whether two things are so far apart in plan that being in line would be by chance."""
    gaps = [max(q[0] - p[1], p[0] - q[1], 0.0) for p, q in ((a.x, b.x), (a.y, b.y))]
    return max(gaps) > NEIGHBOUR_M


def marks(
    plan: Plan, surface: HullSurface, without: Iterable[str] = (), here: Extent | None = None
) -> list[Mark]:
    """Everything that an edge may stop at; `without`: ids of what is being moved.

    here: where that is; edges of things far from it are left out then.
    """
    gone = set(without)
    out = [Mark(0, 0.0, "at the transom", 1), Mark(1, 0.0, "on the centreline", 0)]
    for k, point in enumerate(plan.hull.lines[0].points):
        out.append(Mark(0, point[0], f"at station {k + 1}", 2))
    for thing in _neighbours(plan, surface):
        extent, name, spans = thing.extent, thing.name, thing.spans
        if thing.id in gone:
            continue
        if abs(sum(extent.y)) > 1e-3 and not spans:
            for y in extent.y:
                out.append(Mark(1, -y, f"opposite {name}", 4))
        if here is not None and _far(here, extent):
            continue
        for axis in (0, 1):
            if spans and axis == 1:
                continue  # it reaches from side to side, its breadth is no mark
            for edge in EDGES[axis]:
                middle = edge.startswith("middle")
                word = f"in line with the middle of {name}" if middle else f"at the {edge} edge of {name}"
                out.append(Mark(axis, extent.edge(edge), word, 5 if middle else 3))
        out.append(Mark(2, extent.z[1], f"level with the top of {name}", 3))
        out.append(Mark(2, extent.z[0], f"under {name}" if spans else f"level with the foot of {name}", 4))
    for piece in plan.existing:
        if piece.kind in STRUCTURE and piece.stage != "removed" and piece.id not in gone:
            extent, name = extent_of(plan, surface, piece.id), piece.name or piece.id
            for axis in (0, 1):
                for edge in EDGES[axis]:
                    if axis == 1 and piece.kind == "rib":
                        continue
                    out.append(Mark(axis, extent.edge(edge), f"on {piece.kind} {name}", 2))
    return out


@dataclass(frozen=True)
class _Neighbour:
    """Another thing: id, name, extent, whether it reaches from side to side."""

    id: str
    name: str
    extent: Extent
    spans: bool


def _neighbours(plan: Plan, surface: HullSurface) -> list[_Neighbour]:
    """Everything that is there and shown, found once for a plan: a drag asks again and again."""

    def find() -> list[_Neighbour]:
        return [
            _Neighbour(
                id_,
                title_of(plan, id_),
                extent_of(plan, surface, id_),
                _spans(plan, id_),
            )
            for id_ in _others(plan, set())
        ]

    return KNOWN.get(plan, surface, find)


def _spans(plan: Plan, id_: str) -> bool:
    thing = plan.thing(id_)
    return thing is not None and kind_of(thing).spans


def _others(plan: Plan, gone: set[str]) -> Iterator[str]:
    for thing in put_in(plan):
        if thing.id not in gone and not plan.arrangement.of(thing.id).hidden:
            yield str(thing.id)


def _spacing(plan: Plan, surface: HullSurface, gone: set[str], here: Extent) -> list[Mark]:
    """Middles at which the room on both sides of the thing is the same, along and across."""
    out = []
    others = [n for n in _neighbours(plan, surface) if n.id not in gone and not n.spans]
    for axis, other in ((0, 1), (1, 0)):
        low, high = (here.x, here.y)[axis]
        side = (here.x, here.y)[other]
        beside = []
        for thing in others:
            e = thing.extent
            span, cross = (e.x, e.y)[axis], (e.x, e.y)[other]
            if cross[1] >= side[0] - LEVEL_M and cross[0] <= side[1] + LEVEL_M:
                beside.append((span, thing.name))
        before = max((s for s in beside if s[0][1] <= low + 0.05), key=lambda s: s[0][1], default=None)
        after = min((s for s in beside if s[0][0] >= high - 0.05), key=lambda s: s[0][0], default=None)
        if before and after:
            middle = (before[0][1] + after[0][0]) / 2
            out.append(Mark(axis, middle, f"as far from {before[1]} as from {after[1]}", 1))
    return out


def _catch(
    lines: Iterable[tuple[str, float]], found: Iterable[Mark], axis: int, near: float
) -> Snap | None:
    best: tuple[float, Snap] | None = None
    for edge, value in lines:
        for mark in found:
            if mark.axis != axis:
                continue
            by = mark.at - value
            # the same distance counts the less, the weaker the reason is
            cost = abs(by) + mark.rank * near * 0.08
            # an outer edge lies on the centreline by chance; a middle is meant to
            if mark.reason == "on the centreline" and not edge.startswith("middle"):
                cost += near * 0.3
            if abs(by) <= near and (best is None or cost < best[0]):
                where = (
                    "middle"
                    if edge.startswith("middle")
                    else edge
                    if edge in ("top", "bottom")
                    else f"{edge} edge"
                )
                best = (cost, Snap(axis, by, mark.at, f"{where} {mark.reason}"))
    return best[1] if best else None


def _to_grid(value: float, grid: float, near: float, axis: int, edge: str) -> Snap | None:
    at = round(value / grid) * grid
    if abs(at - value) > min(near, grid / 4):
        return None
    return Snap(axis, at - value, at, f"{edge} edge on the shop's grid")


def snapped(
    plan: Plan,
    surface: HullSurface,
    ids: Iterable[str],
    by: Point,
    near: float,
    grid: float = 0.0,
) -> tuple[Point, tuple[Snap, ...]]:
    """A move, corrected to what lies within `near` of an edge or middle, and the reasons.

    by: the raw move [m]; an axis with no move is left alone. near, grid: [m]; grid 0: none.
    """
    ids = tuple(ids)
    gone = set(with_guests(plan, ids))
    extents = []
    for id_ in ids:
        for one in plan.arrangement.together(id_):
            extents.append(extent_of(plan, surface, one))
    start = around(extents)
    here = start.moved(by)
    spans = all(_spans(plan, id_) for id_ in ids)
    found = marks(plan, surface, gone, here) + _spacing(plan, surface, gone, here)
    out, caught = list(by), []
    for axis in range(3):
        if abs(by[axis]) < LEVEL_M or (spans and axis == 1):
            continue
        edges = EDGES[axis]
        flat = here.z[1] - here.z[0] < LEVEL_M
        lines = [(e, here.edge(e)) for e in (edges[-1:] if axis == 2 and flat else edges)]
        snap = _catch(lines, found, axis, near)
        if snap is None and grid > 0 and axis < 2:
            snap = _to_grid(lines[0][1], grid, near, axis, lines[0][0])
        if snap is not None:
            out[axis] += snap.by
            caught.append(snap)
    return (out[0], out[1], out[2]), tuple(caught)


def snapped_edge(
    plan: Plan, surface: HullSurface, id_: str, axis: int, value: float, near: float, edge: str
) -> tuple[float, tuple[Snap, ...]]:
    """One edge brought to what lies near its coordinate [m]. Raises CoreError for no thing."""
    extent_of(plan, surface, id_)  # raises when it is not there
    snap = _catch([(edge, value)], marks(plan, surface, with_guests(plan, [id_])), axis, near)
    return (value, ()) if snap is None else (value + snap.by, (snap,))
