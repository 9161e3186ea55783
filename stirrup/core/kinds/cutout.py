"""A piece that was cut out of a floor or a liner and goes back in: on a rim, bedded, glassed over."""

from __future__ import annotations

from functools import partial
from itertools import pairwise
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator
from shapely import box
from shapely.geometry import Polygon

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Shape
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site, Sizes, off_centre
from stirrup.core.contract.ways import Way, ways
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Fix, Quantity, declare, plain
from stirrup.core.fittings.crate import rectangle
from stirrup.core.fittings.edges import largest
from stirrup.core.fittings.laminate import WET, ClothId, ResinId, consumed, laid, resin, tabs_m2
from stirrup.core.fittings.stock import SheetId
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Cloth, Resin
from stirrup.core.parts.model import Bought, Frame, Panel, panel_rings
from stirrup.core.quantities import Length
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare(
    "layout",
    {
        "CUTOUT-RIM": "what a piece that goes back in lies on",
        "CUTOUT-EDGE": "edges of a piece that goes back in",
        "CUTOUT-WORK": "cautions of a piece that goes back in",
    },
    acceptable=True,
    pace="behind",
)

LEAST_LAP_M = 0.025  # of the piece on its rim: usual value
LEAST_CORNER_M = 0.05  # a sharper corner starts a crack
MOST_GAP_M = 0.006  # that putty bridges: working value
BED_M = 0.003  # of putty on the rim
TAPER = 12.0  # of a thickness, ground on either side of the joint
SHORTEST_M = 0.10

PIECES = ways(
    Way("the old one", "nothing to buy and it fits; what was wet in it comes back with it"),
    Way("a new one", "sound and flat; it is cut, and matched in thickness"),
)


class Cutout(FittingBase):
    """Choices for a piece that goes back in."""

    kind: Literal["cutout"] = "cutout"
    x: Length = Field(ge=-2, le=40, title="Middle, from transom")
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    z: Length = Field(ge=0, le=5, title="Upper face above keel line")
    length: Length = Field(0.6, ge=0.15, le=6, title="Hole, along")
    width: Length = Field(0.4, ge=0.15, le=4, title="Hole, across")
    corner: Length = Field(0.06, ge=0, le=0.5, title="Corner radius")
    piece: Annotated[Literal["the old one", "a new one"], PIECES] = Field(
        "the old one", title="What goes back"
    )
    skin: SheetId = Field(
        "ply-12", title="Sheet", description="of a new piece; its thickness of an old one"
    )
    gap: Length = Field(0.003, ge=0.0005, le=0.02, title="Gap all round", description="the saw's cut")
    pieces: int = Field(1, ge=1, le=4, title="In so many pieces")
    backing: Length = Field(0.08, ge=0.02, le=0.3, title="Rim under its edge, wide")
    rim: SheetId = Field("ply-12", title="Rim of")
    tape: ClothId = Field("tape-150", title="Glassed over with")
    plies: int = Field(2, ge=1, le=8, title="Plies over the joint")
    resin: ResinId = Field("epoxy-medium", title="Resin")

    @model_validator(mode="after")
    def _possible(self) -> Cutout:
        if 2 * self.corner > min(self.length, self.width) + 1e-9:
            raise ValueError(
                f"corner: read {self.corner:g} m; accepted: at most half of its smaller side, "
                f"{min(self.length, self.width) / 2:g} m"
            )
        if self.length / self.pieces < SHORTEST_M:
            raise ValueError(f"pieces: read {self.pieces}; accepted: none shorter than {SHORTEST_M:g} m")
        return self

    @property
    def hole(self) -> Polygon:
        """In plan, corners rounded."""
        a, b, r = self.length / 2, self.width / 2, self.corner
        sharp = box(self.x - a, self.y - b, self.x + a, self.y + b)
        r = min(r, a - 1e-6, b - 1e-6)
        return largest(sharp.buffer(-r, join_style="mitre").buffer(r, quad_segs=8)) if r > FINE_M else sharp

    @property
    def joints(self) -> list[float]:
        """x of the joints between its pieces [m]."""
        step = self.length / self.pieces
        return [self.x - self.length / 2 + k * step for k in range(1, self.pieces)]


def outlines(c: Cutout) -> list[Polygon]:
    """Its pieces in plan, a gap off the hole and off one another, from aft."""
    whole = c.hole.buffer(-c.gap, join_style="mitre")
    ends = [c.x - c.length, *c.joints, c.x + c.length]
    return [
        largest(whole.intersection(box(a + c.gap / 2, -20, b - c.gap / 2, 20))) for a, b in pairwise(ends)
    ]


def _strip(c: Cutout, site: Site, number: int, word: str, at: tuple[float, float],
           size: tuple[float, float]) -> Panel:  # fmt: skip
    """A strip of the rim, under the piece's lower face."""
    rim = site.catalogue.sheet(c.rim)
    z = c.z - site.catalogue.sheet(c.skin).thickness - BED_M - rim.thickness / 2
    return Panel(f"{c.id}/rim/{number}", f"{c.code}-M{number}", f"{c.name}, rim {word}", c.id, rim,
                 rectangle(*size), (), Frame((*at, z)), (0, 90, 180, 270))  # fmt: skip


def _panels(c: Cutout, site: Site) -> list[Panel]:
    sheet, out = site.catalogue.sheet(c.skin), []
    if c.piece == "a new one":
        for k, shape in enumerate(outlines(c), start=1):
            middle = shape.centroid
            outline, holes = panel_rings(Polygon([(u - middle.x, v - middle.y)
                                                  for u, v in shape.exterior.coords[:-1]]))  # fmt: skip
            turns = (0, 180) if sheet.stuff.kind == "wood" else (0, 90, 180, 270)
            suffix, word = (str(k), f", piece {k}") if c.pieces > 1 else ("", "")
            out.append(Panel(f"{c.id}/piece/{k}", f"{c.code}-P{suffix}", f"{c.name}{word}", c.id, sheet,
                             outline, holes, Frame((middle.x, middle.y, c.z - sheet.thickness / 2)),
                             turns))  # fmt: skip
    a, b, w = c.length / 2, c.width / 2, c.backing
    rows = [
        ("port", (c.x, c.y + b), (c.length + w, w)),
        ("starboard", (c.x, c.y - b), (c.length + w, w)),
        ("aft", (c.x - a, c.y), (w, c.width - w)),
        ("fore", (c.x + a, c.y), (w, c.width - w)),
    ]
    rows += [(f"under joint {k}", (x, c.y), (w, c.width - w)) for k, x in enumerate(c.joints, start=1)]
    return out + [_strip(c, site, n, word, at, size) for n, (word, at, size) in enumerate(rows, start=1)
                  if min(size) > 0.01]  # fmt: skip


def joint_m(c: Cutout) -> float:
    """Length of its joints: round the hole, and between its pieces [m]."""
    return float(c.hole.exterior.length) + len(c.joints) * c.width


def _bought(c: Cutout, site: Site) -> list[Bought]:
    stock, at = site.catalogue, (c.x, c.y, c.z)
    putty, tape, out = stock.find("putty-structural"), stock.find(c.tape), []
    if isinstance(putty, Resin):
        sheet = stock.sheet(c.skin)
        kg = joint_m(c) * (c.backing * BED_M + c.gap * sheet.thickness) * putty.density
        out.append(consumed(c, ("bed", "B", "bed and filled gap"), putty, kg, kg, at))
    area = tabs_m2(tape, c.plies, joint_m(c)) if isinstance(tape, Cloth) else 0.0
    cloth, wet = laid(c, stock, ("tape", "T", "glass over the joint"), c.tape, area, at)
    return [*out, *cloth, *resin(c, stock, c.resin, wet, at)]


def _rim(c: Cutout) -> Finding:
    lap = c.backing / 2 - c.gap
    values = {"lap": Quantity(max(lap, 0.0), "m", True), "least": Quantity(LEAST_LAP_M, "m", True)}
    if lap >= LEAST_LAP_M - 1e-9:
        return Finding("CUTOUT-RIM", "fine", c.id, "It lies on its rim",
                       "{lap} of its edge lie on the rim, as much of the old edge is glued to it. Glue the "
                       "rim in from below, drawn up by screws that come out again.", values)  # fmt: skip
    wide = round(2 * (LEAST_LAP_M + c.gap), 3)
    fix = Fix("A rim of {wide}", path=("fittings", c.id, "backing"), value=wide)
    return Finding("CUTOUT-RIM", "mend", c.id, "Its edge hardly lies on anything",
                   "{lap} of its edge lie on the rim; {least} carry somebody who steps on it.",
                   {**values, "wide": Quantity(wide, "m", True)}, "Make the rim wider.",
                   fixes=(fix,))  # fmt: skip


def _edge(c: Cutout, thick: float) -> Finding:
    values = {"corner": Quantity(c.corner, "m", True), "round": Quantity(LEAST_CORNER_M, "m", True),
              "gap": Quantity(c.gap, "m", True), "most": Quantity(MOST_GAP_M, "m", True),
              "taper": Quantity(TAPER * thick, "m", True), "plies": Quantity(c.plies, "count"),
              "long": Quantity(joint_m(c), "m")}  # fmt: skip
    if c.corner < LEAST_CORNER_M - 1e-9:
        fix = Fix("Round its corners by {round}", path=("fittings", c.id, "corner"), value=LEAST_CORNER_M)
        return Finding("CUTOUT-EDGE", "look", c.id, "Its corners are sharp",
                       "A radius of {corner} cracks through the glass over it; {round} does not.", values,
                       "Round them, of the hole and of the piece.", fixes=(fix,))  # fmt: skip
    if c.gap > MOST_GAP_M + 1e-9:
        return Finding("CUTOUT-EDGE", "look", c.id, "A wide gap round it",
                       "{gap}, and putty bridges {most}.", values,
                       "Glue strips to its edges, or cut a new piece.")  # fmt: skip
    return Finding("CUTOUT-EDGE", "fine", c.id, "How its joint is closed",
                   "{long} of joint: both edges ground back over {taper}, the gap of {gap} filled, {plies} "
                   "plies over it, the widest last; fair it when it is cured.", values)  # fmt: skip


def _later(c: Cutout, thick: float) -> list[Finding]:
    work = Finding("CUTOUT-WORK", "look", c.id, "Look under it before it is closed",
                   f"Wires, hoses and drains under it checked, foam put back, its own underside sealed. "
                   f"{WET}",
                   {})  # fmt: skip
    return [_rim(c), _edge(c, thick), work]


def build(c: Cutout, site: Site) -> Built:
    """Pieces, rim, bed and glass."""
    thick = site.catalogue.sheet(c.skin).thickness
    ring = tuple((float(u), float(v), c.z) for u, v in c.hole.exterior.coords[:-1])
    a, b, low = c.length / 2, c.width / 2, c.z - thick
    side = ((c.x - a, c.y, low), (c.x + a, c.y, low), (c.x + a, c.y, c.z), (c.x - a, c.y, c.z))
    across = ((c.x, c.y - b, low), (c.x, c.y + b, low), (c.x, c.y + b, c.z), (c.x, c.y - b, c.z))
    solid = Solid(c.id, "structure", plain(c.name), Prism(c.hole, low, c.z))
    joints = tuple(
        Shape("form-line", ((x, c.y - b, c.z), (x, c.y + b, c.z)), closed=False) for x in c.joints
    )
    return Built(
        c.id, tuple(_panels(c, site)), (), tuple(_bought(c, site)),
        (Shape("form-line", ring), *joints, Shape("form-line", side, view="side"),
         Shape("form-line", across, view="across")),
        top_m=c.z, region=c.hole, solids=(solid,), later=partial(_later, c, thick), joined="laminate",
    )  # fmt: skip


class CutoutKind(Kind[Cutout]):
    key, title = "cutout", "Cut-out put back"
    choices = Cutout
    letter = "U"
    entries = (
        Entry("cutout", "Piece cut out and put back", 2, "of a moulded floor or liner that was opened to "
              "get at what lies under it", "subfloor cap sole repair patch opening"),
    )  # fmt: skip
    about = (
        "What was cut out of a floor or a liner goes back in, or a new piece in its place, in one or in "
        "parts: a rim glued under the edge, a bed of putty, the gap filled, plies over the joint ground to "
        "a taper."
    )

    def extent(self, c: Cutout, where: Where) -> Extent:
        t = where.catalogue.thickness_m(c.skin)
        return Extent((c.x - c.length / 2, c.x + c.length / 2), (c.y - c.width / 2, c.y + c.width / 2),
                      (c.z - t, c.z))  # fmt: skip

    def shift(self, c: Cutout, by: Point) -> list[tuple[Path, float]]:
        places = ((0, "x", c.x), (1, "y", c.y), (2, "z", c.z))
        return [((f,), v + by[k]) for k, f, v in places if abs(by[k]) > FINE_M / 2]

    def sizes(self, c: Cutout) -> Sizes:
        return Sizes((("length",), ("width",), None), (("x",), ("y",), None))

    def mirror(self, value: dict[str, Any]) -> None:
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        value["x"] = round(value["x"] + value["length"] + 0.1, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Where it was put, or amidships, a hand over the bottom."""
        x, y, z = placing.spot((0.6, 0.4, 0.03), 0.4, 0.0, True)
        return {
            "kind": self.key, "id": placing.id("cutout"), "name": placing.name("Cut-out"),
            "mark": placing.mark(self.letter), "x": round(x, 3), "y": round(y, 3), "z": round(z + 0.05, 3),
        }  # fmt: skip

    def idle(self, c: Cutout, catalogue: Catalogue) -> frozenset[str]:
        return frozenset()

    def facts(self, c: Cutout) -> str:
        return c.piece

    def build(self, c: Cutout, site: Site) -> Built:
        return build(c, site)


KIND = CutoutKind()
