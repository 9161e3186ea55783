"""Profile and plan of the boat with what stands in it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from functools import partial

import numpy as np

from stirrup.core.afloat.report import FloatReport
from stirrup.core.arrange.snap import Snap
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.fit.body import top_m
from stirrup.core.hull.mesh import STEPS, HullSurface
from stirrup.core.hull.slices import buttock
from stirrup.core.kinds.registry import kind_of
from stirrup.core.memo import ByIdentity
from stirrup.core.plan.model import LoadCase
from stirrup.core.plan.placed import Placed
from stirrup.core.plan.where import extent_of
from stirrup.core.units import INCH_M, Units, write_length
from stirrup.web.drawing import framing, things
from stirrup.web.drawing.canvas import GRAB_EM, Canvas, Drawn, Pair, type_of
from stirrup.web.drawing.fit import clashes_drawn, eye_line_drawn, rooms_drawn, walkway_drawn
from stirrup.web.drawing.grips import handle_svg, reach_m, size_handles, slider
from stirrup.web.drawing.labels import Name, place
from stirrup.web.drawing.labels import svg as labels_svg
from stirrup.web.drawing.look import NOTHING, Look
from stirrup.web.drawing.people import people_from_above, people_from_side

WIDTH = 900.0
PAGE_HIGH = 596.0  # profile and plan together, beside the side sheet of a small screen
AHEAD = 0.34  # of what is drawn, kept free ahead of the stem: the section stands there ...
BESIDE_PX = 640.0  # ... where the page is this wide; else below the plan, and a little room does
AHEAD_ALONE = 0.1
EXTENTS = ByIdentity(4000)
SPOT_M = 0.05  # round the middle of a line, for its name


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


def extent(derived: Derived, ahead: float = AHEAD) -> tuple[float, float]:
    """From aft of the motor to just ahead of the stem [m]."""
    low, high = derived.surface.outside.low[0], derived.surface.outside.high[0]
    for placed in derived.things:
        if placed.kind.group == "items" and placed.kind.plant == "motor":
            low = min(low, placed.choices.mass.centre[0] - 0.32)
    # room ahead of the stem: the section stands there
    return float(low) - 0.12, float(high) + ahead * float(high - low)


def tallest_m(derived: Derived, case: LoadCase) -> float:
    """Highest thing in the profile: sheer, cowl of the motor, a screen, or the highest head [m]."""
    heads = [top_m(p) for p in case.crew]
    tops = [t.built.top_m for t in derived.things if t.kind.group == "items"]
    return max([float(derived.surface.outside.high[2]) + 0.12, *(h + 0.08 for h in (*heads, *tops))])


def _scale(derived: Derived, case: LoadCase, width: float, wide_px: float) -> tuple[float, float]:
    """One scale for profile and plan, so that both stand on the page together."""
    low, high = extent(derived, AHEAD if wide_px >= BESIDE_PX else AHEAD_ALONE)
    outside = derived.surface.outside
    tall = tallest_m(derived, case) - float(outside.low[2]) + 0.24
    beam = float(outside.high[1] - outside.low[1])
    scale = min((width - 24) / (high - low), (PAGE_HIGH - 80) / (tall + beam))
    return scale, 12 - low * scale


def _hull(canvas: Canvas, surface: HullSurface, part: str) -> None:
    """Lines of the hull in profile or plan, kept with it: they stay through every drag.

    part: "fill", "knuckles", "inside", "stations" or "line".
    """
    canvas.kept(surface.kept, part, partial(_hull_part, surface, part))


def _hull_part(surface: HullSurface, part: str, sheet: Canvas) -> None:
    profile = sheet.kind == "profile"
    if part == "knuckles":
        for side in surface.lines[:1] if profile else surface.lines:
            for line in side[1:-1]:
                sheet.path(thin(line)[:, [0, 2 if profile else 1]].tolist(), "knuckle", closed=False)
    elif part == "inside":
        # the inside on the centreline: a thickness of the skin away, to be seen close up
        for loop in buttock(surface.inside, 0.0) if profile else []:
            sheet.path(loop[:, [0, 2]].tolist(), "inside")
    elif part == "stations":
        _stations(sheet, surface, profile)
    else:
        sheet.path(profile_ring(surface) if profile else plan_ring(surface), f"hull-{part}")


def _stations(canvas: Canvas, surface: HullSurface, profile: bool) -> None:
    """Where she was measured: a fine line at each station, numbered in the plan."""
    keel, sheers = surface.lines[0][0], (surface.lines[0][-1], surface.lines[1][-1])
    for number, k in enumerate(range(0, len(keel), STEPS), start=1):
        x = float(keel[k][0])
        if profile:
            top = float(np.interp(x, sheers[0][:, 0], sheers[0][:, 2]))
            canvas.line((x, float(keel[k][2])), (x, top), "station-mark")
            continue
        port, other = (float(np.interp(x, s[:, 0], s[:, 1])) for s in sheers)
        canvas.line((x, other), (x, port), "station-mark")
        u, v = canvas.at(x, other)
        canvas.words(u + 3, v - 4, str(number), "station-number", "start")


def water_level(report: FloatReport | None, x: float, y: float = 0.0) -> float | None:
    """Height of the water plane above the baseline at (x, y), in boat axes [m]."""
    if report is None:
        return None
    t, h = math.radians(report.trim_deg), math.radians(report.list_deg)
    n = (math.sin(t), -math.cos(t) * math.sin(h), math.cos(t) * math.cos(h))
    return (report.draft_at_origin_m - n[0] * x - n[1] * y) / n[2]


MOST_BETWEEN = 32  # marks of a rule from one number to the next


def rule(canvas: Canvas, level: float, length: float, units: Units) -> None:
    """The batten along the baseline: feet or half metres from the transom."""
    step = 12 * INCH_M if units.length != "mm" else 0.5
    count = int(length / step + 1e-6)
    # every second one has its number, or as many as there is room for; of a hull that a slip of the hand
    # made kilometres long those between are not drawn either
    room = 3 * canvas.type / (step * canvas.scale)
    apart = 2 ** (math.floor(math.log2(max(1.0, room))) + 1)
    canvas.line((0, level), (length, level), "rule")
    for k in range(0, count + 1, max(1, apart // MOST_BETWEEN)):
        canvas.line((k * step, level), (k * step, level + 8 / canvas.scale), "rule")
        if k % apart == 0:
            word = f"{k}'" if units.length != "mm" else f"{k * step:g} m"
            x, y = canvas.at(k * step, level)
            canvas.words(x, y - 0.7 * canvas.type, word, "rule-text")


def profile_view(
    derived: Derived, case: LoadCase, units: Units, look: Look = NOTHING, wide: float = WIDTH
) -> Drawn:
    """From the side: hull, water at the case's trim, decks, people, motor. wide: on the page [px]."""
    width, surface = WIDTH, derived.surface
    report = derived.case(case.name).report
    scale, ox = _scale(derived, case, width, wide)
    tallest = tallest_m(derived, case)
    deepest = float(surface.outside.low[2]) - 0.24
    height = (tallest - deepest) * scale
    canvas = Canvas(width, height, (ox, tallest * scale), scale, "profile", "Profile, bow to the right",
                    wide_px=wide)  # fmt: skip
    low, high = -ox / scale, (width - ox) / scale
    edges = [water_level(report, x) for x in (low, high)]
    if edges[0] is not None and edges[1] is not None:
        canvas.path([(low, edges[0]), (high, edges[1]), (high, deepest), (low, deepest)], "water")
    things.hung_from_side(canvas, derived, look.chosen)
    _hull(canvas, surface, "fill")
    if edges[0] is not None and edges[1] is not None:
        canvas.parts.append('<g class="water-over">')
        canvas.path([(low, edges[0]), (high, edges[1]), (high, deepest), (low, deepest)], "water-veil")
        canvas.parts.append("</g>")
    _hull(canvas, surface, "stations")
    _hull(canvas, surface, "knuckles")
    _hull(canvas, surface, "inside")
    things.structure_in_profile(canvas, derived, look.chosen)
    things.items_from_side(canvas, derived, look.chosen)
    things.built_in(canvas, derived, "side", look.chosen)
    _hull(canvas, surface, "line")
    if edges[0] is not None and edges[1] is not None:
        canvas.line((low, edges[0]), (high, edges[1]), "waterline")
    rooms_drawn(canvas, derived, look, (0, 2))
    people_from_side(canvas, derived, case)
    clashes_drawn(canvas, derived, units, look, (0, 2))
    eye_line_drawn(canvas, derived, case, units)
    if report is not None:
        g = report.centre_m
        canvas.circle((g[0], g[2]), 5, "centre", "centre of gravity")
        canvas.label((g[0], g[2]), "G", "label strong")
    if look.section_x is not None:
        canvas.line((look.section_x, deepest), (look.section_x, tallest), "section-mark")
    for built in _lit(derived, look.chosen):
        for handle in built.handles:
            if handle.axis == "z":
                handle_svg(canvas, derived, built, handle, (0, 2), units)
    if len(look.chosen) == 1:
        size_handles(canvas, derived, look.chosen[0], (0, 2), units)
    guides(canvas, look.snaps, (0, 2))
    return canvas.svg("plan-contents")


def plan_view(
    derived: Derived, case: LoadCase, units: Units, look: Look = NOTHING, wide: float = WIDTH
) -> Drawn:
    """From above, port side up: hull, structure, decks and hatches, items, people. wide: on the
    page [px]."""
    width, size = WIDTH, type_of(WIDTH, wide)
    scale, ox = _scale(derived, case, width, wide)
    surface = derived.surface
    beam = float(max(surface.outside.high[1], -surface.outside.low[1]))
    top, bottom = beam + 2.1 * size / scale, beam + 2.75 * size / scale
    height = (top + bottom) * scale
    canvas = Canvas(width, height, (ox, top * scale), scale, "plan", "Plan, port side up", wide_px=wide)
    _hull(canvas, surface, "fill")
    _hull(canvas, surface, "stations")
    _hull(canvas, surface, "knuckles")
    canvas.line((surface.outside.low[0], 0), (surface.outside.high[0], 0), "centreline")
    things.structure_in_plan(canvas, derived, look.chosen)
    things.tanks_in_plan(canvas, derived, look.chosen)
    things.built_in(canvas, derived, "plan", look.chosen)
    if look.frame:
        framing.members_in_plan(canvas, derived)
    things.items_in_plan(canvas, derived, look.chosen)
    rooms_drawn(canvas, derived, look, (0, 1))
    people_from_above(canvas, case)
    clashes_drawn(canvas, derived, units, look, (0, 1))
    walkway_drawn(canvas, derived, units)
    _hull(canvas, surface, "line")
    for built in _lit(derived, look.chosen):
        for handle in built.handles:
            if handle.axis in ("x", "y"):
                handle_svg(canvas, derived, built, handle, (0, 1), units)
    if len(look.chosen) == 1:
        size_handles(canvas, derived, look.chosen[0], (0, 1), units)
    rule(canvas, -beam - 2.5 * size / scale, float(surface.outside.high[0]), units)
    if len(look.chosen) == 1:
        _dimensions(canvas, derived, units, look.chosen[0], beam)
    _named(canvas, derived)
    guides(canvas, look.snaps, (0, 1))
    if look.section_x is not None:
        _section_grip(canvas, derived, look.section_x, beam, units)
    return canvas.svg("plan-contents")


def _section_grip(canvas: Canvas, derived: Derived, at_x: float, beam: float, units: Units) -> None:
    """Where the section is cut, to be dragged."""
    size = canvas.type
    canvas.line((at_x, -beam - 0.02), (at_x, beam + 0.02), "section-mark")
    x, y = canvas.at(at_x, -beam)
    said = f"{write_length(at_x, units)}, looking forward, port left"
    canvas.parts.append(
        f'<g class="handle section-grip" '
        f"{slider('Section, from the transom', at_x, reach_m(derived, 'x'), said)} "
        f'data-section="1" data-direction="x" data-sign="1" data-value="{at_x:.4f}">'
        f'<circle class="grab-dot" cx="{x:.1f}" cy="{y + size / 2:.1f}" r="{GRAB_EM * size:.1f}"/>'
        f'<path d="M{x:.1f} {y + 1:.1f}l{0.6 * size:.1f} {size:.1f}h{-1.2 * size:.1f}z"/></g>'
    )


def _lit(derived: Derived, chosen: Sequence[str]) -> list[Built]:
    """The one fitting whose edges can be dragged now."""
    if len(chosen) != 1 or derived.plan.arrangement.of(chosen[0]).locked:
        return []
    return [b for b in derived.built if b.fitting == chosen[0]]


def _dimensions(canvas: Canvas, derived: Derived, units: Units, chosen: str, beam: float) -> None:
    """Where the chosen thing starts and how long it is, above the plan."""
    try:
        e = extent_of(derived.plan, derived.surface, chosen)
    except CoreError:
        return
    level = beam + canvas.type / canvas.scale
    if e.x[0] > 0.02:
        canvas.dimension(0.0, e.x[0], level, units, "from transom")
    if e.x[1] - e.x[0] > 0.02:
        canvas.dimension(e.x[0], e.x[1], level, units)


def guides(canvas: Canvas, snaps: Sequence[Snap], axes: tuple[int, int]) -> None:
    """Where something was caught, and why."""
    wide, high = canvas.width / canvas.scale, canvas.height / canvas.scale
    left, low = -canvas.origin[0] / canvas.scale, (canvas.origin[1] - canvas.height) / canvas.scale
    for snap in snaps:
        if snap.axis not in axes:
            continue
        if snap.axis == axes[0]:
            canvas.line((snap.at, low), (snap.at, low + high), "guide")
        else:
            canvas.line((left, snap.at), (left + wide, snap.at), "guide")


def _spot(built: Built) -> tuple[float, float, float, float] | None:
    """Where a fitting's name belongs in plan: its outline, or the middle of its line [m]."""
    if not built.region.is_empty:
        x0, y0, x1, y1 = built.region.bounds
        return (x0, y0, x1, y1)
    line = next((s.ring for s in built.shapes if s.view == "plan"), ())
    if not line:
        return None
    points = np.array(line)[:, :2]
    run = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    x, y = (float(np.interp(run[-1] / 2, run, points[:, k])) for k in (0, 1))
    return (x - SPOT_M, y - SPOT_M, x + SPOT_M, y + SPOT_M)


def _numbers(canvas: Canvas, surface: HullSurface) -> list[tuple[float, float, float, float]]:
    """Where the stations' numbers are drawn in the plan [px]."""
    keel, rail, size = surface.lines[0][0], surface.lines[1][-1], canvas.type
    taken = []
    for k in range(0, len(keel), STEPS):
        u, v = canvas.at(float(keel[k][0]), float(np.interp(keel[k][0], rail[:, 0], rail[:, 1])))
        taken.append((u + 2, v - size, u + 0.8 * size, v - 2))
    return taken


def _named(canvas: Canvas, derived: Derived) -> None:
    """Names, in the order in which they must be readable."""
    hidden = derived.plan.arrangement.hidden
    names: list[Name] = []
    for fitting in derived.plan.fittings:
        built = derived.fitting(fitting.id)
        if (
            built is not None
            and fitting.id not in hidden
            and (spot := built.kept.get("spot", partial(_spot, built)))
        ):
            x0, y0, x1, y1 = spot
            word = fitting.code if kind_of(fitting).brief else f"{fitting.code} {fitting.name}"
            names.append(Name(word, canvas.box((x0, y0), (x1, y1)), "label strong"))
    # the narrowest first: a large thing has room elsewhere
    names.sort(key=lambda n: n.box[2] - n.box[0])
    numbers = ("numbers", canvas.origin, canvas.scale, canvas.type)
    canvas.taken += derived.surface.kept.get(numbers, partial(_numbers, canvas, derived.surface))
    loose = []
    for placed in things.drawn(derived, "items"):
        box = _box(canvas, derived, placed)
        if not placed.built.solids:
            box = (box[0] - 5, box[1] - 5, box[2] + 5, box[3] + 5)
            canvas.taken.append(box)
        loose.append((placed.choices.mass.value, Name(placed.title.split(",")[0], box, "label minor")))
    names += [name for _, name in sorted(loose, key=lambda pair: -pair[0])]
    for placed in things.drawn(derived, "tanks"):
        names.append(Name(placed.title, _box(canvas, derived, placed), "label minor"))
    bounds = (2.0, 2.0, canvas.width - 2, canvas.height - 1.4 * canvas.type)
    boxes = [n.box for n in names if n.css != "label strong" or len(n.words) < 4]
    if canvas.crowded:
        names = [replace(n, words=n.words.split(" ")[0]) for n in names if n.css == "label strong"]
    spots = place(names, canvas.taken, boxes, bounds, canvas.type)
    canvas.parts.append(f'<g class="names">{labels_svg(spots, canvas.type)}</g>')


def _box(canvas: Canvas, derived: Derived, placed: Placed) -> tuple[float, float, float, float]:
    """Where an item or a tank is drawn in the plan [px]: that follows from itself alone."""
    find = partial(extent_of, derived.plan, derived.surface, placed.id)
    e = EXTENTS.get(placed.choices, derived.surface, find)
    return canvas.box((e.x[0], e.y[0]), (e.x[1], e.y[1]))
