"""People in the boat: seats, feet, wheel, reach, eye line, heads.

Limits: docs/trade-rules.md, “People”; what it leaves open is marked as a working value.
"""

from __future__ import annotations

from collections.abc import Sequence

from stirrup.core.afloat.ground import Footing
from stirrup.core.afloat.report import FloatReport
from stirrup.core.findings import Finding, declare, plain
from stirrup.core.fit.body import (
    KNEE_BACK,
)
from stirrup.core.fit.crew import (
    Aboard,
    Scene,
    aboard,
    ahead_of,
    helm_of,
    number,
    scene_of,
    seat_of,
    who,
    working,
)
from stirrup.core.fit.seeing import eye_line, screen_edge
from stirrup.core.fit.sight import Outlook
from stirrup.core.fit.wheel import PLACED_M, at_wheel, seat_goes
from stirrup.core.plan.model import LoadCase, Plan
from stirrup.core.plan.placed import Placed

declare(
    "layout", {"FEET": "room for the feet", "SEAT-HEIGHT": "seat height"}, acceptable=True, pace="behind"
)

SHORTEST_M, TALLEST_M = 1.40, 2.05  # statures of grown people that seats are judged for
SEAT_LOW, SEAT_HIGH = 0.90, 1.05  # of the height of the back of the knee
FOOT_CLEAR_M = 0.10
TOE = 0.09  # of stature, ahead of the heel


def _seat(one: Aboard, seat: Placed | None) -> Finding | None:
    # comfort of what nobody sits on says nothing
    if seat is None or one.floor_m is None or one.person.posture != "seated":
        return None
    rise, knee = one.person.at[2] - one.floor_m, KNEE_BACK * one.person.stature
    share = rise / knee
    values = {
        "rise": number(rise),
        "low": number(SEAT_LOW * knee),
        "high": number(SEAT_HIGH * knee),
        "short": number(rise / (SEAT_HIGH * KNEE_BACK)),
        "tall": number(rise / (SEAT_LOW * KNEE_BACK)),
    }
    told = working(
        "seat over foot rest against 0.9 to 1.05 of the height of the back of the knee",
        [
            ("stature", number(one.person.stature)),
            ("back of the knee, 0.245 of it", number(knee)),
            ("seat top", number(one.person.at[2])),
            ("foot rest", number(one.floor_m)),
        ],
        number(rise),
    )
    text = f"{who(one)}: the seat is {{rise}} over the feet; {{low}} to {{high}} is comfortable. "
    least, most = rise / (SEAT_HIGH * KNEE_BACK), rise / (SEAT_LOW * KNEE_BACK)
    usual = least <= TALLEST_M and most >= SHORTEST_M
    text += "It suits statures of {short} to {tall}." if usual else "It suits no usual stature."
    place = seat.id
    if SEAT_LOW <= share <= SEAT_HIGH:
        return Finding("SEAT-HEIGHT", "fine", place, "Seat height suits", text, values, working=told)
    if share < SEAT_LOW:
        remedy = "Raise it, or leave room to stretch the legs: the feet go further forward."
        return Finding("SEAT-HEIGHT", "look", place, "Low seat", text, values, remedy, told)
    return Finding(
        "SEAT-HEIGHT",
        "look",
        place,
        "The feet hang",
        text,
        values,
        "Lower it, or give a foot rest.",
        told,
    )


def _feet(one: Aboard, things: Sequence[Placed], scene: Scene, seat: Placed | None) -> Finding | None:
    """From the toes to the first thing ahead of them."""
    if one.floor_m is None or one.person.posture != "seated":
        return None
    toe, y = one.pose.foot[0] + TOE * one.person.stature, one.person.at[1]
    low, high = one.floor_m, one.floor_m + 0.2
    best: tuple[float, str, str] | None = None
    for thing, body in scene.bodies:
        x0, y0, z0, _, y1, z1 = body.shape.bounds
        if seat and thing.id == seat.id:
            continue
        in_the_way = y0 < y + 0.12 and y1 > y - 0.12 and z0 < high and z1 > low and x0 > one.person.at[0]
        if in_the_way and (best is None or x0 < best[0]):
            best = (x0, plain(thing.title), thing.id)
    for thing in things:
        for floor in thing.built.floors:
            end = floor.below.aft if floor.below is not None else None
            if end is None or not end.shut or end.x <= one.person.at[0] or floor.top_m <= low + 0.05:
                continue
            if best is None or end.x < best[0]:
                best = (end.x, f"the face of {plain(thing.title)}", thing.id)
    if best is None:
        return None
    gap = best[0] - toe
    values = {"gap": number(abs(gap)), "need": number(FOOT_CLEAR_M)}
    place = seat.id if seat else "crew"
    if gap >= FOOT_CLEAR_M - PLACED_M:
        text = f"{who(one)}: {{gap}} from the toes to {best[1]}; {{need}} is needed."
        return Finding("FEET", "fine", place, "Room for the feet", text, values, other=best[2])
    text = (
        f"{who(one)}: the toes are {{gap}} {'from' if gap >= 0 else 'into'} {best[1]}; "
        "{need} should be clear."
    )
    values["move"] = number(FOOT_CLEAR_M - gap)
    return Finding(
        "FEET",
        "mend" if gap < 0 else "look",
        place,
        "No room for the feet",
        text,
        values,
        "Move the seat {move} aft, or raise it.",
        other=best[2],
        fixes=seat_goes(seat, "Move the seat {move} aft", gap - FOOT_CLEAR_M),
    )


def people_findings(
    plan: Plan,
    things: Sequence[Placed],
    footing: Footing,
    cases: Sequence[LoadCase],
    reports: dict[str, FloatReport],
    quick: bool = False,
) -> list[Finding]:
    """Every check of the people in these cases; quick: without what only a working tells."""
    out: list[Finding] = []
    scene = scene_of(things)
    bodies = tuple(body for _, body in scene.bodies)
    own, judged = {c.name for c in plan.cases}, set[str]()
    for one in aboard(footing, cases):
        seat, wheel = seat_of(scene, one.person), helm_of(scene, one.person)
        if seat is not None:
            # whoever is known to sit there is judged, not once more somebody of usual size
            if one.case not in own and seat.id in judged:
                continue
            judged.add(seat.id)
        out += [f for f in (_seat(one, seat), _feet(one, things, scene, seat)) if f is not None]
        if wheel is None:
            continue
        out += at_wheel(one, *wheel, seat)
        if one.case in reports:
            running = plan.propulsion.running_trim
            outlook = Outlook(bodies, footing.surface, reports[one.case], running)
            out.append(eye_line(one, outlook, wheel[0], quick))
            screen = ahead_of(scene.panes, one.person)
            out += [screen_edge(one, outlook.trim_deg, *screen)] if screen is not None else []
    return out
