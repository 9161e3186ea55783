"""What a cut list says of a part besides its size: cuts at its ends, its angle, relief cuts, bends."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable

from stirrup.core.parts.folding import Bend
from stirrup.core.parts.model import Member, Panel

LEAST_OPENING_DEG = 0.5
ACROSS_M = 1e-6


def relief_note(member: Member, length: Callable[[float], str]) -> str:
    """Where the relief cuts of a bent member are, from its aft end; empty without."""
    if not member.slots:
        return ""
    return f"{len(member.slots)} relief cuts at " + ", ".join(length(s) for s in member.slots)


def member_notes(member: Member, length: Callable[[float], str]) -> list[str]:
    """Notes in the order of the work at the saw; `length` writes a length [m] in words.

    A cope is the cut that takes the flange, and the leg's edge on it, back from an end.
    """
    out = []
    if member.ends_words:
        out.append(member.ends_words)
    first, last = member.copes
    if first > 0 and length(first) == length(last):
        out.append(f"cope the flange {length(first)} at both ends")
    else:
        out += [
            f"cope the flange {length(c)} at the {at}"
            for c, at in zip((first, last), member.ends_at, strict=True)
            if c > 0
        ]
    low, high = member.opening_deg
    if max(abs(low - 90), abs(high - 90)) > LEAST_OPENING_DEG:
        out.append(f"opened to {low:.0f}–{high:.0f}°")
    return out


def panel_notes(panel: Panel, length: Callable[[float], str]) -> list[str]:
    """How a panel is folded, in the order of its bends; `length` writes a length [m] in words.

    The size on the cut list is that of its flat pattern. Bends right across it are told by how far they
    are from its lower edge, those along its edges by their length.
    """
    if not panel.bends:
        return []
    radius, (u0, v0, u1, _) = panel.bends[0].radius, panel.polygon.bounds
    ways = {b.up for b in panel.bends}
    way = "" if len(ways) > 1 else f", as drawn all bent {'up' if True in ways else 'down'}"
    out = [f"flat pattern, inside radius {length(radius)}{way}"]
    told: dict[str, list[int]] = {}
    for bend in sorted(panel.bends, key=lambda b: b.turn):
        (a, b), (c, d) = bend.start, bend.end
        across = abs(b - d) < ACROSS_M and abs(abs(c - a) - (u1 - u0)) < ACROSS_M
        long = length(math.dist(bend.start, bend.end))
        where = f"{length(b - v0)} from {bend.foot}" if across else f"a flange {long} long"
        up = "" if way else " up," if bend.up else " down,"
        told.setdefault(f"{bend.angle_deg:.0f}°{up or ','} {where}", []).append(bend.turn)
    for words, turns in told.items():
        each = (
            f"bends {', '.join(map(str, turns[:-1]))} and {turns[-1]}" if turns[1:] else f"bend {turns[0]}"
        )
        out.append(f"{each}: {words}")
    return out


def bends_of(panels: Iterable[Panel]) -> dict[str, tuple[Bend, ...]]:
    """Bends of everything that is folded, by the key of its panel."""
    return {p.key: p.bends for p in panels if p.bends}
