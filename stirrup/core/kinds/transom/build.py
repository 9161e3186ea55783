"""A transom built: layers of its core, its inner face, glue, tabs or bolts, the motor's bolts."""

from __future__ import annotations

import math
from functools import partial

from shapely import box
from shapely.affinity import translate
from shapely.geometry import Polygon

from stirrup.core.contract.gives import Built, Handle
from stirrup.core.contract.gives import Shape as Drawn
from stirrup.core.contract.kind import Site
from stirrup.core.document import Point
from stirrup.core.findings import Finding, plain
from stirrup.core.fittings.crate import rectangle
from stirrup.core.fittings.edges import largest
from stirrup.core.fittings.joints import no_fastener
from stirrup.core.fittings.laminate import GLUE_KG_M2, SPARE, consumed, laid, resin, tabs_m2
from stirrup.core.fittings.through_bolts import bolt_hole, shortest_bolt
from stirrup.core.kinds.transom.choices import Transom
from stirrup.core.kinds.transom.holds import (
    BOLT_M,
    PLATE_M,
    findings_of,
    has_room,
    pattern,
    plate_of,
    total_m,
)
from stirrup.core.kinds.transom.loads import APART_M, DOWN_M
from stirrup.core.kinds.transom.shape import Shape, lay_out, motor_of, motor_y
from stirrup.core.parts.entries import Cloth
from stirrup.core.parts.model import Bought, Panel, Ring, panel_rings
from stirrup.core.space.shapes import Swept
from stirrup.core.space.solid import Solid

EDGE_BOLT_M, EDGE_PITCH_M = 0.008, 0.20  # of one that is bolted in
SEAL_KG_M2 = 0.45  # three coats of resin on the edges of wood: working value
TAB_PLIES = 2
WASHER_THICK_M = 0.003
BACKING = "al-6.4"
SLABS = 8


def _holes(s: Shape, site: Site, off: float = 0.0) -> tuple[Ring, ...]:
    if motor_of(s.c, site) is None or s.c.motor_held != "four bolts":
        return ()
    return tuple(bolt_hole(at, BOLT_M) for at in pattern(s, site, off)) if has_room(s, site) else ()


def _panels(s: Shape, site: Site) -> list[Panel]:
    """Layers from the outside in, the plate on its inner face, the one under the nuts."""
    c, t = s.c, s.core.thickness
    outline, holes = panel_rings(s.outline)
    turns = (0, 180) if s.core.stuff.kind == "wood" else (0, 90, 180, 270)
    rows = [(f"layer/{k}", f"L{k}", f"layer {k} of {c.layers}", s.core, (k - 0.5) * t, turns)
            for k in range(1, c.layers + 1)]  # fmt: skip
    plate, inner = plate_of(s, site), s.thick
    if plate is not None:
        rows.append(("plate", "P", "inner plate", plate, inner + plate.thickness / 2, (0, 90, 180, 270)))
        inner += plate.thickness
    out = [
        Panel(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, sheet, outline,
              (*holes, *_holes(s, site, off)), s.plane.frame(off), turned)
        for key, code, word, sheet, off, turned in rows
    ]  # fmt: skip
    if _holes(s, site) and c.backing == "backing plate":
        out.append(_backing(s, site, inner))
    return out


def _backing(s: Shape, site: Site, inner: float) -> Panel:
    """Under all four nuts, as far as there is transom."""
    c, sheet = s.c, site.catalogue.sheet(BACKING)
    off = inner + sheet.thickness / 2
    y, u = motor_y(c, site), s.plane.up(c.top) - off * s.plane.lean - DOWN_M - APART_M / 2
    outline, _ = panel_rings(
        largest(translate(s.outline, -y, -u).intersection(Polygon(rectangle(*PLATE_M))))
    )
    holes = tuple(bolt_hole((a - y, b - u), BOLT_M) for a, b in pattern(s, site, off))
    frame = s.plane.frame(off)
    moved = type(frame)(frame.at(y, u), frame.along, frame.across)
    return Panel(f"{c.id}/backing", f"{c.code}-K", f"{c.name}, plate under the nuts", c.id, sheet,
                 outline, holes, moved, (0, 90, 180, 270))  # fmt: skip


def _bought(s: Shape, site: Site, at: Point) -> list[Bought]:
    """Glue, cloth and tabs, and the resin that wets them."""
    c, stock, area = s.c, site.catalogue, float(s.outline.area)
    glue = c.layers * area * GLUE_KG_M2  # each layer on the one before, the first on the skin
    putty = stock.find("putty-structural")
    out = [consumed(c, ("glue", "G", "glue between the layers"), putty, glue, glue, at)]
    wet = s.outline.length * s.thick * SEAL_KG_M2 if s.core.stuff.kind == "wood" else 0.0
    if c.inside == "laminated":
        cloth, kg = laid(c, stock, ("cloth", "C", "inner laminate"), c.cloth, area * c.plies * SPARE, at)
        out, wet = [*out, *cloth], wet + kg
    tape = stock.find(c.tape)
    if c.joined == "tabbed" and isinstance(tape, Cloth):
        of = tabs_m2(tape, TAB_PLIES, s.bedded_m)
        tabs, kg = laid(c, stock, ("tape", "T", "tabs"), c.tape, of, at)
        out, wet = [*out, *tabs], wet + kg
    return [*out, *resin(c, stock, c.resin, wet, at)]


def _rows(s: Shape, site: Site) -> list[tuple[str, str, str, float, float, int]]:
    """Bolts by where they go: key, code, word, how thick, their grip [m], how many."""
    c, total, rows = s.c, total_m(s, site), []
    holes = len(_holes(s, site))
    if holes:
        plated = c.backing == "backing plate"
        backing = site.catalogue.sheet(BACKING).thickness if plated else WASHER_THICK_M
        rows.append(("motor", "M", "motor's bolts", BOLT_M, total + backing, holes))
    if c.joined == "bolted in":
        count = max(4, math.ceil(s.bedded_m / EDGE_PITCH_M - 1e-9) + 1)
        rows.append(("edge", "E", "bolts along its edge", EDGE_BOLT_M, total, count))
    return rows


def _bolts(s: Shape, site: Site, at: Point) -> tuple[list[Bought], list[Finding]]:
    """The motor's, and those along the edge of one that is bolted in; what no bolt in stock holds."""
    c, out, findings = s.c, [], []
    for key, code, word, across, grip, count in _rows(s, site):
        bolt = shortest_bolt(site.catalogue, across, grip)
        if bolt is None:
            findings.append(no_fastener(c.id, f"Its {word}", grip))
            continue
        out.append(Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, bolt, count,
                          count * bolt.mass, at, "fasteners"))  # fmt: skip
    return out, findings


def _solid(s: Shape, site: Site) -> Solid:
    """The room of its layers, in slabs up along its plane."""
    inner, (_, low, _, high) = total_m(s, site) - s.c.outer, s.outline.bounds
    step, pieces = (high - low) / SLABS, []
    for k in range(SLABS):
        band = s.outline.intersection(box(-20, low + k * step, 20, low + (k + 1) * step))
        for part in getattr(band, "geoms", [band]):
            if isinstance(part, Polygon) and part.area > 1e-6:
                y0, a, y1, b = part.bounds
                pieces.append(Swept(tuple(s.plane.at(y, u, off) for off in (0.0, inner) for y in (y0, y1)
                                          for u in (a, b))))  # fmt: skip
    y0, _, y1, _ = s.outline.bounds
    around = Swept(
        tuple(s.plane.at(y, u, off) for off in (0.0, inner) for y in (y0, y1) for u in (low, high))
    )
    # the motor's bolts and wrench go through it
    return Solid(s.c.id, "wall", plain(s.c.name), around, company="motor", pieces=tuple(pieces))


def _shapes(s: Shape, site: Site) -> tuple[Drawn, ...]:
    """From above its layers, from the side its section, across its outline and the motor's holes."""
    y0, low, y1, high = s.outline.bounds
    inner = s.thick
    side = tuple(
        s.plane.at(0.0, u, off) for u, off in ((low, 0.0), (low, inner), (high, inner), (high, 0.0))
    )
    above = tuple(s.plane.at(y, high, off) for y, off in ((y0, 0.0), (y0, inner), (y1, inner), (y1, 0.0)))
    ring = tuple(s.plane.at(float(y), float(u), inner) for y, u in s.outline.exterior.coords[:-1])
    holes = [tuple(s.plane.at(y, u, inner) for y, u in r) for r in _holes(s, site)]
    return (
        Drawn("form-wall", above, thin=True), Drawn("form-wall", side, view="side", thin=True),
        Drawn("form-body", ring, view="across"), *(Drawn("form-line", h, view="across") for h in holes),
    )  # fmt: skip


def build(c: Transom, site: Site) -> Built:
    """Raises CoreError where nothing of it fits."""
    s = lay_out(c, site)
    y0, _, y1, high = s.outline.bounds
    inner = s.plane.at(0.0, high, s.thick)
    back = s.plane.at(0.0, high, 0.0)
    level = (s.plane.x(s.c.top), 0.0, s.c.top)
    middle = s.outline.centroid
    at = s.plane.at(middle.x, middle.y, s.thick / 2)
    bolts, findings = _bolts(s, site, at)
    region = box(min(back[0], inner[0]) - 1e-3, y0, max(back[0], inner[0]) + 1e-3, y1)
    return Built(
        s.c.id, tuple(_panels(s, site)), (), (*_bought(s, site, at), *bolts), _shapes(s, site),
        (Handle("top", "z", (level, (level[0] + s.thick, 0.0, s.c.top)), "mounting top", "top"),),
        tuple(findings), inner[2], region, solids=(_solid(s, site),), later=partial(findings_of, s, site),
        joined="laminate" if s.c.joined == "tabbed" else "",
    )  # fmt: skip
