"""Things as they are drawn in plan, profile and section: what their kinds give, in order."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from functools import lru_cache, partial
from html import escape

from shapely.geometry import LineString, Polygon
from shapely.ops import unary_union

from stirrup.core.bodies.existing import Existing
from stirrup.core.contract.gives import Shape, View
from stirrup.core.contract.obstacle import TALLEST_M
from stirrup.core.derive import Derived
from stirrup.core.fit.relocated import former_box
from stirrup.core.plan.model import Item
from stirrup.core.plan.placed import Placed
from stirrup.core.space.section import section_at
from stirrup.core.space.solid import Solid
from stirrup.web.drawing.canvas import Canvas, Pair

LEAST_PX = 4.0  # a thing seen from its edge is drawn at least this thick
ACROSS = (0.0, 1.0, 0.0)
AXES: dict[View, tuple[int, int]] = {"plan": (0, 1), "side": (0, 2), "far": (0, 2), "across": (1, 2)}
FAR_M = 1e4  # beyond the side of any boat
SECTION_M = 0.012  # of a floor that is cut: drawn at least this thick


@lru_cache(maxsize=4000)
def _begun(id_: str, title: str, css: str, chosen: bool, locked: bool) -> str:
    """The beginning of a thing's group."""
    css = f"thing {css}{' chosen' if chosen else ''}".replace("  ", " ")
    held = ' data-locked="1"' if locked else ""
    return f'<g class="{css}" data-select="{escape(id_)}"{held}><title>{escape(title)}</title>'


@contextmanager
def thing(
    canvas: Canvas, derived: Derived, id_: str, title: str, chosen: Sequence[str], css: str = ""
) -> Iterator[None]:
    """Everything drawn inside is one thing that can be chosen and dragged."""
    canvas.parts.append(_begun(id_, title, css, id_ in chosen, derived.plan.arrangement.of(id_).locked))
    yield
    canvas.parts.append("</g>")


def drawn(derived: Derived, group: str, view: View = "plan") -> list[Placed]:
    """Things of a list that are shown and look like something in a view."""
    hidden = derived.plan.arrangement.hidden
    return [
        t for t in derived.things if t.kind.group == group and view in t.built.views and t.id not in hidden
    ]


def structure_in_plan(canvas: Canvas, derived: Derived, chosen: Sequence[str]) -> None:
    """Structure that stays, from above, and where things that are moved stood."""
    _former_places(canvas, derived, 1)
    hidden = derived.plan.arrangement.hidden
    for there in derived.obstacles:
        if there.id not in hidden:
            with thing(canvas, derived, there.id, there.name, chosen):
                canvas.path(there.ring, f"existing existing-{there.kind}")


def _former_places(canvas: Canvas, derived: Derived, axis: int) -> None:
    """Where things that are moved stood when she was found, dashed; axis 1 in plan, 2 from the side."""
    every: tuple[Item | Existing, ...] = (*derived.plan.items, *derived.plan.existing)
    for there in every:
        box = former_box(there)
        if box is not None and there.id not in derived.plan.arrangement.hidden:
            (x0, x1), (a, b) = box[0], box[axis]
            canvas.path([(x0, a), (x1, a), (x1, b), (x0, b)], "was-there")


def structure_in_profile(canvas: Canvas, derived: Derived, chosen: Sequence[str]) -> None:
    """The piece of structure that is chosen, from the side: how high it reaches; and where things that are
    moved stood."""
    _former_places(canvas, derived, 2)
    for there in derived.obstacles:
        if there.id in chosen and there.high < TALLEST_M:
            x0, _, x1, _ = there.footprint.bounds
            ring = [(x0, there.low), (x1, there.low), (x1, there.high), (x0, there.high)]
            with thing(canvas, derived, there.id, there.name, chosen):
                canvas.path(ring, "existing")


def structure_across(canvas: Canvas, derived: Derived, chosen: Sequence[str], x: float) -> None:
    """Structure that the section at x cuts."""
    hidden = derived.plan.arrangement.hidden
    for there in derived.obstacles:
        x0, y0, x1, y1 = there.footprint.bounds
        if x0 <= x <= x1 and there.kind != "lip" and there.id not in hidden:
            ring = [(-y0, there.low), (-y1, there.low), (-y1, there.high), (-y0, there.high)]
            with thing(canvas, derived, there.id, there.name, chosen):
                canvas.path(ring, "existing")


def _seen(shape: Shape) -> list[Pair]:
    a, b = AXES[shape.view]
    sign = -1.0 if shape.view == "across" else 1.0  # the section is drawn with port to the left
    return [(sign * p[a], p[b]) for p in shape.ring]


def _thick(ring: list[Pair], least: float) -> list[Pair]:
    """A closed ring, drawn downwards to at least a thickness [m]."""
    low, high = min(p[1] for p in ring), max(p[1] for p in ring)
    if high - low >= least:
        return ring
    return [(a, high - least if b == low else b) for a, b in ring]


def put(canvas: Canvas, shape: Shape, css: str = "", extra: str = "") -> None:
    """One shape: a ring, a line, or a dot for what has no size."""
    ring, hatch = _seen(shape), f" hatch-{shape.hatching}" if shape.hatching else ""
    if len(ring) == 1:
        if shape.view == "plan":
            u, v = canvas.at(*ring[0])
            canvas.parts.append(f'<rect x="{u - 4:.1f}" y="{v - 4:.1f}" width="8" height="8" rx="1.5"/>')
        else:
            canvas.circle(ring[0], 3.5, shape.role)
        return
    if shape.thin:
        ring = _thick(ring, LEAST_PX / canvas.scale)
    canvas.path(ring, f"{shape.role}{hatch}{css}", shape.closed, extra)


def picture(canvas: Canvas, placed: Placed, wanted: Callable[[Shape], bool], css: str = "",
            extra: str = "", key: object = "") -> None:  # fmt: skip
    """What a thing looks like; kept with what it makes while that stays."""

    def draw(sheet: Canvas) -> None:
        for shape in placed.built.shapes:
            if wanted(shape):
                put(sheet, shape, css, extra)

    canvas.kept(placed.built.kept, (css, extra, key), draw)


def in_view(view: View, behind: bool = False) -> Callable[[Shape], bool]:
    """Whether a shape belongs to a view, before the hull or behind it."""
    return partial(_belongs, view, behind)


def _belongs(view: View, behind: bool, shape: Shape) -> bool:
    return shape.view == view and shape.behind == behind


def built_in(canvas: Canvas, derived: Derived, view: View, chosen: Sequence[str]) -> None:
    """Everything that fittings show in a view, lower ones first."""
    of = derived.plan.arrangement.of
    for placed in sorted(drawn(derived, "fittings", view), key=lambda t: t.built.top_m):
        css = " chosen" if placed.id in chosen else ""
        extra = f' data-select="{escape(placed.id)}"'
        extra += ' data-locked="1"' if of(placed.id).locked else ""
        picture(canvas, placed, in_view(view), css, extra, view)


def _middle(placed: Placed, axis: int) -> float:
    """Where a thing's middle is on an axis, for the order of drawing."""
    if placed.built.solids:
        b = placed.built.solids[0].shape.bounds
        return (b[axis] + b[axis + 3]) / 2
    return placed.built.shapes[0].ring[0][axis]


def _covered(derived: Derived, placed: Placed) -> bool:
    """Whether a deck or thwart lies over its middle: it is drawn with hidden lines then."""
    return derived.footing.over(_middle(placed, 0), _middle(placed, 1), placed.built.top_m)


def _css(placed: Placed) -> str:
    sized = bool(placed.built.solids)
    return f"item form-{placed.kind.key.replace(' ', '-')}" + ("" if sized else " dot")


def items_in_plan(canvas: Canvas, derived: Derived, chosen: Sequence[str]) -> None:
    """All items from above, the lower ones first; those under a deck with hidden lines."""
    for placed in sorted(drawn(derived, "items"), key=lambda t: _middle(t, 2)):
        css = _css(placed) + (" under" if _covered(derived, placed) else "")
        with thing(canvas, derived, placed.id, placed.title, chosen, css):
            picture(canvas, placed, in_view("plan"), key="plan")


def tanks_in_plan(canvas: Canvas, derived: Derived, chosen: Sequence[str]) -> None:
    """Tanks and buoyant volumes from above."""
    for placed in (*drawn(derived, "buoyancy"), *drawn(derived, "tanks")):
        with thing(canvas, derived, placed.id, placed.title, chosen, "item"):
            picture(canvas, placed, in_view("plan"), key="plan")


def items_from_side(canvas: Canvas, derived: Derived, chosen: Sequence[str]) -> None:
    """All items before the hull's side from the side, those to starboard nearest; chosen tanks, volumes."""
    for placed in sorted(drawn(derived, "items", "side"), key=lambda t: -_middle(t, 1)):
        if any(s.behind for s in placed.built.shapes):
            continue
        with thing(canvas, derived, placed.id, placed.title, chosen, _css(placed)):
            picture(canvas, placed, in_view("side"), key="side")
    for placed in (*drawn(derived, "buoyancy", "side"), *drawn(derived, "tanks", "side")):
        if placed.id in chosen:
            with thing(canvas, derived, placed.id, placed.title, chosen, "item"):
                picture(canvas, placed, in_view("side"), key="side")


def hung_from_side(canvas: Canvas, derived: Derived, chosen: Sequence[str]) -> None:
    """What hangs outside, from the side, behind everything else."""
    for placed in drawn(derived, "items", "side"):
        if any(s.behind for s in placed.built.shapes):
            with thing(canvas, derived, placed.id, placed.title, chosen, "item"):
                picture(canvas, placed, in_view("side", True), key="hung")


def from_far(canvas: Canvas, derived: Derived, behind: bool) -> None:
    """What is seen from far off: what hangs behind the hull, or the lines of what is built in."""
    for placed in derived.things:
        if "far" in placed.built.views:
            picture(canvas, placed, in_view("far", behind), key=("far", behind))


def items_across(canvas: Canvas, derived: Derived, chosen: Sequence[str], x: float) -> None:
    """What the section at x cuts of everything that stands in the boat, port to the left."""
    hidden = derived.plan.arrangement.hidden
    for placed in derived.things:
        body = next((s for s in placed.built.solids if s.role in ("body", "tank")), None)
        if body is None or placed.id in hidden:
            continue
        if body.shape.bounds[0] <= x <= body.shape.bounds[3]:
            with thing(canvas, derived, placed.id, placed.title, chosen, "item"):
                picture(canvas, placed, in_view("across"), key="across")


JOIN_M = 1e-4
NEAR_M = 0.03  # from a section an upright panel is seen


def walls_across(canvas: Canvas, derived: Derived, chosen: Sequence[str], x: float) -> None:
    """Upright panels that the section at x runs along, and what lies against the side there."""
    hidden = derived.plan.arrangement.hidden
    for placed in derived.things:
        walls = [s for s in placed.built.solids if s.role == "wall"]
        near = [w for w in walls if w.shape.bounds[0] - NEAR_M <= x <= w.shape.bounds[3] + NEAR_M]
        if not near or placed.id in hidden:
            continue
        with thing(canvas, derived, placed.id, placed.title, chosen, "item"):
            for panel in placed.built.panels:
                if panel.frame.along == ACROSS and abs(panel.frame.origin[0] - x) <= NEAR_M:
                    for ring in (panel.outline, *panel.holes):
                        places = (panel.frame.at(u, v) for u, v in ring)
                        canvas.path([(-y, z) for _, y, z in places], "form-wall")
            picture(canvas, placed, in_view("across"), key="across")


def built_in_across(canvas: Canvas, derived: Derived, chosen: Sequence[str], x: float) -> None:
    """What the section at x cuts of stringers, posts, foam and pods that are built in."""
    hidden = derived.plan.arrangement.hidden
    for placed in (t for t in derived.things if t.kind.group == "fittings"):
        solids = [s for s in placed.built.solids if s.role == "structure"]
        there = [s for s in solids if s.shape.bounds[0] <= x <= s.shape.bounds[3]]
        if not there or placed.id in hidden:
            continue
        with thing(canvas, derived, placed.id, placed.title, chosen, "item"):
            for ring in placed.built.kept.get(("joined", x), partial(_joined, there, x)):
                canvas.path(ring, "form-wall")


def _joined(solids: Sequence[Solid], x: float) -> list[list[Pair]]:
    """Outlines of what the section at x cuts of solids; pieces that lie against one another are one."""
    rings = [r for s in solids for piece in s.pieces or (s.shape,) for r in section_at(piece, x)]
    whole = unary_union([Polygon(r).buffer(JOIN_M, join_style="mitre") for r in rings])
    parts = (p for p in getattr(whole, "geoms", [whole]) if isinstance(p, Polygon))
    return [[(-y, z) for y, z in ring.coords[:-1]] for p in parts for ring in (p.exterior, *p.interiors)]


def floors_across(canvas: Canvas, derived: Derived, chosen: Sequence[str], x: float) -> None:
    """The skins that the section at x cuts."""
    hidden = derived.plan.arrangement.hidden
    for placed in derived.things:
        if not placed.built.floors or placed.id in hidden:
            continue
        css = "deck-side chosen" if placed.id in chosen else "deck-side"
        for low, high, z in placed.built.kept.get(("cut", x), partial(_cut_floors, placed, x)):
            thick = max(LEAST_PX / canvas.scale, SECTION_M)
            ring = [(-low, z), (-high, z), (-high, z - thick), (-low, z - thick)]
            canvas.path(ring, css, True, f' data-select="{escape(placed.id)}"')


def _cut_floors(placed: Placed, x: float) -> list[tuple[float, float, float]]:
    """From where to where across the section at x cuts the floors of a thing, and how high [m]; none of a
    body, which is drawn itself."""
    found = []
    for floor in placed.built.floors:
        if not floor.broad:
            continue
        hit = floor.region.intersection(LineString([(x, -FAR_M), (x, FAR_M)]))
        if not hit.is_empty:
            found.append((float(hit.bounds[1]), float(hit.bounds[3]), floor.top_at(x)))
    return found
