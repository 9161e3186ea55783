"""A line that is led through the boat by corners, each rounded by an arc: how long it is, what room its
bends need."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from stirrup.core.document import Point
from stirrup.core.record import dataclass

Array = NDArray[np.float64]
SAME_M = 1e-6
ARC_STEPS = 6  # as an arc is drawn
SHARP_DEG = 15.0  # a lesser turn is a point of a curve, not a corner


@dataclass(frozen=True)
class Leg:
    """What lies between two corners: what it is called, its points, and the turn [rad] at its end."""

    name: str
    points: tuple[Point, ...]
    turn: float = 0.0

    @property
    def long(self) -> float:
        """Along its points [m]."""
        return sum(math.dist(a, b) for a, b in pairwise(self.points))


@dataclass(frozen=True)
class Route:
    """Legs from the first end to the last, and the radius [m] of the arc at each corner."""

    legs: tuple[Leg, ...]
    radius: float

    def tangent(self, turn: float) -> float:
        """From a corner to where its arc begins: r tan(turn / 2) [m]."""
        return self.radius * math.tan(turn / 2)

    @property
    def long(self) -> float:
        """Along legs and arcs [m]: of each corner two tangents are saved, and its arc takes r x turn.
        Source: geometry of a circle that touches both legs."""
        saved = sum(2 * self.tangent(leg.turn) - self.radius * leg.turn for leg in self.legs)
        return sum(leg.long for leg in self.legs) - saved

    @property
    def turned(self) -> float:
        """All of its corners together [rad]."""
        return sum(leg.turn for leg in self.legs)

    @property
    def corners(self) -> int:
        return sum(leg.turn > 0 for leg in self.legs)

    def needs(self, number: int) -> float:
        """What the arcs at both ends of a leg take of it [m]."""
        before = self.legs[number - 1].turn if number else 0.0
        return self.tangent(before) + self.tangent(self.legs[number].turn)

    @property
    def tightest(self) -> tuple[int, float]:
        """The leg on which least is left beside its arcs, and how much [m]; negative: too short."""
        room = [leg.long - self.needs(k) for k, leg in enumerate(self.legs)]
        least = min(range(len(room)), key=room.__getitem__)
        return least, room[least]

    @property
    def middle(self) -> Point:
        """Centre of its legs by length [m]."""
        points = [pair for leg in self.legs for pair in pairwise(leg.points)]
        long = np.array([math.dist(a, b) for a, b in points])
        x, y, z = np.average(np.array([np.add(a, b) / 2 for a, b in points]), axis=0, weights=long)
        return (float(x), float(y), float(z))

    @property
    def points(self) -> tuple[Point, ...]:
        """All of its corners and what lies between, in order."""
        first = self.legs[0].points[0]
        return (first, *(p for leg in self.legs for p in leg.points[1:]))

    @property
    def drawn(self) -> tuple[Point, ...]:
        """The same with its corners rounded as they are bent; sharp where a leg leaves no room."""
        out = [self.legs[0].points[0]]
        for leg, after in pairwise([*self.legs, None]):
            assert leg is not None
            out += leg.points[1:-1]
            corner, reach = leg.points[-1], self.tangent(leg.turn)
            if after is None or reach > min(math.dist(corner, leg.points[-2]),
                                            math.dist(corner, after.points[1])):  # fmt: skip
                out.append(corner)
                continue
            out += _arc(
                np.array(corner), _way(corner, leg.points[-2]), _way(corner, after.points[1]), reach
            )
        return tuple(out)


def _arc(corner: Array, back: Array, on: Array, reach: float) -> list[Point]:
    """Points of the circle that touches two legs, from where it leaves one to where it meets the other.
    back, on: unit vectors along them from their corner; reach: how far from it the circle touches [m]."""
    half = math.acos(float(np.clip(back @ on, -1.0, 1.0))) / 2
    middle = corner + reach / math.cos(half) * (back + on) / (2 * math.cos(half))
    radius, turn = reach * math.tan(half), math.pi - 2 * half
    # from the middle to where it begins, and square to that, the way the first leg goes
    begin = corner + reach * back - middle
    points = []
    for k in range(ARC_STEPS + 1):
        a = turn * k / ARC_STEPS
        x, y, z = middle + math.cos(a) * begin - math.sin(a) * radius * back
        points.append((float(x), float(y), float(z)))
    return points


def _way(a: Point, b: Point) -> Array:
    v = np.subtract(b, a)
    return np.asarray(v / np.linalg.norm(v))


def route(legs: Sequence[tuple[str, Sequence[Point]]], radius: float) -> Route:
    """A route by its legs, each beginning where the one before ends; those without length are left out,
    those that go straight on are joined."""
    out: list[Leg] = []
    for name, points in legs:
        clean = [points[0]]
        for point in points[1:]:
            if math.dist(point, clean[-1]) > SAME_M:
                clean.append(point)
        if len(clean) < 2:
            continue
        if out:
            before = _way(out[-1].points[-2], out[-1].points[-1])
            turn = math.acos(float(np.clip(before @ _way(clean[0], clean[1]), -1.0, 1.0)))
            if math.degrees(turn) < SHARP_DEG:
                out[-1] = Leg(out[-1].name, (*out[-1].points, *clean[1:]))
                continue
            out[-1] = Leg(out[-1].name, out[-1].points, turn)
        out.append(Leg(name, tuple(clean)))
    return Route(tuple(out), radius)
