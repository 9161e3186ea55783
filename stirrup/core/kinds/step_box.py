"""Step box: one step up, built like a crate over corner posts; under a hinged lid it takes gear.

Walls fore and aft reach from side to side, those at the sides lie between them, the top lies on all
four. Without a lid cleats along both long walls hold the top; with one they hold a bottom instead.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import Field
from shapely.geometry import Point as FlatPoint
from shapely.geometry import Polygon, box

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Bolts, Built, Floor, Foot, Hold, Marked, Shape
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site, Sizes, off_centre
from stirrup.core.document import Id, Point, Point2, ThingRef
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Quantity, declare, plain
from stirrup.core.fittings.cover import covered
from stirrup.core.fittings.joints import SCREW_BITE_M, Joint, held, mean_place
from stirrup.core.fittings.stock import CoverId, SheetId
from stirrup.core.hull.bottom import bottom_m, highest_m
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.parts.catalogue import Catalogue, count_at_pitch
from stirrup.core.parts.entries import Section, Sheet
from stirrup.core.parts.model import Bought, Frame, Member, Panel
from stirrup.core.quantities import Length
from stirrup.core.space.room import Room, lid_sweep
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare("layout", {"BOX-FOOT": "how it stands"})

POST = "angle-25x25x3"
PITCH_M = 0.075  # between fasteners: working value
CLEAT_SHORT_M = 0.06  # a cleat ends before the corner posts: 25 mm of post and 5 mm of play each
HINGE_SHORTER_M = 0.02
BRACKETS, IN_BRACKET = 4, 4
EVEN_M = 0.005  # what its foot rocks less than this is packed
BESIDE_M = 0.15  # between a box and its copy


class StepBox(FittingBase):
    """Choices for a step box."""

    kind: Literal["step_box"] = "step_box"
    on: Annotated[Id | None, ThingRef("floor", "stands on")] = Field(
        None, title="Stands on", description="empty: the bottom of the boat"
    )
    x: Length = Field(ge=-2, le=40, title="Middle, from transom")
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    length: Length = Field(0.35, ge=0.1, le=2, title="Top, along")
    width: Length = Field(0.45, ge=0.1, le=2, title="Top, across")
    height: Length = Field(0.20, ge=0.05, le=0.6, title="Height", description="over what it stands on")
    skin: SheetId = Field("al-2.5", title="Sheet")
    lid: bool = Field(False, title="Top is a hinged lid")
    held: Literal["loose", "bracketed down"] = Field("bracketed down", title="Held")
    cover: CoverId = Field("non-skid", title="Cover of its top")

    @property
    def corners(self) -> tuple[Point2, ...]:
        """Of its foot in plan, counterclockwise from aft to starboard."""
        a, b = self.length / 2, self.width / 2
        x, y = self.x, self.y
        return ((x - a, y - b), (x + a, y - b), (x + a, y + b), (x - a, y + b))


@dataclass(frozen=True)
class _Box:
    """A step box where it stands: its foot [m], its sheet's thickness, the room inside."""

    c: StepBox
    foot: float
    sheet: Sheet
    post: Section
    catalogue: Catalogue

    @property
    def t(self) -> float:
        return self.sheet.thickness

    @property
    def metal(self) -> bool:
        return self.sheet.stuff.kind == "metal"

    @property
    def top(self) -> float:
        return self.foot + self.c.height

    @property
    def wall(self) -> float:
        """Height of its walls."""
        return self.c.height - self.t


def _foot_m(c: StepBox, surface: HullSurface, host_top: float | None) -> float:
    """Height at which it stands. Raises CoreError outside of the boat."""
    foot = host_top if host_top is not None else highest_m(surface, c.corners)
    if foot is None:
        raise CoreError("there is nothing to stand on there", f"fittings.{c.id}.x")
    return foot


def _flat(b: _Box, key: str, code: str, word: str, size: Point2, at: Point, across: bool = True,
          upright: bool = False) -> Panel:  # fmt: skip
    """A rectangular panel about its middle: level, or upright along or across the boat."""
    c, long, wide = b.c, size[0] / 2, size[1] / 2
    frame = Frame(at)
    if upright:
        frame = Frame(at, (0.0, 1.0, 0.0) if across else (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    turns = (0, 90, 180, 270) if b.metal else (0, 180)
    ring = ((-long, -wide), (long, -wide), (long, wide), (-long, wide))
    return Panel(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, b.sheet, ring, (), frame,
                 turns)  # fmt: skip


def _panels(b: _Box) -> list[Panel]:
    c, t = b.c, b.t
    middle, half = b.foot + b.wall / 2, c.length / 2 - t / 2
    between = c.length - 2 * t
    out = [
        _flat(b, "top", "L" if c.lid else "T", "lid" if c.lid else "top", (c.length, c.width),
              (c.x, c.y, b.top - t / 2)),
        _flat(b, "aft", "A", "aft wall", (c.width, b.wall), (c.x - half, c.y, middle), upright=True),
        _flat(b, "fore", "F", "fore wall", (c.width, b.wall), (c.x + half, c.y, middle), upright=True),
    ]  # fmt: skip
    for key, code, side in (("port", "P", 1), ("starboard", "S", -1)):
        y = c.y + side * (c.width / 2 - t / 2)
        out.append(_flat(b, key, code, f"{key} wall", (between, b.wall), (c.x, y, middle), False, True))
    if c.lid:
        inside = (between, c.width - 2 * t)
        out.append(_flat(b, "bottom", "B", "bottom", inside, (c.x, c.y, b.foot + _rise(b) + t / 2)))
    return out


def _rise(b: _Box) -> float:
    """How high over its foot the bottom lies: on the cleats' legs."""
    return b.post.a


def _members(b: _Box) -> list[Member]:
    """Four posts in its corners, and a cleat along the fore and the aft wall."""
    c, t = b.c, b.t
    out = []
    inner = (c.length / 2 - t, c.width / 2 - t)
    for k, (along, side) in enumerate(((-1, 1), (-1, -1), (1, 1), (1, -1)), 1):
        x, y = c.x + along * inner[0], c.y + side * inner[1]
        out.append(
            Member(f"{c.id}/post/{k}", f"{c.code}-V{k}", f"{c.name}, corner post {k}", c.id, b.post, b.wall,
                   ((x, y, b.foot), (x, y, b.foot + b.wall)))
        )  # fmt: skip
    long = c.width - 2 * t - CLEAT_SHORT_M
    z = b.foot + _rise(b) if c.lid else b.top - t
    for k, along in ((1, -1), (2, 1)):
        x = c.x + along * inner[0]
        out.append(
            Member(f"{c.id}/cleat/{k}", f"{c.code}-X{k}", f"{c.name}, cleat {k}", c.id, b.post, long,
                   ((x, c.y + long / 2, z), (x, c.y - long / 2, z)))
        )  # fmt: skip
    return out


def _joints(b: _Box, members: Sequence[Member]) -> list[Joint]:
    """Posts and cleats to sheets; a lid's hinge; the brackets that hold it down."""
    c, leg, metal = b.c, b.post.t, b.metal
    style: Literal["rivet", "screw"] = "rivet" if metal else "screw"
    layers = (("sheet", b.t), ("angle", leg), *(() if metal else (("screw point", SCREW_BITE_M),)))
    rows = 2 * sum(count_at_pitch(m.length, PITCH_M) for m in members)  # each leg of each member
    out = [Joint("frame", "Sheets to posts and cleats", mean_place(members), style, layers, rows)]
    if c.lid:
        hinge = b.catalogue.plain("hinge-piano")
        out.append(
            Joint("hinge", "Hinge to lid and wall", _hinge_at(b), style,
                  (("sheet", b.t), ("hinge", hinge.thickness)),
                  2 * count_at_pitch(_hinge_run(c), hinge.pitch))
        )  # fmt: skip
    if c.held != "loose":
        bracket = b.catalogue.plain("bracket-40")
        out.append(
            Joint("bracket", "Brackets to walls and floor", (c.x, c.y, b.foot), style,
                  (("bracket", bracket.thickness), ("sheet", b.t)), BRACKETS * IN_BRACKET)
        )  # fmt: skip
    return out


def _hinge_run(c: StepBox) -> float:
    return c.width - HINGE_SHORTER_M


def _hinge_at(b: _Box) -> Point:
    return (b.c.x + b.c.length / 2, b.c.y, b.top)


def _joined(b: _Box, members: Sequence[Member]) -> tuple[list[Bought], list[Finding]]:
    """Hinge, brackets, fasteners and cover, and whether the fasteners grip."""
    c, bought = b.c, []
    if c.lid:
        hinge, run = b.catalogue.plain("hinge-piano"), _hinge_run(c)
        bought.append(Bought(f"{c.id}/hinge", f"{c.code}-H", f"{c.name}, hinge", c.id, hinge, run,
                             run * hinge.mass, _hinge_at(b)))  # fmt: skip
    if c.held != "loose":
        bracket = b.catalogue.plain("bracket-40")
        bought.append(Bought(f"{c.id}/brackets", f"{c.code}-K", f"{c.name}, brackets", c.id, bracket,
                             BRACKETS, BRACKETS * bracket.mass, (c.x, c.y, b.foot)))  # fmt: skip
    rows = [held(c, joint, b.catalogue) for joint in _joints(b, members)]
    bought += [part for parts, _ in rows for part in parts]
    if c.cover != "none":
        bought += covered(c, b.catalogue, c.cover, c.length * c.width, (c.x, c.y, b.top))
    return bought, [finding for _, finding in rows]


def _rocks(c: StepBox, site: Site, foot: float) -> list[Finding]:
    """Whether it stands on an even floor."""
    if site.host is not None:
        region = site.host.floors[0].region if site.host.floors else Polygon()
        if region.covers(Polygon(c.corners)):
            return [Finding("BOX-FOOT", "fine", c.id, "Stands flat", "All of its foot is on its floor.")]
        return [
            Finding("BOX-FOOT", "mend", c.id, "Stands past the edge of its floor",
                    "A corner of its foot hangs over the edge.", {},
                    "Move it inward, or make it smaller.")
        ]  # fmt: skip
    heights = [bottom_m(site.surface, x, y) for x, y in c.corners]
    gap = foot - min((h for h in heights if h is not None), default=foot)
    if gap <= EVEN_M and None not in heights:
        return [Finding("BOX-FOOT", "fine", c.id, "Stands flat", "The bottom is even under its foot.")]
    return [
        Finding("BOX-FOOT", "look", c.id, "The bottom is not even under it",
                "At its lowest corner {gap} is left under its walls.", {"gap": Quantity(gap, "m")},
                "Scribe its walls to the bottom, pack them, or set it on a floor.")
    ]  # fmt: skip


def _shapes(b: _Box) -> tuple[Shape, ...]:
    c, top, x0, x1 = b.c, b.top, b.c.x - b.c.length / 2, b.c.x + b.c.length / 2
    y0, y1 = c.y - c.width / 2, c.y + c.width / 2
    out = [
        Shape("form-body", tuple((x, y, top) for x, y in c.corners)),
        Shape("form-body", ((x0, c.y, b.foot), (x1, c.y, b.foot), (x1, c.y, top), (x0, c.y, top)),
              view="side"),
        Shape("form-body", ((c.x, y0, b.foot), (c.x, y1, b.foot), (c.x, y1, top), (c.x, y0, top)),
              view="across"),
    ]  # fmt: skip
    seam = top - max(b.t, 0.02)
    out.append(Shape("form-line", ((x0, c.y, seam), (x1, c.y, seam)), view="side", closed=False))
    out.append(Shape("form-line", ((c.x, y0, seam), (c.x, y1, seam)), view="across", closed=False))
    if c.lid:
        out.append(Shape("form-hinge", ((x1, y0, top), (x1, y1, top)), closed=False))
    else:  # treads across, so that a step is told from a box
        for k in (0.25, 0.5, 0.75):
            x = x0 + k * c.length
            out.append(Shape("form-line", ((x, y0 + 0.03, top), (x, y1 - 0.03, top)), closed=False))
    return tuple(out)


def build(c: StepBox, site: Site) -> Built:
    """Panels, posts, cleats, fasteners, hinge and brackets of a step box. Raises CoreError outside
    of the boat. Sizes: sheets square-edged, so each laps the next by its thickness."""
    host_top = site.host.floors[0].top_m if site.host is not None and site.host.floors else None
    foot = _foot_m(c, site.surface, host_top)
    b = _Box(c, foot, site.catalogue.sheet(c.skin), site.catalogue.section(POST), site.catalogue)
    panels, members = _panels(b), _members(b)
    bought, findings = _joined(b, members)
    region = Polygon(c.corners)
    body = Prism(box(*region.bounds), foot, b.top)
    held = c.held != "loose"
    lid = Room(c.id, "lid swings", lid_sweep(region, "fore", b.top), name=plain(c.name), body=body,
               hosts=(c.on,) if c.on else ())  # fmt: skip
    return Built(
        c.id, tuple(panels), tuple(members), tuple(bought), _shapes(b), (),
        (*findings, *_rocks(c, site, foot)), b.top, region,
        solids=(Solid(c.id, "body", plain(c.name), body, lent=True),),
        rooms=(lid,) if c.lid else (),
        floors=(Floor(region, b.top, b.top - b.t, broad=False),),
        foot=None if c.on else Foot(body, ()),
        bolts=Bolts(c.corners, foot, (c.x, c.y)) if held else None,
        hold=Hold((c.x, c.y, foot + c.height / 2), (c.length, c.width, c.height)) if c.lid else None,
        marked=(Marked(foot, corners=c.corners),) if held else (),
    )  # fmt: skip


class StepBoxKind(Kind[StepBox]):
    key, title = "step_box", "Step box"
    choices = StepBox
    letter = "B"
    offers = frozenset(["floor"])
    entries = (
        Entry("step_box", "Step box", 1, "halves a high step onto a deck; under a lid it takes gear",
              "stair tread stool crate"),
    )  # fmt: skip
    about = (
        "A crate of sheet over corner posts that one steps on: loose or bracketed down, its top fixed "
        "or a hinged lid over a bottom on cleats. It goes along with the floor it stands on."
    )

    def extent(self, c: StepBox, where: Where) -> Extent:
        host = where.extent(c.on) if c.on else None
        foot = _foot_m(c, where.surface, None if host is None else host.z[1])
        (x0, y0), (x1, y1) = c.corners[0], c.corners[2]
        return Extent((x0, x1), (y0, y1), (foot, foot + c.height))

    def shift(self, c: StepBox, by: Point) -> list[tuple[Path, float]]:
        """Along and across; how high it stands follows from what it stands on."""
        places = ((0, "x", c.x), (1, "y", c.y))
        return [((f,), v + by[k]) for k, f, v in places if abs(by[k]) > FINE_M / 2]

    def sizes(self, c: StepBox) -> Sizes:
        return Sizes((("length",), ("width",), None), (("x",), ("y",), None))

    def mirror(self, value: dict[str, Any]) -> None:
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        value["x"] = round(value["x"] + value["length"] + BESIDE_M, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Before the aft edge of the highest deck, as near to the middle as there is room, on what is
        there; or where it was put."""
        length, width, height = 0.35, 0.45, 0.20
        decks = [b.floors[0] for _, b in placing.built("floor") if b.floors and b.floors[0].broad]
        if placing.at is None and decks:
            deck = max(decks, key=lambda f: f.top_m)
            before = round(deck.region.bounds[0] - length / 2 - 0.02, 3)
            asides = (0.0, *(s * k * width / 2 for k in range(1, 6) for s in (1, -1)))
            free = (y for y in asides if placing.free((before, y), (length, width, height)))
            placing.at = (before, next(free, 0.0))
        x, y, z = placing.spot((length, width, height), 0.55, 0.0, False)
        under = [
            t.id
            for t, b in placing.built("floor")
            for f in b.floors
            if abs(f.top_m - z) < EVEN_M and f.region.covers(FlatPoint(x, y))
        ]
        id_ = placing.id("step")
        return {
            "kind": self.key, "id": id_, "name": f"Step box {id_.rsplit('-', 1)[1]}",
            "mark": placing.mark(self.letter), "on": under[0] if under else None,
            "x": round(x, 3), "y": round(y, 3), "length": length, "width": width, "height": height,
        }  # fmt: skip

    def build(self, c: StepBox, site: Site) -> Built:
        return build(c, site)


KIND = StepBoxKind()
