"""What to measure before a panel is cut: the readings that its outline depends on most.

Each reading of the hull near the panel is moved by its own spread, the hull and the panel's thing are built
anew, and the outlines are compared; and edges that the thing is measured off, of which nobody has read yet
how they came out.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from shapely.geometry import Polygon

from stirrup.core.cutting.refit import edges_at
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import build_surface
from stirrup.core.hull.model import Hull
from stirrup.core.making import make
from stirrup.core.memo import Memo
from stirrup.core.next_reading import Axis, moved
from stirrup.core.parts.model import Panel
from stirrup.core.plan.changes import AnyChange, RemoveThing, SetValue, Together
from stirrup.core.plan.fitted import Fitted
from stirrup.core.plan.model import Plan
from stirrup.core.plan.things import guests_of, title_of
from stirrup.core.record import dataclass

LEAST_M = 0.0005  # less than a saw's cut is off
MOST_TOLD = 3
LEAST_SHARE = 0.3  # of a reading's spread that an edge moves with it, to be what a gap comes from
MOST_OFF_M = 0.1  # that a reading is corrected by
BUILDS_KEPT = 60


@dataclass(frozen=True)
class Reading:
    """A reading of the hull, how it is known, its spread, what that does to the outline at most [m]."""

    line: str
    station: int  # from 0
    axis: Axis
    known: str
    spread_m: float
    outline_m: float
    starboard: bool = False  # of those measured apart there
    takes_m: float | None = None  # by how much more it reads if it is what a gap of the panel comes from


@dataclass(frozen=True)
class First:
    """What to measure before a panel is cut: readings of the hull, the most telling first; titles of things
    that its own is measured off and of which nobody has read how they stand."""

    readings: tuple[Reading, ...]
    off: tuple[str, ...]


def _only(plan: Plan, id_: str) -> Plan:
    """The plan with what a thing is built of: itself, its hosts, their guests."""
    wanted, fittings = {id_}, {f.id: f for f in plan.fittings}
    while True:
        more = {t for t in fittings if any(g.id in wanted for g, _ in guests_of(plan, [t]))} - wanted
        if not more:
            break
        wanted |= more
    wanted |= {g.id for w in tuple(wanted) for g, _ in guests_of(plan, [w])}
    return plan.model_copy(update={"fittings": tuple(f for f in plan.fittings if f.id in wanted)})


def _near(hull: Hull, low: float, high: float) -> Iterator[tuple[bool, int, int, int]]:
    """Side, line, station and axis of each reading from the station abaft a stretch to the one ahead of
    it."""
    for starboard, lines in ((False, hull.lines), (True, hull.starboard or ())):
        for j, line in enumerate(lines):
            xs = [p[0] for p in line.points]
            first = max([x for x in xs if x <= low], default=min(xs))
            last = min([x for x in xs if x >= high], default=max(xs))
            for k, point in enumerate(line.points):
                if first - 1e-9 <= point[0] <= last + 1e-9:
                    axes = (axis for axis in (1, 2) if axis == 2 or point[1] > 1e-6)
                    yield from ((starboard, j, k, axis) for axis in axes)


def _span(panel: Panel) -> tuple[float, float]:
    x = [panel.frame.at(u, v)[0] for u, v in panel.outline]
    return min(x), max(x)


def _off(panel: Panel, other: Panel) -> float:
    """How far its outline lies off another one's in the boat, at most [m]."""
    frame = panel.frame
    points = []
    for u, v in other.outline:
        away = [a - b for a, b in zip(other.frame.at(u, v), frame.origin, strict=True)]
        points.append(tuple(sum(d * c for d, c in zip(away, axis, strict=True))
                            for axis in (frame.along, frame.across)))  # fmt: skip
    return float(panel.polygon.exterior.hausdorff_distance(Polygon(points).exterior))


def measure_first(derived: Derived, key: str) -> First:
    """Of a panel by its key; nothing of one that is not there."""
    panel = next((p for b in derived.built for p in b.panels if p.key == key), None)
    if panel is None:
        return First((), ())
    plan = _only(derived.plan, panel.fitting)

    def built(hull: Hull) -> Panel | None:
        surface = build_surface(hull)
        # surfaces that nothing keeps have no key to be told apart by: nothing is kept of them either
        things, _ = make(Memo(BUILDS_KEPT), plan, surface, derived.obstacles, derived.catalogue)
        return next((p for t in things for p in t.built.panels if p.key == key), None)

    base = built(plan.hull)
    if base is None:
        return First((), _unread(derived.plan, panel.fitting))
    fitted, found = next((f for f in derived.plan.fitted if f.id == key), None), []
    for starboard, j, k, axis in _near(plan.hull, *_span(base)):
        line = ((plan.hull.starboard if starboard else plan.hull.lines) or ())[j]
        spread = line.spread_at(k)
        try:
            other = built(moved(plan.hull, j, k, axis, -spread, starboard))
        except (CoreError, ValueError):
            continue
        off = math.inf if other is None else _off(base, other)
        if LEAST_M <= off < math.inf:
            name: Axis = "half-width" if axis == 1 else "height"
            found.append(Reading(line.name, k, name, line.known_at(k), spread, off, starboard,
                                 _takes(base, other, fitted, spread)))  # fmt: skip
    found.sort(key=lambda r: -r.outline_m)
    return First(tuple(found[:MOST_TOLD]), _unread(derived.plan, panel.fitting))


def _takes(base: Panel, other: Panel | None, fitted: Fitted | None, spread: float) -> float | None:
    """By how much a reading is off [m], if it alone is why the panel was too small or too large where it
    was worst: `other` is the panel with the reading `spread` less. None where it hardly moves that edge."""
    if fitted is None or other is None:
        return None
    mark = max(fitted.marks, key=lambda m: max(abs(m.low), abs(m.high)))
    corner = (base.polygon.bounds[0], base.polygon.bounds[1])
    here, there = (edges_at(p, fitted.upright, mark.at, corner) for p in (base, other))
    if here is None or there is None:
        return None
    upper = abs(mark.high) >= abs(mark.low)
    # how much further out the edge is with the reading so much less
    moves = there[1] - here[1] if upper else here[0] - there[0]
    gap = mark.high if upper else mark.low
    if abs(moves) < LEAST_SHARE * spread:
        return None
    by = -spread * gap / moves
    return by if abs(by) <= MOST_OFF_M else None


def corrected(plan: Plan, key: str, reading: Reading) -> AnyChange:
    """The change that has a reading take a panel's gap over: the panel follows from the hull again."""
    group = "starboard" if reading.starboard else "lines"
    axis = 1 if reading.axis == "half-width" else 2
    lines = (plan.hull.starboard if reading.starboard else plan.hull.lines) or ()
    line = next(x for x in lines if x.name == reading.line)
    value = round(line.points[reading.station][axis] + (reading.takes_m or 0.0), 4)
    path = ("hull", group, reading.line, "points", str(reading.station), str(axis))
    changes = (SetValue(path=path, value=value), RemoveThing(path=("fitted", key)))
    words = f"{reading.line}, station {reading.station + 1}: a tried panel's gap taken over"
    return Together(changes=changes, words=words)


def _unread(plan: Plan, id_: str) -> tuple[str, ...]:
    """What a thing is bound to, and nobody has read how it came out."""
    read = {s.thing for s in plan.stood}
    to = [b.to for b in plan.arrangement.bonds if b.thing == id_ and plan.thing(b.to) is not None]
    return tuple(title_of(plan, t) for t in dict.fromkeys(to) if t not in read)
