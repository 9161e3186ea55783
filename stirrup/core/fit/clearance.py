"""What gets in the way of what: solids among themselves, rooms, the hull, the way out.

A collision is a finding with the amount and the shortest way clear. Decks are skin and the
members under it; what stands in a hatch's opening is not under the deck.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import lru_cache, partial

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Point as FlatPoint
from shapely.geometry import box
from shapely.ops import unary_union

from stirrup.core.afloat.ground import Footing
from stirrup.core.findings import Finding, Mend, Quantity, plain
from stirrup.core.fit.rooms import Room, hatch_room, item_prism, item_rooms, tank_prism, tank_rooms
from stirrup.core.fit.shapes import BACK, WAYS, Prism, Shape, Swept, exits, least, the_other_way
from stirrup.core.fit.solid import Solid
from stirrup.core.fit.way_out import LIFTED, covers, way_out
from stirrup.core.fittings.contract import Built, FittingBase, Obstacle
from stirrup.core.fittings.edges import inside_region
from stirrup.core.fittings.hatch import Hatch
from stirrup.core.fittings.raised_deck import RaisedDeck
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.memo import Memo, Pairs
from stirrup.core.parts.catalogue import sheet, stick
from stirrup.core.plan.model import Item, Plan, Tank

PAIRS = Memo(4000)
KEPT = Pairs()
Array = NDArray[np.float64]
Bounds2 = tuple[float, float, float, float]
HULL_PLAY_M = 0.004  # a box may stand this far into the rounding of the hull
PEDESTAL_M = 0.10  # half the width of a pedestal's foot
NOT_INSIDE = ("outboard", "bow motor")


def _deck_solid(deck: RaisedDeck, built: Built, cutouts: tuple[Bounds2, ...]) -> Solid:
    def make() -> Solid:
        holes = unary_union([box(*h) for h in cutouts])
        region = built.region.difference(holes) if cutouts else built.region
        skin = Prism(region, deck.height - sheet(deck.skin).thickness, deck.height)
        around = Prism(region, skin.low - stick(deck.members).a, deck.height)
        members = (Swept(body) for m in built.members for body in m.fills)
        return Solid(deck.id, "deck", plain(deck.name), around, pieces=(skin, *members))

    return built.kept.get(("solid", deck.name, cutouts), make)


def _face_solids(deck: RaisedDeck, built: Built) -> list[Solid]:
    def make() -> list[Solid]:
        thick = sheet(deck.skin).thickness / 2
        out = []
        for panel in built.panels:
            if not panel.key.startswith(f"{deck.id}/face"):
                continue
            places = [panel.frame.at(u, v) for u, v in panel.outline]
            corners = tuple((x + side * thick, y, z) for side in (-1, 1) for x, y, z in places)
            out.append(Solid(deck.id, "face", f"the face of {plain(deck.name)}", Swept(corners)))
        return out

    return built.kept.get(("faces", deck.name), make)


def _lid_solid(hatch: Hatch, built: Built) -> Solid:
    def make() -> Solid:
        # the lid as thick as it is, and its runner's strips under it
        pieces = []
        for panel in built.panels:
            runner = "/runner/" in panel.key
            half = (hatch.runner if runner else sheet(panel.stock).thickness) / 2
            flat = panel.polygon if runner else built.region
            pieces.append(Prism(flat, panel.frame.origin[2] - half, panel.frame.origin[2] + half))
        around = Prism(built.region, min(p.low for p in pieces), max(p.high for p in pieces))
        return Solid(hatch.id, "lid", plain(hatch.name), around, pieces=tuple(pieces))

    return built.kept.get(("solid", hatch.name), make)


def _cutout(hatch: Hatch) -> Bounds2:
    """What a hatch takes out of its deck: x0, y0, x1, y1 [m]."""
    along, across = hatch.clear_length / 2 + hatch.landing, hatch.clear_width / 2 + hatch.landing
    return (hatch.x - along, hatch.y - across, hatch.x + along, hatch.y + across)


def solids(plan: Plan, built: Iterable[Built], obstacles: Iterable[Obstacle]) -> list[Solid]:
    """Everything that takes up room, in the order of the plan."""
    made = {b.fitting: b for b in built}
    out: list[Solid] = []
    for fitting in plan.fittings:
        b = made.get(fitting.id)
        if b is None or b.region.is_empty:
            continue
        if isinstance(fitting, RaisedDeck):
            guests = (f for f in plan.fittings if isinstance(f, Hatch) and f.deck == fitting.id)
            out.append(_deck_solid(fitting, b, tuple(_cutout(f) for f in guests)))
            out += _face_solids(fitting, b)
        else:
            out.append(_lid_solid(fitting, b))
    for item in plan.items:
        if item.size is not None and item.stage != "removed":
            out.append(_item_solid(item))
    out += [_tank_solid(tank) for tank in plan.tanks]
    out += [_structure_solid(thing) for thing in obstacles if thing.high < 5]
    return out


def _structure_solid(thing: Obstacle) -> Solid:
    def make() -> Solid:
        shape = Prism(thing.footprint, thing.low, thing.high)
        return Solid(thing.id, "structure", plain(thing.name), shape)

    return KEPT.get(thing, None, make)


def _item_solid(item: Item) -> Solid:
    def make() -> Solid:
        prism = item_prism(item)
        assert prism is not None
        return Solid(item.id, "item", plain(item.title), prism, item.group)

    return KEPT.get(item, None, make)


@lru_cache(maxsize=200)
def _tank_solid(tank: Tank) -> Solid:
    return Solid(tank.id, "tank", plain(tank.title), tank_prism(tank))


def rooms(plan: Plan, built: Iterable[Built], surface: HullSurface) -> list[Room]:
    """The rooms that things need for their use."""
    made = {b.fitting: b for b in built}
    out: list[Room] = []
    for fitting in plan.fittings:
        b = made.get(fitting.id)
        if isinstance(fitting, Hatch) and b is not None:
            room = hatch_room(fitting, b)
            out += [room] if room else []
    for item in plan.items:
        if item.stage != "removed":
            out += item_rooms(item, plan, surface)
    for tank in plan.tanks:
        out += tank_rooms(tank)
    return out


def _boxes(shapes: Sequence[Shape]) -> Array:
    """(n, 6) bounds of shapes."""
    return np.array([s.bounds for s in shapes], dtype=np.float64).reshape(-1, 6)


def _meeting(p: Array, q: Array) -> list[tuple[int, int]]:
    """Pairs of boxes that share more than a touch, found all at once."""
    low = np.maximum(p[:, None, :3], q[None, :, :3])
    high = np.minimum(p[:, None, 3:], q[None, :, 3:])
    hits: list[tuple[int, int]] = np.argwhere((high - low > 0.001).all(axis=2)).tolist()  # type: ignore[assignment]
    return hits


def _exits(a: Shape, b: Shape) -> dict[str, float] | None:
    return PAIRS.get((a.key, b.key), lambda: exits(a, b))


_FIXED = ("structure", "deck", "face", "lid")
_BUILT = ("deck", "face")


def _clash(a: Solid, b: Solid) -> Finding | None:
    """Two solids in one place; decks and structure are dealt with by their own checks."""
    if a.kind in _BUILT and b.kind in _BUILT:
        return _two_decks(a, b)
    if a.kind in _FIXED and b.kind in _FIXED:
        return None
    if a.kind in _FIXED:
        a, b = b, a
    if {a.kind, b.kind} == {"item", "tank"} and _is_shell(a, b):
        return None
    found = _exits(a.shape, b.shape)
    if found is None or not b.meets(a.shape):
        return None
    way, amount = least(found)
    into = "the members under " if b.kind == "deck" and _only_members(a.shape, b.shape) else ""
    return Finding(
        "CLASH", "mend", a.id, "Two things in one place",
        f"{a.name} stands {{amount}} into {into}{b.name}.", {"amount": Quantity(amount, "m")},
        f"Move it {{amount}} {way}, or move the other one.", other=b.id,
        mends=(
            _moved(a.id, a.name, way, amount),
            *([_moved(b.id, b.name, BACK[way], amount)] if b.kind in _MOVABLE else []),
        ),
    )  # fmt: skip


def _two_decks(a: Solid, b: Solid) -> Finding | None:
    """Two decks, skin, members or face, in one place."""
    if a.id == b.id or not any(b.meets(piece) for piece in a.pieces or (a.shape,)):
        return None
    found = _exits(a.shape, b.shape)
    if found is None:
        return None
    way, amount = least(found)
    return Finding(
        "CLASH", "mend", a.id, "Two decks in one place",
        f"{a.name} stands {{amount}} into {b.name}.", {"amount": Quantity(amount, "m")},
        f"Set the edge of one of them {{amount}} {way}, or one of them higher.", other=b.id,
    )  # fmt: skip


_MOVABLE = ("item", "tank", "lid")


def _moved(solid_id: str, name: str, way: str, amount: float) -> Mend:
    """Something moved one way, as a button."""
    axis, sign = WAYS[way]
    by = [0.0, 0.0, 0.0]
    by[axis] = sign * amount
    return Mend(f"Move {name} {{amount}} {way}", solid_id, (by[0], by[1], by[2]))


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
    return other.kind == "lid" or other.shape.around.covers(owner.footprint.centroid)


def _blocked(room: Room, other: Solid, owner: Item | None, fitting: FittingBase | None) -> Finding | None:
    """A room with something in it, unless the two belong together; owner, fitting: whose room it is."""
    if other.id == room.owner or (other.kind in ("deck", "lid") and not room.decks):
        return None
    if other.kind == "face":
        return None
    if fitting is not None and (other.kind == "lid" or other.id == getattr(fitting, "deck", None)):
        return None
    if owner is not None and owner.group == "motor" and other.group == "motor":
        return None
    if other.kind in ("deck", "lid") and owner is not None and _covers(other, item_prism(owner)):
        return None
    found = _exits(other.shape, room.shape)
    if found is None or not other.meets(room.shape):
        return None
    fixed = other.kind in _FIXED
    # what is fixed stays: the owner goes the other way then
    way, amount = least(the_other_way(found)) if fixed else least(found)
    if amount <= HULL_PLAY_M:
        return None
    name = plain(owner.title if owner else fitting.name if fitting else room.owner)
    remedy = f"Move {name if fixed else other.name} {{amount}} {way}"
    goes = [_moved(room.owner, name, way if fixed else BACK[way], amount)]
    if not fixed:
        goes.insert(0, _moved(other.id, other.name, way, amount))
    return Finding(
        "ROOM", "look" if other.kind == "structure" else "mend", room.owner, "No room to use it",
        f"{name} {room.what}: {other.name} stands {{amount}} in the way.",
        {"amount": Quantity(amount, "m")},
        f"{remedy}." if fixed else f"{remedy}, or {name} the other way.", other=other.id,
        mends=tuple(goes),
    )  # fmt: skip


def _leaves_hull(item: Item, prism: Prism, footing: Footing, surface: HullSurface) -> Finding | None:
    """Corners outside of the inside of the hull: by the bottom under them, by the sides at the top."""
    x0, _, _, x1, _, _ = prism.bounds
    low, high = float(surface.inside.low[0]), float(surface.inside.high[0])
    if item.form in NOT_INSIDE or x1 < low or x0 > high or item.group == "motor":
        return None
    ring = prism.footprint.exterior.coords[:-1]
    sheer = min(float(p[2]) for line in surface.lines for p in line[-1])
    level = min(prism.high, sheer) - 1e-6
    room = inside_region(surface, round(max(level, prism.low), 4))
    beyond = 0.0
    if level >= prism.low and not room.is_empty:
        beyond = max(room.distance(FlatPoint(p)) for p in ring)
    if beyond > HULL_PLAY_M:
        return Finding("HULL", "mend", item.id, "Outside of the boat",
                       f"{plain(item.title)} reaches {{amount}} through the side.",
                       {"amount": Quantity(beyond, "m")}, "Move it inward by that much.")  # fmt: skip
    if item.form == "seat":
        # only its pedestal stands on the bottom
        x, y, _ = item.mass.centre
        ring = [(x + a * PEDESTAL_M, y + b * PEDESTAL_M) for a in (-1, 1) for b in (-1, 1)]
    ground = [g for p in ring if (g := footing.bottom_m(p[0], p[1])) is not None]
    sunk = max(ground) - prism.low if ground else 0.0
    if sunk > HULL_PLAY_M:
        return Finding("HULL", "mend", item.id, "Through the bottom",
                       f"The lowest corner of {plain(item.title)} is {{amount}} inside the bottom.",
                       {"amount": Quantity(sunk, "m")}, "Raise it by that much.",
                       mends=(_moved(item.id, plain(item.title), "up", sunk),))  # fmt: skip
    return None


def clearance_findings(
    plan: Plan,
    surface: HullSurface,
    footing: Footing,
    there: Sequence[Solid],
    wanted: Sequence[Room],
    quick: bool = False,
) -> list[Finding]:
    """Every collision of the plan, once; see the kinds above.

    there: `solids` of the plan; wanted: its `rooms`; quick: see `way_out`.
    """
    boxes = _boxes([s.shape for s in there])
    out: list[Finding | None] = []
    for i, j in _meeting(boxes, boxes):
        if i < j:
            out.append(KEPT.get(there[i], there[j], partial(_clash, there[i], there[j])))
    items = {i.id: i for i in plan.items}
    fittings = {f.id: f for f in plan.fittings}
    for i, j in _meeting(_boxes([r.shape for r in wanted]), boxes):
        room, other = wanted[i], there[j]
        owner, fitting = items.get(room.owner), fittings.get(room.owner)
        out.append(KEPT.get(room, other, partial(_blocked, room, other, owner, fitting)))
    over = covers(plan, footing, there)
    for item in plan.items:
        if item.size is None or item.stage == "removed":
            continue
        solid = _item_solid(item)
        assert isinstance(solid.shape, Prism)
        out.append(KEPT.get(solid, surface, partial(_leaves_hull, item, solid.shape, footing, surface)))
        if item.form in LIFTED:
            out += [way_out(item, solid, cover, footing, quick) for cover in over]
    return [f for f in out if f is not None]
