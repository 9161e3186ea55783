"""Neighbours on a stick that one cut parts: what slants the one end slants the next one's as well.

Two ends lie along one cut when it leans the same way over the face that lies on the saw's table, and over
the one that stands. A piece may be turned end for end, or over, where its section looks the same then.
Handbook of the trade, “Members”: neighbours with equal mitres share one cut.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

from stirrup.core.cutting.member_marking import FACES, PLAIN, SAME_DEG, SQUARE
from stirrup.core.parts.model import LEAST_SETTING_DEG, EndCut, Member
from stirrup.core.record import dataclass

# what may be done with a piece of a section on its stick, beside leaving it as it is
TURNS: dict[str, tuple[tuple[bool, bool], ...]] = {
    "angle": ((False, False),),
    "channel": ((False, False), (True, False)),
    "hat": ((False, False), (True, False)),
}
ANY_TURN = ((False, False), (True, False), (False, True), (True, True))
Lean = tuple[float, float]  # of a cut, over the face on the table and over the one that stands [deg]


@dataclass(frozen=True)
class Laid:
    """A member as it lies on its stick: end for end, upside down; shares: the swing of the saw for the cut
    that also parts it from the next [deg], 0 where there is none; saves: stick that it spares [m]."""

    member: Member
    turned: bool = False
    over: bool = False
    shares_deg: float = 0.0
    saves_m: float = 0.0


def in_order(members: Sequence[Member]) -> tuple[Laid, ...]:
    """The members of a stick in an order in which as many neighbours as can be found share a slanted cut;
    from either end on by what fits best. Empty where none do."""
    best: list[Laid] = []
    for first in range(len(members)):
        for turn in _turns(members[first]):
            found = _chain(members, first, turn)
            if _saved(found) > _saved(best) + 1e-9:
                best = found
    return tuple(best)


def _saved(chain: Iterable[Laid]) -> float:
    return sum(x.saves_m for x in chain)


def _chain(members: Sequence[Member], first: int, turn: tuple[bool, bool]) -> list[Laid]:
    """Beginning with one member, always the next that spares most."""
    left = [m for k, m in enumerate(members) if k != first]
    at, chain = Laid(members[first], *turn), list[Laid]()
    while left:
        lean = _leans(at)[1]
        rows = [
            (_spared(lean, Laid(m, *t), at.member), -k, t) for k, m in enumerate(left) for t in _turns(m)
        ]
        saves, where, t = max(rows, key=lambda row: row[:2])
        shares = abs(lean[0]) if saves else 0.0
        chain.append(Laid(at.member, at.turned, at.over, shares, saves))
        at = Laid(left.pop(-where), *t)
    return [*chain, at]


def _turns(member: Member) -> Sequence[tuple[bool, bool]]:
    bevelled = any(e.bevel_deg >= LEAST_SETTING_DEG for e in member.ends)
    return ((False, False),) if bevelled else TURNS.get(member.section.shape, ANY_TURN)


def _lean(end: EndCut, last: bool) -> Lean:
    """Which way the cut goes from the lower edge up: positive towards the last end."""
    low = (end.long != "fore", end.foot)
    ways = [-1.0 if is_low == last else 1.0 for is_low in low]
    return end.mitre_deg * ways[0], end.bevel_deg * ways[1]


def _leans(laid: Laid) -> tuple[Lean, Lean]:
    """Of its cuts, at the left and at the right as it lies. Turned end for end a cut leans as before."""
    ends = laid.member.ends if len(laid.member.ends) == 2 else (SQUARE, SQUARE)
    left, right = _lean(ends[0], last=False), _lean(ends[1], last=True)
    if laid.turned:
        left, right = right, left
    return ((-left[0], left[1]), (-right[0], right[1])) if laid.over else (left, right)


def _spared(lean: Lean, following: Laid, before: Member) -> float:
    """Stick that is spared where one cut parts two [m]; 0 where it does not, or is square."""
    other = _leans(following)[0]
    if max(abs(lean[0]), abs(lean[1])) < LEAST_SETTING_DEG:
        return 0.0
    if any(abs(a - b) > SAME_DEG for a, b in zip(lean, other, strict=True)):
        return 0.0
    section = before.section
    if section.shape == "round tube":  # its ends are hollowed out to fit, or lie in any plane
        return 0.0
    wide = [{"a": section.a, "b": section.b}[side] for _, side in FACES.get(section.shape, PLAIN)]
    return max(w * math.tan(math.radians(abs(a))) for w, a in zip(wide, lean, strict=False))
