"""Bearers: upright sheets across the boat, cut to the inside of the bottom, with limber holes."""

from __future__ import annotations

import math

from shapely.geometry import Polygon, box

from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.fittings.edges import largest
from stirrup.core.hull.slices import region, section
from stirrup.core.kinds.floor.laid_out import Bearer, LaidOut, bays
from stirrup.core.parts.model import Frame, Panel, panel_rings

BED_M = 0.003  # between a bearer and the bottom, for its bed of adhesive: working value
ROUND_M = 0.003  # between a bearer and structure that it is cut out round
Bounds = tuple[float, float, float, float]
LEAST_M2 = 5e-4  # a smaller piece is none
SCRIBE_M = 0.0002
STRIP_M = 0.10  # width of the strip under a joint: working value
LEAST_STRIP_M = 0.03
LOW_M = 0.005  # how much higher than its lowest point still counts as the bottom of a bearer


def _room(floor: LaidOut, bearer: Bearer) -> Polygon:
    """What a bearer may fill across the boat, in (y, z): inside the hull over its whole thickness."""
    surface, half = floor.site.surface, floor.bearer.thickness / 2

    def at(x: float) -> Polygon:
        return largest(region(section(surface.inside, x), 0).buffer(-BED_M, join_style="mitre"))

    def find() -> Polygon:
        aft, middle, fore = (at(bearer.x + by) for by in (-half, 0.0, half))
        return largest(aft.intersection(middle).intersection(fore))

    return surface.levels.get(("bearer", bearer.x, half), find)


def _stands_at(thing: Obstacle, x: float, half: float) -> bool:
    x0, _, x1, _ = thing.footprint.bounds
    return bool(x0 < x + half and x1 > x - half)


def _cut_round(floor: LaidOut, bearer: Bearer, shape: Polygon) -> Polygon:
    """Less the stringers and ribs that stand there: it is notched over them."""
    half, left = floor.bearer.thickness / 2, shape
    for thing in floor.site.obstacles:
        low, high = thing.over(bearer.x)
        if low < floor.under and thing.kind != "lip" and _stands_at(thing, bearer.x, half):
            _, y0, _, y1 = thing.beside(bearer.x - half, bearer.x + half)
            high = min(high, floor.under) + ROUND_M
            left = left.difference(box(y0 - ROUND_M, -20, y1 + ROUND_M, high))
    return largest(left)


def _limbered(floor: LaidOut, shape: Polygon) -> Polygon:
    """With a limber hole at the middle of its lowest stretch, half as high as it is wide."""
    wide = floor.choices.limber
    if wide <= 0 or shape.is_empty:
        return shape
    low = shape.bounds[1]
    bottom = shape.intersection(box(-20, low - 1, 20, low + LOW_M)).bounds
    y = (bottom[0] + bottom[2]) / 2
    hole = box(y - wide / 2, low - 1, y + wide / 2, low + wide / 2)
    left = shape.difference(hole)
    pieces = [g for g in getattr(left, "geoms", [left]) if isinstance(g, Polygon)]
    return left if len(pieces) == 1 else shape  # so low a bearer would fall in two: none in it


def bearer_panels(floor: LaidOut) -> list[Panel]:
    """All bearers, each in one piece or in those that openings leave of it."""
    c, out = floor.choices, []
    turns = (0, 180)
    for bearer in floor.bearers:
        room = _room(floor, bearer).intersection(box(-20, -20, 20, floor.under))
        room = _cut_round(floor, bearer, largest(room))
        pieces = []
        for low, high in bearer.between:
            y0 = -20.0 if low is None else low + floor.angle.b / 2
            y1 = 20.0 if high is None else high - floor.angle.b / 2
            shape = largest(room.intersection(box(y0, -20, y1, 20)))
            shape = largest(_limbered(floor, shape).simplify(SCRIBE_M))
            if shape.area > LEAST_M2:
                pieces.append(shape)
        for k, shape in enumerate(reversed(pieces), start=1):
            key = f"{bearer.key}.{k}" if len(pieces) > 1 else bearer.key
            outline, holes = panel_rings(shape)
            frame = Frame((bearer.x, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
            out.append(Panel(f"{c.id}/bearer/{key}", f"{c.code}-{key}", f"{c.name}, bearer {key}", c.id,
                             floor.bearer, outline, holes, frame, turns, role="bearer"))  # fmt: skip
    return out


def doubler_panels(floor: LaidOut) -> list[Panel]:
    """Strips under the joints of the skin along the boat, one in each bay that is not open there."""
    c, half, t = floor.choices, floor.bearer.thickness / 2, floor.bearer.thickness
    out: list[Panel] = []
    for y in sorted(floor.parted.along, reverse=True):
        for aft, fore in bays(floor.bearers):
            x0, x1 = aft.x + half, fore.x - half
            strip = box(x0, y - STRIP_M / 2, x1, y + STRIP_M / 2)
            inside = floor.outline.contains(strip)
            if x1 - x0 < LEAST_STRIP_M or not inside or _open_there(floor, strip):
                continue
            number = len(out) + 1
            frame = Frame(((x0 + x1) / 2, y, floor.under - t / 2))
            a, b = (x1 - x0) / 2, STRIP_M / 2
            ring = ((-a, -b), (a, -b), (a, b), (-a, b))
            out.append(Panel(f"{c.id}/strip/{number}", f"{c.code}-N{number}", f"{c.name}, strip {number}",
                             c.id, floor.bearer, ring, (), frame, (0, 180), role="strip"))  # fmt: skip
    return out


def _open_there(floor: LaidOut, strip: Polygon) -> bool:
    return any(_apart_m(o.frame, strip.bounds) <= floor.angle.b / 2 for o in floor.site.openings)


def _apart_m(a: Bounds, b: Bounds) -> float:
    """How far two boxes in plan (x0, y0, x1, y1) stand apart [m]; 0 where they meet."""
    beside, ahead = (max(a[k] - b[k + 2], b[k] - a[k + 2], 0.0) for k in (0, 1))
    return math.hypot(beside, ahead)
