"""What a raised deck is to everything else: in the way, walked on, drawn, dragged."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from shapely import box
from shapely.geometry import Polygon
from shapely.ops import unary_union

from stirrup.core.contract.gives import Below, Doorway, End, Floor, Handle, Shape
from stirrup.core.contract.shown import Detail, Measure
from stirrup.core.findings import plain as plain_text
from stirrup.core.fittings.edges import breadth_at
from stirrup.core.fittings.framing import Framing
from stirrup.core.fittings.level_kind import level_handles
from stirrup.core.kinds.raised_deck.choices import RaisedDeck
from stirrup.core.kinds.raised_deck.laid_out import LaidOut
from stirrup.core.parts.model import Member, Panel
from stirrup.core.space.many import Corners, Pieces
from stirrup.core.space.shapes import Prism, Swept
from stirrup.core.space.solid import Solid

SHOWN_M = 0.1  # of its side, upright, at true scale
DRAWN_M = 0.02  # thickness as drawn from the side


def slab(c: RaisedDeck, deck: LaidOut, members: Sequence[Member]) -> Solid:
    """Skin and members of a deck as what is in the way; less what its hatches take out."""
    holes = [box(*o.cutout.bounds) for o in deck.site.openings]
    flat = deck.outline.difference(unary_union(holes)) if holes else deck.outline
    parts = [g for g in getattr(flat, "geoms", [flat]) if isinstance(g, Polygon) and not g.is_empty]
    low = deck.under - deck.section.a
    # an opening may cut it in two: the room around is then that of the whole
    around = Prism(parts[0] if len(parts) == 1 else deck.outline, low, c.height)
    skins = [Prism(part, deck.under, c.height) for part in parts]
    return Solid(c.id, "floor", plain_text(c.name), around, pieces=Pieces(skins, partial(_filled, members)))


def _filled(members: Sequence[Member]) -> list[Sequence[Corners]]:
    return [m.fills for m in members]


def walls(deck: LaidOut, faces: Sequence[Panel]) -> list[Solid]:
    """Its faces as what is in the way."""
    half, name = deck.thickness / 2, f"the face of {plain_text(deck.choices.name)}"
    out = []
    for panel in faces:
        places = [panel.frame.at(u, v) for u, v in panel.outline]
        # thick along the boat, or across it under an inner edge
        by = (half, 0.0) if panel.frame.along[0] == 0.0 else (0.0, half)
        corners = tuple((x + s * by[0], y + s * by[1], z) for s in (-1, 1) for x, y, z in places)
        out.append(Solid(deck.choices.id, "wall", name, Swept(corners)))
    return out


def side_shown(deck: LaidOut, framing: Framing) -> tuple[Detail, ...]:
    """Its edge at the boat's side to port, by a cross member, at true scale."""
    stations = framing.stations
    if not stations:
        return ()
    x = stations[len(stations) // 2]
    edge, hull = breadth_at(deck.outline, x), breadth_at(deck.hull, x)
    if edge is None or hull is None:
        return ()
    top, starboard = deck.choices.height, deck.choices.hand < 0
    ours, side = (edge[0], hull[0]) if starboard else (edge[1], hull[1])
    gap = Measure("gap to the side", (x, ours, top), (x, side, top))
    middle = (side + (0.3 if starboard else -0.3) * SHOWN_M, deck.under - 0.3 * SHOWN_M)
    return (Detail("Edge at the boat's side", "x", x, middle, SHOWN_M, (gap,)),)


def floor(deck: LaidOut) -> Floor:
    """What is walked on, and the space under it."""
    c = deck.choices
    x0, _, x1, _ = deck.outline.bounds
    free = deck.under - deck.section.a
    # an edge that follows transom or bow leaves no end to reach in by, unless the face is left out
    aft = End(float(x0) if c.aft is None else c.aft, c.face, not c.face)
    fore = End(float(x1), c.face_fore, c.fore is not None and not c.face_fore)
    doors = tuple(
        Doorway(aft.x if o.wall == "face" else fore.x, (o.frame[0], o.frame[2]), (o.frame[1], o.frame[3]))
        for o in deck.site.doors
        if not o.shut
    )
    below = Below(free, aft, fore, c.face_foot, (free, deck.under), doors)
    return Floor(deck.outline, c.height, deck.under, below=below)


def shapes(deck: LaidOut, skins: Sequence[Panel], faces: Sequence[Panel]) -> tuple[Shape, ...]:
    """Skin, openings and faces, in plan, from the side and from far."""
    z = deck.choices.height
    hatching = deck.skin.stuff.kind
    out = [Shape("deck", tuple((x, y, z) for x, y in p.outline), hatching) for p in skins]
    out += [Shape("opening", tuple((x, y, z) for x, y in hole)) for p in skins for hole in p.holes]
    for wall in faces:
        if wall.frame.along[0]:
            ring = tuple(wall.frame.at(u, v) for u, v in wall.outline)
            out.append(Shape("form-line", ring, view="side"))
            continue
        heights = [v for _, v in wall.outline]  # it stands upright
        head = max(heights)
        x, _, foot = wall.frame.at(0.0, min(heights))
        out.append(Shape("face-side", ((x, 0.0, foot), (x, 0.0, head)), view="side", closed=False))
    for p in skins:
        low, high = min(u for u, _ in p.outline), max(u for u, _ in p.outline)
        side = ((low, 0.0, z), (high, 0.0, z), (high, 0.0, z - DRAWN_M), (low, 0.0, z - DRAWN_M))
        out.append(Shape("deck-side", side, view="side", thin=True))
        out.append(Shape("deck-line", side[:2], view="far", closed=False))
    return tuple(out)


def handles(deck: LaidOut) -> tuple[Handle, ...]:
    """Aft edge, fore edge and height, to be dragged."""
    c = deck.choices
    out = level_handles(deck.outline, deck.aft, deck.fore, c.height)
    if not c.hand:
        return out
    y = c.hand * c.inner
    return (*out, Handle("inner", "y", ((deck.aft, y, c.height), (deck.fore, y, c.height)), "inner edge"))
