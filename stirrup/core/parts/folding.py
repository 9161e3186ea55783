"""Sheet metal that is folded: how much of it a bend takes, and a folded strip laid flat.

Source: allowance (R + K t) θ with K by the ratio of inside radius to thickness; setback by the tangents
of the bend: docs/trade-rules.md, “Folds”.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import accumulate

from stirrup.core.document import Point2
from stirrup.core.parts.entries import Sheet
from stirrup.core.record import dataclass

LEAST_DEG = 0.5  # less is no bend: the sheet gives that much
THICK_M = 0.003  # thicker sheet needs the larger radius
LEAST_FLAT_T = 4.0  # of a flat that a brake takes hold of, in thicknesses: working value


@dataclass(frozen=True)
class Bend:
    """A bend of a panel: the middle of it on the flat pattern, from one edge to the other [m]; how far it
    is bent from flat [deg]; its inside radius [m]; when it is made; up: towards whoever looks at the
    pattern as it is drawn; foot: the edge that distances to bends right across it are taken from."""

    start: Point2
    end: Point2
    angle_deg: float
    radius: float
    turn: int
    up: bool = True
    foot: str = "its lower edge"


@dataclass(frozen=True)
class Strip:
    """A folded strip laid flat: where each of its flats begins and ends along it, and the middle of
    each bend [m]."""

    flats: tuple[tuple[float, float], ...]
    bends: tuple[float, ...]

    @property
    def length(self) -> float:
        return self.flats[-1][1]


def k_factor(radius: float, t: float) -> float:
    """Where the sheet keeps its length, as a share of its thickness t from the inside: 0.33 for a radius
    under t, 0.4 under 3 t, else 0.5."""
    if radius < t - 1e-9:
        return 0.33
    return 0.4 if radius < 3 * t - 1e-9 else 0.5


def allowance_m(angle_deg: float, radius: float, t: float) -> float:
    """Length of flat sheet that goes into a bend [m]: (R + K t) θ; radius: inside [m]."""
    return (radius + k_factor(radius, t) * t) * math.radians(angle_deg)


def setback_m(angle_deg: float, radius: float) -> float:
    """From where the planes of two flats meet to where the bend begins [m]: R tan(θ / 2). radius: of
    the face whose planes they are, the inside's or, that and t, the outside's."""
    return radius * math.tan(math.radians(angle_deg) / 2)


def least_radius_m(sheet: Sheet) -> float | None:
    """Least inside radius that a sheet is bent about [m]; None for what does not fold."""
    stuff = sheet.stuff
    if stuff.bend_t is None:
        return None
    times = stuff.bend_thick_t if sheet.thickness > THICK_M + 1e-9 else stuff.bend_t
    return (times or stuff.bend_t) * sheet.thickness


def laid_flat(outside: Sequence[float], angles_deg: Sequence[float], radius: float, t: float) -> Strip:
    """A strip laid flat. outside: its sides, n of them, each measured on the outside from corner to
    corner [m]; angles_deg: n - 1, how far each bend turns from straight, all of them the same way."""
    back = [0.0, *(setback_m(a, radius + t) for a in angles_deg), 0.0]
    takes = [allowance_m(a, radius, t) for a in angles_deg]
    flats = [long - back[k] - back[k + 1] for k, long in enumerate(outside)]
    starts = list(accumulate((f + a for f, a in zip(flats, takes, strict=False)), initial=0.0))
    pairs = tuple((s, s + f) for s, f in zip(starts, flats, strict=True))
    middles = (end + a / 2 for (_, end), a in zip(pairs, takes, strict=False))
    return Strip(pairs, tuple(middles))


def from_the_ends(count: int) -> tuple[int, ...]:
    """The order of a strip's bends, 1 for the first: from both ends inward, so that what is still flat lies
    on the brake's bed. For three: 1, 3, 2."""
    order, low, high = [0] * count, 0, count - 1
    for number in range(1, count + 1):
        at = low if number % 2 else high
        order[at] = number
        low, high = (low + 1, high) if number % 2 else (low, high - 1)
    return tuple(order)
