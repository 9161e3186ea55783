"""What holds a heavy box where it stands: angles round it, what fastens them, and how it looks."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial
from typing import Any, Literal

from shapely import affinity, box
from shapely.geometry import Polygon

from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.gives import Shape
from stirrup.core.document import Point, Point2
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare
from stirrup.core.fittings.angles import angle_bodies
from stirrup.core.parts.entries import Section
from stirrup.core.parts.model import Bought, Member
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Prism

declare("layout", {"HOLD-DOWN": "what holds a battery or a tank"}, acceptable=True)

UP: Point = (0.0, 0.0, 1.0)
G = 9.81
TIMES = 2.0  # of its weight, sideways, that it has to be held against
SCREW_N = 500.0  # sideways, of a screw of 4.2 mm in 2.5 mm of sheet or 12 mm of wood: working value


@dataclass(frozen=True)
class Foot:
    """Where what is held stands: its middle and foot, size, turn, and what it weighs."""

    at: Point
    size: tuple[float, float, float]
    turn: float
    mass: float

    def place(self, u: float, v: float) -> Point2:
        """A place given along and across it, in plan."""
        a = math.radians(self.turn)
        x, y, _ = self.at
        return (x + u * math.cos(a) - v * math.sin(a), y + u * math.sin(a) + v * math.cos(a))

    def way(self, u: float, v: float) -> Point:
        """A level direction given along and across it, on the boat's axes."""
        a = math.radians(self.turn)
        return (u * math.cos(a) - v * math.sin(a), u * math.sin(a) + v * math.cos(a), 0.0)

    def turned(self, shape: Polygon) -> Polygon:
        """A shape given along and across it, in plan."""
        x, y, _ = self.at
        return affinity.translate(affinity.rotate(shape, self.turn, origin=(0, 0)), x, y)


def fence(c: FittingBase, foot: Foot, source: Section, play: float) -> tuple[list[Member], list[Prism]]:
    """Four angles, legs up against what they hold but for some play [m], flanges out on the floor: the two
    long ones from corner to corner, the other two between them; and what they fill."""
    a, b = foot.size[0] / 2 + play, foot.size[1] / 2 + play
    t, wide, low = source.t, source.b, foot.at[2]
    members, bodies = [], []
    for k, (long, sign) in enumerate(((True, 1), (True, -1), (False, 1), (False, -1)), 1):
        half = a + wide if long else b
        ends = [foot.place(s * half, sign * b) if long else foot.place(sign * a, s * half) for s in (-1, 1)]
        aft, fore = ((*p, low + source.a / 2) for p in ends)
        out = foot.way(0.0, sign) if long else foot.way(sign, 0.0)
        heel = ((*ends[0], low), (*ends[1], low))
        members.append(
            Member(f"{c.id}/angle/{k}", f"{c.code}-V{k}", f"{c.name}, angle {k}", c.id, source, 2 * half,
                   (aft, fore), late_bodies=partial(angle_bodies, source, heel, UP, out), role="frame")
        )  # fmt: skip
        near, far = (b, b + wide) if long else (a, a + wide)
        for deep, high in ((t, source.a), (far - near, t)):
            flat = box(-half, near, half, near + deep) if long else box(near, -half, near + deep, half)
            flat = flat if sign > 0 else affinity.scale(flat, -1, -1, origin=(0, 0))
            bodies.append(Prism(foot.turned(flat), low, low + high))
    return members, bodies


@dataclass(frozen=True)
class Fastened:
    """What keeps one side of it: how many, called what, and what each holds sideways [N]; pitch: of screws
    that may stand closer [m], None for what comes in a number of its own."""

    count: int
    what: str
    each: float
    pitch: float | None = None


def holds(c: FittingBase, foot: Foot, by: Fastened, what: str) -> Finding:
    """Whether the fasteners of one side hold twice its weight; what: is held.

    Source: docs/trade-rules.md, “Batteries”.
    """
    need, have = TIMES * foot.mass * G, by.count * by.each
    values = {
        "need": Quantity(need, "N"),
        "have": Quantity(have, "N"),
        "count": Quantity(by.count, "count"),
    }
    work = Working(
        "need = 2 x weight, sideways; have = fasteners of one side x what each holds",
        (Input(what, Quantity(foot.mass, "kg")), Input("fasteners", Quantity(by.count, "count")),
         Input("each", Quantity(by.each, "N"), "working value")),
        Quantity(have, "N"), "rules of the trade, “Batteries”",
    )  # fmt: skip
    text = f"Sideways it pushes with {{need}} at worst; {{count}} {by.what} hold {{have}}."
    if have >= need:
        return Finding(
            "HOLD-DOWN", "fine", c.id, "Held against twice its weight", text, values, working=work
        )
    fixes: tuple[Fix, ...] = ()
    if by.pitch is not None:
        closer = max(0.02, math.floor(by.pitch / 2 * 1000) / 1000)
        values |= {"closer": Quantity(closer, "m")}
        fixes = (Fix("Screws every {closer}", path=("fittings", c.id, "pitch"), value=closer),)
    return Finding(
        "HOLD-DOWN", "mend", c.id, "A wave would tear it loose", text, values,
        "Closer screws, or bolts with backing.", work, fixes=fixes,
    )  # fmt: skip


def part(c: FittingBase, key: str, code: str, word: str, entry: Any, count: float, at: Point,
          group: Literal["hardware", "fasteners"] = "hardware") -> Bought:  # fmt: skip
    """Something bought for it, at a place."""
    return Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, count,
                  count * entry.mass, at, group)  # fmt: skip


def ring(foot: Foot, out: float) -> tuple[Point2, ...]:
    """What it takes of the floor with what stands round it, `out` wide [m]."""
    a, b = foot.size[0] / 2 + out, foot.size[1] / 2 + out
    return tuple(foot.place(u, v) for u, v in ((-a, -b), (a, -b), (a, b), (-a, b)))


def shapes(foot: Foot, ring: tuple[Point2, ...], straps: Sequence[float] = (0.0,)) -> tuple[Shape, ...]:
    """Its outline on the floor, and straps over it, at places along it from its middle [m]."""
    low, (x, y, z) = foot.at[2], foot.at
    xs, ys = [p[0] for p in ring], [p[1] for p in ring]
    up = low + 0.025
    half = foot.size[1] / 2
    return (
        Shape("form-line", tuple((px, py, low) for px, py in ring)),
        *(Shape("form-hinge", tuple((*foot.place(u, v), z + foot.size[2]) for v in (-half, half)),
                closed=False) for u in straps),
        Shape("form-line", ((min(xs), y, low), (max(xs), y, low), (max(xs), y, up), (min(xs), y, up)),
              view="side"),
        Shape("form-line", ((x, min(ys), low), (x, max(ys), low), (x, max(ys), up), (x, min(ys), up)),
              view="across"),
    )  # fmt: skip
