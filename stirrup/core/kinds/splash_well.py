"""A splash well: a box ahead of the transom that catches what comes over it, and drains aft."""

from __future__ import annotations

import math
from functools import partial
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator
from shapely import box
from shapely.geometry import Polygon

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Handle, Shape
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site, Sizes, off_centre
from stirrup.core.contract.seam import Seam
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.crate import rectangle
from stirrup.core.fittings.done_ways import TABBED_OR_WELDED
from stirrup.core.fittings.edges import inside_region, largest
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
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Cloth, Sheet
from stirrup.core.parts.model import Bought, Frame, Panel, panel_rings
from stirrup.core.quantities import Angle, Length
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Swept
from stirrup.core.space.solid import Solid

declare(
    "layout",
    {
        "SPLASH-DRAINS": "how fast a splash well empties",
        "SPLASH-HIGH": "how high a splash well is",
        "SPLASH-FALLS": "fall of a splash well",
        "SPLASH-WORK": "cautions of a splash well",
    },
    acceptable=True,
)

G = 9.81
FLOW = 0.6  # of a short tube: discharge coefficient
SOON_S = 60.0  # to run empty: working value
LEAST_FALL_DEG = 2.0  # so that it still runs aft when she trims by the bow: working value
UNDER_SHEER_M = 0.03  # its top, at most: working value
GAP_M, PLIES = 0.004, 2
WELDED = {"skin": "al-3.2", "joined": "welded"}  # of a first one in a hull of metal
ACROSS = {"drain-25": 0.025, "drain-38": 0.038, "scupper-38": 0.038}


class SplashWell(FittingBase):
    """Choices for a splash well."""

    kind: Literal["splash_well"] = "splash_well"
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    width: Length = Field(0.60, ge=0.15, le=4, title="Wide")
    length: Length = Field(0.35, ge=0.1, le=2, title="Floor, from the transom forward")
    floor: Length = Field(ge=0, le=5, title="Floor at the transom, above keel line")
    falls: Angle = Field(3.0, ge=0, le=15, title="Its floor falls aft, degrees")
    top: Length = Field(gt=0, le=5, title="Walls' top above keel line")
    skin: SheetId = Field("ply-12", title="Sheet")
    drains: int = Field(2, ge=0, le=8, title="Drains through the transom")
    drain: Literal["25 mm", "38 mm", "38 mm, with a flap"] = Field("38 mm, with a flap", title="Each")
    joined: Annotated[Literal["tabbed", "welded"], TABBED_OR_WELDED] = Field("tabbed", title="Joined")
    tape: ClothId = Field("tape-75", title="Tabs of")
    resin: ResinId = Field("epoxy-medium", title="Resin")

    @model_validator(mode="after")
    def _deep(self) -> SplashWell:
        least = self.floor + self.length * math.tan(math.radians(self.falls)) + 0.05
        if self.top < least - 1e-9:
            raise ValueError(
                f"top: read {self.top:g} m; accepted: at least 50 mm over its floor's fore end, "
                f"{least:.3f} m"
            )
        return self

    @property
    def item(self) -> str:
        """Its drains in the catalogue."""
        return {"25 mm": "drain-25", "38 mm": "drain-38"}.get(self.drain, "scupper-38")


@dataclass(frozen=True)
class Well:
    """A well against its transom: x of that inside at floor and top, its sheet [m]."""

    c: SplashWell
    sheet: Sheet
    aft: float
    aft_top: float

    @property
    def fore(self) -> float:
        """x of its fore wall's inside [m]."""
        return self.aft + self.c.length

    @property
    def rise(self) -> float:
        return math.tan(math.radians(self.c.falls))

    @property
    def floor_fore(self) -> float:
        """Height of its floor at its fore end [m]."""
        return self.c.floor + self.c.length * self.rise

    @property
    def side(self) -> Polygon:
        """One of its sides: (x, z)."""
        c = self.c
        return Polygon([(self.aft, c.floor), (self.fore, self.floor_fore), (self.fore, c.top),
                        (self.aft_top, c.top)])  # fmt: skip

    @property
    def room_m3(self) -> float:
        """What it holds, full to its walls' top."""
        return float(self.side.area) * (self.c.width - 2 * self.sheet.thickness)


def aft_inside_m(surface: HullSurface, z: float, y: float) -> float | None:
    """x of the inside of the transom at a height, where something stands so far to port [m]."""
    try:
        shape = largest(inside_region(surface, z))
    except CoreError:
        return None
    strip = shape.intersection(box(-20.0, y - 0.01, 20.0, y + 0.01))
    return None if strip.is_empty else float(strip.bounds[0])


def _stand(c: SplashWell, site: Site) -> Well:
    at = [aft_inside_m(site.surface, z, c.y) for z in (c.floor, c.top - 1e-4)]
    if at[0] is None or at[1] is None:
        name = "floor" if at[0] is None else "top"
        raise CoreError(
            f"there is no transom inside at the height of its {name}", f"fittings.{c.id}.{name}"
        )
    return Well(c, site.catalogue.sheet(c.skin), at[0], at[1])


def _panels(w: Well) -> list[Panel]:
    """Floor and fore wall between its two sides."""
    c, t = w.c, w.sheet.thickness
    turns = (0, 180) if w.sheet.stuff.kind == "wood" else (0, 90, 180, 270)
    between, half = c.width - 2 * t, c.width / 2
    high, slope = c.top - w.floor_fore, math.radians(c.falls)
    # its fore edge is square: the lower one meets the fore wall
    back = t * math.sin(slope)
    long = (c.length - back) / math.cos(slope)
    ahead = (math.cos(slope), 0.0, math.sin(slope))
    x = (w.aft + w.fore - back) / 2
    middle = (x + back / 2, c.y, c.floor + (x - w.aft) * w.rise - t / 2 * math.cos(slope))
    out = [
        Panel(f"{c.id}/floor", f"{c.code}-F", f"{c.name}, floor", c.id, w.sheet,
              rectangle(long, between), (), Frame(middle, ahead, (0.0, 1.0, 0.0)), turns),
        Panel(f"{c.id}/fore", f"{c.code}-W", f"{c.name}, fore wall", c.id, w.sheet,
              rectangle(between, high), (),
              Frame((w.fore + t / 2, c.y, w.floor_fore + high / 2), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)),
              turns),
    ]  # fmt: skip
    outline, holes = panel_rings(w.side.buffer(-GAP_M / 2, join_style="mitre"))
    for letter, word, hand in (("P", "port side", 1.0), ("S", "starboard side", -1.0)):
        frame = Frame((0.0, c.y + hand * (half - t / 2), 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
        out.append(Panel(f"{c.id}/{letter.lower()}", f"{c.code}-{letter}", f"{c.name}, "
                                                                           f"{word}", c.id, w.sheet,
                         outline, holes, frame, turns))  # fmt: skip
    return out


def joints_m(w: Well) -> tuple[float, float]:
    """Length of its joints against the transom, and of those of its own sheets [m]."""
    c = w.c
    slant = math.hypot(w.aft_top - w.aft, c.top - c.floor)
    long = c.length / math.cos(math.radians(c.falls))
    return 2 * slant + c.width, 2 * long + 2 * (c.top - w.floor_fore) + c.width


def _bought(w: Well, site: Site) -> list[Bought]:
    c, stock = w.c, site.catalogue
    at: Point = ((w.aft + w.fore) / 2, c.y, (c.floor + c.top) / 2)
    aft: Point = (w.aft, c.y, c.floor)
    out = []
    if c.drains:
        entry = stock.find(c.item)
        out = [Bought(f"{c.id}/drains", f"{c.code}-D", f"{c.name}, drains", c.id, entry, c.drains,
                      c.drains * entry.mass, aft)]  # fmt: skip
    long = sum(joints_m(w))
    if c.joined == "welded":
        return [*out, wire(c, stock, long, STITCH_KG_PER_M, at)]
    tape = stock.find(c.tape)
    area = 2 * tabs_m2(tape, PLIES, long) if isinstance(tape, Cloth) else 0.0
    tabs, wet = laid(c, stock, ("tape", "T", "tabs"), c.tape, area, at)
    return [*out, *tabs, *resin(c, stock, c.resin, wet, at)]


def empties_s(w: Well) -> float:
    """Time to run empty from full: 2 V / (C A sqrt(2 g h)), Torricelli, of a box with drains at its lowest
    place [s]; inf without drains."""
    area = w.c.drains * math.pi / 4 * ACROSS[w.c.item] ** 2
    if not area:
        return math.inf
    high = w.c.top - (w.c.floor + w.floor_fore) / 2
    return 2 * w.room_m3 / (FLOW * area * math.sqrt(2 * G * high))


def _drains(w: Well) -> Finding:
    c, kg = w.c, w.room_m3 * 1000
    values = {
        "room": Quantity(w.room_m3, "m3"),
        "kg": Quantity(kg, "kg"),
        "count": Quantity(c.drains, "count"),
    }
    if not c.drains:
        fix = Fix("Two drains", path=("fittings", c.id, "drains"), value=2)
        return Finding("SPLASH-DRAINS", "mend", c.id, "What comes in stays in",
                       "It holds {room}, {kg} at the stern, and nothing drains it.", values,
                       "Give it drains through the transom.", fixes=(fix,))  # fmt: skip
    takes = empties_s(w)
    values |= {"takes": Quantity(takes, "s"), "soon": Quantity(SOON_S, "s")}
    work = Working(
        "t = 2 V / (0.6 A sqrt(2 g h))",
        (Input("V", Quantity(w.room_m3, "m3"), "full to its walls' top"),
         Input("A", Quantity(c.drains * math.pi / 4 * ACROSS[c.item] ** 2, "m2"), f"{c.drains} drains"),
         Input("h", Quantity(c.top - (c.floor + w.floor_fore) / 2, "m"))),
        Quantity(takes, "s"), "Torricelli; a boat that rolls takes longer",
    )  # fmt: skip
    text = "Full it holds {room}, {kg} at the stern; {count} drains empty it in {takes}, {soon} at most "
    "are usual."
    if takes <= SOON_S:
        return Finding("SPLASH-DRAINS", "fine", c.id, "It empties soon enough", text, values, "", work)
    more = math.ceil(c.drains * takes / SOON_S)
    values |= {"more": Quantity(more, "count")}
    fixes = (Fix("{more} drains", path=("fittings", c.id, "drains"), value=more),) if more <= 8 else ()
    return Finding("SPLASH-DRAINS", "look", c.id, "It empties slowly", text, values,
                   "More drains, larger ones, or a smaller well.", work, fixes=fixes)  # fmt: skip


def _falls(w: Well) -> Finding:
    c = w.c
    values = {"falls": Quantity(c.falls, "deg"), "least": Quantity(LEAST_FALL_DEG, "deg"),
              "low": Quantity(c.floor, "m")}  # fmt: skip
    text = ("Its floor falls aft by {falls}; {least} still drain when she trims by the bow. The drains' "
            "lower edges lie {low} over the keel line: they have to end over the water in every load case, "
            "or have flaps.")  # fmt: skip
    if c.falls >= LEAST_FALL_DEG:
        return Finding("SPLASH-FALLS", "fine", c.id, "Its floor falls to its drains", text, values)
    fix = Fix("Let it fall by {least}", path=("fittings", c.id, "falls"), value=LEAST_FALL_DEG)
    return Finding("SPLASH-FALLS", "look", c.id, "Water stands in it", text, values, "Let it fall more.",
                   fixes=(fix,))  # fmt: skip


def _high(w: Well, site: Site) -> Finding:
    """Its walls stand in for the transom that is cut down behind it."""
    c, sheer = w.c, site.surface.sheer_at(w.fore, 1.0)[2]
    values = {
        "under": Quantity(max(sheer - c.top, 0.0), "m", True),
        "most": Quantity(UNDER_SHEER_M, "m", True),
    }
    if c.top >= sheer - UNDER_SHEER_M - 1e-9:
        return Finding("SPLASH-HIGH", "fine", c.id, "Its walls are as high as her sides",
                       "What comes over the transom stays in it; its walls end {under} under her sheer.",
                       values)  # fmt: skip
    fix = Fix("As high as her sheer", path=("fittings", c.id, "top"), value=round(sheer, 3))
    return Finding("SPLASH-HIGH", "mend", c.id, "A wave goes over its walls",
                   "They end {under} under her sheer; {most} at most, or the transom's cut-down is open to "
                   "the boat.", values, "Make them as high as her sides.", fixes=(fix,))  # fmt: skip


def _findings(w: Well, site: Site) -> list[Finding]:
    work = Finding("SPLASH-WORK", "look", w.c.id, "Seal it before the motor hangs again",
                   (WELD if w.c.joined == "welded" else WET) + " Seal the drains' holes through the core.",
                   {})  # fmt: skip
    return [_drains(w), _falls(w), _high(w, site), work]


def _solid(w: Well) -> Solid:
    """Its room, which nothing else may take."""
    c, half = w.c, w.c.width / 2
    t = w.sheet.thickness
    corners = [(x, c.y + s * half, z) for s in (-1, 1)
               for x, z in ((w.aft, c.floor - t), (w.fore + t, w.floor_fore - t), (w.fore + t, c.top),
                            (w.aft_top, c.top))]  # fmt: skip
    return Solid(c.id, "structure", plain(c.name), Swept(tuple(corners)))


def _shapes(w: Well) -> tuple[Shape, ...]:
    c, half = w.c, w.c.width / 2
    ring = ((w.aft, c.y - half, c.top), (w.fore, c.y - half, c.top), (w.fore, c.y + half, c.top),
            (w.aft, c.y + half, c.top))  # fmt: skip
    side = tuple((float(x), c.y, float(z)) for x, z in w.side.exterior.coords[:-1])
    across = tuple((w.fore, c.y + s * half, z) for s, z in ((-1, w.floor_fore), (1, w.floor_fore),
                                                            (1, c.top), (-1, c.top)))  # fmt: skip
    return (Shape("form-body", ring), Shape("form-body", side, view="side"),
            Shape("form-body", across, view="across"))  # fmt: skip


def build(c: SplashWell, site: Site) -> Built:
    """Raises CoreError where there is no transom at its heights."""
    w = _stand(c, site)
    a, b = joints_m(w)
    path = tuple((w.aft, c.y + s * c.width / 2, z) for s in (-1, 1) for z in (c.floor, c.top))
    seams = (Seam(c.code, "along the transom", path, a),
             Seam(c.code, "its own corners", path, b)) if c.joined == "welded" else ()  # fmt: skip
    edge: tuple[Point, Point] = ((w.fore, c.y, c.top), (w.aft_top, c.y, c.top))
    region = box(min(w.aft, w.aft_top), c.y - c.width / 2, w.fore + w.sheet.thickness, c.y + c.width / 2)
    return Built(
        c.id, tuple(_panels(w)), (), tuple(_bought(w, site)), _shapes(w),
        (Handle("top", "z", edge, "walls", "top"),),
        (), c.top, region, solids=(_solid(w),), later=partial(_findings, w, site),
        joined="weld" if c.joined == "welded" else "laminate", seams=seams,
    )  # fmt: skip


class SplashWellKind(Kind[SplashWell]):
    key, title = "splash_well", "Splash well"
    choices = SplashWell
    letter = "W"
    entries = (
        Entry("splash_well_new", "Splash well, built", 1, "ahead of a transom that is cut down for the "
                                                          "motor",
              "motor well box transom water"),
    )  # fmt: skip
    about = (
        "A box ahead of the transom: floor falling aft to drains, two sides, a fore wall as high as her "
        "sheer; tabbed or welded in. What it holds, how fast it empties, whether it falls and is high "
        "enough are told; the motor's own room says whether it tilts in it."
    )

    def extent(self, c: SplashWell, where: Where) -> Extent:
        aft = aft_inside_m(where.surface, c.floor, c.y)
        aft = float(where.surface.inside.low[0]) if aft is None else aft
        t = where.catalogue.thickness_m(c.skin)
        return Extent(
            (aft, aft + c.length + t), (c.y - c.width / 2, c.y + c.width / 2), (c.floor - t, c.top)
        )

    def shift(self, c: SplashWell, by: Point) -> list[tuple[Path, float]]:
        """Along the transom and up it."""
        out: list[tuple[Path, float]] = [(("y",), c.y + by[1])] if abs(by[1]) > FINE_M / 2 else []
        if abs(by[2]) > FINE_M / 2:
            # the end that goes first, so that neither passes the other on the way
            ends: list[tuple[Path, float]] = [(("floor",), c.floor + by[2]), (("top",), c.top + by[2])]
            out += ends[::-1] if by[2] > 0 else ends
        return out

    def edge_choice(self, edge: str) -> Path | None:
        return ("top",) if edge == "top" else None

    def sizes(self, c: SplashWell) -> Sizes:
        return Sizes((None, ("width",), None), (None, ("y",), None))

    def mirror(self, value: dict[str, Any]) -> None:
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        value["y"] = round(value["y"] - value["width"] - 0.02, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """In the middle, as high as her sheer, its floor at half her height there."""
        surface = placing.surface
        low, aft = float(surface.inside.low[2]), float(surface.inside.low[0])
        sheer = min(surface.sheer_at(aft + by, 1.0)[2] for by in (0.05, 0.4)) - 0.01
        floor = low + 0.45 * (sheer - low)
        half = float(surface.sheer_at(aft + 0.05, 1.0)[1])
        return {
            "kind": self.key, "id": placing.id("splash-well"), "name": placing.name("Splash well"),
            "mark": placing.mark(self.letter), "width": round(min(0.7, 0.8 * half), 3),
            "floor": round(floor, 3), "top": round(sheer, 3),
            **(WELDED if placing.hull_of == "metal" else {}),
        }  # fmt: skip

    def idle(self, c: SplashWell, catalogue: Catalogue) -> frozenset[str]:
        out = {"tape", "resin"} if c.joined == "welded" else set()
        return frozenset(out if c.drains else {*out, "drain"})

    def facts(self, c: SplashWell) -> str:
        return f"{c.drains} drains"

    def build(self, c: SplashWell, site: Site) -> Built:
        return build(c, site)


KIND = SplashWellKind()
