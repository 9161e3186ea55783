"""A liner built: plates laid flat, rivets by their grip, and what is to be said of it."""

from __future__ import annotations

import math
from functools import partial

import numpy as np
from numpy.typing import NDArray
from shapely import box

from stirrup.core.contract.gives import Built, Handle
from stirrup.core.contract.gives import Shape as Drawn
from stirrup.core.contract.kind import Site
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare
from stirrup.core.kinds.liner.choices import Liner
from stirrup.core.kinds.liner.laid_out import LaidOut, Piece, lay_out
from stirrup.core.kinds.liner.wrapped import SLIT_M, Wrapped, wrapped
from stirrup.core.parts.entries import Fastener
from stirrup.core.parts.model import Bought, Frame, Panel

declare(
    "layout",
    {
        "LINER-BENDS": "how a liner bends into its hull", "LINER-GROWS": "how a liner grows with heat",
        "LINER-WRAPS": "how one sheet wraps her bottom", "LINER-HEAT": "bends of a liner",
        "LINER-RIVETS": "rivets of a liner", "LINER-WORK": "cautions of a liner",
    },
    acceptable=True,
    pace="behind",
)  # fmt: skip

Array = NDArray[np.float64]
GROWS = 0.18e-3  # of its length for each kelvin: 0.15 to 0.2 mm a metre
CLOSE_M = 0.15  # rivets no further apart hold it from growing
STRETCH_M = 0.004  # of a plate that is drawn in by its rivets cold: working value
COLD_DEG, BAND_T, RADIUS_T = 20.0, 8.0, 3.0  # bent by rivets; warmed, and bent to, in thicknesses
SPARE = 1.1
SHANK_M, EDGE_D = 0.0048, 2.0  # of its rivets; from an edge, in shanks
SEALANT_ML = 0.35  # a hole: working value
CARTRIDGE_ML = 290.0


def _unit(v: Array) -> Array:
    return np.asarray(v / np.linalg.norm(v))


def _point(v: Array) -> Point:
    return (float(v[0]), float(v[1]), float(v[2]))


def _panel(liner: LaidOut, piece: Piece, number: int) -> Panel:
    """A plate laid flat, about its middle under the hull."""
    c, sheet = liner.choices, liner.sheet
    along = _unit((piece.lower[-1] + piece.upper[-1]) - (piece.lower[0] + piece.upper[0]))
    out = (piece.upper - piece.lower).mean(axis=0)
    out = _unit(out - (out @ along) * along)
    down = np.cross(along, out)
    down = down if down[2] < 0 else -down
    ring = np.array(piece.flat.exterior.coords[:-1])
    middle = np.array([piece.flat.centroid.x, piece.flat.centroid.y])
    centre = piece.middle + down * sheet.thickness / 2
    side = {1: "P", -1: "S", 0: "C"}[piece.hand]
    word = {1: "port", -1: "starboard", 0: ""}[piece.hand]
    outline = tuple((float(u), float(v)) for u, v in ring - middle)
    return Panel(f"{c.id}/plate/{number}", f"{c.code}-{side}{number}",
                 f"{c.name}, {word} {piece.strip}, plate "
                 f"{number}".replace("  ", " "), c.id, sheet, outline, (),
                 Frame(_point(centre), _point(along), _point(out)), (0, 90, 180, 270),
                 role="bent")  # fmt: skip


def _wrapped_panel(liner: LaidOut, found: Wrapped, number: int) -> Panel:
    """One sheet laid flat, about its middle under the keel."""
    c, sheet = liner.choices, liner.sheet
    middle = np.array([found.flat.centroid.x, found.flat.centroid.y])
    ring = np.array(found.flat.exterior.coords[:-1]) - middle
    holes = tuple(tuple((float(u - middle[0]), float(v - middle[1])) for u, v in r.coords[:-1])
                  for r in found.flat.interiors)  # fmt: skip
    weights = [p.area_m2 for p in found.pieces]
    centre = np.average([p.middle for p in found.pieces], axis=0, weights=weights)
    along = _unit(found.pieces[0].lower[-1] - found.pieces[0].lower[0])
    return Panel(f"{c.id}/sheet/{number}", f"{c.code}-O{number}", f"{c.name}, sheet {number}", c.id, sheet,
                 tuple((float(u), float(v)) for u, v in ring), holes,
                 Frame((float(centre[0]), 0.0, float(centre[2]) - sheet.thickness / 2), _point(along),
                       (0.0, 1.0, 0.0)), (0, 180),
                 role="bent")  # fmt: skip


def sheets_of(liner: LaidOut) -> list[Wrapped] | None:
    """Each length as one sheet; None where it is of plates, or where one does not wrap."""
    if liner.choices.made != "one sheet":
        return None
    lengths: dict[float, list[Piece]] = {}
    for piece in liner.pieces:
        lengths.setdefault(round(float(piece.lower[0, 0]), 2), []).append(piece)
    out = [wrapped(pieces) for _, pieces in sorted(lengths.items())]
    found = [w for w in out if w is not None]
    return found if len(found) == len(out) else None


def rivets_of(piece: Piece, pitch: float) -> int:
    """On a grid of its pitch over a plate and along its edges: rows and columns, one at each end."""
    x0, _, x1, _ = piece.flat.bounds
    long = float(x1 - x0)
    wide = float(piece.flat.area) / long
    return (max(1, math.ceil(long / pitch)) + 1) * (max(1, math.ceil(wide / pitch)) + 1)


def _rivet(liner: LaidOut, site: Site) -> Fastener | None:
    c = liner.choices
    style = "solid rivet" if c.rivets == "solid, wet-set" else "rivet"
    return site.catalogue.fastener_for(style, liner.sheet.thickness + c.hull)


def _bought(liner: LaidOut, site: Site, count: int) -> list[Bought]:
    c, rivet = liner.choices, _rivet(liner, site)
    weights = [p.area_m2 for p in liner.pieces]
    at = _point(np.average([p.middle for p in liner.pieces], axis=0, weights=weights))
    out = []
    if rivet is not None:
        out.append(Bought(f"{c.id}/rivets", f"{c.code}-R", f"{c.name}, rivets", c.id, rivet, count,
                          count * rivet.mass, at, "fasteners"))  # fmt: skip
    seal = site.catalogue.plain("adhesive-ms")
    tubes = count * SEALANT_ML / CARTRIDGE_ML
    out.append(Bought(f"{c.id}/seal", f"{c.code}-G", f"{c.name}, sealant round its rivets", c.id, seal,
                      tubes, tubes * seal.mass, at, "consumables"))  # fmt: skip
    return out


def _bends(liner: LaidOut) -> Finding:
    c, worst = liner.choices, max(p.stretch_m for p in liner.pieces)
    values = {"off": Quantity(worst, "m", True), "most": Quantity(STRETCH_M, "m", True),
              "count": Quantity(len(liner.pieces), "count"),
              "area": Quantity(liner.area_m2, "m2")}  # fmt: skip
    text = ("{count} plates, {area}, laid flat by their rulings; between its edges the worst is {off} "
            "longer or shorter than her bottom, up to {most} is drawn in cold.")  # fmt: skip
    if worst <= STRETCH_M:
        return Finding("LINER-BENDS", "fine", c.id, "It bends into her cold", text, values)
    return Finding("LINER-BENDS", "look", c.id, "It has to be stretched into her", text, values,
                   "Warm it with a heat gun as it is drawn up, forward last; or end it where she begins to "
                   "twist.")  # fmt: skip


def _wraps(liner: LaidOut, sheets: list[Wrapped] | None) -> list[Finding]:
    c = liner.choices
    if c.made != "one sheet":
        return []
    if sheets is None:
        fix = Fix("Make it of plates", path=("fittings", c.id, "made"), value="plates")
        return [Finding("LINER-WRAPS", "mend", c.id, "One sheet does not wrap her",
                        "Her strips do not lie beside one another in one plane: a flat at the keel, or a "
                        "bow that twists.", {}, "Make it of plates, or end it further aft.",
                        fixes=(fix,))]  # fmt: skip
    wide = max(s.slit_m for s in sheets)
    number, edge = max(((w, e) for s in sheets for w, e in zip(s.slits_m, s.edges, strict=False)),
                       key=lambda row: row[0])  # fmt: skip
    x0, y0, x1, y1 = max((s.flat.bounds for s in sheets), key=lambda b: b[3] - b[1])
    values = {"wide": Quantity(wide, "m", True), "across": Quantity(y1 - y0, "m"),
              "long": Quantity(x1 - x0, "m"), "most": Quantity(SLIT_M, "m", True)}  # fmt: skip
    if max(x1 - x0, y1 - y0) > liner.sheet.width or min(x1 - x0, y1 - y0) > liner.sheet.height:
        fix = Fix("Make it of plates", path=("fittings", c.id, "made"), value="plates")
        return [Finding("LINER-WRAPS", "mend", c.id, "No sheet is as wide as she is round",
                        "Laid flat it is {long} by {across}.", values,
                        "Order a wider sheet, or make it of plates.", fixes=(fix,))]  # fmt: skip
    if number <= SLIT_M:
        return [Finding("LINER-WRAPS", "fine", c.id, "One sheet wraps her without a slit",
                        "Laid flat it is {long} by {across}.", values)]  # fmt: skip
    return [Finding("LINER-WRAPS", "look", c.id, "It is slit to wrap her",
                    f"At the {edge} a pie of up to {{wide}} is cut out; laid flat it is {{long}} by "
                    "{across}.", values,
                    "Cut the pies a saw's width narrow, wrap it, then trim them to close; the slit lies on "
                    "a row of rivets.")]  # fmt: skip


def _heat(liner: LaidOut, sheets: list[Wrapped] | None) -> list[Finding]:
    """Bends that are too sharp for the sheet cold."""
    if sheets is None:
        return []
    c, t = liner.choices, liner.sheet.thickness
    worst, edge = max(((b, e) for s in sheets for b, e in zip(s.bends_deg, s.edges, strict=False)),
                      key=lambda row: row[0])  # fmt: skip
    values = {"worst": Quantity(worst, "deg"), "most": Quantity(COLD_DEG, "deg"),
              "band": Quantity(BAND_T * t, "m", True),
              "radius": Quantity(RADIUS_T * t, "m", True)}  # fmt: skip
    if worst <= COLD_DEG:
        return [Finding("LINER-HEAT", "fine", c.id, "It bends cold",
                        f"At most by {{worst}}, at the {edge}; up to {{most}} its rivets hold it.",
                        values)]  # fmt: skip
    return [Finding("LINER-HEAT", "look", c.id, "It is bent warm",
                    f"By {{worst}} at the {edge}: warm a band of {{band}} on both faces until it droops, "
                    f"to an inside radius of {{radius}} at least, and hold it until it is cold.", values,
                    "Try a strip first; what smokes is spoilt. Gloves, air.")]  # fmt: skip


def _grows(liner: LaidOut) -> Finding:
    """A close grid holds it; wide apart it needs slots as long as it grows."""
    c = liner.choices
    longest = max(float(p.flat.bounds[2] - p.flat.bounds[0]) for p in liner.pieces)
    grows = GROWS * c.range_k * longest
    values = {"grows": Quantity(grows, "m", True), "long": Quantity(longest, "m"),
              "pitch": Quantity(c.pitch, "m", True), "close": Quantity(CLOSE_M, "m", True)}  # fmt: skip
    work = Working(
        "grows = 0.18 mm x metres x kelvin",
        (Input("longest plate", Quantity(longest, "m")), Input("range", Quantity(c.range_k, "K"))),
        Quantity(grows, "m", True), "rules of the trade, “Liners”",
    )  # fmt: skip
    if c.holes == "slotted":
        return Finding("LINER-GROWS", "fine", c.id, "It may grow",
                       "Its longest plate, {long}, grows by {grows}: slots that long, washers under the "
                       "heads, the middle row round.", values, working=work)  # fmt: skip
    if c.pitch <= CLOSE_M + 1e-9:
        return Finding("LINER-GROWS", "fine", c.id, "Its rivets hold it from growing",
                       "Free it would grow by {grows}. Rivets every {pitch} hold it: rivet it on a warm "
                       "day, or warmed, so that it is drawn tight in the "
                       "cold.", values, working=work)  # fmt: skip
    fixes = (Fix("Rivets every {close}", path=("fittings", c.id, "pitch"), value=CLOSE_M),
             Fix("Slotted holes", path=("fittings", c.id, "holes"), value="slotted"))  # fmt: skip
    return Finding("LINER-GROWS", "mend", c.id, "It would buckle in the sun",
                   "Its longest plate, {long}, grows by {grows}, and rivets every {pitch} in round holes "
                   "do not hold it "
                   "flat.", values, "Closer rivets, or slots.", work, fixes=fixes)  # fmt: skip


def _rivets(liner: LaidOut, site: Site, count: int) -> list[Finding]:
    c, rivet = liner.choices, _rivet(liner, site)
    grip = liner.sheet.thickness + c.hull
    values = {"grip": Quantity(grip, "m", True), "count": Quantity(count, "count"),
              "long": Quantity(grip + 1.5 * SHANK_M, "m", True),
              "edge": Quantity(EDGE_D * SHANK_M, "m", True)}  # fmt: skip
    if c.rivets == "blind":
        fix = Fix("Solid rivets, wet-set", path=("fittings", c.id, "rivets"), value="solid, wet-set")
        return [Finding("LINER-RIVETS", "mend", c.id, "Blind rivets under water",
                        "Their stems let water in sooner or later, and they hold less.", values,
                        "Solid rivets set wet, bucked from inside; or bolts with sealing washers.",
                        fixes=(fix,))]  # fmt: skip
    if rivet is None:
        return [Finding("LINER-RIVETS", "mend", c.id, "No rivet in stock holds it",
                        "Sheet and bottom add up to {grip}; a solid rivet of {long} would do.", values,
                        "Order that length, or take another sheet.")]  # fmt: skip
    return [Finding("LINER-RIVETS", "fine", c.id, "Its rivets",
                    "{count} of {long} for a grip of {grip}, a tenth to spare, set wet, no nearer than "
                    "{edge} to an edge. Two people: one bucks inside.", values)]  # fmt: skip


def _work(c: Liner) -> Finding:
    return Finding("LINER-WORK", "look", c.id, "She lies on her side or upside down",
                   "Turn her with straps and enough people, or a hoist rated for her; nobody under her "
                   "while she hangs. Every old hole under it is closed first. Hearing and eyes covered "
                   "while rivets are bucked.", {})  # fmt: skip


def _findings(liner: LaidOut, site: Site, count: int) -> list[Finding]:
    sheets = sheets_of(liner)
    return [
        _bends(liner),
        *_wraps(liner, sheets),
        *_heat(liner, sheets),
        _grows(liner),
        *_rivets(liner, site, count),
        _work(liner.choices),
    ]


def _shapes(liner: LaidOut) -> tuple[Drawn, ...]:
    out = []
    for p in liner.pieces:
        ring = tuple((x, y, z) for x, y, z in np.concatenate([p.lower, p.upper[::-1]]).tolist())
        out.append(Drawn("form-line", ring))
        if p.hand >= 0:
            out.append(Drawn("form-line", ring, view="side"))
    return tuple(out)


def build(c: Liner, site: Site) -> Built:
    """Raises CoreError where there is no bottom to line."""
    liner = lay_out(c, site)
    sheets = sheets_of(liner)
    panels = tuple(_panel(liner, p, k) for k, p in enumerate(liner.pieces, start=1))
    if sheets is not None:
        panels = tuple(_wrapped_panel(liner, s, k) for k, s in enumerate(sheets, start=1))
    count = math.ceil(sum(rivets_of(p, c.pitch) for p in liner.pieces) * SPARE - 1e-6)
    points = np.concatenate([np.concatenate([p.lower, p.upper]) for p in liner.pieces])
    x0, y0, low = points.min(axis=0).tolist()
    x1, y1, _ = points.max(axis=0).tolist()

    def line(x: float) -> tuple[Point, Point]:
        return (x, y0, low), (x, y1, low)

    return Built(
        c.id, panels, (), tuple(_bought(liner, site, count)), _shapes(liner),
        (Handle("aft", "x", line(x0), "aft edge", "aft"),
         Handle("fore", "x", line(x1), "fore edge", "fore")),
        (), low, box(x0, y0, x1, y1), later=partial(_findings, liner, site, count),
    )  # fmt: skip
