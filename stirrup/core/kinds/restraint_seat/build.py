"""A restraint seat built: what is bought, whether its brackets hold, and what it gives."""

from __future__ import annotations

from shapely import box
from shapely.geometry import Polygon

from stirrup.core.bodies.sitting import FOOT_HIGH_M, FOOT_ROOM_M, FOOT_ROOM_WIDE_M
from stirrup.core.contract.gives import Bolts, Built, Foot, Marked, Seat, Shape
from stirrup.core.contract.kind import Site
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.crate_kind import foot_m
from stirrup.core.fittings.joints import no_fastener
from stirrup.core.fittings.through_bolts import shortest_bolt
from stirrup.core.fittings.under_floor import in_the_way
from stirrup.core.kinds.restraint_seat.brackets import (
    BOLT_M,
    FOOT_M,
    SHELL_M,
    Set,
    bracket_panel,
    lay_out,
    plate_panels,
)
from stirrup.core.kinds.restraint_seat.choices import RestraintSeat
from stirrup.core.parts.entries import Entry
from stirrup.core.parts.model import Bought
from stirrup.core.space.room import Room, ahead
from stirrup.core.space.shapes import Prism, Swept
from stirrup.core.space.solid import Solid

declare("layout", {"RESTRAINT-HOLDS": "what holds a restraint seat",
                   "RESTRAINT-BRACKET": "brackets of a restraint seat",
                   "RESTRAINT-RULES": "rules for a restraint seat"}, acceptable=True)  # fmt: skip

SHELL = "seat-shell"
G = 9.81
CUSHION_M = 0.05  # of its padding, over the shell's foot: working value
BODY_UP_M = 0.25  # of the middle of whoever sits in it, over the cushion: working value
EACH_N = 8000.0  # an M8 through a floor over a plate: working value
SIDE_M = 0.03  # as thick as its shell is drawn


def cushion_m(c: RestraintSeat) -> float:
    """Height of its cushion over what it stands on, in the middle [m]."""
    return c.at(0.0, CUSHION_M)[1]


def _load(s: Set, site: Site) -> tuple[float, float]:
    """Force [N] that is held, and its height over the floor [m]."""
    shell = site.catalogue.plain(SHELL).mass
    return (s.c.weighs + shell) * s.c.times * G, cushion_m(s.c) + BODY_UP_M


def _holds(s: Set, site: Site) -> Finding:
    """How the bolts of its aft pair are pulled where it is thrown forward. A screening."""
    c = s.c
    force, arm = _load(s, site)
    pull = force * arm / (s.apart * 4)
    values = {"pull": Quantity(pull, "N"), "each": Quantity(EACH_N, "N"), "times": Quantity(c.times, "")}
    work = Working(
        "pull = force x height / (aft pair to fore pair x bolts of one pair)",
        (Input("force", Quantity(force, "N"), "who sits in it and the shell, times what is typed"),
         Input("height", Quantity(arm, "m"), "0.25 m over the cushion: working value"),
         Input("aft pair to fore pair", Quantity(s.apart, "m")), Input("bolts", Quantity(4, "count")),
         Input("each holds", Quantity(EACH_N, "N"), "M8 over a plate: working value")),
        Quantity(pull, "N"), "rules of the trade, “Seats”",
    )  # fmt: skip
    text = (
        "Thrown forward with {times} times its weight, each bolt of its aft pair is pulled with {pull}; "
        "over a plate it holds {each}. A screening: your class's rules decide."
    )
    if pull <= EACH_N:
        return Finding("RESTRAINT-HOLDS", "fine", c.id, "Its bolts hold that", text, values, working=work)
    return Finding("RESTRAINT-HOLDS", "mend", c.id, "It tears out of the floor", text, values,
                   "Set it lower, or carry its brackets on the boat's frame.", work)  # fmt: skip


def _bent(s: Set, site: Site) -> Finding | None:
    """How its longest bracket is bent along its breadth. A screening."""
    c, stuff = s.c, s.plate.stuff
    force, _ = _load(s, site)
    if stuff.yield_mpa is None:
        return None
    arm = max(b.bolt for b in s.brackets)
    stress = force / len(s.brackets) * arm / (s.t * c.bracket**2 / 6) / 1e6
    values = {"stress": Quantity(stress, "MPa"), "yield": Quantity(stuff.yield_mpa, "MPa")}
    work = Working(
        "stress = force / 6 x height of its bolt / (t b² / 6)",
        (Input("force", Quantity(force, "N")), Input("height of its bolt", Quantity(arm, "m")),
         Input("thickness t", Quantity(s.t, "m", True)),
         Input("breadth b", Quantity(c.bracket, "m", True))),
        Quantity(stress, "MPa"), "bending of a flat bar on edge",
    )  # fmt: skip
    text = "Its highest bracket takes {stress}; " + plain(stuff.name) + " yields at {yield}. A screening."
    if stress <= stuff.yield_mpa:
        return Finding("RESTRAINT-BRACKET", "fine", c.id, "Its brackets do not yield", text, values,
                       working=work)  # fmt: skip
    return Finding("RESTRAINT-BRACKET", "mend", c.id, "Its brackets yield", text, values,
                   "Make them broader, of thicker plate, or the seat lower.", work)  # fmt: skip


def _rules(c: RestraintSeat) -> Finding:
    """The caution that always stands beside it."""
    back = ("Upright it is hard on the spine when she drops." if c.recline < 5 else
            "Reclined, the belts' angle at the shoulders changes: look what the class allows.")  # fmt: skip
    weld = (" Tack its brackets in the boat, weld them outside, away from fuel, by a qualified welder."
            if c.joined == "welded" else "")  # fmt: skip
    return Finding("RESTRAINT-RULES", "look", c.id, "Seats with belts go by class rules",
                   f"Seat, belts and what holds them: only to your class's rules, by somebody who is "
                   f"qualified.{weld} {back}", {}, "Have it looked at before she runs.")  # fmt: skip


def _bought(s: Set, site: Site) -> tuple[list[Bought], list[Finding]]:
    """Shell, and bolts through shell and floor."""
    c, find, count = s.c, site.catalogue.find, len(s.brackets)
    up = s.foot + cushion_m(c)
    ahead_, high = c.at(-c.depth / 6, c.high / 3)  # the middle of a foot and a back: working value

    def part(key: str, code: str, word: str, entry: Entry, times: float, at: Point) -> Bought:
        return Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, times,
                      times * entry.mass, at, "hardware" if key == "shell" else "fasteners")  # fmt: skip

    out = [part("shell", "T", "shell", site.catalogue.plain(SHELL), 1, (c.x + ahead_, c.y, s.foot + high))]
    rows = [("shell", s.t + SHELL_M, count, (c.x, c.y, up))]
    if s.floor and c.joined == "bolted":
        rows.append(("floor", 2 * s.t + s.floor, 2 * count, (c.x, c.y, s.foot)))
    told = []
    for where, grip, times, at in rows:
        bolt = shortest_bolt(site.catalogue, BOLT_M, grip)
        if bolt is None:
            told.append(no_fastener(c.id, f"Brackets to {where}", grip))
            continue
        letter = where[0].upper()
        for key, code, entry, each in (("bolts", "R", bolt, 1), ("nuts", "N", find("nut-m8"), 1),
                                       ("washers", "W", find("washer-m8"), 2)):  # fmt: skip
            out.append(
                part(f"{key}/{where}", f"{code}{letter}", f"{key} to {where}", entry, each * times, at)
            )
    return out, told


def outline(c: RestraintSeat) -> Polygon:
    """All of it from above: shell and the feet of its brackets."""
    xs = [c.x + c.at(u, w)[0] for u in (-c.depth / 2, c.depth / 2) for w in (0.0, c.high)]
    half = c.width / 2 + FOOT_M
    return box(min(xs), c.y - half, max(xs), c.y + half)


def _side(s: Set, points: tuple[tuple[float, float], ...], y: float) -> tuple[Point, ...]:
    """Places of the shell at a distance from the centreline."""
    return tuple((s.c.x + a, y, s.foot + b) for a, b in (s.c.at(u, w) for u, w in points))


def _profile(c: RestraintSeat) -> tuple[tuple[float, float], ...]:
    """Of its shell: foot, front, cushion, back."""
    a, t = c.depth / 2, 3 * SIDE_M
    return ((-a, 0.0), (a, 0.0), (a, t + 0.04), (-a + t, t), (-a + t, c.high), (-a, c.high))


def _shapes(s: Set) -> tuple[Shape, ...]:
    c, half = s.c, s.c.width / 2
    (x0, _), (x1, _) = c.at(-c.depth / 2, 0.0), c.at(c.depth / 2, 0.0)
    plan = tuple((c.x + x, c.y + y, s.foot + cushion_m(c)) for x, y in
                 ((x0, -half), (x1, -half), (x1, half), (x0, half)))  # fmt: skip
    bx, bz = c.at(-c.depth / 2 + 3 * SIDE_M, c.high)
    back = tuple((c.x + x, c.y + y, s.foot + bz) for x, y in
                 ((x0, -half), (bx, -half), (bx, half), (x0, half)))  # fmt: skip
    low, top = s.foot + c.rear, s.foot + c.at(-c.depth / 2, c.high)[1]
    across = tuple((c.x, c.y + y, z) for y, z in ((-half, low), (half, low), (half, top), (-half, top)))
    slot = s.foot + c.slots_at
    slots = [Shape("form-line", tuple((c.x, c.y + hand * y, slot) for y in (0.05, 0.14)), view="across",
                   closed=False) for hand in (-1, 1)]  # fmt: skip
    legs = [
        Shape("form-post", ((b.x, c.y, s.foot), (b.x, c.y, s.foot + b.high)), view="side", closed=False)
        for b in s.brackets[::2]
    ]
    feet = [Shape("form-post", tuple((b.x + u, c.y + b.hand * v, s.foot) for u, v in
                                     ((-c.bracket / 2, half), (c.bracket / 2, half),
                                      (c.bracket / 2, half + FOOT_M), (-c.bracket / 2, half + FOOT_M))))
            for b in s.brackets]  # fmt: skip
    return (
        Shape("form-body", plan), Shape("form-back", back), *feet,
        Shape("form-body", _side(s, _profile(c), c.y), view="side"), *legs,
        Shape("form-body", across, view="across"), *slots,
    )  # fmt: skip


def _solid(s: Set, body: Prism) -> Solid:
    """Its brackets, the shell's foot and its back."""
    c, half = s.c, s.c.width / 2
    pieces: list[Prism | Swept] = []
    for b in s.brackets:
        near, far = (c.y + b.hand * (half + d) for d in (0.0, s.t))
        pieces.append(Prism(box(b.x - c.bracket / 2, min(near, far), b.x + c.bracket / 2, max(near, far)),
                            s.foot, s.foot + b.high))  # fmt: skip
    a = c.depth / 2
    for ring in (((-a, 0.0), (a, 0.0), (a, 3 * SIDE_M), (-a, 3 * SIDE_M)),
                 ((-a, 0.0), (-a + 3 * SIDE_M, 0.0), (-a + 3 * SIDE_M, c.high), (-a, c.high))):  # fmt: skip
        pieces.append(Swept((*_side(s, ring, c.y - half), *_side(s, ring, c.y + half))))
    return Solid(c.id, "body", plain(c.name), body, pieces=tuple(pieces), lent=True)


def _on_its_floor(s: Set, site: Site, feet: Polygon) -> list[Finding]:
    """That there is something to bolt all of its feet to."""
    c, host = s.c, site.host
    if s.floor and host is not None and host.floors[0].region.covers(feet):
        return []
    text = ("A foot of its brackets hangs over the edge: bolts there go through nothing." if s.floor else
            "It stands on the bottom of the boat, and nothing is drilled through that.")  # fmt: skip
    return [Finding("RESTRAINT-HOLDS", "mend", c.id, "Nothing to bolt it to", text, {},
                    "Stand it on a floor, all of it.")]  # fmt: skip


def build(c: RestraintSeat, site: Site) -> Built:
    """Shell, brackets, plates and bolts. Raises CoreError outside of the boat."""
    region = outline(c)
    x0, y0, x1, y1 = region.bounds
    corners = ((x0, y0), (x1, y0), (x1, y1), (x0, y1))
    host = site.host
    top = host.floors[0].highest(corners) if host is not None and host.floors else None
    s = lay_out(c, site, foot_m(c, corners, site.surface, top))
    bought, told = _bought(s, site)
    first, last = s.brackets[0].x - c.bracket / 2, s.brackets[-1].x + c.bracket / 2
    feet = ((first, y0), (last, y0), (last, y1), (first, y1))
    body = Prism(region, s.foot, s.foot + c.at(-c.depth / 2, c.high)[1])
    front = c.at(c.depth / 2, 0.0)[0]
    room = ahead((c.x, c.y), 0.0, front, front + FOOT_ROOM_M, min(c.width, FOOT_ROOM_WIDE_M),
                 s.foot + 0.02, s.foot + FOOT_HIGH_M)  # fmt: skip
    nothing = _on_its_floor(s, site, Polygon(feet))
    found = (_holds(s, site), _bent(s, site), _rules(c)) if not nothing else (*nothing, _rules(c))
    plates = plate_panels(s)
    way = in_the_way(c, plates, site.host)
    return Built(
        c.id, (*(bracket_panel(s, b) for b in s.brackets), *plates), (), tuple(bought), _shapes(s),
        findings=(*(f for f in found if f is not None), *told, *way), top_m=body.high, region=region,
        solids=(_solid(s, body),),
        rooms=(Room(c.id, "feet go ahead of it", room, name=plain(c.name), body=body,
                    hosts=(c.on,) if c.on else ()),),
        seats=seats_of(c, s.foot),
        foot=None if c.on else Foot(body, ()),
        bolts=Bolts(feet, s.foot, (c.x, c.y)) if s.floor and c.joined == "bolted" else None,
        marked=(Marked(s.foot, corners=feet),),
    )  # fmt: skip


def seats_of(c: RestraintSeat, foot: float) -> tuple[Seat, ...]:
    """Where somebody sits on it."""
    a, b, rise = c.depth / 2, c.width / 2, cushion_m(c)
    return (Seat((c.x, c.y, foot + rise), box(c.x - a, c.y - b, c.x + a, c.y + b), c.steers, rise),)
