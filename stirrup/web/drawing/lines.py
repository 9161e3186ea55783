"""The survey's drawings: profile and half-breadths with every reading as a point."""

from __future__ import annotations

from html import escape

from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.hull.model import KnuckleLine
from stirrup.core.plan.condition import Place
from stirrup.core.units import Units, write_length
from stirrup.web.drawing import tapes
from stirrup.web.drawing.boat import WIDTH, plan_ring, profile_ring, rule, thin
from stirrup.web.drawing.canvas import FAN, GRAB_EM, Canvas, Pair, type_of
from stirrup.web.drawing.grips import reach_m, slider
from stirrup.web.present import step


def _dot(x: float, y: float, known: str, mine: bool) -> str:
    """A reading: filled when measured, a ring when estimated, a square when from a scan."""
    css = f"reading {known}{' mine' if mine else ''}"
    r = 5.0 if mine else 3.2
    if known == "scanned":
        return f'<rect class="{css}" x="{x - r:.1f}" y="{y - r:.1f}" width="{2 * r}" height="{2 * r}"/>'
    return f'<circle class="{css}" cx="{x:.1f}" cy="{y:.1f}" r="{r}"/>'


def _readings(canvas: Canvas, derived: Derived, axis: int, chosen: str, side: str,
              units: Units) -> None:  # fmt: skip
    """Points of every line; those of the chosen line can be dragged across the run."""
    reach = reach_m(derived, "xyz"[axis])
    for line in _side(derived, side):
        for k, p in enumerate(line.points):
            x, y = canvas.at(p[0], p[axis])
            known = line.known_at(k)
            if line.name != chosen:
                canvas.parts.append(_dot(x, y, known, False))
                continue
            label = (
                f"point of the {line.name} at station {k + 1}, {'half-width' if axis == 1 else 'height'}"
            )
            said = f"{write_length(p[axis], units)}, {known}"
            canvas.parts.append(
                f'<g class="handle reading-handle" {slider(label, p[axis], reach, said)} '
                f'data-direction="y" data-sign="-1" data-value="{p[axis]:.5f}" '
                f'data-path="hull/{side}/{escape(step(line.name))}/points/{k}/{axis}">'
                f'<circle class="grab-dot" cx="{x:.1f}" cy="{y:.1f}" r="{GRAB_EM * canvas.type:.1f}"/>'
                f"{_dot(x, y, known, True)}</g>"
            )


def _side(derived: Derived, side: str) -> tuple[KnuckleLine, ...]:
    """The readings shown: port's, or starboard's where they are kept apart (half-widths)."""
    hull = derived.plan.hull
    if side == "lines" or hull.starboard is None:
        return hull.lines
    return tuple(
        x.model_copy(update={"points": tuple((a, abs(b), c) for a, b, c in x.points)})
        for x in hull.starboard
    )


def _place(canvas: Canvas, place: Place, at: Pair, number: int) -> None:
    """A place of the survey: a cross in a circle of its size, with its number."""
    x, y = canvas.at(*at)
    r = max(7.0, place.size / 2 * canvas.scale)
    told = f"{number}: {place.kind}{': ' if place.note else ''}{place.note}"
    canvas.parts.append(
        f'<g class="found-place"><title>{escape(told)}</title>'
        f'<circle cx="{x:.1f}" cy="{y:.1f}" r="{r:.1f}"/>'
        f'<path d="M{x - 4:.1f} {y - 4:.1f}l8 8m0-8l-8 8"/></g>'
    )
    aside = r / canvas.type + 0.5
    ways = ((aside, 0.3), (-aside, 0.3), (0, -aside), (0, aside + 0.8), *FAN)
    canvas.words(x, y, str(number), ways=ways)


def _condition(canvas: Canvas, derived: Derived, axis: int) -> None:
    """Places of the survey on a view of the lines (half-breadths show both sides folded)."""
    for number, place in enumerate(derived.plan.condition, start=1):
        across = abs(place.at[1]) if derived.surface.mirrored else place.at[1]
        _place(canvas, place, (place.at[0], across if axis == 1 else place.at[2]), number)


def reading_doubts(derived: Derived, side: str) -> dict[tuple[str, int], list[Finding]]:
    """What the checks say of the readings of one side, by line and station; where the sides
    differ it is said of both."""
    found: dict[tuple[str, int], list[Finding]] = {}
    for finding in derived.findings:
        if finding.check.page != "survey" or "/" not in finding.place:
            continue
        starboard = finding.place.startswith("starboard/")
        if starboard == (side == "starboard") or finding.code == "SIDES-DIFFER":
            line, _, k = finding.place.removeprefix("starboard/").rpartition("/")
            found.setdefault((line, int(k)), []).append(finding)
    return found


def _marked(canvas: Canvas, derived: Derived, axis: int, side: str) -> None:
    """A ring round each reading that a check found doubtful."""
    doubts = reading_doubts(derived, side)
    for line in _side(derived, side):
        for k, p in enumerate(line.points):
            if (line.name, k) in doubts:
                canvas.circle((p[0], p[axis]), 11, "doubt")


def lines_profile(derived: Derived, units: Units, chosen: str, side: str = "lines",
                  wide: float = WIDTH, tape: bool = False) -> str:  # fmt: skip
    """Side view of the lines with the readings' heights; wide: on the page [px]; tape: with where
    it goes."""
    width = WIDTH
    surface = derived.surface
    low, high = float(surface.outside.low[0]) - 0.15, float(surface.outside.high[0]) + 0.15
    scale = (width - 20) / (high - low)
    tall = float(surface.outside.high[2]) + 1.7 * type_of(width, wide) / scale
    deep = float(surface.outside.low[2]) - 0.16
    canvas = Canvas(width, (tall - deep) * scale, (10 - low * scale, tall * scale), scale, "profile",
                    "Lines from the side, bow to the right", wide_px=wide)  # fmt: skip
    canvas.path(profile_ring(surface), "hull-fill")
    canvas.line((low, 0), (high, 0), "baseline")
    for k in range(len(derived.plan.hull.lines[0].points)):
        column = [line.points[k] for line in derived.plan.hull.lines]
        canvas.path([(p[0], p[2]) for p in column], "station", closed=False)
        top = column[-1]
        u, v = canvas.at(top[0], top[2])
        canvas.words(u, v - 0.6 * canvas.type, str(k + 1), "rule-text")
    for line in surface.lines[0]:
        canvas.path(thin(line)[:, [0, 2]].tolist(), "knuckle", closed=False)
    canvas.path(profile_ring(surface), "hull-line")
    _marked(canvas, derived, 2, side)
    _readings(canvas, derived, 2, chosen, side, units)
    _condition(canvas, derived, 2)
    if tape:
        tapes.drawn(canvas, tapes.from_side(surface))
    return canvas.svg("readings-table")


def lines_plan(derived: Derived, units: Units, chosen: str, side: str = "lines",
               wide: float = WIDTH) -> str:  # fmt: skip
    """Half-breadths with the readings, port side. wide: on the page [px]."""
    width, size = WIDTH, type_of(WIDTH, wide)
    surface = derived.surface
    low, high = float(surface.outside.low[0]) - 0.15, float(surface.outside.high[0]) + 0.15
    scale = (width - 20) / (high - low)
    beam = float(max(surface.outside.high[1], -surface.outside.low[1]))
    deep = (beam if not surface.mirrored else 0.0) + 2.6 * size / scale
    canvas = Canvas(width, (beam + 0.06 + deep) * scale, (10 - low * scale, (beam + 0.06) * scale),
                    scale, "plan", "Half-breadths, port side", wide_px=wide)  # fmt: skip
    ring = plan_ring(surface)
    if surface.mirrored:
        half = len(ring) // 2
        ring = [*ring[:half], (ring[half - 1][0], 0.0), (ring[0][0], 0.0)]
    canvas.path(ring, "hull-fill")
    canvas.line((low, 0), (high, 0), "centreline")
    for k in range(len(derived.plan.hull.lines[0].points)):
        column = [line.points[k] for line in derived.plan.hull.lines]
        canvas.path([(p[0], p[1]) for p in column], "station", closed=False)
    for lines in surface.lines[: 1 if surface.mirrored else 2]:
        for line in lines:
            canvas.path(thin(line)[:, :2].tolist(), "knuckle", closed=False)
    canvas.path(ring, "hull-line")
    _marked(canvas, derived, 1, side)
    _readings(canvas, derived, 1, chosen, side, units)
    _condition(canvas, derived, 1)
    rule(canvas, -deep + 6 / scale, float(surface.outside.high[0]), units)
    return canvas.svg("readings-table")


def condition_plan(derived: Derived, units: Units, wide: float = WIDTH) -> str:
    """The boat from above with every place that the survey noted; click to note another. wide: on
    the page [px]."""
    width, size = WIDTH, type_of(WIDTH, wide)
    surface = derived.surface
    low, high = float(surface.outside.low[0]) - 0.15, float(surface.outside.high[0]) + 0.15
    scale = (width - 20) / (high - low)
    beam = float(max(surface.outside.high[1], -surface.outside.low[1]))
    deep = beam + 2.6 * size / scale
    canvas = Canvas(width, (beam + 0.06 + deep) * scale, (10 - low * scale, (beam + 0.06) * scale),
                    scale, "mark", "The boat from above, port side up; places of the survey",
                    wide_px=wide)  # fmt: skip
    canvas.path(plan_ring(surface), "hull-fill")
    canvas.line((low, 0), (high, 0), "centreline")
    for half in surface.lines:
        for line in half[1:-1]:
            canvas.path(thin(line)[:, :2].tolist(), "knuckle", closed=False)
    for thing in derived.obstacles:
        canvas.path(thing.ring, f"existing existing-{thing.kind}")
    canvas.path(plan_ring(surface), "hull-line")
    for number, place in enumerate(derived.plan.condition, start=1):
        _place(canvas, place, (place.at[0], place.at[1]), number)
    rule(canvas, -deep + 6 / scale, float(surface.outside.high[0]), units)
    return canvas.svg("places")
