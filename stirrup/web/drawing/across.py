"""Across the boat: a section with what stands in it, and the body plan."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

import numpy as np

from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.hull.slices import section
from stirrup.core.plan.model import LoadCase
from stirrup.core.units import Units
from stirrup.web.drawing import tapes, things
from stirrup.web.drawing.boat import guides, water_level
from stirrup.web.drawing.canvas import Canvas, Drawn, svg_length, type_of
from stirrup.web.drawing.fit import clashes_drawn, rooms_drawn
from stirrup.web.drawing.look import Look

SECTION_W, BODY_W = 214.0, 420.0


def sections_at(surface: HullSurface, x: float) -> tuple[list[np.ndarray], list[np.ndarray]]:
    """Outside and inside section at x, kept while the hull stays."""
    return surface.sections.get(x, lambda: (section(surface.outside, x), section(surface.inside, x)))


def _highest(derived: Derived) -> float:
    """Top of the highest body aboard [m], wherever it stands: the picture keeps its size as it walks."""
    low, high = float(derived.surface.outside.low[0]), float(derived.surface.outside.high[0])
    # of one thing its bodies' ends, and how high they reach: of most it is known
    known = (b.kept.get("standing", partial(_standing, b)) for b in (t.built for t in derived.things))
    return max((top for those in known for a, b, top in those if low <= a and b <= high), default=0.0)


def _standing(built: Built) -> list[tuple[float, float, float]]:
    """Aft and fore end of each body of a thing, and its top [m]."""
    bounds = (s.shape.bounds for s in built.solids if s.stands)
    return [(float(b[0]), float(b[3]), float(b[5])) for b in bounds]


def _hull(surface: HullSurface, x: float, parts: tuple[str, ...], sheet: Canvas) -> None:
    """What the section at x cuts of the hull."""
    outside, inside = sections_at(surface, x)
    for part in parts:
        for loop in inside if part == "inside" else outside:
            sheet.path([(-p[1], p[2]) for p in loop], part)


def section_view(derived: Derived, case: LoadCase, units: Units, look: Look, wide: float = 0.0) -> Drawn:
    """Across the boat at x, looking forward: port to the left. wide: on the page [px]."""
    width = SECTION_W
    surface, x = derived.surface, look.section_x or 0.0
    beam = float(max(surface.outside.high[1], -surface.outside.low[1]))
    scale = (width - 8) / (2 * beam)
    tall = max(float(surface.outside.high[2]), _highest(derived)) + 0.05
    deep = float(surface.outside.low[2]) - 1.6 * type_of(width, wide) / scale
    canvas = Canvas(width, (tall - deep) * scale, (width / 2, tall * scale), scale, "section",
                    "Section, looking forward", wide_px=wide)  # fmt: skip
    report = derived.case(case.name).report
    wet = [water_level(report, x, y) for y in (beam, -beam)]
    if wet[0] is not None and wet[1] is not None:
        canvas.path([(-beam, wet[0]), (beam, wet[1]), (beam, deep), (-beam, deep)], "water")
    # it stays while something is dragged
    below, above = ("hull-fill", "inside"), ("hull-line",)
    canvas.kept(surface.sections, (x, below), partial(_hull, surface, x, below))
    things.structure_across(canvas, derived, look.chosen, x)
    things.built_in_across(canvas, derived, look.chosen, x)
    things.walls_across(canvas, derived, look.chosen, x)
    things.items_across(canvas, derived, look.chosen, x)
    things.floors_across(canvas, derived, look.chosen, x)
    rooms_drawn(canvas, derived, look, (1, 2))
    clashes_drawn(canvas, derived, units, look, (1, 2))
    canvas.kept(surface.sections, (x, above), partial(_hull, surface, x, above))
    if wet[0] is not None and wet[1] is not None:
        canvas.line((-beam, wet[0]), (beam, wet[1]), "waterline")
    guides(canvas, [replace(g, at=-g.at) if g.axis == 1 else g for g in look.snaps], (1, 2))
    u, v = canvas.at(-beam, deep)
    canvas.words(u + 2, v - 0.4 * canvas.type, f"at {svg_length(x, units)}, port left", "dim-text", "start")
    return canvas.svg()


def body_plan(derived: Derived, wide: float = 0.0, tape: bool = False) -> str:
    """All stations across: forward half on the right, after half on the left. wide: on the page [px]."""
    width = BODY_W
    surface = derived.surface
    beam = float(surface.outside.high[1])
    scale = (width - 30) / (2 * beam)
    tall = float(surface.outside.high[2]) + 1.5 * type_of(width, wide) / scale
    deep = float(surface.outside.low[2]) - 0.06
    canvas = Canvas(width, (tall - deep) * scale, (width / 2, tall * scale), scale, "body",
                    "Body plan: forward stations right, after stations left", wide_px=wide)  # fmt: skip
    canvas.line((0, deep), (0, tall), "centreline")
    canvas.line((-beam, 0), (beam, 0), "baseline")
    count = len(derived.plan.hull.lines[0].points)
    for k in range(count):
        sign = 1.0 if k >= count / 2 else -1.0
        column = [np.array(line.points[k]) for line in derived.plan.hull.lines]
        canvas.path([(sign * p[1], p[2]) for p in column], "station", closed=False)
        for line, p in zip(derived.plan.hull.lines, column, strict=True):
            canvas.circle((sign * p[1], p[2]), 2.5, f"reading {line.known_at(k)}")
        canvas.label((sign * column[-1][1], column[-1][2]), str(k + 1))
    if tape:
        tapes.drawn(canvas, tapes.across(surface))
    return canvas.svg()
