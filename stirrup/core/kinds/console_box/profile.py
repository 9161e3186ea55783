"""The profile of a console: a closed line in (x, z), x from its aft face forward, z from its foot up.

Sheets meet at their inner edges; the groove outside is filled or rounded off.
"""

from __future__ import annotations

import math
from itertools import pairwise

from stirrup.core.document import Point2
from stirrup.core.kinds.console_box.choices import ConsoleBox
from stirrup.core.record import dataclass

SIDES = ("aft", "dash", "top", "fore")


@dataclass(frozen=True)
class Side:
    """One side of a profile: its inner edge from the lower aft end on, and the way out of it."""

    name: str
    start: Point2
    end: Point2
    out: Point2

    @property
    def length(self) -> float:
        return math.dist(self.start, self.end)

    @property
    def along(self) -> Point2:
        """Unit vector from its start to its end."""
        (a, b), (c, d) = self.start, self.end
        return ((c - a) / self.length, (d - b) / self.length)

    @property
    def middle(self) -> Point2:
        (a, b), (c, d) = self.start, self.end
        return ((a + c) / 2, (b + d) / 2)


def outline(c: ConsoleBox) -> tuple[Point2, ...]:
    """Outer corners: foot aft, foot of the dash, head of the dash, top fore, foot fore [m]."""
    face = c.height - c.drop
    front = c.height - (c.length - c.run) * math.tan(math.radians(c.fall))
    return ((0.0, 0.0), (0.0, face), (c.run, c.height), (c.length, front), (c.length, 0.0))


def sides(c: ConsoleBox, t: float) -> tuple[Side, ...]:
    """The four sides with their inner edges, sheets of thickness t inside of the outline [m]."""
    points = outline(c)
    lines = []
    for (x0, z0), (x1, z1) in pairwise(points):
        long = math.hypot(x1 - x0, z1 - z0)
        # inside lies to the right of the way round: up the face, over the top, down in front
        dx, dz = (x1 - x0) / long, (z1 - z0) / long
        lines.append(((x0 + t * dz, z0 - t * dx), (dx, dz), (dz, -dx)))
    bends = [_meet(a[:2], b[:2]) for a, b in pairwise(lines)]
    corners = [(t, 0.0), *bends, (c.length - t, 0.0)]
    return tuple(
        Side(name, corners[k], corners[k + 1], (-lines[k][2][0], -lines[k][2][1]))
        for k, name in enumerate(SIDES)
    )


Line = tuple[Point2, Point2]


def _meet(a: Line, b: Line) -> Point2:
    """Where two lines meet, each by a point and its direction."""
    (p, d), (q, e) = a, b
    turn = d[0] * e[1] - d[1] * e[0]
    if abs(turn) < 1e-9:  # a dash that stands upright goes on as the face does
        return q
    s = ((q[0] - p[0]) * e[1] - (q[1] - p[1]) * e[0]) / turn
    return (p[0] + s * d[0], p[1] + s * d[1])
