"""Foam in a closed space under a floor or in a side: its litres, what it weighs and carries, its pours."""

from __future__ import annotations

import math
from functools import partial
from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, model_validator
from shapely import box
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Handle, Shape
from stirrup.core.contract.kind import FINE_M, Entry, Heat, Kind, Path, Placing, Site
from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.contract.ways import Way, ways
from stirrup.core.document import Id, Point, StockRef
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.edges import breadth_at, inside_region, largest
from stirrup.core.hull.slices import region, section
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Resin
from stirrup.core.parts.model import Bought, Frame, Panel, panel_rings
from stirrup.core.quantities import Length
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Prism, Swept
from stirrup.core.space.solid import Solid

declare("layout", {"FOAM-LITRES": "what foam fills and carries", "FOAM-DRAIN": "water under foam",
                   "FOAM-WORK": "cautions of foam"}, acceptable=True, pace="behind")  # fmt: skip

FoamId = Annotated[Id, StockRef("resin", wanted=(("chemistry", ("polyurethane",)),))]
FoamSheetId = Annotated[Id, StockRef("sheet", wanted=(("kind", ("foam",)),))]

STATIONS = 13
LIFT_M = 0.15  # poured at once: thicker, it scorches inside. Makers' limits go before
SPARE = 1.1  # mixed and left in the cup
ROUND_M = 0.003  # left round what stands there, by sheets
LEAST_M2 = 0.004
MOST_LAYERS = 16
STRIPS = 8  # across, that it is looked at in
WATER = 1000.0
FAR_M = 20.0

FOAMED = ways(
    Way(
        "poured",
        "fills every corner and stiffens; heat, pours in turns, never out again in one piece, drains "
        "must be kept open",
    ),
    Way(
        "sheets",
        "comes out again and stays dry with gaps for water; fills less, and every piece is cut",
    ),
)


class FoamFill(FittingBase):
    """Choices for foam that fills a space."""

    kind: Literal["foam_fill"] = "foam_fill"
    aft: Length = Field(ge=-2, le=40, title="From, from transom")
    fore: Length = Field(ge=-2, le=40, title="To")
    starboard: Length = Field(ge=-5, le=5, title="Starboard side of it", description="to port +")
    port: Length = Field(ge=-5, le=5, title="Port side of it")
    top: Length = Field(gt=0, le=5, title="Filled up to, above keel line")
    way: Annotated[Literal["poured", "sheets"], FOAMED] = Field("poured", title="Way")
    of: FoamId = Field("foam-32", title="Foam")
    sheet: FoamSheetId = Field("xps-50", title="Sheets")
    drain: Length = Field(0.06, ge=0, le=0.5, title="Drain kept open, wide", description="0: none")
    drain_high: Length = Field(0.04, ge=0.01, le=0.3, title="Drain, high")

    @model_validator(mode="after")
    def _spans(self) -> FoamFill:
        for low, high in (("aft", "fore"), ("starboard", "port")):
            if getattr(self, high) - getattr(self, low) < LEAST_M:
                raise ValueError(
                    f"{high}: read {getattr(self, high):g} m, with {low} at {getattr(self, low):g} m; "
                    f"accepted: at least {LEAST_M:g} m more"
                )
        return self


LEAST_M = 0.05


@dataclass(frozen=True)
class Filled:
    """What is filled: stations x (n,), what of each is foam in (y, z), its litres and centre [m3, m]."""

    x: tuple[float, ...]
    shapes: tuple[BaseGeometry, ...]
    volume: float
    centre: Point
    low: float


def _shape_at(c: FoamFill, site: Site, x: float) -> BaseGeometry:
    """Foam across the boat at x: inside of her, up to its top, less what stands there and the drain."""
    inside = largest(region(section(site.surface.inside, x), 0))
    shape: BaseGeometry = inside.intersection(box(c.starboard, -FAR_M, c.port, c.top))
    for thing in site.obstacles:
        x0, _, x1, _ = thing.footprint.bounds
        if x0 <= x <= x1 and thing.kind != "lip":
            _, y0, _, y1 = thing.beside(x - 1e-3, x + 1e-3)
            low, high = thing.over(x)
            shape = shape.difference(box(y0, low - 0.01, y1, high))
    if c.drain and not shape.is_empty:
        # along the lowest line of what is filled
        low = shape.bounds[1]
        foot = shape.intersection(box(-FAR_M, low - 1, FAR_M, low + 0.005)).bounds
        y = (foot[0] + foot[2]) / 2
        shape = shape.difference(box(y - c.drain / 2, low - 1, y + c.drain / 2, low + c.drain_high))
    return shape


def fill(c: FoamFill, site: Site) -> Filled:
    """Raises CoreError where there is nothing to fill."""
    xs = np.linspace(c.aft, c.fore, STATIONS)
    # just inside of its ends, where what ends there still stands
    asked = np.clip(xs, c.aft + 1e-3, c.fore - 1e-3)
    shapes = [_shape_at(c, site, float(x)) for x in asked]
    area = np.array([s.area for s in shapes])
    if area.max() < LEAST_M2 / 4:
        raise CoreError(f"up to {c.top:.3f} m there is nothing to fill there", f"fittings.{c.id}.top")
    volume = float(np.trapezoid(area, xs))
    middles = np.array([[s.centroid.y, s.centroid.x] if s.area > 0 else [0.0, 0.0] for s in shapes])

    def mean(value: Any) -> float:
        return float(np.trapezoid(area * value, xs)) / volume

    # a section lies in (y, z)
    centre = (mean(xs), mean(middles[:, 1]), mean(middles[:, 0]))
    low = min(s.bounds[1] for s in shapes if not s.is_empty)
    return Filled(tuple(float(x) for x in xs), tuple(shapes), volume, centre, float(low))


def sheets_of(c: FoamFill, site: Site, f: Filled) -> list[Panel]:
    """Level layers of sheet from below, each cut to the inside of her at its foot."""
    sheet = site.catalogue.sheet(c.sheet)
    out: list[Panel] = []
    z = f.low
    while z + sheet.thickness <= c.top + 1e-6 and len(out) < MOST_LAYERS:
        shape: BaseGeometry = inside_region(site.surface, z + 1e-3)
        shape = shape.intersection(box(c.aft, c.starboard, c.fore, c.port))
        for thing in site.obstacles:
            low, high = thing.low, thing.high
            if low < z + sheet.thickness and high > z and thing.kind != "lip":
                shape = shape.difference(thing.footprint.buffer(ROUND_M, join_style="mitre"))
        if c.drain and z < f.low + c.drain_high:
            y = 0.0 if c.starboard < 0 < c.port else (c.starboard if c.starboard >= 0 else c.port)
            shape = shape.difference(box(c.aft - 1, y - c.drain / 2, c.fore + 1, y + c.drain / 2))
        parts = [
            p for p in getattr(shape, "geoms", [shape]) if isinstance(p, Polygon) and p.area > LEAST_M2
        ]
        for part in sorted(parts, key=lambda p: p.bounds[1]):
            outline, holes = panel_rings(largest(part.simplify(0.001)))
            n = len(out) + 1
            frame = Frame((0.0, 0.0, z + sheet.thickness / 2))
            out.append(Panel(f"{c.id}/layer/{n}", f"{c.code}-{n}", f"{c.name}, sheet {n}", c.id, sheet,
                             outline, holes, frame, (0, 90, 180, 270)))  # fmt: skip
        z += sheet.thickness
    return out


WORK = {
    "poured": "Its vapour sensitizes: air supplied or a mask by the maker's sheet, gloves, goggles, nobody "
              "else in the shop. It grows hot: thin lifts. Wires, hoses and tanks never in it.",
    "sheets": "Cut it with a knife or a hot wire outdoors; fuel and solvents eat it. Wires, hoses and "
              "tanks never in it.",
}  # fmt: skip


def _findings(c: FoamFill, f: Filled, kg: float, filled: float) -> list[Finding]:
    carries = filled * WATER - kg
    lifts = max(1, math.ceil((c.top - f.low) / LIFT_M - 1e-9))
    values = {"litres": Quantity(filled * 1000, "litres"), "kg": Quantity(kg, "kg"),
              "carries": Quantity(carries, "kg"), "lifts": Quantity(lifts, "count"),
              "each": Quantity(LIFT_M, "m", True)}  # fmt: skip
    work = Working(
        "carries = litres x 1 kg - its own mass",
        (Input("room", Quantity(f.volume * 1000, "litres"), "sections of her, less what stands there"),
         Input("filled", Quantity(filled * 1000, "litres"))),
        Quantity(carries, "kg"), "Archimedes; rules of the trade, “Foam”",
    )  # fmt: skip
    how = "In {lifts} lifts of at most {each}, each cold before the next. " if c.way == "poured" else ""
    out = [Finding("FOAM-LITRES", "fine", c.id, "What it fills and carries",
                   f"{{litres}} weigh {{kg}} and carry {{carries}} when she is swamped. {how}Low in her it "
                   "lifts her bottom first: put as much along the sides.", values,
                   working=work)]  # fmt: skip
    if c.drain:
        size = {"wide": Quantity(c.drain, "m", True), "high": Quantity(c.drain_high, "m", True)}
        out.append(Finding("FOAM-DRAIN", "fine", c.id, "Water finds its way under it",
                           "A drain of {wide} by {high} along its lowest line stays open.",
                           size))  # fmt: skip
    else:
        fix = Fix("Keep {wide} open", path=("fittings", c.id, "drain"), value=0.06)
        out.append(Finding("FOAM-DRAIN", "mend", c.id, "Water stays under it",
                           "What gets below it never comes out: the foam soaks it up over the years, and "
                           "she grows heavy.", {"wide": Quantity(0.06, "m", True)},
                           "Keep a drain open along its lowest line.", fixes=(fix,)))  # fmt: skip
    return [*out, Finding("FOAM-WORK", "look", c.id, "Before it goes in", WORK[c.way], {})]


def build(c: FoamFill, site: Site) -> Built:
    """Foam by the kilogram, or sheets. Raises CoreError where there is nothing to fill."""
    f = fill(c, site)
    panels: list[Panel] = []
    bought: list[Bought] = []
    if c.way == "poured":
        foam = site.catalogue.find(c.of)
        if not isinstance(foam, Resin):
            raise CoreError(f"“{c.of}” is no foam to pour", f"fittings.{c.id}.of")
        kg = f.volume * foam.density
        bought.append(Bought(f"{c.id}/foam", f"{c.code}-F", f"{c.name}, foam", c.id, foam, kg * SPARE, kg,
                             f.centre, "consumables"))  # fmt: skip
        filled = f.volume
    else:
        panels = sheets_of(c, site, f)
        filled = sum(p.polygon.area * p.sheet.thickness for p in panels)
        kg = sum(p.mass_kg for p in panels)
    x0, x1, y0, y1 = c.aft, c.fore, c.starboard, c.port
    flat = largest(inside_region(site.surface, c.top - 1e-3).intersection(box(x0, y0, x1, y1)))
    return Built(
        c.id, tuple(panels), (), tuple(bought), _shapes(c, f, flat),
        (Handle("aft", "x", ((x0, y0, c.top), (x0, y1, c.top)), "aft end", "aft"),
         Handle("fore", "x", ((x1, y0, c.top), (x1, y1, c.top)), "fore end", "fore"),
         Handle("top", "z", ((x0, (y0 + y1) / 2, c.top), (x1, (y0 + y1) / 2, c.top)), "top", "top")),
        (), c.top, flat, solids=_solids(c, f), later=partial(_findings, c, f, kg, filled),
    )  # fmt: skip


def _solids(c: FoamFill, f: Filled) -> tuple[Solid, ...]:
    """Its room, stretch by stretch in strips along her, each inside of her at both of its ends."""
    pieces = []
    for (a, sa), (b, sb) in pairwise(list(zip(f.x, f.shapes, strict=True))[::3]):
        both = sa.intersection(sb)
        if both.is_empty:
            continue
        y0, low, y1, high = both.bounds
        for left, right in pairwise(np.linspace(y0, y1, STRIPS + 1).tolist()):
            strip = both.intersection(box(left, low - 1, right, high + 1))
            for part in getattr(strip, "geoms", [strip]):
                if isinstance(part, Polygon) and part.area > LEAST_M2 / 10:
                    ring = part.convex_hull.exterior.coords[:-1]
                    pieces.append(Swept(tuple((x, float(y), float(z)) for x in (a, b) for y, z in ring)))
    if not pieces:
        return ()
    around = Prism(box(c.aft, c.starboard, c.fore, c.port), f.low, c.top)
    return (Solid(c.id, "structure", plain(c.name), around, pieces=tuple(pieces)),)


def _shapes(c: FoamFill, f: Filled, flat: Polygon) -> tuple[Shape, ...]:
    out = []
    if not flat.is_empty:
        ring = tuple((float(x), float(y), c.top) for x, y in flat.exterior.coords[:-1])
        out.append(Shape("form-body", ring))
    rows = [(x, s.bounds[1]) for x, s in zip(f.x, f.shapes, strict=True) if not s.is_empty]
    y = (c.starboard + c.port) / 2
    side = [(x, y, float(z)) for x, z in rows[::4]] + [(x, y, c.top) for x, _ in (rows[-1], rows[0])]
    out.append(Shape("form-body", tuple(side), view="side"))
    middle = f.shapes[STATIONS // 2]
    for part in getattr(middle, "geoms", [middle]):
        if isinstance(part, Polygon) and not part.is_empty:
            x = f.x[STATIONS // 2]
            ring = tuple((x, float(a), float(b)) for a, b in part.exterior.coords[:-1])
            out.append(Shape("form-body", ring, view="across"))
    return tuple(out)


class FoamFillKind(Kind[FoamFill]):
    key, title = "foam_fill", "Foam in a space"
    choices = FoamFill
    letter = "O"
    entries = (
        Entry("foam_fill", "Foam, poured or in sheets", 2, "once stringers and bulkheads close the space, "
              "before its floor", "flotation buoyancy polyurethane polystyrene"),
    )  # fmt: skip
    about = (
        "Fills a space of the hull up to a height, less what stands there and a drain along its lowest "
        "line. Poured by the kilogram in lifts, or in level sheets, each cut to her inside. What it "
        "carries counts when she is swamped."
    )

    def extent(self, c: FoamFill, where: Where) -> Extent:
        low = min(float(where.surface.inside.low[2]), c.top - 0.01)
        return Extent((c.aft, c.fore), (c.starboard, c.port), (low, c.top))

    def shift(self, c: FoamFill, by: Point) -> list[tuple[Path, float]]:
        out: list[tuple[Path, float]] = []
        for axis, ends in ((0, ("aft", "fore")), (1, ("starboard", "port"))):
            if abs(by[axis]) > FINE_M / 2:
                moved = [((name,), getattr(c, name) + by[axis]) for name in ends]
                out += reversed(moved) if by[axis] > 0 else moved
        return [*out, (("top",), c.top + by[2])] if abs(by[2]) > FINE_M / 2 else out

    def edge_choice(self, edge: str) -> Path | None:
        return (edge,) if edge in ("aft", "fore", "top", "port", "starboard") else None

    def mirror(self, value: dict[str, Any]) -> None:
        if abs(value["port"] + value["starboard"]) < 1e-6:
            raise CoreError("it lies on the centreline: there is no other side", f"fittings.{value['id']}")
        value["port"], value["starboard"] = -value["starboard"], -value["port"]

    def put_beside(self, value: dict[str, Any]) -> None:
        """The next space forward."""
        long = value["fore"] - value["aft"]
        value["aft"], value["fore"] = round(value["fore"], 4), round(value["fore"] + long, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Under the floor that is there, else a hand's breadth deep, over the middle third of her."""
        surface = placing.surface
        low, high = float(surface.outside.low[0]), float(surface.outside.high[0])
        aft, fore = low + 0.35 * (high - low), low + 0.6 * (high - low)
        keel = float(surface.inside.low[2])
        floors = [b for c, b in placing.built("floor") if c.kind == "floor" and not b.region.is_empty]
        top = keel + 0.15
        if floors:
            under = min(f.under_m for b in floors for f in b.floors)
            x0, _, x1, _ = floors[0].region.bounds
            aft, fore, top = float(x0) + 0.1, float(x1) - 0.1, under - 0.005
        if placing.at is not None:
            aft, fore = placing.at[0] - 0.3, placing.at[0] + 0.3
        room = breadth_at(inside_region(surface, top), (aft + fore) / 2)
        if room is None:
            raise CoreError("there is no space along her bottom to fill", "fittings")
        half = round(min(room[1], -room[0]), 3)
        return {
            "kind": self.key, "id": placing.id("foam"), "name": placing.name("Foam"),
            "mark": placing.mark(self.letter), "aft": round(aft, 3), "fore": round(fore, 3),
            "starboard": -half, "port": half, "top": round(top, 3),
        }  # fmt: skip

    def idle(self, c: FoamFill, catalogue: Catalogue) -> frozenset[str]:
        out = {"sheet"} if c.way == "poured" else {"of"}
        return frozenset(out | (set() if c.drain else {"drain_high"}))

    def meets(self, c: FoamFill, obstacle: Obstacle) -> bool:
        x0, y0, x1, y1 = obstacle.footprint.bounds
        return bool(
            x0 < c.fore and x1 > c.aft and y0 < c.port and y1 > c.starboard and obstacle.low < c.top
        )

    def minds_heat(self, c: FoamFill) -> Heat | None:
        return Heat(0.3, "it burns, and its smoke is poison")

    def facts(self, c: FoamFill) -> str:
        return c.way

    def build(self, c: FoamFill, site: Site) -> Built:
        return build(c, site)


KIND = FoamFillKind()
