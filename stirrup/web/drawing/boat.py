"""Profile, plan and section of the boat with what stands in it."""

from __future__ import annotations

import math
from collections.abc import Iterable
from html import escape

import numpy as np
from shapely.geometry import LineString

from stirrup.core.afloat.report import FloatReport
from stirrup.core.derive import Derived
from stirrup.core.fittings.contract import Built, Handle
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.hull.slices import section
from stirrup.core.plan.model import Item, LoadCase, Person
from stirrup.core.units import INCH_M, Units
from stirrup.web.drawing.canvas import Canvas, Pair, svg_length

WIDTH = 900.0
PAGE_HIGH = 596.0  # profile and plan together, beside the side sheet of a small screen
HEAVY_KG = 4.0


def thin(line: np.ndarray) -> np.ndarray:
    """Every third point of a refined line: more than a drawing this size can show."""
    return np.concatenate([line[:-1:3], line[-1:]])


def profile_ring(surface: HullSurface) -> list[Pair]:
    """Outline of the boat from the side: keel forward, stem up, sheer aft, transom down."""
    low = thin(surface.lines[0][0])
    sheer = thin(surface.lines[0][-1])
    ends = [line[-1] for line in surface.lines[0][1:-1]]
    starts = [line[0] for line in surface.lines[0][1:-1]]
    points = [*low, *ends, *sheer[::-1], *starts[::-1]]
    return [(float(p[0]), float(p[2])) for p in points]


def plan_ring(surface: HullSurface) -> list[Pair]:
    """Outline of the boat from above, along both sheers."""
    port, starboard = thin(surface.lines[0][-1]), thin(surface.lines[1][-1])
    return [(float(p[0]), float(p[1])) for p in (*port, *starboard[::-1])]


def extent(derived: Derived) -> tuple[float, float]:
    """From aft of the motor to just ahead of the stem [m]."""
    low, high = derived.surface.outside.low[0], derived.surface.outside.high[0]
    for item in derived.plan.items:
        if item.group == "motor" and item.stage != "removed":
            low = min(low, item.mass.centre[0] - 0.32)
    # room ahead of the stem: the section stands there
    return float(low) - 0.12, float(high) + 0.23 * float(high - low)


def tallest_m(derived: Derived, case: LoadCase) -> float:
    """Highest thing in the profile: sheer, cowl of the motor, or the highest head [m]."""
    heads = [p.at[2] + (p.stature if p.posture == "standing" else 0.5 * p.stature) for p in case.crew]
    cowls = [i.mass.centre[2] + 0.38 for i in derived.plan.items if is_outboard(i) and i.stage != "removed"]
    return max([float(derived.surface.outside.high[2]) + 0.12, *(h + 0.08 for h in (*heads, *cowls))])


def _scale(derived: Derived, case: LoadCase, width: float) -> tuple[float, float]:
    """One scale for profile and plan, so that both stand on the page together."""
    low, high = extent(derived)
    outside = derived.surface.outside
    tall = tallest_m(derived, case) - float(outside.low[2]) + 0.24
    beam = float(outside.high[1] - outside.low[1])
    scale = min((width - 24) / (high - low), (PAGE_HIGH - 80) / (tall + beam))
    return scale, 12 - low * scale


def water_level(report: FloatReport | None, x: float, y: float = 0.0) -> float | None:
    """Height of the water plane above the baseline at (x, y), in boat axes [m]."""
    if report is None:
        return None
    t, h = math.radians(report.trim_deg), math.radians(report.list_deg)
    n = (math.sin(t), -math.cos(t) * math.sin(h), math.cos(t) * math.cos(h))
    return (report.draft_at_origin_m - n[0] * x - n[1] * y) / n[2]


def outboard(canvas: Canvas, x: float, z: float, css: str = "motor") -> None:
    """A plain outboard: cowl, leg, foot, propeller; (x, z) is its centre of mass."""
    cowl = [(-0.17, 0.02), (-0.19, 0.30), (-0.14, 0.38), (0.12, 0.36), (0.16, 0.28), (0.15, 0.02)]
    leg = [(-0.07, 0.02), (-0.07, -0.52), (0.07, -0.50), (0.09, 0.02)]
    foot = [(-0.18, -0.52), (-0.16, -0.60), (0.12, -0.62), (0.18, -0.56), (0.10, -0.50)]
    skeg = [(-0.04, -0.61), (-0.02, -0.74), (0.05, -0.62)]
    for shape in (leg, skeg, foot, cowl):
        canvas.path([(x + a, z + b) for a, b in shape], css)
    canvas.path([(x - 0.19, z - 0.49), (x - 0.21, z - 0.56), (x - 0.19, z - 0.63)], css, closed=False)


def is_outboard(item: Item) -> bool:
    return item.group == "motor" and item.mass.centre[0] < 0.05 and item.mass.value > 12


def figure(canvas: Canvas, person: Person, lie: float = 0.0) -> None:
    """A person from the side, from segment shares of stature."""
    x, _, z = person.at
    s = person.stature
    if person.posture == "standing":
        hip, neck, head = z + 0.53 * s, z + 0.83 * s, z + 0.93 * s
        canvas.path([(x - 0.07, z), (x, hip), (x + 0.07, z)], "person", closed=False)
        canvas.path([(x, hip), (x, neck)], "person", closed=False)
        canvas.path([(x - 0.10, z + 0.56 * s), (x, neck - 0.03), (x + 0.12, z + 0.58 * s)], "person",
                    closed=False)  # fmt: skip
        canvas.disc((x, head), 0.055 * s, "person")
        return
    if person.posture == "seated":
        knee, foot = x + 0.245 * s, z - 0.24 * s
        canvas.path([(knee, foot), (knee, z + 0.03), (x, z + 0.03), (x - 0.03, z + 0.32 * s)],
                    "person", closed=False)  # fmt: skip
        canvas.disc((x - 0.02, z + 0.42 * s), 0.055 * s, "person")
        return
    canvas.path([(x - 0.4 * s, z + 0.08), (x + 0.45 * s, z + 0.08)], "person", closed=False)
    canvas.disc((x + 0.5 * s, z + 0.09), 0.05 * s, "person")


def _rule(canvas: Canvas, level: float, length: float, units: Units) -> None:
    """The batten along the baseline: feet or half metres from the transom."""
    step = 12 * INCH_M if units.length != "mm" else 0.5
    count = int(length / step + 1e-6)
    canvas.line((0, level), (length, level), "rule")
    for k in range(count + 1):
        canvas.line((k * step, level), (k * step, level + 8 / canvas.scale), "rule")
        if k % 2 == 0:
            word = f"{k}'" if units.length != "mm" else f"{k * step:g} m"
            canvas.text((k * step, level), word, "rule-text", dy=-12)


def handle_svg(canvas: Canvas, built: Built, handle: Handle, axes: tuple[int, int]) -> None:
    """An edge that can be dragged with the pointer or moved with the arrow keys."""
    a, b = (canvas.at(p[axes[0]], p[axes[1]]) for p in handle.line)
    value = handle.line[0]["xyz".index(handle.axis)]
    sign = {"x": 1, "y": -1 if axes[1] == 1 else 1, "z": -1}[handle.axis]
    direction = "x" if axes[0] == "xyz".index(handle.axis) else "y"
    name = f"{handle.label}: drag, or arrow keys"
    xy = f'x1="{a[0]:.1f}" y1="{a[1]:.1f}" x2="{b[0]:.1f}" y2="{b[1]:.1f}"'
    canvas.parts.append(
        f'<g class="handle handle-{direction}" tabindex="0" role="slider" aria-label="{escape(name)}" '
        f'aria-valuenow="{value:.4f}" aria-valuetext="{value:.3f} m" '
        f'data-path="fittings/{escape(built.fitting)}/{handle.field}" '
        f'data-direction="{direction}" data-sign="{sign}" data-value="{value:.5f}">'
        f'<line class="grab" {xy}/><line class="edge" {xy}/></g>'
    )


def _shapes(canvas: Canvas, built: Iterable[Built], axes: tuple[int, int], chosen: str) -> None:
    plan = axes == (0, 1)
    order = {"face": 0, "deck": 1, "opening": 2, "lid": 3, "latch": 4, "hinge": 5}
    for fitting in built:
        css = " chosen" if fitting.fitting == chosen else ""
        for shape in sorted(fitting.shapes, key=lambda s: order.get(s.role, 9)):
            ring = [(p[axes[0]], p[axes[1]]) for p in shape.ring]
            extra = f' data-select="{escape(fitting.fitting)}"'
            hatch = f" hatch-{shape.hatching}" if shape.hatching else ""
            if plan and shape.role != "face":
                canvas.path(ring, f"{shape.role}{hatch}{css}", shape.role != "hinge", extra)
            elif not plan and shape.role == "deck":
                low, high = min(r[0] for r in ring), max(r[0] for r in ring)
                z = ring[0][1]
                thick = max(4 / canvas.scale, 0.02)
                canvas.path([(low, z), (high, z), (high, z - thick), (low, z - thick)],
                            f"deck-side{css}", True, extra)  # fmt: skip
            elif not plan and shape.role == "face":
                heights = [r[1] for r in ring]
                foot, head = (ring[0][0], min(heights)), (ring[0][0], max(heights))
                canvas.line(foot, head, f"face-side{css}", extra)


def profile_view(derived: Derived, case: LoadCase, units: Units, chosen: str = "",
                 section_x: float | None = None, width: float = WIDTH) -> str:  # fmt: skip
    """From the side: hull, water at the case's trim, decks, people, motor."""
    report = derived.case(case.name).report
    scale, ox = _scale(derived, case, width)
    surface = derived.surface
    tallest = tallest_m(derived, case)
    deepest = float(surface.outside.low[2]) - 0.24
    height = (tallest - deepest) * scale
    canvas = Canvas(width, height, (ox, tallest * scale), scale, "profile", "Profile, bow to the right")
    low, high = -ox / scale, (width - ox) / scale
    edges = [water_level(report, x) for x in (low, high)]
    if edges[0] is not None and edges[1] is not None:
        canvas.path([(low, edges[0]), (high, edges[1]), (high, deepest), (low, deepest)], "water")
    for item in derived.plan.items:
        if is_outboard(item) and item.stage != "removed":
            outboard(canvas, item.mass.centre[0], item.mass.centre[2])
    canvas.path(profile_ring(surface), "hull-fill")
    if edges[0] is not None and edges[1] is not None:
        canvas.parts.append('<g class="water-over">')
        canvas.path([(low, edges[0]), (high, edges[1]), (high, deepest), (low, deepest)], "water-veil")
        canvas.parts.append("</g>")
    for line in surface.lines[0][1:-1]:
        canvas.path(thin(line)[:, [0, 2]].tolist(), "knuckle", closed=False)
    _shapes(canvas, derived.built, (0, 2), chosen)
    canvas.path(profile_ring(surface), "hull-line")
    if edges[0] is not None and edges[1] is not None:
        canvas.line((low, edges[0]), (high, edges[1]), "waterline")
    for person in case.crew:
        figure(canvas, person)
    for item in derived.plan.items:
        if item.stage != "removed" and not is_outboard(item) and item.mass.value >= HEAVY_KG:
            canvas.circle((item.mass.centre[0], item.mass.centre[2]), 3.5, "item-dot", item.title)
    if report is not None:
        g = report.centre_m
        canvas.circle((g[0], g[2]), 5, "centre", "centre of gravity")
        canvas.label((g[0], g[2]), "G", "label strong")
    if section_x is not None:
        canvas.line((section_x, deepest), (section_x, tallest), "section-mark")
    for built in derived.built:
        if built.fitting == chosen:
            for handle in built.handles:
                if handle.axis == "z":
                    handle_svg(canvas, built, handle, (0, 2))
    return canvas.svg("plan-contents")


def plan_view(derived: Derived, case: LoadCase, units: Units, chosen: str = "",
              section_x: float | None = None, width: float = WIDTH) -> str:  # fmt: skip
    """From above, port side up: hull, structure, decks and hatches, items, people."""
    scale, ox = _scale(derived, case, width)
    surface = derived.surface
    beam = float(max(surface.outside.high[1], -surface.outside.low[1]))
    top, bottom = beam + 34 / scale, beam + 44 / scale
    height = (top + bottom) * scale
    canvas = Canvas(width, height, (ox, top * scale), scale, "plan", "Plan, port side up")
    canvas.path(plan_ring(surface), "hull-fill")
    for side in surface.lines:
        for line in side[1:-1]:
            canvas.path(thin(line)[:, :2].tolist(), "knuckle", closed=False)
    canvas.line((surface.outside.low[0], 0), (surface.outside.high[0], 0), "centreline")
    for thing in derived.obstacles:
        canvas.path(thing.ring, f"existing existing-{thing.kind}")
    _tanks(canvas, derived)
    _shapes(canvas, derived.built, (0, 1), chosen)
    canvas.path(plan_ring(surface), "hull-line")
    for built in derived.built:
        if built.fitting == chosen:
            for handle in built.handles:
                if handle.axis in ("x", "y"):
                    handle_svg(canvas, built, handle, (0, 1))
    _named(canvas, derived, case)
    deck = next((f for f in derived.plan.fittings if f.id == chosen and f.kind == "raised_deck"), None)
    built_deck = derived.fitting(chosen) if deck else None
    if built_deck is not None and not built_deck.region.is_empty:
        x0, _, x1, _ = built_deck.region.bounds
        canvas.dimension(0.0, x0, beam + 16 / scale, units, "from transom")
        canvas.dimension(x0, x1, beam + 16 / scale, units)
    if section_x is not None:
        canvas.line((section_x, -beam - 0.02), (section_x, beam + 0.02), "section-mark")
        x, y = canvas.at(section_x, -beam)
        canvas.parts.append(
            f'<g class="handle section-grip" tabindex="0" role="slider" data-section="1" '
            f'aria-label="section: drag, or arrow keys" aria-valuenow="{section_x:.3f}" '
            f'data-direction="x" data-sign="1" data-value="{section_x:.4f}">'
            f'<path d="M{x:.1f} {y + 1:.1f}l9 15h-18z"/></g>'
        )
    _rule(canvas, -beam - 40 / scale, float(surface.outside.high[0]), units)
    return canvas.svg("plan-contents")


def _tanks(canvas: Canvas, derived: Derived) -> None:
    for tank in derived.plan.tanks:
        (along, across, _), (x, y, _) = tank.size, tank.floor_centre
        ring = [(x + a * along / 2, y + b * across / 2) for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
        canvas.path(ring, "tank", extra=f' data-select="{escape(tank.id)}"')


def _named(canvas: Canvas, derived: Derived, case: LoadCase) -> None:
    """People, items and names, in the order in which they must be readable."""
    for person in case.crew:
        at = (person.at[0], person.at[1])
        canvas.disc(at, 0.11, "person-top")
        canvas.reserve(at, 12, 12)
    for fitting in derived.plan.fittings:
        built = derived.fitting(fitting.id)
        if built is not None and not built.region.is_empty:
            x0, y0, x1, y1 = built.region.bounds
            word = f"{fitting.code} {fitting.name}" if fitting.kind != "hatch" else fitting.code
            canvas.label(((x0 + x1) / 2, (y0 + y1) / 2), word, "label strong")
    for tank in derived.plan.tanks:
        canvas.label((tank.floor_centre[0], tank.floor_centre[1]), tank.title, "label minor")
    items = [i for i in derived.plan.items if i.stage != "removed" and i.mass.value >= HEAVY_KG]
    for item in items:
        canvas.reserve((item.mass.centre[0], item.mass.centre[1]), 5, 5)
    for item in sorted(items, key=lambda i: -i.mass.value):
        at = (item.mass.centre[0], item.mass.centre[1])
        x, y = canvas.at(*at)
        canvas.parts.append(
            f'<g class="item" data-select="{escape(item.id)}"><title>{escape(item.title)}</title>'
            f'<rect x="{x - 4:.1f}" y="{y - 4:.1f}" width="8" height="8" rx="1.5"/></g>'
        )
        canvas.label(at, item.title.split(",")[0], "label minor")


def sections_at(surface: HullSurface, x: float) -> tuple[list[np.ndarray], list[np.ndarray]]:
    """Outside and inside section at x, kept while the hull stays."""
    if x not in surface.sections:
        if len(surface.sections) > 64:
            surface.sections.clear()
        surface.sections[x] = (section(surface.outside, x), section(surface.inside, x))
    return surface.sections[x]


def section_view(derived: Derived, case: LoadCase, units: Units, x: float, width: float = 172.0) -> str:
    """Across the boat at x, looking forward: port to the left."""
    surface = derived.surface
    beam = float(max(surface.outside.high[1], -surface.outside.low[1]))
    scale = (width - 8) / (2 * beam)
    tall = float(surface.outside.high[2]) + 0.05
    deep = float(surface.outside.low[2]) - 24 / scale
    canvas = Canvas(width, (tall - deep) * scale, (width / 2, tall * scale), scale, "section",
                    "Section, looking forward")  # fmt: skip
    report = derived.case(case.name).report
    wet = [water_level(report, x, y) for y in (beam, -beam)]
    if wet[0] is not None and wet[1] is not None:
        canvas.path([(-beam, wet[0]), (beam, wet[1]), (beam, deep), (-beam, deep)], "water")
    outside, inside = sections_at(surface, x)
    for loop in outside:
        canvas.path([(-p[1], p[2]) for p in loop], "hull-fill")
    for loop in inside:
        canvas.path([(-p[1], p[2]) for p in loop], "inside")
    for thing in derived.obstacles:
        x0, y0, x1, y1 = thing.footprint.bounds
        if x0 <= x <= x1 and thing.kind != "lip":
            ring = [(-y0, thing.low), (-y1, thing.low), (-y1, thing.high), (-y0, thing.high)]
            canvas.path(ring, "existing")
    for built in derived.built:
        hit = built.region.intersection(_line_at(x, beam)) if not built.region.is_empty else None
        if hit is not None and not hit.is_empty and any(s.role == "deck" for s in built.shapes):
            low, high = hit.bounds[1], hit.bounds[3]
            thick = max(4 / scale, 0.012)
            canvas.path([(-low, built.top_m), (-high, built.top_m), (-high, built.top_m - thick),
                         (-low, built.top_m - thick)], "deck-side")  # fmt: skip
    for loop in outside:
        canvas.path([(-p[1], p[2]) for p in loop], "hull-line")
    if wet[0] is not None and wet[1] is not None:
        canvas.line((-beam, wet[0]), (beam, wet[1]), "waterline")
    canvas.text((-beam, deep), f"at {svg_length(x, units)}, port left", "dim-text", dx=2, dy=-6)
    return canvas.svg()


def _line_at(x: float, beam: float) -> LineString:
    return LineString([(x, -beam - 1), (x, beam + 1)])


def body_plan(derived: Derived, width: float = 420.0) -> str:
    """All stations across: forward half on the right, after half on the left."""
    surface = derived.surface
    beam = float(surface.outside.high[1])
    scale = (width - 30) / (2 * beam)
    tall = float(surface.outside.high[2]) + 0.08
    deep = float(surface.outside.low[2]) - 0.06
    canvas = Canvas(width, (tall - deep) * scale, (width / 2, tall * scale), scale, "body",
                    "Body plan: forward stations right, after stations left")  # fmt: skip
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
    return canvas.svg()
