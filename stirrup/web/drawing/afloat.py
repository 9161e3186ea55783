"""The Float page's pictures: side and stern at the true attitude, righting arm, crew map."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from html import escape

import numpy as np

from stirrup.core.afloat.crewmap import CrewMap
from stirrup.core.afloat.equilibrium import State
from stirrup.core.afloat.report import FloatReport
from stirrup.core.afloat.righting import RightingCurve
from stirrup.core.derive import Derived
from stirrup.core.kept import Attached
from stirrup.core.plan.model import LoadCase, Person
from stirrup.core.studies import Grid
from stirrup.core.units import Units, write_length
from stirrup.web.drawing import things
from stirrup.web.drawing.boat import plan_ring, tallest_m, thin
from stirrup.web.drawing.canvas import FAN, GRAB_EM, Canvas, Pair, svg_length, type_of
from stirrup.web.drawing.people import figure

SIDE_W, SIDE_H = 640.0, 186.0
STERN_W, STERN_H = 236.0, 186.0
PLAN_W = 520.0
GZ_W, GZ_H = 340.0, 176.0
# least freeboard at which a square changes its dress [m]; the first is "water comes aboard"
BOARD_BANDS = (0.0, 0.10, 0.20, 0.30)
LIST_BANDS = (10.0, 7.0, 4.0, 2.0)  # the same for list [deg], worst first


class Tilted(Canvas):
    """A canvas on which the boat lies as she floats: level water at height 0.

    `at` takes points of the boat's centre plane (x, z) or, from astern, (-y, z).
    """

    state: State | None = None
    astern: bool = False

    def at(self, a: float, b: float) -> Pair:
        return self.at3((0.0, -a, b) if self.astern else (a, 0.0, b))

    def at3(self, point: Iterable[float]) -> Pair:
        """Pixel of a point of the boat (x, y, z)."""
        x, y, z = point
        if self.state is None:
            return super().at(-y if self.astern else x, z)
        n = self.state.n
        along = np.array([1.0, 0.0, 0.0]) - n[0] * n
        along /= np.linalg.norm(along)
        r = np.array([x, y, z])
        level = float(n @ r) - self.state.d
        return super().at(float(-np.cross(n, along) @ r) if self.astern else float(along @ r), level)

    def kept(self, shelf: Attached, key: object, draw: Callable[[Canvas], None]) -> None:
        """Nothing is: she lies another way at each position."""
        draw(self)

    def path3(self, points: Iterable[Iterable[float]], css: str, closed: bool = True) -> None:
        """A polyline or polygon through points of the boat."""
        pixels = ["%.1f %.1f" % self.at3(p) for p in points]  # noqa: UP031 (quickest)
        if len(pixels) > 1:
            self.parts.append(f'<path class="{css}" d="M{"L".join(pixels)}{"Z" if closed else ""}"/>')


def _side_ring(derived: Derived, low_side: int) -> list[list[float]]:
    """Keel and stem forward, then the lower sheer aft."""
    lines = derived.surface.lines[low_side]
    return [*thin(lines[0]).tolist(), *thin(lines[-1])[::-1].tolist()]


def _sea(canvas: Canvas, css: str = "water") -> None:
    y = canvas.origin[1]
    canvas.parts.append(
        f'<rect class="{css}" x="0" y="{y:.1f}" width="{canvas.width:.0f}" '
        f'height="{canvas.height - y:.1f}"/><line class="waterline" x1="0" y1="{y:.1f}" '
        f'x2="{canvas.width:.0f}" y2="{y:.1f}"/>'
    )


def _mark(canvas: Tilted, point: Iterable[float], height: float, words: str, units: Units,
          side: float) -> None:  # fmt: skip
    """A freeboard: from the water straight up to a point, with its amount."""
    x, y = canvas.at3(point)
    foot = canvas.origin[1]
    canvas.parts.append(
        f'<path class="board" d="M{x - 5:.1f} {y:.1f}h10M{x - 5:.1f} {foot:.1f}h10'
        f'M{x:.1f} {y:.1f}V{foot:.1f}"/>'
    )
    said = f"{svg_length(height, units)} {escape(words)}"
    middle = min(max((y + foot) / 2, canvas.type), canvas.height - canvas.type / 2)
    # beside its line, a little higher or lower, on the other side of it, else near by
    heights = (0.3, -0.9, 1.5, -2.1, 2.7, -3.3, 3.9)
    for anchor, way in (("start", 1), ("end", -1))[:: 1 if side > 0 else -1]:
        if canvas.words(x + 9 * way, middle, said, "dim-text halo", anchor, [(0, h) for h in heights]):
            return
    canvas.words(x, middle, said, "dim-text halo", "middle", FAN)


def side_view(
    derived: Derived, case: LoadCase, ghost: State | None, units: Units, wide: float = 0.0
) -> str:
    """From starboard, bow right, at the true trim; dashed: as found; freeboards as dimensions.
    wide: on the page [px]."""
    result = derived.case(case.name)
    report, state = result.report, result.state
    outside = derived.surface.outside
    low = min(float(outside.low[0]), -0.62)
    high = float(outside.high[0]) + 0.1
    # whoever sits or stands highest stays clear of the words above
    tall = max(float(outside.high[2]) + 0.3, tallest_m(derived, case))
    scale = min((SIDE_W - 16) / (high - low), (SIDE_H - 30) / (tall + 0.1))
    ox = (SIDE_W - (high - low) * scale) / 2 - low * scale
    canvas = Tilted(SIDE_W, SIDE_H, (ox, SIDE_H - 0.36 * scale), scale, "float",
                    f"{case.name}: from the side, at her true trim", wide_px=wide)  # fmt: skip
    if ghost is not None and state is not None:
        canvas.state = ghost
        canvas.path3(_side_ring(derived, 0), "ghost")
    canvas.state = state
    low_side = 0 if state is None or state.heel >= 0 else 1
    things.from_far(canvas, derived, behind=True)
    canvas.path3(_side_ring(derived, low_side), "hull-fill")
    canvas.path3(thin(derived.surface.lines[1 - low_side][-1]).tolist(), "knuckle", closed=False)
    for line in derived.surface.lines[low_side][1:-1]:
        canvas.path3(thin(line).tolist(), "knuckle", closed=False)
    things.from_far(canvas, derived, behind=False)
    for person in case.crew:
        figure(canvas, person)
    canvas.path3(_side_ring(derived, low_side), "hull-line")
    if report is not None and state is not None:
        _sea(canvas)
        _boards(canvas, derived, report, units)
        x, y = canvas.at3(report.centre_m)
        canvas.parts.append(f'<circle class="centre" cx="{x:.1f}" cy="{y:.1f}" r="5"/>')
        canvas.words(x, y, "G", "label strong halo", "middle", ((0.8, 0.3), (-0.8, 0.3), *FAN))
    return canvas.svg("figures")


def _boards(canvas: Tilted, derived: Derived, report: FloatReport, units: Units) -> None:
    sheers = derived.surface.sheers
    half = len(sheers) // 2
    assert canvas.state is not None
    heights = sheers @ canvas.state.n - canvas.state.d
    bow = half - 1 if heights[half - 1] <= heights[-1] else len(sheers) - 1
    _mark(canvas, sheers[bow], float(heights[bow]), "bow", units, -1.0)
    least = report.freeboard_least_at_m
    middle = (sheers[0][0] + sheers[half - 1][0]) / 2
    if abs(least[0] - sheers[bow][0]) > 0.3:
        _mark(canvas, least, report.freeboard_least_m, "least", units, 1.0 if least[0] < middle else -1.0)
    for (_, at), flood in zip(derived.vessel.floods, report.floods, strict=True):
        if abs(at[0] - least[0]) > 0.5:
            _mark(canvas, at, flood.height_m, flood.name, units, 1.0)


def _head_m(person: Person) -> float:
    """Height of the head in the view from astern, above the keel line [m]."""
    return person.at[2] + (person.stature if person.posture == "standing" else 0.5 * person.stature)


def stern_view(derived: Derived, case: LoadCase, ghost: State | None, units: Units) -> str:
    """From astern, port left, at the true list, with G; dashed: as found."""
    result = derived.case(case.name)
    surface = derived.surface
    beam = float(max(surface.outside.high[1], -surface.outside.low[1]))
    tall = max([float(surface.outside.high[2]), *(_head_m(p) + 0.1 for p in case.crew)]) + 0.1
    scale = min((STERN_W - 20) / (2 * beam), (STERN_H - 30) / (tall + 0.1))
    canvas = Tilted(STERN_W, STERN_H, (STERN_W / 2, SIDE_H - 0.36 * scale), scale, "stern",
                    f"{case.name}: from astern, at her true list")  # fmt: skip
    canvas.astern = True
    widest = int(surface.lines[0][-1][:, 1].argmax())
    for state, css in ((ghost, "ghost"), (result.state, "")):
        canvas.state = state
        if css and (state is None or result.state is None):
            continue
        for column, fill in ((widest, "hull-fill"), (0, "transom-fill")):
            ring = [line[column].tolist() for line in surface.lines[0]]
            ring += [line[column].tolist() for line in surface.lines[1]][::-1]
            canvas.path3(ring, css or f"{fill} hull-line")
    for person in case.crew:
        x, y, z = person.at
        top = _head_m(person)
        canvas.path3([(x, y, z), (x, y, top - 0.12)], "person", closed=False)
        px, py = canvas.at3((x, y, top - 0.08))
        canvas.parts.append(f'<circle class="person" cx="{px:.1f}" cy="{py:.1f}" r="{0.08 * scale:.1f}"/>')
    if result.report is not None:
        _sea(canvas)
        x, y = canvas.at3(result.report.centre_m)
        canvas.parts.append(f'<circle class="centre" cx="{x:.1f}" cy="{y:.1f}" r="5"/>')
    return canvas.svg("figures")


def righting_view(curve: RightingCurve, found: RightingCurve | None, units: Units,
                  wide: float = 0.0) -> str:  # fmt: skip
    """Righting arm over heel; the area to flooding filled; dashed: as found. wide: on the page [px]."""
    width, height, size = GZ_W, GZ_H, type_of(GZ_W, wide)
    left, right, top, bottom = 12.0, 8.0, 1.2 * size, 1.7 * size
    arms = [*curve.gz_m, *(found.gz_m if found else ())]
    peak, least = max(0.05, *arms), min(0.0, *arms)
    end = max(curve.heel_deg)
    canvas = Canvas(width, height, (0, 0), 1.0, "righting", f"Righting arm, {curve.case}", wide_px=wide)

    def at(heel: float, arm: float) -> Pair:
        x = left + (width - left - right) * heel / end
        return x, top + (height - top - bottom) * (peak - arm) / (peak - least)

    def px(heel: float, arm: float) -> str:
        return "{:.1f} {:.1f}".format(*at(heel, arm))

    def line(c: RightingCurve, css: str) -> str:
        pairs = zip(c.heel_deg, c.gz_m, strict=True)
        return f'<path class="{css}" d="M{"L".join(px(h, g) for h, g in pairs)}"/>'

    stop = min(x for x in (curve.flooding_deg, curve.range_deg, end) if x is not None)
    heels = [*(h for h in curve.heel_deg if h < stop), stop]
    arm = np.interp(heels, curve.heel_deg, curve.gz_m)
    area = "L".join(px(h, float(g)) for h, g in zip(heels, arm, strict=True))
    canvas.parts.append(f'<path class="gz-area" d="M{px(0, 0)}L{area}L{px(stop, 0)}Z"/>')
    canvas.parts.append(f'<path class="axis" d="M{px(0, peak)}L{px(0, least)}M{px(0, 0)}L{px(end, 0)}"/>')
    for heel in range(0, int(end) + 1, 15):
        x, y = at(heel, least)
        canvas.words(x, y + 1.4 * size, f"{heel}°", "rule-text axis-text")
    if found is not None:
        canvas.parts.append(line(found, "ghost"))
    canvas.parts.append(line(curve, "gz"))
    best = max(range(len(curve.gz_m)), key=lambda k: curve.gz_m[k])
    x, y = at(curve.heel_deg[best], curve.gz_m[best])
    anchor = "start" if x < width * 0.6 else "end"
    said = f"{svg_length(curve.gz_m[best], units)} at {curve.heel_deg[best]:.0f}°"
    canvas.words(x, y - 0.4 * size, said, "dim-text halo", anchor, ((0, 0), *FAN))
    if curve.flooding_deg is not None and curve.flooding_deg < end:
        x = at(curve.flooding_deg, 0)[0]
        foot = height - bottom
        canvas.parts.append(f'<path class="flooding" d="M{x:.1f} {top:.1f}V{foot:.1f}"/>')
        said = f"water enters, {curve.flooding_deg:.0f}°"
        ways = [(0.0, k) for k in (-0.7, -1.9, -3.1, -4.3)]
        for anchor, aside in (("start", 5.0), ("end", -5.0)):
            if canvas.words(x + aside, foot, said, "flood-text halo", anchor, ways):
                break
    return canvas.svg()


def map_canvas(derived: Derived, case: LoadCase, units: Units, wide: float = 0.0) -> str:
    """The plan on which the squares are drawn as they come, people to be dragged. wide: on the
    page [px]."""
    outside = derived.surface.outside
    low, high = float(outside.low[0]), float(outside.high[0])
    beam = float(max(outside.high[1], -outside.low[1]))
    scale = (PLAN_W - 12) / (high - low)
    canvas = Canvas(PLAN_W, (2 * beam + 0.04) * scale + 4, (6 - low * scale, (beam + 0.02) * scale + 2),
                    scale, "where", "Where a person may stand, port side up", wide_px=wide)  # fmt: skip
    size = canvas.type
    canvas.path(plan_ring(derived.surface), "hull-fill")
    canvas.parts.append('<g id="map-cells"></g>')
    for floor in (f for t in derived.things for f in t.built.floors if f.broad):
        canvas.path(list(floor.region.exterior.coords)[:-1], "map-deck")
    state = derived.case(case.name).state
    if state is not None:
        edges = zip(state.cut.edge_from.tolist(), state.cut.edge_to.tolist(), strict=True)
        pixels = ("M%.1f %.1fL%.1f %.1f" % (*canvas.at(*a[:2]), *canvas.at(*b[:2])) for a, b in edges)  # noqa: UP031
        canvas.parts.append(f'<path class="water-edge" d="{"".join(pixels)}"/>')
    canvas.path(plan_ring(derived.surface), "hull-line")
    canvas.parts.append('<g id="map-labels"></g>')
    for k, person in enumerate(case.crew):
        x, y = canvas.at(person.at[0], person.at[1])
        name = person.name or f"person {k + 1}"
        said = spot_words(person.at[0], person.at[1], units)
        canvas.parts.append(
            f'<g class="crew-grip" tabindex="0" role="application" data-person="{k}" '
            f'data-x="{person.at[0]:.4f}" data-y="{person.at[1]:.4f}" '
            f'aria-label="{escape(name)}, {said}: drag, or arrow keys">'
            f'<circle class="grab-dot" cx="{x:.1f}" cy="{y:.1f}" r="{GRAB_EM * size:.1f}"/>'
            f'<circle class="person-top" cx="{x:.1f}" cy="{y:.1f}" r="{0.62 * size:.1f}"/>'
            f'<text class="crew-name" text-anchor="middle" x="{x:.1f}" y="{y:.1f}">{k + 1}</text></g>'
        )
    return canvas.svg("map-words")


def band(value: float, over: bool, kind: str) -> int | None:
    """Dress of a square: 0 water comes aboard or she goes over, up to 4 best; None: no ground."""
    if over:
        return 0
    if math.isnan(value):
        return None
    if kind == "list":
        return sum(abs(value) < limit for limit in LIST_BANDS)
    return sum(value > limit for limit in BOARD_BANDS)


def map_row(canvas_of: tuple[float, float, float], grid: Grid, found: CrewMap, row: int, kind: str) -> str:
    """One row of squares: a path for each dress that occurs. canvas_of: origin x, y and scale."""
    ox, oy, scale = canvas_of
    values = found.list_deg if kind == "list" else found.freeboard_m
    paths: dict[int, list[str]] = {}
    high = (grid.y_edges[row + 1] - grid.y_edges[row]) * scale
    top = oy - grid.y_edges[row + 1] * scale
    for column in range(len(grid.x_edges) - 1):
        dress = band(float(values[row, column]), bool(found.over[row, column]), kind)
        if dress is None:
            continue
        x = ox + grid.x_edges[column] * scale
        wide = (grid.x_edges[column + 1] - grid.x_edges[column]) * scale
        paths.setdefault(dress, []).append(f"M{x:.1f} {top:.1f}h{wide:.1f}v{high:.1f}h-{wide:.1f}z")
    return "".join(f'<path class="cell cell-{k}" d="{"".join(d)}"/>' for k, d in paths.items())


def map_labels(
    canvas_of: tuple[float, float, float], grid: Grid, found: CrewMap, kind: str, units: Units,
    crew: Sequence[Person] = (), wide: float = 0.0,
) -> str:  # fmt: skip
    """Amounts written on the map: along the middle and near both sides, clear of those aboard. wide:
    on the page [px]."""
    ox, oy, scale = canvas_of
    canvas = Canvas(PLAN_W, 2 * oy, (ox, oy), scale, "where", "", wide_px=wide)
    for person in crew:
        canvas.reserve((person.at[0], person.at[1]), 0.7 * canvas.type, 0.7 * canvas.type)
    values = found.list_deg if kind == "list" else found.freeboard_m
    for row, column in _spots(values):
        x, y = canvas.at(float(grid.x[column]), float(grid.y[row]))
        value = float(values[row, column])
        said = f"{abs(value):.1f}°" if kind == "list" else svg_length(value, units)
        canvas.words(x, y + 0.3 * canvas.type, said, "dim-text halo", "middle", ((0, 0), *FAN))
    return "".join(canvas.parts)


def _spots(values: np.ndarray) -> Iterator[tuple[int, int]]:
    """Squares whose amount is written: on the centreline and near the port side, at three places."""
    rows, columns = values.shape
    for share in (0.08, 0.42, 0.72):
        column = int(share * (columns - 1))
        there = np.nonzero(~np.isnan(values[:, column]))[0]
        if len(there) == 0:
            continue
        middle = min(there, key=lambda r: abs(r - (rows - 1) / 2))
        yield int(middle), column
        if there[-1] - middle > rows * 0.2:
            yield int(there[-1]), column
        if middle - there[0] > rows * 0.2:
            yield int(there[0]), column


def spot_words(x: float, y: float, units: Units) -> str:
    """A place on the boat in words: "2.1 m from the transom, 30 cm to port", in the shop's units."""
    side = "on the middle" if abs(y) < 0.06 else f"{write_length(abs(y), units)} to " + (
        "port" if y > 0 else "starboard")  # fmt: skip
    return f"{write_length(x, units)} from the transom, {side}"


def map_words(grid: Grid, found: CrewMap, kind: str, units: Units) -> str:
    """The map in one sentence, for those who do not see it."""
    values = found.list_deg if kind == "list" else found.freeboard_m
    if np.isnan(values).all():
        return "Nobody can stand anywhere here without going over."
    worst = np.nanargmax(np.abs(values)) if kind == "list" else np.nanargmin(values)
    best = np.nanargmin(np.abs(values)) if kind == "list" else np.nanargmax(values)
    parts = []
    for word, flat in (("worst", worst), ("best", best)):
        row, column = np.unravel_index(int(flat), values.shape)
        value = float(values[row, column])
        amount = f"{abs(value):.1f}°" if kind == "list" else write_length(value, units)
        spot = spot_words(float(grid.x[column]), float(grid.y[row]), units)
        parts.append(f"{word} {amount} at {spot}")
    over = int(found.over.sum())
    tail = f"; on {over} squares she goes over" if over else ""
    what = "List" if kind == "list" else "Least freeboard"
    return f"{what}: {'; '.join(parts)}{tail}."
