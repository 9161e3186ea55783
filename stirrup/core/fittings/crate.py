"""A crate of sheet over corner posts: what boxes, benches and lockers have in common.

Walls fore and aft reach from side to side, those at the sides lie between them, a top lies on all
four. A fixed top lies on cleats along both long walls; lids are hinged on one of these and lie on the
walls. A bottom lies on cleats over the foot. Sheets are square-edged: each laps the next by its
thickness.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from shapely.geometry import Polygon, box

from stirrup.core.contract.base import Named
from stirrup.core.contract.gives import Hold, Shape
from stirrup.core.document import Point, Point2
from stirrup.core.findings import Finding
from stirrup.core.fittings.joints import SCREW_BITE_M, Joint, held, mean_place
from stirrup.core.parts.catalogue import Catalogue, count_at_pitch
from stirrup.core.parts.entries import Section, Sheet
from stirrup.core.parts.model import Bought, Frame, Member, Panel, Ring
from stirrup.core.space.shapes import Prism

POST = "angle-25x25x3"
PITCH_M = 0.075  # between fasteners: working value
CLEAT_SHORT_M = 0.06  # a cleat ends before the corner posts: 25 mm of post and 5 mm of play each
HINGE_SHORTER_M = 0.02
BRACKETS, IN_BRACKET = 4, 4
LID_PLAY_M = 0.003  # between lids side by side

Wall = Literal["aft", "fore", "port", "starboard"]


@dataclass(frozen=True)
class Crate:
    """A crate where it stands: its middle in plan, outer size and foot [m].

    cap_of: the sheet of its top or lids, else that of its walls; lids: 0 for a fixed top, else in so
    many parts athwart, hinged on `hinge`; open_top: neither; bottom: whether it has one; held: bracketed
    down; holes: rings cut out of walls, in the wall's own axes about its middle.
    """

    c: Named
    at: Point2
    size: tuple[float, float, float]
    foot: float
    sheet: Sheet
    post: Section
    catalogue: Catalogue
    cap_of: Sheet | None = None
    lids: int = 0
    hinge: Literal["aft", "fore"] = "fore"
    open_top: bool = False
    bottom: bool = False
    held: bool = True
    holes: Mapping[Wall, tuple[Ring, ...]] = field(default_factory=dict)

    @property
    def t(self) -> float:
        return self.sheet.thickness

    @property
    def cap(self) -> Sheet:
        """Sheet of its top or lids."""
        return self.cap_of or self.sheet

    @property
    def under(self) -> float:
        """Underside of its top: the upper edge of its walls."""
        return self.foot + self.wall

    @property
    def metal(self) -> bool:
        return self.sheet.stuff.kind == "metal"

    @property
    def top(self) -> float:
        """Height of its upper face."""
        return self.foot + self.size[2]

    @property
    def wall(self) -> float:
        """Height of its walls: a top lies on them."""
        return self.size[2] - (0.0 if self.open_top else self.cap.thickness)

    @property
    def inner(self) -> tuple[float, float]:
        """Clear inside along and across [m]."""
        return self.size[0] - 2 * self.t, self.size[1] - 2 * self.t

    @property
    def floor(self) -> float:
        """Height on which what is put in lies: a bottom lies on the cleats' legs."""
        return self.foot + (self.post.a + self.t if self.bottom else 0.0)

    @property
    def region(self) -> Polygon:
        """Outline in plan."""
        (x, y), (along, across, _) = self.at, self.size
        return box(x - along / 2, y - across / 2, x + along / 2, y + across / 2)

    @property
    def corners(self) -> tuple[Point2, ...]:
        """Of its foot in plan, counterclockwise from aft to starboard."""
        return corners_of(self.at, self.size)

    @property
    def body(self) -> Prism:
        """What it fills."""
        return Prism(self.region, self.foot, self.top)


def hold_of(b: Crate) -> Hold:
    """The room in it for gear, between its bottom and its top."""
    low = b.floor
    return Hold((*b.at, (low + b.under) / 2), (*b.inner, max(b.under - low, 0.0)), wall=0.0)


def corners_of(at: Point2, size: Sequence[float]) -> tuple[Point2, ...]:
    """Corners in plan of a box about a middle, counterclockwise from aft to starboard."""
    (x, y), a, b = at, size[0] / 2, size[1] / 2
    return ((x - a, y - b), (x + a, y - b), (x + a, y + b), (x - a, y + b))


def rectangle(long: float, wide: float, at: Point2 = (0.0, 0.0)) -> Ring:
    """A rectangle about a point, counterclockwise [m]."""
    (u, v), a, b = at, long / 2, wide / 2
    return ((u - a, v - b), (u + a, v - b), (u + a, v + b), (u - a, v + b))


def _flat(
    b: Crate, key: str, code: str, word: str, size: Point2, at: Point, wall: Wall | None = None
) -> Panel:
    """A rectangular panel about its middle: level, or upright as one of the walls."""
    c, frame = b.c, Frame(at)
    if wall is not None:
        frame = Frame(at, (0.0, 1.0, 0.0) if wall in ("aft", "fore") else (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    stock = b.cap if key.startswith(("top", "lid")) else b.sheet
    turns = (0, 90, 180, 270) if stock.stuff.kind == "metal" else (0, 180)
    holes = b.holes.get(wall, ()) if wall is not None else ()
    return Panel(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, stock,
                 rectangle(*size), holes, frame, turns)  # fmt: skip


def panels(b: Crate) -> list[Panel]:
    """Its top or lids, four walls, and a bottom where it has one."""
    (x, y), (along, across, _), t = b.at, b.size, b.t
    middle, half = b.foot + b.wall / 2, along / 2 - t / 2
    out = _tops(b)
    out.append(_flat(b, "aft", "A", "aft wall", (across, b.wall), (x - half, y, middle), "aft"))
    out.append(_flat(b, "fore", "F", "fore wall", (across, b.wall), (x + half, y, middle), "fore"))
    sides: tuple[tuple[Wall, str, int], ...] = (("port", "P", 1), ("starboard", "S", -1))
    for key, code, side in sides:
        at = (x, y + side * (across / 2 - t / 2), middle)
        out.append(_flat(b, key, code, f"{key} wall", (b.inner[0], b.wall), at, key))
    if b.bottom:
        out.append(_flat(b, "bottom", "B", "bottom", b.inner, (x, y, b.floor - t / 2)))
    return out


def _tops(b: Crate) -> list[Panel]:
    """What lies on its walls: one sheet, or lids side by side with play between them."""
    (x, y), (along, across, _) = b.at, b.size
    z = (b.top + b.under) / 2
    if b.open_top:
        return []
    if b.lids < 2:
        code, word = ("L", "lid") if b.lids else ("T", "top")
        return [_flat(b, "top", code, word, (along, across), (x, y, z))]
    wide = lid_width_m(b)
    return [
        _flat(b, f"lid/{k}", f"L{k}", f"lid {k}", (along, wide), (x, lid_middle_m(b, k), z))
        for k in range(1, b.lids + 1)
    ]


def lid_width_m(b: Crate) -> float:
    """Width of each lid [m]: the play between them shared out."""
    n = max(b.lids, 1)
    return (b.size[1] - (n - 1) * LID_PLAY_M) / n


def lid_middle_m(b: Crate, k: int) -> float:
    """Middle of the k-th lid across the boat [m], counted from port."""
    wide = lid_width_m(b)
    return b.at[1] + b.size[1] / 2 - wide / 2 - (k - 1) * (wide + LID_PLAY_M)


def bearers(b: Crate) -> list[Member]:
    """Under the gaps of lids side by side, between the fore and the aft wall: each carries two edges."""
    c, z, half = b.c, b.under, b.inner[0] / 2
    out = []
    for k in range(1, b.lids):
        y = (lid_middle_m(b, k) + lid_middle_m(b, k + 1)) / 2
        out.append(
            Member(f"{c.id}/bearer/{k}", f"{c.code}-N{k}", f"{c.name}, bearer {k}", c.id, b.post,
                   b.inner[0], ((b.at[0] - half, y, z), (b.at[0] + half, y, z)))
        )  # fmt: skip
    return out


def members(b: Crate) -> list[Member]:
    """Four posts in its corners; cleats along the fore and the aft wall, under its top or its bottom."""
    c, (x, y) = b.c, b.at
    half = (b.inner[0] / 2, b.inner[1] / 2)
    out = []
    for k, (along, side) in enumerate(((-1, 1), (-1, -1), (1, 1), (1, -1)), 1):
        at = (x + along * half[0], y + side * half[1])
        out.append(
            Member(f"{c.id}/post/{k}", f"{c.code}-V{k}", f"{c.name}, corner post {k}", c.id, b.post, b.wall,
                   ((*at, b.foot), (*at, b.foot + b.wall)))
        )  # fmt: skip
    long = b.inner[1] - CLEAT_SHORT_M
    if b.open_top and not b.bottom:
        return out
    out += bearers(b)
    z = b.foot + b.post.a if b.bottom else b.under
    for k, along in ((1, -1), (2, 1)):
        at_x = x + along * half[0]
        out.append(
            Member(f"{c.id}/cleat/{k}", f"{c.code}-X{k}", f"{c.name}, cleat {k}", c.id, b.post, long,
                   ((at_x, y + long / 2, z), (at_x, y - long / 2, z)))
        )  # fmt: skip
    return out


def style_of(b: Crate) -> tuple[Literal["rivet", "screw"], tuple[tuple[str, float], ...]]:
    """How its sheets are fastened, and what a screw has to come through besides [m]."""
    return ("rivet", ()) if b.metal else ("screw", (("screw point", SCREW_BITE_M),))


def _joints(b: Crate, made: Sequence[Member]) -> list[Joint]:
    """Posts and cleats to sheets; a lid's hinge; the brackets that hold it down."""
    style, point = style_of(b)
    layers = (("sheet", b.t), ("angle", b.post.t), *point)
    held_by = [m for m in made if "/bearer/" not in m.key]  # a bearer is held by its brackets
    rows = 2 * sum(count_at_pitch(m.length, PITCH_M) for m in held_by)  # each leg of each member
    out = [Joint("frame", "Sheets to posts and cleats", mean_place(made), style, layers, rows)]
    if b.lids:
        hinge = b.catalogue.plain("hinge-piano")
        out.append(
            Joint("hinge", "Hinge to lid and wall", hinge_at(b), style,
                  (("sheet", max(b.t, b.cap.thickness)), ("hinge", hinge.thickness)),
                  2 * b.lids * count_at_pitch(hinge_run_m(b), hinge.pitch))
        )  # fmt: skip
    if brackets_of(b):
        bracket = b.catalogue.plain("bracket-40")
        out.append(
            Joint("bracket", "Brackets to walls and floor", (*b.at, b.foot), style,
                  (("bracket", bracket.thickness), ("sheet", b.t)), brackets_of(b) * IN_BRACKET)
        )  # fmt: skip
    return out


def brackets_of(b: Crate) -> int:
    """Brackets that hold it down, and two for each bearer."""
    return BRACKETS * b.held + 2 * max(b.lids - 1, 0)


def hinge_run_m(b: Crate) -> float:
    """Length of the hinge of one lid [m]: a little shorter than it."""
    return lid_width_m(b) - HINGE_SHORTER_M


def hinge_x(b: Crate) -> float:
    """Where its lids are hinged [m]."""
    return b.at[0] + (1 if b.hinge == "fore" else -1) * b.size[0] / 2


def hinge_at(b: Crate) -> Point:
    """Middle of its hinges."""
    return (hinge_x(b), b.at[1], b.top)


def hardware(b: Crate, made: Sequence[Member]) -> tuple[list[Bought], list[Finding]]:
    """Hinges, brackets and fasteners, and whether the fasteners grip."""
    c, bought = b.c, []
    if b.lids:
        hinge, run = b.catalogue.plain("hinge-piano"), b.lids * hinge_run_m(b)
        bought.append(Bought(f"{c.id}/hinge", f"{c.code}-H", f"{c.name}, hinge", c.id, hinge, run,
                             run * hinge.mass, hinge_at(b)))  # fmt: skip
    if count := brackets_of(b):
        bracket = b.catalogue.plain("bracket-40")
        bought.append(Bought(f"{c.id}/brackets", f"{c.code}-K", f"{c.name}, brackets", c.id, bracket,
                             count, count * bracket.mass, (*b.at, b.foot)))  # fmt: skip
    rows = [held(c, joint, b.catalogue) for joint in _joints(b, made)]
    bought += [part for parts, _ in rows for part in parts]
    return bought, [finding for _, finding in rows]


def shapes(b: Crate) -> list[Shape]:
    """Its body from above, from the side and across; the seam of its top; hinges and gaps of its lids."""
    (x, y), top = b.at, b.top
    (x0, y0), (x1, y1) = b.corners[0], b.corners[2]
    out = [
        Shape("form-body", tuple((px, py, top) for px, py in b.corners)),
        Shape("form-body", ((x0, y, b.foot), (x1, y, b.foot), (x1, y, top), (x0, y, top)), view="side"),
        Shape("form-body", ((x, y0, b.foot), (x, y1, b.foot), (x, y1, top), (x, y0, top)), view="across"),
    ]
    seam = top - max(b.t, 0.02)
    out.append(Shape("form-line", ((x0, y, seam), (x1, y, seam)), view="side", closed=False))
    out.append(Shape("form-line", ((x, y0, seam), (x, y1, seam)), view="across", closed=False))
    if b.lids:
        out.append(Shape("form-hinge", ((hinge_x(b), y0, top), (hinge_x(b), y1, top)), closed=False))
    for k in range(1, b.lids):
        gap = (lid_middle_m(b, k) + lid_middle_m(b, k + 1)) / 2
        out.append(Shape("form-line", ((x0, gap, top), (x1, gap, top)), closed=False))
    return out
