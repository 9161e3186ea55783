"""Livewell, built: a shell of board round a tank's contents, with overflow, drain, lid and insulation.

The board's inner faces are the tank's. Fore and aft walls reach from side to side, those at the sides
lie between them, all four stand on the bottom. Fuel is never kept in one.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Literal

from pydantic import Field
from shapely import box
from shapely.geometry import Polygon

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.gives import Bolts, Built, Marked, Shape
from stirrup.core.contract.kind import Entry, Placing, Site
from stirrup.core.document import Id, Point, StockRef, ThingRef
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.carried_kind import CarriedKind
from stirrup.core.fittings.crate import HINGE_SHORTER_M, rectangle
from stirrup.core.fittings.joints import Joint, held, leaf_style
from stirrup.core.fittings.plate import given_m, stiffness_nm
from stirrup.core.parts.catalogue import count_at_pitch
from stirrup.core.parts.entries import Sheet
from stirrup.core.parts.model import Bought, Frame, Panel
from stirrup.core.quantities import Length
from stirrup.core.record import dataclass
from stirrup.core.space.room import Room, lid_sweep
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare(
    "layout",
    {"WELL-BULGES": "how far a well's walls bulge", "WELL-TWICE": "a shell that counts twice"},
    acceptable=True,
)

BoardId = Annotated[Id, StockRef("sheet", wanted=(("kind", ("wood", "plastic", "composite")),))]

INTO_M = 0.012  # of a screw's grip in a board's edge: it goes on past it to its point
PITCH_M = 0.10  # between screws along an edge: working value
FOAM = "xps-25"
FILLET_M2 = 7.7e-6  # of sealant along an inner edge: a fillet of 6 mm, (1 - π/4) r²
BED_M = 0.001  # of sealant in a joint: working value
CARTRIDGE_M3, DRY = 0.00029, 0.9
HOSE_M = 1.5  # of overflow hose to the side: working value
G = 9.81
BULGE = 100.0  # of the short span that a wall may bulge: working value
LEAST_TOP_M = 0.01


class WellBox(FittingBase):
    """Choices for a built livewell."""

    kind: Literal["well_box"] = "well_box"
    tank: Annotated[Id, ThingRef("liquid", "is carried by")] = Field(title="Round tank")
    skin: BoardId = Field("pvc-12", title="Board")
    lid: bool = Field(True, title="Lid")
    overflow: Length = Field(0.04, ge=0.02, le=0.3, title="Overflow under the rim")
    drain: bool = Field(True, title="Drain in the bottom")
    pump: bool = Field(True, title="Pump and timer")
    insulated: bool = Field(False, title="Insulated, 25 mm foam outside")


@dataclass(frozen=True)
class Shell:
    """A shell round its tank: middle of the tank's floor, its size, the board and the foam [m]."""

    c: WellBox
    at: Point
    size: tuple[float, float, float]
    sheet: Sheet
    foam: Sheet | None
    density: float

    @property
    def t(self) -> float:
        return self.sheet.thickness

    @property
    def thick(self) -> float:
        """Of board and foam together."""
        return self.t + (self.foam.thickness if self.foam else 0.0)


def _shell(c: WellBox, site: Site) -> Shell:
    tank: Any = site.host_choices
    if tank is None:
        raise CoreError("its tank is not in the plan", f"fittings.{c.id}.tank")
    if tank.is_fuel:
        raise CoreError(
            "fuel is never kept in a built box: take a tank made to its standard", f"fittings.{c.id}.tank"
        )
    if c.overflow > tank.size[2] - LEAST_TOP_M:
        raise CoreError(
            f"read an overflow {c.overflow:.3f} m under the rim; the well is {tank.size[2]:.3f} m high",
            f"fittings.{c.id}.overflow",
        )
    foam = site.catalogue.sheet(FOAM) if c.insulated else None
    return Shell(c, tank.floor_centre, tank.size, site.catalogue.sheet(c.skin), foam, tank.density)


def _panel(s: Shell, key: str, code: str, word: str, size: tuple[float, float], at: Point,
           across: bool | None, sheet: Sheet | None = None) -> Panel:  # fmt: skip
    """A panel about its middle: level, or upright along or across the boat."""
    c, frame = s.c, Frame(at)
    if across is not None:
        frame = Frame(at, (0.0, 1.0, 0.0) if across else (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    return Panel(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, sheet or s.sheet,
                 rectangle(*size), (), frame)  # fmt: skip


def _box(s: Shell, out: float, t: float, sheet: Sheet, key: str, code: str, word: str) -> list[Panel]:
    """Bottom and four walls whose inner faces lie `out` off the tank's contents, t thick."""
    (x, y, z), (a, b, high) = s.at, s.size
    long, wide, up = a + 2 * out, b + 2 * out, high + out
    middle, foot = z - out + up / 2, z - out - t / 2
    half, aside = long / 2 + t / 2, wide / 2 + t / 2
    fore, port = (x + half, y, middle), (x, y + aside, middle)
    aft, starboard = (x - half, y, middle), (x, y - aside, middle)
    full, between = (wide + 2 * t, up), (long, up)
    return [
        _panel(s, f"{key}bottom", f"{code}B", f"{word}bottom", (long + 2 * t, wide + 2 * t), (x, y, foot),
               None, sheet),
        _panel(s, f"{key}aft", f"{code}A", f"{word}aft wall", full, aft, True, sheet),
        _panel(s, f"{key}fore", f"{code}F", f"{word}fore wall", full, fore, True, sheet),
        _panel(s, f"{key}port", f"{code}P", f"{word}port wall", between, port, False, sheet),
        _panel(s, f"{key}starboard", f"{code}S", f"{word}starboard wall", between, starboard, False, sheet),
    ]  # fmt: skip


def _panels(s: Shell) -> list[Panel]:
    (x, y, z), (a, b, high) = s.at, s.size
    out = _box(s, 0.0, s.t, s.sheet, "", "", "")
    if s.c.lid:
        size = (a + 2 * s.t, b + 2 * s.t)
        out.append(_panel(s, "lid", "L", "lid", size, (x, y, z + high + s.t / 2), None))
    if s.foam:
        out += _box(s, s.t, s.foam.thickness, s.foam, "foam-", "I", "insulation, ")
    return out


def _sealed(s: Shell, site: Site) -> Bought:
    """Fillets along the eight inner edges, and a bed in every joint."""
    a, b, high = s.size
    edges, joints = 2 * (a + b) + 4 * high, 2 * (a + b + 2 * s.t) + 4 * high
    entry = site.catalogue.plain("seal-ms")
    count = (edges * FILLET_M2 + joints * BED_M * s.t) / CARTRIDGE_M3
    return _part(s, "sealant", "G", "sealant in its joints", entry, count, DRY, "consumables")


def _part(s: Shell, key: str, code: str, word: str, entry: Any, count: float, stays: float = 1.0,
          group: Literal["hardware", "consumables"] = "hardware") -> Bought:  # fmt: skip
    c, (x, y, z) = s.c, s.at
    at = (x, y, z + s.size[2] / 2)
    return Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, count,
                  count * entry.mass * stays, at, group)  # fmt: skip


def _bought(s: Shell, site: Site) -> tuple[list[Bought], list[Finding]]:
    """Screws, sealant, and what water comes and goes by; hinge and gasket of the lid."""
    c, find, (a, b, high) = s.c, site.catalogue.plain, s.size
    at = (s.at[0], s.at[1], s.at[2] + high / 2)
    run = 2 * (a + b + 2 * s.t)
    screws = 4 * count_at_pitch(high, PITCH_M) + count_at_pitch(run, PITCH_M)
    joints = [Joint("edge", "Walls to one another and to the bottom", at, "screw",
                    (("board", s.t), ("into the edge", INTO_M)), screws)]  # fmt: skip
    out = [_sealed(s, site), _part(s, "overflow", "O", "overflow through the wall", find("thru-38"), 1),
           _part(s, "hose", "OH", "overflow hose", find("hose-38"), HOSE_M)]  # fmt: skip
    if c.drain:
        out.append(_part(s, "drain", "W", "drain", find("drain-25"), 1))
    if c.pump:
        out.append(_part(s, "pump", "Q", "pump and timer", find("pump-live"), 1))
    if c.lid:
        hinge, gasket, wide = find("hinge-piano"), find("gasket-12"), b + 2 * s.t - HINGE_SHORTER_M
        out += [_part(s, "hinge", "H", "hinge", hinge, wide),
                _part(s, "gasket", "Z", "gasket", gasket, 2 * (a + b))]  # fmt: skip
        layers = (("board", s.t), ("hinge", hinge.thickness))
        count = 2 * count_at_pitch(wide, hinge.pitch)
        joints.append(Joint("hinge", "Hinge to lid and wall", at, leaf_style(s.sheet), layers, count))
    rows = [held(c, joint, site.catalogue) for joint in joints]
    return [*out, *(p for parts, _ in rows for p in parts)], [f for _, f in rows]


def _bulges(s: Shell) -> list[Finding]:
    """How far the largest wall bulges when it is full to the rim: half of the pressure at its foot all over
    it, on four edges."""
    stiff, (a, b, high) = stiffness_nm(s.sheet), s.size
    if stiff is None:
        return []
    short, long = sorted((max(a, b), high))
    force = s.density * G * high / 2 * short * long
    gives = given_m(short, long, stiff, force, (short, long))
    most = short / BULGE
    work = Working(
        "w = Navier's series, half of the pressure at the foot all over the wall",
        (Input("high", Quantity(high, "m")), Input("long", Quantity(max(a, b), "m")),
         Input("board", Quantity(s.t, "m", True), "stock")),
        Quantity(gives, "m", True), "rules of the trade, “Wells”",
    )  # fmt: skip
    values = {"gives": Quantity(gives, "m", True), "most": Quantity(most, "m", True)}
    text = "Full to the rim its largest wall bulges {gives}; {most} is the most. A screening."
    if gives <= most:
        return [Finding("WELL-BULGES", "fine", s.c.id, "Its walls stand the water", text, values,
                        working=work)]  # fmt: skip
    return [Finding("WELL-BULGES", "mend", s.c.id, "Its walls bulge", text, values,
                    "Thicker or stiffer board, or a batten round it half way up.", work)]  # fmt: skip


def _twice(s: Shell, tank: Any) -> list[Finding]:
    """The contents' own empty mass is that of a bought tank: here the shell weighs."""
    if tank.empty_mass <= 0:
        return []
    return [
        Finding("WELL-TWICE", "mend", s.c.id, "Its shell counts twice",
                "The tank is given {kg} empty, and the built shell weighs besides.",
                {"kg": Quantity(tank.empty_mass, "kg")}, "Let the tank weigh nothing empty.",
                fixes=(Fix("Tank weighs nothing empty", path=("tanks", tank.id, "empty_mass"), value=0.0),))
    ]  # fmt: skip


def _solid(s: Shell) -> Solid:
    """Its walls and bottom, with the water inside left free."""
    (x, y, z), (a, b, high), t = s.at, s.size, s.thick
    inner, outer = box(x - a / 2, y - b / 2, x + a / 2, y + b / 2), _region(s)
    lids = (Prism(outer, z + high, z + high + s.t),) if s.c.lid else ()
    walls = (
        box(x - a / 2 - t, y - b / 2 - t, x - a / 2, y + b / 2 + t),
        box(x + a / 2, y - b / 2 - t, x + a / 2 + t, y + b / 2 + t),
        box(x - a / 2, y + b / 2, x + a / 2, y + b / 2 + t),
        box(x - a / 2, y - b / 2 - t, x + a / 2, y - b / 2),
    )
    pieces = (Prism(inner, z - t, z), *(Prism(w, z - t, z + high) for w in walls), *lids)
    return Solid(
        s.c.id, "body", plain(s.c.name), Prism(outer, z - t, z + high + s.t * s.c.lid), pieces=pieces
    )


def _region(s: Shell) -> Polygon:
    (x, y, _), (a, b, _), t = s.at, s.size, s.thick
    return box(x - a / 2 - t, y - b / 2 - t, x + a / 2 + t, y + b / 2 + t)


def _shapes(s: Shell) -> tuple[Shape, ...]:
    (x, y, z), (_, _, high) = s.at, s.size
    x0, y0, x1, y1 = _region(s).bounds
    low, top = z - s.thick, z + high + s.t * s.c.lid
    mark = z + high - s.c.overflow
    out = [
        Shape("form-line", ((x0, y0, top), (x1, y0, top), (x1, y1, top), (x0, y1, top))),
        Shape("form-line", ((x0, y, low), (x1, y, low), (x1, y, top), (x0, y, top)), view="side"),
        Shape("form-line", ((x, y0, low), (x, y1, low), (x, y1, top), (x, y0, top)), view="across"),
        Shape("form-line", ((x0, y, mark), (x1, y, mark)), view="side", closed=False),
    ]
    if s.c.lid:
        out.append(Shape("form-hinge", ((x1, y0, top), (x1, y1, top)), closed=False))
    return tuple(out)


def build(c: WellBox, site: Site) -> Built:
    """Board, screws, sealant, overflow, drain, pump, lid and foam of a livewell. Raises CoreError round
    fuel, and for an overflow that is under its floor."""
    s = _shell(c, site)
    bought, findings = _bought(s, site)
    region, top = _region(s), s.at[2] + s.size[2] + s.t * c.lid
    x0, y0, x1, y1 = region.bounds
    corners = ((x0, y0), (x1, y0), (x1, y1), (x0, y1))
    foot = s.at[2] - s.thick
    body = Prism(region, foot, top)
    lid = Room(c.id, "lid swings", lid_sweep(region, "fore", top), name=plain(c.name), body=body)
    return Built(
        c.id, tuple(_panels(s)), (), tuple(bought), _shapes(s),
        findings=(*findings, *_bulges(s), *_twice(s, site.host_choices)),
        top_m=top, region=region, solids=(_solid(s),), rooms=(lid,) if c.lid else (),
        bolts=Bolts(corners, foot, (s.at[0], s.at[1])), marked=(Marked(foot, corners=corners),),
    )  # fmt: skip


class WellBoxKind(CarriedKind[WellBox]):
    key, title = "well_box", "Livewell, built"
    choices = WellBox
    letter = "W"
    round_it, what = "tank", "tank"
    entries = (
        Entry("well_box", "Livewell shell, built", 3, "board round a livewell's contents, with overflow",
              "bait well box insulated drain"),
    )  # fmt: skip
    about = (
        "A shell of board round a tank's contents, screwed and sealed, with overflow, drain, pump, lid and "
        "foam. How far its walls bulge is looked at; fuel is never kept in one."
    )

    def around(self, c: WellBox, where: Where) -> tuple[float, float, float, float]:
        """By board and foam, and by a lid."""
        entries = where.catalogue.entries
        board, foam = (entries.get(i) for i in (c.skin, FOAM))
        t = board.thickness if isinstance(board, Sheet) else 0.012
        more = (foam.thickness if isinstance(foam, Sheet) else 0.025) if c.insulated else 0.0
        return (t + more, t + more, t + more, t * c.lid)

    def missing(self, entry: str, offered: Callable[[str], bool]) -> str:
        return "" if offered("liquid") else "goes round a livewell's contents: place a livewell first"

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Round the well that is chosen, else the first one that holds no fuel."""
        wells = [t for t in placing.all_of("liquid") if not t.is_fuel]
        if not wells:
            raise CoreError("it goes round a livewell's contents: place a livewell first", "fittings")
        chosen = next((t for t in wells if t.id == placing.host), wells[0])
        id_ = placing.id("well")
        return {"kind": self.key, "id": id_, "name": f"Shell of {chosen.title}"[:80],
                "mark": placing.mark(self.letter), "tank": chosen.id}  # fmt: skip

    def facts(self, c: WellBox) -> str:
        return "livewell"

    def build(self, c: WellBox, site: Site) -> Built:
        return build(c, site)


KIND = WellBoxKind()
