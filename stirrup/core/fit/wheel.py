"""Whoever steers: thighs or elbows at the console, and whether the wheel is in reach.

Limits: docs/trade-rules.md, “People”.
"""

from __future__ import annotations

from stirrup.core.contract.gives import Helm
from stirrup.core.findings import Finding, Fix, declare
from stirrup.core.fit.body import REACH, STANDING_ELBOW
from stirrup.core.fit.crew import Aboard, number, who, working
from stirrup.core.plan.placed import Placed

declare(
    "layout",
    {"CONSOLE": "height of a console", "REACH": "reach to the wheel", "WHEEL": "thighs under the wheel"},
    acceptable=True,
    pace="behind",
)

BACK_SEATED, BACK_STANDING = 0.11, 0.08  # of stature: from the back to the middle of the body
PLACED_M = 1e-4  # positions are kept to a tenth of a millimetre
THIGH_CLEAR_M = 0.19  # under the wheel, over the cushion
CONSOLE_PLAY_M = 0.10  # about elbow height, for somebody standing
RIM_LOW = 0.70  # of a console's height: foot of the wheel's rim


def seat_goes(seat: Placed | None, words: str, forward_m: float) -> tuple[Fix, ...]:
    """A seat moved along, as a button; whoever sits on it goes along."""
    return (Fix(words, seat.id, (forward_m, 0.0, 0.0)),) if seat else ()


def _thighs(one: Aboard, console: Placed, seat: Placed | None, rim: float) -> Finding:
    """Whether somebody who sits gets his thighs under the wheel; rim: its lowest point [m]."""
    room = rim - one.person.at[2]
    fits = room >= THIGH_CLEAR_M
    return Finding(
        "WHEEL", "fine" if fits else "mend", console.id,
        "Thighs go under the wheel" if fits else "Thighs under the wheel",
        f"{who(one)}: {{room}} from cushion to rim; {{need}} is needed.",
        {"room": number(room), "need": number(THIGH_CLEAR_M)},
        "" if fits else "Lower the seat, or mount the wheel higher.",
        other=seat.id if seat else "",
    )  # fmt: skip


def _elbows(one: Aboard, console: Placed, top: float) -> Finding:
    """Whether the console's top is where somebody who stands has his elbows."""
    off = top - (one.person.at[2] + STANDING_ELBOW * one.person.stature)
    fits = abs(off) <= CONSOLE_PLAY_M
    word = "high" if off > 0 else "low"
    return Finding(
        "CONSOLE", "fine" if fits else "look", console.id,
        "Console is at elbow height" if fits else f"Console is {word} to stand at",
        f"{who(one)}: its top is {{off}} {'over' if off > 0 else 'under'} the elbow; "
        "{play} either way is good.",
        {"off": number(abs(off)), "play": number(CONSOLE_PLAY_M)},
    )  # fmt: skip


def _wheel_reach(one: Aboard, console: Placed, seat: Placed | None, away: float) -> Finding:
    """Whether the wheel is in reach; away: from his back to the console [m]."""
    s = one.person.stature
    reach = REACH * s
    fits = away <= reach + PLACED_M
    return Finding(
        "REACH", "fine" if fits else "mend", console.id,
        "Wheel is in reach" if fits else "Wheel is out of reach",
        f"{who(one)}: the wheel is {{away}} ahead of the back; the grip reaches {{reach}}.",
        {"away": number(away), "reach": number(reach), "more": number(max(0.0, away - reach))},
        "" if fits else "Bring seat and console {more} closer.",
        other=seat.id if seat else "",
        fixes=() if fits else seat_goes(seat, "Move the seat {more} forward", away - reach),
        working=working("reach = 0.42 of stature", [("stature", number(s))], number(reach)),
    )  # fmt: skip


def at_wheel(one: Aboard, console: Placed, helm: Helm, seat: Placed | None) -> list[Finding]:
    """Checks of somebody at a console."""
    seated = one.person.posture == "seated"
    back = one.person.at[0] - (BACK_SEATED if seated else BACK_STANDING) * one.person.stature
    rim = helm.rim_m if helm.rim_m is not None else helm.low_m + RIM_LOW * (helm.top_m - helm.low_m)
    first = _thighs(one, console, seat, rim) if seated else _elbows(one, console, helm.top_m)
    return [first, _wheel_reach(one, console, seat, helm.aft_m - back)]
