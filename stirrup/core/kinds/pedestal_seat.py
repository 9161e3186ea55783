"""A seat on a pedestal, complete: the seat, its pedestal, bolts, and what spreads their pull under the
floor."""

from __future__ import annotations

import math
from collections.abc import Hashable
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import Field
from shapely.geometry import Point as FlatPoint
from shapely.geometry import Polygon

from stirrup.core.bodies.item import ItemBase, item_prism
from stirrup.core.bodies.pictures import pictured
from stirrup.core.bodies.sitting import SEAT, behind_wheel, turning
from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Bolts, Built, Foot, Marked, Seat
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site, off_centre
from stirrup.core.document import Id, MassPoint, Point, Point2, Size, StockRef, ThingRef
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.crate_kind import BESIDE_M, floor_under, foot_m
from stirrup.core.fittings.joints import no_fastener
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Fastener, Pedestal, Whole
from stirrup.core.parts.model import Bought, Frame, Panel
from stirrup.core.quantities import Angle, Length
from stirrup.core.space.room import Room
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare("layout", {"SEAT-HOLDS": "what holds a seat's pedestal", "SEAT-ITSELF": "what a seat brings along"},
        acceptable=True)  # fmt: skip

SeatId = Annotated[Id, StockRef("bought", wanted=(("form", ("seat",)),))]
PedestalId = Annotated[Id, StockRef("pedestal")]
PlateId = Annotated[Id, StockRef("sheet", wanted=(("kind", ("metal",)),))]
Under = Literal["backing plate", "large washers", "screws"]

CUSHION_M = 0.10  # of a seat, over its underside: working value
SLIDE, SLIDE_M = "slide-seat", 0.03
BOLT_M = 0.006
FLANGE_M = 0.006  # of a pedestal's base: working value
NUT_M = 0.008  # washer, nut and two threads beyond it
PLATE_OVER_M = 0.03  # of a backing plate beyond the base
# thrown against its back: half the weight of somebody heavy, at his shoulder blades. Working values
THROWN_N = 0.5 * 110 * 9.81
OVER_CUSHION_M = 0.25
HOLDS_N: dict[Under, float] = {"backing plate": 4000.0, "large washers": 1500.0, "screws": 600.0}
OWN_PEDESTAL_M = 0.70  # a seat taller than this brings its own
FIRST_M = 0.50  # of a first one, along and across
SEAT_M, BASE_M, POST_M = (0.46, 0.43, 0.50), 0.23, 0.33  # of one whose entries are not carried by the plan


class PedestalSeat(FittingBase):
    """Choices for a seat on a pedestal."""

    kind: Literal["pedestal_seat"] = "pedestal_seat"
    on: Annotated[Id | None, ThingRef("floor", "stands on")] = Field(
        None, title="Stands on", description="empty: the bottom of the boat"
    )
    x: Length = Field(ge=-2, le=40, title="Middle, from transom")
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    turn: Angle = Field(0.0, ge=-180, le=180, title="Turned, degrees", description="0: faces the bow")
    seat: SeatId = Field("seat-fold", title="Seat")
    pedestal: PedestalId = Field("pedestal-330", title="Pedestal")
    set_to: Length | None = Field(
        None, ge=0.02, le=1, title="Set to", description="of one that goes up and down; empty: half way"
    )
    slide: bool = Field(False, title="Slides fore and aft")
    under: Under = Field("backing plate", title="Under the floor")
    plate: PlateId = Field("al-4.8", title="Backing plate of")
    steers: bool = Field(False, title="Steered from here")


@dataclass(frozen=True)
class Standing:
    """A seat where it stands: its foot [m], entries of the catalogue, height of its underside over the
    foot [m], its size with the pedestal, and how thick the floor is; 0 where nothing is bolted through."""

    c: PedestalSeat
    foot: float
    seat: Whole
    pedestal: Pedestal
    up: float
    size: Size
    floor: float

    @property
    def cushion(self) -> float:
        """Of its cushion over the foot [m]."""
        return self.up + CUSHION_M

    @property
    def item(self) -> ItemBase:
        """Seat and pedestal as one body."""
        c, half = self.c, self.size[2] / 2
        mass = MassPoint(value=1.0, centre=(c.x, c.y, self.foot + half))
        return ItemBase(id=c.id, name=c.name, mass=mass, form="seat", size=self.size, turn=c.turn)


def _entries(c: PedestalSeat, catalogue: Catalogue) -> tuple[Whole, Pedestal]:
    """Raises CoreError for what is no seat or no pedestal."""
    seat, pedestal = catalogue.find(c.seat), catalogue.find(c.pedestal)
    if not isinstance(seat, Whole) or seat.size is None:
        raise CoreError(f"read {c.seat}; accepted: a seat whose size is in the catalogue",
                        f"fittings.{c.id}.seat")  # fmt: skip
    if not isinstance(pedestal, Pedestal):
        raise CoreError(f"read {c.pedestal}; accepted: a pedestal", f"fittings.{c.id}.pedestal")
    return seat, pedestal


def _up_m(c: PedestalSeat, pedestal: Pedestal) -> float:
    """From the floor to the seat's underside [m]. Raises CoreError beyond what the pedestal reaches."""
    at = (pedestal.low + pedestal.high) / 2 if c.set_to is None else c.set_to
    if not pedestal.low - 1e-9 <= at <= pedestal.high + 1e-9 and pedestal.high > pedestal.low:
        raise CoreError(
            f"read {at:.3f} m; accepted: {pedestal.low:.3f} to {pedestal.high:.3f} m of {pedestal.name}",
            f"fittings.{c.id}.set_to",
        )
    return (at if pedestal.high > pedestal.low else pedestal.low) + SLIDE_M * c.slide


def _corners(c: PedestalSeat, across: float) -> tuple[Point2, ...]:
    """Of the square round its base in plan."""
    a, b = math.cos(math.radians(c.turn)) * across / 2, math.sin(math.radians(c.turn)) * across / 2
    return tuple(
        (c.x + u * a - v * b, c.y + u * b + v * a) for u, v in ((-1, -1), (1, -1), (1, 1), (-1, 1))
    )


def _lay_out(c: PedestalSeat, site: Site) -> Standing:
    seat, pedestal = _entries(c, site.catalogue)
    host = site.host
    there = host.floors[0] if host is not None and host.floors else None
    ring = _corners(c, pedestal.base)
    foot = foot_m(c, ring, site.surface, None if there is None else there.highest(ring))
    up = _up_m(c, pedestal)
    assert seat.size is not None
    thick = there.top_m - there.under_m if there is not None else 0.0
    size = (seat.size[0], seat.size[1], up + seat.size[2])
    return Standing(c, foot, seat, pedestal, up, size, thick)


def _part(s: Standing, key: str, code: str, word: str, entry: Any, count: float, z: float,
          group: Literal["hardware", "fasteners"] = "hardware") -> Bought:  # fmt: skip
    c = s.c
    return Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, count,
                  count * entry.mass, (c.x, c.y, s.foot + z), group)  # fmt: skip


def _plate(s: Standing, site: Site) -> list[Panel]:
    """A square of sheet under the floor, larger than the base, with the holes of its bolts."""
    c = s.c
    if c.under != "backing plate" or not s.floor:
        return []
    sheet = site.catalogue.sheet(c.plate)
    half, r, n = s.pedestal.base / 2 + PLATE_OVER_M, s.pedestal.circle / 2, s.pedestal.bolts
    spots = [(r * math.cos(2 * math.pi * k / n), r * math.sin(2 * math.pi * k / n)) for k in range(n)]
    holes = tuple(tuple(FlatPoint(u, v).buffer(BOLT_M / 2 + 0.0003, quad_segs=4).exterior.coords[:-1])
                  for u, v in spots)  # fmt: skip
    a = math.radians(c.turn)
    frame = Frame((c.x, c.y, s.foot - s.floor - sheet.thickness / 2), (math.cos(a), math.sin(a), 0.0),
                  (-math.sin(a), math.cos(a), 0.0))  # fmt: skip
    ring = ((-half, -half), (half, -half), (half, half), (-half, half))
    return [Panel(f"{c.id}/plate", f"{c.code}-P", f"{c.name}, backing plate", c.id, sheet, ring, holes,
                  frame, (0, 90, 180, 270))]  # fmt: skip


def _bolt(catalogue: Catalogue, grip: float) -> Fastener | None:
    """The shortest of its bolts that holds so much [m]."""
    bolts = (f for f in catalogue.of(Fastener) if f.style == "bolt" and abs(f.diameter - BOLT_M) < 1e-9)
    return min(
        (f for f in bolts if f.grip_min <= grip <= f.grip_max), key=lambda f: f.grip_max, default=None
    )


def _fasteners(s: Standing, plates: list[Panel], site: Site) -> tuple[list[Bought], list[Finding]]:
    """Bolts with nuts and washers through floor and plate, or screws into it."""
    c, find, n = s.c, site.catalogue.find, s.pedestal.bolts
    if c.under == "screws":
        screw = find("screw-4.2x16")
        return [_part(s, "screws", "R", "screws", screw, n, 0.0, "fasteners")], []
    grip = FLANGE_M + s.floor + sum(p.sheet.thickness for p in plates)
    bolt = _bolt(site.catalogue, grip)
    if bolt is None:
        return [], [no_fastener(c.id, "Pedestal to floor", grip)]
    nut, washer = find("nut-m6"), find("washer-m6")
    rows = (("bolts", "R", bolt, n), ("nuts", "RN", nut, n), ("washers", "RW", washer, 2 * n))
    return [
        _part(s, key, code, key, entry, count, 0.0, "fasteners") for key, code, entry, count in rows
    ], []


def _holds(s: Standing) -> Finding:
    """Whether its bolts hold somebody thrown against its back. A screening: working values."""
    c, n, circle = s.c, s.pedestal.bolts, s.pedestal.circle
    arm = s.cushion + OVER_CUSHION_M
    moment, each = THROWN_N * arm, HOLDS_N[c.under]
    pull = 4 * moment / (n * circle)
    values = {"pull": Quantity(pull, "N"), "each": Quantity(each, "N"), "count": Quantity(n, "count")}
    work = Working(
        "pull = 4 x force x height / (bolts x circle): a ring of bolts that tilts about its middle",
        (Input("force", Quantity(THROWN_N, "N"), "half the weight of 110 kg: working value"),
         Input("at", Quantity(arm, "m"), "cushion and shoulder blades, over the floor"),
         Input("circle of bolts", Quantity(circle, "m"), "catalogue"),
         Input("bolts", Quantity(n, "count"), "catalogue"),
         Input("each holds", Quantity(each, "N"), f"{c.under}: working value")),
        Quantity(pull, "N"), "rules of the trade, “Seats”",
    )  # fmt: skip
    text = "Thrown against its back, somebody heavy pulls each of {count} with {pull}; with " + c.under + (
        " each holds {each}. A screening.")  # fmt: skip
    if pull <= each:
        return Finding("SEAT-HOLDS", "fine", c.id, "Its bolts hold", text, values, working=work)
    better: Under = "backing plate" if HOLDS_N["large washers"] < pull else "large washers"
    fix = Fix(f"Put {'a ' if better == 'backing plate' else ''}{better} under the floor",
              path=("fittings", c.id, "under"), value=better)  # fmt: skip
    return Finding("SEAT-HOLDS", "mend", c.id, "It tears out of the floor", text, values,
                   "Spread the pull under the floor, or take a lower or broader pedestal.", work,
                   fixes=(fix,) if c.under != better else ())  # fmt: skip


def _findings(s: Standing) -> list[Finding]:
    c = s.c
    out = [_holds(s) if s.floor else _nothing_under(c)]
    assert s.seat.size is not None
    if s.seat.size[2] > OWN_PEDESTAL_M:
        out.append(Finding("SEAT-ITSELF", "look", c.id, "This seat brings its own pedestal",
                           "{name} is {high} high: its maker counts its pedestal in.",
                           {"name": Quantity(0, plain(s.seat.name)), "high": Quantity(s.seat.size[2], "m")},
                           "Take another seat, or place it whole as an item."))  # fmt: skip
    return out


def _nothing_under(c: PedestalSeat) -> Finding:
    return Finding("SEAT-HOLDS", "mend", c.id, "Nothing to bolt it to",
                   "It stands on the bottom of the boat, and nothing is drilled through that.", {},
                   "Stand it on a floor, a deck or a box.")  # fmt: skip


def build(c: PedestalSeat, site: Site) -> Built:
    """Seat, pedestal, slide, bolts and backing plate. Raises CoreError outside of the boat."""
    s = _lay_out(c, site)
    plates = _plate(s, site)
    bought = [_part(s, "seat", "T", "seat", s.seat, 1, s.up + 0.2),
              _part(s, "pedestal", "C", "pedestal", s.pedestal, 1, s.up / 2)]  # fmt: skip
    if c.slide:
        bought.append(_part(s, "slide", "L", "slide", site.catalogue.plain(SLIDE), 1, s.up))
    held, told = _fasteners(s, plates, site) if s.floor else ([], [])
    item = s.item
    body = item_prism(item)
    assert body is not None
    base, name = _corners(c, s.pedestal.base), plain(c.name)
    post = Prism(FlatPoint(c.x, c.y).buffer(s.pedestal.base / 4, quad_segs=3), s.foot, s.foot + s.up)
    chair = Prism(body.footprint, s.foot + s.up, body.high)
    hosts = (c.on,) if c.on else ()
    rooms = tuple(Room(c.id, what, shape, name=name, body=body, hosts=hosts)
                  for what, shape in turning(item, s.size, s.cushion / s.size[2]))  # fmt: skip
    return Built(
        c.id, tuple(plates), (), (*bought, *held), pictured(item, SEAT), (), (*_findings(s), *told),
        body.high, body.footprint,
        solids=(Solid(c.id, "body", name, body, pieces=(post, chair), lent=True),), rooms=rooms,
        seats=_seats(c, body.footprint, s.foot, s.cushion),
        foot=None if c.on else Foot(Prism(Polygon(base), s.foot, body.high), base),
        bolts=Bolts(base, s.foot, (c.x, c.y)) if s.floor else None,
        marked=(Marked(s.foot, corners=base, turn=c.turn),),
    )  # fmt: skip


def _seats(c: PedestalSeat, region: Polygon, foot: float, rise: float | None) -> tuple[Seat, ...]:
    return (Seat((c.x, c.y, foot + (rise or 0.0)), region, c.steers, rise),)


class PedestalSeatKind(Kind[PedestalSeat]):
    key, title = "pedestal_seat", "Seat on a pedestal, complete"
    choices = PedestalSeat
    letter = "S"
    entries = (
        Entry("pedestal_seat", "Seat on a pedestal, complete", 2, "seat, pedestal, bolts and plate; how "
              "high one sits follows from them", "chair post swivel base socket", "seat"),
    )  # fmt: skip
    about = (
        "A seat and a pedestal of the catalogue, fixed, going up and down, or with a post that lifts out "
        "of a socket; bolted through the floor over a plate or large washers. Its bolts are held against "
        "somebody thrown against its back; it needs the circle about its corners."
    )

    def extent(self, c: PedestalSeat, where: Where) -> Extent:
        """By its entries of the catalogue; as a first one is where the plan does not carry them."""
        seat, entry = where.catalogue.entries.get(c.seat), where.catalogue.entries.get(c.pedestal)
        pedestal = entry if isinstance(entry, Pedestal) else None
        base = _corners(c, pedestal.base if pedestal else BASE_M)
        host = where.extent(c.on) if c.on else None
        top = None if host is None else max(host.top_at(x) for x, _ in base)
        foot = foot_m(c, base, where.surface, top)
        size = seat.size if isinstance(seat, Whole) and seat.size else SEAT_M
        try:
            up = _up_m(c, pedestal) if pedestal else POST_M
        except CoreError:
            up = POST_M
        half = (size[0] / 2, size[1] / 2)
        a, b = math.cos(math.radians(c.turn)), math.sin(math.radians(c.turn))
        along, across = abs(a) * half[0] + abs(b) * half[1], abs(b) * half[0] + abs(a) * half[1]
        return Extent((c.x - along, c.x + along), (c.y - across, c.y + across), (foot, foot + up + size[2]))

    def shift(self, c: PedestalSeat, by: Point) -> list[tuple[Path, float]]:
        places = ((0, "x", c.x), (1, "y", c.y))
        return [((f,), v + by[k]) for k, f, v in places if abs(by[k]) > FINE_M / 2]

    def mirror(self, value: dict[str, Any]) -> None:
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")
        value["turn"] = -value["turn"] if abs(value["turn"]) < 180 else value["turn"]

    def put_beside(self, value: dict[str, Any]) -> None:
        value["x"] = round(value["x"] + FIRST_M + BESIDE_M, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Behind the wheel, else on a floor amidships."""
        size = (FIRST_M, FIRST_M, 0.83)
        if placing.at is None:
            placing.at = behind_wheel(placing, size)
        x, y, z = placing.spot(size, 0.36, -0.35, False)
        id_ = placing.id("seat")
        return {
            "kind": self.key, "id": id_, "name": f"Seat {id_.rsplit('-', 1)[1]}",
            "mark": placing.mark(self.letter), "on": floor_under(placing, (x, y, z)),
            "x": round(x, 3), "y": round(y, 3),
        }  # fmt: skip

    def seats(self, c: PedestalSeat) -> tuple[Seat, ...]:
        half = FIRST_M / 2
        box = Polygon([(c.x - half, c.y - half), (c.x + half, c.y - half), (c.x + half, c.y + half),
                       (c.x - half, c.y + half)])  # fmt: skip
        return _seats(c, box, 0.0, c.set_to)

    def reads(self, c: PedestalSeat, host: Built) -> Hashable | None:
        """How high its floor lies under its base, and how thick it is."""
        if not host.floors:
            return ("no floor",)
        floor = host.floors[0]
        return ("floor", floor.rise, floor.top_m, floor.under_m, floor.region.bounds)

    def idle(self, c: PedestalSeat, catalogue: Catalogue) -> frozenset[str]:
        """How high one is set that does not go up; of what a plate is that is not there."""
        entry = catalogue.entries.get(c.pedestal)
        fixed = isinstance(entry, Pedestal) and entry.high == entry.low
        idle = {"set_to": fixed, "plate": c.under != "backing plate"}
        return frozenset(name for name, so in idle.items() if so)

    def facts(self, c: PedestalSeat) -> str:
        return "seats one"

    def build(self, c: PedestalSeat, site: Site) -> Built:
        return build(c, site)


KIND = PedestalSeatKind()
