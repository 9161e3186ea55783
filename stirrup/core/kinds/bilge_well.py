"""A bilge well: an opening in a floor down to the bottom, where water gathers and a pump stands.

Walls under the floor keep foam, gear and dirt out of it, with a limber in each; a cover with holes lies on
the floor and lifts out.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from itertools import product
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field
from shapely import box
from shapely.geometry import Polygon

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Hole, Opening, Shape
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site, Sizes, off_centre
from stirrup.core.document import Document, Id, Point, Point2, ThingRef
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Quantity, declare, plain
from stirrup.core.fittings.crate import rectangle
from stirrup.core.fittings.edges import largest
from stirrup.core.fittings.in_deck import flange_m, placing_findings
from stirrup.core.fittings.scribed import across, along, limbered, notched
from stirrup.core.fittings.stock import LidId
from stirrup.core.fittings.through_bolts import along_floor
from stirrup.core.hull.bottom import bottom_m
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Sheet
from stirrup.core.parts.model import Bought, Frame, Panel, Ring, panel_rings
from stirrup.core.quantities import Length
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Prism, Swept
from stirrup.core.space.solid import Solid

declare(
    "layout",
    {"WELL-LOW": "where a bilge well lies", "WELL-PUMP": "room for a bilge pump"},
    acceptable=True,
)

LAP_M = 0.025  # of its cover over its edges: working value
INSIDE_M = 0.001  # its walls stand off the angles round the opening
LIMBER_M = 0.04  # wide, in each wall that reaches the bottom: working value
HOLE_M, HOLE_EVERY_M, HOLE_IN_M = 0.012, 0.05, 0.04  # of its cover's holes: working values
PUMP_M = (0.16, 0.11, 0.12)  # room that a pump with its switch takes: along, across, up; working value
HOSE_M = 2.0  # from the pump to the side over the water: working value
STANDS_M = 0.005  # what stays in the bottom before it runs to the well, at most
STEPS = 60  # along the boat, where the lowest place of the bottom is looked for
BUTTONS = 2
LEAST_WALL_M2 = 5e-4
_CIRCLE = tuple(
    (HOLE_M / 2 * math.cos(k * math.pi / 6), HOLE_M / 2 * math.sin(k * math.pi / 6)) for k in range(12)
)
PUMPS = {"1 900 l/h": "pump-bilge-1900", "3 800 l/h": "pump-bilge-3800"}


class BilgeWell(FittingBase):
    """Choices for a bilge well."""

    kind: Literal["bilge_well"] = "bilge_well"
    floor: Annotated[Id, ThingRef("sole", "lies in")] = Field(title="In floor")
    x: Length = Field(ge=-2, le=40, title="Middle, from transom")
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    length: Length = Field(0.30, ge=0.1, le=1.5, title="Opening, along")
    width: Length = Field(0.22, ge=0.1, le=1.5, title="Opening, across")
    walls: bool = Field(True, title="Walls down to the bottom")
    cover: LidId = Field("as the deck", title="Cover and walls of")
    pump: Literal["none", "1 900 l/h", "3 800 l/h"] = Field("1 900 l/h", title="Pump")

    @property
    def outline(self) -> Polygon:
        """Its opening in plan."""
        a, b = self.length / 2, self.width / 2
        return box(self.x - a, self.y - b, self.x + a, self.y + b)


@dataclass(frozen=True)
class Well:
    """A well in its floor: its sheet, the floor's top and underside as they rise, half of what is clear
    between its walls' outer faces along and across [m]."""

    c: BilgeWell
    site: Site
    sheet: Sheet
    rise: float
    top: Callable[[float], float]
    thick: float
    half: Point2

    def under(self, x: float) -> float:
        """Underside of the floor's skin at x [m]."""
        return self.top(x) - self.thick


def _well(c: BilgeWell, site: Site) -> Well:
    host = site.host
    if host is None or not host.floors:
        raise CoreError("it lies in a floor, and there is none", f"fittings.{c.id}.floor")
    floor = host.floors[0]
    own = next((p.sheet for p in host.panels if p.level), None)
    sheet = own if c.cover == "as the deck" and own is not None else site.catalogue.sheet(c.cover)
    inward = flange_m(site.catalogue, site.host_choices) / 2 + INSIDE_M
    return Well(c, site, sheet, floor.rise, floor.top_at, floor.top_m - floor.under_m,
                (c.length / 2 - inward, c.width / 2 - inward))  # fmt: skip


def _walls(w: Well) -> list[Panel]:
    """Two across the boat from side to side of the well, two between them, all cut to the bottom."""
    c, t, (a, b) = w.c, w.sheet.thickness, w.half
    if not c.walls or min(a, b) < 2 * t:
        return []
    out = []
    for key, code, way in (("aft", "A", -1.0), ("fore", "F", 1.0)):
        x = c.x + way * (a - t / 2)
        room = across(w.site.surface, x, t / 2)
        shape = largest(room.intersection(box(c.y - b, -20, c.y + b, min(w.under(x - t), w.under(x + t)))))
        shape = notched(shape, w.site.obstacles, x, t / 2, w.under(x))
        frame = Frame((x, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
        out.append((key, code, shape, frame))
    for key, code, way in (("port", "P", 1.0), ("starboard", "S", -1.0)):
        y, x0, x1 = c.y + way * (b - t / 2), c.x - a + t, c.x + a - t
        head = Polygon([(x0, -20), (x1, -20), (x1, w.under(x1)), (x0, w.under(x0))])
        shape = largest(along(w.site.surface, y, t / 2).intersection(head))
        out.append((key, code, shape, Frame((0.0, y, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))))
    return [
        Panel(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {key} wall", c.id, w.sheet,
              *panel_rings(largest(limbered(shape, LIMBER_M).simplify(0.0002))), frame)
        for key, code, shape, frame in out if shape.area > LEAST_WALL_M2
    ]  # fmt: skip


def _drains(long: float, wide: float) -> list[Point2]:
    """Middles of its cover's holes, even and about its middle [m]."""

    def even(size: float) -> list[float]:
        room = size - 2 * HOLE_IN_M
        count = max(1, math.floor(room / HOLE_EVERY_M) + 1)
        step = room / (count - 1) if count > 1 else 0.0
        return [(k - (count - 1) / 2) * step for k in range(count)]

    return [(u, v) for u, v in product(even(long), even(wide))]


def _cover(w: Well) -> Panel:
    """On the floor, past its edges, with holes that let water down and a finger in."""
    c, t = w.c, w.sheet.thickness
    long, wide = c.length + 2 * LAP_M, c.width + 2 * LAP_M
    frame = Frame((c.x, c.y, w.top(c.x) + t / 2), *along_floor(0.0, w.rise))
    holes = tuple(_round(spot) for spot in _drains(c.length, c.width))
    turns = (0, 90, 180, 270) if w.sheet.stuff.kind == "metal" else (0, 180)
    return Panel(f"{c.id}/cover", f"{c.code}-D", f"{c.name}, cover", c.id, w.sheet,
                 rectangle(long, wide), holes, frame, turns)  # fmt: skip


def _round(at: Point2) -> Ring:
    return tuple([(at[0] + u, at[1] + v) for u, v in _CIRCLE])


def _bought(w: Well, low: float) -> list[Bought]:
    """Pump, switch, hose and outlet; buttons of its cover; adhesive under its walls."""
    c, at = w.c, (w.c.x, w.c.y, low + PUMP_M[2] / 2)
    rows: list[tuple[str, str, str, str, float, Point]] = [
        ("buttons", "K", "turn buttons", "turn-button", BUTTONS, (c.x, c.y, w.top(c.x)))
    ]
    if c.pump != "none":
        rows += [("pump", "Q", "pump", PUMPS[c.pump], 1, at),
                 ("switch", "QS", "float switch", "switch-float", 1, at),
                 ("hose", "QH", "hose to the side", "hose-19", HOSE_M, at),
                 ("outlet", "QO", "outlet through the side", "thru-19", 1, at)]  # fmt: skip
    out = []
    for key, code, word, item, amount, place in rows:
        entry = w.site.catalogue.find(item)
        out.append(Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, amount,
                          amount * entry.mass, place))  # fmt: skip
    return out


def _lowest(site: Site) -> tuple[float, float] | None:
    """Where on her centreline the inside of the bottom is lowest: x, and how high; None where nobody can
    stand there [m]."""
    low, high = float(site.surface.inside.low[0]), float(site.surface.inside.high[0])
    found = [(z, float(x)) for x in np.linspace(low + 0.02, high - 0.02, STEPS)
             if (z := bottom_m(site.surface, float(x), 0.0)) is not None]  # fmt: skip
    if not found:
        return None
    z, x = min(found)
    return x, z


def _lies_low(w: Well, low: float) -> list[Finding]:
    """Whether water runs to it as she lies level, or stands somewhere else before."""
    c, place = w.c, _lowest(w.site)
    if place is None:
        return []
    x, z = place
    values = {"stands": Quantity(max(low - z, 0.0), "m"), "at": Quantity(x, "m")}
    if low - z <= STANDS_M:
        return [Finding("WELL-LOW", "fine", c.id, "Water runs to it",
                        "As she lies level nowhere on her centreline the bottom is lower. Trimmed by the "
                        "stern it runs aft: see how she floats.", values)]  # fmt: skip
    fix = Fix("Move it to {at}", c.id, (x - c.x, 0.0, 0.0))
    floor = w.site.host.region if w.site.host is not None else Polygon()
    there = box(x - c.length / 2, c.y - c.width / 2, x + c.length / 2, c.y + c.width / 2)
    return [Finding("WELL-LOW", "look", c.id, "Water stands elsewhere first",
                    "As she lies level {stands} stand {at} from the transom before any of it gets "
                    "here.", values,
                    "Set it where the bottom is lowest, as she floats with her crew.",
                    fixes=(fix,) if floor.covers(there) else ())]  # fmt: skip


def _takes_pump(w: Well, low: float) -> list[Finding]:
    """Whether a pump with its switch stands in it under the floor."""
    c = w.c
    if c.pump == "none":
        return []
    t = w.sheet.thickness if c.walls else 0.0
    room = (2 * (w.half[0] - t), 2 * (w.half[1] - t), w.under(c.x) + w.thick - low)
    short = max(need - have for need, have in zip(PUMP_M, room, strict=True))
    values = {f"{word}{k}": Quantity(v, "m") for word, sizes in (("room", room), ("pump", PUMP_M))
              for k, v in enumerate(sizes)}  # fmt: skip
    values["short"] = Quantity(max(short, 0.0), "m")
    text = ("{room0} by {room1} and {room2} up to its cover; a pump with its switch takes {pump0} by "
            "{pump1} and {pump2}.")  # fmt: skip
    if short <= 1e-9:
        return [Finding("WELL-PUMP", "fine", c.id, "A pump stands in it", text, values)]
    return [Finding("WELL-PUMP", "mend", c.id, "No pump stands in it", text, values,
                    "Make it larger, or set it where the floor is higher over the bottom.")]  # fmt: skip


def _solids(w: Well, walls: list[Panel], cover: Panel) -> tuple[Solid, ...]:
    """Its walls; the cover as a lid on the floor."""
    c, name, t = w.c, plain(w.c.name), w.sheet.thickness
    pieces = []
    for p in walls:
        way = np.cross(p.frame.along, p.frame.across) * t / 2
        places = [p.frame.at(u, v) for u, v in p.outline]
        both = ((x + s * way[0], y + s * way[1], z) for s in (-1, 1) for x, y, z in places)
        pieces.append(Swept(tuple(both)))
    z = cover.frame.origin[2]
    outline = c.outline.buffer(LAP_M, join_style="mitre")
    out = [Solid(c.id, "lid", name, Prism(outline, z - t / 2, z + t / 2))]
    if pieces:
        (a, b), low = w.half, min(q.bounds[2] for q in pieces)
        around = Prism(box(c.x - a, c.y - b, c.x + a, c.y + b), low, w.under(c.x))
        out.append(Solid(c.id, "wall", name, around, pieces=tuple(pieces)))
    return tuple(out)


def _shapes(w: Well, low: float) -> tuple[Shape, ...]:
    c, z = w.c, w.top(w.c.x)
    outer = c.outline.buffer(LAP_M, join_style="mitre").exterior.coords[:-1]
    (a, b), under = w.half, w.under(c.x)
    inner = tuple((c.x + u * a, c.y + v * b, z) for u, v in ((-1, -1), (1, -1), (1, 1), (-1, 1)))
    side = ((c.x - a, c.y, low), (c.x + a, c.y, low), (c.x + a, c.y, under), (c.x - a, c.y, under))
    end = ((c.x, c.y - b, low), (c.x, c.y + b, low), (c.x, c.y + b, under), (c.x, c.y - b, under))
    return (
        Shape("form-line", tuple((float(u), float(v), z) for u, v in outer)),
        Shape("form-line", inner),
        *(Shape("form-post", tuple([(c.x + u + a, c.y + v + b, z) for a, b in _CIRCLE]))
          for u, v in _drains(c.length, c.width)),
        Shape("form-line", side, view="side"), Shape("form-line", end, view="across"),
    )  # fmt: skip


def build(c: BilgeWell, site: Site) -> Built:
    """Walls, cover and pump of a bilge well. Raises CoreError without a floor, and outside of the boat."""
    w = _well(c, site)
    low = bottom_m(site.surface, c.x, c.y)
    if low is None:
        raise CoreError("there is no bottom under it", f"fittings.{c.id}.x")
    walls, cover = _walls(w), _cover(w)
    opening = asked(c)
    findings = [*placing_findings(opening, site), *_lies_low(w, low), *_takes_pump(w, low)]
    holes = () if c.walls else (Hole(c.x, c.y, c.length, c.width, c.floor),)
    return Built(
        c.id, (cover, *walls), (), tuple(_bought(w, low)), _shapes(w, low), findings=tuple(findings),
        top_m=w.top(c.x) + w.sheet.thickness, region=c.outline, solids=_solids(w, walls, cover),
        holes=holes,
    )  # fmt: skip


def asked(c: BilgeWell) -> Opening:
    """What it asks of its floor: its opening, framed, and its cover on the floor round it."""
    x0, y0, x1, y1 = c.outline.bounds
    return Opening(c.id, c.code, c.outline, (x0, y0, x1, y1),
                   over=c.outline.buffer(LAP_M, join_style="mitre"))  # fmt: skip


class BilgeWellKind(Kind[BilgeWell]):
    key, title = "bilge_well", "Bilge well"
    choices = BilgeWell
    letter = "W"
    brief = True
    entries = (
        Entry("bilge_well", "Bilge well with pump", 1, "an opening in the floor where water gathers: "
                                                       "place it "
              "before the floor is cut", "sump strainer drain pump"),
    )  # fmt: skip
    about = (
        "An opening in the floor down to the bottom, framed like a hatch: walls with limbers keep dirt and "
        "foam out, a cover with holes lies on the floor, a pump with switch and hose stands in it. Whether "
        "water runs to it as she lies level is looked at."
    )

    def asks(self, c: BilgeWell, host: Document, catalogue: Catalogue) -> Opening | None:
        return asked(c)

    def extent(self, c: BilgeWell, where: Where) -> Extent:
        x0, y0, x1, y1 = c.outline.bounds
        host = where.extent(c.floor)
        top = host.top_at(c.x) if host is not None else 0.0
        low = bottom_m(where.surface, c.x, c.y)
        return Extent((x0, x1), (y0, y1), (top if low is None else min(low, top), top))

    def shift(self, c: BilgeWell, by: Point) -> list[tuple[Path, float]]:
        """In its floor: along and across."""
        places = ((0, "x", c.x), (1, "y", c.y))
        return [((f,), v + by[k]) for k, f, v in places if abs(by[k]) > FINE_M / 2]

    def sizes(self, c: BilgeWell) -> Sizes:
        return Sizes((("length",), ("width",), None), (("x",), ("y",), None))

    def mirror(self, value: dict[str, Any]) -> None:
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        value["x"] = round(value["x"] + value["length"] + 4 * LAP_M, 4)

    def missing(self, entry: str, offered: Callable[[str], bool]) -> str:
        return "" if offered("sole") else "lies in the floor of the boat: place one first"

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """In the floor that is chosen, else the first: near its aft edge, on the centreline; or where it
        was put."""
        floors = [(t, b) for t, b in placing.built("sole") if b.floors]
        if not floors:
            raise CoreError("it lies in the floor of the boat: place one first", "fittings")
        floor, built = next((f for f in floors if f[0].id == placing.host), floors[0])
        x0, _, x1, _ = built.floors[0].region.bounds
        x, y = placing.at or (min(x0 + 0.35, (x0 + x1) / 2), 0.0)
        id_ = placing.id("well")
        return {"kind": self.key, "id": id_, "name": f"Bilge well {id_.rsplit('-', 1)[1]}",
                "mark": placing.mark(self.letter), "floor": floor.id, "x": round(x, 3),
                "y": round(y, 3)}  # fmt: skip

    def build(self, c: BilgeWell, site: Site) -> Built:
        return build(c, site)


KIND = BilgeWellKind()
