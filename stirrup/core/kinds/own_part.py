"""A part of one's own: a rectangle, or an outline out of a file, cut with all others, put in the boat."""

from __future__ import annotations

from functools import partial
from typing import Any, Literal

from pydantic import Field, model_validator
from shapely import affinity, box
from shapely.geometry import Polygon

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Shape
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site, Sizes, off_centre
from stirrup.core.cutting.own_outline import Holes, Outline, check_outline
from stirrup.core.document import Point
from stirrup.core.findings import Finding, declare, plain
from stirrup.core.fittings.stock import SheetId
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.model import Frame, Panel, panel_rings
from stirrup.core.quantities import Length
from stirrup.core.space.shapes import Swept
from stirrup.core.space.solid import Solid

declare(
    "layout",
    {"OWN-PART": "what is known of a part of one's own"},
    acceptable=True,
    pace="behind",
)

LEAST_M, BESIDE_M = 0.01, 0.1
FACING: dict[str, tuple[Point, Point]] = {
    "level": ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0)),
    "across her": ((0.0, 1.0, 0.0), (0.0, 0.0, 1.0)),
    "along her": ((1.0, 0.0, 0.0), (0.0, 0.0, 1.0)),
}


class OwnPart(FittingBase):
    """Choices for a part of one's own."""

    kind: Literal["own_part"] = "own_part"
    x: Length = Field(ge=-2, le=40, title="Middle, from transom")
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    z: Length = Field(ge=-1, le=5, title="Middle above keel line")
    faces: Literal["level", "across her", "along her"] = Field("level", title="It lies or stands")
    width: Length = Field(0.30, ge=LEAST_M, le=20, title="Long")
    height: Length = Field(0.20, ge=LEAST_M, le=20, title="Wide, or high")
    outline: Outline = Field((), description="of one that is no rectangle, from (0, 0) on [m]")
    holes: Holes = ()
    skin: SheetId = Field("ply-12", title="Sheet")
    count: int = Field(1, ge=1, le=20, title="So many, one on the other")
    turns: Literal["as its grain runs", "any way"] = Field("as its grain runs", title="It may be cut")
    flip: bool = Field(False, title="Either face may be the good one")

    @model_validator(mode="after")
    def _closed(self) -> OwnPart:
        if self.outline:
            check_outline(self.outline, self.holes, (self.width, self.height))
        elif self.holes:
            raise ValueError("holes: accepted with an outline")
        return self

    @property
    def shape(self) -> Polygon:
        """About its middle, in its own axes [m]."""
        a, b = self.width / 2, self.height / 2
        if not self.outline:
            return box(-a, -b, a, b)
        return affinity.translate(Polygon(self.outline, self.holes), -a, -b)


def _at(c: OwnPart, u: float, v: float, off: float = 0.0) -> Point:
    (ax, ay, az), (bx, by, bz) = FACING[c.faces]
    normal = (ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx)
    x, y, z = (m + u * a + v * b + off * n
               for m, a, b, n in zip((c.x, c.y, c.z), *FACING[c.faces], normal, strict=True))  # fmt: skip
    return (x, y, z)


def _offsets(c: OwnPart, thick: float) -> list[float]:
    return [(k - (c.count - 1) / 2) * thick for k in range(c.count)]


def _later(c: OwnPart) -> list[Finding]:
    return [Finding("OWN-PART", "look", c.id, "Nobody but you knows how it is fastened",
                    "Its sheet, its mass and its place are counted; screws, glue and sealant for it are "
                    "not bought.", {}, "Add what holds it to what you order.")]  # fmt: skip


def build(c: OwnPart, site: Site) -> Built:
    """Its panels, one on the other."""
    sheet = site.catalogue.sheet(c.skin)
    outline, holes = panel_rings(c.shape)
    along, across = FACING[c.faces]
    turns = (0, 90, 180, 270) if c.turns == "any way" or sheet.stuff.kind == "metal" else (0, 180)
    panels = []
    for k, off in enumerate(_offsets(c, sheet.thickness), start=1):
        suffix, word = (str(k), f", {k}") if c.count > 1 else ("", "")
        panels.append(Panel(f"{c.id}/piece/{k}", f"{c.code}-P{suffix}", f"{c.name}{word}", c.id,
                            sheet, outline, holes, Frame(_at(c, 0.0, 0.0, off), along, across), turns,
                            c.flip))  # fmt: skip
    half = c.count * sheet.thickness / 2
    x0, y0, x1, y1 = c.shape.bounds
    corners = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
    body = Swept(tuple(_at(c, u, v, s * half) for s in (-1.0, 1.0) for u, v in corners))
    ring = tuple(_at(c, u, v) for u, v in list(c.shape.exterior.coords)[:-1])
    shapes = tuple(
        Shape("form-body", ring, view=view, thin=FACING_VIEW[c.faces] != view)
        for view in ("plan", "side", "across")
    )
    return Built(
        c.id, tuple(panels), shapes=shapes, top_m=max(p[2] for p in ring),
        solids=(Solid(c.id, "structure", plain(c.name), body),), later=partial(_later, c),
    )  # fmt: skip


FACING_VIEW = {"level": "plan", "across her": "across", "along her": "side"}  # in which it is seen whole


class OwnPartKind(Kind[OwnPart]):
    key, title = "own_part", "Part of your own"
    choices = OwnPart
    letter = "O"
    entries = (
        Entry("own_part", "A part of your own", 2, "a rectangle or an outline from a file, cut from the "
              "same sheets", "bracket jig template outline dxf svg panel custom"),
    )  # fmt: skip
    about = (
        "What no other thing here is: a bracket, a jig, a shelf. A rectangle, or an outline with holes out "
        "of a DXF or SVG file (Cuts, “Outlines from a file”). It lies level or stands across or along the "
        "boat; it is weighed where it is and laid out on the same sheets as everything else."
    )

    def extent(self, c: OwnPart, where: Where) -> Extent:
        half = c.count * where.catalogue.thickness_m(c.skin) / 2
        points = [_at(c, u * c.width / 2, v * c.height / 2, s * half)
                  for u in (-1, 1) for v in (-1, 1) for s in (-1, 1)]  # fmt: skip
        (x0, x1), (y0, y1), (z0, z1) = ((min(axis), max(axis)) for axis in zip(*points, strict=True))
        return Extent((x0, x1), (y0, y1), (z0, z1))

    def shift(self, c: OwnPart, by: Point) -> list[tuple[Path, float]]:
        places = ((0, "x", c.x), (1, "y", c.y), (2, "z", c.z))
        return [((f,), v + by[k]) for k, f, v in places if abs(by[k]) > FINE_M / 2]

    def sizes(self, c: OwnPart) -> Sizes:
        """Of a rectangle; an outline is what it is."""
        long, wide = (None, None) if c.outline else (("width",), ("height",))
        each = {"level": (long, wide, None), "across her": (None, long, wide),
                "along her": (long, None, wide)}[c.faces]  # fmt: skip
        return Sizes(each, (("x",), ("y",), ("z",)))

    def mirror(self, value: dict[str, Any]) -> None:
        """What is level or stands across her is the other way round on the other side."""
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")
        axis, far = {"level": (1, value["height"]), "across her": (0, value["width"])}.get(
            value["faces"], (-1, 0.0)
        )
        if axis < 0 or not value.get("outline"):
            return

        def turned(ring: list[list[float]]) -> list[list[float]]:
            return [
                [round(far - v, 5) if k == axis else v for k, v in enumerate(p)] for p in reversed(ring)
            ]

        value["outline"] = turned(value["outline"])
        value["holes"] = [turned(h) for h in value.get("holes", [])]

    def put_beside(self, value: dict[str, Any]) -> None:
        value["x"] = round(value["x"] + value["width"] + BESIDE_M, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Level where it was put, or amidships, over what is there."""
        x, y, z = placing.spot((0.3, 0.2, 0.03), 0.4, 0.0, True)
        return {
            "kind": self.key, "id": placing.id("own-part"), "name": placing.name("Own part"),
            "mark": placing.mark(self.letter), "x": round(x, 3), "y": round(y, 3),
            "z": round(z + 0.02, 3),
        }  # fmt: skip

    def idle(self, c: OwnPart, catalogue: Catalogue) -> frozenset[str]:
        return frozenset({"outline", "holes", *(("width", "height") if c.outline else ())})

    def facts(self, c: OwnPart) -> str:
        return "from a file" if c.outline else "a rectangle"

    def build(self, c: OwnPart, site: Site) -> Built:
        return build(c, site)


KIND = OwnPartKind()
