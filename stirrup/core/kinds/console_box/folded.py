"""A console of folded sheet: one wrapped over dash and top, under its edges two sides with flanges."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

from shapely import unary_union
from shapely.geometry import Polygon

from stirrup.core.document import Point2
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare
from stirrup.core.fittings.crate import rectangle
from stirrup.core.kinds.console_box.choices import FLANGE_M
from stirrup.core.kinds.console_box.dash import holes
from stirrup.core.kinds.console_box.laid_out import Console, opening, panel_of
from stirrup.core.kinds.console_box.profile import Side, outline
from stirrup.core.parts.folding import (
    LEAST_DEG,
    Bend,
    Strip,
    allowance_m,
    from_the_ends,
    k_factor,
    laid_flat,
    least_radius_m,
    setback_m,
)
from stirrup.core.parts.model import Frame, Panel, Ring, panel_rings

declare("layout", {"FOLDS": "how sheet metal is folded"}, acceptable=True)

SQUARE_DEG = 90.0
RELIEF_M = 0.001  # a flange ends this far before its bend line does: working value


def folds(k: Console) -> bool:
    """Whether it is folded: it was chosen, and its sheet takes a bend."""
    return k.c.made == "folded sheet" and least_radius_m(k.sheet) is not None


def radius_m(k: Console) -> float:
    """Inside radius of its bends: the least that its sheet takes [m]."""
    return least_radius_m(k.sheet) or 0.0


def turns_deg(k: Console) -> list[float]:
    """How far the profile turns at the foot of its dash, its head, and its foremost edge [deg]."""
    headings = [math.atan2(z1 - z0, x1 - x0) for (x0, z0), (x1, z1) in pairwise(outline(k.c))]
    return [math.degrees(a - b) for a, b in pairwise(headings)]


def wrap_strip(k: Console) -> Strip:
    """The wrap laid flat, from the foot of its aft face on."""
    outside = [math.dist(a, b) for a, b in pairwise(outline(k.c))]
    return laid_flat(outside, turns_deg(k), radius_m(k), k.t)


def _cut_in(k: Console, side: Side) -> tuple[Ring, ...]:
    """Holes of a side of the wrap, about the middle of its inner face [m]."""
    if side.name == "dash":
        return holes(k.c, side, k.between)
    return (rectangle(*opening(k)),) if side.name == k.c.access else ()


def wrap(k: Console) -> Panel:
    """The sheet that goes over the whole profile, as wide as the console; drawn as seen from inside."""
    c, strip, turns, radius = k.c, wrap_strip(k), turns_deg(k), radius_m(k)
    back = [0.0, *(setback_m(a, radius) for a in turns), 0.0]
    half, cut, flats = c.width / 2, [], []
    for n, (side, (v0, v1)) in enumerate(zip(k.sides, strip.flats, strict=True)):
        # its flat's middle, from the middle of its inner face, along it
        off = (back[n] - back[n + 1]) / 2
        rings = _cut_in(k, side)
        cut += [_moved(r, (0.0, (v0 + v1) / 2 - off)) for r in rings]
        (dx, dz), (ox, oz) = side.along, side.out
        x, z = (m + off * d + k.t / 2 * o for m, d, o in zip(side.middle, (dx, dz), (ox, oz), strict=True))
        frame = Frame(k.place(x, 0.0, z), (0.0, 1.0, 0.0), (dx, 0.0, dz))
        inside = tuple(_moved(r, (0.0, -off)) for r in rings)
        flats.append(panel_of(k, "wrap", "W", side.name, rectangle(c.width, v1 - v0), inside, frame))
    order = from_the_ends(len(turns))
    bends = tuple(
        Bend((-half, v), (half, v), angle, radius, turn, True, "the foot of its aft face")
        for v, angle, turn in zip(strip.bends, turns, order, strict=True)
        if angle >= LEAST_DEG
    )
    ring = ((-half, 0.0), (half, 0.0), (half, strip.length), (-half, strip.length))
    return panel_of(k, "wrap", "W", "wrap", ring, cut, flats[0].frame, bends, tuple(flats))


def sides(k: Console) -> list[Panel]:
    """The two sides, each with a flange along every side of the profile, folded inward under the wrap.
    Both are drawn as seen from starboard: the flanges of the port one come up, of the other go down."""
    out = []
    for key, code, hand in (("port", "P", 1), ("starboard", "S", -1)):
        at = k.place(0.0, hand * (k.c.width / 2 - k.t / 2), 0.0)
        frame = Frame(at, (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
        base, edges = _base(k), _edges(k)
        pattern, bends, flats = [base], [], [panel_of(k, key, code, key, *panel_rings(base), frame)]
        for n, edge in enumerate(edges, 1):
            pattern.append(Polygon(edge.developed))
            bends.append(Bend(*edge.bend, SQUARE_DEG, radius_m(k), n, hand > 0))
            flats.append(_flange(k, key, code, hand, edge))
        whole = unary_union([p.buffer(1e-9, join_style="mitre") for p in pattern]).simplify(1e-7)
        out.append(
            panel_of(k, key, code, f"{key} side", *panel_rings(whole), frame, tuple(bends), tuple(flats))
        )
    return out


class Edge:
    """An edge of a side along which it is folded: from the corner where it starts to the next one [m];
    cut: how far its flange ends before either."""

    def __init__(self, k: Console, side: Side, cut: tuple[float, float]) -> None:
        radius = radius_m(k)
        self.back = setback_m(SQUARE_DEG, radius + k.t)
        self.flat = FLANGE_M - self.back  # of the flange, beyond its bend
        self.takes = allowance_m(SQUARE_DEG, radius, k.t)
        self.side, self.cut = side, cut

    def at(self, along: float, out: float) -> Point2:
        """A place along the edge and out of it [m]."""
        (x, z), (dx, dz), (ox, oz) = self.side.start, self.side.along, self.side.out
        return (x + along * dx + out * ox, z + along * dz + out * oz)

    @property
    def ends(self) -> tuple[float, float]:
        return (self.cut[0], self.side.length - self.cut[1])

    @property
    def developed(self) -> Ring:
        """Bend and flange laid flat."""
        (a, b), far = self.ends, self.takes + self.flat - self.back
        return (self.at(a, -self.back), self.at(b, -self.back), self.at(b, far), self.at(a, far))

    @property
    def bend(self) -> tuple[Point2, Point2]:
        """The middle of its bend on the flat pattern."""
        a, b = self.ends
        return (
            self.at(a, self.takes / 2 - self.back),
            self.at(b, self.takes / 2 - self.back),
        )


def _edges(k: Console) -> list[Edge]:
    """The folded edges: at a corner each flange ends where the two bend lines meet, and a little more."""
    back, turns = setback_m(SQUARE_DEG, radius_m(k) + k.t), turns_deg(k)
    # at a corner that turns by a the lines at a distance s inside of both meet s tan(a / 2) before it
    cuts = [RELIEF_M, *(back * math.tan(math.radians(a) / 2) + RELIEF_M for a in turns), RELIEF_M]
    return [Edge(k, side, (cuts[n], cuts[n + 1])) for n, side in enumerate(k.sides)]


def _base(k: Console) -> Polygon:
    """What of a side stays flat: inside of its bend lines, down to its foot."""
    back = setback_m(SQUARE_DEG, radius_m(k) + k.t)
    edge = Polygon([k.sides[0].start, *(s.end for s in k.sides)])
    low = k.sides[0].start[1]
    inside = edge.buffer(-back, join_style="mitre")
    foot = [(x, low) for x in (k.sides[0].start[0] + back, k.sides[-1].end[0] - back)]
    return Polygon([*inside.exterior.coords]).union(Polygon([*foot, *_lifted(foot, 2 * back)[::-1]]))


def _lifted(points: Sequence[Point2], by: float) -> list[Point2]:
    return [(x, z + by) for x, z in points]


def _flange(k: Console, key: str, code: str, hand: int, edge: Edge) -> Panel:
    """A flange as it stands: flat on the inside of the wrap, from its bend inward."""
    (a, b), middle = edge.ends, -k.t / 2
    x, z = edge.at((a + b) / 2, middle)
    across = hand * (k.c.width / 2 - edge.back - edge.flat / 2)
    dx, dz = edge.side.along
    frame = Frame(k.place(x, across, z), (0.0, 1.0, 0.0), (dx, 0.0, dz))
    return panel_of(k, key, code, "flange", rectangle(edge.flat, b - a), (), frame)


def _moved(ring: Ring, by: Point2) -> Ring:
    return tuple((u + by[0], v + by[1]) for u, v in ring)


def riveted_m(k: Console) -> list[float]:
    """Lengths of the flanges that are riveted under the wrap, of both sides [m]."""
    return [b - a for e in _edges(k) for a, b in [e.ends]] * 2


def fold_findings(k: Console) -> list[Finding]:
    """Whether its sheet folds, and about which radius."""
    c = k.c
    if c.made != "folded sheet":
        return []
    if not folds(k):
        return [Finding("FOLDS", "mend", c.id, "This sheet does not fold",
                        "Only sheet metal takes a bend; it is planned of flat sheets on angles instead.",
                        {}, "Take sheet metal, or flat sheets on angles.",
                        fixes=(Fix("Flat sheets on angles", path=("fittings", c.id, "made"),
                                   value="flat sheets on angles"),))]  # fmt: skip
    radius, strip = radius_m(k), wrap_strip(k)
    values = {"radius": Quantity(radius, "m", True), "long": Quantity(strip.length, "m"),
              "wide": Quantity(c.width, "m")}  # fmt: skip
    work = Working(
        "length = flats + (R + K t) x angle of each bend",
        (Input("inside radius R", Quantity(radius, "m", True)),
         Input("thickness t", Quantity(k.t, "m", True)),
         Input("K", Quantity(k_factor(radius, k.t), ""), "radius under t: 0.33, under 3 t: 0.4, else 0.5")),
        Quantity(strip.length, "m"), "rules of the trade, “Folds”",
    )  # fmt: skip
    large = max(strip.length - k.sheet.width, c.width - k.sheet.height)
    text = "About an inside radius of {radius} its wrap is {long} long, laid flat, and {wide} wide."
    if large > 0:
        return [Finding("FOLDS", "mend", c.id, "Its wrap is larger than a sheet", text, values,
                        "Take a longer sheet, or flat sheets on angles.", work)]  # fmt: skip
    return [Finding("FOLDS", "fine", c.id, "Its sheet takes the bends",
                    text + " Try one bend on a piece left over: tools differ.", values,
                    working=work)]  # fmt: skip
