"""A door in an upright wall: a hole with a rim, and a panel that laps it, hinged on one side."""

from __future__ import annotations

import math
from typing import Literal

from shapely.geometry import Polygon

from stirrup.core.document import Point, Point2
from stirrup.core.findings import Finding
from stirrup.core.fittings.crate import HINGE_SHORTER_M, Crate, Wall, rectangle
from stirrup.core.fittings.joints import Joint, held, leaf_style
from stirrup.core.parts.catalogue import count_at_pitch
from stirrup.core.parts.model import Bought, Frame, Panel, Ring
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Prism

RIM_M = 0.05  # of wall left round a door: room for the corner posts; working value
LAP_M = 0.015  # of the door over its hole, each side; working value
OPEN_STEPS = 6  # of a quarter turn

Doors = Literal["none", "aft", "fore", "port", "starboard"]
OUT: dict[Wall, Point2] = {"aft": (-1.0, 0.0), "fore": (1.0, 0.0), "port": (0.0, 1.0),
                           "starboard": (0.0, -1.0)}  # fmt: skip


@dataclass(frozen=True)
class Door:
    """A door in a crate's wall: the wall, clear opening along the wall and up, its middle up [m]."""

    wall: Wall
    clear: tuple[float, float]
    panel: Panel
    bought: tuple[Bought, ...]
    findings: tuple[Finding, ...]
    swing: Prism


def opening(b: Crate, wall: Wall) -> tuple[float, float]:
    """Clear opening of a door in a wall, along it and up [m]: less a rim all round."""
    long = b.broad if wall in b.walls[:2] else b.deep - 2 * b.t
    return max(long - 2 * RIM_M, 0.0), max(b.wall - 2 * RIM_M, 0.0)


def hole(b: Crate, wall: Wall) -> Ring:
    """The hole in the wall's own axes, about its middle."""
    return rectangle(*opening(b, wall))


def door(b: Crate, wall: Wall) -> Door:
    """The door of a wall: panel outside on it, hinge on one upright side, and what it sweeps."""
    c, (long, high) = b.c, opening(b, wall)
    out, t = OUT[wall], b.t
    reach = (b.size[0] if out[0] else b.size[1]) / 2 + t / 2
    middle: Point = (b.at[0] + out[0] * reach, b.at[1] + out[1] * reach, b.foot + b.wall / 2)
    along: Point = (0.0, 1.0, 0.0) if out[0] else (1.0, 0.0, 0.0)
    size = (long + 2 * LAP_M, high + 2 * LAP_M)
    turns = (0, 90, 180, 270) if b.metal else (0, 180)
    panel = Panel(f"{c.id}/door", f"{c.code}-D", f"{c.name}, door", c.id, b.sheet, rectangle(*size), (),
                  Frame(middle, along, (0.0, 0.0, 1.0)), turns)  # fmt: skip
    bought, findings = _hung(b, middle, size)
    return Door(wall, (long, high), panel, tuple(bought), tuple(findings), _swing(b, out, middle, size))


def _hung(b: Crate, at: Point, size: Point2) -> tuple[list[Bought], list[Finding]]:
    """Its hinge, its latch and the gasket on its lap."""
    c, hinge = b.c, b.catalogue.plain("hinge-piano")
    run = size[1] - HINGE_SHORTER_M
    gasket, around = b.catalogue.plain("gasket-12"), 2 * (size[0] + size[1])
    catch = b.catalogue.plain("hook-eye")
    out = [
        Bought(f"{c.id}/door-hinge", f"{c.code}-DH", f"{c.name}, hinge of the door", c.id, hinge, run,
               run * hinge.mass, at),
        Bought(f"{c.id}/door-gasket", f"{c.code}-DZ", f"{c.name}, gasket of the door", c.id, gasket, around,
               around * gasket.mass, at),
        Bought(f"{c.id}/door-catch", f"{c.code}-DK", f"{c.name}, catch of the door", c.id, catch, 1,
               catch.mass, at),
    ]  # fmt: skip
    layers, count = (("sheet", b.t), ("hinge", hinge.thickness)), 2 * count_at_pitch(run, hinge.pitch)
    joint = Joint("door", "Hinge to door and wall", at, leaf_style(b.sheet), layers, count)
    parts, finding = held(c, joint, b.catalogue)
    return [*out, *parts], [finding]


def _swing(b: Crate, out: Point2, at: Point, size: Point2) -> Prism:
    """What a door sweeps, a quarter turn about its starboard or aft edge."""
    along = (0.0, 1.0) if out[0] else (1.0, 0.0)
    clear = b.t / 2 + 0.001  # it lies on its wall
    x, y = at[0] - along[0] * size[0] / 2, at[1] - along[1] * size[0] / 2
    foot = (x + out[0] * clear, y + out[1] * clear)
    return swung(foot, along, out, size[0], (at[2] - size[1] / 2, at[2] + size[1] / 2))


def swung(hinge: Point2, along: Point2, out: Point2, wide: float, heights: Point2) -> Prism:
    """What a door sweeps in a quarter turn about an upright hinge: from the way it lies in to the way out,
    unit vectors in plan."""
    step = math.pi / 2 / OPEN_STEPS
    outside = wide / math.cos(step / 2)  # the corners stand outside of the arc
    steps = [(0.0, wide), *(((k + 0.5) * step, outside) for k in range(OPEN_STEPS)), (math.pi / 2, wide)]
    arc = [
        (hinge[0] + r * (along[0] * math.cos(a) + out[0] * math.sin(a)),
         hinge[1] + r * (along[1] * math.cos(a) + out[1] * math.sin(a)))
        for a, r in steps
    ]  # fmt: skip
    return Prism(Polygon([hinge, *arc]), *heights)
