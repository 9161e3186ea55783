"""A deck's skin in pieces that its sheet has room for: joints athwart lie on cross members, joints
along the boat on battens that are set between them for it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import box
from shapely.geometry import Polygon
from shapely.ops import unary_union

from stirrup.core.contract.gives import Opening
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Quantity, declare
from stirrup.core.fittings.edges import breadths_at, largest
from stirrup.core.fittings.framing import SAME_M, Framing
from stirrup.core.kept import kept_property
from stirrup.core.parts.entries import Sheet
from stirrup.core.record import dataclass

declare("layout", {"SKIN-JOINT": "a joint along the skin"})

Array = NDArray[np.float64]
SHEET_MARGIN_M = 0.006  # kept free at a sheet's edge
MOST_STRIPS = 4
STEP_M = 0.01  # between places that are tried for joints along the boat
PLAY_M = 0.0005  # taken on each edge of a joint: half the sheet's play
CLEAR_M = 0.002  # between a batten's flange and a track's
SHORTEST_M = 0.1  # piece between two joints
ON_M = 0.001  # nearer than a line is drawn
LINE_M = 1e-4  # to each side of a line that is looked along
BARE_M = 0.03  # of a joint that may hang free: starting value


@dataclass(frozen=True)
class Batten:
    """A lengthwise member under a joint: y of its middle, between the cross members at aft and
    fore [m]."""

    y: float
    aft: float
    fore: float


@dataclass(frozen=True)
class Joints:
    """Where the skin is parted: x of the joints athwart, y of those along the boat [m]."""

    athwart: tuple[float, ...] = ()
    along: tuple[float, ...] = ()


@dataclass(frozen=True)
class Ground:
    """What the skin is laid on: its outline, openings, frame, and the inside of the side angles'
    flanges; flange: width of a member's flange [m]."""

    outline: Polygon
    openings: tuple[Opening, ...]
    framing: Framing
    inner: Polygon
    flange: float

    @kept_property
    def bounds(self) -> tuple[float, float, float, float]:
        """Aft, starboard, fore and port end of the outline [m]."""
        x0, y0, x1, y1 = self.outline.bounds
        return x0, y0, x1, y1

    @property
    def span(self) -> tuple[float, float]:
        """Aft and fore end of the outline [m]."""
        return self.bounds[0], self.bounds[2]

    @kept_property
    def _breadths(self) -> tuple[Array, Array, Array]:
        """x of the outline's corners, and its least and greatest y at each, (n,) each [m]."""
        x = np.unique(shapely.get_coordinates(self.outline.exterior)[:, 0])
        return x, *breadths_at(self.outline, x)

    @kept_property
    def _whole(self) -> bool:
        """Whether every cut athwart parts it in two: going round it, x grows once and falls once."""
        way = np.sign(np.diff(shapely.get_coordinates(self.outline.exterior)[:, 0]))
        way = way[way != 0]
        return bool((way != np.roll(way, 1)).sum() == 2 and not self.outline.interiors)

    def size(self, aft: float, fore: float, strip: tuple[float, float]) -> tuple[float, float]:
        """How long and how broad the piece is between two stations and two buttocks [m]."""
        _, starboard, _, port = self.bounds
        if not self._whole or strip[0] > starboard or strip[1] < port:
            return _size(piece(self.outline, aft, fore, strip))
        x, low, high = self._breadths
        first, last = np.searchsorted(x, (aft, fore))
        ends = breadths_at(self.outline, np.array([aft, fore]))
        least = min(float(np.nanmin(ends[0])), float(low[first:last].min(initial=np.inf)))
        most = max(float(np.nanmax(ends[1])), float(high[first:last].max(initial=-np.inf)))
        return min(fore, float(x[-1])) - max(aft, float(x[0])), most - least

    def breadth_m(self, strip: tuple[float, float]) -> float:
        """How broad the outline is in a strip at least, where it is broadest there [m]."""
        _, low, high = self._breadths
        return float((np.minimum(high, strip[1]) - np.maximum(low, strip[0])).max())

    def within(self, aft: float, fore: float, strip: tuple[float, float]) -> tuple[float, float]:
        """How long and how broad at most a piece is between two stations and two buttocks [m]."""
        _, low, _, high = self.bounds
        return fore - aft, min(high, strip[1]) - max(low, strip[0])

    def strips(self, along: Sequence[float]) -> list[tuple[float, float]]:
        """y ranges between joints along the boat, from port to starboard [m]."""
        return list(pairwise([-20.0, *sorted(along), 20.0]))[::-1]


def piece(shape: Polygon, aft: float, fore: float, strip: tuple[float, float] = (-20.0, 20.0)) -> Polygon:
    """What lies between two stations and two buttocks."""
    return largest(shape.intersection(box(aft, strip[0], fore, strip[1])))


def _usable(source: Sheet) -> tuple[float, float]:
    """Length and width of a sheet less its margins [m]."""
    return source.width - 2 * SHEET_MARGIN_M, source.height - 2 * SHEET_MARGIN_M


def _fits(size: tuple[float, float], source: Sheet, keep: bool) -> bool:
    """Whether a sheet has room for so long and so broad a piece [m]; keep: lying along the boat only."""
    usable = _usable(source)
    ways = [size] if keep else [size, size[::-1]]
    return any(a <= usable[0] + 1e-9 and b <= usable[1] + 1e-9 for a, b in ways)


def _size(shape: Polygon) -> tuple[float, float]:
    x0, y0, x1, y1 = shape.bounds if not shape.is_empty else (0.0, 0.0, 0.0, 0.0)
    return float(x1 - x0), float(y1 - y0)


def _athwart(ground: Ground, along: Sequence[float], source: Sheet, keep: bool) -> list[float] | None:
    """As few joints on members as let every piece fit, the aft pieces long; None where none do."""
    strips = ground.strips(along)
    start, end = ground.span
    open_there = [(x0, x1) for x0, _, x1, _ in (o.cutout.bounds for o in ground.openings)]
    marks = [x for x in ground.framing.stations[1:-1] if not any(a < x < b for a, b in open_there)]

    def fits(a: float, b: float) -> bool:
        # what has room by its stations and buttocks alone need not be cut out to be measured
        return all(
            _fits(ground.within(a, b, s), source, keep) or _fits(ground.size(a, b, s), source, keep)
            for s in strips
        )

    joints: list[float] = []
    while not fits(start, end):
        ahead = (x for x in reversed(marks) if x > start + SHORTEST_M and fits(start, x))
        farthest = next(ahead, None)
        if farthest is None:
            return None
        start = farthest
        joints.append(start)
    return joints


def _tried(ground: Ground, count: int) -> Iterator[tuple[float, ...]]:
    """Places of the joints between `count` equal strips, then all of them moved aside, near ones first."""
    if count == 1:
        yield ()
        return
    _, low, _, high = ground.bounds
    even = [low + (high - low) * k / count for k in range(1, count)]
    for step in range(int((high - low) / count / 2 / STEP_M)):
        for by in (step * STEP_M, -step * STEP_M)[: 2 if step else 1]:
            yield tuple(y + by for y in even)


def _is_clear(ground: Ground, along: Sequence[float]) -> bool:
    """Whether battens have room beside the tracks."""
    apart = ground.flange + CLEAR_M
    return all(abs(y - t.y) >= apart for y in along for t in ground.framing.tracks)


def joints(ground: Ground, source: Sheet, keep: bool, place: str) -> Joints:
    """Where the skin is parted, along the boat only where it has to be.

    keep: the sheet's length lies along the boat (the grain of wood). Raises CoreError at `place`.
    """
    broadest = _usable(source)[1] if keep else max(_usable(source))
    for count in range(1, MOST_STRIPS + 1):
        first: Joints | None = None
        for along in _tried(ground, count):
            # some piece holds the place where a strip is broadest
            if any(ground.breadth_m(s) > broadest + 1e-9 for s in ground.strips(along)):
                continue
            athwart = _athwart(ground, along, source, keep)
            if athwart is None:
                continue
            found = Joints(tuple(athwart), along)
            if _is_clear(ground, along):
                return found
            first = first or found
        if first:
            return first
    wide = ground.outline.bounds[3] - ground.outline.bounds[1]
    raise CoreError(
        f"the skin cannot be split to fit its sheet: {wide:.3f} m across; "
        "closer cross members, or larger sheets",
        place,
    )


def pieces(ground: Ground, parted: Joints) -> list[tuple[str, Polygon]]:
    """Number and shape of each piece of skin less the openings, aft to fore, port to starboard."""
    holes = unary_union([o.cutout for o in ground.openings]) if ground.openings else Polygon()
    edges = [ground.span[0], *parted.athwart, ground.span[1]]
    strips = ground.strips(parted.along)
    out = []
    for k, (a, b) in enumerate(pairwise(edges), start=1):
        low, high = (a + PLAY_M if k > 1 else a), (b - PLAY_M if k < len(edges) - 1 else b)
        for j, (y0, y1) in enumerate(strips, start=1):
            shape = piece(ground.outline, low, high, (y0 + PLAY_M, y1 - PLAY_M))
            shape = largest(shape - holes)
            if not shape.is_empty:
                out.append((f"{k}.{j}" if len(strips) > 1 else f"{k}", shape))
    return out


def battens(ground: Ground, parted: Joints) -> list[Batten]:
    """Under each joint along the boat, in every bay that is not open there and has room for it."""
    out = []
    for y in parted.along:
        for aft, fore in pairwise(ground.framing.beams):
            reach = box(aft.x, y - ground.flange / 2, fore.x, y + ground.flange / 2)
            open_there = any(
                o.frame[0] < fore.x - SAME_M and o.frame[2] > aft.x + SAME_M and o.frame[1] < y < o.frame[3]
                for o in ground.openings
            )
            beside = any(
                t.aft < fore.x - SAME_M and t.fore > aft.x + SAME_M
                and abs(y - t.y) < ground.flange + CLEAR_M - SAME_M
                for t in ground.framing.tracks
            )  # fmt: skip
            if not open_there and not beside and ground.inner.contains(reach):
                out.append(Batten(y, aft.x, fore.x))
    return out


def _bare(ground: Ground, parted: Joints, there: Sequence[Batten]) -> float:
    """Longest stretch of a joint along the boat with neither batten, member nor opening [m]."""
    half = ground.flange / 2
    worst = 0.0
    for y in parted.along:
        line = box(ground.span[0], y - LINE_M, ground.span[1], y + LINE_M)
        carried = [(b.aft, b.fore) for b in there if b.y == y]
        carried += [(x - half, x + half) for x in ground.framing.stations]
        carried += [x for o in ground.openings for x in _reaches(o.cutout, line)]
        for low, high in _reaches(ground.outline, line):
            worst = max(worst, _longest_gap(low, high, carried))
    return worst


def _reaches(shape: Polygon, line: Polygon) -> list[tuple[float, float]]:
    """x ranges in which a thin strip along the boat lies in a shape [m]."""
    met = shape.intersection(line)
    return [(p.bounds[0], p.bounds[2]) for p in getattr(met, "geoms", [met]) if not p.is_empty]


def _longest_gap(low: float, high: float, carried: Iterable[tuple[float, float]]) -> float:
    """Longest stretch between two places that is in none of these ranges [m]."""
    worst, at = 0.0, low
    for begin, end in sorted(carried):
        worst = max(worst, min(begin, high) - at)
        at = max(at, end)
    return max(worst, high - at)


def joint_finding(place: str, ground: Ground, parted: Joints, there: Sequence[Batten]) -> list[Finding]:
    """Whether the joints along the boat lie on something; nothing to tell without one."""
    if not parted.along:
        return []
    bare = _bare(ground, parted, there)
    lines, values = [], {}
    for k, y in enumerate(sorted(parted.along, reverse=True)):
        side = "on the centreline" if abs(y) < ON_M else f"{{at{k}}} to {'port' if y > 0 else 'starboard'}"
        lines.append(side)
        values[f"at{k}"] = Quantity(abs(y), "m")
    where = " and ".join(lines)
    if bare > BARE_M:
        return [
            Finding(
                "SKIN-JOINT", "mend", place, "A joint of the skin hangs free",
                f"Nothing stands under {{bare}} of the joint along the boat ({where}); {{most}} may hang "
                "free. A hatch's track or the boat's side is in the way of its batten.",
                {**values, "bare": Quantity(bare, "m"), "most": Quantity(BARE_M, "m", True)},
                "Move the hatch aside, or make the deck narrower.",
            )
        ]  # fmt: skip
    return [
        Finding(
            "SKIN-JOINT", "fine", place, "The joint along the boat is carried",
            f"The sheet is narrower than the deck: the skin is parted along the boat ({where}) over "
            "{count} battens between the cross members. Both edges are fastened.",
            {**values, "count": Quantity(len(there), "count")},
        )
    ]  # fmt: skip
