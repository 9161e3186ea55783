"""Cradle of a tank: what keeps it where it stands, lets it grow, and leads fill and vent to the side."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Annotated, Any, Literal

from pydantic import Field
from shapely.geometry import Polygon

from stirrup.core.bodies.tank import Tank, empty_tank_kg
from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.gives import Bolts, Built, Marked, Shape
from stirrup.core.contract.kind import Entry, Placing, Site
from stirrup.core.document import Id, Point, ThingRef
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.carried_kind import CarriedKind
from stirrup.core.fittings.holding import SCREW_N, Fastened, Foot, fence, holds, part, ring, shapes
from stirrup.core.fittings.stock import AngleId
from stirrup.core.parts.catalogue import count_at_pitch
from stirrup.core.parts.entries import Section
from stirrup.core.parts.model import Bought
from stirrup.core.quantities import Length
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare("layout", {"FILL-FALLS": "fall of a tank's fill hose", "TANK-GROWS": "room for a tank to grow"},
        acceptable=True)  # fmt: skip

PLAY_M = 0.003  # round a tank of metal, for the strip between: working value
GROWS = 0.02  # of its length and width, that one of polyethylene takes up with its first fill
STRAP_EACH_M = 0.5  # of a tank's length to a strap: working value
SPARE = 1.1  # of a hose, over the straight way
END_M = 0.15  # of a hose, at either end
LEAST_FALL_DEG = 5.0  # of a fill hose, that fuel does not stand in it: working value
FILL, VENT = "hose-fill-38", "hose-vent-16"


class TankCradle(FittingBase):
    """Choices for what holds a tank."""

    kind: Literal["tank_cradle"] = "tank_cradle"
    tank: Annotated[Id, ThingRef("liquid", "is carried by")] = Field(title="For tank")
    of: Literal["polyethylene", "metal"] = Field("polyethylene", title="The tank is of")
    angle: AngleId = Field("angle-40x40x3", title="Angle round it")
    pitch: Length = Field(0.12, ge=0.02, le=0.4, title="Screws every")
    fill: Literal["on itself", "port", "starboard"] = Field("on itself", title="Filled and vented")


@dataclass(frozen=True)
class Cradle:
    """A cradle round its tank, full."""

    c: TankCradle
    site: Site
    tank: Tank
    foot: Foot

    @property
    def play(self) -> float:
        """Between the tank and its angles [m], as it is empty: half of what it grows at either side."""
        return play_m(self.c, self.tank.size)

    @property
    def straps(self) -> list[float]:
        """Where the straps go over it, along it from its middle [m]."""
        long = self.tank.size[0]
        count = max(1, math.ceil(long / STRAP_EACH_M - 1e-9))
        return [long * ((n + 0.5) / count - 0.5) for n in range(count)]


def play_m(c: TankCradle, size: tuple[float, float, float]) -> float:
    """Room between tank and angles [m]. Source: docs/trade-rules.md, “Tanks”."""
    return max(PLAY_M, GROWS / 2 * max(size[:2])) if c.of == "polyethylene" else PLAY_M


def full_kg(tank: Tank) -> float:
    """What a tank weighs when it is full to the top; an empty one that is weighed as a thing of its own
    as one of polyethylene [kg]."""
    a, b, h = tank.size
    return a * b * h * tank.density + (tank.empty_mass or empty_tank_kg(tank.size))


def _cradle(c: TankCradle, site: Site) -> Cradle:
    tank = site.host_choices
    if not isinstance(tank, Tank):
        raise CoreError("its tank is not in the plan", f"fittings.{c.id}.tank")
    return Cradle(c, site, tank, Foot(tank.floor_centre, tank.size, 0.0, full_kg(tank)))


@dataclass(frozen=True)
class Run:
    """The way of the fill hose: from the tank's top to the sheer [m]."""

    start: Point
    end: Point

    @property
    def level(self) -> float:
        return math.dist(self.start[:2], self.end[:2])

    @property
    def fall_deg(self) -> float:
        """How steeply it falls to the tank, drawn straight."""
        return math.degrees(math.atan2(self.end[2] - self.start[2], self.level))

    @property
    def hose(self) -> float:
        """What is bought of it [m]: along the boat, across and up, and what its ends take."""
        along, across, up = (abs(b - a) for a, b in zip(self.start, self.end, strict=True))
        return SPARE * (along + across + up) + 2 * END_M


def run_of(k: Cradle) -> Run | None:
    """From the tank's top to the sheer beside it, on the side that it is filled from."""
    if k.c.fill == "on itself":
        return None
    (x, y, z), high = k.tank.floor_centre, k.tank.size[2]
    end = k.site.surface.sheer_at(x, 1.0 if k.c.fill == "port" else -1.0)
    return Run((x, y, z + high), end)


def _bought(k: Cradle, screws: int) -> list[Bought]:
    c, find, at = k.c, k.site.catalogue.plain, k.foot.at
    fuel = k.tank.is_fuel
    top = (at[0], at[1], at[2] + k.tank.size[2])
    around = 2 * (k.tank.size[0] + k.tank.size[1])
    out = [
        part(c, "straps", "Y", "straps over it", find("strap-tank"), len(k.straps), top),
        part(c, "strip", "Z", "strip under it and at its angles", find("strip-tank"),
             around + len(k.straps) * k.tank.size[1], at),
        part(c, "screws", "R", "screws", k.site.catalogue.find("screw-4.2x16"), screws, at, "fasteners"),
    ]  # fmt: skip
    run = run_of(k)
    if run is not None:
        half = ((run.start[0] + run.end[0]) / 2, (run.start[1] + run.end[1]) / 2,
                (run.start[2] + run.end[2]) / 2)  # fmt: skip
        fill, vent = (FILL, VENT) if fuel else ("hose-38", "hose-19")
        plate = "fill-fuel" if fuel else "fill-water"
        out += [
            part(c, "fill", "F", "deck fill with vent", find(plate), 1, run.end),
            part(c, "fill-hose", "FH", "fill hose", find(fill), run.hose, half),
            part(c, "vent-hose", "VH", "vent hose", find(vent), run.hose, half),
            # two at each end of the fill hose, one at each of the other
            part(c, "clamps", "FC", "clamps of both hoses", find("clamp-ss"), 6, half),
        ]
    return out


def _falls(k: Cradle) -> list[Finding]:
    """Whether the fill hose falls all the way."""
    run = run_of(k)
    if run is None:
        return []
    values = {"fall": Quantity(run.fall_deg, "deg"), "least": Quantity(LEAST_FALL_DEG, "deg"),
              "long": Quantity(run.hose, "m")}  # fmt: skip
    work = Working(
        "fall = atan(height of the sheer over the tank's top / level way)",
        (Input("sheer over its top", Quantity(run.end[2] - run.start[2], "m")),
         Input("level way", Quantity(run.level, "m"))),
        Quantity(run.fall_deg, "deg"), "rules of the trade, “Tanks”",
    )  # fmt: skip
    if run.fall_deg >= LEAST_FALL_DEG:
        return [Finding("FILL-FALLS", "fine", k.c.id, "Its fill hose falls to it",
                        "Straight it falls by {fall}; {least} are enough. Lead it without a sag, {long} of "
                        "it with its ends.", values, working=work)]  # fmt: skip
    return [Finding("FILL-FALLS", "mend", k.c.id, "What is filled in stands in its hose",
                    "Straight its fill hose falls by {fall}; {least} are needed, or it spits back.", values,
                    "Set the tank lower or nearer to that side, or fill it from the other one.",
                    work)]  # fmt: skip


def _grows(k: Cradle) -> list[Finding]:
    """What room a tank of polyethylene is left, and how it is held without being pinched."""
    if k.c.of == "metal":
        return [Finding("TANK-GROWS", "look", k.c.id, "Metal must not stand in the wet",
                        "A bare tank on wet carpet or foam corrodes from under: strip that takes up no "
                        "water, bonded to it all round, and air under it.", {},
                        "Bond the strip so that no water gets between.")]  # fmt: skip
    grows = GROWS * max(k.tank.size[:2])
    values = {"grows": Quantity(grows, "m", True), "play": Quantity(k.play, "m", True)}
    return [Finding("TANK-GROWS", "fine", k.c.id, "It has room to grow",
                    "With its first fill it grows by up to {grows}: its angles stand {play} off all round, "
                    "and its straps are drawn hand-tight, full.", values)]  # fmt: skip


def _hose_shapes(k: Cradle) -> tuple[Shape, ...]:
    run = run_of(k)
    if run is None:
        return ()
    corner = (run.start[0], run.end[1], run.start[2])
    way = (run.start, corner, run.end)
    return tuple(Shape("form-line", way, view=v, closed=False) for v in ("plan", "across"))


def build(c: TankCradle, site: Site) -> Built:
    """Angles and straps round a tank, strip under it, fill and vent. Raises CoreError without a tank."""
    k = _cradle(c, site)
    source = site.catalogue.section(c.angle)
    members, bodies = fence(c, k.foot, source, k.play)
    counts = [count_at_pitch(m.length, c.pitch) for m in members]
    by = Fastened(min(counts), "screws of one angle", SCREW_N, c.pitch)
    low = k.foot.at[2]
    around = ring(k.foot, k.play + source.b)
    region = Polygon(around)
    body = Prism(region, low, low + source.a)
    return Built(
        c.id, (), tuple(members), tuple(_bought(k, sum(counts))),
        (*shapes(k.foot, around, k.straps), *_hose_shapes(k)), (),
        (holds(c, k.foot, by, "tank, full"), *_grows(k), *_falls(k)), low + source.a, region,
        solids=(Solid(c.id, "body", plain(c.name), body, pieces=tuple(bodies)),),
        bolts=Bolts(around, low, k.foot.at[:2]), marked=(Marked(low, corners=around),),
    )  # fmt: skip


class TankCradleKind(CarriedKind[TankCradle]):
    key, title = "tank_cradle", "Cradle of a tank"
    choices = TankCradle
    letter = "T"
    round_it, what = "tank", "tank"
    entries = (
        Entry("tank_cradle", "Cradle, fill and vent of a tank", 3, "keeps a full tank where it is, and "
              "leads its hoses to the side where you fill", "fuel petrol support strap hold-down hose"),
    )  # fmt: skip
    about = (
        "Goes round a tank: angles that let it grow, straps, strip under it; fill and vent led to one "
        "side. Its screws are held against twice what it weighs full, sideways. Set the angles before the "
        "tank goes in: nobody drills beside one. Hoses, bonding and vent by the tank maker's instructions "
        "and local rules; air the space."
    )

    def around(self, c: TankCradle, where: Where) -> tuple[float, float, float, float]:
        """By its play and the angle's flange."""
        entry, host = where.catalogue.entries.get(c.angle), where.extent(c.tank)
        wide = entry.b if isinstance(entry, Section) else 0.04
        long, across = (b - a for a, b in (host.x, host.y)) if host is not None else (0.0, 0.0)
        out = wide + play_m(c, (long, across, 0.0))
        return (out, out, 0.0, 0.0)

    def missing(self, entry: str, offered: Callable[[str], bool]) -> str:
        return "" if offered("liquid") else "goes round a tank: place one first"

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Round the tank that is chosen, else the first one for fuel, filled from its nearer side."""
        tanks = sorted(placing.all_of("liquid"), key=lambda t: not t.is_fuel)
        if not tanks:
            raise CoreError("it goes round a tank: place one first", "fittings")
        chosen = next((t for t in tanks if t.id == placing.host), tanks[0])
        side = "port" if chosen.floor_centre[1] >= 0 else "starboard"
        return {"kind": self.key, "id": placing.id("cradle"), "name": f"Cradle of {chosen.title}"[:80],
                "mark": placing.mark(self.letter), "tank": chosen.id, "fill": side}  # fmt: skip

    def facts(self, c: TankCradle) -> str:
        return "cradle"

    def build(self, c: TankCradle, site: Site) -> Built:
        return build(c, site)


KIND = TankCradleKind()
