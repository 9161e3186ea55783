"""What a cut list says of a member besides its length: cuts at its ends, its angle, relief cuts."""

from __future__ import annotations

from collections.abc import Callable

from stirrup.core.parts.model import Member

LEAST_OPENING_DEG = 0.5


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
