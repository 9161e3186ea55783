"""Run of a cable or hose from the helm to the motor: its way, the length to order, room for its bends."""

from __future__ import annotations

import math
from collections.abc import Callable
from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from stirrup.core.bodies.item import ItemBase
from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Helm, Shape
from stirrup.core.contract.kind import Entry, Heat, Kind, Path, Placing, Site
from stirrup.core.document import Id, Point, StockRef, ThingRef
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.edges import breadth_at, inside_region, side_path
from stirrup.core.fittings.route import Route, route
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Line, least_pack
from stirrup.core.parts.model import Bought
from stirrup.core.quantities import Length

declare("layout", {"RUN-BENDS": "bends of a cable", "RUN-LENGTH": "length of a cable to order",
                   "RUN-TURNS": "how much a cable is turned"}, acceptable=True)  # fmt: skip

LineId = Annotated[Id, StockRef("line")]
UNDER_TOP_M = 0.15  # of a console: where its helm is, where no wheel says it
UNDER_HEAD_M = 0.10  # of a motor's middle: where its cables go in, unless it says how high it is mounted
OVER_TRANSOM_M = 0.05
CLIP_M = 0.45  # from clip to clip: working value
UNDER_SHEER_M, OVER_BOTTOM_M = 0.10, 0.06  # of a first one
SIDE_SHARE = 0.5  # of the half breadth: a console further out is served along its side
IN_CONSOLE = "in the console"
STATIONS = 9  # along a side
PLENTY_M = 1e-9


class CableRun(FittingBase):
    """Choices for what is led from the helm to the motor."""

    kind: Literal["cable_run"] = "cable_run"
    helm: Annotated[Id, ThingRef("helm", "is led to")] = Field(title="From console")
    motor: Annotated[Id, ThingRef("motor", "is led to")] = Field(title="To motor")
    line: LineId = Field("steer-cable", title="Cable or hose")
    way: Literal["along the side", "under the floor"] = Field("along the side", title="Led")
    side: Literal["port", "starboard"] = Field("starboard", title="Along the side to")
    high: Length = Field(ge=0, le=5, title="Height, above keel line")
    off: Length = Field(0.05, ge=0, le=0.5, title="Off side and transom")
    radius: Length | None = Field(
        None, ge=0.01, le=2, title="Radius of its bends", description="empty: the least that is allowed"
    )
    slack: Length | None = Field(
        None, ge=0, le=3, title="Spare at the motor", description="empty: the catalogue's"
    )
    grommets: int = Field(0, ge=0, le=60, title="Grommets", description="one for each hole it goes through")


def _end(motor: ItemBase, x: float, keel: float) -> Point:
    """Where it leaves the boat for the motor: over the transom, or where the motor's bracket is. keel: its
    height at the transom [m]."""
    _, y, z = motor.mass.centre
    high = keel + motor.mounted + OVER_TRANSOM_M if motor.mounted is not None else z - UNDER_HEAD_M
    return (x, y, high)


def _start(helm: Helm) -> Point:
    return (*helm.at, helm.top_m - UNDER_TOP_M)


def _transom_m(surface: HullSurface, z: float, c: CableRun) -> float:
    """x of the inside of the transom at a height. Raises CoreError where there is none."""
    room = inside_region(surface, z)
    if room.is_empty:
        raise CoreError(f"{z:.3f} m over the keel line there is no inside", f"fittings.{c.id}.high")
    return float(room.bounds[0])


def _along_side(c: CableRun, surface: HullSurface, start: Point, end: Point, aft: float) -> list[Any]:
    """Down or up the console, across to the side, along it, and along the transom to the motor."""
    hand = 1 if c.side == "port" else -1
    room = inside_region(surface, c.high)
    if breadth_at(room, start[0]) is None or aft + 2 * c.off > start[0]:
        where = f"{start[0]:.3f} m from the transom, {c.high:.3f} m up"
        raise CoreError(f"{where} there is no side to lead it along", f"fittings.{c.id}.high")
    path = side_path(room, aft, start[0], hand)
    # at even steps: a cable does not follow what the tape read to the millimetre
    xs = np.linspace(start[0], aft, STATIONS)
    ys = np.interp(xs, path[:, 0], path[:, 1]) - hand * c.off
    there = [(float(x), float(y), c.high) for x, y in zip(xs, ys, strict=True)]
    low = (start[0], start[1], c.high)
    return [(IN_CONSOLE, (start, low)), ("across to the side", (low, there[0])),
            ("along the side", tuple(there)), ("along the transom", (there[-1], end))]  # fmt: skip


def _under_floor(c: CableRun, start: Point, end: Point, aft: float) -> list[Any]:
    """Down the console, aft under the floor, and up the transom to the motor."""
    low = (start[0], start[1], c.high)
    back = (aft, start[1], c.high)
    return [(IN_CONSOLE, (start, low)), ("under the floor", (low, back)),
            ("up the transom", (back, end))]  # fmt: skip


def way_of(c: CableRun, surface: HullSurface, helm: Helm, motor: ItemBase, radius: float) -> Route:
    """Its way from the helm to the transom. Raises CoreError where there is none."""
    start = _start(helm)
    aft = _transom_m(surface, c.high, c) + c.off
    end = _end(motor, aft, float(surface.lines[0][0][0][2]))
    if start[0] <= aft:
        raise CoreError("its console stands abaft the transom", f"fittings.{c.id}.helm")
    side = c.way == "along the side"
    legs = _along_side(c, surface, start, end, aft) if side else _under_floor(c, start, end, aft)
    return route(legs, radius)


def ordered_m(long: float, line: Line) -> float:
    """The next length that is sold [m]."""
    pack = least_pack(line)
    step = pack.quantity if pack else 0.1
    return math.ceil(long / step - PLENTY_M) * step


def _length(c: CableRun, line: Line, r: Route, spare: float) -> Finding:
    """What to order."""
    long, pack = r.long + spare, least_pack(line)
    order = ordered_m(long, line)
    values = {"order": Quantity(order, "m"), "long": Quantity(r.long, "m"), "spare": Quantity(spare, "m")}
    work = Working(
        "to order = along its way + spare at the motor, up to the next length sold",
        (Input("legs", Quantity(sum(leg.long for leg in r.legs), "m")),
         Input("saved at its bends", Quantity(sum(leg.long for leg in r.legs) - r.long, "m"),
               "2 r tan(a/2) - r a for each"),
         Input("spare at the motor", Quantity(spare, "m")),
         Input("sold in steps of", Quantity(pack.quantity if pack else 0.1, "m"), "catalogue")),
        Quantity(order, "m"), "rules of the trade, “Cables”",
    )  # fmt: skip
    several = f"{line.together} of " if line.together > 1 else ""
    return Finding("RUN-LENGTH", "fine", c.id, "Its length is known",
                   f"Order {several}{{order}}: {{long}} along its way and {{spare}} spare where the motor "
                   "turns and tilts. Lay a rope of that length in the boat before you order.",
                   values, working=work)  # fmt: skip


def _fits(c: CableRun, site: Site, helm: Helm, motor: ItemBase, other: Line) -> bool:
    return way_of(c, site.surface, helm, motor, other.bend).tightest[1] >= -PLENTY_M


def _bends(c: CableRun, site: Site, line: Line, r: Route, ends: tuple[Helm, ItemBase]) -> Finding:
    """Whether its legs leave room for the arcs at their ends."""
    number, room = r.tightest
    leg = r.legs[number]
    sizes = {"radius": r.radius, "leg": leg.long, "needs": r.needs(number), "least": line.bend}
    values = {name: Quantity(size, "m", True) for name, size in sizes.items()}
    work = Working(
        "a bend takes r x tan(angle / 2) of the legs on either side",
        (Input("radius", Quantity(r.radius, "m", True)),
         Input(f"leg {leg.name}", Quantity(leg.long, "m", True)),
         Input("its bends take", Quantity(r.needs(number), "m", True))),
        Quantity(room, "m", True), "rules of the trade, “Cables”",
    )  # fmt: skip
    if r.radius < line.bend - PLENTY_M:
        fix = Fix("Bend it by {least}", path=("fittings", c.id, "radius"), value=line.bend)
        return Finding("RUN-BENDS", "mend", c.id, "Bent too sharply",
                       "{radius} is less than the {least} that it allows: it stiffens, and breaks.",
                       values, "Bend it less sharply, or take one that bends more.", work,
                       fixes=(fix,))  # fmt: skip
    if room >= -PLENTY_M:
        return Finding("RUN-BENDS", "fine", c.id, "Its bends have room",
                       f"The leg with least room, {leg.name}, is {{leg}} long; its bends take "
                       "{needs}.", values, working=work)  # fmt: skip
    fixes = tuple(
        Fix(f"Take {plain(o.name)}", path=("fittings", c.id, "line"), value=o.id)
        for o in site.catalogue.of(Line)
        if o.use == line.use and o.id != line.id and not o.retired and c.radius is None
        and _fits(c, site, *ends, o)
    )  # fmt: skip
    return Finding("RUN-BENDS", "mend", c.id, "No room for its bends",
                   f"The leg {leg.name} is {{leg}} long; its bends of {{radius}} take {{needs}}.", values,
                   "Lead it at another height or further off the side, or take one that bends more.", work,
                   fixes=fixes[:1])  # fmt: skip


def _turns(c: CableRun, line: Line, r: Route) -> list[Finding]:
    """Friction by all that it is turned."""
    turned = math.degrees(r.turned)
    values = {"turned": Quantity(turned, "deg"), "most": Quantity(line.most_turned, "deg"),
              "count": Quantity(r.corners, "count")}  # fmt: skip
    if turned <= line.most_turned + 1e-6:
        return [Finding("RUN-TURNS", "fine", c.id, "Not turned too often",
                        "{count} bends, {turned} together; up to {most} it still goes easily.",
                        values)]  # fmt: skip
    return [Finding("RUN-TURNS", "look", c.id, "Turned so often that it goes hard",
                    "{count} bends, {turned} together; {most} are the most that goes easily.", values,
                    "Lead it another way with fewer bends, or steer hydraulically.")]  # fmt: skip


def _bought(c: CableRun, site: Site, line: Line, r: Route, spare: float) -> tuple[Bought, ...]:
    long, clip = ordered_m(r.long + spare, line) * line.together, site.catalogue.plain("clip-cushioned")
    clips = math.ceil(r.long / CLIP_M - PLENTY_M)
    ring = site.catalogue.plain("grommet-40")
    lined = Bought(f"{c.id}/grommets", f"{c.code}-O", f"{c.name}, grommets", c.id, ring, c.grommets,
                   c.grommets * ring.mass, r.middle)  # fmt: skip
    return (
        *([lined] if c.grommets else []),
        Bought(f"{c.id}/line", f"{c.code}-C", f"{c.name}, {line.name}", c.id, line, long, long * line.mass,
               r.middle),
        Bought(f"{c.id}/clips", f"{c.code}-K", f"{c.name}, clips", c.id, clip, clips, clips * clip.mass,
               r.middle),
    )  # fmt: skip


def _shapes(r: Route) -> tuple[Shape, ...]:
    return tuple(Shape("form-cable", r.drawn, view=v, closed=False) for v in ("plan", "side", "across"))


def _ends(c: CableRun, site: Site) -> tuple[Helm, ItemBase]:
    """Its console and its motor. Raises CoreError where one is not there."""
    console, found = site.named(c.helm), site.named(c.motor)
    helm = console[1].helms[0] if console is not None and console[1].helms else None
    motor = None if found is None else found[0]
    if helm is None:
        raise CoreError("its console is not there, or nobody steers at it", f"fittings.{c.id}.helm")
    if not isinstance(motor, ItemBase):
        raise CoreError("its motor is not there", f"fittings.{c.id}.motor")
    return helm, motor


def build(c: CableRun, site: Site) -> Built:
    """A cable, its clips, and what is to be said of them. Raises CoreError where it cannot be led."""
    ends = _ends(c, site)
    line = site.catalogue.line(c.line)
    r = way_of(c, site.surface, *ends, c.radius if c.radius is not None else line.bend)
    spare = c.slack if c.slack is not None else line.slack
    return Built(
        c.id, (), (), _bought(c, site, line, r, spare), _shapes(r), (),
        (_length(c, line, r, spare), _bends(c, site, line, r, ends), *_turns(c, line, r)),
        max(p[2] for p in r.points),
        # what it does inside its console is the console's
        led=tuple(pair for leg in r.legs if leg.name != IN_CONSOLE for pair in pairwise(leg.points)),
    )  # fmt: skip


class CableRunKind(Kind[CableRun]):
    key, title = "cable_run", "Cable or hose, led"
    choices = CableRun
    letter = "R"
    brief = True
    alone = True
    entries = (
        Entry("steering run", "Steering cable or hoses, led", 3, "from the wheel to the motor: the length "
              "to order, and room for its bends", "helm hydraulic run"),
        Entry("control run", "Throttle and shift cables, led", 3, "from the control box to the motor: the "
              "length to order", "engine shifter run"),
    )  # fmt: skip
    about = (
        "Led from a console to the motor, along a side or under the floor. Its length follows from its "
        "legs and the arcs at its corners, with what is spare where the motor turns; each leg has to leave "
        "room for its arcs, and all bends together must not make it stiff. By the makers' instructions of "
        "cable, helm and motor."
    )

    def extent(self, c: CableRun, where: Where) -> Extent:
        """Between its console and its motor, at its height."""
        ends = [e for e in (where.extent(c.helm), where.extent(c.motor)) if e is not None]
        if not ends:
            raise CoreError("neither its console nor its motor is in the plan", f"fittings.{c.id}.helm")
        low, high = (tuple(f(getattr(e, a)[k] for e in ends) for a in "xyz")
                     for k, f in ((0, min), (1, max)))  # fmt: skip
        across = [low[1], high[1]]
        room = inside_region(where.surface, c.high)
        if c.way == "along the side" and not room.is_empty:
            across.append(float(room.bounds[3] if c.side == "port" else room.bounds[1]))
        return Extent((low[0], high[0]), (min(across), max(across)), (c.high, max(c.high, high[2])))

    def shift(self, c: CableRun, by: Point) -> list[tuple[Path, float]]:
        """Up and down; its ends go with what it is led to."""
        return [(("high",), c.high + by[2])] if abs(by[2]) > 0.5e-4 else []

    def mirror(self, value: dict[str, Any]) -> None:
        raise CoreError("a second one is placed by itself; choose its side", f"fittings.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        raise CoreError("a second one is placed by itself, for another cable", f"fittings.{value['id']}")

    def missing(self, entry: str, offered: Callable[[str], bool]) -> str:
        if not offered("helm"):
            return "begins at a console: place one first"
        return "" if offered("motor") else "ends at a motor: place one first"

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """From the console that is chosen, else the first one, to the motor; along its side, or under the
        floor where it stands near the middle."""
        helms, motors = placing.built("helm"), placing.all_of("motor")
        if not helms or not motors:
            raise CoreError("it is led from a console to a motor: place both first", "fittings")
        console, built = next((h for h in helms if h[0].id == placing.host), helms[0])
        motor = next((m for m in motors if m.id == placing.host), motors[0])
        at = built.helms[0].at
        sheer = placing.surface.sheer_at(at[0], 1.0)
        beside = abs(at[1]) > SIDE_SHARE * abs(sheer[1])
        low = float(placing.surface.inside.low[2])
        high = sheer[2] - UNDER_SHEER_M if beside else low + OVER_BOTTOM_M
        steering = entry == "steering run"
        stem, word = ("steering", "Steering") if steering else ("controls", "Throttle and shift")
        return {
            "kind": self.key, "id": placing.id(stem), "name": word, "mark": placing.mark(self.letter),
            "helm": console.id, "motor": motor.id, "line": "steer-cable" if steering else "control-cable",
            "way": "along the side" if beside else "under the floor",
            "side": "port" if at[1] > 0 else "starboard", "high": round(high, 3),
        }  # fmt: skip

    def idle(self, c: CableRun, catalogue: Catalogue) -> frozenset[str]:
        return frozenset(["side"]) if c.way == "under the floor" else frozenset()

    def minds_heat(self, c: CableRun) -> Heat | None:
        return Heat(0.15, "it melts")

    def facts(self, c: CableRun) -> str:
        return f"led {c.way}"

    def build(self, c: CableRun, site: Site) -> Built:
        return build(c, site)


KIND = CableRunKind()
