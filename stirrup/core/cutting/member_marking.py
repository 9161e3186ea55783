"""A member as it is marked out: faces with their end cuts, relief cuts, holes from one end, what is cut
alike.

Each face is drawn from its own long point: what is mitred on one face and bevelled on the other comes out
of one setting of the saw. Source: docs/trade-rules.md, “Members on paper”.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

from stirrup.core.document import Point2
from stirrup.core.parts.model import EndCut, Member
from stirrup.core.record import dataclass

SAME_M = 0.0005  # lengths that one fence gives
SAME_DEG = 0.25
SQUARE = EndCut(0.0, 0.0)
# of each shape the faces that are drawn: name, and which of its sizes is how wide it is
FACES: dict[str, tuple[tuple[str, str], ...]] = {
    "angle": (("flange", "b"), ("leg", "a")),
    "channel": (("web", "a"), ("flange", "b")),
    "hat": (("top", "b"), ("side", "a")),
    "flat": (("face", "a"),),
    "round tube": (("side", "a"),),
}
PLAIN = (("top", "b"), ("side", "a"))


@dataclass(frozen=True)
class HoleRow:
    """Holes along a face: for what, across [m], their places from the first end [m]."""

    face: str
    what: str
    drill: float
    at: tuple[float, ...]

    @property
    def pitch(self) -> float:
        """From one to the next [m]."""
        return self.at[1] - self.at[0] if len(self.at) > 1 else 0.0


@dataclass(frozen=True)
class Face:
    """A face: its name, its outline from (0, 0) on, along and across [m]; how far it is cut back from its
    first and its last end; the angle between its edge and the cut at either end [deg]."""

    name: str
    outline: tuple[Point2, Point2, Point2, Point2]
    copes: tuple[float, float]
    angles_deg: tuple[float, float]

    @property
    def wide(self) -> float:
        return self.outline[2][1]


@dataclass(frozen=True)
class MarkedMember:
    """All that is marked on a member."""

    faces: tuple[Face, ...]
    ends: tuple[EndCut, EndCut]
    rows: tuple[HoleRow, ...]


def row(face: str, what: str, drill: float, long: float, count: int, margin: float,
        copes: tuple[float, float] = (0.0, 0.0)) -> HoleRow:  # fmt: skip
    """So many holes, even from one end to the other, the outer ones `margin` off them, or off where the
    face is cut back to [m]."""
    low, high = (c + margin for c in copes)
    high = long - high
    if count <= 1 or high <= low:
        return HoleRow(face, what, drill, ((low + high) / 2,) * count)
    step = (high - low) / (count - 1)
    return HoleRow(face, what, drill, tuple(low + k * step for k in range(count)))


def _face(name: str, long: float, wide: float, slants: tuple[float, float], low_is_long: tuple[bool, bool],
          copes: tuple[float, float]) -> Face:  # fmt: skip
    """slants: of the cut at either end [deg]; low_is_long: whether its lower edge is the longer there."""
    off = [wide * math.tan(math.radians(s)) for s in slants]
    a0, a1 = (0.0, off[0]) if low_is_long[0] else (off[0], 0.0)
    b0, b1 = (long, long - off[1]) if low_is_long[1] else (long - off[1], long)
    return Face(name, ((a0, 0.0), (b0, 0.0), (b1, wide), (a1, wide)), copes,
                (90.0 - slants[0], 90.0 - slants[1]))  # fmt: skip


def mark_member(member: Member, rows: Sequence[HoleRow] = ()) -> MarkedMember:
    """Its faces as they are marked; the first lies flat on the saw's table. The mitre of an end slants its
    cut over that face, the bevel over the one that stands."""
    first, last = member.ends if len(member.ends) == 2 else (SQUARE, SQUARE)
    sizes = {"a": member.section.a, "b": member.section.b}
    out = []
    for k, (name, side) in enumerate(FACES.get(member.section.shape, PLAIN)):
        if k == 0:
            slants = (first.mitre_deg, last.mitre_deg)
            # drawn with its aft edge below
            low = (first.long != "fore", last.long != "fore")
            copes = member.copes
        else:
            slants, copes = (first.bevel_deg, last.bevel_deg), (0.0, 0.0)
            low = (first.foot, last.foot)  # drawn with its foot below
        out.append(_face(name, member.length, sizes[side], slants, low, copes))
    return MarkedMember(tuple(out), (first, last), tuple(rows))


def _alike(a: Member, b: Member) -> bool:
    if a.stock != b.stock or abs(a.length - b.length) > SAME_M or len(a.ends) != len(b.ends):
        return False
    if any(abs(x - y) > SAME_M for x, y in zip((*a.copes, *a.slots), (*b.copes, *b.slots), strict=False)):
        return False
    if len(a.slots) != len(b.slots):
        return False

    def settings(m: Member) -> list[tuple[float, float]]:
        return sorted((e.mitre_deg, e.bevel_deg) for e in m.ends)

    pairs = zip(settings(a), settings(b), strict=True)
    return all(abs(p - q) <= SAME_DEG for one, other in pairs for p, q in zip(one, other, strict=True))


def same_fence(members: Iterable[Member]) -> list[list[Member]]:
    """Members that one setting of fence and saw cuts: of one section, as long, with the same angles. Handed
    ones are among them: the same settings, turned end for end. Groups in the order of their first."""
    groups: list[list[Member]] = []
    for member in members:
        for group in groups:
            if _alike(group[0], member):
                group.append(member)
                break
        else:
            groups.append([member])
    return groups
