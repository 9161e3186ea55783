"""Items and tanks as they look: seats, consoles, batteries, boxes, in plan, profile and section."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from functools import partial
from html import escape

from stirrup.core.arrange.where import extent_of, footprint
from stirrup.core.derive import Derived
from stirrup.core.memo import Pairs
from stirrup.core.plan.model import Item, Tank
from stirrup.web.drawing.canvas import Canvas, Pair

HEAVY_KG = 4.0  # lighter things without a size are not drawn
TURNED = 20.0  # beyond this angle the side view shows the box only
LIDDED = ("cooler", "locker")
ACROSS = ("seat", "bench", "console", "screen", "battery", *LIDDED)  # have a shape in the section


def is_outboard(item: Item) -> bool:
    """Drawn as an outboard: said to be one, or a heavy motor behind the transom."""
    return item.form == "outboard" or (
        item.group == "motor" and item.size is None and item.mass.centre[0] < 0.05 and item.mass.value > 12
    )


def outboard(canvas: Canvas, x: float, z: float, css: str = "motor") -> None:
    """A plain outboard: cowl, leg, foot, propeller; (x, z) is its centre of mass."""
    cowl = [(-0.17, 0.02), (-0.19, 0.30), (-0.14, 0.38), (0.12, 0.36), (0.16, 0.28), (0.15, 0.02)]
    leg = [(-0.07, 0.02), (-0.07, -0.52), (0.07, -0.50), (0.09, 0.02)]
    foot = [(-0.18, -0.52), (-0.16, -0.60), (0.12, -0.62), (0.18, -0.56), (0.10, -0.50)]
    skeg = [(-0.04, -0.61), (-0.02, -0.74), (0.05, -0.62)]
    for shape in (leg, skeg, foot, cowl):
        canvas.path([(x + a, z + b) for a, b in shape], css)
    canvas.path([(x - 0.19, z - 0.49), (x - 0.21, z - 0.56), (x - 0.19, z - 0.63)], css, closed=False)


def drawn(derived: Derived) -> list[Item]:
    """Items that are there, shown, and large or heavy enough to see."""
    of = derived.plan.arrangement.of
    return [
        i
        for i in derived.plan.items
        if i.stage != "removed" and not of(i.id).hidden and (i.size or i.mass.value >= HEAVY_KG)
    ]


def drawn_tanks(derived: Derived) -> list[Tank]:
    """Tanks that are not hidden."""
    return [t for t in derived.plan.tanks if not derived.plan.arrangement.of(t.id).hidden]


@contextmanager
def thing(
    canvas: Canvas, derived: Derived, id_: str, title: str, chosen: Sequence[str], css: str = ""
) -> Iterator[None]:
    """Everything drawn inside is one thing that can be chosen and dragged."""
    css = f"thing {css}{' chosen' if id_ in chosen else ''}".replace("  ", " ")
    locked = ' data-locked="1"' if derived.plan.arrangement.of(id_).locked else ""
    canvas.parts.append(
        f'<g class="{css}" data-select="{escape(id_)}"{locked}><title>{escape(title)}</title>'
    )
    yield
    canvas.parts.append("</g>")


def _turned(item: Item) -> tuple[float, float]:
    return math.cos(math.radians(item.turn)), math.sin(math.radians(item.turn))


def _plan_shapes(item: Item) -> list[tuple[str, bool, list[Pair]]]:
    """Lines on a thing seen from above, in shares of its half length and half width."""
    if item.form in ("seat", "bench"):
        back = [(-0.98, -0.92), (-0.98, 0.92), (-0.72, 0.86), (-0.72, -0.86)]
        return [("form-back", True, back)]
    if item.form == "console":
        wheel = [(-1.05 + 0.42 * math.cos(a) - 0.1, 0.55 * math.sin(a)) for a in _circle(24)]
        return [("form-line", False, [(-0.1, -1.0), (-0.1, 1.0)]), ("form-wheel", True, wheel)]
    if item.form == "screen":
        # seen from above a pane curves round, its edge raked aft
        pane = [(1 - 2 * abs(k) ** 2.5, 0.96 * k) for k in (step / 8 for step in range(-8, 9))]
        return [("form-glass", False, pane), ("form-line", False, [(p - 0.5, 0.8 * q) for p, q in pane])]
    if item.form == "battery":
        posts = [
            [(x + 0.12 * math.cos(a), -0.45 + 0.2 * math.sin(a)) for a in _circle(10)] for x in (-0.6, 0.6)
        ]
        return [("form-post", True, p) for p in posts]
    if item.form in LIDDED:
        return [("form-line", True, [(-0.86, -0.86), (0.86, -0.86), (0.86, 0.86), (-0.86, 0.86)]),
                ("form-hinge", False, [(0.96, -0.8), (0.96, 0.8)])]  # fmt: skip
    return []


def _circle(count: int) -> list[float]:
    return [2 * math.pi * k / count for k in range(count)]


Frame = tuple[Pair, float]  # where the origin is drawn, and pixels for each metre


# what was drawn of an item in a frame; a drag leaves most items the objects they are
IN_PLAN, FROM_SIDE = Pairs(), Pairs()
FRAMES: dict[Frame, Frame] = {}
MOST_FRAMES = 200


def _frame(canvas: Canvas) -> Frame:
    """The canvas's frame, always the same object for the same frame."""
    if len(FRAMES) > MOST_FRAMES:
        FRAMES.clear()
    frame = (canvas.origin, canvas.scale)
    return FRAMES.setdefault(frame, frame)


def _sheet(frame: Frame) -> Canvas:
    """A canvas to draw one thing on for keeping."""
    return Canvas(0, 0, frame[0], frame[1], "part", "")


def _shape_in_plan(item: Item, frame: Frame) -> str:
    canvas = _sheet(frame)
    ring = footprint(item)
    x, y, _ = item.mass.centre
    if not ring:
        u, v = canvas.at(x, y)
        return f'<rect x="{u - 4:.1f}" y="{v - 4:.1f}" width="8" height="8" rx="1.5"/>'
    canvas.path(ring, "form-body")
    assert item.size is not None
    a, b = item.size[0] / 2, item.size[1] / 2
    c, s = _turned(item)
    for css, closed, points in _plan_shapes(item):
        canvas.path(
            [(x + c * a * p - s * b * q, y + s * a * p + c * b * q) for p, q in points], css, closed
        )
    return "".join(canvas.parts)


def _covered(derived: Derived, item: Item) -> bool:
    """Whether a deck or thwart lies over its middle: it is drawn with hidden lines then."""
    x, y, z = item.mass.centre
    top = z + (item.size[2] / 2 if item.size else 0.0)
    ground = derived.footing.at(x, y)
    return ground is not None and ground.height_m > top


def items_in_plan(canvas: Canvas, derived: Derived, chosen: Sequence[str]) -> None:
    """All items from above, the lower ones first; those under a deck with hidden lines."""
    frame = _frame(canvas)
    for item in sorted(drawn(derived), key=lambda i: i.mass.centre[2]):
        css = f"item form-{item.form.replace(' ', '-')}" + ("" if item.size else " dot")
        css += " under" if _covered(derived, item) else ""
        with thing(canvas, derived, item.id, item.title, chosen, css):
            canvas.parts.append(IN_PLAN.get(item, frame, partial(_shape_in_plan, item, frame)))


def tanks_in_plan(canvas: Canvas, derived: Derived, chosen: Sequence[str]) -> None:
    """Tanks from above."""
    for tank in drawn_tanks(derived):
        e = extent_of(derived.plan, derived.surface, tank.id)
        with thing(canvas, derived, tank.id, tank.title, chosen, "item"):
            canvas.path([(e.x[0], e.y[0]), (e.x[1], e.y[0]), (e.x[1], e.y[1]), (e.x[0], e.y[1])], "tank")


def _side_shapes(item: Item) -> list[tuple[str, bool, list[Pair]]]:
    """Outline and lines from the side, in shares: x from -1 aft to 1 fore, z from 0 to 1."""
    if item.form == "seat":
        return [
            ("form-line", False, [(0.0, 0.0), (0.0, 0.48)]),
            ("form-line", False, [(-0.5, 0.0), (0.5, 0.0)]),
            (
                "form-body",
                True,
                [(-0.95, 0.48), (0.95, 0.48), (0.95, 0.58), (-0.7, 0.60), (-0.8, 1.0), (-1.0, 1.0)],
            ),
        ]
    if item.form == "bench":
        return [("form-body", True, _BOX), ("form-line", False, [(-1, 0.84), (1, 0.84)])]
    if item.form == "console":
        face = [(-1, 0), (1, 0), (1, 0.92), (0.35, 1.0), (-0.05, 0.98), (-1, 0.72)]
        wheel = [(-1.0, 0.70), (-0.55, 0.92)]
        return [("form-body", True, face), ("form-wheel", False, wheel)]
    if item.form == "screen":
        # the pane raked aft, with a side to it, in a frame on the console
        side = [(1.0, 0.06), (-0.55, 1.0), (-2.2, 1.0), (-2.6, 0.06)]
        return [("form-glass", True, side), ("form-pane", False, [(1.0, 0.0), (-0.55, 1.0)]),
                ("form-line", False, [(1.15, 0.03), (-2.7, 0.03)])]  # fmt: skip
    if item.form == "battery":
        post = [(-0.62, 1.0), (-0.62, 1.12), (-0.38, 1.12), (-0.38, 1.0)]
        return [("form-body", True, _BOX), ("form-post", True, post),
                ("form-post", True, [(-x, z) for x, z in post])]  # fmt: skip
    if item.form in LIDDED:
        return [("form-body", True, _BOX), ("form-line", False, [(-1, 0.82), (1, 0.82)])]
    return [("form-body", True, _BOX)]


_BOX: list[Pair] = [(-1, 0), (1, 0), (1, 1), (-1, 1)]


def _shape_from_side(item: Item, frame: Frame) -> str:
    canvas = _sheet(frame)
    if item.size is None:
        canvas.circle((item.mass.centre[0], item.mass.centre[2]), 3.5, "item-dot")
        return "".join(canvas.parts)
    ring = [p[0] for p in footprint(item)]
    low, tall = item.mass.centre[2] - item.size[2] / 2, item.size[2]
    x, half = (min(ring) + max(ring)) / 2, (max(ring) - min(ring)) / 2
    turned = abs(math.remainder(item.turn, 360.0))
    flip = -1.0 if turned > 180 - TURNED else 1.0
    along = turned < TURNED or flip < 0
    for css, closed, points in _side_shapes(item) if along else [("form-body", True, _BOX)]:
        canvas.path([(x + flip * half * p, low + tall * q) for p, q in points], css, closed)
    return "".join(canvas.parts)


def items_from_side(canvas: Canvas, derived: Derived, chosen: Sequence[str]) -> None:
    """All items but outboards from the side, those to starboard nearest."""
    frame = _frame(canvas)
    for item in sorted(drawn(derived), key=lambda i: -i.mass.centre[1]):
        if is_outboard(item):
            continue
        css = f"item form-{item.form.replace(' ', '-')}" + ("" if item.size else " dot")
        with thing(canvas, derived, item.id, item.title, chosen, css):
            canvas.parts.append(FROM_SIDE.get(item, frame, partial(_shape_from_side, item, frame)))
    for tank in drawn_tanks(derived):
        if tank.id in chosen:
            e = extent_of(derived.plan, derived.surface, tank.id)
            with thing(canvas, derived, tank.id, tank.title, chosen, "item"):
                canvas.path(
                    [(e.x[0], e.z[0]), (e.x[1], e.z[0]), (e.x[1], e.z[1]), (e.x[0], e.z[1])], "tank"
                )


def motors_from_side(canvas: Canvas, derived: Derived, chosen: Sequence[str]) -> None:
    """Outboards from the side; they hang behind everything else."""
    for item in drawn(derived):
        if is_outboard(item):
            with thing(canvas, derived, item.id, item.title, chosen, "item"):
                outboard(canvas, item.mass.centre[0], item.mass.centre[2])


def _across_shapes(item: Item) -> list[tuple[str, bool, list[Pair]]]:
    """What a section through a thing shows, in shares: from -1 port to 1 starboard, z from 0 to 1."""
    if item.form == "seat":
        return [
            ("form-line", False, [(-0.45, 0.01), (0.45, 0.01)]),
            ("form-body", True, [(-0.10, 0.0), (0.10, 0.0), (0.10, 0.48), (-0.10, 0.48)]),
            ("form-body", True, [(-0.86, 0.60), (0.86, 0.60), (0.80, 1.0), (-0.80, 1.0)]),
            ("form-body", True, [(-1.0, 0.48), (1.0, 0.48), (1.0, 0.60), (-1.0, 0.60)]),
        ]
    if item.form == "console":
        wheel = [(0.34 * math.cos(a), 0.70 + 0.22 * math.sin(a)) for a in _circle(20)]
        body = [(-1, 0), (1, 0), (0.94, 1.0), (-0.94, 1.0)]
        return [("form-body", True, body), ("form-wheel", True, wheel)]
    if item.form == "screen":
        return [("form-glass", True, [(-1, 0.0), (1, 0.0), (0.9, 1.0), (-0.9, 1.0)])]
    return [(css, closed, points) for css, closed, points in _side_shapes(item)]


def items_across(canvas: Canvas, derived: Derived, chosen: Sequence[str], x: float) -> None:
    """What the section at x cuts: boxes of items and tanks, port to the left."""
    of = derived.plan.arrangement.of
    by_id = {i.id: i for i in derived.plan.items}
    for solid in derived.fit.solids:
        x0, y0, z0, x1, y1, z1 = solid.shape.bounds
        if solid.kind not in ("item", "tank") or not x0 <= x <= x1 or of(solid.id).hidden:
            continue
        with thing(canvas, derived, solid.id, solid.name, chosen, "item"):
            if solid.kind == "tank" or by_id[solid.id].form not in ACROSS:
                css = "tank" if solid.kind == "tank" else "form-body"
                canvas.path([(-y0, z0), (-y1, z0), (-y1, z1), (-y0, z1)], css)
                continue
            middle, half = -(y0 + y1) / 2, (y1 - y0) / 2
            for css, closed, points in _across_shapes(by_id[solid.id]):
                canvas.path([(middle + half * p, z0 + (z1 - z0) * q) for p, q in points], css, closed)
