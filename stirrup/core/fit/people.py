"""People in the boat: seats, feet, wheel, reach, eye line, heads.

Limits: handbook of the trade, chapter 3; what it leaves open is marked as a working value.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from shapely.geometry import Point as FlatPoint

from stirrup.core.afloat.ground import Footing
from stirrup.core.afloat.report import FloatReport
from stirrup.core.findings import Finding, Input, Level, Mend, Quantity, Working, plain
from stirrup.core.fit.body import (
    KNEE_BACK,
    REACH,
    STANDING_ELBOW,
    STATURES,
    Pose,
    pose,
)
from stirrup.core.fit.rooms import item_prism
from stirrup.core.fit.shapes import Prism
from stirrup.core.fit.sight import screen_over_m, sight_line
from stirrup.core.fittings.raised_deck import RaisedDeck
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.model import Item, LoadCase, Person, Plan

SOURCE = "handbook of the trade, chapter 3"
SHORTEST_M, TALLEST_M = 1.40, 2.05  # statures of grown people that seats are judged for
SEAT_LOW, SEAT_HIGH = 0.90, 1.05  # of the height of the back of the knee
FOOT_CLEAR_M = 0.10
PLACED_M = 1e-4  # positions are kept to a tenth of a millimetre
THIGH_CLEAR_M = 0.19  # under the wheel, over the cushion
CONSOLE_PLAY_M = 0.10  # about elbow height, for somebody standing
BLIND_LENGTHS = 3.0  # working value: farther than this is worth a look
AHEAD_M = 1.2  # a console farther ahead than this is somebody else's
RIM_LOW, HUB = 0.70, 0.81  # of a console's height: foot of the wheel's rim, hub
TOE = 0.09  # of stature, ahead of the heel
SCREEN_EDGE_M = 0.05  # working value: an edge this near the level line of sight cuts the view
CLEAR_EDGE_M = SCREEN_EDGE_M + 0.001  # where a remedy puts it
BESIDE_M = 0.45  # a console this far beside somebody is not his


@dataclass(frozen=True)
class Aboard:
    """Somebody with the case he is in, what his feet find, and his joints."""

    person: Person
    case: str
    floor_m: float | None
    pose: Pose


def _number(value: float, unit: str = "m") -> Quantity:
    return Quantity(value, unit)


def _working(formula: str, inputs: Sequence[tuple[str, Quantity]], result: Quantity) -> Working:
    return Working(formula, tuple(Input(n, q) for n, q in inputs), result, SOURCE)


@dataclass(frozen=True)
class Scene:
    """The things of a plan that checks of people look at, found once for all of them."""

    seats: tuple[tuple[Item, Prism], ...]
    consoles: tuple[Item, ...]
    screens: tuple[Item, ...]
    things: tuple[tuple[Item, Prism], ...]


def scene_of(plan: Plan) -> Scene:
    """Seats, consoles and everything that stands in the boat."""
    there = [(i, p) for i in plan.items if i.stage != "removed" and (p := item_prism(i)) is not None]
    return Scene(
        tuple((i, p) for i, p in there if i.form in ("seat", "bench")),
        tuple(i for i, _ in there if i.form == "console"),
        tuple(i for i, _ in there if i.form == "screen"),
        tuple(there),
    )


def seat_of(scene: Scene, person: Person) -> Item | None:
    """The seat under somebody."""
    spot = FlatPoint(person.at[0], person.at[1])
    return next((i for i, prism in scene.seats if prism.footprint.covers(spot)), None)


def console_of(scene: Scene, person: Person) -> Item | None:
    """The console that somebody steers at: the nearest one ahead of him."""
    return _ahead(scene.consoles, person)


def _ahead(things: Sequence[Item], person: Person) -> Item | None:
    x, y, _ = person.at
    ahead = [
        i for i in things if 0 < i.mass.centre[0] - x < AHEAD_M and abs(i.mass.centre[1] - y) < BESIDE_M
    ]
    return min(ahead, key=lambda i: i.mass.centre[0], default=None)


def aboard(footing: Footing, cases: Iterable[LoadCase]) -> list[Aboard]:
    """Everybody of these cases, each posture at a place once."""
    seen: set[tuple[object, ...]] = set()
    out = []
    for case in cases:
        for person in case.crew:
            key = (person.posture, person.stature, *(round(v, 3) for v in person.at))
            if key in seen:
                continue
            seen.add(key)
            floor = None
            if person.posture == "seated":
                x, y, z = person.at
                ground = footing.at(x + 0.25 * person.stature, y)
                floor = ground.height_m if ground and ground.height_m < z - 0.05 else None
            out.append(Aboard(person, case.name, floor, pose(person, floor)))
    return out


def who(one: Aboard) -> str:
    """The person's name, or the load case when he has none."""
    return plain(one.person.name or one.case)


def _seat(one: Aboard, seat: Item | None) -> Finding | None:
    # comfort of what nobody sits on says nothing
    if seat is None or one.floor_m is None or one.person.posture != "seated":
        return None
    rise, knee = one.person.at[2] - one.floor_m, KNEE_BACK * one.person.stature
    share = rise / knee
    values = {
        "rise": _number(rise),
        "low": _number(SEAT_LOW * knee),
        "high": _number(SEAT_HIGH * knee),
        "short": _number(rise / (SEAT_HIGH * KNEE_BACK)),
        "tall": _number(rise / (SEAT_LOW * KNEE_BACK)),
    }
    working = _working(
        "seat over foot rest against 0.9 to 1.05 of the height of the back of the knee",
        [
            ("stature", _number(one.person.stature)),
            ("back of the knee, 0.245 of it", _number(knee)),
            ("seat top", _number(one.person.at[2])),
            ("foot rest", _number(one.floor_m)),
        ],
        _number(rise),
    )
    text = f"{who(one)}: the seat is {{rise}} over the feet; {{low}} to {{high}} is comfortable. "
    least, most = rise / (SEAT_HIGH * KNEE_BACK), rise / (SEAT_LOW * KNEE_BACK)
    usual = least <= TALLEST_M and most >= SHORTEST_M
    text += "It suits statures of {short} to {tall}." if usual else "It suits no usual stature."
    place = seat.id
    if SEAT_LOW <= share <= SEAT_HIGH:
        return Finding("SEAT-HEIGHT", "fine", place, "Seat height suits", text, values, working=working)
    if share < SEAT_LOW:
        remedy = "Raise it, or leave room to stretch the legs: the feet go further forward."
        return Finding("SEAT-HEIGHT", "look", place, "Low seat", text, values, remedy, working)
    return Finding(
        "SEAT-HEIGHT",
        "look",
        place,
        "The feet hang",
        text,
        values,
        "Lower it, or give a foot rest.",
        working,
    )


def _feet(one: Aboard, plan: Plan, scene: Scene, seat: Item | None) -> Finding | None:
    """From the toes to the first thing ahead of them."""
    if one.floor_m is None or one.person.posture != "seated":
        return None
    toe, y = one.pose.foot[0] + TOE * one.person.stature, one.person.at[1]
    low, high = one.floor_m, one.floor_m + 0.2
    best: tuple[float, str, str] | None = None
    for item, prism in scene.things:
        x0, y0, z0, _, y1, z1 = prism.bounds
        if seat and item.id == seat.id:
            continue
        in_the_way = y0 < y + 0.12 and y1 > y - 0.12 and z0 < high and z1 > low and x0 > one.person.at[0]
        if in_the_way and (best is None or x0 < best[0]):
            best = (x0, plain(item.title), item.id)
    for deck in plan.fittings:
        if not isinstance(deck, RaisedDeck) or not deck.face or deck.aft is None:
            continue
        ahead = deck.aft > one.person.at[0] and deck.height > low + 0.05
        if ahead and (best is None or deck.aft < best[0]):
            best = (deck.aft, f"the face of {plain(deck.name)}", deck.id)
    if best is None:
        return None
    gap = best[0] - toe
    values = {"gap": _number(abs(gap)), "need": _number(FOOT_CLEAR_M)}
    place = seat.id if seat else "crew"
    if gap >= FOOT_CLEAR_M - PLACED_M:
        text = f"{who(one)}: {{gap}} from the toes to {best[1]}; {{need}} is needed."
        return Finding("FEET", "fine", place, "Room for the feet", text, values, other=best[2])
    text = (
        f"{who(one)}: the toes are {{gap}} {'from' if gap >= 0 else 'into'} {best[1]}; "
        "{need} should be clear."
    )
    values["move"] = _number(FOOT_CLEAR_M - gap)
    return Finding(
        "FEET",
        "mend" if gap < 0 else "look",
        place,
        "No room for the feet",
        text,
        values,
        "Move the seat {move} aft, or raise it.",
        other=best[2],
        mends=_seat_goes(seat, "Move the seat {move} aft", gap - FOOT_CLEAR_M),
    )


def _seat_goes(seat: Item | None, words: str, forward_m: float) -> tuple[Mend, ...]:
    """A seat moved along, as a button; whoever sits on it goes along."""
    return (Mend(words, seat.id, (forward_m, 0.0, 0.0)),) if seat else ()


def _at_wheel(one: Aboard, console: Item, seat: Item | None) -> list[Finding]:
    assert console.size is not None
    low = console.mass.centre[2] - console.size[2] / 2
    aft = console.mass.centre[0] - console.size[0] / 2
    rim, out = low + RIM_LOW * console.size[2], []
    s = one.person.stature
    if one.person.posture == "seated":
        room = rim - one.person.at[2]
        values = {"room": _number(room), "need": _number(THIGH_CLEAR_M)}
        fits = room >= THIGH_CLEAR_M
        out.append(
            Finding(
                "WHEEL",
                "fine" if fits else "mend",
                console.id,
                "Thighs go under the wheel" if fits else "Thighs under the wheel",
                f"{who(one)}: {{room}} from cushion to rim; {{need}} is needed.",
                values,
                "" if fits else "Lower the seat, or mount the wheel higher.",
                other=seat.id if seat else "",
            )
        )
        back = one.person.at[0] - 0.11 * s
    else:
        back = one.person.at[0] - 0.08 * s
        elbow, top = one.person.at[2] + STANDING_ELBOW * s, low + console.size[2]
        off = top - elbow
        fits = abs(off) <= CONSOLE_PLAY_M
        word = "high" if off > 0 else "low"
        out.append(
            Finding(
                "CONSOLE",
                "fine" if fits else "look",
                console.id,
                "Console is at elbow height" if fits else f"Console is {word} to stand at",
                f"{who(one)}: its top is {{off}} {'over' if off > 0 else 'under'} the elbow; "
                "{play} either way is good.",
                {"off": _number(abs(off)), "play": _number(CONSOLE_PLAY_M)},
            )
        )
    reach, away = REACH * s, aft - back
    values = {"away": _number(away), "reach": _number(reach), "more": _number(max(0.0, away - reach))}
    fits = away <= reach + PLACED_M
    out.append(
        Finding(
            "REACH",
            "fine" if fits else "mend",
            console.id,
            "Wheel is in reach" if fits else "Wheel is out of reach",
            f"{who(one)}: the wheel is {{away}} ahead of the back; the grip reaches {{reach}}.",
            values,
            "" if fits else "Bring seat and console {more} closer.",
            other=seat.id if seat else "",
            mends=() if fits else _seat_goes(seat, "Move the seat {more} forward", away - reach),
            working=_working("reach = 0.42 of stature", [("stature", _number(s))], _number(reach)),
        )
    )
    return out


def _hidden_from(
    one: Aboard, plan: Plan, surface: HullSurface, report: FloatReport
) -> list[tuple[str, Quantity]]:
    """How much water somebody short, middling and tall would not see from the same place."""
    out = []
    for word, stature in STATURES.items():
        person = one.person.model_copy(update={"stature": stature})
        line = sight_line(pose(person, one.floor_m).eye, person.at[1], plan, surface, report)
        hidden = Quantity(0, "all of it") if line.blind_m is None else _number(line.blind_m)
        out.append((f"hidden from somebody {word} there", hidden))
    return out


def _eyes(
    one: Aboard, plan: Plan, surface: HullSurface, report: FloatReport, console: Item, quick: bool = False
) -> Finding:
    line = sight_line(one.pose.eye, one.person.at[1], plan, surface, report)
    trim = report.trim_deg + plan.propulsion.running_trim
    values = {
        "trim": Quantity(trim, "deg"),
        "blind": _number(line.blind_m or 0.0),
        "lengths": Quantity(round(line.lengths or 0.0, 1), "count"),
    }
    working = _working(
        "ray from the eye over the highest point ahead, down to the water; running trim is typed in",
        [
            ("eye over the keel line", _number(line.eye[1])),
            ("hidden by a point at", _number(line.over[1])),
            ("from the transom", _number(line.over[0])),
            ("bow up, with the running trim", values["trim"]),
            *([] if quick else _hidden_from(one, plan, surface, report)),
        ],
        values["blind"],
    )
    if line.blind_m is None:
        return Finding(
            "EYE-LINE",
            "mend",
            console.id,
            "Bow hides the water",
            f"{who(one)}: with the bow {{trim}} up no water is seen ahead.",
            values,
            "Raise the seat, or bring weight forward so that she runs flatter.",
            working,
        )
    level: Level = "fine" if (line.lengths or 0) <= BLIND_LENGTHS else "look"
    title = "Sees the water ahead" if level == "fine" else "Bow hides much of the water"
    text = f"{who(one)}: with the bow {{trim}} up the water is hidden for {{blind}} ahead of the stem, "
    return Finding(
        "EYE-LINE",
        level,
        console.id,
        title,
        text + "{lengths} boat lengths.",
        values,
        "" if level == "fine" else "Raise the seat, or bring weight forward.",
        working,
    )


def _screen(one: Aboard, plan: Plan, report: FloatReport, screen: Item) -> Finding:
    """Whether one looks clearly over a screen or clearly through it."""
    assert screen.size is not None
    top = screen.mass.centre[2] + screen.size[2] / 2
    over = screen_over_m(one.pose.eye, screen, report.trim_deg + plan.propulsion.running_trim)
    values = {
        "off": _number(abs(over)),
        "lower": _number(CLEAR_EDGE_M + over),
        "higher": _number(CLEAR_EDGE_M - over),
        "play": _number(SCREEN_EDGE_M),
    }
    if abs(over) < SCREEN_EDGE_M:
        return Finding(
            "SCREEN",
            "look",
            screen.id,
            "The screen's edge cuts the view",
            f"{who(one)}: its upper edge is {{off}} {'over' if over > 0 else 'under'} the level line "
            "of sight; {play} or more either way is good.",
            values,
            "Make it {lower} lower to look over it, or {higher} higher to look through it.",
            mends=tuple(
                Mend(words, screen.id, edge="top", value=top - over + clear)
                for words, clear in (
                    ("Make it {lower} lower", -CLEAR_EDGE_M),
                    ("Make it {higher} higher", CLEAR_EDGE_M),
                )
            ),
        )
    way = "through" if over > 0 else "over"
    text = (
        f"{who(one)}: its upper edge is {{off}} {'over' if over > 0 else 'under'} the level line of sight."
    )
    return Finding("SCREEN", "fine", screen.id, f"Looks {way} the screen", text, values)


def people_findings(
    plan: Plan,
    surface: HullSurface,
    footing: Footing,
    cases: Sequence[LoadCase],
    reports: dict[str, FloatReport],
    quick: bool = False,
) -> list[Finding]:
    """Every check of the people in these cases; quick: without what only a working tells."""
    out: list[Finding] = []
    scene = scene_of(plan)
    own, judged = {c.name for c in plan.cases}, set[str]()
    for one in aboard(footing, cases):
        seat, console = seat_of(scene, one.person), console_of(scene, one.person)
        if seat is not None:
            # whoever is known to sit there is judged, not once more somebody of usual size
            if one.case not in own and seat.id in judged:
                continue
            judged.add(seat.id)
        out += [f for f in (_seat(one, seat), _feet(one, plan, scene, seat)) if f is not None]
        if console is not None:
            out += _at_wheel(one, console, seat)
            if one.case in reports:
                out.append(_eyes(one, plan, surface, reports[one.case], console, quick))
                screen = _ahead(scene.screens, one.person)
                out += [_screen(one, plan, reports[one.case], screen)] if screen is not None else []
    return out
