"""A stringer built: layers, glue and putty, its laminate or weld, and what is to be said of it."""

from __future__ import annotations

import math
from functools import partial
from itertools import pairwise

import numpy as np

from stirrup.core.contract.gives import Built, Handle
from stirrup.core.contract.gives import Shape as Drawn
from stirrup.core.contract.kind import Site
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.laminate import (
    GLUE_KG_M2,
    SPARE,
    STITCH_KG_PER_M,
    WELD,
    consumed,
    laid,
    resin,
    thick_m,
    wire,
)
from stirrup.core.kinds.stringer.choices import Stringer
from stirrup.core.kinds.stringer.shape import Run, outline_of, pieces_of, site_run
from stirrup.core.parts.entries import Cloth, Sheet
from stirrup.core.parts.model import Bought, Panel, panel_rings
from stirrup.core.space.shapes import Swept
from stirrup.core.space.solid import Solid

declare(
    "layout",
    {
        "STRINGER-JOINT": "how a stringer is joined",
        "STRINGER-WATER": "water beside a stringer",
        "STRINGER-STIFF": "how stiff a stringer is",
        "STRINGER-WORK": "cautions of a stringer",
    },
    acceptable=True,
    pace="behind",
)

LAP_M = 0.10  # of its laminate on the bottom, on either side: usual value
FILLET_M = 0.012  # radius of the putty along its foot, that cloth lies round
LAMINATE_GPA = 11.0  # stitched cloth and resin, by hand
STRETCHES = 12  # that it is looked at in


def layers_of(run: Run, sheet: Sheet) -> list[Panel]:
    """Its layers from starboard to port, in pieces."""
    c, t, out = run.c, sheet.thickness, []
    turns = (0, 180) if sheet.stuff.kind == "wood" else (0, 90, 180, 270)
    for n in range(1, c.layers + 1):
        off = (n - 0.5) * t - run.thick / 2
        pieces = pieces_of(outline_of(run, off, t), sheet, n)
        for k, piece in enumerate(pieces, start=1):
            outline, holes = panel_rings(piece)
            suffix, word = (f".{k}", f", piece {k}") if len(pieces) > 1 else ("", "")
            out.append(Panel(f"{c.id}/layer/{n}{suffix}", f"{c.code}-L{n}{suffix}",
                             f"{c.name}, layer {n} of {c.layers}{word}", c.id, sheet, outline, holes,
                             run.frame(off), turns))  # fmt: skip
    return out


def girth_m2(run: Run) -> float:
    """What its laminate covers: both sides, its top, and a lap on the bottom on either side [m2]."""
    girth = 2 * run.high + run.thick + 2 * LAP_M
    return float(np.trapezoid(girth, run.s))


def _bought(run: Run, sheet: Sheet, site: Site, panels: list[Panel]) -> list[Bought]:
    c, stock, middle = run.c, site.catalogue, len(run.x) // 2
    at: Point = run.at(middle, 0.0, float(run.bottom[middle, 1] + run.high[middle] / 2))
    putty, out = stock.find("putty-structural"), []
    if c.layers > 1:
        area = sum(p.polygon.area for p in panels) / c.layers
        glue = (c.layers - 1) * area * GLUE_KG_M2
        out.append(consumed(c, ("glue", "G", "glue between its layers"), putty, glue, glue, at))
    if c.joined == "welded":
        return [*out, wire(c, stock, run.long, STITCH_KG_PER_M, at)]
    section = c.gap * run.thick + 2 * (1 - math.pi / 4) * FILLET_M**2
    bed = run.long * section * getattr(putty, "density", 1200.0)
    out.append(consumed(c, ("bed", "B", "bed and fillets"), putty, bed, bed, at))
    cloth, wet = laid(c, stock, ("cloth", "C", "laminate"), c.cloth, girth_m2(run) * c.plies * SPARE, at)
    return [*out, *cloth, *resin(c, stock, c.resin, wet, at)]


def stiffness_nm2(run: Run, sheet: Sheet, cloth: Cloth | None) -> float | None:
    """E I of its middle about its own half height: core, webs and top of laminate [N m2]; None where its
    core's modulus is not known. The bottom, which works with it, is left out: on the safe side."""
    e, high = sheet.stuff.e_gpa, float(np.median(run.high))
    if e is None:
        return None
    out = e * 1e9 * run.thick * high**3 / 12
    if cloth is not None and run.c.joined == "laminated over":
        t = thick_m(cloth, run.c.plies)
        out += LAMINATE_GPA * 1e9 * (2 * t * high**3 / 12 + run.thick * t * (high / 2) ** 2)
    return out


def _joint(run: Run, sheet: Sheet) -> Finding:
    c, metal = run.c, sheet.stuff.kind == "metal"
    a, b = run.bevels_deg
    values = {"aft": Quantity(a, "deg"), "fore": Quantity(b, "deg"), "long": Quantity(run.long, "m"),
              "lap": Quantity(LAP_M, "m"), "gap": Quantity(c.gap, "m", True)}  # fmt: skip
    if metal != (c.joined == "welded"):
        right = "welded" if metal else "laminated over"
        fix = Fix(f"Have it {right}", path=("fittings", c.id, "joined"), value=right)
        return Finding("STRINGER-JOINT", "mend", c.id, f"This core is not {c.joined}",
                       f"{plain(sheet.name)} is {right}, to a hull of its own kind.", values,
                       f"Have it {right}, or take another sheet.", fixes=(fix,))  # fmt: skip
    bevel = "Its lower edge is bevelled by {aft} aft and {fore} fore."
    if metal:
        return Finding("STRINGER-JOINT", "fine", c.id, "How it is welded",
                       f"{{long}} along the bottom, stitched on both sides in turn. {bevel}",
                       values)  # fmt: skip
    if c.layers == 1 and run.long > sheet.width:
        return Finding("STRINGER-JOINT", "look", c.id, "Its only layer is butted",
                       f"{{long}} is longer than the sheet, and nothing runs past the joint. {bevel}",
                       values, "Scarf it by eight times its thickness, or take two thinner layers with "
                       "their joints apart.")  # fmt: skip
    if not c.gap:
        return Finding("STRINGER-JOINT", "look", c.id, "It stands hard on the bottom",
                       f"Without a bed its edge prints through the skin. {bevel}", values,
                       "Leave 3 to 6 mm for putty.")  # fmt: skip
    return Finding("STRINGER-JOINT", "fine", c.id, "How it is bedded",
                   f"{bevel} On {{gap}} of putty with a fillet along both sides, its top edges rounded by "
                   "10 mm, cloth over it and {lap} down on the bottom on either side.", values)  # fmt: skip


def _water(run: Run) -> Finding:
    c = run.c
    if c.limber:
        values = {"wide": Quantity(c.limber, "m", True), "every": Quantity(c.limber_every, "m")}
        return Finding("STRINGER-WATER", "fine", c.id, "Water runs through it",
                       "A limber hole of {wide} every {every}, its edges sealed.", values)  # fmt: skip
    fix = Fix("Limber holes of {wide}", path=("fittings", c.id, "limber"), value=0.04)
    return Finding("STRINGER-WATER", "look", c.id, "Water stands beside it",
                   "Without limber holes what lies outboard of it does not reach the bilge.",
                   {"wide": Quantity(0.04, "m", True)}, "Give it limber holes, or a drain at its aft end.",
                   fixes=(fix,))  # fmt: skip


def _stiff(run: Run, sheet: Sheet, site: Site) -> Finding:
    cloth = site.catalogue.find(run.c.cloth)
    ei = stiffness_nm2(run, sheet, cloth if isinstance(cloth, Cloth) else None)
    if ei is None:
        return Finding("STRINGER-STIFF", "look", run.c.id, "Nobody knows how stiff its core is",
                       "The catalogue has no modulus of elasticity for it.", {},
                       "Foam counts as a former: give it plies that are stiff enough alone.")  # fmt: skip
    high = float(np.median(run.high))
    work = Working(
        "E I = core E b h³ / 12 + laminate E (2 t h³ / 12 + b t (h / 2)²)",
        (Input("h", Quantity(high, "m", True), "the median of its height"),
         Input("b", Quantity(run.thick, "m", True), "its layers"),
         Input("plies", Quantity(run.c.plies, "count"))),
        Quantity(round(ei), "N m²"), "rules of the trade, “Stringers”",
    )  # fmt: skip
    return Finding("STRINGER-STIFF", "fine", run.c.id, "How stiff it is",
                   "{ei}, {high} high for most of its length: hold it against the one that comes out, "
                   "and twice as high is up to eight times as stiff.",
                   {"ei": Quantity(round(ei), "N m²"), "high": Quantity(high, "m", True)},
                   working=work)  # fmt: skip


def _work(c: Stringer) -> Finding:
    if c.joined == "welded":
        return Finding("STRINGER-WORK", "look", c.id, "Weld it away from fuel and foam", WELD, {})
    return Finding("STRINGER-WORK", "look", c.id, "One at a time, the hull propped",
                   "Level the hull and prop it where the old one comes out, so that she keeps her shape; "
                   "the next one only when this one is cured. Dust mask P3 while grinding, vapour "
                   "cartridges and gloves while it is wet.", {})  # fmt: skip


def findings_of(run: Run, sheet: Sheet, site: Site) -> list[Finding]:
    """All that is to be said of it; comes behind the hand."""
    return [_joint(run, sheet), _water(run), _stiff(run, sheet, site), _work(run.c)]


def _solid(run: Run) -> Solid:
    marks = np.linspace(0, len(run.x) - 1, STRETCHES + 1).astype(int)
    half, pieces = run.thick / 2, []
    for a, b in pairwise(marks.tolist()):
        corners = [run.at(k, side * half, float(z)) for k in (a, b) for side in (-1, 1)
                   for z in (run.bottom[k].max(), run.top[k])]  # fmt: skip
        pieces.append(Swept(tuple(corners)))
    ends = [run.at(k, side * half, float(z)) for k in (0, len(run.x) - 1) for side in (-1, 1)
            for z in (run.bottom.min(), run.top.max())]  # fmt: skip
    return Solid(run.c.id, "structure", plain(run.c.name), Swept(tuple(ends)), pieces=tuple(pieces))


def _shapes(run: Run) -> tuple[Drawn, ...]:
    half, last = run.thick / 2, len(run.x) - 1
    plan = [run.at(0, half, 0.0), run.at(last, half, 0.0), run.at(last, -half, 0.0), run.at(0, -half, 0.0)]
    marks = range(0, last + 1, 3)
    side = [run.at(k, 0.0, float(run.bottom[k, 1])) for k in marks]
    side += [run.at(k, 0.0, float(run.top[k])) for k in reversed(marks)]
    middle = last // 2
    across = [run.at(middle, s * half, float(z)) for s, z in ((-1, run.bottom[middle, 0]),
              (1, run.bottom[middle, 2]), (1, run.top[middle]), (-1, run.top[middle]))]  # fmt: skip
    return (
        Drawn("form-wall", tuple(plan), thin=True),
        Drawn("form-wall", tuple(side), view="side", thin=True),
        Drawn("form-body", tuple(across), view="across"),
    )  # fmt: skip


def build(c: Stringer, site: Site) -> Built:
    """Raises CoreError where there is no room for it."""
    run, sheet = site_run(c, site)
    panels = layers_of(run, sheet)
    last = len(run.x) - 1
    half = run.thick / 2
    top_line = (run.at(0, 0.0, float(run.top[0])), run.at(last, 0.0, float(run.top[-1])))

    def end(k: int) -> tuple[Point, Point]:
        z = float(run.top[k])
        return run.at(k, half, z), run.at(k, -half, z)

    return Built(
        c.id, tuple(panels), (), tuple(_bought(run, sheet, site, panels)), _shapes(run),
        (Handle("aft", "x", end(0), "aft end", "aft"), Handle("fore", "x", end(last), "fore end", "fore"),
         Handle("top", "z", top_line, "top", "top")),
        (), float(run.top.max()), solids=(_solid(run),), later=partial(findings_of, run, sheet, site),
        joined="weld" if c.joined == "welded" else "laminate",
    )  # fmt: skip
