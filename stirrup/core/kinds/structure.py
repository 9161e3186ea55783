"""Structure that is there: decks land on it, notch round it or clear it; it stays, or it comes out."""

from __future__ import annotations

from typing import Any

from shapely import box

from stirrup.core.bodies.existing import Existing
from stirrup.core.bodies.fate import OF_GOING
from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Floor, Overhead
from stirrup.core.contract.kind import Entry, Kind, Path, Placing, Site, Sizes, off_centre, point_shift
from stirrup.core.contract.obstacle import TALLEST_M, Obstacle, obstacle_of
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.findings import plain
from stirrup.core.fittings.edges import breadth_at, inside_region, largest
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

CARRYING = ("thwart", "deck", "other")  # carries a person
OVERHEAD = ("lip", "thwart", "deck", "other")  # a head can meet it
NOT_MET = ("rib", "lip", "knee", "foam")  # by a drill: it goes between, over or into them
BESIDE_M = 0.3  # what begins lower than this over somebody's feet is beside him
# first sizes, to be overwritten by what is measured
RIB_M, LIP_M, THWART_M, STRINGER_M, WELL_M = (0.04, 0.10), 0.045, (0.30, 0.03), (0.05, 0.08), (0.35, 0.25)
TURN_M = 0.02  # a lip's inner edge
LEAST_HALF_M = 0.02
NEXT_M = 0.35  # from one rib to its copy
SHEET_M = 0.012
FAR_M = 60.0


class StructureKind(Kind[Existing]):
    key, title, group = "structure", "Structure", "existing"
    choices = Existing
    about = (
        "What was in the boat before: ribs, stringers, thwarts, the gunwale's lip, a well. What stays, "
        "decks land on, notch round or clear. What goes makes her lighter by what it weighs, and is told "
        "with what it did for her, how it comes out, and in how long."
    )
    entries = (
        Entry("rib", "Side rib", 0, "decks notch round it, and drills go between",
              "frame structure existing"),
        Entry("stringer", "Stringer", 0, "floors bear on it", "structure existing longitudinal"),
        Entry("thwart", "Thwart", 0, "carries, holds her sides apart, and may be in the way",
              "bench seat structure existing"),
        Entry("lip", "Gunwale lip", 0, "a finished deck has to pass it on its way in",
              "return rail structure existing"),
        Entry("splash well", "Motor or splash well", 0, "takes the room at the transom",
              "transom structure existing"),
        Entry("old bulkhead", "Bulkhead that is there", 0, "ties her across; floors and decks end on it",
              "structure existing partition"),
        Entry("old deck", "Deck or cap that is there", 0, "covers her fore end; what goes under it comes "
                                                          "in by "
              "the cockpit", "structure existing foredeck cap liner"),
        Entry("old knee", "Knee that is there", 0, "ties bottom or transom to a side", "structure existing "
              "gusset bracket"),
        Entry("old foam", "Foam that is there", 0, "what it weighs wet is known once a piece is out",
              "structure existing buoyancy"),
        Entry("structure", "Something else that is built in", 0, "an old locker, a box, a step",
              "structure existing box"),
    )  # fmt: skip

    def extent(self, c: Existing, where: Where) -> Extent:
        return c.extent

    def shift(self, c: Existing, by: Point) -> list[tuple[Path, float]]:
        if c.box is not None:
            return point_shift(("box", "floor_centre"), c.box.floor_centre, by)
        return [
            (("outline", str(n), str(k)), value + by[k])
            for n, point in enumerate(c.outline or ())
            for k, value in enumerate(point)
            if by[k]
        ]

    def sizes(self, c: Existing) -> Sizes:
        if c.box is None:
            return super().sizes(c)
        sizes = tuple(("box", "size", str(k)) for k in range(3))
        return Sizes(sizes, tuple(("box", "floor_centre", str(k)) for k in range(3)), floor=True)

    def mirror(self, value: dict[str, Any]) -> None:
        if value.get("box"):
            at = value["box"]["floor_centre"]
            at[1] = off_centre(at[1], f"existing.{value['id']}")
            return
        ring = value["outline"]
        off_centre(sum(p[1] for p in ring) / len(ring), f"existing.{value['id']}")
        # the other way round, so that it runs as before
        value["outline"] = [[p[0], -p[1], *p[2:]] for p in reversed(ring)]

    def put_beside(self, value: dict[str, Any]) -> None:
        """The next one forward."""
        if not value.get("box"):
            value["outline"] = [[round(p[0] + NEXT_M, 4), *p[1:]] for p in value["outline"]]
            return
        at = value["box"]["floor_centre"]
        at[0] = round(at[0] + value["box"]["size"][0] + NEXT_M, 4)

    def in_two(self, c: Existing) -> tuple[dict[str, Any], dict[str, Any]] | None:
        """Halves across its longest side, each with half of what it weighs: one may go, one stay."""
        if c.box is None or not _parted(c):
            return None
        size, at = list(c.box.size), list(c.box.floor_centre)
        axis = 0 if size[0] >= size[1] else 1
        half = round(size[axis] / 2, 4)
        size[axis] = half
        halves = []
        for way in (-1.0, 1.0):
            middle = list(at)
            middle[axis] = round(at[axis] + way * half / 2, 4)
            halves.append({"box": {"size": size, "floor_centre": middle}, "weighs": c.weighs / 2})
        return halves[0], halves[1]

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """About where such a thing is, in a size to be overwritten."""
        x, side = _where(placing)
        shape = _FIRST[entry](placing, x, side)
        kind = {"splash well": "well", "structure": "other"}.get(entry, entry.removeprefix("old "))
        id_ = placing.id(entry.replace(" ", "-"))
        number = id_.rsplit("-", 1)[-1]
        names = {"lip": f"gunwale lip, {'port' if side > 0 else 'starboard'}", "rib": f"side rib {number}",
                 "structure": f"built in {number}"}  # fmt: skip
        return {"id": id_, "name": names.get(entry, f"{entry} {number}"), "kind": kind, **shape}

    def build(self, c: Existing, site: Site) -> Built:
        thing = next((o for o in site.obstacles if o.id == c.id), None) or as_obstacle(c)
        if thing.high >= TALLEST_M:
            return Built(c.id, stays=c.kind not in NOT_MET)
        name = plain(thing.name)
        solid = Solid(c.id, "structure", name, Prism(thing.footprint, thing.low, thing.high))
        floor = Floor(thing.footprint, thing.high, thing.low, broad=False)
        over = Overhead(
            thing.footprint, thing.low, thing.low, BESIDE_M, "look", "the gunwale",
            f"underside of {name}", "Sit further inboard, or lower.",
        )  # fmt: skip
        return Built(
            c.id,
            solids=(solid,),
            floors=(floor,) if c.kind in CARRYING else (),
            overhead=(over,) if c.kind in OVERHEAD else (),
            stays=c.kind not in NOT_MET,
            top_m=thing.high,
        )

    def ties_across(self, c: Existing) -> float | None:
        return (c.extent.x[0] + c.extent.x[1]) / 2 if c.kind == "bulkhead" else None

    def idle(self, c: Existing, catalogue: Catalogue) -> frozenset[str]:
        """What becomes of it is asked of what goes; what it brings, of what is sold."""
        if c.stage != "removed":
            return OF_GOING
        return frozenset() if c.becomes == "sold" else frozenset({"brings"})

    def facts(self, c: Existing) -> str:
        goes = ", comes out" if c.stage == "removed" else ", stays"
        return c.kind.replace("other", "built in") + goes


def _parted(c: Existing) -> bool:
    """Whether it is long enough to be parted."""
    return c.box is not None and max(c.box.size[:2]) >= 2 * LEAST_HALF_M


def _where(placing: Placing) -> tuple[float, float]:
    """How far forward, and on which side: where it was put, or a first place to port."""
    low, high = float(placing.surface.outside.low[0]), float(placing.surface.outside.high[0])
    x, y = placing.at or (low + 0.45 * (high - low), 1.0)
    return min(max(x, low + 0.05), high - 0.05), 1.0 if y >= 0 else -1.0


def _depth(surface: HullSurface, x: float) -> tuple[float, float]:
    """Height of the bottom inside and of the sheer at x [m]."""
    return float(surface.inside.low[2]), surface.sheer_at(x, 1.0)[2]


def _half_m(surface: HullSurface, x: float, z: float) -> float:
    """Half of the room inside at x and a height [m]."""
    found = breadth_at(inside_region(surface, z), x)
    if found is None:
        raise CoreError("there is no room in her there: pick a place further in", "at")
    return min(found[1], -found[0])


def _box(size: tuple[float, float, float], at: Point) -> dict[str, Any]:
    return {"box": {"size": [round(v, 3) for v in size], "floor_centre": [round(v, 3) for v in at]}}


def _rib(placing: Placing, x: float, side: float) -> dict[str, Any]:
    """Along the side, from a third of her depth to near the sheer."""
    low, high = _depth(placing.surface, x)
    foot, head = low + 0.35 * (high - low), low + 0.85 * (high - low)
    long, wide = RIB_M
    half = _half_m(placing.surface, x, foot)
    return _box((long, wide, head - foot), (x, side * (half - wide / 2), foot))


def _thwart(placing: Placing, x: float, side: float) -> dict[str, Any]:
    """From side to side, half way up."""
    low, high = _depth(placing.surface, x)
    z, (long, thick) = low + 0.5 * (high - low), THWART_M
    half = min(_half_m(placing.surface, x + s * long / 2, z) for s in (-1, 1))
    return _box((long, 2 * half, thick), (x, 0.0, z))


def _stringer(placing: Placing, x: float, side: float) -> dict[str, Any]:
    """Along the bottom, over a third of her."""
    surface = placing.surface
    long = float(surface.outside.high[0] - surface.outside.low[0]) / 3
    wide, high = STRINGER_M
    y = placing.at[1] if placing.at else 0.25
    return _box((long, wide, high), (x, y, _depth(surface, x)[0]))


def _lip(placing: Placing, x: float, side: float) -> dict[str, Any]:
    """All along the sheer of one side, as wide as a hand's breadth."""
    line = placing.surface.lines[0 if side > 0 else 1][-1]
    outer = [[round(float(v), 3) for v in p] for p in line]
    # its inner edge is turned down
    inner = [[px, round(py - side * LIP_M, 3), round(pz - TURN_M, 3)]
             for px, py, pz in outer if abs(py) > 2 * LIP_M]  # fmt: skip
    return {"outline": [*outer[: len(inner)], *reversed(inner)]}


def _well(placing: Placing, x: float, side: float) -> dict[str, Any]:
    """At the transom, under the sheer."""
    surface, (long, high) = placing.surface, WELL_M
    aft = float(surface.inside.low[0])
    top = surface.sheer_at(aft, 1.0)[2]
    half = _half_m(surface, aft + long / 2, top - high)
    return _box((long, 1.2 * half, high), (aft + long / 2, 0.0, top - high))


def _other(placing: Placing, x: float, side: float) -> dict[str, Any]:
    size = (0.3, 0.3, 0.3)
    return _box(size, placing.spot(size, 0.45, 0.0, True))


def _bulkhead(placing: Placing, x: float, side: float) -> dict[str, Any]:
    """Across her, to three quarters of her side."""
    low, high = _depth(placing.surface, x)
    top = low + 0.75 * (high - low)
    half = _half_m(placing.surface, x, top)
    return _box((SHEET_M, 2 * half, top - low), (x, 0.0, low))


def _deck(placing: Placing, x: float, side: float) -> dict[str, Any]:
    """Over the last quarter of her, just under the sheer."""
    surface = placing.surface
    fore = float(surface.outside.high[0])
    x = x if placing.at else fore - 0.25 * (fore - float(surface.outside.low[0]))
    top = surface.sheer_at(x, 1.0)[2] - 0.03
    region = largest(inside_region(surface, top).intersection(box(x, -FAR_M, FAR_M, FAR_M)))
    if region.is_empty:
        raise CoreError("there is no room in her there: pick a place further in", "at")
    ring = region.simplify(0.01).exterior.coords[:-1]
    # the corners of an outline tell how high it reaches, and how low
    faces = [[round(px, 3), round(py, 3), round(top - (0 if k % 2 else SHEET_M), 3)]
             for k, (px, py) in enumerate(ring)]  # fmt: skip
    return {"outline": faces}


def _knee(placing: Placing, x: float, side: float) -> dict[str, Any]:
    """On the bottom, against a side."""
    low, high = _depth(placing.surface, x)
    top = low + 0.4 * (high - low)
    half, size = _half_m(placing.surface, x, top), 0.2
    return _box((SHEET_M, size, top - low), (x, side * (half - size / 2), low))


def _foam(placing: Placing, x: float, side: float) -> dict[str, Any]:
    size = (0.6, 0.3, 0.15)
    return _box(size, placing.spot(size, 0.45, side * 0.3 if placing.at else 0.0, True))


_FIRST = {
    "rib": _rib, "old bulkhead": _bulkhead, "old deck": _deck, "old knee": _knee, "old foam": _foam,
    "thwart": _thwart, "stringer": _stringer, "lip": _lip, "splash well": _well, "structure": _other,
}  # fmt: skip


def as_obstacle(c: Existing) -> Obstacle:
    """Footprint and heights of a piece of structure."""
    return obstacle_of(c.id, c.title, c.kind, c.box, c.outline)


KIND = StructureKind()
