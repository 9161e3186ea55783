"""Where each member of a fitting is set: what the tape says in the boat, and in which order they go in.

Datum as for all marks: x from the transom foot, y from the centreline (port positive), heights above
the keel line. Edges are told, not middles: an edge is what a pencil line is drawn along.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
from shapely.geometry import MultiPoint

from stirrup.core.contract.gives import Built
from stirrup.core.document import Point
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.parts.model import Member, Panel
from stirrup.core.record import dataclass

Side = Literal["", "P", "S"]
Ring = tuple[tuple[float, float], ...]
STEP_M = 1e-6
NEAR_M = 0.02  # between a member's end and what it is fixed to: a bracket, play, a leg


@dataclass(frozen=True)
class Line:
    """A pencil line or a number to set by: what it is, and where [m]."""

    what: str
    at: float


@dataclass(frozen=True)
class SetOut:
    """How one member or bearer is set: its lines from the transom, from the centreline and above the
    keel line; on which edge its leg hangs; its outline in plan, flange and leg [m]."""

    part: Member | Panel
    side: Side
    along: tuple[Line, ...]
    across: tuple[Line, ...]
    top: float  # its upper face, the underside of the skin, above the keel line at its middle [m]
    leg: str
    flange: Ring
    upright: Ring

    @property
    def label(self) -> str:
        return self.part.label

    @property
    def middle(self) -> float:
        """Of its two lines from the transom [m]."""
        return (self.along[0].at + self.along[1].at) / 2

    @property
    def role(self) -> str:
        return self.part.role

    @property
    def length(self) -> float:
        """Of the stick that it takes, or of a bearer's longest edge [m]."""
        part = self.part
        return part.length if isinstance(part, Member) else _extent(part)[0]

    @property
    def deep(self) -> float:
        """How far it hangs down or stands up [m]."""
        part = self.part
        return part.section.a if isinstance(part, Member) else _extent(part)[1]

    @property
    def wall(self) -> float:
        """How thick its leg is [m]."""
        part = self.part
        return part.section.t if isinstance(part, Member) else part.sheet.thickness


@dataclass(frozen=True)
class Step:
    """Members that go in together, and why then."""

    labels: tuple[str, ...]
    what: str
    why: str


@dataclass(frozen=True)
class Datum:
    """Where the tape is hooked for distances along the boat: its key, in words, x of it [m], and which
    way it runs."""

    key: str
    words: str
    x: float
    way: float = 1.0

    def tell(self, x: float) -> float:
        """What the tape says at x from the transom foot [m]."""
        return self.way * (x - self.x)


@dataclass(frozen=True)
class FramingPlan:
    """Everything that a builder sets out of one fitting's members."""

    fitting: str
    members: tuple[SetOut, ...]
    steps: tuple[Step, ...]
    heights: tuple[Line, ...]
    rise: float = 0.0

    def top_at(self, x: float) -> float:
        """Height of the members' upper faces at x [m]."""
        first = self.members[0]
        return first.top + self.rise * (x - first.middle)

    def of(self, *roles: str) -> tuple[SetOut, ...]:
        """Members of some roles, aft to fore and port to starboard."""
        return tuple(s for s in self.members if s.role in roles)


def _extent(panel: Panel) -> tuple[float, float]:
    """Length and height of an upright panel [m]."""
    u0, v0, u1, v1 = panel.polygon.bounds
    return float(u1 - u0), float(v1 - v0)


def _side_of(y: float) -> Side:
    return "P" if y > STEP_M else "S" if y < -STEP_M else ""


def _from_middle(y: float) -> Line:
    """A line beside the centreline: which side is part of what it is."""
    side = {"P": "to port", "S": "to starboard", "": "on the centreline"}[_side_of(y)]
    return Line(side, abs(y))


def _seen(body: Sequence[Point]) -> Ring:
    """A convex body from above; no outline where it is seen edge on."""
    around = MultiPoint([(x, y) for x, y, _ in body]).convex_hull
    return tuple((float(x), float(y)) for x, y in getattr(around, "exterior", around).coords[:-1])


def _outlines(m: Member) -> tuple[Ring, Ring]:
    """Flange and leg of a straight member from above; one whose flange is cut back whole is its leg."""
    leg = _seen(m.fills[0])
    return (_seen(m.fills[1]) if len(m.fills) > 1 else leg), leg


def _leg_at(m: Member, axis: int) -> float:
    """Middle of its leg on an axis: the first of its bodies [m]."""
    values = [p[axis] for p in m.fills[0]]
    return (min(values) + max(values)) / 2


def _cross(m: Member) -> SetOut:
    """Athwart: both edges of its flange from the transom, its long points from the centreline."""
    x, _, z = m.path[0]
    half = m.section.b / 2
    flange, leg = _outlines(m)
    reach = [y for _, y in (*flange, *leg)]
    across = tuple(
        Line(f"{name} long point, {line.what}", line.at)
        for name, line in (("port", _from_middle(max(reach))), ("starboard", _from_middle(min(reach))))
    )
    return SetOut(
        m, "", (Line("aft edge", x - half), Line("fore edge", x + half)), across, z + m.section.a / 2,
        "fore edge" if _leg_at(m, 0) > x else "aft edge", flange, leg,
    )  # fmt: skip


def _lengthwise(m: Member) -> SetOut:
    """Along the boat: both edges of its flange from the centreline, its ends from the transom."""
    (x0, y, _), (x1, _, _) = m.path
    z = (m.path[0][2] + m.path[1][2]) / 2
    half = m.section.b / 2
    edges = (y + half, y - half) if abs(y + half) <= abs(y - half) else (y - half, y + half)
    across = tuple(
        Line(f"{name} edge, {line.what}", line.at)
        for name, line in zip(("inner", "outer"), map(_from_middle, edges), strict=True)
    )
    return SetOut(
        m, _side_of(y), (Line("aft end", x0), Line("fore end", x1)), across, z + m.section.a / 2,
        "port edge" if _leg_at(m, 1) > y else "starboard edge", *_outlines(m),
    )  # fmt: skip


def _along_side(m: Member) -> SetOut:
    """Bent along the side: its ends from the transom, and how far from the centreline they lie."""
    (x0, y0, z0), (x1, y1, z1) = m.path[0], m.path[-1]
    z = (z0 + z1) / 2
    outer = [(p[0], p[1]) for p in m.path]
    sign = 1.0 if y0 + y1 > 0 else -1.0
    inner = [(x, y - sign * m.section.b) for x, y in outer]
    leg = [(x, y - sign * m.section.t) for x, y in outer]
    across = (
        Line(f"aft end, {_from_middle(y0).what}", abs(y0)),
        Line(f"fore end, {_from_middle(y1).what}", abs(y1)),
    )
    return SetOut(
        m, _side_of(sign), (Line("aft end", x0), Line("fore end", x1)), across, z + m.section.a / 2,
        "along the side", (*outer, *reversed(inner)), (*outer, *reversed(leg)),
    )  # fmt: skip


def _bearer(p: Panel) -> SetOut:
    """Upright across the boat: both faces from the transom, its ends from the centreline."""
    x, half = p.frame.origin[0], p.sheet.thickness / 2
    y0, _, y1, high = p.polygon.bounds
    top = p.frame.origin[2] + high
    across = tuple(
        Line(f"{name} end, {line.what}", line.at)
        for name, line in (("port", _from_middle(y1)), ("starboard", _from_middle(y0)))
    )
    ring = ((x - half, y0), (x + half, y0), (x + half, y1), (x - half, y1))
    faces = (Line("aft face", x - half), Line("fore face", x + half))
    return SetOut(p, "", faces, across, top, "upright", ring, ring)


def _upright(m: Member) -> SetOut:
    """A post: both faces from the transom, its middle from the centreline."""
    points = np.array([p for body in m.fills for p in body])
    (x0, y0, _), (x1, y1, top) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
    ring = ((x0, y0), (x1, y0), (x1, y1), (x0, y1))
    middle = _from_middle((y0 + y1) / 2)
    faces = (Line("aft face", x0), Line("fore face", x1))
    return SetOut(m, "", faces, (Line(f"middle, {middle.what}", middle.at),), top, "upright", ring, ring)


def _set_out(m: Member) -> SetOut | None:
    """How a member is set; None for one that is part of a box and stands by itself."""
    if m.role == "side":
        return _along_side(m)
    if m.role == "post":
        return _upright(m)
    if m.role == "frame" or len(m.path) != 2 or not m.fills:
        return None
    if m.role == "cross":
        return _cross(m)
    return _lengthwise(m) if abs(m.path[0][1] - m.path[1][1]) < STEP_M else None


def _ends_at(cross: SetOut, track: SetOut) -> bool:
    """Whether a cross member ends at a member beside a hatch: that one has to be there before it."""
    middle = (cross.along[0].at + cross.along[1].at) / 2
    if not track.along[0].at < middle < track.along[1].at:
        return False
    ys, beside = [y for _, y in (*cross.flange, *cross.upright)], [y for _, y in track.flange]
    return min(abs(max(ys) - min(beside)), abs(min(ys) - max(beside))) < NEAR_M


def _steps(
    found: Sequence[SetOut], faces: Sequence[str], strips: Sequence[str], skins: Sequence[str]
) -> list[Step]:
    """The order of fixing. Source: docs/trade-rules.md, “Decks”."""

    def labels(*roles: str) -> tuple[str, ...]:
        return tuple(s.label for s in found if s.role in roles)

    beside = [s for s in found if s.role == ""]
    crosses = [s for s in found if s.role == "cross"]
    cut = tuple(s.label for s in crosses if any(_ends_at(s, t) for t in beside))
    whole = tuple(s.label for s in crosses if s.label not in cut)
    steps = [
        Step(labels("bearer"), "bearers",
             "Set dry, a straightedge across them at the height line; then one after another from "
             "the far end into a full bed of adhesive. Limber holes stay open. Nobody stands on them until "
             "it has cured: the tube says how long."),
        Step(labels("side"), "side angles",
             "Level with the height line, both sides, before anything crosses them: a drill and a hand "
             "get to their fasteners only now."),
        Step(whole, "cross members",
             "Listed aft to fore; begin at the end towards bow or transom and come back to the open "
             "one, so that nobody kneels on what is fixed already. Check the diagonals before the second "
             "end of each is drilled."),
        Step(tuple(s.label for s in beside), "members beside the hatches",
             "Between the cross members, whose gap is their length: measure it there, not on the plan."),
        Step(cut, "cross members between these",
             "They end at the members beside the hatches, which must be there before them."),
        Step(labels("post"), "posts",
             "Each cut to its own length, its foot to the bottom; bracket and bed at the foot, then "
             "through the leg of its cross member, which is held straight meanwhile."),
        Step(labels("batten"), "battens under the joints",
             "Last of the frame: the joint of the skin decides where they lie."),
        Step(tuple(faces), "faces", "To the edge members' legs, while these can be reached from above."),
        Step(tuple(strips), "strips under the joints",
             "Half under each edge, glued and screwed to the piece that is laid first; the next one lands "
             "on the other half."),
        Step(tuple(skins), "skin",
             "Laid dry first, drilled through from the middle outward, lifted, deburred, then fixed: "
             "what lies under it goes in before."),
    ]  # fmt: skip
    return [s for s in steps if s.labels]


def framing_plan(built: Built) -> FramingPlan | None:
    """The framing plan of a fitting; None where nothing of it is framed."""
    found = [s for s in map(_set_out, built.members) if s is not None]
    found += [_bearer(p) for p in built.panels if p.role == "bearer"]
    if not found:
        return None
    order = {"bearer": -1, "side": 0, "cross": 1, "": 2, "post": 3, "batten": 4}
    found.sort(key=lambda s: (order.get(s.role, 9), round(s.along[0].at, 6), -s.flange[0][1]))
    # what is set with the faces: their own angles, and soffits
    faces = [m.label for m in built.members if m.role == "frame"]
    faces += [p.label for p in built.panels if p.role == "soffit" or (not p.level and p.role != "bearer")]
    strips = [p.label for p in built.panels if p.role == "strip"]
    skins = [p.label for p in built.panels if p.level and p.role not in ("strip", "soffit")]
    hung = [s for s in found if s.role != "post"]
    heights = _heights_where_it_rises(hung, built.rise) if built.rise else _heights(hung)
    steps = _steps(found, faces, strips, skins)
    return FramingPlan(built.fitting, tuple(found), tuple(steps), tuple(heights), built.rise)


def _heights(found: Sequence[SetOut]) -> list[Line]:
    """Height lines of members that lie level."""
    tops = sorted({round(s.top, 6) for s in found})
    feet = sorted({round(s.top - s.deep, 6) for s in found if s.role != "bearer"})
    return [
        *(Line("upper face of all members, underside of the skin", z) for z in tops),
        *(Line("lower edge of the legs", z) for z in feet),
    ]


def _heights_where_it_rises(found: Sequence[SetOut], rise: float) -> list[Line]:
    """Two marks for the height line, at both ends of what is set out: a string between them."""
    first = found[0]
    out = []
    for end, x in (("aft", min(s.along[0].at for s in found)), ("fore", max(s.along[1].at for s in found))):
        top = first.top + rise * (x - first.middle)
        out.append(Line(f"upper faces, underside of the skin, at the {end} end of the members", top))
    return out


def datums(built: Built, surface: HullSurface) -> tuple[Datum, ...]:
    """From where a builder may measure along the boat: the transom foot first, as all else is told."""
    stem = float(surface.outside.high[0])
    xs = [f.frame.at(u, v)[0] for p in built.panels for f in p.faces for u, v in f.outline]
    xs = xs or [x for m in built.members for x, _, _ in m.path]
    return (
        Datum("transom", "the transom", 0.0),
        Datum("stem", "the stem head", stem, -1.0),
        Datum("aft", "its own aft edge", min(xs)),
        Datum("fore", "its own fore edge", max(xs), -1.0),
    )
