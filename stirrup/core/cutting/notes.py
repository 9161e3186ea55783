"""What a cut list says of a member besides its length: cuts at its ends, relief cuts, its angle."""

from __future__ import annotations

from collections.abc import Callable

from stirrup.core.parts.model import Member

LEAST_OPENING_DEG = 0.5


def member_notes(member: Member, length: Callable[[float], str]) -> list[str]:
    """Notes in the order of the work at the saw; `length` writes a length [m] in words.

    A cope is the cut that takes the flange, and the leg's edge on it, back from an end.
    """
    out = []
    if member.ends_words:
        out.append(member.ends_words)
    first, last = (round(c, 4) for c in member.copes)
    if first > 0 and first == last:
        out.append(f"cope the flange {length(first)} at both ends")
    else:
        out += [
            f"cope the flange {length(c)} at the {at}"
            for c, at in zip((first, last), member.ends_at, strict=True)
            if c > 0
        ]
    if member.slots:
        out.append("relief cuts at " + ", ".join(length(s) for s in member.slots))
    low, high = member.opening_deg
    if max(abs(low - 90), abs(high - 90)) > LEAST_OPENING_DEG:
        out.append(f"opened to {low:.0f}–{high:.0f}°")
    return out
