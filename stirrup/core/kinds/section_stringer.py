"""A stringer of a metal section: laid on the bottom and sprung or bent to it, welded or riveted."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property, partial
from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator
from shapely.geometry import Polygon

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Handle, Shape
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site, off_centre
from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.contract.seam import Seam
from stirrup.core.document import Id, Point, StockRef
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.beam import Strip, stiffness_of
from stirrup.core.fittings.edges import breadth_at, inside_region
from stirrup.core.fittings.joints import grip_finding, no_fastener
from stirrup.core.fittings.laminate import STITCH_KG_PER_M, WELD, wire
from stirrup.core.hull.bottom import bottom_m
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.parts.catalogue import Catalogue, count_at_pitch
from stirrup.core.parts.entries import Fastener, Section
from stirrup.core.parts.model import Bought, Member
from stirrup.core.quantities import Length
from stirrup.core.space.shapes import Swept
from stirrup.core.space.solid import Solid

declare(
    "layout",
    {
        "SECTION-BENDS": "how a section follows the bottom",
        "SECTION-JOINT": "how a section is joined",
        "SECTION-STIFF": "how stiff a section is",
        "SECTION-WORK": "cautions of a section",
    },
    acceptable=True,
    pace="behind",
)

Array = NDArray[np.float64]
STATIONS = 25
LEAST_LONG_M = 0.3
BUTT_M = 0.002
UNKNOWN_M = (0.04, 0.04)  # of a section that the catalogue does not know
ROWS = {"hat": 2, "angle": 1, "channel": 1}  # of rivets: through the flanges that lie on the bottom
FIRST_SHARE = (0.10, 0.60, 0.40)  # of her length, and of her half breadth
Metal = StockRef("section", wanted=(("shape", ("angle", "channel", "square tube", "hat", "flat")),))
SectionId = Annotated[Id, Metal]


class SectionStringer(FittingBase):
    """Choices for a stringer of a section."""

    kind: Literal["section_stringer"] = "section_stringer"
    aft: Length = Field(ge=-2, le=40, title="Aft end, from transom")
    fore: Length = Field(ge=-2, le=40, title="Fore end")
    y: Length = Field(ge=-5, le=5, title="From centreline, aft", description="to port +")
    y_fore: Length | None = Field(
        None, ge=-5, le=5, title="From centreline, fore", description="empty: parallel to it"
    )
    section: SectionId = Field("channel-40x20x3", title="Section")
    joined: Literal["welded", "riveted, wet-set"] = Field("welded", title="Joined to the bottom")
    pitch: Length = Field(0.075, ge=0.02, le=0.4, title="Rivets every")

    @model_validator(mode="after")
    def _long(self) -> SectionStringer:
        if self.fore - self.aft < LEAST_LONG_M:
            raise ValueError(
                f"fore: read {self.fore:g} m, with its aft end at {self.aft:g} m; accepted: at least "
                f"{LEAST_LONG_M:g} m further forward"
            )
        return self

    @property
    def ends_y(self) -> tuple[float, float]:
        """Off the centreline at its aft and its fore end [m]."""
        return self.y, self.y if self.y_fore is None else self.y_fore


def _size(s: Section) -> tuple[float, float]:
    """How broad it is on the bottom, and how high [m]."""
    return {"flat": (s.t, s.a), "hat": (s.b + 2 * s.b / 3, s.a)}.get(s.shape, (s.b, s.a))


def strips_of(s: Section, e: float) -> list[Strip]:
    """It as it stands on the bottom, by strips from its foot up: webs upright, flanges level."""
    a, b, t = s.a, s.b, s.t
    foot, head = Strip(e, b, 0.0, t), Strip(e, b, a - t, a)
    return {
        "angle": [foot, Strip(e, t, t, a)],
        "channel": [foot, Strip(e, t, t, a - t), head],
        "square tube": [foot, Strip(e, 2 * t, t, a - t), head],
        "hat": [Strip(e, 2 * b / 3, 0.0, t), Strip(e, 2 * t, t, a - t), head],
        "flat": [Strip(e, t, 0.0, a)],
    }.get(s.shape, [Strip(e, b, 0.0, a)])


@dataclass(frozen=True)
class Laid:
    """It on the bottom: points of its foot's middle (n, 3) [m]."""

    c: SectionStringer
    section: Section
    foot: Array

    @cached_property
    def s(self) -> Array:
        """Distance along it from its aft end (n,) [m]."""
        return np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(self.foot, axis=0), axis=1))])

    @property
    def long(self) -> float:
        """All of it, along the bottom [m]."""
        return float(self.s[-1])

    @property
    def wide(self) -> float:
        return _size(self.section)[0]

    @property
    def high(self) -> float:
        return _size(self.section)[1]

    @cached_property
    def ahead(self) -> tuple[float, float]:
        """Unit vector along it in plan."""
        dx, dy = (float(v) for v in (self.foot[-1] - self.foot[0])[:2])
        flat = math.hypot(dx, dy)
        return dx / flat, dy / flat

    def at(self, k: int, side: float, up: float) -> Point:
        """A point at a station, so far to port of its middle and over its foot."""
        (cx, cy), (x, y, z) = self.ahead, (float(v) for v in self.foot[k])
        return (x - cy * side, y + cx * side, z + up)

    @cached_property
    def sag(self) -> float:
        """How far the bottom is from a straight line between its ends, at most [m]."""
        flat = np.hypot(self.foot[:, 0] - self.foot[0, 0], self.foot[:, 1] - self.foot[0, 1])
        line = np.interp(flat, flat[[0, -1]], self.foot[[0, -1], 2])
        return float(np.abs(self.foot[:, 2] - line).max())

    @cached_property
    def radius(self) -> float:
        """Least radius that it is bent to, over a quarter of its length; inf where the bottom is
        straight."""
        n, least = (STATIONS - 1) // 4, math.inf
        for k in range(STATIONS - n):
            a, m, b = self.foot[k], self.foot[k + n // 2], self.foot[k + n]
            chord = float(np.linalg.norm(b - a))
            rise = float(np.linalg.norm(m - (a + b) / 2))
            if rise > 1e-5:
                least = min(least, (chord**2 / 4 + rise**2) / (2 * rise))
        return least


def lay(c: SectionStringer, surface: HullSurface, section: Section) -> Laid:
    """Raises CoreError where there is no bottom under it."""
    y0, y1 = c.ends_y
    rows = []
    for share in np.linspace(0.0, 1.0, STATIONS):
        x, y = c.aft + share * (c.fore - c.aft), y0 + share * (y1 - y0)
        z = bottom_m(surface, float(x), float(y))
        if z is None:
            raise CoreError(f"{x:.3f} m from the transom there is no bottom under it",
                            f"fittings.{c.id}.{'aft' if share < 0.5 else 'fore'}")  # fmt: skip
        rows.append((float(x), float(y), z))
    return Laid(c, section, np.array(rows))


def _members(laid: Laid) -> list[Member]:
    """It, or its lengths butted where a stick ends."""
    c, stick = laid.c, laid.section.length
    count = max(1, math.ceil(laid.long / stick - 1e-9))
    out = []
    for n in range(count):
        low, high = laid.long * n / count, laid.long * (n + 1) / count
        inside = [k for k in range(STATIONS) if low - 1e-9 <= laid.s[k] <= high + 1e-9]
        path = tuple(laid.at(k, 0.0, laid.high / 2) for k in inside)
        suffix, word = (f"/{n + 1}", f", length {n + 1}") if count > 1 else ("", "")
        out.append(Member(
            f"{c.id}/stringer{suffix}", f"{c.code}-S{n + 1 if count > 1 else ''}", f"{c.name}{word}", c.id,
            laid.section, high - low - (BUTT_M if n else 0.0), path, role="side",
            ends_at=("aft end", "fore end"), late_bodies=partial(_bodies, laid, inside),
            note=f"bend to the bottom: {laid.sag * 1000:.0f} mm off straight" if laid.sag > 0.002 else "",
        ))  # fmt: skip
    return out


def _bodies(laid: Laid, ks: list[int]) -> tuple[tuple[Point, ...], ...]:
    """Boxes round it from station to station."""
    half = laid.wide / 2
    return tuple(
        tuple(laid.at(k, side * half, up) for k in (a, b) for side in (-1, 1) for up in (0.0, laid.high))
        for a, b in pairwise(ks)
    )


def _bought(laid: Laid, site: Site) -> tuple[list[Bought], list[Finding]]:
    c, section = laid.c, laid.section
    at = laid.at(STATIONS // 2, 0.0, laid.high / 2)
    if c.joined == "welded":
        return [wire(c, site.catalogue, laid.long, STITCH_KG_PER_M, at)], []
    rows = ROWS.get(section.shape, 0)
    if not rows:
        return [], []
    skin = site.surface.thickness[0]
    rivet = site.catalogue.fastener_for("solid rivet", skin + section.t)
    if not isinstance(rivet, Fastener):
        return [], [no_fastener(c.id, "Section to bottom", skin + section.t)]
    count = rows * count_at_pitch(laid.long, c.pitch)
    told = grip_finding(site.catalogue, c.id, "Section to bottom", rivet,
                        (("bottom", skin), ("section", section.t)))  # fmt: skip
    return [Bought(f"{c.id}/rivets", f"{c.code}-R", f"{c.name}, rivets", c.id, rivet, count,
                   count * rivet.mass, at, "fasteners")], [told]  # fmt: skip


def _bends(laid: Laid) -> Finding:
    """Whether it springs to the bottom: R = E h / 2 yield."""
    stuff, c = laid.section.stuff, laid.c
    values = {"sag": Quantity(laid.sag, "m", True), "long": Quantity(laid.long, "m")}
    if laid.sag <= STRAIGHT_M:
        return Finding("SECTION-BENDS", "fine", c.id, "The bottom is straight under it",
                       "{long} of it lies within {sag} of straight.", values)  # fmt: skip
    if stuff.e_gpa is None or stuff.yield_mpa is None:
        return Finding("SECTION-BENDS", "look", c.id, "Nobody knows how far it springs",
                       "The catalogue has no modulus or yield for it; the bottom is {sag} off straight.",
                       values, "Bend a trial length over your knee first.")  # fmt: skip
    springs = stuff.e_gpa * 1e9 * laid.high / (2 * stuff.yield_mpa * 1e6)
    values |= {"radius": Quantity(laid.radius, "m"), "springs": Quantity(springs, "m")}
    work = Working(
        "springs to R = E h / (2 x yield)",
        (Input("E", Quantity(stuff.e_gpa, "GPa")), Input("h", Quantity(laid.high, "m", True), "its height"),
         Input("yield", Quantity(stuff.yield_mpa, "MPa"))),
        Quantity(springs, "m"), "bending of a bar",
    )  # fmt: skip
    text = "The bottom is {sag} off straight, with a radius of {radius}; it springs to {springs}."
    if laid.radius >= springs:
        return Finding("SECTION-BENDS", "fine", c.id, "It springs to the bottom", text, values, "", work)
    return Finding("SECTION-BENDS", "look", c.id, "It has to be bent to the bottom", text, values,
                   "Roll it, or slot its web from the top every 100 mm, bend it down and weld the slots; "
                   "or take a lower section, or lengths.", work)  # fmt: skip


STRAIGHT_M = 0.002  # a weld or a bead closes that


def _joint(laid: Laid, site: Site) -> Finding:
    c, section = laid.c, laid.section
    values = {"long": Quantity(laid.long, "m"), "pitch": Quantity(c.pitch, "m", True)}
    if c.joined == "welded":
        return Finding("SECTION-JOINT", "fine", c.id, "How it is welded",
                       "{long} stitched on both sides in turn; its ends tapered, so that they do not start "
                       "a crack in the bottom.", values)  # fmt: skip
    if section.shape not in ROWS:
        return Finding("SECTION-JOINT", "mend", c.id, "It has no flange to rivet through",
                       f"{plain(section.name)} is closed, or stands on its edge.", values,
                       "Take an angle, a channel or a hat, or have it welded.")  # fmt: skip
    return Finding("SECTION-JOINT", "fine", c.id, "How it is riveted",
                   "Solid rivets every {pitch}, wet-set in sealant: under water a blind rivet leaks. "
                   "Somebody holds the bucking bar outside.", values)  # fmt: skip


def _stiff(laid: Laid) -> Finding:
    section, c = laid.section, laid.c
    if section.stuff.e_gpa is None:
        return Finding("SECTION-STIFF", "look", c.id, "Nobody knows how stiff it is",
                       "The catalogue has no modulus of elasticity for it.", {},
                       "Take the maker's value.")  # fmt: skip
    ei = round(stiffness_of(strips_of(section, section.stuff.e_gpa * 1e9), None).ei)
    values = {"ei": Quantity(ei, "N m²"), "high": Quantity(laid.high, "m", True)}
    work = Working(
        "E I by strips about their own neutral line (Steiner)",
        (Input("E", Quantity(section.stuff.e_gpa, "GPa")), Input("section", Quantity(0, section.name))),
        Quantity(ei, "N m²"), "rules of the trade, “Stringers”",
    )  # fmt: skip
    return Finding("SECTION-STIFF", "fine", c.id, "How stiff it is",
                   "{ei}, {high} high; the bottom, which works with it, is left out.", values,
                   working=work)  # fmt: skip


def _later(laid: Laid, site: Site) -> list[Finding]:
    work = Finding("SECTION-WORK", "look", laid.c.id, "Look what lies on the other side",
                   WELD if laid.c.joined == "welded" else
                   "Ear and eye protection; drill only where nothing lies behind, and deburr both sides.",
                   {})  # fmt: skip
    return [_bends(laid), _joint(laid, site), _stiff(laid), *_bought(laid, site)[1], work]


def _shapes(laid: Laid) -> tuple[Shape, ...]:
    half, last, middle = laid.wide / 2, STATIONS - 1, STATIONS // 2
    marks = range(0, STATIONS, 4)
    plan = [laid.at(0, half, 0), laid.at(last, half, 0), laid.at(last, -half, 0), laid.at(0, -half, 0)]
    side = [laid.at(k, 0.0, 0.0) for k in marks] + [laid.at(k, 0.0, laid.high) for k in reversed(marks)]
    across = [laid.at(middle, s * half, up) for s, up in ((-1, 0), (1, 0), (1, laid.high), (-1, laid.high))]
    return (
        Shape("form-wall", tuple(plan), thin=True),
        Shape("form-wall", tuple(side), view="side", thin=True),
        Shape("form-body", tuple(across), view="across"),
    )  # fmt: skip


def build(c: SectionStringer, site: Site) -> Built:
    """Raises CoreError where there is no bottom under it."""
    laid = lay(c, site.surface, site.catalogue.section(c.section))
    half, last = laid.wide / 2, STATIONS - 1
    bodies = _bodies(laid, list(range(0, STATIONS, 4)))
    ends = [laid.at(k, s * half, 0.0) for k in (0, last) for s in (-1, 1)]
    low, high = float(laid.foot[:, 2].min()), float(laid.foot[:, 2].max()) + laid.high
    whole = Swept(tuple((x, y, z) for x, y, _ in ends for z in (low, high)))

    def end(k: int) -> tuple[Point, Point]:
        return laid.at(k, half, laid.high), laid.at(k, -half, laid.high)

    path = tuple(laid.at(k, 0.0, 0.0) for k in range(0, STATIONS, 4))
    seams = (Seam(c.code, "along the bottom", path, laid.long),) if c.joined == "welded" else ()
    return Built(
        c.id, (), tuple(_members(laid)), tuple(_bought(laid, site)[0]), _shapes(laid),
        (Handle("aft", "x", end(0), "aft end", "aft"), Handle("fore", "x", end(last), "fore end", "fore")),
        (), high,
        solids=(Solid(c.id, "structure", plain(c.name), whole, pieces=tuple(Swept(b) for b in bodies)),),
        later=partial(_later, laid, site), joined="weld" if c.joined == "welded" else "", seams=seams,
    )  # fmt: skip


class SectionStringerKind(Kind[SectionStringer]):
    key, title = "section_stringer", "Stringer of a section"
    choices = SectionStringer
    letter = "J"
    carves = True
    entries = (
        Entry("section_stringer", "Stringer of a metal section", 1, "stiffens a thin bottom; floor bearers "
              "land on it", "longitudinal hat channel tube angle structure aluminium"),
    )  # fmt: skip
    about = (
        "An angle, channel, tube or hat laid along the bottom, straight or splayed, bent to it and told "
        "how far, in lengths of a stick; welded in stitches, or riveted wet. Bulkheads, bearers and decks "
        "are cut round it."
    )

    def extent(self, c: SectionStringer, where: Where) -> Extent:
        known = where.catalogue.entries.get(c.section)
        wide, high = _size(known) if isinstance(known, Section) else UNKNOWN_M
        y0, y1 = sorted(c.ends_y)
        found = bottom_m(where.surface, (c.aft + c.fore) / 2, (y0 + y1) / 2)
        low = float(where.surface.inside.low[2]) if found is None else found
        return Extent((c.aft, c.fore), (y0 - wide / 2, y1 + wide / 2), (low, low + high))

    def shift(self, c: SectionStringer, by: Point) -> list[tuple[Path, float]]:
        out: list[tuple[Path, float]] = []
        if abs(by[0]) > FINE_M / 2:
            ends: list[tuple[Path, float]] = [(("aft",), c.aft + by[0]), (("fore",), c.fore + by[0])]
            out += ends[::-1] if by[0] > 0 else ends
        if abs(by[1]) > FINE_M / 2:
            out.append((("y",), c.y + by[1]))
            if c.y_fore is not None:
                out.append((("y_fore",), c.y_fore + by[1]))
        return out

    def edge_choice(self, edge: str) -> Path | None:
        return (edge,) if edge in ("aft", "fore") else None

    def mirror(self, value: dict[str, Any]) -> None:
        if value.get("y_fore") is not None:
            value["y_fore"] = -value["y_fore"]
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        """The next one outboard, or inboard of one far out."""
        hand = 1.0 if value["y"] >= 0 else -1.0
        by = hand * (0.25 if abs(value["y"]) < 0.3 else -0.25)
        value["y"] = round(value["y"] + by, 4)
        if value.get("y_fore") is not None:
            value["y_fore"] = round(value["y_fore"] + by, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Part of the way out on one side, over the middle of her."""
        surface = placing.surface
        low, high = float(surface.outside.low[0]), float(surface.outside.high[0])
        aft, fore = (low + share * (high - low) for share in FIRST_SHARE[:2])
        room = breadth_at(inside_region(surface, float(surface.inside.low[2]) + 0.14), (aft + fore) / 2)
        if room is None:
            raise CoreError("there is no room along her bottom", "fittings")
        y = placing.at[1] if placing.at else FIRST_SHARE[2] * room[1]
        return {
            "kind": self.key, "id": placing.id("section-stringer"), "name": placing.name("Stringer"),
            "mark": placing.mark(self.letter), "aft": round(aft, 3), "fore": round(fore, 3),
            "y": round(y, 3),
        }  # fmt: skip

    def idle(self, c: SectionStringer, catalogue: Catalogue) -> frozenset[str]:
        return frozenset({"pitch"} if c.joined == "welded" else ())

    def facts(self, c: SectionStringer) -> str:
        return c.joined

    def stands_as(self, c: SectionStringer, surface: HullSurface,
                  catalogue: Catalogue) -> tuple[Obstacle, ...]:  # fmt: skip
        """In stretches, since it follows the bottom."""
        laid = lay(c, surface, catalogue.section(c.section))
        half, out = laid.wide / 2, []
        for a, b in pairwise(range(0, STATIONS, 4)):
            corners = [(a, half), (b, half), (b, -half), (a, -half)]
            ring = [laid.at(k, side, 0.0)[:2] for k, side in corners]
            feet = laid.foot[a : b + 1, 2]
            out.append(Obstacle(c.id, c.name, "stringer", Polygon(ring), float(feet.min()),
                                float(feet.max()) + laid.high))  # fmt: skip
        return tuple(out)

    def build(self, c: SectionStringer, site: Site) -> Built:
        return build(c, site)


KIND = SectionStringerKind()
