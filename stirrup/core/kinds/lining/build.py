"""A lining built: panels laid flat, battens, fasteners, cover, and what it gives."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.ops import unary_union

from stirrup.core.contract.gives import Built, Handle, Shape
from stirrup.core.contract.kind import Site
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.angles import flat_body
from stirrup.core.fittings.cover import covered
from stirrup.core.fittings.edges import largest
from stirrup.core.fittings.joints import Joint, held, mean_place
from stirrup.core.kinds.lining.choices import Lining
from stirrup.core.kinds.lining.laid_out import PLAY_M, LaidOut, Piece, centre_of, lay_out
from stirrup.core.parts.catalogue import count_at_pitch
from stirrup.core.parts.model import Bought, Frame, Member, Panel
from stirrup.core.space.shapes import Swept
from stirrup.core.space.solid import Solid

declare("layout", {"LINING-BENDS": "how a lining lies against its side"}, acceptable=True)

Array = NDArray[np.float64]
PITCH_M = 0.15  # of screws along a batten: working value
INTO_M = 0.012  # a screw goes at least this far into a batten
BED_M = 0.002  # of adhesive under a batten: working value
CARTRIDGE_M3, DRY = 0.00029, 0.9
SAG_M, TWIST_M = 0.006, 0.003  # that battens can be packed, and that a thin sheet takes: working values
COVER_M = 0.004  # as thick as a cover is drawn


def _unit(v: Array) -> Array:
    return np.asarray(v / np.linalg.norm(v))


def _point(v: Array) -> Point:
    return (float(v[0]), float(v[1]), float(v[2]))


def _inward(piece: Piece, hand: float) -> tuple[Array, Array, Array]:
    """Of a piece as a whole: along it, up it, and away from the hull, unit vectors."""
    along = _unit((piece.lower[-1] + piece.upper[-1]) - (piece.lower[0] + piece.upper[0]))
    up = (piece.upper - piece.lower).mean(axis=0)
    up = _unit(up - (up @ along) * along)
    into = np.cross(along, up)
    return along, up, np.asarray(into if into[1] * hand < 0 else -into)


def _panel(lining: LaidOut, piece: Piece, number: int) -> Panel:
    """A panel laid flat, its outline about its middle, which lies where that of the bent one does."""
    c, skin = lining.choices, lining.skin
    assert skin is not None
    along, up, into = _inward(piece, lining.hand)
    flat = piece.outline
    # its long way lies along the sheet: the chord from end to end
    chord = (piece.flat_lower[-1] + piece.flat_upper[-1] - piece.flat_lower[0] - piece.flat_upper[0]) / 2
    a = -math.atan2(chord[1], chord[0])
    turn = np.array([[math.cos(a), -math.sin(a)], [math.sin(a), math.cos(a)]])
    middle = np.array([flat.centroid.x, flat.centroid.y])
    ring = (np.array(flat.exterior.coords[:-1]) - middle) @ turn.T
    centre = centre_of(piece)[1] + (lining.off + skin.thickness / 2) * into
    outline = tuple((float(u), float(v)) for u, v in ring)
    return Panel(f"{c.id}/panel/{number}", f"{c.code}-L{number}", f"{c.name}, panel {number}", c.id, skin,
                 outline, (), Frame(_point(centre), _point(along), _point(up)), (0, 180))  # fmt: skip


def _battens(lining: LaidOut) -> list[Member]:
    """Upright at both ends of every panel, and between at the spacing that was chosen."""
    c, source = lining.choices, lining.batten
    if source is None:
        return []
    out: list[Member] = []
    for piece in lining.pieces:
        along, _, into = _inward(piece, lining.hand)
        x0, x1 = float(piece.lower[0, 0]), float(piece.lower[-1, 0])
        inset = source.b / 2
        bays = max(1, math.ceil((x1 - x0 - 2 * inset) / c.spacing - 1e-9))
        for x in np.linspace(x0 + inset, x1 - inset, bays + 1):
            low, high = (np.array([np.interp(x, edge[:, 0], edge[:, k]) for k in range(3)])
                         for edge in (piece.lower, piece.upper))  # fmt: skip
            length = float(np.linalg.norm(high - low))
            number = len(out) + 1
            bodies = partial(flat_body, (_point(low), _point(high)), source.b, source.a, _point(along),
                             _point(into))  # fmt: skip
            middle = source.a / 2 * into
            out.append(
                Member(f"{c.id}/batten/{number}", f"{c.code}-B{number}", f"{c.name}, batten {number}", c.id,
                       source, length, (_point(low + middle), _point(high + middle)), late_bodies=bodies,
                       role="frame")
            )  # fmt: skip
    return out


def _bought(
    lining: LaidOut, panels: Sequence[Panel], battens: Sequence[Member]
) -> tuple[list[Bought], list[Finding]]:
    """Screws into the battens, their bed of adhesive, and the cover."""
    c, catalogue = lining.choices, lining.site.catalogue
    out: list[Bought] = []
    findings: list[Finding] = []
    if battens and lining.skin is not None:
        rows = sum(count_at_pitch(m.length, PITCH_M) for m in battens)
        layers = (("panel", lining.skin.thickness), ("into the batten", INTO_M))
        joint = Joint("panel", "Panels to battens", mean_place(list(panels)), "wood screw", layers, rows)
        parts, told = held(c, joint, catalogue)
        out += parts
        findings.append(told)
        glue, bed = catalogue.plain("adhesive-ms"), sum(m.length * m.section.b for m in battens) * BED_M
        count = bed / CARTRIDGE_M3
        name = f"{c.name}, adhesive under battens"
        out.append(Bought(f"{c.id}/bed", f"{c.code}-G", name, c.id, glue, count,
                          count * glue.mass * DRY, mean_place(list(battens)), "consumables"))  # fmt: skip
    if c.cover != "none":
        out += covered(c, catalogue, c.cover, lining.area, lining.middle)
    return out, findings


def _bends(lining: LaidOut) -> Finding:
    """Whether a flat sheet lies against the side."""
    c, twist = lining.choices, max(p.twist for p in lining.pieces)
    values = {"sag": Quantity(lining.sag, "m", True), "twist": Quantity(twist, "m", True),
              "most": Quantity(SAG_M, "m", True)}  # fmt: skip
    work = Working(
        "laid flat by triangles: all edges and one diagonal of each cell keep their lengths",
        (Input("side off its rulings", Quantity(lining.sag, "m", True)),
         Input("other diagonals off", Quantity(twist, "m", True))),
        Quantity(max(lining.sag, twist), "m", True), "rules of the trade, “Linings”",
    )  # fmt: skip
    if lining.sag <= SAG_M and twist <= TWIST_M:
        return Finding("LINING-BENDS", "fine", c.id, "A flat sheet lies against it",
                       "The side is {sag} off a flat sheet bent along it; up to {most} is packed.", values,
                       working=work)  # fmt: skip
    if lining.sag > SAG_M:
        return Finding("LINING-BENDS", "look", c.id, "The side is hollow or full behind it",
                       "Between its edges the side is {sag} off a flat sheet bent along it.", values,
                       "Part it at the knuckle: one lining below, one above.", work)  # fmt: skip
    return Finding("LINING-BENDS", "look", c.id, "It has to be twisted",
                   "Laid flat its cells are {twist} out of true: a sheet that bends one way only resists.",
                   values, "Take a thinner sheet, or part it along.", work)  # fmt: skip


def _told(lining: LaidOut) -> list[Finding]:
    """How sheets lie; of a cover, which bends every way, only whether there is one."""
    if lining.skin is not None:
        return [_bends(lining)]
    if lining.choices.cover != "none":
        return []
    return [Finding("LINING-BENDS", "mend", lining.choices.id, "No cover is chosen",
                    "It is to be a cover on the hull, and none is chosen: nothing is cut or bought.", {},
                    "Choose its cover, or panels on battens.")]  # fmt: skip


def _solid(lining: LaidOut) -> Solid | None:
    """What panels and battens fill, between neighbouring rulings."""
    if lining.skin is None:
        return None
    deep = lining.off + lining.skin.thickness
    pieces: list[Swept] = []
    for piece in lining.pieces:
        into = _inward(piece, lining.hand)[2]
        for (a, b), (c, d) in pairwise(zip(piece.lower, piece.upper, strict=True)):
            corners = [p + by * into for p in (a, b, c, d) for by in (0.0, deep)]
            pieces.append(Swept(tuple(_point(p) for p in corners)))
    around = Swept(tuple(p for piece in pieces for p in piece.corners))
    name = plain(lining.choices.name)
    return Solid(lining.choices.id, "wall", name, around, pieces=tuple(pieces))


def _shapes(lining: LaidOut) -> tuple[Shape, ...]:
    """From above the strip along the side, from the side its outline, with joints."""
    deep = lining.off + (lining.skin.thickness if lining.skin is not None else COVER_M)
    out: list[Shape] = []
    for piece in lining.pieces:
        into = _inward(piece, lining.hand)[2]
        inner = piece.upper + deep * into
        out.append(Shape("form-body", tuple(_point(p) for p in (*piece.upper, *inner[::-1])), thin=True))
        ring = tuple(_point(p) for p in (*piece.lower, *piece.upper[::-1]))
        out.append(Shape("form-body", ring, view="side"))
    middle = lining.pieces[len(lining.pieces) // 2]
    k, into = len(middle.lower) // 2, _inward(middle, lining.hand)[2]
    low, high = middle.lower[k], middle.upper[k]
    cut = (low, high, high + deep * into, low + deep * into)
    out.append(Shape("form-body", tuple(_point(p) for p in cut), view="across", thin=True))
    return tuple(out)


def _seen(lining: LaidOut) -> Polygon:
    """Its strip from above."""
    deep = lining.off + (lining.skin.thickness if lining.skin is not None else COVER_M)
    strips = []
    for piece in lining.pieces:
        inner = piece.upper + deep * _inward(piece, lining.hand)[2]
        strips.append(Polygon([*piece.upper[:, :2].tolist(), *inner[::-1, :2].tolist()]).buffer(0))
    return largest(unary_union(strips).buffer(PLAY_M).buffer(-PLAY_M))


def _handles(lining: LaidOut) -> tuple[Handle, ...]:
    first, last = lining.pieces[0], lining.pieces[-1]
    aft = (_point(first.lower[0]), _point(first.upper[0]))
    fore = (_point(last.lower[-1]), _point(last.upper[-1]))
    return (
        Handle("aft", "x", aft, "aft edge", "aft"),
        Handle("fore", "x", fore, "fore edge", "fore"),
        Handle("low", "z", (aft[0], fore[0]), "lower edge", "bottom"),
        Handle("high", "z", (aft[1], fore[1]), "upper edge", "top"),
    )


def build(c: Lining, site: Site) -> Built:
    """Panels, battens, screws, adhesive and cover of a lining. Raises CoreError where there is no side."""
    lining = lay_out(c, site)
    panels = [_panel(lining, p, k) for k, p in enumerate(lining.pieces, 1)] if lining.skin else []
    battens = _battens(lining)
    bought, told = _bought(lining, panels, battens)
    solid = _solid(lining)
    return Built(
        c.id, tuple(panels), tuple(battens), tuple(bought), _shapes(lining), _handles(lining),
        (*_told(lining), *told), c.high, _seen(lining), solids=(solid,) if solid is not None else (),
    )  # fmt: skip
