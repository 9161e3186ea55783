"""A bulkhead built: its sheets, tabs or welds, and what is to be said of it."""

from __future__ import annotations

from shapely import box
from shapely.geometry import Point as FlatPoint
from shapely.geometry import Polygon

from stirrup.core.contract.gives import Built, Handle
from stirrup.core.contract.gives import Shape as Drawn
from stirrup.core.contract.kind import Site
from stirrup.core.contract.seam import Seam
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.crate import rectangle
from stirrup.core.fittings.laminate import STITCH_KG_PER_M, WELD, WET, consumed, laid, resin, tabs_m2, wire
from stirrup.core.kinds.bulkhead.choices import LEAST_CORNER_M, Bulkhead
from stirrup.core.kinds.bulkhead.coming_in import way_in
from stirrup.core.kinds.bulkhead.shape import CABLE_M, Shape, lay_out
from stirrup.core.parts.entries import Cloth, Resin
from stirrup.core.parts.model import Bought, Frame, Panel, panel_rings
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare(
    "layout",
    {
        "BULKHEAD-RIM": "what is left round a way through",
        "BULKHEAD-HOLES": "holes in a bulkhead",
        "BULKHEAD-JOINT": "how a bulkhead is joined",
        "BULKHEAD-WORK": "cautions of a bulkhead",
    },
    acceptable=True,
)

RIM_M = 0.09  # of ring round a way through
BUTT_WIDE_M = 0.20  # of the strap behind the joint of two halves: working value
SLABS = 10
BESIDE_HOLE_M = 0.025  # of sheet beside a cable hole: working value
PLAY_M = 0.005


def _panels(s: Shape) -> list[Panel]:
    """The bulkhead, or its halves and the strap behind their joint."""
    c = s.c
    out: list[Panel] = []
    turns = (0, 180) if s.sheet.stuff.kind == "wood" else (0, 90, 180, 270)
    names: tuple[str, ...] = ("bulkhead",)
    if len(s.pieces) > 1:
        what = "wing" if s.winged else "half"
        names = (f"port {what}", f"starboard {what}")
    codes = ("P", "S") if len(s.pieces) > 1 else ("B",)
    frame = Frame((s.middle, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
    for piece, name, code in zip(s.pieces, names, codes, strict=True):
        outline, holes = panel_rings(piece)
        out.append(Panel(f"{c.id}/{code.lower()}", f"{c.code}-{code}", f"{c.name}, {name}", c.id, s.sheet,
                         outline, holes, frame, turns, role="bearer"))  # fmt: skip
    return out + _straps(s)


def _straps(s: Shape) -> list[Panel]:
    """Behind the joint of two halves, over and under the way through."""
    c = s.c
    if not c.halves or s.winged or len(s.pieces) < 2:
        return []
    x = c.x + 1.5 * s.sheet.thickness
    out: list[Panel] = []
    joint = s.whole.intersection(box(-0.001, -20, 0.001, 20))
    for part in getattr(joint, "geoms", [joint]):
        if part.is_empty:
            continue
        low, high = part.bounds[1] + PLAY_M, part.bounds[3] - PLAY_M
        strip = s.whole.intersection(box(-BUTT_WIDE_M / 2, low, BUTT_WIDE_M / 2, high))
        if high - low < BUTT_WIDE_M / 4 or not isinstance(strip, Polygon) or strip.is_empty:
            continue
        n = len(out) + 1
        ring = rectangle(BUTT_WIDE_M, high - low)
        out.append(Panel(f"{c.id}/strap/{n}", f"{c.code}-N{n}", f"{c.name}, butt strap {n}", c.id, s.sheet,
                         ring, (), Frame((x, 0.0, (low + high) / 2), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)),
                         (0, 180)))  # fmt: skip
    return out


def tape_m2(s: Shape, tape: Cloth) -> float:
    """Tape on both sides along the hull, each ply a lap wider than the one under it [m2]."""
    c = s.c
    return 2 * tabs_m2(tape, c.plies, s.bedded_m)


def _bought(s: Shape, site: Site) -> list[Bought]:
    """Bedding, tape and resin; of a welded one its wire; grommets of its cable holes."""
    c, stock = s.c, site.catalogue
    at: Point = (s.middle, 0.0, float(s.whole.centroid.y))
    ring, count = stock.find("grommet-40"), len(s.holes)
    out = [Bought(f"{c.id}/grommets", f"{c.code}-O", f"{c.name}, grommets", c.id, ring, count,
                  count * ring.mass, at)] if count else []  # fmt: skip
    if c.joined == "welded":
        return [*out, wire(c, stock, s.bedded_m, STITCH_KG_PER_M, at)]
    tape, putty = stock.find(c.tape), stock.find("putty-structural")
    if isinstance(putty, Resin) and c.gap:
        bed = s.bedded_m * c.gap * s.sheet.thickness * putty.density
        out.append(consumed(c, ("bed", "G", "bedding"), putty, bed, bed, at))
    area = tape_m2(s, tape) if isinstance(tape, Cloth) else 0.0
    tabs, wet = laid(c, stock, ("tape", "T", "tabs"), c.tape, area, at)
    return [*out, *tabs, *resin(c, stock, c.resin, wet, at)]


def _seams(s: Shape) -> tuple[Seam, ...]:
    """Along the hull, where it is welded."""
    if s.c.joined != "welded":
        return ()
    rings = [tuple((s.middle, float(y), float(z)) for y, z in g.exterior.coords) for g in s.sheets]
    names = ("port wing", "starboard wing") if s.winged else ("bottom and sides",)
    return tuple(Seam(s.c.code, f"along {name}", ring, s.bedded_m / len(rings))
                 for name, ring in zip(names, rings, strict=True))  # fmt: skip


def _rim(s: Shape) -> list[Finding]:
    """Whether its ring is broad enough, and its corners round enough."""
    c = s.c
    if not c.wide:
        return []
    if s.winged:
        return [Finding("BULKHEAD-RIM", "look", c.id, "Two wings tie bottom and sides, not side to side",
                        "Nothing of it goes across; each wing's inner edge is free.", {},
                        "Stiffen their inner edges with a flange or a doubler, and tie them by a deck, a "
                        "thwart or a beam at their heads.")]  # fmt: skip
    values = {"rim": Quantity(s.rim_m, "m", True), "least": Quantity(RIM_M, "m", True),
              "corner": Quantity(c.corner, "m", True),
              "round": Quantity(LEAST_CORNER_M, "m", True)}  # fmt: skip
    if s.rim_m < RIM_M - 1e-9:
        return [Finding("BULKHEAD-RIM", "mend", c.id, "Little is left round its way through",
                        "At its narrowest {rim} are left; {least} are the least that still stiffens her.",
                        values, "Make the way through smaller, or move its sill.")]  # fmt: skip
    if c.corner < LEAST_CORNER_M - 1e-9:
        fix = Fix("Round its corners by {round}", path=("fittings", c.id, "corner"), value=LEAST_CORNER_M)
        room = (c.wide if c.open_top else min(c.wide, c.high)) / 2 >= LEAST_CORNER_M
        return [Finding("BULKHEAD-RIM", "look", c.id, "Its corners are sharp",
                        "A radius of {corner} starts a crack; {round} does not.", values,
                        "Round them more.", fixes=(fix,) if room else ())]  # fmt: skip
    text = "At its narrowest {rim} are left round the way through."
    return [Finding("BULKHEAD-RIM", "fine", c.id, "Its ring is broad enough", text, values)]


def _holes(s: Shape) -> list[Finding]:
    """Whether enough of the sheet is left round its cable holes."""
    c = s.c
    if not (c.cables or c.hand):
        return []
    edges = [s.closed.exterior, *([s.way.exterior] if not s.way.is_empty else [])]
    spots = [(FlatPoint(*at), CABLE_M / 2) for at in s.holes]
    spots += [(FlatPoint(*at), c.hand / 2) for at in s.hands]
    inside = all(s.closed.contains(p) and not s.way.contains(p) for p, _ in spots)
    gaps = [p.distance(e) - r for p, r in spots for e in edges]
    gaps += [p.distance(q) - r - o for k, (p, r) in enumerate(spots) for q, o in spots[k + 1 :]]
    near = min(gaps, default=0.0)
    left = float(near) if inside else 0.0
    values = {"left": Quantity(max(left, 0.0), "m", True), "least": Quantity(BESIDE_HOLE_M, "m", True)}
    if left >= BESIDE_HOLE_M - 1e-9:
        return [Finding("BULKHEAD-HOLES", "fine", c.id, "Its holes leave enough of it",
                        "{left} are left beside them at the narrowest; seal their edges"
                        + (", and set the grommets." if c.cables else "."), values)]  # fmt: skip
    return [Finding("BULKHEAD-HOLES", "mend", c.id, "A hole is too near to an edge or to another",
                    "{left} of the sheet are left beside it; {least} are needed.", values,
                    "Set the holes higher, or further from the edge.")]  # fmt: skip


def _joint(s: Shape, site: Site) -> Finding:
    """Whether it is joined in a way that its sheet takes, and how much of that there is."""
    c, kind = s.c, s.sheet.stuff.kind
    metal = kind == "metal"
    values = {"long": Quantity(s.bedded_m, "m"), "gap": Quantity(c.gap, "m", True)}
    if metal != (c.joined == "welded"):
        right = "welded" if metal else "tabbed"
        fix = Fix(f"Have it {right}", path=("fittings", c.id, "joined"), value=right)
        return Finding("BULKHEAD-JOINT", "mend", c.id, f"This sheet is not {c.joined}",
                       f"{plain(s.sheet.name)} is {right} to a hull of its own kind.", values,
                       f"Have it {right}, or take another sheet.", fixes=(fix,))  # fmt: skip
    if metal:
        return Finding("BULKHEAD-JOINT", "fine", c.id, "How long its weld is",
                       "{long} along the hull: stitched, both sides in turn, from the middle outward, so "
                       "that she stays straight.", values)  # fmt: skip
    tape = site.catalogue.find(c.tape)
    area = tape_m2(s, tape) if isinstance(tape, Cloth) else 0.0
    values |= {"tape": Quantity(area, "m2"), "grind": Quantity(GRIND_M, "m"),
               "mark": Quantity(MARK_M, "m")}  # fmt: skip
    work = Working(
        "tape = 2 sides x along the hull x sum of widths x 1.1",
        (Input("along the hull", Quantity(s.bedded_m, "m")), Input("plies", Quantity(c.plies, "count"))),
        Quantity(area, "m2"), "rules of the trade, “Bulkheads”",
    )  # fmt: skip
    bed = "Set it on a bed of {gap}, never hard on the skin" if c.gap else "Nothing beds it"
    if not c.gap:
        return Finding("BULKHEAD-JOINT", "look", c.id, "It stands hard on the skin",
                       "Without a gap its edge prints through, and cracks the skin there.", values,
                       "Leave 3 to 6 mm for a bed of putty or foam.", work)  # fmt: skip
    return Finding("BULKHEAD-JOINT", "fine", c.id, "How it is tabbed",
                   f"{bed}; grind {{grind}} on either side, the marks {{mark}} off so that they are still "
                   "there afterwards. {tape} of tape over a fillet, {long} along the hull.",
                   values, working=work)  # fmt: skip


GRIND_M, MARK_M = 0.15, 0.20  # of skin on either side; of the marks from it


def _work(c: Bulkhead) -> Finding:
    welded = c.joined == "welded"
    title = "Weld it away from fuel and foam" if welded else "Grind and tab with air and cover"
    return Finding("BULKHEAD-WORK", "look", c.id, title, WELD if welded else WET, {})


def _solid(s: Shape) -> Solid:
    """The room of its sheet, slab by slab."""
    c, t = s.c, s.sheet.thickness
    x0, x1 = c.x, c.x + t
    low, high = s.whole.bounds[1], s.whole.bounds[3]
    step, pieces = (high - low) / SLABS, []
    for k in range(SLABS):
        a, b = low + k * step, low + (k + 1) * step
        band = s.whole.intersection(box(-20, a, 20, b))
        for part in getattr(band, "geoms", [band]):
            if isinstance(part, Polygon) and part.area > 1e-6:
                y0, _, y1, _ = part.bounds
                pieces.append(Prism(box(x0, y0, x1, y1), a, b))
    y0, _, y1, _ = s.whole.bounds
    return Solid(c.id, "wall", plain(c.name), Prism(box(x0, y0, x1, y1), low, high), pieces=tuple(pieces))


def _shapes(s: Shape) -> tuple[Drawn, ...]:
    """Its edge from above and from the side, its outline across."""
    c, t = s.c, s.sheet.thickness
    y0, low, y1, high = s.whole.bounds
    x0, x1 = c.x, c.x + t
    rings = [tuple((s.middle, float(y), float(z)) for y, z in g.exterior.coords[:-1]) for g in s.sheets]
    holes = [tuple((s.middle, float(y), float(z)) for y, z in r.coords[:-1])
             for g in s.sheets for r in g.interiors]  # fmt: skip
    return (
        Drawn("form-wall", ((x0, y0, high), (x1, y0, high), (x1, y1, high), (x0, y1, high)), thin=True),
        Drawn("form-wall", ((x0, 0.0, low), (x1, 0.0, low), (x1, 0.0, high), (x0, 0.0, high)), view="side",
              thin=True),
        *(Drawn("form-body", ring, view="across") for ring in rings),
        *(Drawn("form-line", h, view="across") for h in holes),
    )  # fmt: skip


def build(c: Bulkhead, site: Site) -> Built:
    """Sheets, bedding and tabs, or welds. Raises CoreError where there is no room for it."""
    s = lay_out(c, site)
    y0, _, y1, high = s.whole.bounds
    line = ((c.x, y0, high), (c.x, y1, high))
    up = ((c.x, 0.0, high), (c.x + s.sheet.thickness, 0.0, high))
    over = [Finding("BULKHEAD-JOINT", "look", c.id, f"Notched over {plain(name)}",
                    "Fit it by a pattern first; tab it there too.", {}) for name in s.over]  # fmt: skip
    region = box(c.x, y0, c.x + s.sheet.thickness, y1)
    return Built(
        c.id, tuple(_panels(s)), (), tuple(_bought(s, site)), _shapes(s),
        (Handle("x", "x", line, "aft face", "aft"), Handle("top", "z", up, "top", "top")),
        (*_rim(s), *_holes(s), way_in(s, site), _joint(s, site), *over, _work(c)), high, region,
        solids=(_solid(s),),
        joined="weld" if c.joined == "welded" else "laminate",
        seams=_seams(s),
    )  # fmt: skip
