"""A framing plan drawn: members from above with running dimensions from the transom, and from the side."""

from __future__ import annotations

from functools import partial
from html import escape

from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.framing_plan import Datum, FramingPlan, SetOut, framing_plan
from stirrup.core.parts.model import Member
from stirrup.core.units import Units
from stirrup.web.drawing.canvas import CROWDED, TYPE_PX, Canvas, Pair, svg_length, type_of

WIDTH = 900.0
MOST_HIGH = 540.0  # of the frame from above: it is looked at as a whole
BESIDE_EM = 6.5  # room to the left for distances from the centreline
ROWS = ((0.0, 0.0), (0.0, 1.25), (0.0, 2.5), (0.0, 3.75))  # of running dimensions, in units of the type
SAME_M = 0.0005
ACROSS = ("cross", "bearer")
SIDE_HIGH_M = 0.16  # of what is shown of the height from the side


def _ends(plan: FramingPlan) -> tuple[float, float, float]:
    """Aft and fore end of the frame, and its half-breadth [m]."""
    points = [p for s in plan.members for p in (*s.flange, *s.upright)]
    return min(p[0] for p in points), max(p[0] for p in points), max(abs(p[1]) for p in points)


def _scale(plan: FramingPlan, size: float) -> tuple[float, float]:
    """Units for each metre, the same for both views, and where x = 0 is."""
    low, high, half = _ends(plan)
    left = BESIDE_EM * size
    scale = (WIDTH - left - 2.5 * size) / (high - low)
    if size <= CROWDED * TYPE_PX:  # on a telephone it is as wide as it goes
        scale = min(scale, MOST_HIGH / (2 * half))
    return scale, left - low * scale


def plan_view(plan: FramingPlan, built: Built, datum: Datum, units: Units, wide: float = WIDTH) -> str:
    """From above, port side up, bow to the right. wide: on the page [px]."""
    low, high, half = _ends(plan)
    size = type_of(WIDTH, wide)
    scale, origin = _scale(plan, size)
    left, top = BESIDE_EM * size, half * scale + 2.2 * size
    height = top + half * scale + 8.2 * size
    canvas = Canvas(WIDTH, height, (origin, top), scale, "framing",
                    "Framing from above, port side up, bow to the right", wide_px=wide)  # fmt: skip
    for panel in built.panels:
        if panel.level:  # of the skin
            canvas.path([panel.frame.at(u, v)[:2] for u, v in panel.outline], "frame-skin")
    for placed in plan.members:
        _member(canvas, placed)
    canvas.line((low - left / scale, 0), (high + size / scale, 0), "centreline")
    _names(canvas, plan)
    _running(canvas, plan, -half, datum, units)
    _from_centreline(canvas, plan, low, units)
    return canvas.svg()


def _member(canvas: Canvas, placed: SetOut) -> None:
    canvas.parts.append(
        f'<g class="frame-member" data-member="{escape(placed.label)}">'
        f"<title>{escape(placed.part.name)}: {_leg(placed)}</title>"
    )
    canvas.path(placed.flange, "frame-flange")
    canvas.path(placed.upright, "frame-leg")
    canvas.parts.append("</g>")


def _leg(placed: SetOut) -> str:
    return placed.leg if placed.role == "bearer" else f"leg on the {placed.leg}"


def _middle(placed: SetOut) -> Pair:
    if isinstance(placed.part, Member) and placed.role == "side":
        x, y, _ = placed.part.path[len(placed.part.path) // 2]
        return x, y * 0.96
    xs, ys = [p[0] for p in placed.flange], [p[1] for p in placed.flange]
    return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2


def _names(canvas: Canvas, plan: FramingPlan) -> None:
    """The marks that are on the parts, each on its own; left out where none of it is free."""
    size = canvas.type
    for placed in plan.members:
        x, y = canvas.at(*_middle(placed))
        ring = placed.flange
        if placed.role in ACROSS:
            # along the member, away from the centreline where hatches and tracks are
            half = (max(p[1] for p in ring) - min(p[1] for p in ring)) * canvas.scale / size / 2
            ways = [(0.0, share * half + 0.35) for share in (0.3, -0.3, 0.55, -0.55, 0.0, 0.8, -0.8)]
        else:
            half = (max(p[0] for p in ring) - min(p[0] for p in ring)) * canvas.scale / size / 2
            ways = [(share * half, dy) for dy in (0.35, 1.4, -0.7) for share in (0.0, 0.4, -0.4)]
        canvas.words(x, y, escape(placed.label), "label halo", "middle", ways)


def _running(canvas: Canvas, plan: FramingPlan, foot: float, datum: Datum, units: Units) -> None:
    """From where the tape is hooked to the aft edge of every cross member."""
    size = canvas.type
    found = sorted({round(s.along[0].at, 4) for s in plan.of(*ACROSS)})
    level = canvas.at(0, foot)[1] + 1.6 * size
    for k, x in enumerate(found):
        u, v = canvas.at(x, foot)
        row = k % 3
        base = level + 1.6 * size * (row + 1)
        canvas.parts.append(f'<path class="dim" d="M{u:.1f} {v:.1f}V{base - 0.9 * size:.1f}"/>')
        canvas.words(u, base, svg_length(datum.tell(x), units), "dim-text halo", "middle", ROWS)
    said = f"aft edges, from {datum.words}"
    canvas.words(size * 0.3, level, said, "label minor halo", "start", ROWS[:1])


def _from_centreline(canvas: Canvas, plan: FramingPlan, low: float, units: Units) -> None:
    """Distances of the lengthwise members' inner edges from the centreline, at the left."""
    size, told = canvas.type, set()
    for placed in plan.members:
        if placed.role in ("side", *ACROSS):
            continue
        side = 1.0 if placed.side != "S" else -1.0
        inner = side * min(line.at for line in placed.across)
        if round(inner, 4) in told or abs(inner) < SAME_M:
            continue
        told.add(round(inner, 4))
        u, v = canvas.at(placed.along[0].at, inner)
        start = canvas.at(low, 0)[0] - 0.4 * size
        canvas.parts.append(f'<path class="dim thin" d="M{start:.1f} {v:.1f}H{u:.1f}"/>')
        canvas.words(start - 0.3 * size, v + 0.35 * size, svg_length(abs(inner), units),
                     "dim-text halo", "end", ((0, 0), (0, 0.9), (0, -0.9)))  # fmt: skip


def side_view(plan: FramingPlan, units: Units, wide: float = WIDTH) -> str:
    """From the side, bow to the right: on which edge each leg hangs, and the height line."""
    low, high, _ = _ends(plan)
    size = type_of(WIDTH, wide)
    scale, origin = _scale(plan, size)
    deep = max(s.deep for s in plan.members)
    ends = (plan.top_at(low), plan.top_at(high))
    height = (deep + max(ends) - min(ends)) * scale + 4.2 * size
    canvas = Canvas(WIDTH, height, (origin, 1.6 * size + max(ends) * scale), scale, "framing-side",
                    "Framing from the side, bow to the right", wide_px=wide)  # fmt: skip
    for placed in plan.of("side")[:1]:
        a, t = placed.deep, placed.wall
        x0, x1 = placed.along[0].at, placed.along[1].at
        aft, fore = plan.top_at(x0), plan.top_at(x1)
        canvas.path([(x0, aft), (x1, fore), (x1, fore - t), (x0, aft - t)], "frame-flange")
        canvas.path([(x0, aft - t), (x1, fore - t), (x1, fore - a), (x0, aft - a)], "frame-behind")
    for placed in plan.of("cross"):
        a, t, top = placed.deep, placed.wall, placed.top
        x0, x1 = placed.along[0].at, placed.along[1].at
        near, far = (x0, x0 + t) if placed.leg == "aft edge" else (x1 - t, x1)
        ring = [(x0, top), (x1, top), (x1, top - t), (far, top - t), (far, top - a), (near, top - a),
                (near, top - t), (x0, top - t)]  # fmt: skip
        canvas.path(ring, "frame-cut")
    for placed in plan.of("bearer"):
        x0, x1 = placed.along[0].at, placed.along[1].at
        top, foot = placed.top, placed.top - placed.deep
        canvas.path([(x0, top), (x1, top), (x1, foot), (x0, foot)], "frame-cut")
    before, behind = low - 0.4 * size / scale, high + size / scale
    canvas.line((before, plan.top_at(before)), (behind, plan.top_at(behind)), "frame-height")
    said = f"{svg_length(plan.heights[0].at, units)} above the keel line"
    left = canvas.at(0, plan.top_at(low))[1] - 0.5 * size
    canvas.words(0.3 * size, left, said, "dim-text halo", "start", ((0, 0), (0, 1.4)))
    if plan.rise:
        there = f"{svg_length(plan.heights[1].at, units)} here"
        canvas.words(WIDTH - 0.3 * size, canvas.at(0, plan.top_at(high))[1] - 0.5 * size, there,
                     "dim-text halo", "end", ((0, 0), (0, 1.4)))  # fmt: skip
    return canvas.svg()


def members_in_plan(canvas: Canvas, derived: Derived) -> None:
    """Where the members of every fitting lie, as a layer of the plan of the boat."""
    of = derived.plan.arrangement.of
    for built in derived.built:
        if not of(built.fitting).hidden:
            plan = built.kept.get("framing", partial(framing_plan, built))
            for placed in plan.members if plan else ():
                canvas.path(placed.flange, "frame-layer")
