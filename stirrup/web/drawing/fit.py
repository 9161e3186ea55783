"""What the checks of fit found, drawn: room to use things, collisions, the walkway, the eye line."""

from __future__ import annotations

from collections.abc import Sequence

from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.fit.crew import Aboard, aboard, helm_of, scene_of
from stirrup.core.fit.sight import Outlook, sight_line
from stirrup.core.fit.walkway import WALK_LEAST_M
from stirrup.core.plan.model import LoadCase
from stirrup.core.space.shapes import Prism, Shape, near
from stirrup.core.units import Units, write_length
from stirrup.web.drawing.canvas import FAN, Canvas, Pair, svg_length
from stirrup.web.drawing.labels import width_px
from stirrup.web.drawing.look import Look

Axes = tuple[int, int]
MARK_PX = 7.0


def outline(shape: Shape, axes: Axes) -> list[Pair]:
    """A shape seen along the third axis."""
    if isinstance(shape, Prism) and axes == (0, 1):
        return [(float(x), float(y)) for x, y in shape.footprint.exterior.coords[:-1]]
    if isinstance(shape, Prism):
        b = shape.bounds
        low, high = b[axes[0]], b[axes[0] + 3]
        return [(low, b[2]), (high, b[2]), (high, b[5]), (low, b[5])]
    return shape.outline(axes)


def _flipped(ring: Sequence[Pair], axes: Axes) -> list[Pair]:
    """The section is drawn with port to the left."""
    return [(-a, b) for a, b in ring] if axes == (1, 2) else list(ring)


def _cut(shape: Shape, look: Look, axes: Axes) -> bool:
    """Whether the section cuts a shape; plan and profile show all of them."""
    if axes != (1, 2) or look.section_x is None:
        return True
    return shape.bounds[0] <= look.section_x <= shape.bounds[3]


def rooms_drawn(canvas: Canvas, derived: Derived, look: Look, axes: Axes) -> None:
    """Rooms on demand; those of what is chosen, and those that something stands in, always."""
    blocked: dict[str, list[str]] = {}
    for f in derived.of_code("ROOM"):
        if f.level != "fine":
            blocked.setdefault(f.place, []).append(f.other)
    there = derived.fit.shapes if blocked else {}
    hidden = derived.plan.arrangement.hidden
    for room in derived.fit.rooms:
        wanted = look.rooms or room.owner in look.chosen
        if not wanted and room.owner not in blocked:
            continue
        others = [there[o] for o in blocked.get(room.owner, []) if o in there]
        hit = any(near(room.shape.bounds, o.bounds) for o in others)
        if not (wanted or hit) or room.owner in hidden or not _cut(room.shape, look, axes):
            continue
        canvas.path(_flipped(outline(room.shape, axes), axes), "room hit" if hit else "room")


def clashes_drawn(canvas: Canvas, derived: Derived, units: Units, look: Look, axes: Axes) -> None:
    """What two things share, outlined and crossed, with the amount."""
    found = [f for f in derived.of_code("CLASH") if f.level != "fine"]
    if not found:
        return
    there = derived.fit.shapes
    for finding in found:
        a, b = there.get(finding.place), there.get(finding.other)
        if a is not None and b is not None and _cut(a, look, axes) and _cut(b, look, axes):
            _clash(canvas, finding, (a, b), units, axes)


def _clash(canvas: Canvas, finding: Finding, pair: tuple[Shape, Shape], units: Units, axes: Axes) -> None:
    p, q = (s.bounds for s in pair)
    low = [max(p[k], q[k]) for k in axes]
    high = [min(p[k + 3], q[k + 3]) for k in axes]
    if low[0] >= high[0] or low[1] >= high[1]:
        return
    ring = _flipped([(low[0], low[1]), (high[0], low[1]), (high[0], high[1]), (low[0], high[1])], axes)
    canvas.path(ring, "clash")
    x, y = canvas.at((ring[0][0] + ring[2][0]) / 2, (ring[0][1] + ring[2][1]) / 2)
    m = MARK_PX
    canvas.parts.append(
        f'<path class="clash-cross" d="M{x - m:.1f} {y - m:.1f}l{2 * m} {2 * m}'
        f'm0 {-2 * m}l{-2 * m} {2 * m}"/>'
    )
    if axes == (0, 1):
        amount = svg_length(finding.values["amount"].value, units)
        ways = ((0, 0.3), (0, 1.4), (0, -0.9))
        canvas.words(x + 12, y, amount, "dim-text halo clash-text", "start", (*ways, *FAN))


def walkway_drawn(canvas: Canvas, derived: Derived, units: Units) -> None:
    """The narrowest place on the way forward, dimensioned on the plan."""
    found = derived.fit.passage
    if found is None or found.width_m < 0.02:
        return
    finding = next(iter(derived.of_code("WALKWAY")), None)
    if finding is None or finding.level == "fine":
        return
    css = "walk mend" if found.width_m < WALK_LEAST_M else "walk"
    css += " old" if derived.live else ""
    (x1, y1), (x2, y2) = canvas.at(*found.a), canvas.at(*found.b)
    long = max(1.0, ((x2 - x1) ** 2 + (y2 - y1) ** 2) ** 0.5)
    u, v = -(y2 - y1) / long * 5, (x2 - x1) / long * 5
    canvas.parts.append(
        f'<path class="{css}" d="M{x1 - u:.1f} {y1 - v:.1f}l{2 * u:.1f} {2 * v:.1f}'
        f'M{x2 - u:.1f} {y2 - v:.1f}l{2 * u:.1f} {2 * v:.1f}M{x1:.1f} {y1:.1f}L{x2:.1f} {y2:.1f}"/>'
    )
    middle = ((found.a[0] + found.b[0]) / 2, (found.a[1] + found.b[1]) / 2)
    x, y = canvas.at(*middle)
    said = f"{svg_length(found.width_m, units)} to pass"
    aside = width_px(f"{write_length(found.width_m, units)} to pass", 1.0) / 2 + 0.5
    canvas.words(x, y, said, "dim-text halo", "middle", ((aside, 0.3), (-aside, 0.3), *FAN))


def eye_line_drawn(canvas: Canvas, derived: Derived, case: LoadCase, units: Units) -> None:
    """From the eye at the wheel over the highest point ahead, and how far the water is hidden."""
    report = derived.case(case.name).report
    one = _helmsman(derived, case)
    if report is None or one is None:
        return
    bodies = tuple(body for _, body in scene_of(derived.things).bodies)
    outlook = Outlook(bodies, derived.surface, report, derived.plan.propulsion.running_trim)
    line = sight_line(one.pose.eye, one.person.at[1], outlook)
    (ex, ez), (ox, oz) = line.eye, line.over
    slope = (oz - ez) / max(ox - ex, 1e-6)
    far = (canvas.width - canvas.origin[0]) / canvas.scale
    canvas.line((ex, ez), (far, ez + slope * (far - ex)), "sight")
    words = "no water seen ahead" if line.blind_m is None else "water hidden for "
    told = "" if line.blind_m is None else f"{svg_length(line.blind_m, units)} ahead"
    x, y = canvas.at(far, ez + slope * (far - ex))
    ways = ((0, -0.5), (0, 1.2), *((0, k) for k in (-1.6, 2.4, -2.8, 3.6)))
    canvas.words(x - 4, max(canvas.type, y), f"{words}{told}", "dim-text halo", "end", ways)


def _helmsman(derived: Derived, case: LoadCase) -> Aboard | None:
    """Whoever has a console ahead of him."""
    people = aboard(derived.footing, [case])
    scene = scene_of(derived.things)
    return next((one for one in people if helm_of(scene, one.person) is not None), None)
