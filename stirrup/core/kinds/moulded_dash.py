"""A raised dash or screen base, laminated in a one-off mould of smooth board."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import partial
from typing import Any, Literal

from pydantic import Field
from shapely import box

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Handle, Shape
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site, Sizes, off_centre
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.laminate import SPARE, WET, ClothId, ResinId, consumed, laid, resin, thick_m
from stirrup.core.parts.entries import Cloth
from stirrup.core.parts.model import Bought
from stirrup.core.quantities import Angle, Length
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Swept
from stirrup.core.space.solid import Solid

declare(
    "layout",
    {
        "DASH-MOULD": "the mould of a laminated dash",
        "DASH-CORNERS": "corners and draft of a laminated dash",
        "DASH-SKIN": "how stiff a laminated dash is",
        "DASH-WORK": "cautions of a laminated dash",
    },
    acceptable=True,
    pace="behind",
)

LEAST_RADIUS_M = 0.010  # that cloth lies round, outside
LEAST_DRAFT_DEG = 2.0  # so that it comes out of its mould: working value
GEL_KG_M2 = 0.6  # of gel coat, 0.5 mm: usual value
BOARD_SPARE = 1.15  # of board, cut off and for the stays behind it: working value
SKIN_GPA = 6.5  # chopped strand and resin, by hand
HAND_N, FREE = 300.0, 120.0  # somebody leans on it; share of its span that feels firm: working values


class MouldedDash(FittingBase):
    """Choices for a laminated dash or screen base."""

    kind: Literal["moulded_dash"] = "moulded_dash"
    x: Length = Field(ge=-2, le=40, title="Aft edge, from transom")
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    z: Length = Field(ge=0, le=5, title="Its foot above keel line")
    length: Length = Field(0.40, ge=0.1, le=2, title="Front to back")
    width: Length = Field(1.2, ge=0.2, le=4, title="Across")
    aft_high: Length = Field(0.22, ge=0.03, le=1, title="High at its aft edge")
    fore_high: Length = Field(0.12, ge=0.03, le=1, title="High at its fore edge")
    flange: Length = Field(0.05, ge=0, le=0.2, title="Flange round its foot, wide")
    radius: Length = Field(0.015, ge=0.003, le=0.15, title="Edges rounded by")
    draft: Angle = Field(3.0, ge=0, le=20, title="Draft of its upright faces, degrees")
    cloth: ClothId = Field("csm-450", title="Plies of")
    plies: int = Field(3, ge=1, le=12, title="Plies")
    resin: ResinId = Field("poly-lam", title="Resin")
    gel: bool = Field(True, title="Gel coat first")


@dataclass(frozen=True)
class Face:
    """One face of it: area [m2] and the middle of that [m]."""

    name: str
    area: float
    at: Point
    size: tuple[float, float]


def faces_of(c: MouldedDash) -> list[Face]:
    """Its top, its upright faces and its flange, as flat sheets; draft and rounded edges are left out."""
    a, f, long, wide = c.aft_high, c.fore_high, c.length, c.width
    slope = math.hypot(long, f - a)
    x0, x1, y, z = c.x, c.x + long, c.y, c.z
    # of a trapezoid, from its aft edge and from its foot
    side = long * (a + f) / 2
    along = long * (a + 2 * f) / (3 * (a + f))
    up = (a * a + a * f + f * f) / (3 * (a + f))
    out = [
        Face("top", slope * wide, ((x0 + x1) / 2, y, z + (a + f) / 2), (slope, wide)),
        Face("aft face", a * wide, (x0, y, z + a / 2), (wide, a)),
        Face("fore face", f * wide, (x1, y, z + f / 2), (wide, f)),
        Face("port side", side, (x0 + along, y + wide / 2, z + up), (long, max(a, f))),
        Face("starboard side", side, (x0 + along, y - wide / 2, z + up), (long, max(a, f))),
    ]  # fmt: skip
    if c.flange:
        around = 2 * (long + wide) + 4 * c.flange
        out.append(Face("flange", around * c.flange, ((x0 + x1) / 2, y, z), (around, c.flange)))
    return out


def area_m2(c: MouldedDash) -> float:
    """All that is laminated [m2]."""
    return sum(f.area for f in faces_of(c))


def middle_of(c: MouldedDash) -> Point:
    """Centre of its faces by area: of its laminate."""
    faces, whole = faces_of(c), area_m2(c)
    x, y, z = (sum(f.area * f.at[k] for f in faces) / whole for k in range(3))
    return (x, y, z)


def _bought(c: MouldedDash, site: Site) -> list[Bought]:
    stock, at, area = site.catalogue, middle_of(c), area_m2(c)
    cloth, wet = laid(c, stock, ("cloth", "C", "plies"), c.cloth, area * c.plies * SPARE, at)
    # what is cut off is bought, and is not aboard
    cloth = [replace(b, mass_kg=b.mass_kg / SPARE) for b in cloth]
    out = [*cloth, *resin(c, stock, c.resin, wet / SPARE, at)]
    if c.gel:
        kg = area * GEL_KG_M2
        out.append(consumed(c, ("gel", "G", "gel coat"), stock.find("gelcoat"), kg, kg, at))
    board, wax = stock.find("board-mould"), stock.find("release-wax")
    # the mould stays ashore
    out.append(consumed(c, ("mould", "M", "boards of its mould"), board, area * BOARD_SPARE, 0.0, at))
    out.append(consumed(c, ("wax", "X", "release wax"), wax, 0.1 * area, 0.0, at))
    return out


def _mould(c: MouldedDash) -> Finding:
    rows = tuple(
        row for f in faces_of(c)
        for row in (Input(f"{f.name}, long", Quantity(f.size[0], "m", True)),
                    Input(f"{f.name}, wide", Quantity(f.size[1], "m", True)))
    )  # fmt: skip
    area = area_m2(c)
    work = Working("boards = sum of its faces x 1.15", rows, Quantity(area * BOARD_SPARE, "m2"),
                   "faces inside of the mould")  # fmt: skip
    return Finding("DASH-MOULD", "fine", c.id, "Its mould's boards",
                   "{area} of smooth board, its faces inside as the working lists them, screwed from "
                   "outside so that it comes apart; corners filled to their radius, waxed five times.",
                   {"area": Quantity(area * BOARD_SPARE, "m2")}, working=work)  # fmt: skip


def _corners(c: MouldedDash) -> Finding:
    values = {"radius": Quantity(c.radius, "m", True), "least": Quantity(LEAST_RADIUS_M, "m", True),
              "draft": Quantity(c.draft, "deg"), "most": Quantity(LEAST_DRAFT_DEG, "deg")}  # fmt: skip
    if c.radius < LEAST_RADIUS_M - 1e-9:
        fix = Fix("Round them by {least}", path=("fittings", c.id, "radius"), value=LEAST_RADIUS_M)
        return Finding("DASH-CORNERS", "look", c.id, "Cloth does not lie round its edges",
                       "A radius of {radius} leaves air under the plies; {least} does not.", values,
                       "Round them more.", fixes=(fix,))  # fmt: skip
    if c.draft < LEAST_DRAFT_DEG - 1e-9:
        fix = Fix("Draft of {most}", path=("fittings", c.id, "draft"), value=LEAST_DRAFT_DEG)
        return Finding("DASH-CORNERS", "look", c.id, "It may not come out of its mould",
                       "Its upright faces lean by {draft}; {most} let go.", values,
                       "Give it more draft, or a mould that comes apart.", fixes=(fix,))  # fmt: skip
    return Finding("DASH-CORNERS", "fine", c.id, "It comes out of its mould",
                   "Edges of {radius}, upright faces leaning by {draft}.", values)  # fmt: skip


def bends_m(c: MouldedDash, thick: float) -> float:
    """How far its top bends under somebody who leans on its middle, as a plate held along its edges:
    0.0116 P a² / D of a square of its smaller side [m]. Source: Timoshenko, plates; ν = 0.3."""
    short = min(math.hypot(c.length, c.fore_high - c.aft_high), c.width)
    stiff = SKIN_GPA * 1e9 * thick**3 / (12 * (1 - 0.09))
    return 0.0116 * HAND_N * short**2 / stiff


def _skin(c: MouldedDash, cloth: Cloth) -> Finding:
    thick = thick_m(cloth, c.plies)
    short = min(math.hypot(c.length, c.fore_high - c.aft_high), c.width)
    bends = bends_m(c, thick)
    values = {"thick": Quantity(thick, "m", True), "bends": Quantity(bends, "m", True),
              "most": Quantity(short / FREE, "m", True), "count": Quantity(c.plies, "count")}  # fmt: skip
    work = Working(
        "w = 0.0116 P a² / D, D = E t³ / 12 (1 - ν²)",
        (Input("P", Quantity(HAND_N, "N"), "somebody leans on it"), Input("a", Quantity(short, "m")),
         Input("t", Quantity(thick, "m", True), f"{c.plies} plies"), Input("E", Quantity(SKIN_GPA, "GPa"))),
        Quantity(bends, "m", True), "plates by Timoshenko; a screening",
    )  # fmt: skip
    text = "{count} plies are {thick} thick; under a hand on its top it bends {bends}, {most} feel firm."
    if bends <= short / FREE:
        return Finding("DASH-SKIN", "fine", c.id, "Firm enough to lean on", text, values, working=work)
    more = c.plies
    while more < 12 and bends_m(c, thick_m(cloth, more)) > short / FREE:
        more += 1
    values["more"] = Quantity(more, "count")
    fixes = () if bends_m(c, thick_m(cloth, more)) > short / FREE else (
        Fix("{more} plies", path=("fittings", c.id, "plies"), value=more),)  # fmt: skip
    return Finding("DASH-SKIN", "look", c.id, "It gives under a hand", text, values,
                   "More plies, a core of foam under its top, or a stay below it. Double it under "
                   "instruments and the screen's feet.", work, fixes=fixes)  # fmt: skip


def _later(c: MouldedDash, site: Site) -> list[Finding]:
    cloth = site.catalogue.find(c.cloth)
    work = Finding("DASH-WORK", "look", c.id, "Air, gloves, and no spark", WET, {})
    skin = [_skin(c, cloth)] if isinstance(cloth, Cloth) else []
    return [_mould(c), _corners(c), *skin, work]


def build(c: MouldedDash, site: Site) -> Built:
    """Laminate, gel coat, and the boards of its mould."""
    x0, x1, half = c.x, c.x + c.length, c.width / 2
    y0, y1, z = c.y - half, c.y + half, c.z
    side = ((x0, z), (x1, z), (x1, z + c.fore_high), (x0, z + c.aft_high))
    body = Swept(tuple((x, y, h) for y in (y0, y1) for x, h in side))
    edge: tuple[Point, Point] = ((x0, y0, z + c.aft_high), (x0, y1, z + c.aft_high))
    across = ((x0, y0, z), (x0, y1, z), (x0, y1, z + c.aft_high), (x0, y0, z + c.aft_high))
    top = max(c.aft_high, c.fore_high)
    return Built(
        c.id, (), (), tuple(_bought(c, site)),
        (Shape("form-body", ((x0, y0, z + top), (x1, y0, z + top), (x1, y1, z + top), (x0, y1, z + top))),
         Shape("form-body", tuple((x, c.y, h) for x, h in side), view="side"),
         Shape("form-body", across, view="across")),
        (Handle("x", "x", edge, "aft edge", "aft"),), top_m=z + top, region=box(x0, y0, x1, y1),
        solids=(Solid(c.id, "structure", plain(c.name), body),), later=partial(_later, c, site),
        joined="laminate",
    )  # fmt: skip


class MouldedDashKind(Kind[MouldedDash]):
    key, title = "moulded_dash", "Dash or screen base, laminated"
    choices = MouldedDash
    letter = "Q"
    entries = (
        Entry("moulded_dash", "Raised dash or screen base, laminated", 3, "on a deck or a console: before "
              "screen, wheel and instruments", "mould fiberglass cowling"),
    )  # fmt: skip
    about = (
        "A hollow base under a screen or a raised dash, laid up in a mould of smooth board that is made "
        "for it: boards of the mould by its faces, gel coat, plies and resin, with its mass and centre by "
        "its faces; corners, draft and how firm it is are told. The mould costs, and stays ashore."
    )

    def extent(self, c: MouldedDash, where: Where) -> Extent:
        top = c.z + max(c.aft_high, c.fore_high)
        return Extent((c.x, c.x + c.length), (c.y - c.width / 2, c.y + c.width / 2), (c.z, top))

    def shift(self, c: MouldedDash, by: Point) -> list[tuple[Path, float]]:
        places = ((0, "x", c.x), (1, "y", c.y), (2, "z", c.z))
        return [((f,), v + by[k]) for k, f, v in places if abs(by[k]) > FINE_M / 2]

    def sizes(self, c: MouldedDash) -> Sizes:
        return Sizes((None, ("width",), None), (None, ("y",), None))

    def mirror(self, value: dict[str, Any]) -> None:
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        value["x"] = round(value["x"] + value["length"] + 0.1, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """On whatever is there, forward of the middle; or where it was put."""
        x, y, z = placing.spot((0.4, 1.0, 0.25), 0.6, 0.0, False)
        return {
            "kind": self.key, "id": placing.id("dash"), "name": placing.name("Dash"),
            "mark": placing.mark(self.letter), "x": round(x - 0.2, 3), "y": round(y, 3), "z": round(z, 3),
            "width": 1.0,
        }  # fmt: skip

    def facts(self, c: MouldedDash) -> str:
        return f"{c.plies} plies"

    def build(self, c: MouldedDash, site: Site) -> Built:
        return build(c, site)


KIND = MouldedDashKind()
