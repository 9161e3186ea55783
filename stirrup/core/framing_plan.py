"""Where each member of a fitting is set: what the tape says in the boat, and in which order they go in.

Datum as for all marks: x from the transom foot, y from the centreline (port positive), heights above
the keel line. Edges are told, not middles: an edge is what a pencil line is drawn along.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from stirrup.core.contract.gives import Built
from stirrup.core.parts.model import Member

Side = Literal["", "P", "S"]
Ring = tuple[tuple[float, float], ...]
STEP_M = 1e-6


@dataclass(frozen=True)
class Line:
    """A pencil line or a number to set by: what it is, and where [m]."""

    what: str
    at: float


@dataclass(frozen=True)
class SetOut:
    """How one member is set: its lines from the transom, from the centreline and above the keel
    line; on which edge its leg hangs; its outline in plan, flange and leg [m]."""

    member: Member
    side: Side
    along: tuple[Line, ...]
    across: tuple[Line, ...]
    top: float  # its upper face, the underside of the skin, above the keel line [m]
    leg: str
    flange: Ring
    upright: Ring

    @property
    def label(self) -> str:
        return self.member.label


@dataclass(frozen=True)
class Step:
    """Members that go in together, and why then."""

    labels: tuple[str, ...]
    what: str
    why: str


@dataclass(frozen=True)
class FramingPlan:
    """Everything that a builder sets out of one fitting's members."""

    fitting: str
    members: tuple[SetOut, ...]
    steps: tuple[Step, ...]
    heights: tuple[Line, ...]

    def of(self, role: str) -> tuple[SetOut, ...]:
        """Members of one role, aft to fore and port to starboard."""
        return tuple(s for s in self.members if s.member.role == role)


def _side_of(y: float) -> Side:
    return "P" if y > STEP_M else "S" if y < -STEP_M else ""


def _from_middle(y: float) -> Line:
    """A line beside the centreline: which side is part of what it is."""
    side = {"P": "to port", "S": "to starboard", "": "on the centreline"}[_side_of(y)]
    return Line(side, abs(y))


def _box(x0: float, x1: float, y0: float, y1: float) -> Ring:
    return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))


def _leg_at(m: Member, axis: int) -> float:
    """Middle of its leg on an axis: the first of its bodies [m]."""
    values = [p[axis] for p in m.fills[0]]
    return (min(values) + max(values)) / 2


def _cross(m: Member) -> SetOut:
    """Athwart: both edges of its flange from the transom, its ends from the centreline."""
    (x, port, z), (_, other, _) = m.path
    b, t = m.section.b, m.section.t
    aft, fore = x - b / 2, x + b / 2
    ahead = _leg_at(m, 0) > x
    near = fore - t if ahead else aft
    along = (Line("aft edge", aft), Line("fore edge", fore))
    high, low = max(port, other), min(port, other)
    across = tuple(
        Line(f"{name} end, {line.what}", line.at)
        for name, line in (("port", _from_middle(high)), ("starboard", _from_middle(low)))
    )
    return SetOut(
        m, "", along, across, z + m.section.a / 2, "fore edge" if ahead else "aft edge",
        _box(aft, fore, low + m.copes[1], high - m.copes[0]), _box(near, near + t, low, high),
    )  # fmt: skip


def _lengthwise(m: Member) -> SetOut:
    """Along the boat: both edges of its flange from the centreline, its ends from the transom."""
    (x0, y, z), (x1, _, _) = m.path
    b, t = m.section.b, m.section.t
    to_port = _leg_at(m, 1) > y
    near = y + b / 2 - t if to_port else y - b / 2
    edges = (y + b / 2, y - b / 2) if abs(y + b / 2) <= abs(y - b / 2) else (y - b / 2, y + b / 2)
    across = tuple(
        Line(f"{name} edge, {line.what}", line.at)
        for name, line in zip(("inner", "outer"), map(_from_middle, edges), strict=True)
    )
    return SetOut(
        m, _side_of(y), (Line("aft end", x0), Line("fore end", x1)), across, z + m.section.a / 2,
        "port edge" if to_port else "starboard edge",
        _box(x0 + m.copes[0], x1 - m.copes[1], y - b / 2, y + b / 2), _box(x0, x1, near, near + t),
    )  # fmt: skip


def _along_side(m: Member) -> SetOut:
    """Bent along the side: its ends from the transom, and how far from the centreline they lie."""
    (x0, y0, z), (x1, y1, _) = m.path[0], m.path[-1]
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


def _set_out(m: Member) -> SetOut | None:
    """How a member is set; None for one that is part of a box and stands by itself."""
    if m.role == "side":
        return _along_side(m)
    if len(m.path) != 2 or not m.fills:
        return None
    if m.role == "cross":
        return _cross(m)
    level = abs(m.path[0][2] - m.path[1][2]) < STEP_M
    return _lengthwise(m) if level and abs(m.path[0][1] - m.path[1][1]) < STEP_M else None


def _steps(found: Sequence[SetOut], faces: Sequence[str], skins: Sequence[str]) -> list[Step]:
    """The order of fixing. Source: docs/trade-rules.md, “Decks”."""

    def labels(*roles: str) -> tuple[str, ...]:
        return tuple(s.label for s in found if s.member.role in roles)

    tracks = tuple(s.label for s in found if s.member.role == "")
    steps = [
        Step(labels("side"), "side angles",
             "Level with the height line, both sides, before anything crosses them: a drill and a hand "
             "get to their fasteners only now."),
        Step(labels("cross"), "cross members",
             "From the fore end aft, so that nobody kneels on what is fixed already. Check the diagonals "
             "before the second end of each is drilled."),
        Step(tracks, "members beside the hatches",
             "Between the cross members, whose gap is their length: measure it there, not on the plan."),
        Step(labels("batten"), "battens under the joints",
             "Last of the frame: the joint of the skin decides where they lie."),
        Step(tuple(faces), "faces", "To the edge members' legs, while these can be reached from above."),
        Step(tuple(skins), "skin",
             "Laid dry first, drilled through from the middle outward, lifted, deburred, then fixed: "
             "what lies under it goes in before."),
    ]  # fmt: skip
    return [s for s in steps if s.labels]


def framing_plan(built: Built) -> FramingPlan | None:
    """The framing plan of a fitting; None where nothing of it is framed."""
    found = [s for s in map(_set_out, built.members) if s is not None]
    if not found:
        return None
    order = {"side": 0, "cross": 1, "": 2, "batten": 3}
    found.sort(key=lambda s: (order.get(s.member.role, 9), round(s.along[0].at, 6), -s.flange[0][1]))
    faces = [p.label for p in built.panels if p.key.split("/")[-1].startswith("face")]
    skins = [p.label for p in built.panels if p.label not in faces]
    tops = sorted({round(s.top, 6) for s in found})
    heights = [Line("upper face of all members, underside of the skin", z) for z in tops]
    feet = sorted({round(s.top - s.member.section.a, 6) for s in found})
    heights += [Line("lower edge of the legs", z) for z in feet]
    return FramingPlan(built.fitting, tuple(found), tuple(_steps(found, faces, skins)), tuple(heights))
