"""People from the side as rounded limbs between the joints of their pose, and from above."""

from __future__ import annotations

import math

from stirrup.core.derive import Derived
from stirrup.core.fit.body import SHOULDERS, pose
from stirrup.core.plan.model import LoadCase, Person
from stirrup.web.drawing.canvas import Canvas, Pair


def _limb(canvas: Canvas, a: Pair, b: Pair, ra: float, rb: float) -> None:
    """A limb between two joints, its ends rounded [m]."""
    way = math.atan2(b[1] - a[1], b[0] - a[0])
    ring = [(b[0] + rb * math.cos(way + t), b[1] + rb * math.sin(way + t)) for t in _ARC]
    ring += [
        (a[0] + ra * math.cos(way + math.pi + t), a[1] + ra * math.sin(way + math.pi + t)) for t in _ARC
    ]
    canvas.path(ring, "limb")


_ARC = [math.pi * (k / 6 - 0.5) for k in range(7)]


def figure(canvas: Canvas, person: Person, floor_m: float | None = None) -> None:
    """Somebody from the side, facing forward."""
    j, s = pose(person, floor_m), person.stature
    canvas.parts.append('<g class="figure-side">')
    toe = (j.foot[0] + 0.09 * s, j.foot[1] + 0.01 * s)
    _limb(canvas, (j.foot[0], j.foot[1] + 0.02 * s), toe, 0.02 * s, 0.012 * s)
    _limb(canvas, j.knee, (j.foot[0], j.foot[1] + 0.03 * s), 0.033 * s, 0.022 * s)
    _limb(canvas, j.hip, j.knee, 0.052 * s, 0.036 * s)
    _limb(canvas, j.shoulder, j.hip, 0.058 * s, 0.056 * s)
    _limb(canvas, j.shoulder, (j.head[0], j.head[1] - 0.03 * s), 0.03 * s, 0.028 * s)
    canvas.disc(j.head, 0.058 * s, "limb")
    _limb(canvas, j.shoulder, j.elbow, 0.027 * s, 0.023 * s)
    _limb(canvas, j.elbow, j.hand, 0.022 * s, 0.018 * s)
    canvas.parts.append("</g>")


def floor_under(derived: Derived, person: Person) -> float | None:
    """What a seated person's feet find [m]: the ground a little ahead of the knees."""
    if person.posture != "seated":
        return None
    x, y, z = person.at
    ahead = derived.footing.at(x + 0.25 * person.stature, y)
    if ahead is None or ahead.height_m > z - 0.05:
        return None
    return ahead.height_m


def people_from_side(canvas: Canvas, derived: Derived, case: LoadCase) -> None:
    """Everybody aboard in the case, the far side first."""
    for person in sorted(case.crew, key=lambda p: -p.at[1]):
        figure(canvas, person, floor_under(derived, person))


def people_from_above(canvas: Canvas, case: LoadCase) -> None:
    """Shoulders and head of everybody aboard."""
    for person in case.crew:
        (x, y, _), s = person.at, person.stature
        ring = [
            (x + 0.075 * s * math.cos(t), y + SHOULDERS / 2 * s * math.sin(t))
            for t in (2 * math.pi * k / 20 for k in range(20))
        ]
        canvas.path(ring, "person-top")
        canvas.disc((x + 0.01 * s, y), 0.055 * s, "person-top")
        canvas.reserve((x, y), 12, 12)
