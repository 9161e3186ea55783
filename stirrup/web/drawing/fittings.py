"""Fittings as they are drawn in plan and profile, and the edges of them that can be dragged."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import partial
from html import escape

from stirrup.core.arrange.move import title_of
from stirrup.core.arrange.size import edges_of
from stirrup.core.arrange.where import extent_of
from stirrup.core.derive import Derived
from stirrup.core.fittings.contract import Built, Handle
from stirrup.core.units import Units, write_length
from stirrup.web.drawing.canvas import Canvas

Axes = tuple[int, int]
ORDER = {"face": 0, "deck": 1, "opening": 2, "lid": 3, "latch": 4, "hinge": 5}


def slider(label: str, value: float, reach: tuple[float, float], words: str) -> str:
    """What makes a grip a slider for those who do not see it: label, value and limits in the shop's
    words; reach: least and greatest value [m]."""
    low, high = min(reach[0], value), max(reach[1], value)
    return (
        f'tabindex="0" role="slider" aria-label="{escape(label)}" aria-valuemin="{low:.3f}" '
        f'aria-valuemax="{high:.3f}" aria-valuenow="{value:.4f}" aria-valuetext="{escape(words)}"'
    )


def reach_m(derived: Derived, axis: str) -> tuple[float, float]:
    """From where to where the boat goes along an axis [m]: how far a grip can sensibly be dragged."""
    k = "xyz".index(axis)
    return float(derived.surface.outside.low[k]), float(derived.surface.outside.high[k])


def handle_svg(canvas: Canvas, derived: Derived, built: Built, handle: Handle, axes: Axes,
               units: Units) -> None:  # fmt: skip
    """An edge that can be dragged with the pointer or moved with the arrow keys."""
    _handle(canvas, derived, f"fittings/{built.fitting}", handle, axes, units)


def _handle(canvas: Canvas, derived: Derived, path: str, handle: Handle, axes: Axes, units: Units,
            css: str = "") -> None:  # fmt: skip
    a, b = (canvas.at(p[axes[0]], p[axes[1]]) for p in handle.line)
    value = handle.line[0]["xyz".index(handle.axis)]
    sign = {"x": 1, "y": -1 if axes[1] == 1 else 1, "z": -1}[handle.axis]
    direction = "x" if axes[0] == "xyz".index(handle.axis) else "y"
    thing = title_of(derived.plan, path.split("/")[1])
    reach = reach_m(derived, handle.axis)
    least, most = (write_length(v, units) for v in reach)
    words = f"{write_length(value, units)}, between {least} and {most}"
    xy = f'x1="{a[0]:.1f}" y1="{a[1]:.1f}" x2="{b[0]:.1f}" y2="{b[1]:.1f}"'
    canvas.parts.append(
        f'<g class="handle handle-{direction}{css}" '
        f"{slider(f'{thing}, {handle.label}', value, reach, words)} "
        f'data-path="{escape(path)}/{handle.field}" '
        f'data-direction="{direction}" data-sign="{sign}" data-value="{value:.5f}">'
        f'<line class="grab" {xy}/><line class="edge" {xy}/></g>'
    )


_ALONG = {"x": ("aft", "fore"), "y": ("port", "starboard"), "z": ("top", "bottom")}
ROOM_PX = 34.0  # between two edges of a thing, so that its body can still be taken hold of
ROOM_EM = 5.5  # the same for fingers, of the type where words are large: on a telephone


def size_handles(canvas: Canvas, derived: Derived, id_: str, axes: Axes, units: Units) -> None:
    """Edges of a hatch, item or tank that can be drawn in this view, where there is room for them."""
    edges = edges_of(derived.plan, id_)
    if not edges:
        return
    e = extent_of(derived.plan, derived.surface, id_)
    ranges = (e.x, e.y, e.z)
    for here, other in (axes, axes[::-1]):
        room = ROOM_EM * canvas.type if canvas.crowded else ROOM_PX
        if (ranges[here][1] - ranges[here][0]) * canvas.scale < room:
            continue
        for edge in _ALONG["xyz"[here]]:
            if edge not in edges:
                continue
            ends = [[0.0, 0.0, 0.0], [0.0, 0.0, 0.0]]
            for end, value in zip(ends, ranges[other], strict=True):
                end[here], end[other] = e.edge(edge), value
            line = tuple((p[0], p[1], p[2]) for p in ends)
            group = "fittings" if derived.plan.fitting(id_) is not None else "items"
            handle = Handle(f"edge/{edge}", "xyz"[here], line, f"{edge} edge")  # type: ignore[arg-type]
            _handle(canvas, derived, f"{group}/{id_}", handle, axes, units, " slim")


def shapes(
    canvas: Canvas, derived: Derived, built: Iterable[Built], axes: Axes, chosen: Sequence[str]
) -> None:
    """Everything that fittings show in a view; kept with what they make while that stays."""
    of = derived.plan.arrangement.of
    for fitting in built:
        setting = of(fitting.fitting)
        if setting.hidden:
            continue
        lit = fitting.fitting in chosen
        key = ("drawn", axes, canvas.origin, canvas.scale, lit, setting.locked)
        draw = partial(_drawn, canvas, fitting, axes, lit, setting.locked)
        canvas.parts.append(fitting.kept.get(key, draw))


def _drawn(like: Canvas, fitting: Built, axes: Axes, lit: bool, locked: bool) -> str:
    canvas = Canvas(like.width, like.height, like.origin, like.scale, like.kind, like.title)
    css = " chosen" if lit else ""
    extra = f' data-select="{escape(fitting.fitting)}"' + (' data-locked="1"' if locked else "")
    for shape in sorted(fitting.shapes, key=lambda s: ORDER.get(s.role, 9)):
        ring = [(p[axes[0]], p[axes[1]]) for p in shape.ring]
        hatch = f" hatch-{shape.hatching}" if shape.hatching else ""
        if axes == (0, 1) and shape.role != "face":
            canvas.path(ring, f"{shape.role}{hatch}{css}", shape.role != "hinge", extra)
        elif axes == (0, 2) and shape.role == "deck":
            low, high = min(r[0] for r in ring), max(r[0] for r in ring)
            z = ring[0][1]
            thick = max(4 / canvas.scale, 0.02)
            slab = [(low, z), (high, z), (high, z - thick), (low, z - thick)]
            canvas.path(slab, f"deck-side{css}", True, extra)
        elif axes == (0, 2) and shape.role == "face":
            heights = [r[1] for r in ring]
            foot, head = (ring[0][0], min(heights)), (ring[0][0], max(heights))
            canvas.line(foot, head, f"face-side{css}", extra)
    return "".join(canvas.parts)
