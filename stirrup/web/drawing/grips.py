"""Edges of things that can be dragged, drawn as grips."""

from __future__ import annotations

from html import escape

from stirrup.core.arrange.size import edges_of
from stirrup.core.contract.gives import Built, Handle
from stirrup.core.derive import Derived
from stirrup.core.plan.things import path_of, title_of
from stirrup.core.plan.where import extent_of
from stirrup.core.units import Units, write_length
from stirrup.web.drawing.canvas import Canvas

Axes = tuple[int, int]


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
            handle = Handle(f"edge/{edge}", "xyz"[here], line, f"{edge} edge")  # type: ignore[arg-type]
            _handle(canvas, derived, "/".join(path_of(derived.plan, id_)), handle, axes, units, " slim")
