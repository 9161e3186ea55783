"""What gets in the way of what: solids among themselves, rooms, the hull, the way out.

A collision is a finding with the amount and the shortest way clear. Decks are skin and the
members under it; what stands in a hatch's opening is not under the deck.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Point as FlatPoint

from stirrup.core.afloat.ground import Footing
from stirrup.core.findings import Finding, Fix, Quantity, declare, plain
from stirrup.core.fit.way_out import covers, way_out
from stirrup.core.fittings.edges import inside_region
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.memo import ByIdentity, Memo, Together
from stirrup.core.plan.placed import Placed
from stirrup.core.space.room import Room
from stirrup.core.space.shapes import (
    BACK,
    WAYS,
    Prism,
    Shape,
    bounds_of,
    exits,
    least,
    meeting,
    the_other_way,
)
from stirrup.core.space.solid import Solid

declare(
    "layout",
    {"CLASH": "two things in one place", "HULL": "through the hull", "ROOM": "room to use it"},
    acceptable=True,
)

PAIRS = Memo(4000)
Array = NDArray[np.float64]
HULL_PLAY_M = 0.004  # a box may stand this far into the rounding of the hull


def _exits(a: Shape, b: Shape) -> dict[str, float] | None:
    return PAIRS.get((a.key, b.key), lambda: exits(a, b))


def _clash(a: Solid, b: Solid) -> Finding | None:
    """Two solids in one place; decks and structure are dealt with by their own checks."""
    if a.carcass and b.carcass:
        return _two_decks(a, b)
    if a.fixed and b.fixed:
        return None
    if a.fixed:
        a, b = b, a
    if a.id == b.id or ({a.role, b.role} == {"body", "tank"} and _is_shell(a, b)):
        return None
    found = _exits(a.shape, b.shape)
    if found is None or not b.meets(a.shape) or not _in_pieces(a, b):
        return None
    way, amount = least(found)
    into = "the members under " if b.role == "floor" and _only_members(a.shape, b.shape) else ""
    return Finding(
        "CLASH", "mend", a.id, "Two things in one place",
        f"{a.name} stands {{amount}} into {into}{b.name}.", {"amount": Quantity(amount, "m")},
        f"Move it {{amount}} {way}, or move the other one.", other=b.id,
        fixes=(
            _moved(a.id, a.name, way, amount),
            *([_moved(b.id, b.name, BACK[way], amount)] if b.movable else []),
        ),
    )  # fmt: skip


def _in_pieces(a: Solid, b: Solid) -> bool:
    """Whether something that a is made of, not only the room around it, stands in b."""
    if not a.pieces or not a.meets(b.shape):
        return not a.pieces
    return not b.pieces or a.reaches_into(b)


def _two_decks(a: Solid, b: Solid) -> Finding | None:
    """Two decks, skin, members or face, in one place."""
    if a.id == b.id or not a.reaches_into(b):
        return None
    found = _exits(a.shape, b.shape)
    if found is None:
        return None
    way, amount = least(found)
    return Finding(
        "CLASH", "mend", a.id, f"Two {'decks' if a.role == b.role == 'floor' else 'things'} in one place",
        f"{a.name} stands {{amount}} into {b.name}.", {"amount": Quantity(amount, "m")},
        f"Set the edge of one of them {{amount}} {way}, or one of them higher.", other=b.id,
    )  # fmt: skip


def _moved(solid_id: str, name: str, way: str, amount: float) -> Fix:
    """Something moved one way, as a button."""
    axis, sign = WAYS[way]
    by = [0.0, 0.0, 0.0]
    by[axis] = sign * amount
    return Fix(f"Move {name} {{amount}} {way}", solid_id, (by[0], by[1], by[2]))


def _only_members(a: Shape, deck: Shape) -> bool:
    return a.bounds[5] < deck.bounds[5] - 0.003 and a.bounds[5] > deck.bounds[2]


def _is_shell(a: Solid, b: Solid) -> bool:
    """A tank and the item that is its empty shell lie in the same place by nature."""
    x = np.array(a.shape.bounds) - np.array(b.shape.bounds)
    return bool(np.abs(x).max() < 0.03)


def _covers(other: Solid, owner: Prism | None) -> bool:
    """Whether a deck lies over a thing: it is lifted out for its use, its lid need not swing there."""
    if owner is None or not isinstance(other.shape, Prism) or other.shape.high < owner.high:
        return False
    return other.role == "lid" or other.shape.around.covers(owner.footprint.centroid)


def _blocked(room: Room, other: Solid) -> Finding | None:
    """A room with something in it, unless the two belong together."""
    skin = other.role in ("floor", "lid")
    if other.id == room.owner or (skin and not room.decks) or other.role == "wall":
        return None
    if (other.role == "lid" and not room.lids) or other.id in room.hosts:
        return None
    if room.company and room.company == other.company:
        return None
    if skin and _covers(other, room.body):
        return None
    found = _exits(other.shape, room.shape)
    if found is None or not other.meets(room.shape):
        return None
    fixed = other.fixed
    # what is fixed stays: the owner goes the other way then
    way, amount = least(the_other_way(found)) if fixed else least(found)
    if amount <= HULL_PLAY_M:
        return None
    name = room.name
    remedy = f"Move {name if fixed else other.name} {{amount}} {way}"
    goes = [_moved(room.owner, name, way if fixed else BACK[way], amount)]
    if not fixed:
        goes.insert(0, _moved(other.id, other.name, way, amount))
    return Finding(
        "ROOM", "look" if other.role == "structure" else "mend", room.owner, "No room to use it",
        f"{name} {room.what}: {other.name} stands {{amount}} in the way.",
        {"amount": Quantity(amount, "m")},
        f"{remedy}." if fixed else f"{remedy}, or {name} the other way.", other=other.id,
        fixes=tuple(goes),
    )  # fmt: skip


def _leaves_hull(thing: Placed, footing: Footing, surface: HullSurface) -> Finding | None:
    """Corners outside of the inside of the hull: by the bottom under them, by the sides at the top."""
    foot = thing.built.foot
    if foot is None:
        return None
    prism, title = foot.body, plain(thing.title)
    x0, _, _, x1, _, _ = prism.bounds
    if x1 < float(surface.inside.low[0]) or x0 > float(surface.inside.high[0]):
        return None
    ring = prism.footprint.exterior.coords[:-1]
    sheer = min(float(p[2]) for line in surface.lines for p in line[-1])
    level = min(prism.high, sheer) - 1e-6
    room = inside_region(surface, round(max(level, prism.low), 4))
    beyond = 0.0
    if level >= prism.low and not room.is_empty:
        beyond = max(room.distance(FlatPoint(p)) for p in ring)
    if beyond > HULL_PLAY_M:
        return Finding("HULL", "mend", thing.id, "Outside of the boat",
                       f"{title} reaches {{amount}} through the side.",
                       {"amount": Quantity(beyond, "m")}, "Move it inward by that much.")  # fmt: skip
    ground = [g for p in foot.corners if (g := footing.bottom_m(p[0], p[1])) is not None]
    sunk = max(ground) - prism.low if ground else 0.0
    if sunk > HULL_PLAY_M:
        return Finding("HULL", "mend", thing.id, "Through the bottom",
                       f"The lowest corner of {title} is {{amount}} inside the bottom.",
                       {"amount": Quantity(sunk, "m")}, "Raise it by that much.",
                       fixes=(_moved(thing.id, title, "up", sunk),))  # fmt: skip
    return None


KEPT = ByIdentity()
CLASHES, BLOCKED = Together(_clash), Together(_blocked)


def clearance_findings(
    things: Sequence[Placed],
    footing: Footing,
    there: Sequence[Solid],
    wanted: Sequence[Room],
) -> list[Finding]:
    """Every collision of the plan, once; see the kinds above.

    there: solids of everything; wanted: the rooms that use needs.
    """
    surface = footing.surface
    boxes = bounds_of([s.shape for s in there])
    rooms = bounds_of([r.shape for r in wanted])
    out = CLASHES.of((there[i], there[j]) for i, j in meeting(boxes, boxes) if i < j)
    out += BLOCKED.of((wanted[i], there[j]) for i, j in meeting(rooms, boxes))
    for thing in things:
        if thing.built.foot is not None:
            find = partial(_leaves_hull, thing, footing, surface)
            out.append(KEPT.get(thing.built, surface, find))
    return [f for f in out if f is not None]


def ways_out(
    things: Sequence[Placed], footing: Footing, there: Sequence[Solid], quick: bool = False
) -> list[Finding]:
    """How everything that lies under a deck comes out again. quick: see `way_out`."""
    over = covers(things, footing, there)
    lifted = (t for t in things if t.built.lift is not None)
    found = (way_out(thing, cover, footing, quick) for thing in lifted for cover in over)
    return [f for f in found if f is not None]
