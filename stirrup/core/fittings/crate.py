"""A crate of sheet over corner posts: what boxes, benches and lockers have in common.

The wall on which lids are hinged and the one opposite reach from end to end, the other two lie between
them, a top lies on all four. Cleats along the two long walls hold a fixed top, or a bottom. Sheets are
square-edged: each laps the next by its thickness.

All is laid out ahead (u) of the wall opposite to the hinge, and along the hinge (v), about the middle:
fore and to port for what is hinged fore or aft, a quarter turn to port of that for the other two.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import field
from functools import partial
from typing import Literal

from shapely import box
from shapely.geometry import Polygon

from stirrup.core.contract.base import Named
from stirrup.core.contract.gives import Hold, Shape
from stirrup.core.document import Point, Point2
from stirrup.core.findings import Finding
from stirrup.core.fittings.angles import angle_bodies
from stirrup.core.fittings.joints import SCREW_BITE_M, Joint, held, leaf_style, mean_place
from stirrup.core.parts.catalogue import Catalogue, count_at_pitch
from stirrup.core.parts.entries import Section, Sheet
from stirrup.core.parts.model import Bought, Frame, Member, Panel, Ring
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Prism

POST = "angle-25x25x3"
PITCH_M = 0.075  # between fasteners: working value
CLEAT_SHORT_M = 0.06  # a cleat ends before the corner posts: 25 mm of post and 5 mm of play each
HINGE_SHORTER_M = 0.02
BRACKETS, IN_BRACKET = 4, 4
LID_PLAY_M = 0.003  # between lids side by side
DOWN: Point = (0.0, 0.0, -1.0)
ALONG: tuple[Point, Point] = (DOWN, (0.0, 1.0, 0.0))  # legs of a bearer, as laid out

Line = tuple[Point, Point]
Wall = Literal["aft", "fore", "port", "starboard"]
# as it stands, by how it is laid out: opposite to ahead, ahead, to its port, to its starboard
STRAIGHT: tuple[Wall, ...] = ("aft", "fore", "port", "starboard")
TURNED: tuple[Wall, ...] = ("starboard", "port", "aft", "fore")
CODES: dict[Wall, str] = {"aft": "A", "fore": "F", "port": "P", "starboard": "S"}


@dataclass(frozen=True)
class Crate:
    """A crate where it stands: its middle in plan, outer size and foot [m].

    cap_of: the sheet of its top or lids, else that of its walls; lids: 0 for a fixed top, else in so
    many parts along `hinge`; open_top: neither; bottom: whether it has one; held: bracketed
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
    hinge: Wall = "fore"
    open_top: bool = False
    bottom: bool = False
    held: bool = True
    holes: Mapping[Wall, tuple[Ring, ...]] = field(default_factory=dict)

    @property
    def t(self) -> float:
        return self.sheet.thickness

    @property
    def turned(self) -> bool:
        """Whether it is laid out a quarter turn to port."""
        return self.hinge in ("port", "starboard")

    @property
    def walls(self) -> tuple[Wall, ...]:
        """The two long walls, the one behind first, then the two between them."""
        return TURNED if self.turned else STRAIGHT

    @property
    def deep(self) -> float:
        """Outer size across the hinge [m]."""
        return self.size[1] if self.turned else self.size[0]

    @property
    def broad(self) -> float:
        """Outer size along the hinge [m]."""
        return self.size[0] if self.turned else self.size[1]

    def place(self, u: float, v: float, z: float) -> Point:
        """A place that is laid out at (u, v), on the boat's axes."""
        x, y = self.at
        return (x - v, y + u, z) if self.turned else (x + u, y + v, z)

    def way(self, u: float, v: float, z: float) -> Point:
        """A direction that is laid out as (u, v), on the boat's axes."""
        return (-v, u, z) if self.turned else (u, v, z)

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
    elif b.turned:
        size = (size[1], size[0])
    stock = b.cap if key.startswith(("top", "lid")) else b.sheet
    turns = (0, 90, 180, 270) if stock.stuff.kind == "metal" else (0, 180)
    holes = b.holes.get(wall, ()) if wall is not None else ()
    return Panel(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, stock,
                 rectangle(*size), holes, frame, turns)  # fmt: skip


def panels(b: Crate) -> list[Panel]:
    """Its top or lids, four walls, and a bottom where it has one."""
    t, middle, out = b.t, b.foot + b.wall / 2, _tops(b)
    back, front, left, right = b.walls
    half, aside = b.deep / 2 - t / 2, b.broad / 2 - t / 2
    places = ((back, -half, 0.0), (front, half, 0.0), (left, 0.0, aside), (right, 0.0, -aside))
    for k, (wall, u, v) in enumerate(places):
        long = b.broad if k < 2 else b.deep - 2 * t
        at = b.place(u, v, middle)
        out.append(_flat(b, wall, CODES[wall], f"{wall} wall", (long, b.wall), at, wall))
    if b.bottom:
        inner = (b.deep - 2 * t, b.broad - 2 * t)
        out.append(_flat(b, "bottom", "B", "bottom", inner, b.place(0.0, 0.0, b.floor - t / 2)))
    return out


def _tops(b: Crate) -> list[Panel]:
    """What lies on its walls: one sheet, or lids side by side with play between them."""
    z = (b.top + b.under) / 2
    if b.open_top:
        return []
    if b.lids < 2:
        code, word = ("L", "lid") if b.lids else ("T", "top")
        return [_flat(b, "top", code, word, (b.deep, b.broad), b.place(0.0, 0.0, z))]
    size = (b.deep, lid_width_m(b))
    return [
        _flat(b, f"lid/{k}", f"L{k}", f"lid {k}", size, b.place(0.0, lid_middle_m(b, k), z))
        for k in range(1, b.lids + 1)
    ]


def lid_width_m(b: Crate) -> float:
    """Width of each lid along the hinge [m]: the play between them shared out."""
    n = max(b.lids, 1)
    return (b.broad - (n - 1) * LID_PLAY_M) / n


def lid_middle_m(b: Crate, k: int) -> float:
    """Middle of the k-th lid along the hinge [m], as laid out, counted from its port end."""
    wide = lid_width_m(b)
    return b.broad / 2 - wide / 2 - (k - 1) * (wide + LID_PLAY_M)


def joint_m(b: Crate, k: int) -> float:
    """Middle of the play between the k-th lid and the next [m], as laid out."""
    return (lid_middle_m(b, k) + lid_middle_m(b, k + 1)) / 2


def _member(
    b: Crate, key: str, code: str, word: str, path: Line, legs: Line, heel: Line | None = None
) -> Member:
    """A straight piece of its angle between two places, and the way its legs go as laid out, from there
    or from its heel."""
    c, long = b.c, math.dist(*path)
    leg, flange = (b.way(*way) for way in legs)
    bodies = partial(angle_bodies, b.post, heel or path, leg, flange)
    return Member(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, b.post, long, path,
                  late_bodies=bodies, role="frame")  # fmt: skip


def bearers(b: Crate) -> list[Member]:
    """Under the gaps of lids side by side, between the two long walls: each carries two edges."""
    z, half, rows = b.under, b.deep / 2 - b.t, []
    for k in range(1, b.lids):
        # half of its flange lies under either lid
        path, heel = ((b.place(-half, v, z), b.place(half, v, z))
                      for v in (joint_m(b, k), joint_m(b, k) - b.post.b / 2))  # fmt: skip
        rows.append(_member(b, f"bearer/{k}", f"N{k}", f"bearer {k}", path, ALONG, heel))
    return rows


def members(b: Crate) -> list[Member]:
    """Four posts in its corners, on its bottom where it has one; cleats along both long walls, under its
    top or its bottom."""
    half, aside = b.deep / 2 - b.t, b.broad / 2 - b.t
    low = b.floor if b.bottom else b.foot
    out = []
    for k, (back, side) in enumerate(((-1.0, 1.0), (-1.0, -1.0), (1.0, 1.0), (1.0, -1.0)), 1):
        path = (b.place(back * half, side * aside, low), b.place(back * half, side * aside, b.under))
        inward = ((-back, 0.0, 0.0), (0.0, -side, 0.0))
        out.append(_member(b, f"post/{k}", f"V{k}", f"corner post {k}", path, inward))
    if b.open_top and not b.bottom:
        return out
    out += bearers(b)
    z = b.foot + b.post.a if b.bottom else b.under
    long = aside - CLEAT_SHORT_M / 2
    for k, back in ((1, -1.0), (2, 1.0)):
        path = (b.place(back * half, long, z), b.place(back * half, -long, z))
        out.append(_member(b, f"cleat/{k}", f"X{k}", f"cleat {k}", path, (DOWN, (-back, 0.0, 0.0))))
    return out


Style = tuple[Literal["rivet", "screw"], tuple[tuple[str, float], ...]]


def style_of(sheet: Sheet) -> Style:
    """How a sheet is fastened, and what a screw has to come through besides [m]."""
    metal = sheet.stuff.kind == "metal"
    return ("rivet", ()) if metal else ("screw", (("screw point", SCREW_BITE_M),))


def _joints(b: Crate, made: Sequence[Member]) -> list[Joint]:
    """Posts and cleats to sheets; a lid's hinge; the brackets that hold it down."""
    style, point = style_of(b.sheet)
    held_by = [m for m in made if "/bearer/" not in m.key]  # a bearer is held by its brackets
    rows = 2 * sum(count_at_pitch(m.length, PITCH_M) for m in held_by)  # each leg of each member
    out = []
    if (
        b.cap.id != b.sheet.id and not b.lids and not b.open_top
    ):  # one leg of the cleats holds another sheet
        cleats = [m for m in held_by if "/cleat/" in m.key]
        own = sum(count_at_pitch(m.length, PITCH_M) for m in cleats)
        kind, tip = style_of(b.cap)
        layers = (("top", b.cap.thickness), ("angle", b.post.t), *tip)
        out.append(Joint("top", "Top to cleats", mean_place(cleats), kind, layers, own))
        rows -= own
    layers = (("sheet", b.t), ("angle", b.post.t), *point)
    out.insert(0, Joint("frame", "Sheets to posts and cleats", mean_place(made), style, layers, rows))
    out += _hinge_joints(b)
    if brackets_of(b):
        bracket = b.catalogue.plain("bracket-40")
        out.append(
            Joint("bracket", "Brackets to walls and floor", (*b.at, b.foot), style,
                  (("bracket", bracket.thickness), ("sheet", b.t)), brackets_of(b) * IN_BRACKET)
        )  # fmt: skip
    return out


def _hinge_joints(b: Crate) -> list[Joint]:
    """One leaf of the hinge on the lids, one on the wall; a joint for each where their sheets differ."""
    if not b.lids:
        return []
    hinge = b.catalogue.plain("hinge-piano")
    count = b.lids * count_at_pitch(hinge_run_m(b), hinge.pitch)

    def leaf(key: str, title: str, sheet: Sheet, holes: int) -> Joint:
        layers = (("sheet", sheet.thickness), ("hinge", hinge.thickness))
        return Joint(key, title, hinge_at(b), leaf_style(sheet), layers, holes)

    if b.cap.id == b.sheet.id:
        return [leaf("hinge", "Hinge to lid and wall", b.sheet, 2 * count)]
    return [leaf("hinge", "Hinge to wall", b.sheet, count), leaf("lid", "Hinge to lid", b.cap, count)]


def brackets_of(b: Crate) -> int:
    """Brackets that hold it down, and two for each bearer."""
    return BRACKETS * b.held + 2 * max(b.lids - 1, 0)


def hinge_run_m(b: Crate) -> float:
    """Length of the hinge of one lid [m]: a little shorter than it."""
    return lid_width_m(b) - HINGE_SHORTER_M


def hinge_u(b: Crate) -> float:
    """Where its lids are hinged [m], as laid out."""
    return (1 if b.hinge in ("fore", "port") else -1) * b.deep / 2


def hinge_at(b: Crate) -> Point:
    """Middle of its hinges."""
    return b.place(hinge_u(b), 0.0, b.top)


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
    half, u = b.broad / 2, hinge_u(b)
    if b.lids:
        line = (b.place(u, -half, top), b.place(u, half, top))
        out.append(Shape("form-hinge", line, closed=False))
    for k in range(1, b.lids):
        gap = (b.place(-b.deep / 2, joint_m(b, k), top), b.place(b.deep / 2, joint_m(b, k), top))
        out.append(Shape("form-line", gap, closed=False))
    return out
