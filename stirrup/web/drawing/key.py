"""Where a part goes: the boat's outline from the side and from above, with the part filled in."""

from __future__ import annotations

from shapely import MultiPoint, Polygon

from stirrup.core.hull.mesh import HullSurface
from stirrup.core.parts.model import Member, Panel
from stirrup.web.drawing.boat import plan_ring, profile_ring
from stirrup.web.drawing.canvas import Canvas, Pair

WIDTH, EDGE, GAP = 300.0, 4.0, 10.0
LEAST_PX = 2.5  # of what stands on edge


def key_view(surface: HullSurface, part: Panel | Member) -> str:
    """The boat from the side above the boat from above, bow to the right."""
    side, above = profile_ring(surface), plan_ring(surface)
    low, high = (f(x for x, _ in (*side, *above)) for f in (min, max))
    scale = (WIDTH - 2 * EDGE) / (high - low)
    tall = (max(z for _, z in side) - min(z for _, z in side)) * scale
    deep = (max(y for _, y in above) - min(y for _, y in above)) * scale
    title = f"Where {part.label} goes: from the side, and from above; bow to the right"
    canvas = Canvas(WIDTH, tall + deep + GAP + 2 * EDGE, (0.0, 0.0), scale, "key", title)
    left = EDGE - low * scale
    for ring, axis, base in (
        (side, 2, EDGE + max(z for _, z in side) * scale),
        (above, 1, EDGE + tall + GAP + max(y for _, y in above) * scale),
    ):
        canvas.origin = (left, base)
        canvas.path(ring, "key-boat")
        for shape in _shapes(part, axis):
            canvas.path(_seen(shape, LEAST_PX / scale), "key-part")
    return canvas.svg()


def _shapes(part: Panel | Member, axis: int) -> list[list[Pair]]:
    """What is seen of a part along an axis: its faces, or the bodies it fills."""
    if isinstance(part, Panel):
        solid = [[f.frame.at(u, v) for u, v in f.outline] for f in part.faces]
    else:
        solid = [list(body) for body in part.fills or (part.path,)]
    return [[(p[0], p[axis]) for p in points] for points in solid]


def _seen(points: list[Pair], least_m: float) -> list[Pair]:
    """Its outline, never thinner than can be seen."""
    shape = Polygon(points).buffer(0) if len(points) > 3 else MultiPoint(points).convex_hull
    if shape.is_empty or shape.area < least_m**2:
        shape = MultiPoint(points).convex_hull
    grown = shape if shape.geom_type == "Polygon" else shape.convex_hull
    return [(float(x), float(y)) for x, y in grown.buffer(least_m / 2).exterior.coords]
