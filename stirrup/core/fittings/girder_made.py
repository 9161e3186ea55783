"""A girder along the bottom built: its layers, what bonds them and it, what it fills."""

from __future__ import annotations

import math
from collections.abc import Callable
from itertools import pairwise

import numpy as np
from shapely import box
from shapely.geometry import Polygon

from stirrup.core.contract.gives import Shape as Drawn
from stirrup.core.contract.kind import Site
from stirrup.core.contract.seam import Seam
from stirrup.core.document import Point
from stirrup.core.findings import plain
from stirrup.core.fittings.crate import rectangle
from stirrup.core.fittings.edges import largest
from stirrup.core.fittings.girder import BUTT_M, MARGIN_M, Run, outline_of, pieces_of
from stirrup.core.fittings.laminate import GLUE_KG_M2, SPARE, STITCH_KG_PER_M, consumed, laid, resin, wire
from stirrup.core.parts.entries import Sheet
from stirrup.core.parts.model import Bought, Frame, Panel, panel_rings
from stirrup.core.space.shapes import Swept
from stirrup.core.space.solid import Solid

LAP_M = 0.10  # of its laminate on the bottom, on either side: usual value
FILLET_M = 0.012  # radius of the putty along its foot, that cloth lies round
STRETCHES = 12  # that it is looked at in
LAPS_T, DOUBLED = 8.0, 0.9  # of a doubler: thicknesses to either side, share of the height


def layers_of(run: Run, sheet: Sheet, cut: Callable[[Polygon], Polygon] = largest) -> list[Panel]:
    """Its layers from the inner one outward, in pieces. cut: what else of an outline is cut away, given
    along it and up."""
    c, t, out = run.c, sheet.thickness, []
    hand = 1.0 if sum(c.ends_y) >= 0 else -1.0
    turns = (0, 180) if sheet.stuff.kind == "wood" else (0, 90, 180, 270)
    for n in range(1, c.layers + 1):
        # what is hollow lies between both halves of them
        off = hand * ((n - 0.5) * t + (c.hollow if n > c.layers // 2 else 0.0) - run.thick / 2)
        pieces = pieces_of(cut(outline_of(run, off, t)), sheet, n)
        for k, piece in enumerate(pieces, start=1):
            outline, holes = panel_rings(piece)
            suffix, word = (f".{k}", f", piece {k}") if len(pieces) > 1 else ("", "")
            out.append(Panel(f"{c.id}/layer/{n}{suffix}", f"{c.code}-L{n}{suffix}",
                             f"{c.name}, layer {n} of {c.layers}{word}", c.id, sheet, outline, holes,
                             run.frame(off), turns))  # fmt: skip
    return out


def cap_of(run: Run, sheet: Sheet) -> list[Panel]:
    """The strip that closes a hollow one at its top, between its tapers, in pieces."""
    c, t = run.c, sheet.thickness
    if not c.hollow:
        return []
    long = (run.long - 2 * c.taper) / math.cos(math.radians(c.rises))
    count = max(1, math.ceil(long / (sheet.width - MARGIN_M)))
    (cx, cy), up = run.ahead, math.radians(c.rises)
    ahead, across = (cx * math.cos(up), cy * math.cos(up), math.sin(up)), (-cy, cx, 0.0)
    out = []
    for k in range(count):
        s = c.taper + (k + 0.5) * (run.long - 2 * c.taper) / count
        x, y, _ = run.frame(0.0).at(s, 0.0)
        z = float(np.interp(s, run.s, run.top)) - t / 2
        suffix, word = (f".{k + 1}", f", piece {k + 1}") if count > 1 else ("", "")
        out.append(Panel(f"{c.id}/cap{suffix}", f"{c.code}-T{suffix}", f"{c.name}, cap{word}", c.id, sheet,
                         rectangle(long / count - BUTT_M, run.thick), (), Frame((x, y, z), ahead, across),
                         (0, 180)))  # fmt: skip
    return out


def doublers_of(run: Run, sheet: Sheet, panels: list[Panel]) -> list[Panel]:
    """Behind each joint of a girder of one layer, on its inner face: eight thicknesses to either side, nine
    tenths of its height there."""
    c, t = run.c, sheet.thickness
    ends = sorted((p.polygon.bounds[0], p.polygon.bounds[2]) for p in panels)
    hand, out = (1.0 if sum(c.ends_y) >= 0 else -1.0), []
    frame, (cx, cy) = run.frame(-hand * (run.thick + t) / 2), run.ahead
    for n, ((_, a), (b, _)) in enumerate(pairwise(ends), start=1):
        s = (a + b) / 2
        low, high = (float(np.interp(s, run.s, row)) for row in (run.bottom[:, 1] + c.gap, run.top))
        foot = high - DOUBLED * (high - low)
        x, y, _ = frame.at(s, 0.0)
        out.append(Panel(f"{c.id}/doubler/{n}", f"{c.code}-D{n}", f"{c.name}, doubler {n}, edges rounded",
                         c.id, sheet, rectangle(2 * LAPS_T * t, high - foot), (),
                         Frame((x, y, (foot + high) / 2), (cx, cy, 0.0), (0.0, 0.0, 1.0)),
                         (0, 180)))  # fmt: skip
    return out


def girth_m2(run: Run) -> float:
    """What its laminate covers: both sides, its top, and a lap on the bottom on either side [m2]."""
    girth = 2 * run.high + run.thick + 2 * LAP_M
    return float(np.trapezoid(girth, run.s))


def bonded(run: Run, sheet: Sheet, site: Site, panels: list[Panel]) -> list[Bought]:
    """Glue between its layers, its bed and laminate, or the wire of its weld."""
    c, stock, middle = run.c, site.catalogue, len(run.x) // 2
    at: Point = run.at(middle, 0.0, float(run.bottom[middle, 1] + run.high[middle] / 2))
    putty, out = stock.find("putty-structural"), []
    glued = _glued_m2(run, panels)
    if glued > 0:
        glue = glued * GLUE_KG_M2
        out.append(consumed(c, ("glue", "G", "glue between its layers"), putty, glue, glue, at))
    if c.joined == "welded":
        return [*out, wire(c, stock, run.long, STITCH_KG_PER_M, at)]
    section = c.gap * run.thick + 2 * (1 - math.pi / 4) * FILLET_M**2
    bed = run.long * section * getattr(putty, "density", 1200.0)
    out.append(consumed(c, ("bed", "B", "bed and fillets"), putty, bed, bed, at))
    cloth, wet = laid(c, stock, ("cloth", "C", "laminate"), c.cloth, girth_m2(run) * c.plies * SPARE, at)
    return [*out, *cloth, *resin(c, stock, c.resin, wet, at)]


def _glued_m2(run: Run, panels: list[Panel]) -> float:
    """Faces glued to one another: layers, but for what is hollow between them; a cap's edges on them;
    doublers [m2]."""
    c = run.c
    if not c.hollow and c.layers > 1:
        return float((c.layers - 1) * sum(p.polygon.area for p in panels) / c.layers)
    area = sum(p.polygon.area for p in panels if "/layer/" in p.key) / c.layers
    joints = c.layers - 1 - (1 if c.hollow else 0)
    cap = sum(p.polygon.area for p in panels if "/cap" in p.key) * (1 - c.hollow / run.thick)
    return float(joints * area + cap + sum(p.polygon.area for p in panels if "/doubler/" in p.key))


def notched(outline: Polygon, at: tuple[float, float], long: float, deep: float) -> Polygon:
    """An outline less a notch in its top: middle along it and height of the top there [m]."""
    s, z = at
    return largest(outline.difference(box(s - long / 2, z - deep, s + long / 2, z + 1.0)))


def seams_of(run: Run, label: str, words: str) -> tuple[Seam, ...]:
    """Its seam along the bottom, where it is welded."""
    if run.c.joined != "welded":
        return ()
    path = tuple(run.at(k, 0.0, float(run.bottom[k, 1])) for k in range(0, len(run.x), 3))
    return (Seam(label, words, path, run.long),)


def solid_of(run: Run) -> Solid:
    """What it fills."""
    marks = np.linspace(0, len(run.x) - 1, STRETCHES + 1).astype(int)
    half, pieces = run.thick / 2, []
    for a, b in pairwise(marks.tolist()):
        corners = [run.at(k, side * half, float(z)) for k in (a, b) for side in (-1, 1)
                   for z in (run.bottom[k].max(), run.top[k])]  # fmt: skip
        pieces.append(Swept(tuple(corners)))
    ends = [run.at(k, side * half, float(z)) for k in (0, len(run.x) - 1) for side in (-1, 1)
            for z in (run.bottom.min(), run.top.max())]  # fmt: skip
    return Solid(run.c.id, "structure", plain(run.c.name), Swept(tuple(ends)), pieces=tuple(pieces))


def shapes_of(run: Run) -> tuple[Drawn, ...]:
    """From above, from the side and across."""
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
