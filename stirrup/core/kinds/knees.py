"""Knees, ribs or lateral supports: a set of them between bottom and side, each cut to her section."""

from __future__ import annotations

import math
from functools import partial
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator
from shapely import box
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Handle, Shape
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site
from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.contract.seam import Seam
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Quantity, declare, plain
from stirrup.core.fittings.done_ways import TABBED_OR_WELDED
from stirrup.core.fittings.edges import breadth_at, inside_region, largest
from stirrup.core.fittings.joints import mean_place
from stirrup.core.fittings.laminate import (
    STITCH_KG_PER_M,
    WELD,
    WET,
    ClothId,
    ResinId,
    laid,
    resin,
    tabs_m2,
    wire,
)
from stirrup.core.fittings.stock import SheetId
from stirrup.core.hull.slices import region, section
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Cloth, Sheet
from stirrup.core.parts.model import Bought, Frame, Panel, panel_rings
from stirrup.core.quantities import Length
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Swept
from stirrup.core.space.solid import Solid

declare("layout", {"KNEES-JOINT": "how knees are joined", "KNEES-COAT": "coats before they go in",
                   "KNEES-WORK": "cautions of knees"},
        acceptable=True, pace="behind")  # fmt: skip

NOSE_M = 0.02  # at toe and head, so that they do not end in a feather
ROUND_M = 0.003  # left round what stands there
LEAST_M2 = 5e-4
MOST = 40  # of them to a side
PLIES = 2  # of their tabs
FAR_M = 20.0
LEAST_EVERY_M = 0.1
PAIR_M = 0.05  # from the middle of a pair: 40 to 60 mm carry a joint of a floor
NAMES = {"ribs": "Ribs", "lateral_supports": "Supports"}
SHAPES: dict[str, dict[str, Any]] = {
    "ribs": {"shape": "ribs", "toe": 0.02}, "lateral_supports": {"shape": "lateral supports"}
}  # fmt: skip
WELDED = {"skin": "al-3.2", "joined": "welded"}  # of first ones in a hull of metal


class Knees(FittingBase):
    """Choices for a set of knees."""

    kind: Literal["knees"] = "knees"
    shape: Literal["knees", "ribs", "lateral supports"] = Field("knees", title="They are")
    deep: Length = Field(0.06, ge=0.02, le=0.5, title="Ribs, deep")
    reaches: Literal["on both sides", "port", "starboard"] = Field("on both sides", title="They stand")
    aft: Length = Field(ge=-2, le=40, title="First, from transom")
    fore: Length = Field(ge=-2, le=40, title="Last, at most at")
    every: Length = Field(0.4, ge=LEAST_EVERY_M, le=3, title="One every")
    pairs: bool = Field(
        False, title="In pairs", description="50 mm to either side: under the joints of a floor"
    )
    toe: Length = Field(0.4, ge=0, le=4, title="Toe, from centreline")
    top: Length = Field(gt=0, le=5, title="Head above keel line")
    skin: SheetId = Field("ply-12", title="Sheet")
    gap: Length = Field(0.004, ge=0, le=0.02, title="Gap to the hull, bedded")
    joined: Annotated[Literal["tabbed", "welded"], TABBED_OR_WELDED] = Field(
        "tabbed", title="Joined to the hull"
    )
    tape: ClothId = Field("tape-75", title="Tabs of")
    resin: ResinId = Field("epoxy-medium", title="Resin")

    @model_validator(mode="after")
    def _along(self) -> Knees:
        if self.fore < self.aft:
            raise ValueError(f"fore: read {self.fore:g} m; accepted: at least aft, {self.aft:g} m")
        if (self.fore - self.aft) / self.every > MOST:
            least = (self.fore - self.aft) / MOST
            raise ValueError(
                f"every: read {self.every:g} m; accepted: at least {least:.3f} m, {MOST} to a side"
            )
        return self

    @property
    def stations(self) -> list[float]:
        """x of each aft face [m]."""
        count = math.floor((self.fore - self.aft) / self.every + 1e-6) + 1
        even = [self.aft + k * self.every for k in range(count)]
        return [x + by for x in even for by in ((-PAIR_M, PAIR_M) if self.pairs else (0.0,))]

    @property
    def one(self) -> str:
        """What one of them is called."""
        return {"knees": "knee", "ribs": "rib", "lateral supports": "support"}[self.shape]

    @property
    def hands(self) -> tuple[int, ...]:
        """Port +1, starboard -1."""
        return {"on both sides": (1, -1), "port": (1,), "starboard": (-1,)}[self.reaches]


@dataclass(frozen=True)
class Knee:
    """One of them: its number from aft, its side, x of its aft face, its outline (y, z), and how long it
    stands against the hull [m]."""

    number: int
    hand: int
    x: float
    outline: Polygon
    bedded_m: float


def _inside(site: Site, x: float, t: float) -> Polygon:
    aft, fore = (largest(region(section(site.surface.inside, at), 0)) for at in (x, x + t))
    return largest(aft.intersection(fore))


def _knee(c: Knees, site: Site, number: int, hand: int, x: float, t: float) -> Knee | None:
    """None where her side is too near, or her bottom too high."""
    hull = _inside(site, x, t)
    if hull.is_empty:
        return None
    y = hand * c.toe
    under = hull.intersection(LineString([(y, -FAR_M), (y, FAR_M)]))
    level = hull.intersection(LineString([(hand * 1e-6, c.top - 1e-6), (hand * FAR_M, c.top - 1e-6)]))
    if under.is_empty or level.is_empty:
        return None
    low = float(under.bounds[1])
    out = float(level.bounds[2] if hand > 0 else level.bounds[0])
    if c.top - low < 2 * NOSE_M or abs(out) - c.toe < 2 * NOSE_M:
        return None
    fitted: BaseGeometry = hull.buffer(-c.gap, join_style="mitre") if c.gap else hull
    shape: BaseGeometry = fitted.intersection(_room(c, y, low, out))
    if c.shape == "ribs":
        shape = shape.difference(hull.buffer(-c.gap - c.deep, join_style="mitre"))
    for thing in site.obstacles:
        x0, _, x1, _ = thing.footprint.bounds
        if x0 < x + t and x1 > x and thing.kind != "lip":
            _, y0, _, y1 = thing.beside(x, x + t)
            over = thing.over(x + t / 2)[1] + ROUND_M
            shape = shape.difference(box(y0 - ROUND_M, -FAR_M, y1 + ROUND_M, over))
    outline = largest(largest(shape).simplify(0.0002))
    if outline.area < LEAST_M2:
        return None
    near = hull.exterior.buffer(c.gap + 5e-4)
    return Knee(number, hand, x, outline, float(outline.exterior.intersection(near).length))


def _room(c: Knees, y: float, low: float, out: float) -> Polygon:
    """Outboard of its toe at y and under its head: of a knee, outboard of the line from toe to head."""
    hand = math.copysign(1.0, out)
    far = hand * FAR_M
    if c.shape != "knees":
        return Polygon([(y, -FAR_M), (y, c.top), (far, c.top), (far, -FAR_M)])
    head = out - hand * NOSE_M
    return Polygon([(y, -FAR_M), (y, low + NOSE_M), (head, c.top), (far, c.top), (far, -FAR_M)])


def knees_of(c: Knees, site: Site) -> tuple[list[Knee], Sheet]:
    """All that find room. Raises CoreError where none does."""
    sheet = site.catalogue.sheet(c.skin)
    out = [
        knee
        for number, x in enumerate(c.stations, start=1)
        for hand in c.hands
        if (knee := _knee(c, site, number, hand, x, sheet.thickness)) is not None
    ]
    if not out:
        raise CoreError(
            f"with its toe {c.toe:.3f} m out and its head at {c.top:.3f} m no {c.one} has room there",
            f"fittings.{c.id}.toe",
        )
    return out, sheet


def _panel(c: Knees, knee: Knee, sheet: Sheet) -> Panel:
    outline, holes = panel_rings(knee.outline)
    side, word = ("P", "port") if knee.hand > 0 else ("S", "starboard")
    turns = (0, 180) if sheet.stuff.kind == "wood" else (0, 90, 180, 270)
    frame = Frame((knee.x + sheet.thickness / 2, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
    return Panel(f"{c.id}/{side.lower()}/{knee.number}", f"{c.code}-{side}{knee.number}",
                 f"{c.name}, {c.one} {knee.number} {word}", c.id, sheet, outline, holes, frame, turns,
                 role="bearer")  # fmt: skip


def _bought(c: Knees, site: Site, knees: list[Knee], panels: list[Panel]) -> list[Bought]:
    long, at = sum(k.bedded_m for k in knees), mean_place(panels)
    if c.joined == "welded":
        return [wire(c, site.catalogue, long, STITCH_KG_PER_M, at)]
    tape = site.catalogue.find(c.tape)
    area = 2 * tabs_m2(tape, PLIES, long) if isinstance(tape, Cloth) else 0.0
    tabs, wet = laid(c, site.catalogue, ("tape", "T", "tabs"), c.tape, area, at)
    return [*tabs, *resin(c, site.catalogue, c.resin, wet, at)]


def _seams(c: Knees, knees: list[Knee], panels: list[Panel]) -> tuple[Seam, ...]:
    """One along the hull for each knee that is welded."""
    if c.joined != "welded":
        return ()
    return tuple(
        Seam(p.label, "along bottom and side", tuple(p.frame.at(u, v) for u, v in p.outline), k.bedded_m)
        for k, p in zip(knees, panels, strict=True)
    )


def _findings(c: Knees, knees: list[Knee], sheet: Sheet) -> list[Finding]:
    long, metal = sum(k.bedded_m for k in knees), sheet.stuff.kind == "metal"
    missing = len(c.stations) * len(c.hands) - len(knees)
    values = {"count": Quantity(len(knees), "count"), "long": Quantity(long, "m"),
              "missing": Quantity(missing, "count")}  # fmt: skip
    welded = c.joined == "welded"
    caution = WELD if welded else WET
    work = Finding("KNEES-WORK", "look", c.id, "Set them by a line, then join them",
                   f"Heads on one line, every second one first so that she stays fair. {caution}",
                   {})  # fmt: skip
    if metal != welded:
        right = "welded" if metal else "tabbed"
        fix = Fix(f"Have them {right}", path=("fittings", c.id, "joined"), value=right)
        return [Finding("KNEES-JOINT", "mend", c.id, f"This sheet is not {c.joined}",
                        f"{plain(sheet.name)} is {right}, to a hull of its own kind.", values,
                        f"Have them {right}, or take another sheet.", fixes=(fix,)), work]  # fmt: skip
    if missing:
        return [Finding("KNEES-JOINT", "look", c.id, "Not all of them find room",
                        "{count} stand; for {missing} her side is too near to the toe, or her bottom too "
                        "high.", values,
                        "End them further aft, or set the toe further in."), work]  # fmt: skip
    coat = _coat(c, knees, sheet)
    how = "stitched on both sides" if metal else "tabbed on both sides over a fillet"
    return [Finding("KNEES-JOINT", "fine", c.id, "How they are joined",
                    f"{{count}} {c.shape}, {{long}} along the hull, {how}; number each and its place.",
                    values), *coat, work]  # fmt: skip


def _coat(c: Knees, knees: list[Knee], sheet: Sheet) -> list[Finding]:
    """Wood is sealed all round before it goes in, since nobody gets at its foot afterwards."""
    if sheet.stuff.kind != "wood":
        return []
    area = sum(2 * k.outline.area + k.outline.length * sheet.thickness for k in knees)
    values = {"count": Quantity(len(knees), "count"), "area": Quantity(area, "m2")}
    return [Finding("KNEES-COAT", "fine", c.id, "Coat them before they go in",
                    "{count} of them, {area} with their edges: two coats all round, sanded between, on the "
                    "bench; where tape will lie a third one is left out.", values)]  # fmt: skip


def _solid(c: Knees, knee: Knee, t: float) -> Solid:
    ring = knee.outline.exterior.coords[:-1]
    body = Swept(tuple((x, float(y), float(z)) for x in (knee.x, knee.x + t) for y, z in ring))
    return Solid(c.id, "structure", plain(c.name), body)


def _shapes(knee: Knee, t: float) -> tuple[Shape, ...]:
    y0, low, y1, high = knee.outline.bounds
    x0, x1 = knee.x, knee.x + t
    ring = tuple((knee.x, float(y), float(z)) for y, z in knee.outline.exterior.coords[:-1])
    return (
        Shape("form-wall", ((x0, y0, high), (x1, y0, high), (x1, y1, high), (x0, y1, high)), thin=True),
        Shape("face-side", ((knee.x, 0.0, low), (knee.x, 0.0, high)), view="side", closed=False),
        Shape("form-body", ring, view="across"),
    )  # fmt: skip


def build(c: Knees, site: Site) -> Built:
    """Raises CoreError where none has room."""
    knees, sheet = knees_of(c, site)
    panels = [_panel(c, k, sheet) for k in knees]
    t = sheet.thickness
    x0, x1 = min(k.x for k in knees), max(k.x for k in knees) + t
    y = max(abs(v) for k in knees for v in k.outline.bounds[::2])
    head: tuple[Point, Point] = ((x0, 0.0, c.top), (x1, 0.0, c.top))
    return Built(
        c.id, tuple(panels), (), tuple(_bought(c, site, knees, panels)),
        tuple(s for k in knees for s in _shapes(k, t)), (Handle("top", "z", head, "heads", "top"),), (),
        c.top, box(x0, -y, x1, y), solids=tuple(_solid(c, k, t) for k in knees),
        later=partial(_findings, c, knees, sheet),
        joined="weld" if c.joined == "welded" else "laminate",
        seams=_seams(c, knees, panels),
    )  # fmt: skip


class KneesKind(Kind[Knees]):
    key, title = "knees", "Knees, a set"
    choices = Knees
    letter = "X"
    spans = alone = True
    entries = (
        Entry("knees", "Knees between bottom and side", 1, "stiffen her side and carry a floor's edge: "
                                                           "before "
              "the floor", "gusset bracket"),
        Entry("ribs", "Ribs along bottom and side", 1, "stiffen a thin skin: before liner and floor",
              "frame structure"),
        Entry("lateral_supports", "Lateral supports of a floor", 1, "carry its outer edge from stringer to "
              "side: before the floor", "bracket ledge bearer gusset"),
    )  # fmt: skip
    about = (
        "Knees, ribs or lateral supports: a set at even distances, single or in pairs, each cut to the "
        "inside of her bottom and side at its own station, from a toe to a head, notched round what stands "
        "there; tabbed or welded, with a number for part and place."
    )

    def extent(self, c: Knees, where: Where) -> Extent:
        found = breadth_at(inside_region(where.surface, c.top - 1e-3), c.aft) or (-c.toe, c.toe)
        t = where.catalogue.thickness_m(c.skin)
        sides = {"on both sides": found, "port": (0.0, found[1]), "starboard": (found[0], 0.0)}[c.reaches]
        low = min(float(where.surface.inside.low[2]), c.top - 0.01)
        return Extent((c.aft, c.stations[-1] + t), sides, (low, c.top))

    def shift(self, c: Knees, by: Point) -> list[tuple[Path, float]]:
        out: list[tuple[Path, float]] = []
        if abs(by[0]) > FINE_M / 2:
            ends: list[tuple[Path, float]] = [(("aft",), c.aft + by[0]), (("fore",), c.fore + by[0])]
            out += ends[::-1] if by[0] > 0 else ends
        return [*out, (("top",), c.top + by[2])] if abs(by[2]) > FINE_M / 2 else out

    def edge_choice(self, edge: str) -> Path | None:
        return ("top",) if edge == "top" else None

    def mirror(self, value: dict[str, Any]) -> None:
        raise CoreError("choose the side on which they stand", f"fittings.{value['id']}.reaches")

    def put_beside(self, value: dict[str, Any]) -> None:
        raise CoreError("place another set, with stations of its own", f"fittings.{value['id']}")

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Over the middle third of her, from two thirds of her breadth to half way up her side."""
        surface = placing.surface
        low, high = float(surface.outside.low[0]), float(surface.outside.high[0])
        aft, fore = low + 0.25 * (high - low), low + 0.6 * (high - low)
        keel = float(surface.inside.low[2])
        top = keel + 0.45 * (surface.sheer_at(aft, 1.0)[2] - keel)
        room = breadth_at(inside_region(surface, top), (aft + fore) / 2)
        if room is None:
            raise CoreError("there is no side there to stiffen", "fittings")
        return {
            "kind": self.key, "id": placing.id("knees"), "name": placing.name(NAMES.get(entry, "Knees")),
            "mark": placing.mark(self.letter), "aft": round(aft, 3), "fore": round(fore, 3),
            "toe": round(0.65 * min(room[1], -room[0]), 3), "top": round(top, 3),
            **SHAPES.get(entry, {}),
            **(WELDED if placing.hull_of == "metal" else {}),
        }  # fmt: skip

    def idle(self, c: Knees, catalogue: Catalogue) -> frozenset[str]:
        out = {"tape", "resin", "gap"} if c.joined == "welded" else set()
        return frozenset(out if c.shape == "ribs" else {*out, "deep"})

    def meets(self, c: Knees, obstacle: Obstacle) -> bool:
        x0, _, x1, _ = obstacle.footprint.bounds
        return bool(x0 < c.fore + 0.1 and x1 > c.aft and obstacle.low < c.top)

    def facts(self, c: Knees) -> str:
        return f"{len(c.stations) * len(c.hands)} of them"

    def build(self, c: Knees, site: Site) -> Built:
        return build(c, site)


KIND = KneesKind()
