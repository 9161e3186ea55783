"""Bearers: upright sheets across the boat, cut to the inside of the bottom, with limber holes."""

from __future__ import annotations

import math

from shapely import box
from shapely.geometry import Polygon

from stirrup.core.fittings.edges import largest
from stirrup.core.fittings.scribed import across, limbered, notched
from stirrup.core.kinds.floor.laid_out import LaidOut, bays
from stirrup.core.parts.model import Frame, Panel, panel_rings

Bounds = tuple[float, float, float, float]
LEAST_M2 = 5e-4  # a smaller piece is none
SCRIBE_M = 0.0002
STRIP_M = 0.10  # width of the strip under a joint: working value
LEAST_STRIP_M = 0.03


def bearer_panels(floor: LaidOut) -> list[Panel]:
    """All bearers, each in one piece or in those that openings leave of it."""
    c, out = floor.choices, []
    turns = (0, 180)
    for bearer in floor.bearers:
        half = floor.bearer.thickness / 2
        whole = across(floor.site.surface, bearer.x, half)
        room = largest(whole.intersection(box(-20, -20, 20, floor.under)))
        room = notched(room, floor.site.obstacles, bearer.x, half, floor.under)
        pieces = []
        for low, high in bearer.between:
            y0 = -20.0 if low is None else low + floor.angle.b / 2
            y1 = 20.0 if high is None else high - floor.angle.b / 2
            shape = largest(room.intersection(box(y0, -20, y1, 20)))
            shape = largest(limbered(shape, c.limber).simplify(SCRIBE_M))
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
