"""A fitting bolted through a deck or floor: its holes, the plate under it, bolts, and what is behind."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator
from shapely import box
from shapely.geometry import Point as FlatPoint
from shapely.geometry import Polygon

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Bolts, Built, Marked, Opening, Shape
from stirrup.core.contract.kind import Entry, Placing, Site
from stirrup.core.document import Document, Id, Point2, StockRef, ThingRef
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.joints import no_fastener
from stirrup.core.fittings.standing_kind import StandingKind
from stirrup.core.fittings.through_bolts import along_floor, bolt_hole, shortest_bolt
from stirrup.core.fittings.under_floor import Met, carried_over, holes_in, in_the_way, under_near
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.model import Bought, Frame, Panel
from stirrup.core.quantities import Angle, Force, Length
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare("layout", {"BOLTED-HOLDS": "what holds a fitting on a deck"}, acceptable=True)

Under = Literal["backing plate", "large washers"]
BOLTS: dict[str, tuple[float, str, str]] = {
    "M5": (0.005, "nut-m5", "washer-m5"), "M6": (0.006, "nut-m6", "washer-m6"),
    "M8": (0.008, "nut-m8", "washer-m8"),
}  # fmt: skip
HOLDS_N: dict[Under, float] = {"backing plate": 4000.0, "large washers": 1500.0}  # of an M6: working values
OF_M = 0.006
FOOT_M = 0.006  # of a fitting's foot, and its bed of sealant: working value
STEP_M, TRIES = 0.02, 20  # aft, for a first place
LEAST_APART_M = 0.02  # of bolts: over twice an M8
PLAY_M = 0.002  # round the hole of its body
PLATE = "al-3.2"
OVER_M = 0.025  # of a plate beyond the bolts
SEALANT_M3, CARTRIDGE_M3 = 4e-6, 0.00029  # of a bedded hole; of a cartridge
PlateId = Annotated[Id, StockRef("sheet")]
PartId = Annotated[Id, StockRef("hardware")]
# first ones: what of the catalogue, along and across its bolts, its size, pull [N], at [m] over the deck
FIRST: dict[str, tuple[str, Point2, tuple[float, float, float], float, float]] = {
    "deck cleat": ("cleat-150", (0.05, 0.0), (0.15, 0.04, 0.045), 2500.0, 0.03),
    "deck rod holder": ("rod-flush", (0.07, 0.05), (0.13, 0.09, 0.02), 600.0, 0.05),
    "deck rail": ("handle-grab-300", (0.30, 0.0), (0.33, 0.04, 0.06), 1500.0, 0.05),
    "quick-release": ("mount-bow", (0.35, 0.10), (0.45, 0.16, 0.06), 900.0, 0.12),
}  # fmt: skip


BODY_M = {"deck rod holder": 0.055}  # of a first one


class DeckFitting(FittingBase):
    """Choices for a fitting that is bolted through a deck."""

    kind: Literal["deck_fitting"] = "deck_fitting"
    on: Annotated[Id, ThingRef("floor", "stands on")] = Field(title="On")
    part: PartId = Field("cleat-150", title="Fitting")
    x: Length = Field(ge=-2, le=40, title="Middle, from transom")
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    turn: Angle = Field(0.0, ge=-180, le=180, title="Turned to port, degrees")
    length: Length = Field(0.15, ge=0.02, le=2, title="Long")
    width: Length = Field(0.04, ge=0.01, le=1, title="Wide")
    height: Length = Field(0.045, ge=0.005, le=1, title="High")
    along: Length = Field(0.05, ge=LEAST_APART_M, le=2, title="Bolts, apart along it")
    across: Length = Field(0.0, ge=0, le=1, title="Bolts, apart across", description="0: in one row")
    bolt: Literal["M5", "M6", "M8"] = Field("M6", title="Bolts")
    under: Under = Field("backing plate", title="Under the deck")
    plate: PlateId = Field(PLATE, title="Plate of")
    body: Length = Field(0.0, ge=0, le=0.3, title="Hole for its body, across", description="0: none")
    pull: Force = Field(2500.0, ge=0, le=100_000, title="Pull to hold, N")
    pull_up: Length = Field(0.03, ge=0, le=2, title="Pulled at, over the deck")

    @model_validator(mode="after")
    def _apart(self) -> DeckFitting:
        """Bolts nearer to one another leave no sheet between them."""
        if 0 < self.across < LEAST_APART_M:
            raise ValueError(
                f"across: read {self.across:g} m; accepted: 0 for one row, or at least {LEAST_APART_M:g} m"
            )
        return self

    @property
    def spots(self) -> tuple[Point2, ...]:
        """Its bolts about its middle, before it is turned [m]."""
        a, b = self.along / 2, self.across / 2
        return ((-a, -b), (a, -b), (a, b), (-a, b)) if b > 0 else ((-a, 0.0), (a, 0.0))

    @property
    def outline(self) -> Polygon:
        """Of its foot in plan."""
        a, b = self.length / 2, self.width / 2
        return Polygon(self._turned(((a, -b), (a, b), (-a, b), (-a, -b))))

    def places(self) -> tuple[Point2, ...]:
        """Its bolts in the boat."""
        return self._turned(self.spots)

    def _turned(self, spots: tuple[Point2, ...]) -> tuple[Point2, ...]:
        """Places about its middle, in the boat."""
        c, s = math.cos(math.radians(self.turn)), math.sin(math.radians(self.turn))
        return tuple((self.x + c * u - s * v, self.y + s * u + c * v) for u, v in spots)


def pulled_n(c: DeckFitting) -> float:
    """The most that one of its bolts is pulled: straight up all share; along it those of one end hold the
    moment, across it those of one side; bolts in one row do so over half of its foot [N]."""
    count, moment = len(c.spots), c.pull * c.pull_up
    sideways = moment / (c.across * count / 2) if c.across > 0 else moment / (c.width / 2 * count)
    return max(c.pull / count, moment / (c.along * count / 2), sideways)


def _holds(c: DeckFitting) -> Finding:
    each, pull = HOLDS_N[c.under] * (BOLTS[c.bolt][0] / OF_M) ** 2, pulled_n(c)
    values = {"pull": Quantity(c.pull, "N"), "bolt": Quantity(pull, "N"), "each": Quantity(each, "N")}
    work = Working(
        "the greatest of pull / bolts, and pull x height / (lever x bolts) along it and across",
        (Input("pull", Quantity(c.pull, "N"), "as typed"), Input("at", Quantity(c.pull_up, "m")),
         Input("bolts", Quantity(len(c.spots), "count")),
         Input("each holds", Quantity(each, "N"), f"{c.bolt}, {c.under}: working value")),
        Quantity(pull, "N"), "rules of the trade, “Bolted fittings”",
    )  # fmt: skip
    text = "A pull of {pull} takes one of its bolts with {bolt}; it holds {each}. A screening."
    if pull <= each:
        return Finding("BOLTED-HOLDS", "fine", c.id, "Its bolts hold", text, values, working=work)
    fix = Fix("Put a backing plate under it", path=("fittings", c.id, "under"), value="backing plate")
    return Finding("BOLTED-HOLDS", "mend", c.id, "It tears out of the deck", text, values,
                   "Spread it: a plate, larger bolts, a fitting with a longer foot.", work,
                   fixes=(fix,) if c.under != "backing plate" else ())  # fmt: skip


def _plate(c: DeckFitting, site: Site, under: tuple[float, float]) -> list[Panel]:
    """Under the deck, past its bolts, with their holes."""
    if c.under != "backing plate":
        return []
    sheet = site.catalogue.sheet(c.plate)
    a, b = c.along / 2 + OVER_M, c.across / 2 + OVER_M
    z, rise = under
    frame = Frame((c.x, c.y, z - sheet.thickness / 2), *along_floor(math.radians(c.turn), rise))
    holes = tuple(bolt_hole(spot, BOLTS[c.bolt][0]) for spot in c.spots)
    return [Panel(f"{c.id}/plate", f"{c.code}-P", f"{c.name}, backing plate", c.id, sheet,
                  ((-a, -b), (a, -b), (a, b), (-a, b)), holes, frame, (0, 90, 180, 270))]  # fmt: skip


def _bought(c: DeckFitting, site: Site, foot: float, grip: float) -> tuple[list[Bought], list[Finding]]:
    """The fitting, its bolts, and sealant for their holes."""
    find, count = site.catalogue.find, len(c.spots)

    def part(key: str, code: str, word: str, entry: Any, times: float, group: Any = "fasteners") -> Bought:
        return Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, times,
                      times * entry.mass, (c.x, c.y, foot + c.height / 2), group)  # fmt: skip

    fitting = find(c.part)
    sealant, bed = site.catalogue.plain("adhesive-ms"), count * SEALANT_M3 / CARTRIDGE_M3
    out = [part("fitting", "T", fitting.name, fitting, 1, "hardware"),
           part("bed", "G", "sealant", sealant, bed, "consumables")]  # fmt: skip
    across, nut, washer = BOLTS[c.bolt]
    bolt = shortest_bolt(site.catalogue, across, grip)
    if bolt is None:
        return out, [no_fastener(c.id, "Fitting to deck", grip)]
    discs = 2 if c.under == "large washers" else 1
    for key, code, entry, each in (
        ("bolts", "R", bolt, 1), ("nuts", "N", find(nut), 1), ("washers", "W", find(washer), discs),
    ):  # fmt: skip
        out.append(part(key, code, key, entry, each * count))
    return out, []


def body_of(c: DeckFitting) -> Polygon:
    """The hole for its body, in plan."""
    return FlatPoint(c.x, c.y).buffer(c.body / 2, quad_segs=8)


def _on_its_floor(c: DeckFitting, host: Built) -> list[Finding]:
    """That all of its foot is on the deck, and its body clear of what carries that."""
    foot = c.outline.difference(body_of(c).buffer(PLAY_M)) if c.body else c.outline
    open_ = any(hole.intersects(foot) for hole in holes_in(host))
    if host.floors[0].region.covers(c.outline) and not open_:
        met = carried_over(host, body_of(c)) if c.body else Met()
        if not met.labels:
            return []
        names, values = ", ".join(plain(m) for m in met.labels), {"by": Quantity(abs(met.by), "m")}
        way = "forward" if met.by > 0 else "aft"
        fix = Fix(f"Move it {{by}} {way}", c.id, (met.by, 0.0, 0.0))
        return [Finding("BOLTED-HOLDS", "mend", c.id, "Its body meets what carries the deck",
                        f"{names}: where its hole goes.", values, f"Move it {{by}} {way}.",
                        fixes=(fix,))]  # fmt: skip
    return [Finding("BOLTED-HOLDS", "mend", c.id, "Its foot hangs over an edge",
                    "Bolts there go through nothing, or through a hatch.", {},
                    "Move it inward.")]  # fmt: skip


def build(c: DeckFitting, site: Site) -> Built:
    """Fitting, plate, bolts. Raises CoreError where there is no deck under it."""
    if site.host is None or not site.host.floors:
        raise CoreError("it is bolted through a deck or floor, and there is none", f"fittings.{c.id}.on")
    floor = site.host.floors[0]
    foot, thick = floor.top_at(c.x), floor.top_m - floor.under_m
    plates = _plate(c, site, (foot - thick, floor.rise))
    bought, told = _bought(c, site, foot, FOOT_M + thick + sum(p.sheet.thickness for p in plates))
    outline = c.outline
    ring = tuple((float(u), float(v), foot + c.height) for u, v in outline.exterior.coords[:-1])
    a, b = outline.bounds[0], outline.bounds[2]
    side = ((a, c.y, foot), (b, c.y, foot), (b, c.y, foot + c.height), (a, c.y, foot + c.height))
    places = c.places()
    return Built(
        c.id, tuple(plates), (), tuple(bought),
        (Shape("form-body", ring), Shape("form-body", side, view="side"),
         *(Shape("form-post", tuple((x + du, y + dv, foot) for du, dv in _DOT)) for x, y in places)),
        findings=(_holds(c), *told, *_on_its_floor(c, site.host), *in_the_way(c, plates, site.host)),
        top_m=foot + c.height, region=outline,
        solids=(Solid(c.id, "body", plain(c.name), Prism(outline, foot, foot + c.height)),),
        bolts=Bolts(places, foot, (c.x, c.y)),
        marked=(Marked(foot, corners=places if len(places) == 4 else _corners(outline), turn=c.turn),),
    )  # fmt: skip


_DOT = tuple((0.005 * math.cos(k * math.pi / 4), 0.005 * math.sin(k * math.pi / 4)) for k in range(8))


def _corners(outline: Polygon) -> tuple[Point2, ...]:
    x0, y0, x1, y1 = outline.bounds
    return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))


def _sheet_of(host: Built) -> str:
    """The deck's own sheet where that is metal: a plate comes out of what is left of it."""
    own = (p.sheet.id for p in host.panels if p.level and p.sheet.stuff.kind == "metal")
    return next(own, PLATE)


def _clear(host: Built, x: float, apart: Point2) -> float:
    """The first x at or abaft of a place where its plate is clear of what carries the deck; the place
    itself where there is none near [m]."""
    a, b = apart[0] / 2 + OVER_M, apart[1] / 2 + OVER_M
    tries = (x - k * STEP_M for k in range(TRIES))
    return next((t for t in tries if not carried_over(host, box(t - a, -b, t + a, b)).labels), x)


class DeckFittingKind(StandingKind[DeckFitting]):
    key, title = "deck_fitting", "Fitting bolted through a deck"
    choices = DeckFitting
    letter = "N"
    brief = True
    entries = (
        Entry("deck cleat", "Cleat, bolted through a deck", 4, "with its plate under the deck, holes and "
              "bolts", "mooring"),
        Entry("deck rod holder", "Rod holder, bolted through a deck", 4, "keep its line clear of people "
              "and lids", "rods rack"),
        Entry("deck rail", "Grab rail, bolted through a deck", 4, "where a hand goes when she jumps",
              "handrail handle"),
        Entry("quick-release", "Quick-release mount of a bow motor", 4, "its plate spreads the pull of the "
              "motor under the deck", "trolling puck bracket"),
    )  # fmt: skip
    about = (
        "A cleat, rail, holder or mount on a deck or floor: its pattern of holes, a plate under the deck "
        "or large washers, bolts by what they hold together, sealant. How its bolts are pulled is a "
        "screening; what lies behind is told."
    )

    def extent(self, c: DeckFitting, where: Where) -> Extent:
        x0, y0, x1, y1 = c.outline.bounds
        host = where.extent(c.on)
        foot = host.top_at(c.x) if host is not None else float(where.surface.inside.low[2])
        return Extent((x0, x1), (y0, y1), (foot, foot + c.height))

    def mirror(self, value: dict[str, Any]) -> None:
        super().mirror(value)
        value["turn"] = -value["turn"] if abs(value["turn"]) < 180 else value["turn"]

    def put_beside(self, value: dict[str, Any]) -> None:
        value["x"] = round(value["x"] + value["length"] + OVER_M, 4)

    def missing(self, entry: str, offered: Callable[[str], bool]) -> str:
        return "" if offered("floor") else "is bolted through a deck or floor: place one first"

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """On the deck that is chosen, else where it was put, else right forward on the foremost one."""
        part, (along, across), (long, wide, high), pull, up = FIRST[entry]
        built_by = {d.id: b for d, b in placing.built("floor")}
        built = [(d, f) for d, b in placing.built("floor") for f in b.floors[:1]]
        there = [(d, f) for d, f in built if f.broad and not f.region.is_empty]
        if placing.at is not None:
            there = [(d, f) for d, f in there if f.region.bounds[0] <= placing.at[0] <= f.region.bounds[2]]
        if not there:
            raise CoreError("it is bolted through a deck or floor: place one first", "at")
        deck, floor = max(there, key=lambda pair: (pair[0].id == placing.host, pair[1].region.bounds[2]))
        x0, _, x1, _ = floor.region.bounds
        x, y = placing.at or (x1 - 0.15 * (x1 - x0) - long / 2, 0.0)
        if placing.at is None:
            x = _clear(built_by[deck.id], x, (along, across))
        return {
            "kind": self.key, "id": placing.id(entry.split()[-1]), "name": placing.name(_CALLED[entry]),
            "mark": placing.mark(self.letter), "on": deck.id, "part": part, "x": round(x, 3),
            "y": round(y, 3), "along": along, "across": across, "length": long, "width": wide,
            "plate": _sheet_of(built_by[deck.id]),
            "height": high, "pull": pull, "pull_up": up, "body": BODY_M.get(entry, 0.0),
        }  # fmt: skip

    def asks(self, c: DeckFitting, host: Document, catalogue: Catalogue) -> Opening | None:
        """The hole for its body; nothing is framed round it."""
        if not c.body:
            return None
        hole = body_of(c)
        x0, y0, x1, y1 = hole.bounds
        return Opening(c.id, c.code, hole, (x0, y0, x1, y1), bare=True)

    def reads(self, c: DeckFitting, host: Built) -> Hashable | None:
        """How high and thick its deck is there, whether that ends or is open under its foot, and what hangs
        under that where its plate and body go."""
        if not host.floors:
            return ("no floor",)
        floor, foot = host.floors[0], c.outline
        holes = tuple(hole.wkb for hole in holes_in(host) if hole.intersects(foot))
        reach = max(math.hypot(c.along / 2 + OVER_M, c.across / 2 + OVER_M), c.body / 2)
        return ("floor", floor.rise, floor.top_at(c.x), floor.top_m - floor.under_m,
                floor.region.covers(foot), holes, under_near(host, (c.x, c.y), reach))  # fmt: skip

    def idle(self, c: DeckFitting, catalogue: Catalogue) -> frozenset[str]:
        return frozenset() if c.under == "backing plate" else frozenset(["plate"])

    def facts(self, c: DeckFitting) -> str:
        return f"{len(c.spots)} bolts {c.bolt}"

    def build(self, c: DeckFitting, site: Site) -> Built:
        return build(c, site)


_CALLED = {"deck cleat": "cleat", "deck rod holder": "rod holder", "deck rail": "grab rail",
           "quick-release": "quick-release mount"}  # fmt: skip

KIND = DeckFittingKind()
